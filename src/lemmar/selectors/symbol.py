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
    language = languages.load(pick.suffix)
    if language is None or len(data) > languages.MAX_SOURCE:
        why = (
            "no reader for this language"
            if language is None
            else f"source files of more than {languages.MAX_SOURCE // 2**20} MiB are not read"
        )
        return Selection((), (Defect("unreadable", 1, 1, why),))
    text = decode(data).text
    source = text.encode("utf-8", "replace")
    root = language.parser().parse(source).root_node
    found = language.declared(root, pick.text.split("."))
    if not found:
        broken = "; the file has syntax errors" if root.has_error else ""
        return Selection((), (Defect("unreadable", 1, 1, f"there is no {pick.text!r} in the file{broken}"),))
    faults: list[Fault] = []
    nodes = [in_characters(node, source) for node in found]
    return select_from(text, nodes, pick.take, faults)


def in_characters(node: Node, source: bytes) -> Node:
    """The node with offsets in characters, which the parser gives in bytes."""
    if source.isascii():
        return node

    def offset(byte: int) -> int:
        return len(source[:byte].decode("utf-8", "replace"))

    members = [
        member._replace(start=offset(member.start), end=offset(member.end), node=in_characters(member.node, source))
        for member in node.members
    ]
    items = [in_characters(item, source) for item in node.items]
    return Node(node.kind, offset(node.start), offset(node.end), node.text, members, items)


SELECTOR = Selector("symbol", 1, select, check)
