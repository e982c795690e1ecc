"""XLIFF 2.1 (OASIS, 13 February 2018): a unit a line, placeholders as ``<ph>``, what is known of it as notes, limits by the size restriction module.

Source: the core, sections 4.2 and 4.3; module 5.8 (size and length restriction), profile ``xliff:codepoints``.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from lemmar.handoff.forms import _xml
from lemmar.handoff.forms._form import Form, Line, Package, notes

if TYPE_CHECKING:
    from lxml import etree

_CORE = "urn:oasis:names:tc:xliff:document:2.0"
_SIZES = "urn:oasis:names:tc:xliff:sizerestriction:2.0"
_PRESERVE = {"{http://www.w3.org/XML/1998/namespace}space": "preserve"}


def write(package: Package) -> bytes:
    """One document with one ``<file>``."""
    from lxml import etree

    root = etree.Element(
        f"{{{_CORE}}}xliff",
        {"version": "2.1", "srcLang": package.source, "trgLang": package.locale},
        nsmap={None: _CORE, "slr": _SIZES},  # type: ignore[dict-item]
    )
    file = etree.SubElement(root, f"{{{_CORE}}}file", {"id": "brief"})
    if any(line.ask.limit for line in package.lines):
        profiles = etree.SubElement(file, f"{{{_SIZES}}}profiles", {"generalProfile": "xliff:codepoints"})
        etree.SubElement(profiles, f"{{{_SIZES}}}normalization")
    texts = [each for line in package.lines for each in _unit(file, line)]
    etree.indent(root, "  ")
    for each in texts:  # in which no blank is for the eye
        _fill(*each)
    return etree.tostring(root, encoding="UTF-8", xml_declaration=True) + b"\n"


#: An element that is still empty, its text, and the placeholders in it.
_Empty = tuple["etree._Element", str, list[str]]


def _unit(file: etree._Element, line: Line) -> list[_Empty]:
    """The line's unit, and its texts, which are to be filled in."""
    from lxml import etree

    where = line.ask.where[0]
    attributes = {"id": line.id, "name": _xml.without_forbidden(f"{where.part}: {where.key}" if where.part else where.key)}
    if line.ask.limit:
        attributes[f"{{{_SIZES}}}sizeRestriction"] = str(line.ask.limit)
    unit = etree.SubElement(file, f"{{{_CORE}}}unit", {**attributes, **_PRESERVE})
    held = etree.SubElement(unit, f"{{{_CORE}}}notes")
    for note in notes(line):
        etree.SubElement(held, f"{{{_CORE}}}note", {"category": note.kind.replace(" ", "-")}).text = _xml.without_forbidden(note.words)
    names = (
        list(dict.fromkeys(name for text in (line.source, line.text) for name in _xml.pieces(text)[1::2])) if not line.ask.syntax else []
    )
    if names:
        originals = etree.SubElement(unit, f"{{{_CORE}}}originalData")
        for number, name in enumerate(names, start=1):
            etree.SubElement(originals, f"{{{_CORE}}}data", {"id": f"d{number}"}).text = f"{{{name}}}"
    segment = etree.SubElement(unit, f"{{{_CORE}}}segment", {"state": line.state})
    texts = [(etree.SubElement(segment, f"{{{_CORE}}}source"), line.source, names)]
    return [*texts, (etree.SubElement(segment, f"{{{_CORE}}}target"), line.text, names)] if line.text else texts


def _fill(element: etree._Element, text: str, names: list[str]) -> None:
    """The text with a ``<ph>`` for each placeholder and a ``<cp>`` for each character that XML forbids (section 4.3.1.1)."""
    from lxml import etree

    last: etree._Element | None = None

    def add(words: str) -> None:
        if last is None:
            element.text = (element.text or "") + words
        else:
            last.tail = (last.tail or "") + words

    taken: dict[str, int] = {}
    for number, piece in enumerate(_xml.pieces(text) if names else [text]):
        if number % 2:
            taken[piece] = taken.get(piece, 0) + 1
            index = names.index(piece) + 1
            code = f"{index}" if taken[piece] == 1 else f"{index}-{taken[piece]}"
            shown = f"{{{piece}}}"
            last = etree.SubElement(
                element,
                f"{{{_CORE}}}ph",
                {"id": code, "dataRef": f"d{index}", "equiv": shown, "disp": shown, "type": "ui", "subType": "xlf:var"},
            )
            continue
        for sign in piece if _xml.forbidden(piece) else (piece,):
            if _xml.forbidden(sign):
                last = etree.SubElement(element, f"{{{_CORE}}}cp", {"hex": f"{ord(sign):04X}"})
            else:
                add(sign)


FORM = Form(
    name="xliff2",
    suffix=".xlf",
    write=write,
    read=_xml.read,
    likely=lambda _name, data: _xml.version(data) == "2",
)
