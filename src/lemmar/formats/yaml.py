"""YAML catalogs: maps of keys to texts, nested or flat; anchors, aliases, merge keys, block and folded texts.

Sources: YAML 1.1 and 1.2. A text is what a YAML reader gives for it; a number, true or false is a text as it is written; null is a text
that is not there yet. A key that YAML 1.1 reads as true, false, a number or a date (``no:``, ``on:``, ``1_000:``) is told. Nothing is
ever constructed from a tag. Only the first document of a file is read.
"""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.documents.yamltext import scan
from lemmar.formats._entries import decoded
from lemmar.formats._reading import Format, Reading, ReadOptions, Site
from lemmar.formats._trees import LAYOUTS, TreeReader, tree_sites
from lemmar.text import decode


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    text, defects = decoded(data, options)
    root, faults, typed = scan(text.text)
    reader = TreeReader(text, options, root, faults, defects)
    for offset, key, kind in typed:
        reader.defect("typed-key", offset, f"the key {key!r} is read as {kind} by YAML 1.1; put it in quotes", "none", key)
    return reader.reading()


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted (label, key) that is there."""
    text = decode(data, options.encoding)
    return tree_sites(scan(text.text).root, text, options, wanted)


def likely(data: bytes) -> bool:
    """Whether the contents begin with a key and a colon."""
    text = decode(data[:4096]).text
    first = next((line for line in text.split("\n") if line.strip() and not line.lstrip().startswith(("#", "---", "%"))), "")
    return ":" in first and first.lstrip()[:1] not in "{[<"


FORMAT = Format("yaml", (".yaml", ".yml"), 1, LAYOUTS, read, locate, likely)
