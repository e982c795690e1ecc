"""YAML catalogs: maps of keys to texts, nested or flat; anchors, aliases, merge keys, block and folded texts.

Sources: YAML 1.1 and 1.2. A text is what a YAML reader gives for it; a number, true or false is a text as it is written; null is a text
that is not there yet. A key that YAML 1.1 reads as true, false, a number or a date (``no:``, ``on:``, ``1_000:``) is reported. Nothing is
ever constructed from a tag. Only the first document of a file is read.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from itertools import pairwise

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents.nodes import Fault, Node
from lemmar.documents.quoting import quoted
from lemmar.documents.splicing import EditError
from lemmar.documents.yamllines import plain_lines
from lemmar.documents.yamltext import implicit_kind, scan
from lemmar.formats._editing import Model, line_end_of
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Reading, ReadOptions
from lemmar.formats._tree_edits import Written, emptied_records, tree_edits
from lemmar.formats._trees import LAYOUTS, column_of, plain_reading, tree_entries


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
    if options.layout not in ("by-file", "locale-rooted"):
        return None
    text = decode(data, options.encoding)
    if text.fault is not None or text.mark:
        return None
    found = _by_lines(text.text, options)
    if found is not None:
        return found
    root, faults, typed = scan(text.text)
    return plain_reading(root, options, Lines(text.text)) if root is not None and not faults and not typed else None


def _by_lines(text: str, options: ReadOptions) -> Reading | None:
    """The reading of a document of plain lines; None where it is another, or a key is there twice."""
    members = plain_lines(text)
    if members is None:
        return None
    if options.layout == "by-file":
        column = column_of(members)
        return Reading((column,)) if column is not None else None
    places, columns = Lines(text), []
    tops = [index for index, member in enumerate(members) if not member.level]
    if len({members[index].key for index in tops}) < len(tops):
        return None
    for index, end in pairwise((*tops, len(members))):
        label = members[index].key
        start = re.search(rf"^[\"']?{re.escape(label)}[\"']?:", text, re.MULTILINE)
        column = column_of(members[index + 1 : end]) if members[index].is_branch and start is not None else None
        if column is None or start is None:
            return None
        columns.append(replace(column, label=label, at=places.place(start.start())))
    return Reading(tuple(columns))


def likely(data: bytes) -> bool:
    """Whether the contents begin with a key and a colon."""
    text = decode(data[:4096]).text
    first = next((line for line in text.split("\n") if line.strip() and not line.lstrip().startswith(("#", "---", "%"))), "")
    return ":" in first and first.lstrip()[:1] not in "{[<"


def encode(text: str, hole: Hole) -> str:
    """A plain scalar where one stands and the text can be one; else in double quotes (YAML 1.1, section 5.7: what may stand in a file)."""
    is_plain = hole.before[:1] not in ("'", '"', "|", ">") and _PLAIN.fullmatch(text) and implicit_kind(text) == "text"
    if is_plain and text.encode(hole.encoding, "ignore").decode(hole.encoding) == text:
        return f"{_gap(hole)}{text}"
    return _gap(hole) + quoted(text, code=_code)


def _gap(hole: Hole) -> str:
    """A blank where a value that is not there would stand directly behind its key's colon."""
    return "" if hole.before or hole.document[hole.start - 1 : hole.start].isspace() else " "


_PLAIN = expression(r"[^\W\d_](?:[\w.!?%()-]| (?=\w))*")


def _code(character: str) -> str:
    number = ord(character)
    return f"\\x{number:02x}" if number < 0x100 else f"\\u{number:04x}" if number < 0x10000 else f"\\U{number:08x}"


def _scan(text: str, _options: ReadOptions) -> tuple[Node | None, list[Fault]]:
    found = scan(text)
    return found.root, found.faults


def _key(name: str, like: str = "") -> str:
    if like[:1] in ("'", '"'):
        return f"{like[0]}{name}{like[0]}"
    return name if re.fullmatch(r"[A-Za-z][\w-]*", name) and implicit_kind(name) == "text" else f'"{name}"'


def _text(text: str) -> str:
    return encode(text, Hole("", " ", 1, "utf-8", ReadOptions()))


def _blank(model: Model) -> str:
    """A document without messages."""
    end = line_end_of(model.text)
    start = f"---{end}" if re.match(r"---\s", model.text) else ""
    if model.options.layout == "records":
        root, faults = _scan(model.text, model.options)
        if root is None or faults:
            raise EditError(faults[0].text if faults else "the document is empty")
        return emptied_records(model, root)
    return f"{start}{_key(model.written)}: {{}}{end}" if model.options.layout == "locale-rooted" else f"{start}{{}}{end}"


FORMAT = Format(
    name="yaml",
    suffixes=(".yaml", ".yml"),
    layouts=LAYOUTS,
    reads=Reads(
        entries=entries,
        quick=quick,
        takes_wide="marked",
    ),
    writes=Writes(
        encode=encode,
        escape=_code,
        edits=tree_edits(_scan, ".yaml", Written(_key, "{}", "~", ": ", _text, signs=None), _blank),
    ),
    habits=Habits(
        nests=True,
        ends_lines=True,
    ),
    hints=Hints(
        likely=likely,
        platform="browser",
    ),
)
