"""Delimited sheets (RFC 4180, and its variants with tabs and semicolons): rows of cells, and where each cell stands.

A quote that is never closed loses the rest of the file for most readers. Here it is told, its row is read as if the quote
were a letter, and the rows after it are read as usual.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator
from typing import NamedTuple

_DELIMITERS = (",", "\t", ";", "|")
_HEAD_LINES = 20
_LINE_END = re.compile("\r\n|\n|\r")


class Row(NamedTuple):
    """The cells of a row, and the 1-based line that it begins on."""

    line: int
    cells: list[str]


class Sheet(NamedTuple):
    """The rows of a sheet, blank ones left out, and the lines on which a quote opens that nothing closes."""

    delimiter: str
    rows: list[Row]
    unclosed: list[int]


def find_delimiter(text: str, suffix: str = "") -> str:
    """The separator of cells: what the fullest of the first lines has most of; a tab in ``.tsv`` files.

    The first line alone would do where it is the header, but a title may stand above that.
    """
    if suffix == ".tsv":
        return "\t"
    heads = [re.sub(r'"[^"]*"', "", line) for line in _LINE_END.split(text[:65536]) if line.strip()][:_HEAD_LINES]
    first = heads[0] if heads else ""
    if not any(sign in first for sign in _DELIMITERS):  # a title: the lines that follow decide, by what most of them have
        return max(_DELIMITERS, key=lambda sign: (sum(sign in head for head in heads), -_DELIMITERS.index(sign)))
    return max(_DELIMITERS, key=lambda sign: (first.count(sign), -_DELIMITERS.index(sign)))


def read_rows(text: str, delimiter: str) -> Sheet:
    """The sheet's rows. Quotes are doubled inside quotes, and count only where they begin a cell."""
    if '"' not in text:
        parts = enumerate(_LINE_END.split(text), start=1)
        return Sheet(delimiter, [Row(line, part.split(delimiter)) for line, part in parts if part.strip()], [])
    rows: list[Row] = []
    unclosed: list[int] = []
    lines = _LINE_END.split(text) if "\r" in text else text.split("\n")
    start = 0
    while start < len(lines):
        broken = _read_quoted(lines, start, delimiter, rows)
        if broken is None:
            break
        unclosed.append(broken + 1)
        rows.append(Row(broken + 1, lines[broken].split(delimiter)))
        start = broken + 1
        if len(unclosed) >= 100:  # a file of broken quotes: told often enough, the rest is read without quotes
            rows += [Row(index + 1, lines[index].split(delimiter)) for index in range(start, len(lines)) if lines[index].strip()]
            break
    return Sheet(delimiter, rows, unclosed)


def _read_quoted(lines: list[str], start: int, delimiter: str, rows: list[Row]) -> int | None:
    """Adds the rows from line index *start* on; gives the line index of a row whose quote is never closed."""
    csv.field_size_limit(2**31 - 1)
    reader = csv.reader(io.StringIO("\n".join(lines[start:]) + "\n", newline="\n"), delimiter=delimiter)
    numbered = [(cells, reader.line_num) for cells in reader]
    ends = [0, *(end for _, end in numbered)]
    last = start + ends[-2] if numbered else start
    broken = bool(numbered) and _left_open(lines, last, delimiter)
    found = [Row(start + end + 1, cells) for end, (cells, _) in zip(ends, numbered, strict=False)]
    rows += [row for row in (found[:-1] if broken else found) if len(row.cells) > 1 or (row.cells and row.cells[0].strip())]
    return last if broken else None


def _left_open(lines: list[str], line: int, delimiter: str) -> bool:
    """Whether the last row, which begins at the index *line*, ends inside quotes."""
    return any(not cell.closed for cell in cells("\n".join(lines[line:]), delimiter))


class Cell(NamedTuple):
    """A cell's place: 0-based row and column, the code points it spans, and whether a quote that it opens is closed."""

    row: int
    column: int
    start: int
    end: int
    closed: bool


def cells(text: str, delimiter: str) -> Iterator[Cell]:
    """The place of every cell, in order; rows are counted as `read_rows` counts them before it leaves blank ones out.

    A quote that nothing closes is a letter.
    """
    plain = re.compile(f"[^{re.escape(delimiter)}\r\n]*+")
    quoted = re.compile(r'"[^"]*+(?:""[^"]*+)*+("?)')
    position = row = column = 0
    while True:
        start = position
        closed = True
        if text.startswith('"', position):
            match = quoted.match(text, position)
            assert match is not None
            closed = bool(match.group(1))
            position = match.end() if closed else position
        tail = plain.match(text, position)
        position = tail.end() if tail else position
        yield Cell(row, column, start, position, closed)
        if position >= len(text):
            return
        if text.startswith(delimiter, position):
            position, column = position + 1, column + 1
            continue
        position += 2 if text.startswith("\r\n", position) else 1
        row, column = row + 1, 0
