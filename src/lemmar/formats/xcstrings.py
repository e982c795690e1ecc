"""String catalogs: one JSON file with every locale's texts, their states, and variations by number or device.

Source: the file as its own editor writes it. A text in the source language that is not there is its key. ``shouldTranslate: false``
makes an entry fixed; ``new`` and ``needs_review`` are states. Variations by plural category are forms; of others, the first.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from lemmar.documents.jsontext import scan
from lemmar.documents.nodes import Member, Node
from lemmar.formats._entries import Entries, add_forms, decoded, in_order, repeated
from lemmar.formats._reading import Format, Reading, ReadOptions, Site
from lemmar.formats._trees import TreeReader
from lemmar.tags import CATEGORIES
from lemmar.text import Bytes, decode


class _Text(NamedTuple):
    """A localization: its text or forms, its state, and the node of its (first) text."""

    text: str | None
    forms: dict[str, str]
    state: str | None
    node: Node | None


def _child(node: Node | None, name: str) -> Node | None:
    found = [member.node for member in node.members if member.key == name] if node is not None else []
    return found[-1] if found else None


def _strings(root: Node | None) -> list[Member]:
    return (_child(root, "strings") or Node("map", 0)).members


def _text(node: Node | None, depth: int = 0) -> _Text:
    unit, variations = _child(node, "stringUnit"), _child(node, "variations")
    if unit is not None:
        value, state = _child(unit, "value"), _child(unit, "state")
        return _Text(value.text if value is not None else None, {}, state.text if state is not None else None, value)
    if variations is None or depth > 4 or not variations.members:
        return _Text(None, {}, None, None)
    plural = _child(variations, "plural")
    if plural is None:
        first = variations.members[0].node
        return _text(first.members[0].node if first.members else None, depth + 1)
    inner = {member.key: _text(member.node, depth + 1) for member in plural.members if member.key in CATEGORIES}
    forms = {category: each.text for category, each in inner.items() if each.text is not None}
    states = [each.state for each in inner.values() if each.state in ("new", "needs_review")]
    return _Text(forms.get("other"), forms, states[0] if states else None, _shown(inner))


def _shown(forms: dict[str, _Text]) -> Node | None:
    """Where the form for *other* stands, else the first."""
    other = forms.get("other")
    return other.node if other is not None and other.node else next((each.node for each in forms.values() if each.node), None)


def read(data: bytes, options: ReadOptions) -> Reading:
    """A column for each locale that the file names, and every defect."""
    text, defects = decoded(data, options, "which JSON readers stumble over")
    root, faults = scan(text.text)
    reader = TreeReader(text, options, root, faults, defects)
    if root is None or _child(root, "strings") is None:
        if not reader.defects:
            reader.defect("unreadable", 0, "there are no 'strings' in the file", "file")
        return Reading((), in_order(reader.defects), text.encoding)
    source = _child(root, "sourceLanguage")
    labels = dict.fromkeys([source.text if source is not None else "en", *_labels(root)])
    columns: dict[str, Entries] = {label: Entries() for label in labels}
    seen: dict[str, Member] = {}
    for member in _strings(root):
        if member.key in seen:
            place = reader.lines.place(member.start)
            reader.defects.append(repeated(member.key, reader.lines.place(seen[member.key].start)[0], *place, same=False))
        seen[member.key] = member
        state = _child(member.node, "extractionState")
        if state is not None and state.text == "stale":
            continue
        for label, entries in columns.items():
            _add(entries, member, label, is_source=label == next(iter(labels)))
    return Reading(tuple(entries.column(label) for label, entries in columns.items()), in_order(reader.defects), text.encoding)


def _labels(root: Node) -> Iterator[str]:
    for member in _strings(root):
        localizations = _child(member.node, "localizations")
        yield from (each.key for each in (localizations.members if localizations is not None else ()))


def _add(entries: Entries, member: Member, label: str, is_source: bool) -> None:
    found = _text(_child(_child(member.node, "localizations"), label))
    if found.forms:
        index = add_forms(entries, member.key, found.forms)
    else:
        index = entries.add(member.key, found.text or (member.key if is_source and found.text is None else None))
    comment, wanted = _child(member.node, "comment"), _child(member.node, "shouldTranslate")
    entries.note("comment", index, comment.text if comment is not None else None)
    entries.note("fixed", index, wanted is not None and wanted.text == "false")
    entries.note("state", index, found.state if found.state in ("new", "needs_review") else None)


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key in a locale: the place is that of the key."""
    from lemmar.text import Lines

    text = decode(data, options.encoding)
    root, _ = scan(text.text)
    lines, offsets, looked_for = Lines(text.text), Bytes(text), set(wanted)
    labels: dict[str, list[str | None]] = {}
    for label, key in sorted(looked_for, key=str):
        labels.setdefault(key, []).append(label)
    found: dict[tuple[str | None, str], Site] = {}
    for member in _strings(root):
        for label in labels.get(member.key, ()):
            node = _text(_child(_child(member.node, "localizations"), label or "")).node
            value = offsets.span(node.start, node.end) if node is not None else None
            own, entry = offsets.span(member.start, member.end), offsets.span(member.start, member.node.end)
            found[label, member.key] = Site(*lines.place(member.start), own, value, entry)
    return found


FORMAT = Format(
    "xcstrings", (".xcstrings",), 1, ("locale-leaved",), read, locate, lambda data: b'"sourceLanguage"' in data[:4096], own_plurals=True
)
