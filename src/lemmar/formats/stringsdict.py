"""Strings dictionaries: property lists in which a text depends on a number, with a form for each plural category.

Source: the format's own documentation (``NSStringLocalizedFormatKey``, ``NSStringPluralRuleType``). Of several numbers in one text the
forms are those of the first; the others' variables stay as they are written.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from lemmar.documents.nodes import Member, Node
from lemmar.documents.propertylist import scan
from lemmar.formats._entries import Entries, add_forms, decoded, in_order, repeated
from lemmar.formats._reading import Format, Reading, ReadOptions, Site
from lemmar.formats._trees import TreeReader, tree_sites
from lemmar.tags import CATEGORIES
from lemmar.text import decode

_VARIABLE = re.compile(r"%(?:[0-9]+\$)?#@([^@]+)@")


def _child(node: Node, name: str) -> Node | None:
    return next((member.node for member in reversed(node.members) if member.key == name), None)


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, and every defect."""
    text, defects = decoded(data, options)
    root, faults = scan(text.text)
    reader = TreeReader(text, options, root, faults, defects)
    if root is None or root.kind != "map":
        return reader.reading()
    entries = Entries()
    starts: dict[str, int] = {}
    for member in root.members:
        line, column = reader.lines.place(member.start)
        if member.key in entries.index:
            reader.defects.append(repeated(member.key, starts[member.key], line, column, same=False))
        starts.setdefault(member.key, line)
        forms = dict(_forms(member.node))
        if forms:
            add_forms(entries, member.key, forms)
        else:
            pattern = _child(member.node, "NSStringLocalizedFormatKey")
            entries.add(member.key, pattern.text if pattern is not None else None)
    return Reading((entries.column(),), in_order(reader.defects), text.encoding)


def _forms(node: Node) -> Iterator[tuple[str, str]]:
    pattern = _child(node, "NSStringLocalizedFormatKey")
    variable = _VARIABLE.search(pattern.text) if pattern is not None else None
    rule = _child(node, variable.group(1)) if variable else None
    if pattern is None or variable is None or rule is None:
        return
    for category in CATEGORIES:
        form = _child(rule, category)
        if form is not None:
            yield category, pattern.text[: variable.start()] + form.text + pattern.text[variable.end() :]


def _shown(node: Node) -> Node:
    """Where the text stands that stands for the whole message: the form for *other*, else the last, else the pattern."""
    pattern = _child(node, "NSStringLocalizedFormatKey")
    variable = _VARIABLE.search(pattern.text) if pattern is not None else None
    rule = _child(node, variable.group(1)) if variable else None
    forms = [form for category in CATEGORIES if rule is not None and (form := _child(rule, category)) is not None]
    return forms[-1] if forms else pattern or node


def _inside(text: str, node: Node) -> tuple[int, int]:
    """Where the text of *node* stands between its tags."""
    start, end = text.find(">", node.start, node.end) + 1, text.rfind("</", node.start, node.end)
    return (start, end) if text.startswith("<", node.start) and 0 < start <= end else (node.start, node.end)


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key that is there."""
    text = decode(data, options.encoding)
    root, _ = scan(text.text)
    if root is None or root.kind != "map":
        return {}
    shown = [(member, _inside(text.text, _shown(member.node))) for member in root.members]
    flat = [Member(member.key, member.start, member.end, Node("text", *span)) for member, span in shown]
    return tree_sites(Node("map", root.start, root.end, members=flat), text, options, wanted)


FORMAT = Format(
    "stringsdict", (".stringsdict",), 1, ("by-file",), read, locate, lambda data: b"NSStringLocalizedFormatKey" in data, own_plurals=True
)
