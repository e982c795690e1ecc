"""How new members of a nested document are written: as deep as there are maps for them, each after the nearest before it in the source's order."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import NamedTuple

from lemmar.documents.nodes import Member, Node
from lemmar.documents.rows import Nest, inserted, row_of
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.formats._editing import NewEntry, Where, after_each, indent_of, line_end_of


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

    def name(self, new: str, text: str, node: Node) -> str:
        """*new* as the name of a member beside those of *node*, and what parts it from its value."""
        return f"{self.key(new, name_in(text, node))}{parts_in(text, node.members, self)}"


def record(text: str, example: Node, values: dict[str, str | None], words: str, field: str, written: Written) -> str:
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


_Tree = dict[str, "NewEntry | _Tree"]


class Adding(NamedTuple):
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
        key = self.written.key(name, name_in(self.text, beside) if beside is not None else "")
        parts = parts_in(self.text, beside.members, self.written) if beside is not None else self.written.parts
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


def name_in(text: str, node: Node) -> str:
    """The name of the last member as it is written."""
    return text[node.members[-1].start : node.members[-1].end] if node.members else ""


def parts_in(text: str, members: list[Member], written: Written) -> str:
    """What parts a member's name from its value, as it is in most of the others."""
    found = [text[member.end : member.node.start] for member in members if member.node.start > member.end]
    plain = [each for each in found if len(each) < 8 and "\n" not in each]
    return max(set(plain), key=lambda each: (plain.count(each), each)) if plain else written.parts
