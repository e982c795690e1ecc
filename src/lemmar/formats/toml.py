"""TOML catalogs: tables of keys and texts.

Source: TOML 1.0. A number, true, false or a date is a text as it is written. A list of scalars is one entry with a form for each item. A
repeated key, which TOML forbids, is reported; the rest of a damaged file is read.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from lemmar.basics.expressions import expression
from lemmar.documents.quoting import quoted
from lemmar.documents.splicing import EditError, Splice
from lemmar.documents.tomltext import scan
from lemmar.formats._editing import Model, line_end_of
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Reading, ReadOptions
from lemmar.formats._tree_edits import Written, tree_edits
from lemmar.formats._trees import LAYOUTS, tree_entries


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries of all tables."""
    return tree_entries(walk, *scan(walk.text))


_LINE = expression(
    r"""(?:([A-Za-z0-9_-]++)[ \t]*+=[ \t]*+(?:"([^"\\\x00-\x1f\x7f]*+)"|'([^'\x00-\x1f\x7f]*+)')|\[([A-Za-z0-9_-]++(?:\.[A-Za-z0-9_-]++)*+)\]|)"""
    r"[ \t]*+(?:#[^\x00-\x08\x0a-\x1f\x7f]*+)?"
)


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The entries of a file of nothing but tables with bare names and texts on one line, each there once."""
    if options.layout != "by-file" or options.encoding or b"\r" in data or data.startswith(b"\xef\xbb\xbf"):
        return None
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        return None
    root: dict[str, Any] = {}
    table, headed = root, {""}
    for line in text.split("\n"):
        found = _LINE.fullmatch(line)
        if found is None:
            return None
        key, basic, literal, header = found.groups()
        if key is not None:
            if key in table:
                return None
            table[key] = basic if basic is not None else literal
        elif header is not None:
            table = root
            for step in header.split("."):
                table = table.setdefault(step, {})
                if type(table) is not dict:
                    return None
            if header in headed or header.count(".") > 40:
                return None
            headed.add(header)
    keys: list[str] = []
    texts: list[str | None] = []
    _flatten(root, "", keys, texts)
    return Reading((Column(None, Keys(keys), tuple(texts)),))


def _flatten(table: dict[str, Any], prefix: str, keys: list[str], texts: list[str | None]) -> None:
    for name, held in table.items():
        if type(held) is dict:
            _flatten(held, f"{prefix}{name}.", keys, texts)
        else:
            keys.append(prefix + name)
            texts.append(held)


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


def _blank(model: Model) -> str:
    """A document without messages."""
    if model.options.layout == "records":
        raise EditError("a table of records cannot be empty in TOML; make the file by hand")
    return f"[{_key(model.written)}]{line_end_of(model.text)}" if model.options.layout == "locale-rooted" else ""


def _key(name: str, _like: str = "") -> str:
    return name if re.fullmatch(r"[A-Za-z0-9_-]+", name) else quoted(name, code=_code)


def _take_in(model: Model) -> list[Splice]:
    """One more table at the end, where each locale has one."""
    if model.options.layout != "locale-rooted":
        raise EditError("TOML has no way to say that a text is not there yet; add the first text by hand")
    end = line_end_of(model.text)
    return [Splice(len(model.text), len(model.text), f"{end}[{_key(model.written)}]{end}")]


_TREE = tree_edits(
    lambda text, _options: scan(text),
    ".toml",
    Written(_key, "{}", None, " = ", lambda text: quoted(text, code=_code), signs=("{ ", " }")),
    _blank,
)


FORMAT = Format(
    name="toml",
    suffixes=(".toml",),
    layouts=LAYOUTS,
    reads=Reads(
        entries=entries,
        quick=quick,
    ),
    writes=Writes(
        encode=encode,
        escape=_code,
        edits=_TREE._replace(take_in=_take_in),
    ),
    habits=Habits(
        nests=True,
    ),
    hints=Hints(
        likely=likely,
    ),
)
