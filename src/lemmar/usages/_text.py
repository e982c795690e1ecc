"""Reading source text by expressions: what is between quotes, between brackets, and in which line."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterator, Mapping
from functools import cache, cached_property
from typing import NamedTuple

from lemmar.basics.expressions import expression

#: Longer texts between quotes are no key.
LONGEST = 300
_QUOTED = tuple(expression(rf"(?<={sign})[^{sign}\n\r]{{1,{LONGEST}}}(?={sign})") for sign in "\"'`")
_BLANKED = expression(r"[^\n\r]")
_BACKSLASH = expression(r"\\([\"'`\\])")
#: So far a call's end is looked for.
_FARTHEST = 2_000
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


def masked(
    text: str, pairs: Mapping[str, str], mask: Callable[[str], str], is_none: Callable[[str, int], bool] = lambda _text, _at: False
) -> str:
    """*text* with what stands between each of the *pairs*, which open and close it, as *mask* makes of it; an opening that *is_none* is passed over.

    Each closing is looked for once from each opening, and not again once there is none, so that it takes one pass.
    """
    opening = _opening(tuple(pairs))
    pieces, done, gone = [], 0, set()
    match = opening.search(text)
    while match is not None:
        close = pairs[match[0]]
        end = -1 if close in gone or is_none(text, match.start()) else text.find(close, match.end())
        if end < 0:
            if not is_none(text, match.start()):
                gone.add(close)
            match = opening.search(text, match.end())
            continue
        pieces += [text[done : match.start()], mask(text[match.start() : end + len(close)])]
        done = end + len(close)
        match = opening.search(text, done)
    return "".join([*pieces, text[done:]])


@cache
def _opening(openings: tuple[str, ...]) -> re.Pattern[str]:
    return expression("|".join(re.escape(each) for each in sorted(openings, key=len, reverse=True)))


class Block(NamedTuple):
    """A block of a template: its offsets, what its head says behind its name, the text up to its end or its next form, and where that begins."""

    start: int
    end: int
    head: str
    text: str
    at: int


def blocks(text: str, name: str) -> Iterator[Block]:
    """The blocks of a template with that *name*, each up to ``end`` and its name; none within a text."""
    opening, closing_tag = _tags(name)
    done = 0
    ends = [match.span() for match in closing_tag.finditer(text)]
    number = 0
    for match in opening.finditer(text):
        if match.start() < done:
            continue
        while number < len(ends) and ends[number][0] < match.end():
            number += 1
        if number == len(ends):
            return
        inner_end = text.find("{%", match.end(), ends[number][1])
        is_form = inner_end == ends[number][0] or _PLURAL.match(text, inner_end) is not None
        if is_form:
            yield Block(match.start(), ends[number][1], match[1], text[match.end() : inner_end], match.end())
            done = ends[number][1]


_PLURAL = expression(r"\{%-?\s{0,9}plural(?:ize)?\b")


@cache
def _tags(name: str) -> tuple[re.Pattern[str], re.Pattern[str]]:
    named = re.escape(name)
    return expression(rf"\{{%-?\s{{0,9}}{named}\b([^%]{{0,400}}+)%\}}"), expression(rf"\{{%-?\s{{0,9}}end{named}\b[^%]{{0,200}}+%\}}")
