"""The charter's file: where it is, and its bytes. What is in it is nobody's business here, so that an audit of what has not changed costs little."""

from __future__ import annotations

import os
from pathlib import Path
from typing import NamedTuple

from lemmar.errors import TreeError
from lemmar.trees.opening import regular_bytes

FILE_NAME = "lemmar.toml"
#: A larger charter is not read.
MOST = 16 * 1024 * 1024


class CharterFile(NamedTuple):
    """The charter's bytes, the folder that its paths are relative to, and its name for messages."""

    root: Path
    name: str
    data: bytes


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
