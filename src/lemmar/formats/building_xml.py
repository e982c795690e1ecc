"""What the readers of XML formats share: an XML document's faults as defects, and where named elements stand."""

from __future__ import annotations

import codecs
import re
from collections.abc import Iterable, Sequence

from lemmar.documents.xmltext import Element, XmlFault
from lemmar.model import Defect, Site
from lemmar.text import Bytes, Decoded, Lines, decode, decode_fault


def xml_defects(data: bytes, faults: Iterable[XmlFault], some: bool) -> list[Defect]:
    """What is wrong with an XML document of which *some* entries were read, or none.

    Bytes that its encoding does not have are a defect of their own kind.
    """
    found = []
    for fault in faults:
        text = decode(data, _declared(data))
        if text.fault is not None:
            line, column = decode_fault(data, text)
            words = f"the byte 0x{data[text.fault]:02X} is no {text.encoding.upper()}"
            found.append(Defect("encoding", line, column, words, "rest" if some else "file"))
        found.append(Defect("damaged" if some else "unreadable", fault.line, fault.column, fault.text, "rest" if some else "file"))
    return found


def _declared(data: bytes) -> str | None:
    """The encoding that an XML declaration names, where Python knows it."""
    match = re.match(rb"""\s*<\?xml[^>]*?encoding\s*=\s*["']([A-Za-z][A-Za-z0-9._-]*)""", data)
    try:
        return codecs.lookup(match.group(1).decode("ascii")).name if match else None
    except LookupError:
        return None


def xml_sites(
    text: Decoded, named: Iterable[tuple[str, Element, Element | None]], wanted: Sequence[tuple[str | None, str]]
) -> dict[tuple[str | None, str], Site]:
    """The sites of the wanted keys among *named*: key, its element with a ``name``, and the element that holds its text if another."""
    lines, offsets, keys = Lines(text.text), Bytes(text), {key for _, key in wanted}
    found: dict[tuple[str | None, str], Site] = {}
    for key, element, holder in named:
        if key in keys:
            _, start, end = element.open.attributes["name"]
            inside = holder or element
            value = offsets.span(inside.open.end, inside.close.start) if inside.close else None
            entry = offsets.span(element.open.start, element.end)
            found[None, key] = Site(*lines.place(start), offsets.span(start, end), value, entry)
    return found
