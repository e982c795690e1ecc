"""The Tarnhut monorepo as a git repository: six releases, in which things get better and worse."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Mapping
from pathlib import Path
from typing import NamedTuple

from lemmar.basics.errors import TreeError
from lemmar.demo.faults import PLANTED
from lemmar.demo.monorepo import monorepo_files, write_monorepo


class Release(NamedTuple):
    """A release: its tag, the day of it, and what its commit says."""

    tag: str
    day: str
    story: str


RELEASES = (
    Release("2026.1", "2026-01-20", "Bunks can be booked"),
    Release("2026.2", "2026-03-17", "The wardens' desk"),
    Release("2026.3", "2026-05-12", "The map of the huts"),
    Release("2026.4", "2026-07-07", "Weather for the way"),
    Release("2026.5", "2026-09-01", "A game for the evening"),
    Release("2026.6", "2026-10-27", "Winter"),
)


def files_of(release: int) -> dict[str, str]:
    """The files of a release, 0 the first, which is sound: each mistake comes with a later one, and is mended one to three after that."""
    files = monorepo_files(sound=True)
    for number, fault in enumerate(PLANTED):
        came = len(RELEASES) - 1 if number % 11 == 3 else 1 + number % (len(RELEASES) - 2)
        if came <= release < came + 1 + number % 3:
            fault.plant(files)
    return files


def write_history(folder: Path) -> int:
    """Writes the repository into *folder*, which must be empty or not be there, the last release checked out; gives how many files that has.

    Raises:
        TreeError: the folder holds something or cannot be written, or git is not there.
    """
    number = write_monorepo(folder, files_of(0))
    _git(folder, "init", "-q", "-b", "main")
    for index, release in enumerate(RELEASES):
        if index:
            number = _rewritten(folder, files_of(index))
        date = f"{release.day}T12:00:00Z"
        dates = {"GIT_AUTHOR_DATE": date, "GIT_COMMITTER_DATE": date}
        _git(folder, "add", "-A")
        _git(folder, "commit", "-q", "-m", release.story, environment=dates)
        _git(folder, "tag", release.tag)
    return number


def _rewritten(folder: Path, files: Mapping[str, str]) -> int:
    try:
        for path in sorted(folder.rglob("*")):
            if path.is_file() and ".git" not in path.relative_to(folder).parts and path.relative_to(folder).as_posix() not in files:
                path.unlink()
        for name, text in files.items():
            path = folder / name
            path.parent.mkdir(parents=True, exist_ok=True)
            path.write_text(text, encoding="utf-8", newline="\n")
    except OSError as error:
        raise TreeError(f"{folder} cannot be written: {error.strerror or error}; choose another folder with --into") from error
    return len(files)


def _git(folder: Path, *arguments: str, environment: Mapping[str, str] | None = None) -> None:
    """Runs git without anything of the user's: no hooks, no signature, no line ends of another system."""
    settings = ("user.name=Tarnhut", "user.email=huts@tarnhut.example", "commit.gpgsign=false", "core.autocrlf=false", "init.templateDir=")
    command = ["git", *(word for setting in (*settings, f"core.hooksPath={os.devnull}") for word in ("-c", setting)), "-C", str(folder)]
    clean = {name: value for name, value in os.environ.items() if not name.startswith("GIT_")}
    nobody = {"GIT_CONFIG_GLOBAL": os.devnull, "GIT_CONFIG_SYSTEM": os.devnull}
    try:
        subprocess.run([*command, *arguments], check=True, capture_output=True, env={**clean, **nobody, **(environment or {})})
    except FileNotFoundError as error:
        raise TreeError("git is not on this machine, or not on the path; install it, or leave --history out") from error
    except (OSError, subprocess.SubprocessError) as error:
        raise TreeError(f"git cannot write into {folder}: {error}; choose another folder with --into") from error
