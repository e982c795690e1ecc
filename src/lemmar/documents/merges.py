"""Merges that nobody has finished: lines of ``<<<<<<<``, ``=======`` and ``>>>>>>>``, as version control leaves them in a file."""

from __future__ import annotations

import re
from typing import NamedTuple

_MERGE = re.compile(
    rb"^<{7}(?:[ \t][^\r\n]*)?\r?\n(?P<ours>(?:(?!={7}\r?$|\|{7}|>{7})[^\n]*\n)*?)"
    rb"(?P<base>\|{7}[^\n]*\n(?:(?!={7}\r?$)[^\n]*\n)*?)?={7}\r?\n(?P<theirs>(?:(?!>{7})[^\n]*\n)*?)>{7}(?:[ \t][^\r\n]*)?\r?$",
    re.MULTILINE,
)
_LETTERS = re.compile(rb"[^\r\n]")


class Merge(NamedTuple):
    """An unfinished merge: the 1-based line of its first mark, the *number* of them, and the two files that it stands between.

    What a side has not is blanks in it, so that places are the same in both.
    """

    line: int
    number: int
    ours: bytes
    theirs: bytes


def unfinished(data: bytes) -> Merge | None:
    """The merge that was left in *data*; None where there is none."""
    if b"<<<<<<<" not in data or b">>>>>>>" not in data:
        return None
    found = list(_MERGE.finditer(data))
    if not found:
        return None
    ours, theirs = bytearray(data), bytearray(data)
    for match in found:
        for side, name in ((ours, "ours"), (theirs, "theirs")):
            kept = match.span(name)
            side[match.start() : kept[0]] = _LETTERS.sub(b" ", data[match.start() : kept[0]])
            side[kept[1] : match.end()] = _LETTERS.sub(b" ", data[kept[1] : match.end()])
    return Merge(data.count(b"\n", 0, found[0].start()) + 1, len(found), bytes(ours), bytes(theirs))
