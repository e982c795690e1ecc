"""YAML catalogs: maps of keys to texts, nested or flat; anchors, aliases, merge keys, block and folded texts.

Sources: YAML 1.1 and 1.2. A text is what a YAML reader gives for it; a number, true or false is a text as it is written; null is a text
that is not there yet. A key that YAML 1.1 reads as true, false, a number or a date (``no:``, ``on:``, ``1_000:``) is reported. Nothing is
ever constructed from a tag. Only the first document of a file is read.
"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.documents.nodes import Node
from lemmar.documents.yamltext import scan
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format
from lemmar.formats._reading import Reading, ReadOptions
from lemmar.formats._trees import LAYOUTS, plain_reading, tree_entries
from lemmar.text import decode


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries of the first document; keys that are no texts to a reader of YAML 1.1 are reported."""
    root, faults, typed = scan(walk.text)
    paths = dict(_paths(root)) if typed and root is not None else {}
    for offset, key, kind in typed:
        words = f"the key {key!r} is read as {kind} by YAML 1.1; put it in quotes"
        walk.defect("typed-key", offset, words, key=paths.get(offset, key))
    return tree_entries(walk, root, faults)


def _paths(root: Node) -> Iterator[tuple[int, str]]:
    """Where each key stands, with the keys that it lies below."""
    stack = [(root, "")]
    while stack:
        node, above = stack.pop()
        for member in node.members:
            path = f"{above}.{member.key}" if above else member.key
            yield member.start, path
            stack.append((member.node, path))


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The entries of a document that nothing is wrong with."""
    if options.layout != "by-file":
        return None
    text = decode(data, options.encoding)
    root, faults, typed = scan(text.text) if text.fault is None and not text.mark else (None, [], [])
    return plain_reading(root, options) if root is not None and not faults and not typed else None


def likely(data: bytes) -> bool:
    """Whether the contents begin with a key and a colon."""
    text = decode(data[:4096]).text
    first = next((line for line in text.split("\n") if line.strip() and not line.lstrip().startswith(("#", "---", "%"))), "")
    return ":" in first and first.lstrip()[:1] not in "{[<"


FORMAT = Format(
    name="yaml",
    suffixes=(".yaml", ".yml"),
    layouts=LAYOUTS,
    entries=entries,
    takes_wide="marked",
    quick=quick,
    likely=likely,
    nests=True,
    ends_lines=True,
    platform="browser",
)
