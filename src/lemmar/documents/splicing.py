"""Changes to a text by the spans that they replace: everything else stays as it is, byte for byte."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import pairwise
from typing import NamedTuple

from lemmar.basics.text import Bytes, Decoded, Lines


class Splice(NamedTuple):
    """What stands between the code points *start* and *end* is replaced by *text*."""

    start: int
    end: int
    text: str


class EditError(ValueError):
    """An edit that cannot be made safely; the message says why, *line* and *column* where (1-based), if that is known."""

    def __init__(self, words: str, line: int | None = None, column: int | None = None) -> None:
        super().__init__(words, line, column)
        self.words = words
        self.line = line
        self.column = column

    def __str__(self) -> str:
        return self.words


def in_order(splices: Iterable[Splice]) -> list[Splice]:
    """The *splices* in the order of their places, those at one place as they were given. Raises `EditError` where two overlap."""
    found = sorted(splices, key=lambda each: (each.start, each.end))
    for before, after in pairwise(found):
        if after.start < before.end:
            raise EditError("two changes to the same place")
    return found


def spliced(text: str, splices: Iterable[Splice]) -> str:
    """*text* with the *splices* made."""
    out, position = [], 0
    for splice in in_order(splices):
        out += [text[position : splice.start], splice.text]
        position = splice.end
    return "".join([*out, text[position:]])


def rewritten(data: bytes, decoded: Decoded, splices: Iterable[Splice], escape: Callable[[str], str] | None = None) -> bytes:
    """The bytes of a file, whose text is *decoded*, with the *splices* made in its own encoding; *escape* writes a character that this lacks.

    Raises:
        EditError: bytes of the file are of no character, or a new character has no place in its encoding.
    """
    if decoded.fault is not None:
        line, column = Lines(decoded.text).place(len(data[decoded.mark : decoded.fault].decode(decoded.encoding, "replace")))
        raise EditError(
            f"the byte 0x{data[decoded.fault]:02X} is no {decoded.encoding.upper()}; mend the file's encoding first", line, column
        )
    offsets, out, position = Bytes(decoded), [], 0
    for splice in in_order(splices):
        start, end = offsets.span(splice.start, splice.end)
        out += [data[position:start], encoded(splice.text, decoded.encoding, escape)]
        position = end
    return b"".join([*out, data[position:]])


def encoded(text: str, encoding: str, escape: Callable[[str], str] | None = None) -> bytes:
    """*text* in that *encoding*. Raises `EditError` for a character that it lacks and that no *escape* writes."""
    try:
        return text.encode(encoding)
    except UnicodeEncodeError as error:
        if escape is None:
            raise EditError(f"the file's encoding, {encoding.upper()}, has no {text[error.start]!r}") from error
    pieces = (piece.encode(encoding, "ignore") or piece for piece in text)
    return b"".join(piece if isinstance(piece, bytes) else escape(piece).encode(encoding) for piece in pieces)
