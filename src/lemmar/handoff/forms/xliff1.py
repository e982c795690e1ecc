"""XLIFF 1.2 (OASIS, 1 February 2008): a ``<trans-unit>`` a line, placeholders as ``<x/>``, what is known of it as notes, limits as ``maxwidth``.

Source: sections 2.2 to 2.5. Its attributes of one's own begin with ``x-``.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from lemmar.handoff.forms import _xml
from lemmar.handoff.forms._form import Form, Line, Package, notes

if TYPE_CHECKING:
    from lxml import etree

_SPACE = "urn:oasis:names:tc:xliff:document:1.2"
_PRESERVE = {"{http://www.w3.org/XML/1998/namespace}space": "preserve"}
_STATES = {"initial": "needs-translation", "translated": "translated", "reviewed": "signed-off", "final": "final"}


def write(package: Package) -> bytes:
    """One document with one ``<file>``."""
    from lxml import etree

    root = etree.Element(f"{{{_SPACE}}}xliff", {"version": "1.2"}, nsmap={None: _SPACE})  # type: ignore[dict-item]
    languages = {"source-language": package.source, "target-language": package.locale}
    file = etree.SubElement(root, f"{{{_SPACE}}}file", {"original": "brief", "datatype": "plaintext", **languages})
    body = etree.SubElement(file, f"{{{_SPACE}}}body")
    texts = [each for line in package.lines for each in _unit(body, line)]
    etree.indent(root, "  ")
    for each in texts:  # in which no blank is for the eye
        _fill(*each)
    return etree.tostring(root, encoding="UTF-8", xml_declaration=True) + b"\n"


#: An element that is still empty, its text, and the placeholders in it; whether it has none, as its signs are of another syntax.
_Empty = tuple["etree._Element", str, list[str], bool]


def _unit(body: etree._Element, line: Line) -> list[_Empty]:
    """The line's unit, and its texts, which are to be filled in."""
    from lxml import etree

    where = line.ask.where[0]
    name = _xml.without_forbidden(f"{where.part}: {where.key}" if where.part else where.key)
    attributes = {"id": line.id, "resname": name, **_PRESERVE}
    if line.ask.limit:
        attributes |= {"maxwidth": str(line.ask.limit), "size-unit": "char"}
    unit = etree.SubElement(body, f"{{{_SPACE}}}trans-unit", attributes)
    plain = bool(line.ask.syntax)
    names = [] if plain else list(dict.fromkeys(each for text in (line.source, line.text) for each in _xml.pieces(text)[1::2]))
    texts = [(etree.SubElement(unit, f"{{{_SPACE}}}source"), line.source, names, plain)]
    if line.text:
        state = "needs-review-translation" if line.state == "initial" else _STATES[line.state]
        texts.append((etree.SubElement(unit, f"{{{_SPACE}}}target", {"state": state}), line.text, names, plain))
    else:
        etree.SubElement(unit, f"{{{_SPACE}}}target", {"state": "needs-translation"})
    for note in notes(line):
        etree.SubElement(unit, f"{{{_SPACE}}}note", {"from": note.kind}).text = _xml.without_forbidden(note.words)
    return texts


def _fill(element: etree._Element, text: str, names: list[str], plain: bool) -> None:
    from lxml import etree

    last: etree._Element | None = None
    for number, piece in enumerate([text] if plain else _xml.pieces(text)):
        if number % 2:
            shown = f"{{{piece}}}"
            kind = {"ctype": "x-placeholder", "equiv-text": shown}
            last = etree.SubElement(element, f"{{{_SPACE}}}x", {"id": str(names.index(piece) + 1), **kind})
        elif last is None:
            element.text = _xml.without_forbidden(piece)
        else:
            last.tail = _xml.without_forbidden(piece)


FORM = Form(
    name="xliff1",
    suffix=".xlf",
    write=write,
    read=_xml.read,
    likely=lambda _name, data: _xml.version(data) == "1",
)
