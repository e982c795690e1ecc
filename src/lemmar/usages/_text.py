"""Reading source text by expressions: what is between quotes, between brackets, and in which line."""

from __future__ import annotations

from bisect import bisect_right
from functools import cached_property

from lemmar.expressions import expression

#: Longer texts between quotes are no key.
LONGEST = 300
_QUOTED = tuple(expression(rf"(?<={sign})[^{sign}\n\r]{{1,{LONGEST}}}(?={sign})") for sign in "\"'`")
_BLANKED = expression(r"[^\n\r]")
_BACKSLASH = expression(r"\\([\"'`\\])")
#: So far a call's end is looked for.
_FARTHEST = 4_000
_CLOSING = {"(": ")", "[": "]", "{": "}"}


class Lines:
    """A text, and where its lines begin."""

    def __init__(self, text: str) -> None:
        self.text = text

    @cached_property
    def _starts(self) -> list[int]:
        return [0, *(index + 1 for index, sign in enumerate(self.text) if sign == "\n")]

    def place(self, offset: int) -> tuple[int, int]:
        """Line and column of an *offset*, both from 1."""
        line = bisect_right(self._starts, offset)
        return line, offset - self._starts[line - 1] + 1


def quoted(text: str) -> tuple[str, ...]:
    """All that stands between two quotation marks of one kind in a line, each once; also what stands between two texts, since nobody knows
    which of the marks opens.
    """
    found: dict[str, None] = {}
    for mark, sign in zip("\"'`", _QUOTED, strict=True):
        if mark in text:
            found.update(dict.fromkeys(sign.findall(text)))
    return tuple(_BACKSLASH.sub(r"\1", each) if "\\" in each else each for each in found)


def blanked(text: str) -> str:
    """Blanks, as long as *text* and in the same lines."""
    return _BLANKED.sub(" ", text)


def closing(text: str, start: int) -> int:
    """Behind the bracket that closes the one at *start*; quotation marks count. *start* itself where none is near."""
    waiting: list[str] = []
    quote = ""
    index, end = start, min(len(text), start + _FARTHEST)
    while index < end:
        sign = text[index]
        if quote:
            if sign == "\\":
                index += 1
            elif sign == quote:
                quote = ""
        elif sign in "\"'`":
            quote = sign
        elif sign in _CLOSING:
            waiting.append(_CLOSING[sign])
        elif sign in ")]}":
            if not waiting or waiting.pop() != sign:
                return start
            if not waiting:
                return index + 1
        index += 1
    return start
