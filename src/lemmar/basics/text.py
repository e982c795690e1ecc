"""Bytes to text, and offsets to lines and columns: the only place that decodes a catalog or splits lines.

Only LF, CR LF and CR end a line (never U+0085, U+2028 or a form feed). A byte-order mark is no character and takes no column.
"""

from __future__ import annotations

import codecs
import unicodedata
from bisect import bisect_right
from typing import NamedTuple

from lemmar.basics.expressions import expression

_SURROGATE = expression("[\ud800-\udfff]")


def paired(text: str) -> str:
    """*text*, in which two escapes may stand for the halves of one character as UTF-16 has it, with that character (Unicode, 3.9, D91); half of one alone
    stays.
    """
    if not _SURROGATE.search(text):
        return text
    return text.encode("utf-16-le", "surrogatepass").decode("utf-16-le", "surrogatepass")


_MARKS = (
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF32_LE, "utf-32-le"),
    (codecs.BOM_UTF32_BE, "utf-32-be"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
)
_LONE = expression("[\udc80-\udcff]")
_LINE_END = expression("\r\n|\n|\r")
#: Bidirectional embeddings, overrides and isolates: what can make text look other than it is.
BIDI_CONTROLS = "\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069"


class Decoded(NamedTuple):
    """A file's text. *mark* is the length in bytes of its byte-order mark; *fault* the byte offset of what did not decode.

    *escaped* is then the same text with each byte that did not decode kept as a surrogate, *size* the file's length in bytes.
    """

    text: str
    encoding: str
    mark: int
    fault: int | None
    escaped: str | None = None
    size: int = 0


#: Python's codecs that make no text of bytes, run a small program in them, or keep a state that hides ASCII.
_NO_ENCODINGS = frozenset({"punycode", "idna", "undefined", "utf_7", "unicode_escape", "raw_unicode_escape", "mbcs", "oem"})


def text_encoding(name: str) -> str | None:
    """Python's name of the text encoding *name*; None where it is none that files may be in."""
    try:
        found = codecs.lookup(name)
    except (LookupError, ValueError):
        return None
    if not getattr(found, "_is_text_encoding", True) or found.name.replace("-", "_") in _NO_ENCODINGS:
        return None
    return found.name


def decode(data: bytes, declared: str | None = None) -> Decoded:
    """*data* as text: by its byte-order mark, else as *declared*, else UTF-16 where its zeros show that, else UTF-8.

    Bytes that do not decode become U+FFFD, one each, and the first of them is reported. What is declared and no text encoding counts for nothing.
    """
    encoding, mark = next(((name, len(sign)) for sign, name in _MARKS if data.startswith(sign)), (None, 0))
    encoding = encoding or (text_encoding(declared) if declared else _by_zeros(data)) or "utf-8"
    body = data[mark:]
    try:
        return Decoded(body.decode(encoding), encoding, mark, None, None, len(data))
    except UnicodeDecodeError as error:
        if encoding.startswith(("utf-16", "utf-32")):
            return Decoded(body.decode(encoding, "replace"), encoding, mark, mark + error.start, None, len(data))
        escaped = body.decode(encoding, "surrogateescape")
        return Decoded(_LONE.sub("\ufffd", escaped), encoding, mark, mark + error.start, escaped, len(data))


def _by_zeros(data: bytes) -> str | None:
    """UTF-16 without a mark is recognised by the zero bytes of its first ASCII characters."""
    head = data[:64]
    if len(head) < 4 or len(head) % 2 or 0 not in head:
        return None
    if not any(head[0::2]) and all(head[1::2]):
        return "utf-16-be"
    return "utf-16-le" if not any(head[1::2]) and all(head[0::2]) else None


def wide(data: bytes) -> str | None:
    """The encoding of *data* if that takes two or four bytes for each sign, by its mark or its zeros."""
    if not data or (data[0] not in (0, 0xFE, 0xFF) and 0 not in data[1:2]):
        return None
    marked = next((name for sign, name in _MARKS if data.startswith(sign)), None)
    return marked if marked is not None and marked != "utf-8" else _by_zeros(data)


def lines(text: str) -> list[str]:
    """The lines of *text*, without their ends."""
    return _LINE_END.split(text)


class Lines:
    """Turns offsets in a text into places. Made once for a text, then a binary search for each place."""

    def __init__(self, text: str) -> None:
        self._starts = [0, *(match.end() for match in _LINE_END.finditer(text))]

    def place(self, offset: int) -> tuple[int, int]:
        """1-based line and column of the code point at *offset*."""
        line = bisect_right(self._starts, offset)
        return line, offset - self._starts[line - 1] + 1


#: After so many code points the offset in bytes is kept.
_STEP = 1_024


class Bytes:
    """Turns offsets in a decoded text into offsets in its file's bytes, in whatever order: the text is encoded once, and a piece of it each time."""

    def __init__(self, decoded: Decoded) -> None:
        self._decoded = decoded
        self._text = decoded.escaped or decoded.text
        self._errors = "surrogateescape" if decoded.escaped else "surrogatepass"
        self._plain = decoded.encoding == "utf-8" and decoded.text.isascii()
        self._known = [decoded.mark]

    def offset(self, index: int) -> int:
        """The byte offset of the code point at *index*."""
        if self._plain:
            return self._decoded.mark + index
        number = index // _STEP
        while len(self._known) <= number:
            start = (len(self._known) - 1) * _STEP
            self._known.append(self._known[-1] + self._length(start, start + _STEP))
        offset = self._known[number] + self._length(number * _STEP, index)
        return min(offset, self._decoded.size) if self._decoded.fault is not None else offset

    def _length(self, start: int, end: int) -> int:
        return len(self._text[start:end].encode(self._decoded.encoding, self._errors))

    def span(self, start: int, end: int) -> tuple[int, int]:
        """The byte span of the code points from *start* to *end*."""
        return self.offset(start), self.offset(end)


class Characters:
    """Turns offsets in the bytes of a UTF-8 text into offsets in its code points: from the nearest of many known ones."""

    _STEP = 512
    _CONTINUING = bytes(range(0x80, 0xC0))

    def __init__(self, source: bytes) -> None:
        self.source = source
        self.plain = source.isascii()
        self.known = [0]
        for start in range(0, 0 if self.plain else len(source), self._STEP):
            self.known.append(self.known[-1] + self._count(source[start : start + self._STEP]))

    def offset(self, byte: int) -> int:
        """The code point that begins at the offset *byte*."""
        if self.plain:
            return byte
        step = byte // self._STEP
        return self.known[step] + self._count(self.source[step * self._STEP : byte])

    def _count(self, piece: bytes) -> int:
        """How many characters begin in *piece*: bytes that continue one are left out."""
        return len(piece.translate(None, self._CONTINUING))


def decode_fault(data: bytes, decoded: Decoded) -> tuple[int, int]:
    """1-based line and column of the first byte that did not decode."""
    assert decoded.fault is not None
    before = data[decoded.mark : decoded.fault].decode(decoded.encoding, "replace")
    return Lines(before).place(len(before))


def visible(text: str) -> str:
    r"""*text* with control characters, bidirectional controls and undecodable bytes of file names made visible.

    TAB and line ends become ``\t``, ``\n``, ``\r``; other characters ``\xNN`` or ``\uNNNN``.
    """
    if text.isprintable():  # which no control is, and no bidirectional one
        return text
    return "".join(character if _harmless(character) else _escape(character) for character in text)


def _harmless(character: str) -> bool:
    if character in BIDI_CONTROLS:
        return False
    return character.isprintable() or unicodedata.category(character) in ("Zs", "Cf")


def _escape(character: str) -> str:
    short = {"\t": r"\t", "\n": r"\n", "\r": r"\r"}.get(character)
    if short:
        return short
    code = ord(character)
    if 0xDC80 <= code <= 0xDCFF:  # a byte of a file name that is no UTF-8
        return f"\\x{code - 0xDC00:02x}"
    if code < 0x100:
        return f"\\x{code:02x}"
    return f"\\u{code:04x}" if code < 0x10000 else f"\\U{code:08x}"
