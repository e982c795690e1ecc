"""Where messages are numbered: the file that maps names to numbers, so that a message is known by its name."""

from __future__ import annotations

import posixpath
from collections.abc import Iterator
from typing import NamedTuple

from lemmar.charter.types import CatalogEntry, Names
from lemmar.documents import structured
from lemmar.documents.nodes import Node, PointerError, point
from lemmar.formats import Defect
from lemmar.trees import Digest, File, Tree


class MessageNames(NamedTuple):
    """The names of a catalog's messages by their numbers, the file they stand in, and what is wrong with that."""

    names: dict[str, str]
    file: File | None = None
    digest: Digest | None = None
    defects: tuple[Defect, ...] = ()


def message_names(tree: Tree, entry: CatalogEntry, base: str) -> MessageNames:
    """The names that *entry*, whose patterns start from the folder *base*, gives to numbers; none where it names no file."""
    if entry.names is None:
        return MessageNames({})
    wanted = Names(file=entry.names) if isinstance(entry.names, str) else entry.names
    file = File(posixpath.normpath(posixpath.join(base, wanted.file)))
    try:
        if not tree.is_file(file):
            raise OSError(None, "it is not there")
        digest, data = tree.read(file)
    except OSError as error:
        words = f"the file of the messages' names cannot be read: {error.strerror or error}"
        return MessageNames({}, file, None, (Defect("unreadable", 1, 1, words),))
    found = structured.scan(data, structured.suffix_of(file))
    if found.root is None:
        return MessageNames({}, file, digest, (Defect("unreadable", 1, 1, "the file of the messages' names holds no value"),))
    names: dict[str, str] = {}
    try:
        for number, name in _pairs(found.root, wanted):
            names.setdefault(number, name)
    except PointerError as error:
        return MessageNames({}, file, digest, (Defect("unreadable", 1, 1, f"the list of names is not there: {error}"),))
    defects = () if names else (Defect("unreadable", 1, 1, "the file of the messages' names has no name in it"),)
    return MessageNames(names, file, digest, defects)


def _pairs(root: Node, wanted: Names) -> Iterator[tuple[str, str]]:
    """Number and name of each message: of a list of records by their fields, else of a map from names to numbers."""
    for node in point(root, wanted.list or ""):
        for item in node.items:
            held = {member.key: member.node for member in item.members}
            number, name = held.get(wanted.key or "id"), held.get(wanted.name or "name")
            if number is not None and name is not None:
                yield number.text, name.text
        stack = [("", node)] if node.kind == "map" else []
        while stack:
            prefix, branch = stack.pop()
            for member in branch.members:
                if member.node.kind == "map":
                    stack.append((f"{prefix}{member.key}.", member.node))
                elif member.node.kind in ("number", "text"):
                    yield member.node.text, prefix + member.key
