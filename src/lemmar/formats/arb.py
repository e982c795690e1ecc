"""ARB catalogs: flat JSON, in which ``@key`` describes the message *key* and ``@@locale`` says what language the file is in.

Source: the application resource bundle's public specification. Of ``@key`` the description is read, and the context; other members
that begin with ``@@`` are no messages.
"""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.documents.jsontext import scan
from lemmar.documents.nodes import Member, Node
from lemmar.formats._entries import Entries, decoded
from lemmar.formats._reading import NOTHING, Column, Format, Keys, Reading, ReadOptions, Site
from lemmar.formats._trees import TreeReader, node_text, tree_sites
from lemmar.formats.json import repeats
from lemmar.text import decode


def _fast(data: bytes) -> Column | None:
    """The short way, where nothing repeats and every message is a text."""
    import msgspec

    try:
        value = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        return None
    if type(value) is not dict or repeats(data, value):
        return None
    messages = {key: text for key, text in value.items() if not key.startswith("@")}
    if any(type(text) is not str for text in messages.values()) or any("." in key for key in messages):
        return None
    keys = Keys(messages)
    rare: dict[str, dict[int, str]] = {}
    for name, about in value.items():
        index = keys.places.get(name[1:]) if name.startswith("@") and isinstance(about, dict) else None
        for kind, field in (("comment", "description"), ("context", "context")) if index is not None else ():
            if isinstance(about.get(field), str) and about[field] and index is not None:
                rare.setdefault(kind, {})[index] = about[field]
    mark = value.get("@@locale")
    return Column(None, keys, tuple(messages.values()), rare or NOTHING, mark if isinstance(mark, str) else None)


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    column = _fast(data) if not options.encoding and not data.startswith(b"\xef\xbb\xbf") else None
    if column is not None:
        return Reading((column,), (), "utf-8")
    text, defects = decoded(data, options, "which JSON readers stumble over")
    root, faults = scan(text.text)
    if root is None or root.kind != "map":
        return TreeReader(text, options, root, faults, defects).reading()
    facts = {member.key: member.node for member in root.members if member.key.startswith("@")}

    def finish(entries: Entries, label: str | None) -> Column:
        for key, index in entries.index.items():
            about = facts.get(f"@{key}")
            for kind, name in (("comment", "description"), ("context", "context")):
                entries.note(kind, index, _member(about, name))
        mark = facts.get("@@locale")
        return entries.column(label, mark=node_text(mark) if mark is not None else None)

    return TreeReader(text, options, _messages(root), faults, defects).reading(finish)


def _messages(root: Node) -> Node:
    kept: list[Member] = [member for member in root.members if not member.key.startswith("@")]
    return Node("map", root.start, root.end, members=kept)


def _member(node: Node | None, name: str) -> str | None:
    found = [member.node for member in node.members if member.key == name] if node is not None else []
    return node_text(found[-1]) if found else None


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key that is there."""
    text = decode(data, options.encoding)
    root, _ = scan(text.text)
    return tree_sites(_messages(root) if root is not None else None, text, options, wanted)


FORMAT = Format("arb", (".arb",), 1, ("by-file",), read, locate, lambda data: b'"@@' in data[:4096], own_plurals=True)
