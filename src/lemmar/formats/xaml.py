"""XAML resource dictionaries: ``<sys:String x:Key="…">text</sys:String>``.

Source: the markup's own public grammar. Resources that are no strings are left out. White space is folded, as readers do, unless
``xml:space="preserve"`` stands at the entry or the dictionary.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from lemmar.documents.xmltext import Element, elements, local_name, parse
from lemmar.formats._entries import Entries, in_order, repeated
from lemmar.formats._reading import Defect, Format, Reading, ReadOptions, Site
from lemmar.formats._xml import declared_encoding, xml_defects, xml_sites
from lemmar.text import Lines, decode

_KEY = "{http://schemas.microsoft.com/winfx/2006/xaml}Key"
_SPACE = "{http://www.w3.org/XML/1998/namespace}space"


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    root, faults = parse(data)
    if root is None or not isinstance(root.tag, str) or not root.tag.endswith("ResourceDictionary"):
        strange = [] if root is None else [Defect("unreadable", 1, 1, f"expected <ResourceDictionary>, found <{root.tag!s}>", "file")]
        return Reading((), in_order(xml_defects(data, faults, some=False) or strange))
    entries = Entries()
    again: list[tuple[str, bool]] = []
    comment = None
    for element in root:
        if not isinstance(element.tag, str):
            comment = (element.text or "").strip()
            continue
        key = element.get(_KEY)
        if key and element.tag.rpartition("}")[2] == "String":
            raw = "".join(str(piece) for piece in element.itertext())
            kept = (element.get(_SPACE) or root.get(_SPACE)) == "preserve"
            text = raw if kept else re.sub(r"[ \t\r\n]+", " ", raw).strip()
            if key in entries.index:
                again.append((key, entries.texts[entries.index[key]] == text))
            entries.note("comment", entries.add(key, text), comment)
        comment = None
    defects = xml_defects(data, faults, bool(entries.index))
    if again:
        defects += _repeats(data, again)
    return Reading((entries.column(),), in_order(defects), "utf-8")


def _named(text: str) -> Iterator[tuple[str, Element, Element | None]]:
    for element in elements(text):
        if element.depth == 1 and local_name(element.open.name) == "String" and "x:Key" in element.open.attributes:
            yield element.open.attributes["x:Key"][0], element, None


def _repeats(data: bytes, again: list[tuple[str, bool]]) -> list[Defect]:
    text = decode(data, declared_encoding(data)).text
    lines = Lines(text)
    seen: dict[str, list[tuple[int, int]]] = {}
    for key, element, _ in _named(text):
        seen.setdefault(key, []).append(lines.place(element.open.attributes["x:Key"][1]))
    found = []
    for key, same in again:
        places = seen.get(key, [])
        if len(places) > 1:
            found.append(repeated(key, places[0][0], *places.pop(1), same=same))
    return found


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key that is there; its place is inside the quotes."""
    text = decode(data, options.encoding or declared_encoding(data))
    return xml_sites(text, _named(text.text), wanted, "x:Key")


FORMAT = Format("xaml", (".xaml",), 1, ("by-file",), read, locate, lambda data: b"ResourceDictionary" in data[:4096])
