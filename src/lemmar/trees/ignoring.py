"""What is passed over when files are looked for: what git ignores, and folders of fetched packages.

Reads ``.gitignore`` files itself, so that a tree without git, or a machine without it, gives the same answer. A file that git
tracks is never ignored, whatever its patterns say; git is asked for that, and only where it matters.
"""

from __future__ import annotations

import os
from collections.abc import Mapping
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from lemmar.basics.errors import IncompleteError
from lemmar.basics.text import lines
from lemmar.trees.gitpatterns import MOST_STARS, git_patterns, is_bearable
from lemmar.trees.opening import Facts, facts_of, regular_file
from lemmar.trees.sights import Sight, lasting
from lemmar.trees.tree import Digest, digest_of

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec

#: Folders that package managers fill.
FETCHED = frozenset(
    {"node_modules", "bower_components", "vendor", "Pods", "Carthage", ".venv", "site-packages", ".gradle", ".dart_tool", "packages.lock"}
)


#: A larger file of patterns is not read.
_MOST = 2 * 1024 * 1024


class Ignoring:
    """Which paths under *root* git ignores."""

    def __init__(self, root: Path) -> None:
        self.root = root
        self._specs: dict[str, tuple[tuple[int, GitIgnoreSpec], ...]] = {}
        self._known: dict[tuple[str, bool], bool] = {}
        self._looked_at: dict[str, tuple[Digest, Facts | None]] = {}
        self._tracked_as: Sight | None = None
        self.unread: list[str] = []

    def sights(self, now: int) -> dict[str, Sight]:
        """The files of patterns that were looked for at the time *now* (ns); of one that is not there the digest is empty."""
        return {file: Sight(digest, facts and lasting(facts, now)) for file, (digest, facts) in self._looked_at.items()}

    def take(self, files: Mapping[str, Sight], index: Sight | None) -> None:
        """Takes up what another look at the same folder has seen."""
        for file, sight in files.items():
            self._looked_at.setdefault(file, (Digest(sight.digest), sight.facts))
        self._tracked_as = self._tracked_as or index

    def index_sight(self, now: int) -> Sight | None:
        """What git tracks although it ignores it, at the time *now* (ns); None where nobody asked."""
        if "_index" in self.__dict__:
            facts = _index_facts(self.root)
            return Sight(_digest(self._index), facts and lasting(facts, now))
        return self._tracked_as

    def is_as(self, files: Mapping[str, Sight], index: Sight | None) -> bool:
        """Whether the files of patterns, and what git tracks, are as they were seen."""
        for file, sight in files.items():
            try:
                facts = facts_of(os.stat(self.root / file))
            except OSError:
                facts = None
            if facts is not None and facts == sight.facts:
                self._looked_at[file] = Digest(sight.digest), facts
            elif (facts is not None or sight.digest) and self._look_at(file)[0] != sight.digest:
                return False
            else:
                self._looked_at.setdefault(file, (Digest(sight.digest), facts))
        if index is None:
            return True
        facts = _index_facts(self.root)
        if facts is not None and facts == index.facts:
            self._tracked_as = index
            return True
        return _digest(self._index) == index.digest

    def ignores(self, path: str, is_folder: bool) -> bool:
        """Whether git ignores *path*, whose parent folders it does not ignore, and tracks nothing there."""
        if not self._specs_for(path.rpartition("/")[0]):
            return False
        known = self._known.get((path, is_folder))
        if known is None:
            known = self._known[path, is_folder] = self._matches(path, is_folder) and not self._tracked(path, is_folder)
        return known

    def _matches(self, path: str, is_folder: bool) -> bool:
        for start, spec in self._specs_for(path.rpartition("/")[0]):  # the nearest .gitignore that has a say wins
            said = spec.check_file(path[start:] + ("/" if is_folder else "")).include
            if said is not None:
                return said
        return False

    def _specs_for(self, folder: str) -> tuple[tuple[int, GitIgnoreSpec], ...]:
        """What the folder and those above it say, the nearest first, each with where a path begins that is relative to it."""
        known = self._specs.get(folder)
        if known is None:
            said = self._lines(f"{folder}/.gitignore" if folder else ".gitignore")
            if not folder:
                said = self._lines(".git/info/exclude") + said
            known = self._specs_for(folder.rpartition("/")[0]) if folder else ()
            if said:
                known = ((len(folder) + bool(folder), git_patterns(said)), *known)
            self._specs[folder] = known
        return known

    def _lines(self, file: str) -> list[str]:
        text = self._look_at(file)[1].decode("utf-8", "replace")
        found = [line for line in lines(text) if line.strip() and not line.startswith("#")]
        if not all(map(is_bearable, found)):
            self.unread.append(
                f"the file {file} has a pattern with more than {MOST_STARS} * in one segment, which is not looked for; write it otherwise"
            )
        return found

    def _look_at(self, file: str) -> tuple[Digest, bytes]:
        """The digest and bytes of a file of patterns; both are empty where there is none."""
        digest, data, facts = Digest(""), b"", None
        try:
            data, facts = regular_file(str(self.root / file), _MOST)
            digest = digest_of(data)
        except (FileNotFoundError, NotADirectoryError):
            pass
        except OSError as error:
            digest = Digest(f"!{error.strerror or error}")
            self.unread.append(f"the file {file} cannot be read: {error.strerror or error}")
        self._looked_at[file] = digest, facts
        return digest, data

    def _tracked(self, path: str, is_folder: bool) -> bool:
        return path in (self._index_folders if is_folder else self._index)

    @cached_property
    def _index_folders(self) -> frozenset[str]:
        """The folders, however deep, that hold what git tracks although it ignores it."""
        found: set[str] = set()
        for file in self._index:
            folder = file.rpartition("/")[0]
            while folder and folder not in found:
                found.add(folder)
                folder = folder.rpartition("/")[0]
        return frozenset(found)

    @cached_property
    def _index(self) -> frozenset[str]:
        """The files that git tracks although its patterns ignore them, relative to the root."""
        if not any(os.path.exists(folder / ".git") for folder in (self.root, *self.root.parents)):
            return frozenset()
        import subprocess

        command = [
            "git",
            "--no-optional-locks",
            "-c",
            "core.fsmonitor=false",
            "-C",
            str(self.root),
            "ls-files",
            "-z",
            "-c",
            "-i",
            "--exclude-standard",
        ]
        try:
            done = subprocess.run(command, capture_output=True, check=True, timeout=60, stdin=subprocess.DEVNULL)
        except subprocess.TimeoutExpired:
            raise IncompleteError("git takes longer than a minute to list what it tracks; see whether its index is whole") from None
        except (OSError, subprocess.SubprocessError):
            return frozenset()
        return frozenset(done.stdout.decode("utf-8", "surrogateescape").split("\0"))


def _digest(files: frozenset[str]) -> Digest:
    return digest_of("\0".join(sorted(files)).encode("utf-8", "surrogatepass"))


def _index_facts(root: Path) -> Facts | None:
    """The facts of git's index of the files under *root*; None where there is none, or the environment names another."""
    if any(name in os.environ for name in ("GIT_DIR", "GIT_INDEX_FILE", "GIT_WORK_TREE", "GIT_COMMON_DIR")):
        return None
    home = next((folder / ".git" for folder in (root, *root.parents) if os.path.exists(folder / ".git")), None)
    try:
        if home is not None and home.is_file():  # of a second working tree
            home = home.parent / regular_file(str(home), _MOST)[0].decode("utf-8", "surrogateescape").removeprefix("gitdir:").strip()
        return None if home is None else facts_of(os.stat(home / "index"))
    except OSError:
        return None
