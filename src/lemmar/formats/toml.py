"""TOML catalogs: tables of keys and texts.

Source: TOML 1.0. A number, true, false or a date is a text as it is written. A list of scalars is one entry with a form for each item. A
repeated key, which TOML forbids, is told; the rest of a damaged file is read.
"""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.documents.tomltext import scan
from lemmar.formats._entries import decoded
from lemmar.formats._reading import Format, Reading, ReadOptions, Site
from lemmar.formats._trees import LAYOUTS, TreeReader, tree_sites
from lemmar.text import decode


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    text, defects = decoded(data, options)
    return TreeReader(text, options, *scan(text.text), defects).reading()


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted (label, key) that is there."""
    text = decode(data, options.encoding)
    return tree_sites(scan(text.text)[0], text, options, wanted)


def likely(data: bytes) -> bool:
    """Whether the contents begin with a table or a key and an equals sign."""
    first = next((line.strip() for line in data[:4096].split(b"\n") if line.strip() and not line.strip().startswith(b"#")), b"")
    return (first.startswith(b"[") and first.endswith(b"]")) or (b"=" in first and not first.startswith((b"{", b"<", b'"')))


FORMAT = Format("toml", (".toml",), 1, LAYOUTS, read, locate, likely)
