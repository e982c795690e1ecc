"""Source code that cannot be parsed as it is: reads the rest of it by putting a sign where one is most likely lost.

Nothing moves: a sign takes the place of a blank or of a line's end, so that every offset stays true. What is mended is only read with,
never written; the fault is reported all the same.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.grammars import Patience
from lemmar.languages._literals import first_error
from lemmar.languages._parsing import parse
from lemmar.languages._sourcefile import SourceFile

_MOST_REPAIRS = 12
_LARGEST = 512 * 1024  # bytes: a larger file is read as far as its parser gets
_MOST_PARSED = 1536 * 1024  # bytes in all, which take 0.6 s where they are nearly sound: a file is not parsed again and again
_ENDED = expression(rb"[\"'`\])}\w][ \t\r]*\Z")
_OPEN_QUOTE = expression(rb"([\"'`])(?:[^\"'`\\]|\\.)*(,?)[ \t\r]*\Z")


class Parsed(NamedTuple):
    """A file as far as it can be read, and where it first goes wrong: a byte offset and words; None where it is whole."""

    file: SourceFile
    offset: int | None
    words: str


@lru_cache(maxsize=1)  # the places of a file are asked for right after its texts
def parse_tolerantly(source: bytes, suffix: str) -> Parsed | None:
    """The parsed file; None where no language has *suffix*, or the file is too large or too broken."""
    patience = Patience(len(source))
    file = parse(source, suffix, patience)
    if file is not None and not file.root.has_error:
        return Parsed(file, None, "")
    if file is None:
        if patience.wrong_at is None:
            return None
        offset, words = patience.wrong_at, "the code cannot be parsed from about here on"
    else:
        wrong = first_error(file.root)
        shown = " ".join(source[wrong.start_byte : min(wrong.end_byte, wrong.start_byte + 400)].decode("utf-8", "replace").split())[:40]
        offset = wrong.start_byte
        words = f"expected {wrong.type!r}" if wrong.is_missing else f"the code cannot be parsed from {shown!r} on"
    mended = _mended(source, suffix, file, offset) if len(source) <= _LARGEST else file
    return Parsed(mended, offset, words) if mended is not None else None


def _mended(source: bytes, suffix: str, file: SourceFile | None, start: int) -> SourceFile | None:
    """The file as it is read with the signs put in that make the most of it readable; as it is where none does."""
    patience = Patience(len(source), seconds=2.0)
    parsed = 0
    for _ in range(_MOST_REPAIRS):
        best: tuple[int, bytes, SourceFile] | None = None
        for candidate in _candidates(source, start):
            parsed += len(source)
            other = parse(candidate, suffix, patience) if parsed <= _MOST_PARSED and patience.left > 0 else None
            if other is None:
                continue
            reached = first_error(other.root).start_byte if other.root.has_error else len(source) + 1
            if reached > start and (best is None or reached > best[0]):
                best = (reached, candidate, other)
            if not other.root.has_error:
                return other
        if best is None:
            break
        start, source, file = best
    return file


def _candidates(source: bytes, start: int) -> Iterator[bytes]:
    """*source* with one sign put in near *start*: a comma or semicolon at a line's end or between two texts, a quote at a line's end."""
    end = source.find(b"\n", start)
    before = source.rfind(b"\n", 0, start)
    for newline in (before, end, source.find(b"\n", end + 1) if end >= 0 else -1):
        if newline < 0:
            continue
        line = source[source.rfind(b"\n", 0, newline) + 1 : newline]
        if _ENDED.search(line):
            yield source[:newline] + b"," + source[newline + 1 :]
            yield source[:newline] + b";" + source[newline + 1 :]
        quote = _OPEN_QUOTE.search(line)
        if quote and quote.group(2):
            at = newline - len(line) + quote.start(2)
            yield source[:at] + quote.group(1) + source[at + 1 : newline] + b"," + source[newline + 1 :]
        elif quote:
            yield source[:newline] + quote.group(1) + source[newline + 1 :]
    stop = end if end >= 0 else len(source)
    for blank in list(re.finditer(rb"(?<=[\"'`\])}])[ \t](?=[\"'`\w\[{(])", source[before + 1 : stop]))[:6]:
        at = before + 1 + blank.start()
        yield source[:at] + b"," + source[at + 1 :]
