"""Documents as pieces inside one another, for rows that are to be edited: JSON, YAML, TOML, property lists, XML and HTML."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from lemmar.documents.nodes import Member, Node
from lemmar.documents.rows import Nest
from lemmar.documents.structured import PROPERTY_LISTS, TOML, YAML
from lemmar.documents.xmltext import Element, elements, local_name

_Kind = Callable[[str, Node], Nest]


def nest_of(text: str, root: Node, suffix: str) -> Nest:
    """The pieces of a document of *suffix*, whose value is *root*."""
    if suffix in PROPERTY_LISTS:
        return _plist(text, root) if text.lstrip()[:1] == "<" else _old_style(text, root)
    if suffix in TOML:
        return _toml(text, root)
    return _yaml(text, root) if suffix in YAML else _json(text, root)


def _json(text: str, node: Node) -> Nest:
    if node.kind not in ("map", "list"):
        return _leaf(node)
    return Nest(node.start, node.end, _pieces(text, node, _json), node.kind, ",", True, (node.start + 1, node.end - 1))


def _yaml(text: str, node: Node) -> Nest:
    if node.kind not in ("map", "list"):
        return _leaf(node)
    if text[node.start : node.start + 1] in ("[", "{"):
        return _json(text, node)

    def pieces() -> Sequence[Nest]:
        if node.kind == "map":
            return _pieces(text, node, _yaml)()
        return [_dashed(text, _yaml(text, item), node.start) for item in node.items]

    return Nest(node.start, node.end, pieces, node.kind, "", True)


def _dashed(text: str, nest: Nest, least: int) -> Nest:
    """An item of a block sequence, from its dash on."""
    return nest._replace(start=max(text.rfind("-", least, nest.start), least)) if text[nest.start : nest.start + 1] != "-" else nest


def _toml(text: str, node: Node) -> Nest:
    if node.kind not in ("map", "list"):
        return _leaf(node)
    if (
        text[node.start : node.start + 1] in ("[", "{")
        and node.end > node.start
        and text[node.end - 1] in ("]", "}")
        and not _is_header(text, node.start)
    ):
        return Nest(node.start, node.end, _pieces(text, node, _toml), node.kind, ",", True, (node.start + 1, node.end - 1))
    below = [_headed(text, member.start, member.node) for member in node.members] + [_headed(text, item.start, item) for item in node.items]
    start = min((each.start for each in below), default=node.start)
    end = max((each.end for each in below), default=node.end)
    return Nest(start, end, lambda: sorted(below, key=lambda each: each.start), node.kind, "", True)


def _headed(text: str, at: int, node: Node) -> Nest:
    """A member of a table with all that it holds; of one with a header of its own from that on."""
    inner = _toml(text, node)
    line = text.rfind("\n", 0, at) + 1
    start = line + len(text[line:at]) - len(text[line:at].lstrip()) if text[line:at].lstrip().startswith("[") else at
    end = max(inner.end, node.end)
    if start < at:  # a header of its own, whose line is part of it
        ended = text.find("]", at)
        end = max(end, len(text) if ended < 0 else ended + (2 if text.startswith("]]", ended) else 1))
    return Nest(start, end, lambda: [inner], "member")


def _is_header(text: str, at: int) -> bool:
    line = text.rfind("\n", 0, at) + 1
    return not text[line:at].strip()


def _plist(text: str, node: Node) -> Nest:
    if node.kind not in ("map", "list"):
        return _leaf(node)
    return Nest(node.start, node.end, _pieces(text, node, _plist), node.kind, "", True)


def _old_style(text: str, node: Node) -> Nest:
    if node.kind not in ("map", "list"):
        return _leaf(node)
    return Nest(node.start, node.end, _pieces(text, node, _old_style), node.kind, ";" if node.kind == "map" else ",", True)


def _pieces(text: str, node: Node, kind: _Kind) -> Callable[[], Sequence[Nest]]:
    def members() -> Sequence[Nest]:
        if node.kind == "list":
            return [kind(text, item) for item in node.items]
        return [_member(text, member, kind) for member in node.members]

    return members


def _member(text: str, member: Member, kind: _Kind) -> Nest:
    return Nest(member.start, max(member.node.end, member.end), lambda: [kind(text, member.node)], "member")


def _leaf(node: Node) -> Nest:
    return Nest(node.start, node.end, tuple, node.kind)


def xml_nest(text: str) -> Nest:
    """The elements of an XML document or a page, each with those inside of it."""
    found = elements(text)
    below: dict[int, list[Element]] = {}
    stack: list[Element] = []
    for element in found:
        while stack and stack[-1].end <= element.open.start:
            stack.pop()
        below.setdefault(id(stack[-1]) if stack else 0, []).append(element)
        if element.close is not None:
            stack.append(element)

    def nest(element: Element) -> Nest:
        inside = (element.open.end, element.close.start) if element.close is not None else None
        pieces = below.get(id(element), [])
        return Nest(
            element.open.start, element.end, lambda: [nest(each) for each in pieces], local_name(element.open.name), "", False, inside
        )

    return Nest(0, len(text), lambda: [nest(each) for each in below.get(0, [])], "document")
