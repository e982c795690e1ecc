"""XAML resource dictionaries: ``<sys:String x:Key="…">text</sys:String>``.

Source: the markup's own public grammar. Resources that are no strings are left out. White space is folded, as readers do, unless
``xml:space="preserve"`` stands at the entry or the dictionary.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING
from xml.sax.saxutils import quoteattr

from lemmar.basics.expressions import expression
from lemmar.documents.xmltext import Element, PlainEntries, declared_encoding, elements, local_name
from lemmar.formats._editing import Edits, NewEntry, in_rows
from lemmar.formats._encoding import Hole, xml_escape, xml_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Reading, ReadOptions
from lemmar.formats._xml import document, element_rows, emptied, framed, placed, quick_reading

if TYPE_CHECKING:
    from lxml import etree

_KEY = "{http://schemas.microsoft.com/winfx/2006/xaml}Key"
_ROOT = "ResourceDictionary"
_SPACE = "{http://www.w3.org/XML/1998/namespace}space"


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By one expression where all entries are plain, else by the parser alone, where nothing is wrong."""
    plain = _plain_column(data)
    return Reading((plain,)) if plain is not None else quick_reading(data, _is_root, _entries, lambda _root: None)


_PLAIN = PlainEntries(r"<((?:[A-Za-z]+:)?String) x:Key=\"([^\"<&\t\n]+)\">([^<]*+)</\1>", "ResourceDictionary")
_FOLDED = expression(r"[\t\n]|  |\0 | \0")


def _plain_column(data: bytes) -> Column | None:
    """The entries of a document of plain ones; None where it is another, or a key is there twice."""
    found = _PLAIN.split(data)
    if found is None or "String" in found.prolog or found.root.get(_SPACE) is not None or found.root.tag.rpartition("}")[2] != _ROOT:
        return None
    elements_of, names, texts = found.groups
    prefixes = {name.rpartition(":")[0] for name in elements_of}
    known = found.root.nsmap
    if known.get("x") != _KEY[1:].partition("}")[0] or not all(prefix in known for prefix in prefixes if prefix):
        return None
    keys = Keys(names)
    if len(keys.all) != len(keys):
        return None
    if _FOLDED.search("\0".join(("", *texts, ""))):
        texts = [re.sub(r"[ \t\r\n]+", " ", text).strip(" ") for text in texts]
    return Column(None, keys, tuple(texts))


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries, each at its key inside the quotes."""
    root = document(walk, "ResourceDictionary", _is_root)
    if root is not None:
        walk.column()
        yield from placed(walk, _entries(root), _named(walk.text), "x:Key")


def _is_root(tag: str) -> bool:
    return tag.endswith(_ROOT)


def _entries(root: etree._Element) -> Iterator[Entry]:
    comment = None
    for element in root:
        if not isinstance(element.tag, str):
            comment = (element.text or "").strip()
            continue
        key = element.get(_KEY)
        if key and element.tag.rpartition("}")[2] == "String":
            raw = "".join(str(piece) for piece in element.itertext())
            kept = (element.get(_SPACE) or root.get(_SPACE)) == "preserve"
            yield Entry(key, raw if kept else re.sub(r"[ \t\r\n]+", " ", raw).strip(" "), rare={"comment": comment})
        comment = None


def _named(text: str) -> Iterator[tuple[str, Element, Element | None]]:
    for element in elements(text):
        if element.depth == 1 and local_name(element.open.name) == "String" and "x:Key" in element.open.attributes:
            yield element.open.attributes["x:Key"][0], element, None


def encode(text: str, hole: Hole) -> str:
    """Character data. Raises `ValueError` for white space that readers fold."""
    if text != re.sub(r"[ \t\r\n]+", " ", text).strip(" ") and 'xml:space="preserve"' not in hole.document:
        raise ValueError("white space at the ends, or more than one blank, is folded here")
    return xml_text(text, hole)


def _write(new: NewEntry, text: str, _example: str) -> str:
    """An element with the prefix that the others have, else the one that the dictionary declares for the system's types."""
    used = re.search(r"<((?:[A-Za-z]+:)?String)[ \t\r\n]", text)
    declared = re.search(r'xmlns:([A-Za-z]+)="[^"]*(?:System;assembly|using:System)[^"]*"', text)
    name = used[1] if used else f"{declared[1]}:String" if declared else "x:String"
    return f"<{name} x:Key={quoteattr(new.key)}>{encode(new.text, Hole('', text, 0, 'utf-8', ReadOptions()))}</{name}>"


_REMOVE, _ADD = in_rows(
    lambda text, _options: element_rows(text, _named(text), _ROOT), _write, lambda text, pieces: framed(text, pieces, _ROOT)
)
FORMAT = Format(
    name="xaml",
    suffixes=(".xaml",),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=declared_encoding,
        takes_wide="any",
    ),
    writes=Writes(
        encode=encode,
        escape=xml_escape,
        edits=Edits(
            lambda model: emptied(model, "ResourceDictionary", keep=lambda element: local_name(element.open.name) != "String"),
            remove=_REMOVE,
            add=_ADD,
        ),
    ),
    hints=Hints(
        likely=lambda data: b"ResourceDictionary" in data[:4096],
        kind="desktop",
        platform="dotnet",
    ),
)
