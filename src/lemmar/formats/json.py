"""JSON catalogs: maps of keys to texts, nested or flat.

Source: RFC 8259. A number, true or false is a text as it is written; null is a text that is not there yet. A list of
scalars is one entry with a form for each item, a list of maps is a branch. A file is parsed by a fast general parser; only
where that one fails, or a count says that keys may repeat, it is read again with places. Comments and a trailing comma
are no fault in ``.jsonc`` and ``.json5`` files. Not read: the other liberties of JSON5.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any

from lemmar.formats.building import Entries, add_forms, decoded, in_order, repeated
from lemmar.model import NOTHING, Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.text import Bytes, Lines, decode

if TYPE_CHECKING:
    from lemmar.documents.nodes import Fault, Member, Node

_RELAXED = (".jsonc", ".json5")
_SPACED_COLON = re.compile(rb'"[ \t\r\n]+:')
_DEEP = 300  # beyond, the iterative reader takes over
_Path = tuple[str, ...]


class _LookCloserError(Exception):
    """The fast way cannot tell all: look closer."""


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    if options.layout == "by-file" and not options.encoding and not data.startswith(b"\xef\xbb\xbf"):
        try:
            return Reading((_fast(data),), (), "utf-8")
        except _LookCloserError:
            pass
    return _Careful(data, options).reading()


def _fast(data: bytes) -> Column:
    import msgspec

    try:
        value = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        raise _LookCloserError from None
    if type(value) is not dict:
        raise _LookCloserError
    keys: list[str] = []
    texts: list[str | None] = []
    rare: dict[str, dict[int, Any]] = {}
    members = _flatten(value, "", nests(value), keys, texts, rare, 0)
    # Each key is followed by a colon: as many of these as members, and no key was there twice.
    if members != data.count(b'":') + len(_SPACED_COLON.findall(data)):
        raise _LookCloserError
    return Column(None, Keys(keys), tuple(texts), rare or NOTHING)


def nests(value: dict[str, Any]) -> bool:
    """Whether any member of *value* is a branch."""
    return any(type(item) is dict or (type(item) is list and any(type(sub) in (dict, list) for sub in item)) for item in value.values())


def _flatten(
    branch: dict[str, Any], prefix: str, escape: bool, keys: list[str], texts: list[str | None], rare: dict[str, dict[int, Any]], depth: int
) -> int:
    """Adds the branch's entries; gives how many members it has in all."""
    if depth > _DEEP:
        raise _LookCloserError
    members = len(branch)
    if set(map(type, branch.values())) == {str} and not (escape and "." in "".join(branch)):  # most branches hold texts only
        keys += [prefix + name for name in branch]
        texts += branch.values()
        return members
    for name, item in branch.items():
        if escape and "." in name:
            name = name.replace(".", "\\.")
        kind = type(item)
        if kind is str:
            keys.append(prefix + name)
            texts.append(item)
        elif kind is dict:
            members += _flatten(item, f"{prefix}{name}.", escape, keys, texts, rare, depth + 1)
        elif kind is list:
            if any(type(sub) in (dict, list) for sub in item):
                numbered = {str(number): sub for number, sub in enumerate(item)}
                members += _flatten(numbered, f"{prefix}{name}.", escape, keys, texts, rare, depth + 1) - len(numbered)
            else:
                forms = {str(number): _scalar(sub) for number, sub in enumerate(item)}
                rare.setdefault("forms", {})[len(keys)] = {number: text for number, text in forms.items() if text is not None}
                keys.append(prefix + name)
                texts.append(next(reversed(forms.values()), ""))
        else:
            keys.append(prefix + name)
            texts.append(_scalar(item))
    return members


def _scalar(item: Any) -> str | None:
    if item is None:
        return None
    if isinstance(item, float):  # as it is written is not known any more
        raise _LookCloserError
    if isinstance(item, bool):
        return "true" if item else "false"
    return str(item)


class _Careful:
    """Reads with places: every fault, every repeated key, every layout."""

    def __init__(self, data: bytes, options: ReadOptions) -> None:
        self.options = options
        from lemmar.documents.jsontext import scan  # only where the fast parser cannot help

        text, self.defects = decoded(data, options, "which JSON readers stumble over")
        self.lines = Lines(text.text)
        self.encoding = text.encoding
        self.root, faults = scan(text.text, relaxed=options.suffix in _RELAXED)
        self.faults(faults)

    def reading(self) -> Reading:
        if self.root is not None and self.root.kind != "map":
            if not self.defects:
                self.defect("unreadable", self.root.start, f"a catalog is a map, this file holds a {self.root.kind}", "file")
            return Reading((), in_order(self.defects), self.encoding)
        columns: dict[str | None, Entries] = {} if self.options.layout != "by-file" else {None: Entries()}
        escape = self.root is not None and _escapes(self.root, self.options.layout)
        for path, node in _leaves(self.root, self):
            label, key = split_path(path, self.options.layout, escape)
            if key:
                entries = columns.setdefault(label, Entries())
                if node.kind == "list":
                    add_forms(entries, key, {str(number): node_text(item) for number, item in enumerate(node.items)})
                else:
                    entries.add(key, node_text(node))
        return Reading(tuple(entries.column(label) for label, entries in columns.items()), in_order(self.defects), self.encoding)

    def defect(self, kind: str, offset: int, detail: str, blinds: Any = "none", key: str | None = None) -> None:
        line, column = self.lines.place(offset)
        self.defects.append(Defect(kind, line, column, detail, blinds, None, key))

    def faults(self, faults: Sequence[Fault]) -> None:
        some = self.root is not None and bool(self.root.members)
        if not faults:
            return
        first = faults[0]
        more = f" ({len(faults) - 1} more after it)" if len(faults) > 1 else ""
        self.defect("damaged" if some else "unreadable", first.offset, first.text + more, "rest" if some else "file")

    def again(self, path: _Path, first: Member, later: Member) -> None:
        key = split_path((*path, later.key), "by-file", escape=True)[1]
        if (first.node.kind == "map") != (later.node.kind == "map"):
            line = self.lines.place(first.start)[0]
            self.defect(
                "key-clash", later.start, f"the key {key!r} is a text in one place and a branch in another (line {line})", "none", key
            )
            return
        line, column = self.lines.place(later.start)
        same = first.node.kind == later.node.kind != "map" and first.node.text == later.node.text
        self.defects.append(repeated(key, self.lines.place(first.start)[0], line, column, same))


def node_text(node: Node) -> str | None:
    """A scalar's text; None for null."""
    return None if node.kind == "null" else node.text


def _leaves(root: Node | None, careful: _Careful | None = None) -> Iterator[tuple[_Path, Node]]:
    """Path and node of every leaf, in file order; a list of scalars is a leaf. Repeated keys are told to *careful*."""
    for path, _, node in _places(root, careful):
        yield path, node


def _places(root: Node | None, careful: _Careful | None = None) -> Iterator[tuple[_Path, Member, Node]]:
    if root is None:
        return
    stack: list[tuple[_Path, Iterator[Member]]] = [((), iter(_once(root, (), careful)))]
    while stack:
        path, members = stack[-1]
        member = next(members, None)
        if member is None:
            stack.pop()
            continue
        node, here = member.node, (*path, member.key)
        if node.kind == "map":
            stack.append((here, iter(_once(node, here, careful))))
        elif node.kind == "list" and any(item.kind in ("map", "list") for item in node.items):
            from lemmar.documents.nodes import Member

            numbered = (Member(str(number), item.start, item.end, item) for number, item in enumerate(node.items))
            stack.append((here, numbered))
        else:
            yield here, member, node


def _once(node: Node, path: _Path, careful: _Careful | None) -> list[Member]:
    """The members of a map, each key once: in the place of its first occurrence the last one, which is what readers keep."""
    kept: dict[str, Member] = {}
    for member in node.members:
        if member.key in kept and careful:
            careful.again(path, kept[member.key], member)
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


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted (label, key) that is there."""
    from lemmar.documents.jsontext import scan

    text = decode(data, options.encoding)
    root, _ = scan(text.text, relaxed=options.suffix in _RELAXED)
    lines, offsets, looked_for = Lines(text.text), Bytes(text), set(wanted)
    escape = root is not None and _escapes(root, options.layout)
    found = {}
    for path, member, node in _places(root):
        name = split_path(path, options.layout, escape)
        if name in looked_for:
            line, column = lines.place(member.start)
            key = offsets.span(member.start, member.end)
            value = offsets.span(node.start, node.end)
            found[name] = Site(line, column, key, value, (key[0], value[1]))
    return found


def likely(data: bytes) -> bool:
    """Whether the contents look like a JSON map."""
    return data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{"


FORMAT = Format("json", (".json", ".jsonc", ".json5"), 1, ("by-file", "locale-rooted", "locale-leaved"), read, locate, likely)
