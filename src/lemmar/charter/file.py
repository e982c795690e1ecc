"""The charter's file: where it is, and its bytes. What is in it is nobody's business here, so that an audit of what has not changed costs little."""

from __future__ import annotations

import os
from pathlib import Path
from typing import NamedTuple

from lemmar.basics.errors import TreeError
from lemmar.cache import key_of
from lemmar.trees.opening import regular_bytes

FILE_NAME = "lemmar.toml"
#: What a write that is not finished leaves beside the charter.
JOURNAL = ".lemmar-unfinished"
#: A larger charter is not read.
MOST = 16 * 1024 * 1024


class Included(NamedTuple):
    """A file that a charter includes: its path from the charter's folder, and its bytes."""

    name: str
    data: bytes


class CharterFile(NamedTuple):
    """The charter's bytes, the folder that its paths are relative to, and its name for messages; the files that it includes, the gate that is asked
    for, and whether it is the one on disk.
    """

    root: Path
    name: str
    data: bytes
    included: tuple[Included, ...] = ()
    gate: str | None = None
    on_disk: bool = True

    @property
    def key(self) -> bytes:
        """A digest of all that the charter says."""
        pieces = [piece for each in self.included for piece in each]
        return key_of(self.name, self.data, *([b"gate", self.gate] if self.gate is not None else [b"none"]), *pieces)


def find(start: Path) -> Path:
    """The charter in *start* or the nearest folder above it. Raises `TreeError` where there is none."""
    for folder in (start, *start.parents):
        if os.path.isfile(folder / FILE_NAME):
            return folder / FILE_NAME
    raise TreeError(f"there is no {FILE_NAME} in {start} or above it; go to the monorepo, or name one with --charter")


def load(path: Path) -> CharterFile:
    """The charter at *path*. Raises `TreeError` where it cannot be read."""
    try:
        data = regular_bytes(str(path), MOST)
    except OSError as error:
        raise TreeError(f"the charter {path} cannot be read: {error.strerror or error}") from error
    return CharterFile(path.resolve().parent, path.name, data)
