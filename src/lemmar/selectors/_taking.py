"""What of a value that a selector found is the locales: list items, keys, values, a field of each."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar import languages
from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents.nodes import UNNAMED, Fault, Node, why_unnamed
from lemmar.formats import Defect
from lemmar.selectors._selection import Pick, Selection, Value

_TAKE = expression(r"keys|values|members|cases|field:.+|item:[0-9]{1,4}")


_LABELS = expression(r"field:.+|item:[0-9]{1,4}|value|text")


def check_take(pick: Pick) -> tuple[str, str] | None:
    """The mistake in what a claim asks to take, if any."""
    if pick.labels is not None and not _LABELS.fullmatch(pick.labels):
        return "labels", f"{pick.labels!r} is nothing to take labels from; it is field:NAME, item:N, value or text"
    if pick.take in (None, "chain", "truth") or _TAKE.fullmatch(pick.take or ""):
        return None
    return "take", f"{pick.take!r} is nothing to take; it is keys, values, members, cases, field:NAME or item:N"


def opened(data: bytes, pick: Pick) -> tuple[str, bytes, languages.SourceFile | None]:
    """A file of code: its text, that as UTF-8, and parsed, where its language is known."""
    text = decode(data).text
    source = text.encode("utf-8", "replace")
    return text, source, languages.parse(source, pick.suffix)


def broken_in(file: languages.SourceFile) -> str:
    """What to add to a sentence about something that is not in a file of code."""
    return "; the file has syntax errors" if file.root.has_error else ""


def nothing(why: str) -> Selection:
    """No values, and *why*."""
    return Selection((), (Defect("unreadable", 1, 1, why),))


def select_from(text: str, nodes: list[Node], pick: Pick, faults: list[Fault]) -> Selection:
    """The values that *pick* takes of *nodes*, with their places in *text* and their labels, and what could not be read."""
    lines = Lines(text)
    values: list[Value] = []
    for node in nodes:
        for found, label in taken(node, pick, faults):
            values.append(Value(found.text, *lines.place(found.start), label))
    defects = [Defect("unreadable", *lines.place(fault.offset), fault.text) for fault in faults]
    return Selection(tuple(values), tuple(sorted(defects, key=lambda defect: (defect.line, defect.column))))


def taken(node: Node, pick: Pick, faults: list[Fault]) -> Iterator[tuple[Node, str | None]]:
    """The scalars that *pick* takes of *node*, each with its label if one is asked for; what is no text is reported in *faults*."""
    take = pick.take
    if take == "chain":
        yield from _chain(node, faults)
    elif take == "truth":
        yield from _truths(node, faults)
    elif take in ("keys", "members") and node.kind == "map":
        yield from _keys(node, pick.labels, faults)
    elif take in ("keys", "members") and node.kind == "list":
        yield from _scalars(node.items, faults)
    elif take and take.startswith(("field:", "item:")):
        kind, _, name = take.partition(":")
        rows = [member.node for member in node.members] if node.kind == "map" and kind == "item" else _rows(node)
        for row in rows:
            label = _label(row, pick.labels)
            for found, _ in _scalars([_piece(row, kind, name, faults)], faults):
                yield found, label
    elif node.kind == "map":
        plain = [member.node for member in node.members]
        if (take != "values" and any(item.kind != "text" for item in plain)) or pick.labels == "value":
            yield from _keys(node, pick.labels, faults)
        else:
            yield from _scalars(plain, faults)
    elif node.kind == "list":
        yield from _scalars(node.items, faults)
    else:
        yield from _scalars([node], faults)


def _chain(node: Node, faults: list[Fault]) -> Iterator[tuple[Node, str | None]]:
    """The links of a chain: of a map each with the key that it is named for, of a list or a text alone with none."""
    if node.kind != "map":
        yield from _scalars(node.items if node.kind == "list" else [node], faults)
        return
    for member in node.members:
        for link, _ in _scalars(member.node.items if member.node.kind == "list" else [member.node], faults):
            yield link, member.key


def _truths(node: Node, faults: list[Fault]) -> Iterator[tuple[Node, str | None]]:
    """What says yes or no: any scalar, nothing being no."""
    if node.kind in ("bool", "null"):
        yield node, None
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


def _label(row: Node, labels: str | None) -> str | None:
    """The words that stand beside a locale in *row*; None where there are none, or they are computed."""
    kind, _, name = (labels or "").partition(":")
    found = [member.node for member in row.members if member.key == name] if kind == "field" else []
    if kind == "item":
        found = row.items[int(name) : int(name) + 1]
    return found[-1].text if found and found[-1].kind == "text" else None


def _keys(node: Node, labels: str | None, faults: list[Fault]) -> Iterator[tuple[Node, str | None]]:
    for member in node.members:
        if member.key == UNNAMED:
            faults.append(Fault(member.start, why_unnamed(member)))
            continue
        label = member.node.text if labels == "value" and member.node.kind == "text" else _label(member.node, labels)
        yield Node("text", member.start, member.end, member.key), label


def _scalars(nodes: list[Node] | list[Node | None], faults: list[Fault]) -> Iterator[tuple[Node, str | None]]:
    for node in nodes:
        if node is None:
            continue
        if node.kind in ("text", "number"):
            yield node, None
        elif node.kind == "computed":
            faults.append(Fault(node.start, node.text))
        else:
            faults.append(Fault(node.start, f"expected a text, found a {node.kind}"))
