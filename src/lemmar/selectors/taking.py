"""What of a value that a selector found is the locales: list items, keys, values, a field of each."""

from __future__ import annotations

import re
from collections.abc import Iterator

from lemmar.documents.nodes import Fault, Node
from lemmar.model import Defect, Pick, Selection, Value
from lemmar.text import Lines

_TAKE = re.compile(r"keys|values|members|cases|field:.+|item:[0-9]{1,4}")


def check_take(pick: Pick) -> tuple[str, str] | None:
    """The mistake in what a claim asks to take, if any."""
    if pick.take is None or _TAKE.fullmatch(pick.take):
        return None
    return "take", f"{pick.take!r} is nothing to take; it is keys, values, members, cases, field:NAME or item:N"


def select_from(text: str, nodes: list[Node], take: str | None, faults: list[Fault]) -> Selection:
    """The values that *take* finds in *nodes*, with their places in *text*, and what could not be read."""
    lines = Lines(text)
    values: list[Value] = []
    for node in nodes:
        for found in taken(node, take, faults):
            values.append(Value(found.text, *lines.place(found.start)))
    defects = [Defect("unreadable", *lines.place(fault.offset), fault.text) for fault in faults]
    return Selection(tuple(values), tuple(sorted(defects, key=lambda defect: (defect.line, defect.column))))


def taken(node: Node, take: str | None, faults: list[Fault]) -> Iterator[Node]:
    """The scalars that *take* finds in *node*; what is no text is told in *faults*."""
    if take in ("keys", "members") and node.kind == "map":
        yield from _keys(node)
    elif take in ("keys", "members") and node.kind == "list":
        yield from _scalars(node.items, faults)
    elif take and take.startswith(("field:", "item:")):
        kind, _, name = take.partition(":")
        rows = [member.node for member in node.members] if node.kind == "map" and kind == "item" else _rows(node)
        for row in rows:
            yield from _scalars([_piece(row, kind, name, faults)], faults)
    elif node.kind == "map":
        plain = [member.node for member in node.members]
        if take != "values" and any(item.kind != "text" for item in plain):
            yield from _keys(node)
        else:
            yield from _scalars(plain, faults)
    elif node.kind == "list":
        yield from _scalars(node.items, faults)
    else:
        yield from _scalars([node], faults)


def _rows(node: Node) -> list[Node]:
    """The maps to take a field of: a list's items, a map's values where they are maps, else the map itself."""
    if node.kind == "list":
        return node.items
    values = [member.node for member in node.members]
    return values if values and all(value.kind in ("map", "computed") for value in values) else [node]


def _piece(row: Node, kind: str, name: str, faults: list[Fault]) -> Node | None:
    if row.kind == "computed":
        return row
    if kind == "field":
        found = [member.node for member in row.members if member.key == name]
        if not found:
            faults.append(Fault(row.start, f"there is no field {name!r} here"))
        return found[-1] if found else None
    if row.kind == "list" and int(name) < len(row.items):
        return row.items[int(name)]
    faults.append(Fault(row.start, f"there is no item {name} here"))
    return None


def _keys(node: Node) -> Iterator[Node]:
    for member in node.members:
        yield Node("text", member.start, member.end, member.key)


def _scalars(nodes: list[Node] | list[Node | None], faults: list[Fault]) -> Iterator[Node]:
    for node in nodes:
        if node is None:
            continue
        if node.kind in ("text", "number"):
            yield node
        elif node.kind == "computed":
            faults.append(Fault(node.start, node.text))
        else:
            faults.append(Fault(node.start, f"expected a text, found a {node.kind}"))
