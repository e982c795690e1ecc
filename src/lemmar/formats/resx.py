"""RESX resources: ``<data name="…"><value>…</value><comment>…</comment></data>`` under ``<root>``.

Source: the schema that such files carry in themselves. Entries with a ``type`` or ``mimetype`` (pictures, sizes) and the
designer's own (``>>…``) are no texts and are left out. A missing value is an empty text, as its readers have it.
"""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.documents.xmltext import Element, PlainEntries, elements, parse
from lemmar.formats._entries import Entries, in_order, repeated
from lemmar.formats._reading import NOTHING, Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.formats._xml import xml_defects, xml_sites
from lemmar.text import Lines, decode

_PLAIN = PlainEntries(
    r'<data name="([^"<&\t\n\r]+)"(?: xml:space="preserve")?>\s*<value>([^<]*)</value>\s*(?:<comment>([^<]*)</comment>\s*)?</data>', "root"
)


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated name once with its last text, and every defect."""
    plain = _plain_column(data)
    if plain is not None:
        return Reading((plain,), (), "utf-8")
    root, faults = parse(data)
    if root is None or root.tag != "root":
        strange = [] if root is None else [Defect("unreadable", 1, 1, f"expected <root>, found <{root.tag!s}>", "file")]
        return Reading((), in_order(xml_defects(data, faults, some=False) or strange))
    entries = Entries()
    again: list[tuple[str, bool]] = []
    for element in root.iterchildren("data"):
        name = element.get("name")
        if not name or name.startswith(">>") or element.get("type") or element.get("mimetype"):
            continue
        value = element.find("value")
        text = "" if value is None else "".join(str(part) for part in value.itertext()) if len(value) else value.text or ""
        if name in entries.index:
            again.append((name, entries.texts[entries.index[name]] == text))
        index = entries.add(name, text)
        if len(element) > 1:
            entries.note("comment", index, (element.findtext("comment") or "").strip())
    defects = xml_defects(data, faults, bool(entries.index))
    if again:
        defects += _repeats(data, options, again)
    return Reading((entries.column(),), in_order(defects), "utf-8")


def _plain_column(data: bytes) -> Column | None:
    found = _PLAIN.split(data)
    if found is None or "<data" in found[0]:
        return None
    names, texts, comments = found[1]
    keys = Keys(names)
    if len(keys.all) != len(keys) or any(name.startswith(">>") for name in names):
        return None
    notes = {index: comment.strip() for index, comment in enumerate(comments) if comment and comment.strip()}
    return Column(None, keys, tuple(texts), {"comment": notes} if notes else NOTHING)


def _repeats(data: bytes, options: ReadOptions, again: list[tuple[str, bool]]) -> list[Defect]:
    text = decode(data, options.encoding).text
    lines = Lines(text)
    seen: dict[str, list[tuple[int, int]]] = {}
    for name, element, _ in _named(text):
        seen.setdefault(name, []).append(lines.place(element.open.attributes["name"][1]))
    found = []
    for name, same in again:
        places = seen.get(name, [])
        if len(places) > 1:
            line, column = places.pop(1)
            found.append(repeated(name, places[0][0], line, column, same))
    return found


def _named(text: str) -> list[tuple[str, Element, Element | None]]:
    found: list[tuple[str, Element, Element | None]] = []
    for element in elements(text):
        attributes = element.open.attributes
        if element.depth == 1 and element.open.name == "data" and "name" in attributes and not {"type", "mimetype"} & attributes.keys():
            found.append((attributes["name"][0], element, None))
        elif element.depth == 2 and element.open.name == "value" and found and element.open.start < found[-1][1].end:
            found[-1] = (found[-1][0], found[-1][1], element)
    return found


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted name that is there; the key's place is that of the name inside its quotes."""
    text = decode(data, options.encoding)
    return xml_sites(text, _named(text.text), wanted)


FORMAT = Format("resx", (".resx", ".resw"), 1, ("by-file",), read, locate, lambda data: b"<root" in data[:4096])
