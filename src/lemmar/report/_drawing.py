"""Draws results for people: colour never the only signal; as wide as the page; hostile text made visible.

Lines, margins and tables are all that is drawn, so that this is quicker than loading a general library for it: on a small
monorepo that would cost a fifth of an audit.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import visible

#: ANSI's select-graphic-rendition codes.
_STYLES = {
    "error": "1;31",
    "warning": "33",
    "note": "36",
    "clear": "1;32",
    "hold": "1;31",
    "incomplete": "1;33",
    "faint": "2",
    "strong": "1",
    "underline": "4",
    "added": "32",
    "removed": "31",
}
_GAP = "   "
_NARROWEST = 8
#: A longer word is cut where the line ends.
_LONGEST = 200
#: A line may end after a blank, or after the comma of a list.
_WORD = expression(r"[^\s,]*,+|[^\s,]+|\s+")


class Page(NamedTuple):
    """What a result is drawn on: whether it may have colour, and how many columns there are to fill."""

    colour: bool = False
    width: int = 100


class Piece(NamedTuple):
    """Text in one style."""

    text: str
    style: str = ""


class Block(NamedTuple):
    """Lines that are wrapped where they are too long, with a margin on their left; what is wrapped stands further in by *hang*."""

    lines: tuple[tuple[Piece, ...], ...]
    margin: int = 0
    hang: int = 0


class Table(NamedTuple):
    """Rows under a header; *sides* says for each column whether it stands ``left`` or ``right``."""

    header: tuple[str, ...]
    sides: tuple[str, ...]
    rows: tuple[tuple[Block, ...], ...]


Drawn = Block | Table | str


def plain(text: Any, style: str = "") -> Block:
    """One line of text that says what it is, whatever is in it."""
    return Block(((Piece(visible(str(text)), style),),))


def joined(*pieces: tuple[str, str] | str) -> Block:
    """Pieces on one line, each with a style or without."""
    return Block((tuple(Piece(visible(piece)) if isinstance(piece, str) else Piece(visible(piece[0]), piece[1]) for piece in pieces),))


def indented(text: Block | str, by: int, hang: int = 0) -> Block:
    """*text* with a margin on its left, also where it wraps, then *hang* columns more."""
    block = plain(text) if isinstance(text, str) else text
    return block._replace(margin=by, hang=hang)


def table(columns: Sequence[tuple[str, str]], rows: Iterable[Sequence[Any]]) -> Table:
    """A table; each column has a title and ``left`` or ``right``. Cells are texts, numbers, None, or drawn already.

    Columns with right-to-left texts stand last, so that what a terminal turns round is nothing but these.
    """
    drawn = [tuple(cell if isinstance(cell, Block) else plain("" if cell is None else cell) for cell in row) for row in rows]
    last = {number for row in drawn for number, cell in enumerate(row) if _runs_left(cell)}
    order = sorted(range(len(columns)), key=lambda number: number in last)
    titles, sides = tuple(columns[number][0] for number in order), tuple(columns[number][1] for number in order)
    return Table(titles, sides, tuple(tuple(row[number] for number in order) for row in drawn))


def _runs_left(block: Block) -> bool:
    """Whether any of a block's text runs from right to left (UAX 9)."""
    texts = (piece.text for line in block.lines for piece in line if not piece.text.isascii())
    return any(unicodedata.bidirectional(character) in ("R", "AL") for text in texts for character in text)


def render(parts: Iterable[Drawn], page: Page) -> Iterator[str]:
    """*parts* one below the other, line by line."""
    return (_encoded(line, page.colour) + "\n" for part in parts for line in _lines(part, page.width))


_Line = tuple[Piece, ...]


def _lines(part: Drawn, room: int) -> Iterator[_Line]:
    if isinstance(part, Table):
        yield from _table_lines(part, room)
    elif isinstance(part, str):
        yield from _lines(plain(part), room)
    else:
        for line in part.lines:
            for number, wrapped in enumerate(_wrapped(line, room - part.margin, part.hang)):
                margin = part.margin + (part.hang if number else 0)
                yield (Piece(" " * margin), *wrapped) if margin else wrapped


def _encoded(line: _Line, colour: bool) -> str:
    if not colour:
        return "".join(piece.text for piece in line).rstrip()
    return "".join(
        f"\x1b[{_STYLES[piece.style]}m{piece.text}\x1b[0m" if piece.style and piece.text else piece.text for piece in line
    ).rstrip()


# ---------------------------------------------------------------------------------------------------------------- measuring


def cells(text: str) -> int:
    """How many columns of a terminal *text* takes: two for wide characters, none for marks that combine (UAX 11)."""
    if text.isascii():
        return len(text)
    return sum(_cells_of(character) for character in text)


def _cells_of(character: str) -> int:
    if unicodedata.combining(character) or unicodedata.category(character) in ("Mn", "Me", "Cf"):
        return 0
    return 2 if unicodedata.east_asian_width(character) in ("W", "F") else 1


def _wrapped(line: _Line, room: int, hang: int = 0) -> list[_Line]:
    """*line* as as many lines as it takes, broken at blanks: a path, a pattern, a key is never cut, but for words beyond all measure."""
    text = "".join(piece.text for piece in line)
    if cells(text) <= room:
        return [line]
    return [_slice(line, start, start + len(text[start:end].rstrip())) for start, end in _cuts(text, room, hang)]


def _cuts(text: str, room: int, hang: int) -> Iterator[tuple[int, int]]:
    start, used = 0, 0
    for match in _WORD.finditer(text):
        position, need = match.start(), cells(match.group())
        if used + need <= room:
            used += need
            continue
        if match.group().isspace():
            continue  # it may stand past the edge, where nothing shows it
        if need <= room or _is_whole(match.group()):
            if used:
                yield start, position
            start, used = position, need + (hang if position else 0)
            continue
        for index in range(position, match.end()):  # as much of it as fits
            step = _cells_of(text[index])
            if used + step > room:
                yield start, index
                start, used = index, hang
            used += step
    if start < len(text):
        yield start, len(text)


def _is_whole(word: str) -> bool:
    """Whether a word stays in one piece though it is longer than the line: one of letters that are written without blanks does not."""
    return len(word) <= _LONGEST and cells(word) == len(word)


def _longest_word(block: Block) -> int:
    """How many columns the longest word of a block takes that is never cut."""
    texts = ("".join(piece.text for piece in line) for line in block.lines)
    return max((len(word) for text in texts for word in _WORD.findall(text) if _is_whole(word) and not word.isspace()), default=0)


def _slice(line: _Line, start: int, end: int) -> _Line:
    found, position = [], 0
    for piece in line:
        text = piece.text[max(0, start - position) : max(0, end - position)]
        if text:
            found.append(Piece(text, piece.style))
        position += len(piece.text)
    return tuple(found)


# ------------------------------------------------------------------------------------------------------------------- tables


def _table_lines(drawn: Table, room: int) -> Iterator[_Line]:
    widths = _fitted(_natural(drawn, _block_width), _natural(drawn, _longest_word), room - len(_GAP) * (len(drawn.header) - 1))
    header = tuple(plain(title, "strong") for title in drawn.header)
    yield from _row_lines(header, drawn.sides, widths)
    yield (Piece("─" * (sum(widths) + len(_GAP) * (len(widths) - 1))),)
    for row in drawn.rows:
        yield from _row_lines(row, drawn.sides, widths)


def _natural(drawn: Table, width: Callable[[Block], int]) -> list[int]:
    """How wide each column is by the *width* of its cells."""
    columns = list(zip(*drawn.rows, strict=True)) or [()] * len(drawn.header)
    return [max([width(plain(title)), *map(width, column)]) for title, column in zip(drawn.header, columns, strict=True)]


def _block_width(block: Block) -> int:
    return max(sum(cells(piece.text) for piece in line) for line in block.lines)


def _fitted(widths: list[int], least: list[int], room: int) -> list[int]:
    """The widths, the widest columns narrowed until all fit; none narrower than its *least*, so that they may not."""
    widths, least = list(widths), [max(each, _NARROWEST) for each in least]
    while sum(widths) > room:
        loose = [each for each, narrowest in zip(widths, least, strict=True) if each > narrowest]
        if not loose:
            break
        widest = max(loose)
        below = max((each for each in loose if each < widest), default=_NARROWEST)
        to = max(below, widest - max(1, (sum(widths) - room) // loose.count(widest)))
        widths = [
            max(to, narrowest) if each == widest and each > narrowest else each for each, narrowest in zip(widths, least, strict=True)
        ]
    return widths


def _row_lines(row: Sequence[Block], sides: Sequence[str], widths: Sequence[int]) -> Iterator[_Line]:
    columns = [[wrapped for line in block.lines for wrapped in _wrapped(line, width)] for block, width in zip(row, widths, strict=True)]
    for index in range(max(map(len, columns))):
        pieces: list[Piece] = []
        for number, (column, side, width) in enumerate(zip(columns, sides, widths, strict=True)):
            line = column[index] if index < len(column) else ()
            space = Piece(" " * (width - sum(cells(piece.text) for piece in line)))
            pieces += [Piece(_GAP)] if number else []
            pieces += [space, *line] if side == "right" else [*line, space]
        yield tuple(pieces)
