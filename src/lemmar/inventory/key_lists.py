"""Key lists: an enumeration, constants, or a file of data that mirrors the keys of a client's catalogs, as its own language writes names.

``hut.near``, ``hut_near``, ``hutNear`` and ``HUT_NEAR`` are one name: letters and digits count, cases and signs do not.
"""

from __future__ import annotations

import posixpath
from collections.abc import Iterable
from fnmatch import fnmatchcase

from msgspec import Struct

from lemmar.basics.errors import IncompleteError
from lemmar.charter.types import KeyListEntry
from lemmar.selectors import Value
from lemmar.trees import Digest, File, Tree


class KeyList(Struct, frozen=True):
    """A list of keys, as read: its file, what it lists, its table in the charter; *fault* says why it cannot be read, *unfinished* that it took
    too long.
    """

    file: File
    digest: Digest | None
    values: tuple[Value, ...]
    entry: KeyListEntry
    where: tuple[str | int, ...]
    fault: str = ""
    unfinished: str = ""


class Difference(Struct, frozen=True):
    """Keys that a list lacks, and what it has that is no key."""

    lacking: tuple[str, ...]
    surplus: tuple[Value, ...]


def read_key_list(tree: Tree, entry: KeyListEntry, base: str, where: tuple[str | int, ...]) -> KeyList:
    """The list as its file has it."""
    file = File(posixpath.normpath(posixpath.join(base, entry.file)))
    try:
        digest, data = tree.read(file)
    except OSError as error:
        return KeyList(file, None, (), entry, where, f"the file cannot be read: {error.strerror or error}")
    (selector,) = entry.given()
    try:
        selection = selector.select(data, entry.pick())
    except IncompleteError as error:
        return KeyList(file, digest, (), entry, where, unfinished=f"{file}: {error}")
    fault = selection.defects[0].detail if selection.defects and not selection.values else ""
    return KeyList(file, digest, selection.values, entry, where, fault)


def folded(name: str) -> str:
    """A name without what languages write in ways of their own."""
    return "".join(sign for sign in name.casefold() if sign.isalnum())


def listed_keys(entry: KeyListEntry, keys: Iterable[str]) -> list[str]:
    """Those of *keys* that the list is to have."""
    return [key for key in keys if not entry.keys or any(fnmatchcase(key, pattern) for pattern in entry.keys)]


def difference(found: KeyList, keys: Iterable[str]) -> Difference:
    """How the list differs from the *keys* that it mirrors."""
    wanted = {folded(key): key for key in listed_keys(found.entry, keys)}
    beside = {folded(name) for name in found.entry.beside}
    held = {folded(value.text) for value in found.values}
    lacking = tuple(key for name, key in wanted.items() if name not in held)
    surplus = tuple(value for value in found.values if folded(value.text) not in wanted and folded(value.text) not in beside)
    return Difference(lacking, surplus)
