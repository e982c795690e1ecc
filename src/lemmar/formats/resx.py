"""RESX resources: ``<data name="…"><value>…</value><comment>…</comment></data>`` under ``<root>``.

Source: the schema that such files carry in themselves. Entries with a ``type`` or ``mimetype`` (pictures, sizes) and the
designer's own (``>>…``) are no texts and are left out. A missing value is an empty text, as its readers have it.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING
from xml.sax.saxutils import quoteattr

from lemmar.documents.xmltext import Element, PlainEntries, declared_encoding, elements
from lemmar.formats._editing import Edits, NewEntry, in_rows, line_end_of
from lemmar.formats._encoding import Hole, xml_escape, xml_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Finds, Format, Hints, Reads, Writes
from lemmar.formats._reading import NONE_RARE, Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._spotting import xml_spot
from lemmar.formats._xml import document, element_rows, emptied, framed, placed, quick_reading

if TYPE_CHECKING:
    from lxml import etree

_PLAIN = PlainEntries(
    r'<data name="([^"<&\t\n\r]+)"(?: xml:space="preserve")?>\s*<value>([^<]*)</value>\s*(?:<comment>([^<]*)</comment>\s*)?</data>', "root"
)


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By one expression where all entries are plain, else by the parser."""
    plain = _plain_column(data)
    return Reading((plain,)) if plain is not None else quick_reading(data, _is_root, _entries, lambda _root: None)


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries, each at its name inside the quotes."""
    root = document(walk, "root", _is_root)
    if root is not None:
        walk.column()
        yield from placed(walk, _entries(root), _named(walk.text), itself=False)


def _is_root(tag: str) -> bool:
    return tag == "root"


def _entries(root: etree._Element) -> Iterator[Entry]:
    for element in root.iterchildren("data"):
        name = element.get("name")
        if not name or name.startswith(">>") or element.get("type") or element.get("mimetype"):
            continue
        value = element.find("value")
        text = "" if value is None else "".join(str(part) for part in value.itertext()) if len(value) else value.text or ""
        comment = (element.findtext("comment") or "").strip() if len(element) > 1 else ""
        yield Entry(name, text, rare={"comment": comment})


def _plain_column(data: bytes) -> Column | None:
    found = _PLAIN.split(data)
    if found is None or "<data" in found.prolog:
        return None
    names, texts, comments = found.groups
    keys = Keys(names)
    if len(keys.all) != len(keys) or any(name.startswith(">>") for name in names):
        return None
    notes = {index: comment.strip() for index, comment in enumerate(comments) if comment and comment.strip()}
    return Column(None, keys, tuple(texts), Rare(comment=notes) if notes else NONE_RARE)


def _named(text: str) -> list[tuple[str, Element, Element | None]]:
    found: list[tuple[str, Element, Element | None]] = []
    for element in elements(text):
        attributes = element.open.attributes
        if element.depth == 1 and element.open.name == "data" and "name" in attributes and not {"type", "mimetype"} & attributes.keys():
            found.append((attributes["name"][0], element, None))
        elif element.depth == 2 and element.open.name == "value" and found and element.open.start < found[-1][1].end:
            found[-1] = (found[-1][0], found[-1][1], element)
    return found


def _write(new: NewEntry, text: str, example: str) -> str:
    """An element as the others are written: its value, and its comment if it has one, on lines of their own."""
    hole = Hole("", text, 0, "utf-8", ReadOptions())
    kept = ' xml:space="preserve"' if not example or "xml:space" in example.partition(">")[0] else ""
    end = line_end_of(text)
    outer = _indent(text, example)
    note = f"{end}{outer}  <comment>{xml_text(new.comment, hole)}</comment>" if new.comment else ""
    return f"<data name={quoteattr(new.key)}{kept}>{end}{outer}  <value>{xml_text(new.text, hole)}</value>{note}{end}{outer}</data>"


def _indent(text: str, example: str) -> str:
    at = text.find(example) if example else -1
    before = text[text.rfind("\n", 0, at) + 1 : at] if at > 0 else ""
    return before if not before.strip() else ""


_REMOVE, _ADD = in_rows(
    lambda text, _options: element_rows(text, _named(text), "root"), _write, lambda text, pieces: framed(text, pieces, "root")
)
FORMAT = Format(
    name="resx",
    suffixes=(".resx", ".resw"),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=declared_encoding,
        takes_wide="any",
    ),
    finds=Finds(
        spot=xml_spot(b"data", b"name", b"value"),
    ),
    writes=Writes(
        encode=xml_text,
        escape=xml_escape,
        edits=Edits(lambda model: emptied(model, "root", keep=lambda element: element.open.name != "data"), remove=_REMOVE, add=_ADD),
    ),
    hints=Hints(
        likely=lambda data: b"<root" in data[:4096],
        kind="desktop",
        platform="dotnet",
    ),
)
