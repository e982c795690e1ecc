"""What the readers of nested documents share: from a tree with places to columns, in every layout, and where each entry stands."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import Any, NamedTuple

from lemmar.documents.nodes import Fault, Member, Node, PointerError, point
from lemmar.formats._entries import Entries, add_forms, in_order, repeated
from lemmar.formats._reading import Column, Defect, Keys, Reading, ReadOptions, Site
from lemmar.text import Bytes, Decoded, Lines

LAYOUTS = ("by-file", "locale-rooted", "locale-leaved", "records")
_Path = tuple[str, ...]


class TreeReader:
    """Reads a document's tree: every fault, every repeated key, every layout. *defects* are those found before."""

    def __init__(
        self, text: Decoded, options: ReadOptions, root: Node | None, faults: Sequence[Fault], defects: Sequence[Defect] = ()
    ) -> None:
        self.options = options
        self.encoding = text.encoding
        self.lines = Lines(text.text)
        self.root = root
        self.defects = list(defects)
        self._faults(faults)

    def reading(self, finish: Callable[[Entries, str | None], Column] | None = None) -> Reading:
        """The columns, each made by *finish* from its entries and label if that is given."""
        if self.options.layout == "records":
            return self._records(finish)
        if self.root is not None and self.root.kind != "map":
            if not self.defects:
                self.defect("unreadable", self.root.start, f"a catalog is a map, this file holds a {self.root.kind}", "file")
            return Reading((), in_order(self.defects), self.encoding)
        plain = _plain_column(self.root) if self.options.layout == "by-file" and finish is None else None
        if plain is not None:
            return Reading((plain,), in_order(self.defects), self.encoding)
        columns: dict[str | None, Entries] = {} if self.options.layout != "by-file" else {None: Entries()}
        escape = self.root is not None and _escapes(self.root, self.options.layout)
        for path, node in _leaves(self.root, self):
            label, key = split_path(path, self.options.layout, escape)
            if key:
                entries = columns.setdefault(label, Entries())
                if node.kind == "list":
                    add_forms(entries, key, {str(number): node_text(item) for number, item in enumerate(node.items)})
                else:
                    entries.note("state", entries.add(key, node_text(node)), "computed" if node.kind == "computed" else None)
        make = finish or (lambda entries, label: entries.column(label))
        return Reading(tuple(make(entries, label) for label, entries in columns.items()), in_order(self.defects), self.encoding)

    def _records(self, finish: Callable[[Entries, str | None], Column] | None) -> Reading:
        """The columns of a document that holds lists of records: one, or one for each locale that the records name."""
        columns: dict[str | None, Entries] = {} if self.options.fields.get("locale") else {None: Entries()}
        first: dict[tuple[str | None, str], int] = {}
        found = False
        for record in _records(self.root, self.options, self):
            found = True
            entries = columns.setdefault(record.label, Entries())
            name = (record.label, record.key)
            line, column = self.lines.place(record.start)
            if name in first:
                same = entries.texts[entries.index[record.key]] == (node_text(record.text) if record.text is not None else None)
                self.defects.append(repeated(record.key, first[name], line, column, same, record.label))
            first.setdefault(name, line)
            if record.text is not None and record.text.kind in ("list", "map"):
                add_forms(entries, record.key, _forms_of(record.text))
            else:
                entries.add(record.key, node_text(record.text) if record.text is not None else None)
        if not found and not self.defects:
            self.defect("unreadable", self.root.start if self.root is not None else 0, "there is no record in the file", "file")
        make = finish or (lambda entries, label: entries.column(label))
        return Reading(tuple(make(entries, label) for label, entries in columns.items()), in_order(self.defects), self.encoding)

    def defect(self, kind: str, offset: int, detail: str, blinds: Any = "none", key: str | None = None) -> None:
        """Adds a defect at the code point *offset*."""
        line, column = self.lines.place(offset)
        self.defects.append(Defect(kind, line, column, detail, blinds, None, key))

    def _faults(self, faults: Sequence[Fault]) -> None:
        some = self.root is not None and bool(self.root.members)
        if faults:
            more = f" ({len(faults) - 1} more after it)" if len(faults) > 1 else ""
            self.defect("damaged" if some else "unreadable", faults[0].offset, faults[0].text + more, "rest" if some else "file")

    def again(self, path: _Path, first: Member, later: Member) -> None:
        """Tells a key that stands twice in one map."""
        key = split_path((*path, later.key), "by-file", escape=True)[1]
        line, column = self.lines.place(later.start)
        before = self.lines.place(first.start)[0]
        if (first.node.kind == "map") != (later.node.kind == "map"):
            words = f"the key {key!r} is a text in one place and a branch in another (line {before})"
            self.defects.append(Defect("key-clash", line, column, words, "none", None, key))
            return
        same = first.node.kind == later.node.kind != "map" and first.node.text == later.node.text
        self.defects.append(repeated(key, before, line, column, same))


def _plain_column(root: Node | None) -> Column | None:
    """The short way through a flat map of texts, each key there once; else None."""
    if root is None or any(member.node.kind != "text" for member in root.members):
        return None
    keys = Keys([member.key for member in root.members])
    if len(keys.all) != len(keys) or "" in keys.all:
        return None
    return Column(None, keys, tuple([member.node.text for member in root.members]))


class _Record(NamedTuple):
    """One record: its locale, key (by name, where messages are numbered), where its key stands, its text, and all of it."""

    label: str | None
    key: str
    start: int
    end: int
    text: Node | None
    whole: Node


def _records(root: Node | None, options: ReadOptions, reader: TreeReader | None = None) -> Iterator[_Record]:
    """The records of a document, in its order; what is none of them is told to *reader*."""
    if root is None:
        return
    try:
        lists = list(point(root, options.fields.get("list", "")))
    except PointerError as error:
        if reader is not None:
            reader.defect("unreadable", root.start, f"the list of records is not there: {error}", "file")
        return
    for node in [item for found in lists for item in (found.items if found.kind == "list" else [found])]:
        held = {member.key: member.node for member in node.members}
        key, label = held.get(options.fields.get("key", "key")), held.get(options.fields.get("locale", ""))
        if key is None or key.kind not in ("text", "number") or not key.text:
            if reader is not None:
                missing = options.fields.get("key", "key")
                reader.defect("damaged", node.start, f"a record without a {missing!r}, by which its message is known", "key")
            continue
        if options.fields.get("locale") and (label is None or label.kind != "text"):
            if reader is not None:
                reader.defect("damaged", node.start, f"the record {key.text!r} names no locale", "key", key.text)
            continue
        name = options.names.get(key.text, key.text)
        yield _Record(label.text if label else None, name, key.start, key.end, held.get(options.fields.get("text", "text")), node)


def _forms_of(node: Node) -> dict[str, str | None]:
    if node.kind == "map":
        return {member.key: node_text(member.node) for member in node.members}
    return {str(number): node_text(item) for number, item in enumerate(node.items)}


def node_text(node: Node) -> str | None:
    """A scalar's text; None for null."""
    return None if node.kind == "null" else node.text


def _leaves(root: Node | None, reader: TreeReader | None = None) -> Iterator[tuple[_Path, Node]]:
    """Path and node of every leaf, in file order; a list of scalars is a leaf. Repeated keys are told to *reader*."""
    for path, _, node, _ in _places(root, reader):
        yield path, node


def _places(root: Node | None, reader: TreeReader | None = None) -> Iterator[tuple[_Path, Member, Node, bool]]:
    """Path, member and node of every leaf, and whether it stands elsewhere: what an alias stands for belongs to its anchor."""
    if root is None:
        return
    stack: list[tuple[_Path, Iterator[Member], Node, bool]] = [((), iter(_once(root, (), reader)), root, False)]
    while stack:
        path, members, parent, elsewhere = stack[-1]
        member = next(members, None)
        if member is None:
            stack.pop()
            continue
        node, here = member.node, (*path, member.key)
        shared = elsewhere or node.start < member.start or member.start < parent.start  # an anchor stands before its aliases
        if node.kind == "map":
            stack.append((here, iter(_once(node, here, reader)), node, shared))
        elif node.kind == "list" and any(item.kind in ("map", "list") for item in node.items):
            numbered = (Member(str(number), item.start, item.end, item) for number, item in enumerate(node.items))
            stack.append((here, numbered, node, shared))
        else:
            yield here, member, node, shared


def _once(node: Node, path: _Path, reader: TreeReader | None) -> list[Member]:
    """The members of a map, each key once: in the place of its first occurrence the last one, which is what readers keep."""
    kept: dict[str, Member] = {}
    for member in node.members:
        if member.key in kept and reader:
            reader.again(path, kept[member.key], member)
        kept[member.key] = member
    return list(kept.values())


def _escapes(root: Node, layout: str) -> bool:
    """Whether dots inside keys are escaped: in files that nest, the level of the locales not counted."""
    depth = {"by-file": 1}.get(layout, 2)
    return any(len(path) > depth for path, _ in _leaves(root))


def split_path(path: _Path, layout: str, escape: bool) -> tuple[str | None, str]:
    """The locale's label (None by file) and the key of a leaf; the key is empty where the leaf stands outside the layout."""
    label = None
    if layout == "locale-rooted":
        label, path = path[0], path[1:]
    elif layout == "locale-leaved":
        label, path = path[-1], path[:-1]
    return label, ".".join(step.replace(".", "\\.") if escape else step for step in path)


def tree_sites(
    root: Node | None, text: Decoded, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]
) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted (label, key) that is in the tree."""
    lines, offsets, looked_for = Lines(text.text), Bytes(text), set(wanted)
    if options.layout == "records":
        return {
            (record.label, record.key): Site(
                *lines.place(record.start),
                offsets.span(record.start, record.end),
                offsets.span(record.text.start, record.text.end) if record.text is not None else None,
                offsets.span(record.whole.start, record.whole.end),
            )
            for record in _records(root, options)
            if (record.label, record.key) in looked_for
        }
    escape = root is not None and _escapes(root, options.layout)
    found = {}
    for path, member, node, shared in _places(root):
        name = split_path(path, options.layout, escape)
        if name in looked_for:
            line, column = lines.place(member.start)
            key = offsets.span(member.start, member.end)
            value = offsets.span(node.start, node.end) if not shared else None
            found[name] = Site(line, column, key, value, (key[0], value[1] if value else key[1]))
    return found
