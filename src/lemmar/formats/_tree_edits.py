"""Edits of nested documents: JSON, YAML, TOML, code. What differs is how a map, a list and nothing are written."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from lemmar.documents.nesting import nest_of
from lemmar.documents.nodes import Fault, Member, Node, PointerError, point
from lemmar.documents.rows import Nest, Row, inserted, removed, row_of
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.formats._editing import Edits, Model, indent_of, line_end_of, marked
from lemmar.formats._reading import ReadOptions
from lemmar.text import Lines

#: The document's value, and what is wrong with it.
_Scan = Callable[[str, ReadOptions], tuple[Node | None, list[Fault]]]


class Written(NamedTuple):
    """How a kind of document writes what a new locale needs: *key* a name, by the example of another, *map* an empty map, *nothing* a text that is not
    there yet (None: it has no way), *parts* what parts name and value.
    """

    key: Callable[[str, str], str]
    map: str
    nothing: str | None
    parts: str


def tree_edits(scan: _Scan, suffix: str, written: Written, blank: Callable[[Model], str], nest: Callable[[str, ReadOptions], Nest] | None = None) -> Edits:
    """The edits of a kind of document that *scan* reads, with files as *suffix* has them."""

    def sound(text: str, options: ReadOptions) -> Node:
        root, faults = scan(text, options)
        if faults or root is None or root.kind not in ("map", "list"):
            place = Lines(text).place(faults[0].offset) if faults else (1, 1)
            raise EditError(faults[0].text if faults else "there is no map in the file", *place)
        return root

    def pieces(text: str, options: ReadOptions, root: Node) -> Nest:
        return nest(text, options) if nest is not None else nest_of(text, root, suffix or options.suffix)

    def member_row(text: str, whole: Nest, members: list[Member]) -> tuple[Row, dict[str, int]]:
        place = row_of(text, whole, [(member.start, member.end) for member in members])
        return place.row, {member.key: number for member, number in zip(members, place.items, strict=True)}

    def take_in(model: Model) -> list[Splice]:
        text, options = model.text, model.options
        root = sound(text, options)
        whole = pieces(text, options, root)
        if options.layout == "locale-rooted":
            row, numbers = member_row(text, whole, root.members)
            piece = f"{written.key(model.written, _name(text, root))}{_parts(text, root.members, written)}{written.map}"
            return inserted(text, row, piece, max(numbers.values()))
        if options.layout == "records":
            return _more_records(model, root, whole)
        if written.nothing is None:
            raise EditError("such files have no way to say that a text is not there yet; add the first text by hand")
        found = []
        for leaf in _leaved(root):
            row, numbers = member_row(text, whole, leaf.members)
            piece = f"{written.key(model.written, _name(text, leaf))}{_parts(text, leaf.members, written)}{written.nothing}"
            found += inserted(text, row, piece, max(numbers.values()))
        return found

    def _more_records(model: Model, root: Node, whole: Nest) -> list[Splice]:
        """For each message one more record, after its last, without a text."""
        fields = model.options.fields
        if written.nothing is None or not fields.get("locale"):
            raise EditError("records of another locale are to be added by hand")
        last: dict[str, Node] = {}
        rows = [node for found in _pointed(root, fields.get("list", "")) for node in found.items]
        for node in rows:
            held = {member.key: member.node for member in node.members}
            last[held[fields["key"]].text] = node
        place = row_of(model.text, whole, [(node.start, node.end) for node in rows])
        number_of = dict(zip(map(id, rows), place.items, strict=True))
        found = []
        for node in last.values():
            held = {member.key: member.node for member in node.members}
            label, text = held[fields["locale"]], held[fields.get("text", "text")]
            changes = [
                Splice(label.start - node.start, label.end - node.start, written.key(model.written, model.text[label.start : label.end])),
                Splice(text.start - node.start, text.end - node.start, written.nothing),
            ]
            found += inserted(model.text, place.row, spliced(model.text[node.start : node.end], changes), number_of[id(node)])
        return found

    def leave_out(text: str, options: ReadOptions, label: str) -> list[Splice]:
        root = sound(text, options)
        whole = pieces(text, options, root)
        if options.layout == "locale-rooted":
            row, numbers = member_row(text, whole, root.members)
            return removed(text, row, [numbers[label]]) if label in numbers else []
        if options.layout == "records":
            rows = [node for found in _pointed(root, options.fields.get("list", "")) for node in found.items]
            place = row_of(text, whole, [(node.start, node.end) for node in rows])
            gone = [number for node, number in zip(rows, place.items, strict=True) if _text_at(node, options.fields.get("locale", "")) == label]
            return removed(text, place.row, gone)
        found = []
        for leaf in _leaved(root):
            if any(member.key == label for member in leaf.members):
                row, numbers = member_row(text, whole, leaf.members)
                found += removed(text, row, [numbers[label]])
        return found

    def rename(text: str, options: ReadOptions, label: str, new: str) -> list[Splice]:
        root = sound(text, options)
        if options.layout == "records":
            rows = [node for found in _pointed(root, options.fields.get("list", "")) for node in found.items]
            spots = [member.node for node in rows for member in node.members if member.key == options.fields.get("locale") and member.node.text == label]
            return [Splice(node.start, node.end, written.key(new, text[node.start : node.end])) for node in spots]
        maps = [root] if options.layout == "locale-rooted" else _leaved(root)
        return [
            Splice(member.start, member.end, written.key(new, text[member.start : member.end]))
            for each in maps
            for member in each.members
            if member.key == label
        ]

    return Edits(blank, take_in, leave_out, rename)


def _name(text: str, node: Node) -> str:
    """The name of the last member as it is written."""
    return text[node.members[-1].start : node.members[-1].end] if node.members else ""


def _parts(text: str, members: list[Member], written: Written) -> str:
    """What parts a member's name from its value, as it is in most of the others."""
    found = [text[member.end : member.node.start] for member in members if member.node.start > member.end]
    plain = [each for each in found if len(each) < 8 and "\n" not in each]
    return max(set(plain), key=lambda each: (plain.count(each), each)) if plain else written.parts


def _leaved(root: Node) -> list[Node]:
    """The maps of locales to texts: those that hold no maps."""
    found, stack = [], [root]
    while stack:
        node = stack.pop()
        below = [member.node for member in node.members if member.node.kind == "map"]
        if node.members and not below:
            found.append(node)
        stack += below
    return sorted(found, key=lambda node: node.start)


def _pointed(root: Node, pointer: str) -> list[Node]:
    try:
        return [node for node in point(root, pointer) if node.kind == "list"]
    except PointerError as error:
        raise EditError(str(error)) from error


def _text_at(node: Node, name: str) -> str | None:
    return next((member.node.text for member in node.members if member.key == name), None)


def emptied_records(model: Model, root: Node) -> str:
    """The document with nothing in its lists of records."""
    lists = _pointed(root, model.options.fields.get("list", ""))
    return spliced(model.text, [Splice(node.start, node.end, "[]") for node in lists if node.end > node.start])


__all__ = ["Written", "emptied_records", "indent_of", "line_end_of", "marked", "tree_edits"]
