"""What a tree of files is: where files come from, and what a pattern matches in it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING, NamedTuple, NewType, Protocol

if TYPE_CHECKING:
    from lemmar.trees.sights import Sights, Since

#: A path relative to the monorepo's root, ``/``-separated on every system.
File = NewType("File", str)
#: BLAKE2 of a file's bytes, hexadecimal.
Digest = NewType("Digest", str)


def digest_of(data: bytes) -> Digest:
    """The digest of a file's bytes."""
    return Digest(hashlib.blake2b(data, digest_size=16).hexdigest())


class Match(NamedTuple):
    """A file that a pattern matches. *locale* and *part* are as the path writes them, None where the pattern took none.

    *folder* is the whole path segment that the locale stands in.
    """

    file: File
    locale: str | None
    part: str | None
    folder: str | None = None


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


class KnownTree(Tree, Protocol):
    """A tree that can be known again: the next audit need not look at what is as it was."""

    @property
    def identity(self) -> tuple[str, ...]:
        """What tells it from others."""

    @property
    def changing(self) -> tuple[File, ...]:
        """The files that were not the same when they were read again."""

    def size(self, file: File) -> int:
        """The file's size in bytes; 0 where nobody knows."""

    def sights(self, files: Iterable[File] | None = None) -> Sights:
        """All that was seen so far, of files only *files* where they are given."""

    def since(self, earlier: Sights) -> Since:
        """What is not as it was when *earlier* was seen."""
