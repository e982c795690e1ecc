"""Delimited sheets (RFC 4180, and its variants with tabs and semicolons): rows of cells, and where each cell stands.

A quote that is never closed loses the rest of the file for most readers. Here it is a letter, and its cell says so.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from lemmar.basics.expressions import expression

_DELIMITERS = (",", "\t", ";", "|")
_HEAD_LINES = 20
LINE_END = expression("\r\n|\n|\r")


class Cell(NamedTuple):
    """A cell: its text, the code points that it spans, and whether a quote that it opens is closed."""

    text: str
    start: int
    end: int
    closed: bool = True


class Row(NamedTuple):
    """The cells of a row, and the code point that it begins at."""

    start: int
    cells: list[Cell]

    @property
    def texts(self) -> list[str]:
        """The cells' texts."""
        return [cell.text for cell in self.cells]


def find_delimiter(text: str, suffix: str = "") -> str:
    """The separator of cells: what the fullest of the first lines has most of; a tab in ``.tsv`` files.

    The first line alone would do where it is the header, but a title may stand above that.
    """
    if suffix == ".tsv":
        return "\t"
    heads = [re.sub(r'"[^"]*"', "", line) for line in LINE_END.split(text[:65536]) if line.strip()][:_HEAD_LINES]
    first = heads[0] if heads else ""
    if not any(sign in first for sign in _DELIMITERS):  # a title: the lines that follow decide, by what most of them have
        return max(_DELIMITERS, key=lambda sign: (sum(sign in head for head in heads), -_DELIMITERS.index(sign)))
    return max(_DELIMITERS, key=lambda sign: (first.count(sign), -_DELIMITERS.index(sign)))


def rows(text: str, delimiter: str) -> Iterator[Row]:
    """The rows of a sheet, blank ones left out. Quotes are doubled inside quotes, and count only where they begin a cell.

    A quote that nothing closes is a letter: the rows after it are read as usual.
    """
    plain = re.compile(f"[^{re.escape(delimiter)}\r\n]*+")
    position, row = 0, Row(0, [])
    while True:
        start, closed, quoted = position, True, ""
        if text.startswith('"', position):
            match = _QUOTED.match(text, position)
            closed = match is not None
            if match is not None:
                position, quoted = match.end(), match.group(1).replace('""', '"')
        tail = plain.match(text, position)
        end = tail.end() if tail else position
        row.cells.append(Cell(quoted + text[position:end], start, end, closed))
        position = end
        if position < len(text) and text.startswith(delimiter, position):
            position += 1
            continue
        if len(row.cells) > 1 or row.cells[0].text.strip():
            yield row
        if position >= len(text):
            return
        position += 2 if text.startswith("\r\n", position) else 1
        row = Row(position, [])


_QUOTED = expression(r'"([^"]*+(?:""[^"]*+)*+)"')
