"""Writes the Tarnhut monorepo: sound, or with every planted mistake."""

from __future__ import annotations

from collections.abc import Mapping
from importlib import resources
from pathlib import Path
from tempfile import TemporaryDirectory

from lemmar.basics.errors import TreeError
from lemmar.demo import clients
from lemmar.demo.faults import PLANTED

_LAST = "lemmar.toml"
_ABOUT = """# Tarnhut

Bunks in a chain of mountain huts: a site to book them, a desk for the wardens, two apps for the way, a game for the evening.
Made up, to try Lemmar on.
"""


def monorepo_files(sound: bool) -> dict[str, str]:
    """Every file of the monorepo: its path and its text. Unless *sound*, all mistakes are planted."""
    charter = resources.files("lemmar.demo").joinpath("charter.toml").read_text("utf-8")
    files = {_LAST: charter, "README.md": _ABOUT, **dict(clients.files())}
    if not sound:
        for fault in PLANTED:
            fault.plant(files)
    return files


def write_monorepo(folder: Path, files: Mapping[str, str]) -> int:
    """Writes the *files* of the monorepo into *folder*, which must be empty or not be there; gives how many files were written.

    Each file is whole or not there, whenever it is stopped; the charter comes last, so that what is not whole has none.

    Raises:
        TreeError: the folder holds something, or cannot be written.
    """
    try:
        if folder.exists() and (not folder.is_dir() or any(folder.iterdir())):
            raise TreeError(f"{folder} is not empty; choose another folder with --into")
        folder.mkdir(parents=True, exist_ok=True)
        with TemporaryDirectory(dir=folder, prefix=".unfinished-") as made:
            for name, text in files.items():
                path = Path(made, name)
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_text(text, encoding="utf-8", newline="\n")
            for each in sorted(Path(made).iterdir(), key=lambda path: path.name == _LAST):
                each.rename(folder / each.name)
    except OSError as error:
        raise TreeError(f"{folder} cannot be written: {error.strerror or error}; choose another folder with --into") from error
    return len(files)
