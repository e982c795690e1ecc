"""Merges that nobody has finished: lines of ``<<<<<<<``, ``=======`` and ``>>>>>>>``, as version control leaves them in a file."""

from __future__ import annotations

import re
from typing import NamedTuple

from lemmar.basics.expressions import expression

_MARK = expression(rb"^(?:(<{7})|(\|{7})|(={7})|(>{7}))(?:[ \t][^\r\n]*)?\r?$", re.MULTILINE)
_LETTERS = expression(rb"[^\r\n]")
_OPENS, _BASE, _PARTS, _CLOSES = 1, 2, 3, 4


class Merge(NamedTuple):
    """An unfinished merge: the 1-based line of its first mark, the *number* of them, and the two files that it stands between.

    What a side has not is blanks in it, so that places are the same in both.
    """

    line: int
    number: int
    ours: bytes
    theirs: bytes


def unfinished(data: bytes) -> Merge | None:
    """The merge that was left in *data*; None where there is none. A mark that opens begins anew; one that nothing opened is passed over."""
    if b"<<<<<<<" not in data or b">>>>>>>" not in data:
        return None
    found: list[list[tuple[int, int]]] = []
    marks: list[tuple[int, int]] = []  # of one merge: those that open, begin the common base, part and close
    kinds: list[int] = []
    for match in _MARK.finditer(data):
        kind = match.lastindex or 0
        if kind == _OPENS:
            marks, kinds = [match.span()], [kind]
        elif kinds and kinds[-1] < kind and (kind != _CLOSES or kinds[-1] == _PARTS):
            marks, kinds = [*marks, match.span()], [*kinds, kind]
            if kind == _CLOSES:
                found.append(marks)
                marks, kinds = [], []
    if not found:
        return None
    ours, theirs = bytearray(data), bytearray(data)
    for marks in found:
        start, end = marks[0][0], marks[-1][1]
        _blank(ours, start, marks[0][1])
        _blank(ours, marks[1][0], end)
        _blank(theirs, start, marks[-2][1])
        _blank(theirs, marks[-1][0], end)
    return Merge(data.count(b"\n", 0, found[0][0][0]) + 1, len(found), bytes(ours), bytes(theirs))


def _blank(data: bytearray, start: int, end: int) -> None:
    """Blanks for all but the ends of lines."""
    data[start:end] = _LETTERS.sub(b" ", bytes(data[start:end]))
