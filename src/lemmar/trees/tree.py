"""What a tree of files is: where files come from, and what a pattern matches in it."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import NamedTuple, NewType, Protocol

#: A path relative to the monorepo's root, ``/``-separated on every system.
File = NewType("File", str)
#: BLAKE2 of a file's bytes, hexadecimal.
Digest = NewType("Digest", str)


def digest_of(data: bytes) -> Digest:
    """The digest of a file's bytes."""
    return Digest(hashlib.blake2b(data, digest_size=16).hexdigest())


class Match(NamedTuple):
    """A file that a pattern matches. *locale*, *part* and *key* are as the path writes them, None where the pattern took none.

    *folder* is the whole path segment that the locale stands in.
    """

    file: File
    locale: str | None
    part: str | None
    folder: str | None = None
    key: str | None = None


class Tree(Protocol):
    """Where files come from."""

    def files(self, pattern: str, base: str) -> Sequence[Match]:
        """The matches of *pattern*, relative to the folder *base*, sorted by file."""

    def read(self, file: File) -> tuple[Digest, bytes]:
        """The file's digest and bytes. Raises `OSError` where it cannot be read."""

    def data(self, file: File) -> bytes:
        """The file's bytes, where its digest is not needed. Raises `OSError` where it cannot be read."""

    def digest(self, file: File) -> Digest:
        """The file's digest; of one that cannot be read, the reason after a ``!``."""

    def unread(self) -> Sequence[str]:
        """Sentences on what was to be listed or read to find files, and could not be: the tree is then not wholly known."""

    def changed(self) -> Sequence[str]:
        """Sentences on files that are not any more what was read of them: what was made of them may be of two states of the tree."""

    def is_file(self, path: str) -> bool:
        """Whether *path* is a regular file inside the tree."""
