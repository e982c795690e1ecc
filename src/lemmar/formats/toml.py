"""TOML catalogs: tables of keys and texts.

Source: TOML 1.0. A number, true, false or a date is a text as it is written. A list of scalars is one entry with a form for each item. A
repeated key, which TOML forbids, is reported; the rest of a damaged file is read.
"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.documents.quoting import quoted
from lemmar.documents.tomltext import scan
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format
from lemmar.formats._trees import LAYOUTS, tree_entries


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries of all tables."""
    return tree_entries(walk, *scan(walk.text))


def likely(data: bytes) -> bool:
    """Whether the contents begin with a table or a key and an equals sign."""
    first = next((line.strip() for line in data[:4096].split(b"\n") if line.strip() and not line.strip().startswith(b"#")), b"")
    return (first.startswith(b"[") and first.endswith(b"]")) or (b"=" in first and not first.startswith((b"{", b"<", b'"')))


def encode(text: str, _hole: Hole) -> str:
    """A basic string (TOML 1.0). Raises `ValueError` for a lone surrogate, which is no character."""
    if any("\ud800" <= character <= "\udfff" for character in text):
        raise ValueError("a lone surrogate may not stand in TOML")
    return quoted(text, code=_code)


def _code(character: str) -> str:
    return f"\\u{ord(character):04x}" if ord(character) < 0x10000 else f"\\U{ord(character):08x}"


FORMAT = Format(name="toml", suffixes=(".toml",), layouts=LAYOUTS, entries=entries, encode=encode, escape=_code, likely=likely, nests=True)
