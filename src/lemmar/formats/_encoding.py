"""How a text is written into a file: what the formats share. Each format's own `encode` says which of it holds there."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.formats._reading import ReadOptions


class Hole(NamedTuple):
    """Where a text is put: what stands *before* in its place, the whole *document* around it, in which the place *start*s, the file's *encoding*
    and how it is read.
    """

    before: str
    document: str
    start: int
    encoding: str
    options: ReadOptions


#: What is to stand in the place of a text; `ValueError` where the format cannot hold it.
Encode = Callable[[str, Hole], str]
#: How a character is written that the file's encoding does not have.
Escape = Callable[[str], str]


def json_text(text: str, _hole: Hole) -> str:
    """A JSON string (RFC 8259, section 7)."""
    return json.dumps(text, ensure_ascii=False)


def xml_text(text: str, _hole: Hole) -> str:
    """Character data. Raises `ValueError` as `xml_escaped`."""
    return xml_escaped(text)


def xml_escaped(text: str) -> str:
    """Character data (XML 1.0, section 2.4). Raises `ValueError` for characters that no XML document may hold (section 2.2)."""
    found = _NOT_XML.search(text)
    if found:
        raise ValueError(f"the character U+{ord(found.group()):04X} may not stand in XML")
    return text.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;").replace("\r", "&#13;")


def xml_escape(character: str) -> str:
    """``&#xE9;``."""
    return f"&#x{ord(character):X};"


def with_markup(text: str, hole: Hole, plain: Callable[[str], str]) -> str:
    """*text* in which elements stay markup where those of the same names are in its place already; each other piece written by *plain*."""
    names = set(_ELEMENT.findall(hole.before))
    pieces = _TAG.split(text) if names else [text]
    tags = [_ELEMENT.match(tag) for tag in pieces[1::2]]
    if len(pieces) == 1 or not all(match and match[1] in names for match in tags) or not _in_pairs(pieces[1::2]):
        return plain(text)
    return "".join(plain(piece) if index % 2 == 0 else piece for index, piece in enumerate(pieces))


def _in_pairs(tags: list[str]) -> bool:
    opened: list[str] = []
    for tag in tags:
        match = _ELEMENT.match(tag)
        name = match[1] if match else ""
        if tag.endswith("/>"):
            continue
        if not tag.startswith("</"):
            opened.append(name)
        elif not opened or opened.pop() != name:
            return False
    return not opened


_ELEMENT = expression(r"</?([A-Za-z_][\w.:-]*)(?=[\s/>])")
_TAG = expression(r"(</?[A-Za-z_][\w.:-]*(?:\s+[\w.:-]+\s*=\s*(?:\"[^\"<]*\"|'[^'<]*'))*\s*/?>)")
_NOT_XML = expression("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")
