"""What the readers of XML formats share: an XML document's faults as defects, and where named elements stand."""

from __future__ import annotations

import codecs
import re
from collections.abc import Iterable, Sequence
from typing import TYPE_CHECKING

from lemmar.documents.xmltext import Element, XmlFault
from lemmar.formats._reading import Defect, Site
from lemmar.text import Bytes, Decoded, Lines, decode, decode_fault

if TYPE_CHECKING:
    from lxml import etree


def xml_defects(data: bytes, faults: Iterable[XmlFault], some: bool) -> list[Defect]:
    """What is wrong with an XML document of which *some* entries were read, or none.

    Bytes that its encoding does not have are a defect of their own kind.
    """
    found = []
    for fault in faults:
        text = decode(data, declared_encoding(data))
        if text.fault is not None:
            line, column = decode_fault(data, text)
            words = f"the byte 0x{data[text.fault]:02X} is no {text.encoding.upper()}"
            found.append(Defect("encoding", line, column, words, "rest" if some else "file"))
        found.append(Defect("damaged" if some else "unreadable", fault.line, fault.column, fault.text, "rest" if some else "file"))
    return found


def declared_encoding(data: bytes) -> str | None:
    """The encoding that an XML declaration names, where Python knows it."""
    match = re.match(rb"""\s*<\?xml[^>]*?encoding\s*=\s*["']([A-Za-z][A-Za-z0-9._-]*)""", data)
    try:
        return codecs.lookup(match.group(1).decode("ascii")).name if match else None
    except LookupError:
        return None


def xml_sites(
    text: Decoded, named: Iterable[tuple[str, Element, Element | None]], wanted: Sequence[tuple[str | None, str]], attribute: str = "name"
) -> dict[tuple[str | None, str], Site]:
    """The sites of the wanted keys among *named*: key, its element, and the element that holds its text if another.

    The key's place is that of the element's *attribute*, of the whole element where it has none.
    """
    lines, offsets, keys = Lines(text.text), Bytes(text), {key for _, key in wanted}
    found: dict[tuple[str | None, str], Site] = {}
    for key, element, holder in named:
        if key in keys:
            _, start, end = element.open.attributes.get(attribute, ("", element.open.start, element.open.end))
            inside = holder or element
            value = offsets.span(inside.open.end, inside.close.start) if inside.close else None
            entry = offsets.span(element.open.start, element.end)
            found[None, key] = Site(*lines.place(start), offsets.span(start, end), value, entry)
    return found


def inner_xml(element: etree._Element, leave_out: frozenset[str] = frozenset()) -> str:
    """The markup inside *element*: texts as they are, elements by their local names with their attributes; the tags of the elements
    named in *leave_out* are left out and their contents kept.
    """
    parts = [element.text or ""]
    for child in element:
        if isinstance(child.tag, str):
            name = child.tag.rpartition("}")[2]
            inside = inner_xml(child, leave_out)
            attributes = "".join(f' {str(key).rpartition("}")[2]}="{value!s}"' for key, value in child.attrib.items())
            if name in leave_out:
                parts.append(inside)
            else:
                parts.append(f"<{name}{attributes}>{inside}</{name}>" if inside else f"<{name}{attributes}/>")
        parts.append(child.tail or "")
    return "".join(parts)
