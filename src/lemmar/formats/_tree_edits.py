"""Edits of nested documents: JSON, YAML, TOML, code. One class a layout; kinds of documents differ in how a map, a list and nothing are written."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from typing import NamedTuple

from lemmar.basics.text import Lines
from lemmar.documents.nesting import nest_of
from lemmar.documents.nodes import Fault, Member, Node, PointerError, point
from lemmar.documents.rows import Nest, Row, inserted, removed, row_of
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.formats._editing import Edits, FormPlace, Model, NewEntry, Where, after_each, indent_of, line_end_of, marked
from lemmar.formats._reading import ReadOptions
from lemmar.formats._tree_writing import Adding, Written, record
from lemmar.formats._trees import step

#: The document's value, and what is wrong with it.
_Scan = Callable[[str, ReadOptions], tuple[Node | None, list[Fault]]]


class _Kind(NamedTuple):
    """A kind of document: what reads it, the suffix of its files (empty: as the options say), how it is written, and its pieces if they are its own."""

    scan: _Scan
    suffix: str
    written: Written
    nest: Callable[[str, ReadOptions], Nest] | None


def tree_edits(
    scan: _Scan, suffix: str, written: Written, blank: Callable[[Model], str], nest: Callable[[str, ReadOptions], Nest] | None = None
) -> Edits:
    """The edits of a kind of document that *scan* reads, with files as *suffix* has them."""
    kind = _Kind(scan, suffix, written, nest)

    def laid(text: str, options: ReadOptions) -> _Layout:
        return _LAYOUTS[options.layout](kind, text, options)

    return Edits(
        blank,
        lambda model: laid(model.text, model.options).take_in(model),
        lambda text, options, label: laid(text, options).leave_out(label),
        lambda text, options, label, new: laid(text, options).rename(label, new),
        lambda text, where, keys, repeats: laid(text, where.options).remove(where, keys, repeats),
        lambda text, where, news: laid(text, where.options).add(where, news),
        lambda text, options: laid(text, options).forms(),
    )


class _Layout:
    """A sound document in one layout, and its edits. Raises `EditError` where the document is not sound."""

    def __init__(self, kind: _Kind, text: str, options: ReadOptions) -> None:
        root, faults = kind.scan(text, options)
        if faults or root is None or root.kind not in ("map", "list"):
            place = Lines(text).place(faults[0].offset) if faults else (1, 1)
            raise EditError(faults[0].text if faults else "there is no map in the file", *place)
        self.kind, self.written = kind, kind.written
        self.text, self.options, self.root = text, options, root

    def pieces(self) -> Nest:
        """The pieces of the whole document."""
        if self.kind.nest is not None:
            return self.kind.nest(self.text, self.options)
        return nest_of(self.text, self.root, self.kind.suffix or self.options.suffix)

    def row(self, whole: Nest, members: Sequence[Member]) -> tuple[Row, dict[str, int]]:
        """The row of *members*, and the number of each in it."""
        place = row_of(self.text, whole, [(member.start, member.end) for member in members])
        return place.row, {member.key: number for member, number in zip(members, place.items, strict=True)}

    def maps(self) -> list[Node]:
        """The maps whose members are locales."""
        return []

    def value(self) -> str:
        """What a locale that is taken in has as its value."""
        return self.written.map

    def base(self, where: Where) -> Node:
        """The map of a column. Raises `EditError` where it has none of its own."""
        raise EditError(f"there is no map of {where.label!r} in the file; edit it by hand")

    def entries(self, where: Where) -> list[_Place]:
        """The entries of a column in the order of the document."""
        return _places(self.base(where))

    def take_in(self, model: Model) -> list[Splice]:
        """Puts a locale in, after the last of its neighbours in each map of locales."""
        whole = self.pieces()
        found = []
        for each in self.maps():
            row, numbers = self.row(whole, each.members)
            piece = f"{self.written.name(model.written, self.text, each)}{self.value()}"
            found += inserted(self.text, row, piece, max(numbers.values()))
        return found

    def leave_out(self, label: str) -> list[Splice]:
        """Takes the locale *label* out of each map of locales."""
        whole = self.pieces()
        found = []
        for each in self.maps():
            if any(member.key == label for member in each.members):
                row, numbers = self.row(whole, each.members)
                found += removed(self.text, row, [numbers[label]])
        return found

    def rename(self, label: str, new: str) -> list[Splice]:
        """Gives the locale *label* the name *new*."""
        return [
            Splice(member.start, member.end, self.written.key(new, self.text[member.start : member.end]))
            for each in self.maps()
            for member in each.members
            if member.key == label
        ]

    def remove(self, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
        """Takes entries out; of one that is there several times, where *repeats* are meant, all but its last."""
        places = self.entries(where)
        last = {place.key: number for number, place in enumerate(places)}
        gone = [place for number, place in enumerate(places) if place.key in keys and not (repeats and number == last[place.key])]
        missing = set(keys) - {place.key for place in gone}
        if missing:
            raise EditError(f"there is no entry {min(missing)!r} that could be taken out")
        return _without(self.text, self.pieces(), gone)

    def add(self, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
        """Puts entries in."""
        base = self.base(where)
        return Adding(self.text, self.pieces(), self.written, where, self._nests(base, where)).splices(base, news)

    def _nests(self, base: Node, where: Where) -> bool:
        """Whether the keys of a document are steps into maps: it shows so itself, else the file that it is like does."""
        if base.members or not where.like:
            return any(member.node.kind == "map" for member in base.members)
        root, _ = self.kind.scan(where.like, where.options)
        maps = [] if root is None else [member.node for member in root.members] if where.options.layout == "locale-rooted" else [root]
        return any(member.node.kind == "map" for node in maps for member in node.members)

    def columns(self) -> list[tuple[str | None, Node]]:
        """The maps in which a text may have several forms, each with its label."""
        return []

    def forms(self) -> Iterator[FormPlace]:
        """Where each form of a text that has several stands."""
        for label, base in self.columns():
            for place in _places(base):
                for number, item in enumerate(place.nodes[-1].members[place.indexes[-1]].node.items):
                    if item.kind == "text":
                        yield FormPlace(label, place.key, str(number), item.text, (item.start, item.end))


class _ByFile(_Layout):
    """The file is one locale."""

    def base(self, where: Where) -> Node:
        return self.root

    def columns(self) -> list[tuple[str | None, Node]]:
        return [(None, self.root)]


class _Rooted(_Layout):
    """The members of the document are the locales."""

    def maps(self) -> list[Node]:
        return [self.root]

    def base(self, where: Where) -> Node:
        found = next((member.node for member in self.root.members if member.key == where.label), None)
        return found if found is not None and found.kind in ("map", "null", "list") else super().base(where)

    def columns(self) -> list[tuple[str | None, Node]]:
        return [(member.key, member.node) for member in self.root.members]


class _Leaved(_Layout):
    """Each key holds a map of locales to texts."""

    def maps(self) -> list[Node]:
        return _leaved(self.root)

    def value(self) -> str:
        if self.written.nothing is None:
            raise EditError("such files have no way to say that a text is not there yet; add the first text by hand")
        return self.written.nothing

    def entries(self, where: Where) -> list[_Place]:
        return _places(self.root, where.label)


class _Records(_Layout):
    """Lists of records, each a text of a locale, or of the file's one locale."""

    def __init__(self, kind: _Kind, text: str, options: ReadOptions) -> None:
        super().__init__(kind, text, options)
        self.locale, self.key, self.words = (
            options.fields.get("locale"),
            options.fields.get("key", "key"),
            options.fields.get("text", "text"),
        )
        self.rows = [node for found in _pointed(self.root, options.fields.get("list", "")) for node in found.items]

    def placed(self) -> tuple[Row, tuple[int, ...]]:
        """The row of all records, and the number of each in it."""
        place = row_of(self.text, self.pieces(), [(node.start, node.end) for node in self.rows])
        return place.row, place.items

    def take_in(self, model: Model) -> list[Splice]:
        """For each message one more record, after its last, without a text."""
        if self.written.nothing is None or not self.locale:
            raise EditError("records of another locale are to be added by hand")
        row, items = self.placed()
        last = {_text_at(node, self.key): (node, number) for node, number in zip(self.rows, items, strict=True)}
        found = []
        for node, number in last.values():
            held = {member.key: member.node for member in node.members}
            label, text = held[self.locale], held[self.words]
            changes = [
                Splice(
                    label.start - node.start, label.end - node.start, self.written.key(model.written, self.text[label.start : label.end])
                ),
                Splice(text.start - node.start, text.end - node.start, self.written.nothing),
            ]
            found += inserted(self.text, row, spliced(self.text[node.start : node.end], changes), number)
        return found

    def leave_out(self, label: str) -> list[Splice]:
        row, items = self.placed()
        gone = [number for node, number in zip(self.rows, items, strict=True) if _text_at(node, self.locale or "") == label]
        return removed(self.text, row, gone)

    def rename(self, label: str, new: str) -> list[Splice]:
        spots = [member.node for node in self.rows for member in node.members if member.key == self.locale and member.node.text == label]
        return [Splice(node.start, node.end, self.written.key(new, self.text[node.start : node.end])) for node in spots]

    def keyed(self, where: Where) -> list[tuple[str, int]]:
        """The records of a column: the key and the number of each."""
        if not self.rows:
            raise EditError("there is no record after which another could be made")
        names = where.options.names
        keys = [_text_at(node, self.key) or "" for node in self.rows]
        return [
            (names.get(key, key), number)
            for number, (key, node) in enumerate(zip(keys, self.rows, strict=True))
            if not self.locale or _text_at(node, self.locale) == where.label
        ]

    def remove(self, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
        mine = [(key, number) for key, number in self.keyed(where) if key in keys]
        last = dict(mine)
        gone = [(key, number) for key, number in mine if not (repeats and number == last[key])]
        if {key for key, _ in gone} != set(keys):
            raise EditError("a record that is to be taken out is not there")
        row, items = self.placed()
        return removed(self.text, row, [items[number] for _, number in gone])

    def add(self, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
        mine = self.keyed(where)
        row, items = self.placed()
        numbers = {name: number for number, name in where.options.names.items()}
        example = self.rows[mine[0][1] if mine else 0]
        found: list[Splice] = []
        for after, those in after_each([key for key, _ in mine], [new.key for new in news], where.order).items():
            bodies = []
            for new in [new for new in news if new.key in those]:
                if where.options.names and new.key not in numbers:
                    raise EditError(f"the message {new.key!r} has no number yet")
                values = {self.key: numbers.get(new.key, new.key), self.words: None, self.locale or "": where.label}
                bodies.append(record(self.text, example, values, new.text, self.words, self.written))
            at = items[mine[after][1]] if after >= 0 and mine else -1 if mine else len(row.items) - 1
            found += inserted(self.text, row, bodies, at)
        return found


_LAYOUTS: dict[str, type[_Layout]] = {"by-file": _ByFile, "locale-rooted": _Rooted, "locale-leaved": _Leaved, "records": _Records}


class _Place(NamedTuple):
    """An entry: its key, the maps that lead to it, and the index of the member in each that does."""

    key: str
    nodes: tuple[Node, ...]
    indexes: tuple[int, ...]

    @property
    def start(self) -> int:
        return self.nodes[-1].members[self.indexes[-1]].start


def _places(base: Node, label: str | None = None) -> list[_Place]:
    """The entries below *base* in the order of the document; where locales are the leaves, those of *label*."""
    found: list[_Place] = []
    stack: list[tuple[tuple[Node, ...], tuple[int, ...], tuple[str, ...], Node]] = [((), (), (), base)]
    while stack:
        nodes, indexes, names, node = stack.pop()
        for index, member in enumerate(node.members):
            here, at, path = (*nodes, node), (*indexes, index), (*names, member.key)
            if member.node.kind == "map" and member.node.members:
                stack.append((here, at, path, member.node))
            elif label is None or path[-1] == label:
                steps = path if label is None else path[:-1]
                key = ".".join(map(step, steps)) if len(steps) > 1 else steps[0] if steps else ""
                found.append(_Place(key, here, at))
    return sorted(found, key=lambda place: place.start)


def _without(text: str, whole: Nest, gone: Sequence[_Place]) -> list[Splice]:
    """The entries taken out; a map that nothing would be left in goes with them, but for the outermost."""
    indexes: dict[int, set[int]] = {}
    nodes: dict[int, Node] = {}
    for place in gone:
        for depth in range(len(place.nodes) - 1, -1, -1):
            node = place.nodes[depth]
            nodes[id(node)] = node
            indexes.setdefault(id(node), set()).add(place.indexes[depth])
            if len(indexes[id(node)]) < len(node.members):
                break
    found: list[Splice] = []
    for name, node in sorted(nodes.items(), key=lambda item: item[1].start):
        full = len(indexes[name]) == len(node.members)
        if any(splice.start <= node.start and node.end <= splice.end for splice in found):
            continue
        if full and len(node.members) == 1:
            found.append(
                Splice(node.start, node.end, text[node.start] + text[node.end - 1])
                if text[node.start] in "{["
                else Splice(node.start, node.end, "{}")
            )
            continue
        row = row_of(text, whole, [(member.start, member.end) for member in node.members])
        found += removed(text, row.row, [row.items[index] for index in indexes[name]])
        if full and text[node.start] not in "{[":
            found.append(Splice(node.start, node.start, "{}"))
    return found


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
