"""XML that comes from outside: parsed without fetching anything, and again, tolerantly, with places.

`parse` gives lxml's tree: internal entities only, unnested, 64 KiB of them in total; no external entity, DTD or network.
`tags` goes over the text itself, damaged or not, and tells where each tag and attribute stands.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import suppress
from typing import TYPE_CHECKING, NamedTuple

from msgspec import Struct

from lemmar.basics.expressions import expression

if TYPE_CHECKING:
    from lxml import etree

#: How many characters the entities of one document may add to it.
MAX_ENTITY_TEXT = 64 * 1024


class XmlFault(NamedTuple):
    """What is wrong, at a 1-based line and column."""

    line: int
    column: int
    text: str


def parse(data: bytes) -> tuple[etree._Element | None, tuple[XmlFault, ...]]:
    """The document's root, as far as it can be read, and its faults."""
    from lxml import etree

    refused = _entities_refused(data) or _surrogate(data)
    if refused:
        return None, (refused,)
    options = {"resolve_entities": "internal", "no_network": True, "load_dtd": False, "remove_pis": True}
    try:
        return etree.fromstring(data, etree.XMLParser(**options)), ()  # type: ignore[arg-type]
    except (etree.XMLSyntaxError, ValueError, LookupError) as error:
        line, column = getattr(error, "position", (1, 1))
        fault = XmlFault(max(line or 1, 1), max(column or 1, 1), _plain(str(error)))
    try:
        root = etree.fromstring(data, etree.XMLParser(recover=True, **options))  # type: ignore[arg-type]
    except (etree.XMLSyntaxError, ValueError, LookupError):
        root = None
    return root, (fault,)


_PLAINER = {
    "xmlParseEntityRef: no name": "a bare '&', which XML writes &amp;",
    "EntityRef: expecting ';'": "an '&' that no ';' ends; XML writes a bare one &amp;",
}


def _plain(message: str) -> str:
    """The parser's message without the place that it ends in, and plainer where the cause is known."""
    plain = re.sub(r", line \d+, column \d+.*", "", message, flags=re.DOTALL).strip() or "the document is empty"
    return _PLAINER.get(plain, plain)


_SURROGATE = expression(rb"&#(?:x0*[dD][89a-fA-F][0-9a-fA-F]{2}|0*5(?:5[3-9]|6[0-9]|7[0-3])[0-9]{2});")


def _surrogate(data: bytes) -> XmlFault | None:
    """A reference to half a character, on which the parser breaks instead of refusing it."""
    for match in _SURROGATE.finditer(data) if b"&#" in data else ():
        number = int(match[0][3:-1], 16) if match[0][2:3] == b"x" else int(match[0][2:-1])
        if 0xD800 <= number <= 0xDFFF:
            line = data.count(b"\n", 0, match.start()) + 1
            return XmlFault(line, match.start() - data.rfind(b"\n", 0, match.start()), f"{match[0].decode()} is no character")
    return None


def _entities_refused(data: bytes) -> XmlFault | None:
    """Why the document's entities are not expanded; None where they are harmless or there are none."""
    if b"<!ENTITY" not in data and not data.startswith((b"\xff\xfe", b"\xfe\xff")) and 0 not in data[:64]:
        return None
    from xml.parsers import expat

    found: list[XmlFault] = []
    budget = MAX_ENTITY_TEXT
    sizes: dict[str, int] = {}
    parser = expat.ParserCreate()

    def declared(name: str, _parameter: int, value: str | None, *_where: str | None) -> None:
        if value is not None and re.search(r"&(?!#|lt;|gt;|amp;|quot;|apos;)", value):
            found.append(XmlFault(parser.CurrentLineNumber, parser.CurrentColumnNumber + 1, f"the entity {name!r} holds another entity"))
        sizes[name] = len(value or "")

    parser.EntityDeclHandler = declared
    parser.SetParamEntityParsing(expat.XML_PARAM_ENTITY_PARSING_NEVER)
    parser.DefaultHandler = lambda _text: None  # references are not expanded here
    with suppress(expat.ExpatError, ValueError):  # the real parser tells what is wrong
        parser.Parse(data, True)
    if found or not sizes:
        return found[0] if found else None
    text = data if not (data.startswith((b"\xff\xfe", b"\xfe\xff")) or 0 in data[:64]) else data.replace(b"\0", b"")
    for match in re.finditer(rb"&([A-Za-z_:][\w.:-]*);", text):
        budget -= sizes.get(match.group(1).decode("utf-8", "replace"), 0)
        if budget < 0:
            line = text.count(b"\n", 0, match.start()) + 1
            return XmlFault(line, 1, f"its entities add more than {MAX_ENTITY_TEXT // 1024} KiB of text")
    return None


def declared_encoding(data: bytes) -> str | None:
    """The encoding that an XML declaration names."""
    match = re.match(rb"""\s*<\?xml[^>]*?encoding\s*=\s*["']([A-Za-z][A-Za-z0-9._-]*)""", data)
    return match.group(1).decode("ascii") if match else None


class PlainEntries:
    """The short way through a document whose entries are all of one plain form: split by that form, nothing but blanks is left.

    What is before the first entry is parsed once for all files that begin alike. Where anything else is met (a comment, an entry
    of another form, an entity, a character that XML forbids, another encoding) there is no short way.
    """

    def __init__(self, entry: str, *around: str, doctype: str = "", raw: frozenset[int] = frozenset()) -> None:
        """*around* are the elements that are open around all entries, the innermost first; a document type of the name *doctype* may stand before
        them. In the groups *raw* references stay as they are.
        """
        self._doctype = expression(rf'<!DOCTYPE {doctype}(?: PUBLIC "[^"<>]*" "[^"<>]*")?>') if doctype else None
        self._raw = raw
        self._entry = expression(entry)
        self._closing = "".join(f"</{name}>" for name in around)
        self._closed = expression("".join(rf"[ \t\r\n]*+</{re.escape(name)}>" for name in around) + r"[ \t\r\n]*+")
        self._groups = self._entry.groups + 1
        self._prologs: dict[str, etree._Element | None] = {}

    def split(self, data: bytes) -> PlainDocument | None:
        """The document, taken apart; None if there is no short way."""
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            return None
        if text.startswith("\ufeff"):  # a second mark, which no parser takes
            return None
        if "\r" in text:
            text = text.replace("\r\n", "\n").replace("\r", "\n")
        if "]]>" in text or ("<!" in text and not self._has_one_doctype(text)):
            return None
        if data.translate(None, _NO_CONTROLS) or b"\xef\xbf\xbe" in data or b"\xef\xbf\xbf" in data:
            return None
        parts = self._entry.split(text)
        between = parts[:: self._groups]
        if (
            self._closed.fullmatch(between[-1]) is None
            or len(between) < 2
            or "".join(between[1:-1]).strip(" \t\r\n")
            or (root := self._root(between[0])) is None
        ):
            return None
        groups = [parts[index :: self._groups] for index in range(1, self._groups)]
        if "&" in text:
            if _OTHER_REFERENCE.search(text):
                return None
            groups = [
                group if number in self._raw else [unescape(piece) if piece and "&" in piece else piece for piece in group]
                for number, group in enumerate(groups)
            ]
        return PlainDocument(root, between[0], groups)

    def entries(self, text: str) -> Iterator[re.Match[str]]:
        """The entries of a plain document's text, where no carriage return stands in it."""
        return self._entry.finditer(text)

    def _has_one_doctype(self, text: str) -> bool:
        return self._doctype is not None and text.count("<!") == 1 and self._doctype.search(text[:_MOST_BEFORE]) is not None

    def _root(self, prolog: str) -> etree._Element | None:
        """The document's root without its entries; None where what stands before them is not sound."""
        if prolog not in self._prologs:
            utf8 = re.search(r"encoding\s*=\s*[\"']utf-8[\"']", prolog, re.IGNORECASE) or "encoding" not in prolog.partition("?>")[0]
            root, faults = parse((prolog + self._closing).encode("utf-8"))
            if len(self._prologs) >= _MOST_PROLOGS:
                self._prologs.clear()
            self._prologs[prolog] = root if utf8 and not faults else None
        return self._prologs[prolog]


_MOST_PROLOGS = 1_000
#: A document type stands in so many of the first characters.
_MOST_BEFORE = 2_000


class PlainDocument(NamedTuple):
    """A document of plain entries: its root without them, what stands before the first, and each of the form's groups for all of them."""

    root: etree._Element
    prolog: str
    groups: list[list[str]]


class TagToken(Struct):
    """A tag in the text: *name* as written; *closing* and *empty* (``<a/>``); attributes with the span of their values."""

    name: str
    start: int
    end: int
    closing: bool
    empty: bool
    attributes: dict[str, tuple[str, int, int]]


# An attribute's value holds no "<" (XML 1.0 section 2.3), so that no attempt runs past the next tag: linear, whatever comes.
_TAG = expression(
    r"<!--.*?(?:-->|\Z)|<!\[CDATA\[.*?(?:\]\]>|\Z)|<\?.*?(?:\?>|\Z)"
    r"|<(?P<closing>/)?(?P<name>[^\s<>/='\"!?]++)(?P<attributes>(?:[^<>'\"]|\"[^\"<]*+\"|'[^'<]*+')*+)>",
    re.DOTALL,
)
_DOCTYPE = expression(
    r"[^<]*+(?:<\?.*?\?>[^<]*+|<!--.*?-->[^<]*+)*+<!DOCTYPE[^\[>]*+(?:\[(?:[^\]\"']|\"[^\"]*+\"|'[^']*+')*+\]\s*+)?+>", re.DOTALL
)
# What is no attribute matches too, without a value, so that nothing is looked at twice.
_ATTRIBUTE = expression(r"([^\s=<>'\"/]++)(?:\s*+=\s*+(?:\"([^\"]*+)\"|'([^']*+)'))?")
_REFERENCE = expression(r"&(?:#([0-9]{1,7})|#x([0-9a-fA-F]{1,6})|(lt|gt|amp|quot|apos));")
# All bytes but those of the control characters that XML forbids (XML 1.0 section 2.2); U+FFFE and U+FFFF are looked for apart.
_NO_CONTROLS = bytes(set(range(256)) - (set(range(32)) - {9, 10, 13}))
_OTHER_REFERENCE = expression(r"&(?!(?:lt|gt|amp|quot|apos);)")
_NAMED = {"lt": "<", "gt": ">", "amp": "&", "quot": '"', "apos": "'"}


def tags(text: str) -> Iterator[TagToken]:
    """The tags of *text* in order; comments, CDATA sections, instructions and the document type are passed over."""
    head = _DOCTYPE.match(text)
    for match in _TAG.finditer(text, head.end() if head else 0):
        name = match.group("name")
        if name is None:
            continue
        inner, base = match.group("attributes"), match.start("attributes")
        attributes = {}
        for found in _ATTRIBUTE.finditer(inner):
            group = found.lastindex or 1
            if group > 1:
                attributes[found.group(1)] = (unescape(found.group(group)), base + found.start(group), base + found.end(group))
        yield TagToken(name, match.start(), match.end(), bool(match.group("closing")), inner.rstrip().endswith("/"), attributes)


def unescape(text: str) -> str:
    """*text* with character references and XML's own five entities replaced."""

    def replace(match: re.Match[str]) -> str:
        decimal, hexadecimal, name = match.groups()
        if name:
            return _NAMED[name]
        code = int(decimal) if decimal else int(hexadecimal, 16)
        return chr(code) if 0 < code < 0x110000 else match.group()

    return _REFERENCE.sub(replace, text) if "&" in text else text


def local_name(name: str) -> str:
    """A qualified name without its prefix."""
    return name.rpartition(":")[2]


class Element(Struct):
    """An element's tags in the text: *open* and, where it has one of its own, *close*; and its depth, the root's being 0."""

    open: TagToken
    close: TagToken | None
    depth: int

    @property
    def end(self) -> int:
        """Where the element ends."""
        return (self.close or self.open).end


def elements(text: str) -> list[Element]:
    """The elements of *text* in the order of their opening tags, as in lxml's tree of the same document."""
    found: list[Element] = []
    stack: list[Element] = []
    open_now: dict[str, int] = {}
    for tag in tags(text):
        if not tag.closing:
            element = Element(tag, None, len(stack))
            found.append(element)
            if not tag.empty:
                stack.append(element)
                open_now[tag.name] = open_now.get(tag.name, 0) + 1
        elif open_now.get(tag.name):
            while True:
                element = stack.pop()
                open_now[element.open.name] -= 1
                if element.open.name == tag.name:
                    break
            element.close = tag
    return found
