"""ARB catalogs: flat JSON, in which ``@key`` describes the message *key* and ``@@locale`` says what language the file is in.

Source: the application resource bundle's public specification. Of ``@key`` the description is read, and the context; other members
that begin with ``@@`` are no messages.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

import msgspec

from lemmar.documents.jsontext import scan
from lemmar.documents.nodes import Member, Node
from lemmar.documents.quoting import json_escape
from lemmar.formats._editing import Edits
from lemmar.formats._encoding import json_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format
from lemmar.formats._reading import Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._spotting import json_spot
from lemmar.formats._trees import node_text, tree_entries
from lemmar.formats.json import blank, repeats

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


FORMAT = Format(
    name="arb",
    suffixes=(".arb",),
    entries=entries,
    encode=json_text,
    escape=json_escape,
    quick=quick,
    spot=json_spot,
    likely=lambda data: b'"@@' in data[:4096],
    contents_of="json",
    mark_harms="which JSON readers stumble over",
    own_plurals=True,
    syntax="icu",
    kind="mobile",
    marks=(r'"@@locale"\s*:\s*"',),
    edits=Edits(blank),
)
