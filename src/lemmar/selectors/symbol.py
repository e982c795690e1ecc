"""``symbol``: a named declaration in source code; ``Class.MEMBER`` reaches inside, ``*`` is what the file exports.

The code is read by a real parser of its language and never run. What is computed is told, with its place.
"""

from __future__ import annotations

from lemmar.documents.nodes import Fault, Node
from lemmar.model import Defect, Pick, Selection, Selector
from lemmar.selectors import languages
from lemmar.selectors.taking import check_take, select_from
from lemmar.text import decode


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the declaration cannot be read, if so."""
    if languages.load(pick.suffix) is None:
        return "symbol", f"source code in {pick.suffix or 'files without a suffix'} files is not supported yet"
    return check_take(pick)


def select(data: bytes, pick: Pick) -> Selection:
    """The locales in the declaration."""
    text = decode(data).text
    source = text.encode("utf-8", "replace")
    file = languages.parse(source, pick.suffix)
    if file is None:
        return Selection((), (Defect("unreadable", 1, 1, languages.unread(pick.suffix)),))
    path = pick.text.split(".")
    found = file.tested(path) if pick.take == "cases" else file.declared(path)
    if not found:
        broken = "; the file has syntax errors" if file.root.has_error else ""
        why = f"there is no {pick.text!r} in the file{broken}"
        if found is not None and pick.take == "cases":
            why = f"{pick.text!r} compares with no literal text"
        return Selection((), (Defect("unreadable", 1, 1, why),))
    faults: list[Fault] = []
    nodes = in_characters(found, source)
    return select_from(text, nodes, None if pick.take == "cases" else pick.take, faults)


def in_characters(nodes: list[Node], source: bytes) -> list[Node]:
    """The nodes with offsets in characters, which the parser gives in bytes."""
    return nodes if source.isascii() else list(map(_Characters(source).node, nodes))


class _Characters:
    """Turns offsets in bytes into offsets in characters: from the nearest of many known ones."""

    _STEP = 512

    def __init__(self, source: bytes) -> None:
        self.source = source
        self.known = [0]
        for start in range(0, len(source), self._STEP):
            self.known.append(self.known[-1] + _count(source[start : start + self._STEP]))

    def offset(self, byte: int) -> int:
        step = byte // self._STEP
        return self.known[step] + _count(self.source[step * self._STEP : byte])

    def node(self, node: Node) -> Node:
        members = [
            member._replace(start=self.offset(member.start), end=self.offset(member.end), node=self.node(member.node))
            for member in node.members
        ]
        return Node(node.kind, self.offset(node.start), self.offset(node.end), node.text, members, list(map(self.node, node.items)))


def _count(piece: bytes) -> int:
    """How many characters begin in *piece*: bytes that continue one are left out."""
    return len(piece.translate(None, _CONTINUING))


_CONTINUING = bytes(range(0x80, 0xC0))
SELECTOR = Selector("symbol", 2, select, check)
