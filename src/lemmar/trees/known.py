"""A tree that can be known again."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol

from lemmar.trees.sights import Sights, Since
from lemmar.trees.tree import File, Tree


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
