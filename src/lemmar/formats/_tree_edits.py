"""Edits of nested documents: JSON, YAML, TOML, code. What differs is how a map, a list and nothing are written."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterator, Sequence
from typing import NamedTuple

from lemmar.basics.text import Lines
from lemmar.documents.nesting import nest_of
from lemmar.documents.nodes import Fault, Member, Node, PointerError, point
from lemmar.documents.rows import Nest, Place, Row, inserted, removed, row_of
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.formats._editing import Edits, FormPlace, Model, NewEntry, Where, after_each, indent_of, line_end_of, marked
from lemmar.formats._reading import ReadOptions
from lemmar.formats._trees import step

#: The document's value, and what is wrong with it.
_Scan = Callable[[str, ReadOptions], tuple[Node | None, list[Fault]]]


class Written(NamedTuple):
    """How a kind of document writes what is new in it: *key* a name, by the example of another, *map* an empty map, *nothing* a text that is not there yet
    (None: it has no way), *parts* what parts name and value, *text* a text; *signs* open and close a map of several lines (None: lines that stand further
    in are one), and *comma* follows the last of them.
    """

    key: Callable[[str, str], str]
    map: str
    nothing: str | None
    parts: str
    text: Callable[[str], str]
    signs: tuple[str, str] | None = ("{", "}")
    comma: bool = False

    def branch(self, lines: Sequence[str], end: str, outer: str, inner: str) -> str:
        """A map of members, which are written already, behind its name; *outer* and *inner* are how far its name and they stand in."""
        if self.signs is None:
            return end + end.join(inner + line for line in lines)
        body = f",{end}".join(inner + line for line in lines) + ("," if self.comma else "")
        return f"{self.signs[0]}{end}{body}{end}{outer}{self.signs[1]}"


def tree_edits(
    scan: _Scan, suffix: str, written: Written, blank: Callable[[Model], str], nest: Callable[[str, ReadOptions], Nest] | None = None
) -> Edits:
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
            gone = [
                number for node, number in zip(rows, place.items, strict=True) if _text_at(node, options.fields.get("locale", "")) == label
            ]
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
            spots = [
                member.node
                for node in rows
                for member in node.members
                if member.key == options.fields.get("locale") and member.node.text == label
            ]
            return [Splice(node.start, node.end, written.key(new, text[node.start : node.end])) for node in spots]
        maps = [root] if options.layout == "locale-rooted" else _leaved(root)
        return [
            Splice(member.start, member.end, written.key(new, text[member.start : member.end]))
            for each in maps
            for member in each.members
            if member.key == label
        ]

    def column(text: str, where: Where, root: Node) -> Node:
        if where.options.layout == "by-file":
            return root
        found = next((member.node for member in root.members if member.key == where.label), None)
        if where.options.layout != "locale-rooted" or found is None or found.kind not in ("map", "null", "list"):
            raise EditError(f"there is no map of {where.label!r} in the file; edit it by hand")
        return found

    def records(text: str, where: Where, root: Node) -> tuple[Place, list[tuple[str, Node]]]:
        """The row of records of one locale, or of all where they name none, and each with its key."""
        fields, names = where.options.fields, where.options.names
        rows = [node for found in _pointed(root, fields.get("list", "")) for node in found.items]
        if not rows:
            raise EditError("there is no record after which another could be made")
        place = row_of(text, pieces(text, where.options, root), [(node.start, node.end) for node in rows])
        keyed = [(names.get(key, key), node) for node in rows for key in [_text_at(node, fields.get("key", "key")) or ""]]
        return place, keyed

    def remove_records(text: str, where: Where, keys: Collection[str], repeats: bool, root: Node) -> list[Splice]:
        place, keyed = records(text, where, root)
        locale = where.options.fields.get("locale")
        mine = [number for number, (key, node) in enumerate(keyed) if key in keys and (not locale or _text_at(node, locale) == where.label)]
        last = {keyed[number][0]: number for number in mine}
        gone = [number for number in mine if not (repeats and number == last[keyed[number][0]])]
        if {keyed[number][0] for number in gone} != set(keys):
            raise EditError("a record that is to be taken out is not there")
        return removed(text, place.row, [place.items[number] for number in gone])

    def add_records(text: str, where: Where, news: Sequence[NewEntry], root: Node) -> list[Splice]:
        place, keyed = records(text, where, root)
        fields, locale = where.options.fields, where.options.fields.get("locale")
        numbers = {name: number for number, name in where.options.names.items()}
        mine = [number for number, (_, node) in enumerate(keyed) if not locale or _text_at(node, locale) == where.label]
        example = keyed[(mine or range(len(keyed)))[0]][1]
        found: list[Splice] = []
        for after, those in after_each([keyed[number][0] for number in mine], [new.key for new in news], where.order).items():
            bodies = []
            for new in [new for new in news if new.key in those]:
                if where.options.names and new.key not in numbers:
                    raise EditError(f"the message {new.key!r} has no number yet")
                values = {
                    fields.get("key", "key"): numbers.get(new.key, new.key),
                    fields.get("text", "text"): None,
                    locale or "": where.label,
                }
                bodies.append(_record(text, example, values, new.text, fields.get("text", "text"), written))
            at = place.items[mine[after]] if after >= 0 and mine else -1 if mine else len(place.row.items) - 1
            found += inserted(text, place.row, bodies, at)
        return found

    def remove(text: str, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
        root = sound(text, where.options)
        if where.options.layout == "records":
            return remove_records(text, where, keys, repeats, root)
        places = _places(column(text, where, root) if where.options.layout != "locale-leaved" else root, where)
        last = {place.key: number for number, place in enumerate(places)}
        gone = [place for number, place in enumerate(places) if place.key in keys and not (repeats and number == last[place.key])]
        missing = set(keys) - {place.key for place in gone}
        if missing:
            raise EditError(f"there is no entry {min(missing)!r} that could be taken out")
        return _without(text, pieces(text, where.options, root), gone)

    def add(text: str, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
        root = sound(text, where.options)
        if where.options.layout == "records":
            return add_records(text, where, news, root)
        base = column(text, where, root)
        adding = _Adding(text, pieces(text, where.options, root), written, where, _nests(base, where, scan))
        return adding.splices(base, news)

    def forms(text: str, options: ReadOptions) -> Iterator[FormPlace]:
        root = sound(text, options)
        rooted = options.layout == "locale-rooted"
        for base, label in [(member.node, member.key) for member in root.members] if rooted else [(root, None)]:
            for place in _places(base, Where(options)) if options.layout in ("by-file", "locale-rooted") else ():
                node = place.nodes[-1].members[place.indexes[-1]].node
                for number, item in enumerate(node.items):
                    if item.kind == "text":
                        yield FormPlace(label, place.key, str(number), item.text, (item.start, item.end))

    return Edits(blank, take_in, leave_out, rename, remove, add, forms)


def _record(text: str, example: Node, values: dict[str, str | None], words: str, field: str, written: Written) -> str:
    """A record after the example of one: with other values in its fields."""
    changes = []
    for member in example.members:
        span = (member.node.start - example.start, member.node.end - example.start)
        if member.key == field:
            changes.append(Splice(*span, written.text(words)))
        elif member.key in values:
            value = values[member.key] or ""
            changes.append(Splice(*span, value if member.node.kind == "number" else written.text(value)))
    return spliced(text[example.start : example.end], changes)


class _Place(NamedTuple):
    """An entry: its key, the maps that lead to it, and the index of the member in each that does."""

    key: str
    nodes: tuple[Node, ...]
    indexes: tuple[int, ...]

    @property
    def start(self) -> int:
        return self.nodes[-1].members[self.indexes[-1]].start


def _places(base: Node, where: Where) -> list[_Place]:
    """The entries of a column in the order of the document."""
    leaved = where.options.layout == "locale-leaved"
    found: list[_Place] = []
    stack: list[tuple[tuple[Node, ...], tuple[int, ...], tuple[str, ...], Node]] = [((), (), (), base)]
    while stack:
        nodes, indexes, names, node = stack.pop()
        for index, member in enumerate(node.members):
            here, at, path = (*nodes, node), (*indexes, index), (*names, member.key)
            if member.node.kind == "map" and member.node.members:
                stack.append((here, at, path, member.node))
            elif not leaved or path[-1] == where.label:
                steps = path[:-1] if leaved else path
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


_Tree = dict[str, "NewEntry | _Tree"]


def _nests(base: Node, where: Where, scan: _Scan) -> bool:
    """Whether the keys of a document are steps into maps: it shows so itself, else the file that it is like does."""
    if any(member.node.kind == "map" for member in base.members) or base.members or not where.like:
        return any(member.node.kind == "map" for member in base.members)
    root, _ = scan(where.like, where.options)
    if root is None:
        return False
    maps = [member.node for member in root.members] if where.options.layout == "locale-rooted" else [root]
    return any(member.node.kind == "map" for node in maps for member in node.members)


class _Adding(NamedTuple):
    """New entries on their way into a text."""

    text: str
    whole: Nest
    written: Written
    where: Where
    nests: bool

    def steps(self, key: str) -> tuple[str, ...]:
        """The names that lead to a key."""
        return tuple(each.replace("\0", ".") for each in key.replace("\\.", "\0").split(".")) if self.nests else (key,)

    def splices(self, base: Node, news: Sequence[NewEntry]) -> list[Splice]:
        """The edits that put *news* into the map *base*, each as deep as there are maps for it."""
        groups: dict[int, tuple[Node, tuple[str, ...], _Tree]] = {}
        for new in news:
            node, names = base, self.steps(new.key)
            depth = 0
            while depth < len(names) - 1:
                inner = next((each.node for each in node.members if each.key == names[depth] and each.node.kind == "map"), None)
                if inner is None:
                    break
                node, depth = inner, depth + 1
            tree = groups.setdefault(id(node), (node, names[:depth], {}))[2]
            for name in names[depth:-1]:
                below = tree.setdefault(name, {})
                if not isinstance(below, dict):
                    raise EditError(f"{name!r} is a text in one place and a branch in another")
                tree = below
            tree[names[-1]] = new
        order = [self.steps(key) for key in self.where.order]
        return [splice for node, names, tree in groups.values() for splice in self._into(node, names, tree, order)]

    def _into(self, node: Node, names: tuple[str, ...], tree: _Tree, order: Sequence[tuple[str, ...]]) -> list[Splice]:
        text, depth = self.text, len(names)
        end = line_end_of(text if "\n" in text or "\r" in text else self.where.like)
        indent = indent_of(text if re.search(r"(?m)^[ \t]+\S", text) else self.where.like)
        if not node.members:
            return self._first(node, tree, end, indent)
        line = text[text.rfind("\n", 0, node.members[0].start) + 1 : node.members[0].start]
        outer = line if not line.strip() else ""
        row = row_of(text, self.whole, [(member.start, member.end) for member in node.members])
        wanted = list(dict.fromkeys(each[depth] for each in order if each[:depth] == names and len(each) > depth))
        found: list[Splice] = []
        for after, heads in after_each([member.key for member in node.members], list(tree), wanted).items():
            body = [self._member(head, tree[head], end, outer, indent, node) for head in heads]
            found += inserted(text, row.row, body, row.items[after] if after >= 0 else -1)
        return found

    def _member(self, name: str, held: NewEntry | _Tree, end: str, outer: str, indent: str, beside: Node | None = None) -> str:
        """A member as it is written: a text, or a map of more."""
        key = self.written.key(name, _name(self.text, beside) if beside is not None else "")
        parts = _parts(self.text, beside.members, self.written) if beside is not None else self.written.parts
        if not isinstance(held, dict):
            return f"{key}{parts}{self.written.text(held.text)}"
        inner = outer + indent
        lines = [self._member(each, below, end, inner, indent) for each, below in held.items()]
        return key + (parts if self.written.signs is not None else parts.rstrip()) + self.written.branch(lines, end, outer, inner)

    def _first(self, node: Node, tree: _Tree, end: str, indent: str) -> list[Splice]:
        """The first members of an empty map."""
        text, signs = self.text, self.written.signs
        line = text[text.rfind("\n", 0, node.start) + 1 : node.start]
        outer = line[: len(line) - len(line.lstrip())] if line.strip() else ""
        if signs is None and not line.strip():  # the document itself
            lines = [self._member(each, below, end, outer, indent) for each, below in tree.items()]
            return [Splice(node.start, max(node.end, node.start), end.join(lines))]
        inner = outer + indent
        lines = [self._member(each, below, end, inner, indent) for each, below in tree.items()]
        start = node.start
        while signs is None and start and text[start - 1] in " \t":
            start -= 1
        found = self.written.branch(lines, end, outer, inner)
        if signs is not None and node.end > node.start:  # as it is opened and closed there
            found = text[node.start : node.end - 1].rstrip() + found[len(signs[0]) : -len(signs[1])] + text[node.end - 1]
        return [Splice(start, node.end, found)]


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
