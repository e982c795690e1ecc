"""ARB catalogs: flat JSON, in which ``@key`` describes the message *key* and ``@@locale`` says what language the file is in.

Source: the application resource bundle's public specification. Of ``@key`` the description is read, and the context; other members
that begin with ``@@`` are no messages.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from typing import Any

import msgspec

from lemmar.documents.jsontext import scan
from lemmar.documents.nesting import nest_of
from lemmar.documents.nodes import Fault, Member, Node
from lemmar.documents.quoting import json_escape
from lemmar.documents.rows import removed, row_of
from lemmar.documents.splicing import EditError, Splice
from lemmar.formats._editing import Edits, Where
from lemmar.formats._encoding import json_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Finds, Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._spotting import json_spot
from lemmar.formats._tree_edits import tree_edits
from lemmar.formats._trees import node_text, tree_entries
from lemmar.formats.json import WRITTEN, blank, repeats

_ABOUT = (("comment", "description"), ("context", "context"))


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The short way, where nothing repeats and every message is a text."""
    if options.encoding or data.startswith(b"\xef\xbb\xbf"):
        return None
    try:
        value = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        return None
    if type(value) is not dict or repeats(data, value):
        return None
    messages = {key: text for key, text in value.items() if not key.startswith("@")}
    if any(type(text) is not str for text in messages.values()):
        return None
    keys = Keys(messages)
    rare: dict[str, dict[int, Any]] = {}
    for name, about in value.items():
        index = keys.places.get(name[1:]) if name.startswith("@") and isinstance(about, dict) else None
        for kind, field in _ABOUT if index is not None else ():
            if isinstance(about.get(field), str) and about[field] and index is not None:
                rare.setdefault(kind, {})[index] = about[field]
    mark = value.get("@@locale")
    return Reading((Column(None, keys, tuple(messages.values()), Rare(**rare), mark if isinstance(mark, str) else None),))


def entries(walk: Walk) -> Iterator[Entry]:
    """The messages, each with what its ``@key`` says."""
    root, faults = scan(walk.text)
    if root is None or root.kind != "map":
        return tree_entries(walk, root, faults)
    facts = {member.key: member.node for member in root.members if member.key.startswith("@")}
    mark = facts.get("@@locale")
    walk.mark = mark.text if mark is not None and mark.kind == "text" else None

    def about(key: str) -> Mapping[str, Any]:
        return {kind: _member(facts.get(f"@{key}"), name) for kind, name in _ABOUT}

    return tree_entries(walk, _messages(root), faults, about)


def _messages(root: Node) -> Node:
    kept: list[Member] = [member for member in root.members if not member.key.startswith("@")]
    return Node("map", root.start, root.end, members=kept)


def _member(node: Node | None, name: str) -> str | None:
    found = [member.node for member in node.members if member.key == name] if node is not None else []
    return node_text(found[-1]) if found else None


def _scan(text: str, _options: ReadOptions) -> tuple[Node | None, list[Fault]]:
    return scan(text)


_TREE = tree_edits(_scan, ".json", WRITTEN, blank)


def _remove(text: str, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
    """The messages, each with what describes it."""
    root, faults = scan(text)
    if root is None or faults:
        raise EditError(faults[0].text if faults else "the document is empty")
    members = root.members
    last = {member.key: number for number, member in enumerate(members)}
    gone = [number for number, member in enumerate(members) if member.key in keys and not (repeats and number == last[member.key])]
    if {members[number].key for number in gone} != set(keys):
        raise EditError("an entry that is to be taken out is not there")
    if not repeats:
        gone += [number for number, member in enumerate(members) if member.key.startswith("@") and member.key[1:] in keys]
    row = row_of(text, nest_of(text, root, ".json"), [(member.start, member.end) for member in members])
    return removed(text, row.row, [row.items[number] for number in gone])


_EDITS = Edits(blank, remove=_remove, add=_TREE.add, forms=_TREE.forms)
FORMAT = Format(
    name="arb",
    suffixes=(".arb",),
    reads=Reads(
        entries=entries,
        quick=quick,
        mark_harms="which JSON readers stumble over",
    ),
    finds=Finds(
        spot=json_spot,
    ),
    writes=Writes(
        encode=json_text,
        escape=json_escape,
        edits=_EDITS,
        marks=(r'"@@locale"\s*:\s*"',),
    ),
    habits=Habits(
        own_plurals=True,
        syntax="icu",
    ),
    hints=Hints(
        likely=lambda data: b'"@@' in data[:4096],
        kind="mobile",
        contents_of="json",
    ),
)
