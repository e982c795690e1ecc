"""Files that hand on another one: what that one holds is theirs."""

from __future__ import annotations

import posixpath
from collections.abc import Callable
from typing import NamedTuple

from lemmar.documents.structured import suffix_of
from lemmar.formats import Defect, Reading
from lemmar.trees import Digest, File, Tree

#: How many files may hand on one after the other.
_MOST = 8


class Followed(NamedTuple):
    """A reading, and the file that it is really of."""

    file: File
    digest: Digest
    reading: Reading


def followed(tree: Tree, file: File, digest: Digest, data: bytes, read: Callable[[Digest, bytes, str], Reading]) -> Followed:
    """The reading of *file*, or of the one which it hands on; *read* takes a digest, the bytes and a suffix.

    A file that is not there, or that hands on itself, is a defect of the one that names it.
    """
    first, reading = Followed(file, digest, Reading(())), read(digest, data, suffix_of(file))
    named, seen = reading.forwards, {file}
    while reading.forwards is not None:
        target = _target(tree, file, reading.forwards)
        if target is None or target in seen or len(seen) > _MOST:
            words = (
                f"it hands on the texts of {named!r}, which is not there"
                if target is None
                else f"it hands on {named!r}, which hands it on again"
            )
            return first._replace(reading=Reading((), (Defect("unreadable", 1, 1, words, "file"),)))
        seen.add(target)
        file = target
        try:
            digest, data = tree.read(file)
        except OSError as error:
            words = f"it hands on {named!r}, which cannot be read: {error.strerror or error}"
            return first._replace(reading=Reading((), (Defect("unreadable", 1, 1, words, "file"),)))
        reading = read(digest, data, suffix_of(file))
    return Followed(file, digest, reading)


def _target(tree: Tree, file: File, named: str) -> File | None:
    """The file inside the tree that *named* means, seen from *file*; endings may be left out."""
    whole = posixpath.normpath(posixpath.join(posixpath.dirname(file), named))
    if whole.startswith(("..", "/")):
        return None
    own = suffix_of(file)
    return next((File(path) for path in (whole, whole + own, f"{whole}/index{own}") if tree.is_file(path)), None)
