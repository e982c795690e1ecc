"""Which Lemmar this is: a digest of its own code and of the libraries it reads files by, so that no result outlives what made it."""

from __future__ import annotations

import os
import re
import sys
from functools import lru_cache
from pathlib import Path

from lemmar.cache.store import key_of

_HOME = Path(__file__).resolve().parent.parent


@lru_cache(maxsize=1)
def code_digest() -> bytes:
    """The digest. Of an installed package it is that of its record of files, of one that is being worked on of their sizes and times."""
    libraries = sorted(_installed())
    record = next((folder / name / "RECORD" for folder, name in libraries if _is_own(name) and folder == _HOME.parent), None)
    own = record.read_bytes() if record is not None and record.is_file() else _facts()
    return key_of(sys.version, *(name for _, name in libraries), own)


def contents_digest() -> bytes:
    """The same for other machines: a digest of the contents of the code, and of the versions of what it needs."""
    from importlib.metadata import requires, version

    needed = sorted({re.split(r"[^\w.-]", each, maxsplit=1)[0] for each in requires("lemmar") or () if "extra ==" not in each})
    files = sorted(path for path in _HOME.rglob("*") if path.is_file() and "__pycache__" not in path.parts)
    contents = (piece for path in files for piece in (path.relative_to(_HOME).as_posix(), path.read_bytes()))
    return key_of(f"{sys.version_info[:2]}", *(f"{name} {version(name)}" for name in needed), *contents)


def _is_own(name: str) -> bool:
    return name.startswith("lemmar-")


def _installed() -> set[tuple[Path, str]]:
    """The names of all installed distributions, which hold their versions, each with its folder."""
    folders = {Path(folder) for folder in sys.path if folder and os.path.isdir(folder)}
    return {(folder, name) for folder in folders for name in os.listdir(folder) if name.endswith(".dist-info")}


def _facts() -> bytes:
    found = []
    waiting = [str(_HOME)]
    while waiting:
        with os.scandir(waiting.pop()) as entries:
            for entry in entries:
                if entry.is_dir():
                    if entry.name != "__pycache__":
                        waiting.append(entry.path)
                else:
                    facts = entry.stat()
                    found.append(f"{entry.path[len(str(_HOME)) :]} {facts.st_size} {facts.st_mtime_ns}")
    return "\n".join(sorted(found)).encode("utf-8", "surrogatepass")
