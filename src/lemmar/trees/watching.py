"""A tree that notes what is asked of it."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence

from lemmar.trees.sights import Watched
from lemmar.trees.tree import Digest, File, Match, Tree


class WatchedTree:
    """The *tree*, and in `watched` what was asked of it through this."""

    def __init__(self, tree: Tree) -> None:
        self._tree = tree
        self.watched = Watched({}, {}, {})

    def add(self, watched: Watched) -> None:
        """Notes what was *watched* elsewhere as asked here."""
        self.watched.patterns.update(watched.patterns)
        self.watched.files.update(watched.files)
        self.watched.there.update(watched.there)

    def files(self, pattern: str, base: str) -> Sequence[Match]:
        """As the tree itself."""
        found = self._tree.files(pattern, base)
        self.watched.patterns[pattern, base] = _digest_of(found)
        return found

    def read(self, file: File) -> tuple[Digest, bytes]:
        """As the tree itself."""
        try:
            digest, data = self._tree.read(file)
        except OSError as error:
            self.watched.files[file] = Digest(f"!{error.strerror or error}")
            raise
        self.watched.files[file] = digest
        return digest, data

    def data(self, file: File) -> bytes:
        """As the tree itself."""
        return self.read(file)[1]

    def digest(self, file: File) -> Digest:
        """As the tree itself."""
        found = self.watched.files[file] = self._tree.digest(file)
        return found

    def unread(self) -> Sequence[str]:
        """As the tree itself."""
        return self._tree.unread()

    def changed(self) -> Sequence[str]:
        """As the tree itself."""
        return self._tree.changed()

    def is_file(self, path: str) -> bool:
        """As the tree itself."""
        found = self.watched.there[path] = self._tree.is_file(path)
        return found


def is_same(watched: Watched, tree: Tree) -> bool:
    """Whether *tree* answers today what it has answered."""
    return (
        all(tree.is_file(path) == found for path, found in watched.there.items())
        and all(_digest_of(tree.files(*asked)) == found for asked, found in watched.patterns.items())
        and all(tree.digest(file) == found for file, found in watched.files.items())
    )


def _digest_of(found: Sequence[Match]) -> str:
    return hashlib.blake2b(repr([tuple(match) for match in found]).encode("utf-8", "surrogatepass"), digest_size=16).hexdigest()
