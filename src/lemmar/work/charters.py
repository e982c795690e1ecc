"""Edits of a charter, by spans: whatever else stands in it, and how, stays as it is."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Sequence

from lemmar.documents import tomltext
from lemmar.documents.nesting import nest_of
from lemmar.documents.nodes import Member, Node
from lemmar.documents.rows import inserted, place_for, removed, row_of
from lemmar.documents.splicing import EditError, Splice, spliced

_BARE = re.compile(r"[A-Za-z0-9_-]+")


class CharterText:
    """A charter's text that is edited step by step."""

    def __init__(self, text: str) -> None:
        self.text = text

    @property
    def root(self) -> Node:
        """The document. Raises `EditError` where it is no TOML."""
        root, faults = tomltext.scan(self.text)
        if faults:
            raise EditError(faults[0].text)
        return root

    @property
    def line_end(self) -> str:
        """How its lines end."""
        return "\r\n" if "\r\n" in self.text else "\n"

    def member(self, *path: str) -> Member | None:
        """The member at a path of names."""
        node, found = self.root, None
        for name in path:
            found = next((member for member in node.members if member.key == name), None)
            if found is None:
                return None
            node = found.node
        return found

    def make(self, splices: Sequence[Splice]) -> None:
        """Makes an edit."""
        self.text = spliced(self.text, splices)

    # ------------------------------------------------------------------------------------------------------------------ lists

    def add_to_list(self, tag: str, *path: str) -> None:
        """Puts *tag* at the end of the list at a path, which has something in it. Raises `EditError` where it is none."""
        member = self.member(*path)
        if member is None or member.node.kind != "list":
            raise EditError(f"there is no list {'.'.join(path)}")
        items = member.node.items
        if not items:
            self.make([Splice(member.node.start + 1, member.node.end - 1, _quoted(tag))])
            return
        row = row_of(self.text, nest_of(self.text, self.root, ".toml"), [(item.start, item.end) for item in items]).row
        self.make(inserted(self.text, row, _quoted(tag), place_for([item.text for item in items], tag, range(len(items)))))

    def take_from_list(self, tag: str, *path: str) -> None:
        """Takes *tag* out of the list at a path."""
        member = self.member(*path)
        items = member.node.items if member is not None else []
        gone = [number for number, item in enumerate(items) if item.text == tag]
        if gone:
            row = row_of(self.text, nest_of(self.text, self.root, ".toml"), [(item.start, item.end) for item in items]).row
            self.make(removed(self.text, row, gone))

    # ----------------------------------------------------------------------------------------------------------------- tables

    def add_member(self, name: str, value: str, *path: str, after: str = "") -> None:
        """Puts ``name = value`` (as TOML writes it) at the end of the table at a path; where there is none, the table is made: behind the key *after* as a
        table on one line, else as one of its own before the first client.
        """
        table = self.member(*path)
        if table is None:
            self._make_table(f"{_key(name)} = {value}", path, after)
            return
        members = table.node.members
        is_inline = self.text[table.node.start : table.node.start + 1] == "{"
        if not members:
            if is_inline:
                self.make([Splice(table.node.start, table.node.end, f"{{ {_key(name)} = {value} }}")])
            else:
                at = self._line_end(table.end)
                self.make([Splice(at, at, f"{self.line_end}{_key(name)} = {value}")])
            return
        row = row_of(self.text, nest_of(self.text, self.root, ".toml"), [(each.start, each.end) for each in members]).row
        self.make(inserted(self.text, row, self._aligned(name, value, members, is_inline), len(row.items) - 1))

    def add_key(self, name: str, value: str, *path: str) -> None:
        """Puts ``name = value`` at the end of a table that is there. Raises `EditError` where it is not."""
        if self.member(*path) is None:
            raise EditError(f"there is no table [{'.'.join(path)}]")
        self.add_member(name, value, *path)

    def _aligned(self, name: str, value: str, members: Sequence[Member], is_inline: bool) -> str:
        """``name = value`` with its sign below that of the others, where theirs stand one below the other."""
        widths = [self.text.find("=", each.end) - each.start for each in members]
        written = _key(name)
        quoted = [self.text[each.start] == '"' for each in members if _BARE.fullmatch(each.key)]
        if not is_inline and quoted and all(quoted):
            written = _quoted(name)
        padded = written.ljust(widths[-1] - 1) if not is_inline and len(set(widths[-3:])) == 1 else written
        return f"{padded} = {value}"

    def _make_table(self, line: str, path: Sequence[str], after: str) -> None:
        end = self.line_end
        if after:
            beside = self.member(*path[:-1], after)
            if beside is not None:
                at = self._line_end(max(beside.node.end, beside.end))
                start = self.text.rfind("\n", 0, beside.start) + 1
                width = self.text.find("=", beside.end) - beside.start
                name = path[-1].ljust(width - 1) if width > len(path[-1]) else path[-1]
                self.make([Splice(at, at, f"{end}{self.text[start : beside.start]}{name} = {{ {line} }}")])
                return
        first = re.search(r"(?m)^\[\[", self.text)
        at = first.start() if first else len(self.text)
        comment = re.compile(r"(?:^[ \t]*#[^\n]*\n)+\Z", re.MULTILINE).search(self.text, 0, at)
        at = comment.start() if comment else at
        table = f"[{'.'.join(map(_key, path))}]{end}{line}{end}"
        self.make([Splice(at, at, table + end if first else end + table)])

    def take_member(self, name: str, *path: str) -> None:
        """Takes the member *name* out of the table at a path; a table on one line goes with its last."""
        table = self.member(*path)
        members = table.node.members if table is not None else []
        gone = [number for number, member in enumerate(members) if member.key == name]
        if table is None or not gone:
            return
        whole = nest_of(self.text, self.root, ".toml")
        if len(members) == 1:
            beside = self.member(*path[:-1])
            around = beside.node.members if beside is not None else self.root.members
            if self.text[table.node.start : table.node.start + 1] == "{" and len(around) > 1:
                row = row_of(self.text, whole, [(each.start, each.end) for each in around]).row
                self.make(removed(self.text, row, [number for number, each in enumerate(around) if each.key == path[-1]]))
                return
            if self.text[table.node.start : table.node.start + 1] != "{":
                self._take_headed(table)
                return
        row = row_of(self.text, whole, [(each.start, each.end) for each in members]).row
        self.make(removed(self.text, row, gone))

    def _take_headed(self, table: Member) -> None:
        """Takes a table with a header of its own out, with the empty line that parts it from what follows."""
        start = self.text.rfind("\n", 0, table.start) + 1
        last = table.node.members[-1]
        end = self._line_end(max(last.end, last.node.end))
        following = re.compile(r"(?:\r?\n){1,2}").match(self.text, end)
        if following is not None and following.end() < len(self.text):
            self.make([Splice(start, following.end(), "")])
            return
        before = re.compile(r"(?:\r?\n)\Z").search(self.text, 0, start)
        self.make([Splice(before.start() if before and start else start, following.end() if following else end, "")])

    def replace_value(self, value: str, *path: str) -> None:
        """Puts *value* (as TOML writes it) in the place of the one at a path."""
        member = self.member(*path)
        if member is not None:
            self.make([Splice(member.node.start, member.node.end, value)])

    def _line_end(self, at: int) -> int:
        found = re.compile(r"\r\n|\n|\Z").search(self.text, at)
        return found.start() if found else len(self.text)

    # ------------------------------------------------------------------------------------------------------------------- tags

    def retag(self, old: str, new: str) -> None:
        """Calls a locale by another tag wherever the charter names it: in its roster, chains and audience, of clients, catalogs, waivers."""
        splices = []
        for path, key, node in self._every(self.root, ()):
            if key is not None and key.key == old and path[-1:] != () and _of_locales(path):
                written = self.text[key.start : key.end]
                splices.append(Splice(key.start, key.end, _quoted(new) if written[:1] == '"' or not _BARE.fullmatch(new) else new))
            if node.kind == "text" and node.text == old and _is_locale(path):
                splices.append(Splice(node.start, node.end, _quoted(new)))
        self.make(splices)

    def _every(self, node: Node, path: tuple[str, ...]) -> Iterator[tuple[tuple[str, ...], Member | None, Node]]:
        """Every value with the names that lead to it, and the member that it is the value of, if it is one's."""
        stack: list[tuple[Node, tuple[str, ...]]] = [(node, path)]
        while stack:
            whole, names = stack.pop()
            for member in whole.members:
                yield (*names, member.key), member, member.node
                stack.append((member.node, (*names, member.key)))
            for item in whole.items:
                yield names, None, item
                stack.append((item, names))


#: The tables whose names are locales, and the keys whose values are.
_TABLES = ("chains", "trial", "without", "locale")
_VALUES = ("shipping", "pseudo", "source", "unmarked", "locale")


def _of_locales(path: tuple[str, ...]) -> bool:
    """Whether the last name of *path* is one of a table of locales."""
    return path[-2:-1] != () and (path[-2] in _TABLES or path[-2:-1] == ("audience",))


def _is_locale(path: tuple[str, ...]) -> bool:
    """Whether a value at *path* is a locale."""
    return path[-1] in _VALUES or any(name in ("chains", "audience", "spelled") for name in path[:-1])


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)


def _key(name: str) -> str:
    return name if _BARE.fullmatch(name) and "-" not in name else _quoted(name)


def listed(tags: Sequence[str]) -> str:
    """A list of tags as TOML writes it."""
    return f"[{', '.join(map(_quoted, tags))}]"
