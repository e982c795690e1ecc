"""A document as a tree in which every value keeps its place, and JSON Pointer (RFC 6901) into it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from msgspec import Struct, field

#: Containers nested deeper than this are not read. No sound file comes near it.
MAX_DEPTH = 512


#: A file with more faults than these is not read any further: it is something else than its name says.
MAX_FAULTS = 1_000


class Fault(NamedTuple):
    """What is wrong at the code point *offset* of the document. *label* a key it concerns, if any."""

    offset: int
    text: str
    label: str | None = None


class Member(NamedTuple):
    """One member of a map; its key stands at *start* to *end*, quotes included."""

    key: str
    start: int
    end: int
    node: Node


#: The key of an entry, or of several, of source code whose names are only known when the program runs. No literal is written so.
UNNAMED = "\0…"


def why_unnamed(member: Member) -> str:
    """Why the key of an entry is `UNNAMED`."""
    return member.node.text if member.node.kind == "computed" else "the key is computed, which is only known when the program runs"


class Node(Struct):
    """A value at the code points *start* to *end*.

    *kind* is ``map``, ``list``, ``text``, ``number``, ``bool`` or ``null``. A scalar's *text* is as its reader gets it,
    a number's as it is written. *members* are a map's, repeated keys included, *items* a list's.
    """

    kind: str
    start: int
    end: int = 0
    text: str = ""
    members: list[Member] = field(default_factory=list)
    items: list[Node] = field(default_factory=list)


class PointerError(ValueError):
    """No value stands where the pointer points; the message says which step failed."""


def point(root: Node, pointer: str) -> Iterator[Node]:
    """The values at *pointer* (RFC 6901 section 4), in document order; the step ``*`` matches every member or item.

    A repeated key is read as its last occurrence.

    Raises:
        PointerError: the pointer is malformed or a step leads nowhere.
    """
    if pointer and not pointer.startswith("/"):
        raise PointerError(f"the pointer {pointer!r} does not begin with '/'")
    nodes = [root]
    walked = ""
    for step in pointer.split("/")[1:]:
        name = step.replace("~1", "/").replace("~0", "~")
        found = [child for node in nodes for child in _children(node, name)]
        if not found:
            raise PointerError(f"there is no {name!r} at {walked or 'the top'}")
        nodes, walked = found, f"{walked}/{step}"
    yield from nodes


def _children(node: Node, name: str) -> list[Node]:
    if node.kind == "map":
        if name == "*":
            return [member.node for member in node.members]
        return [member.node for member in node.members if member.key == name][-1:]
    if node.kind == "list":
        if name == "*":
            return node.items
        if re.fullmatch(r"0|[1-9][0-9]*", name) and int(name) < len(node.items):
            return [node.items[int(name)]]
    return []


class Plain(NamedTuple):
    """A member of a document that was read the short way, without places: a key with its text, None for nothing, or with deeper members below it.
    Those of one map have the same *level*.
    """

    level: int
    key: str
    text: str | None
    is_branch: bool
