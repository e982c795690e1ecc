"""Rows: things of one kind beside each other in a text, such as the items of a list. One more is put in as the others stand, one is taken out as if
it had never been there.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.splicing import EditError, Splice

Span = tuple[int, int]
_COMMENT = r"//[^\r\n]*+|/\*(?:[^*]|\*(?!/))*+\*/|<!--(?:[^-]|-(?!->))*+-->|#[^\r\n]*+|--[^\r\n]*+"
_BETWEEN = expression(rf"(?:\s++|{_COMMENT})*+")
_SAME_LINE = expression(r"(?:[ \t]++|/\*(?:[^*\r\n]|\*(?!/))*+\*/)*+")
_ONLY_COMMENTS = expression(rf"(?:[ \t]++|{_COMMENT})*+")
_LINE_END = expression(r"\r\n|\n|\r")


class Row(NamedTuple):
    """The spans of the *items* in their order, the span *inside* of what holds them, and the *sign* that parts them (``""``: only blanks do)."""

    inside: Span
    items: tuple[Span, ...]
    sign: str = ","


class Nest(NamedTuple):
    """A piece of a document or of code, and the pieces in it. *kind* is what it is; *sign* parts its pieces; *is_row* says that they are of one kind
    even where there is one only. *inside* is where pieces may stand.
    """

    start: int
    end: int
    pieces: Callable[[], Sequence[Nest]]
    kind: str = ""
    sign: str = ""
    is_row: bool = False
    inside: Span | None = None


class Place(NamedTuple):
    """A row, and which of its items holds each span that was asked for."""

    row: Row
    items: tuple[int, ...]
    kinds: tuple[str, ...]


def row_of(text: str, root: Nest, spans: Sequence[Span]) -> Place:
    """The row in which the *spans* stand side by side: the innermost piece that holds them all.

    Raises:
        EditError: they do not stand side by side, or there is none.
    """
    if not spans:
        raise EditError("no locale stands there, beside which another could be put")
    nest, pieces, inner = root, list(root.pieces()), True
    found: tuple[Nest, list[Nest]] | None = None
    while inner:
        if len(spans) == 1 and nest.is_row:
            found = nest, pieces
        inner = False
        for piece in pieces:
            if all(piece.start <= start and end <= piece.end for start, end in spans) and piece.start < piece.end:
                nest, inner = piece, True
                pieces = list(piece.pieces())
                break
    if len(spans) > 1:
        found = nest, pieces
    if found is None:
        raise EditError("the locale stands alone, so that it is not known how another would stand beside it")
    nest, pieces = found
    items = tuple(
        next((number for number, piece in enumerate(pieces) if piece.start <= start and end <= piece.end), -1) for start, end in spans
    )
    if -1 in items or (len(spans) > 1 and len(set(items)) < 2):
        raise EditError("the locales do not stand side by side")
    kinds = {pieces[number].kind for number in items}
    row = Row(nest.inside or (nest.start, nest.end), tuple((piece.start, piece.end) for piece in pieces), nest.sign)
    first, last = min(items), max(items)
    for one, other in zip(row.items[first:last], row.items[first + 1 : last + 1], strict=True):
        if not _parts(text[one[1] : other[0]], row.sign):
            raise EditError("the locales do not stand side by side: something else is between them")
    if len(kinds) > 1 and not nest.is_row:
        raise EditError("the locales do not stand side by side: each is in a place of another kind")
    return Place(row, items, tuple(piece.kind for piece in pieces))


def _parts(between: str, sign: str) -> bool:
    """Whether nothing but the *sign*, blanks and comments stand between two items."""
    left = _BETWEEN.sub("", between) if sign not in ("#", "-") else between.strip()
    return left in ("", sign)


class _Item(NamedTuple):
    """How an item stands: where its line begins, where the sign behind it does and ends (the same: there is none), where its line ends, and whether
    it has its lines for itself.
    """

    start: int
    end: int
    line: int
    sign: int
    behind: int
    line_end: int
    alone: bool


def _item(text: str, row: Row, number: int) -> _Item:
    start, end = row.items[number]
    line = max(text.rfind("\n", 0, start), text.rfind("\r", 0, start)) + 1
    sign = behind = end
    if row.sign:
        gap = _SAME_LINE.match(text, end)
        at = gap.end() if gap else end
        if text.startswith(row.sign, at):
            sign, behind = at, at + len(row.sign)
    ended = _LINE_END.search(text, behind)
    line_end = ended.start() if ended else len(text)
    rest = _ONLY_COMMENTS.fullmatch(text, behind, line_end) is not None
    return _Item(start, end, line, sign, behind, line_end, rest and not text[line:start].strip(" \t"))


def _newline(text: str, at: int) -> str:
    found = _LINE_END.search(text, at) or _LINE_END.search(text)
    return found.group() if found else "\n"


def _apart(text: str, row: Row) -> int:
    """How many line ends part two items that have lines for themselves."""
    gaps = [len(_LINE_END.findall(text[one[1] : other[0]])) for one, other in zip(row.items, row.items[1:], strict=False)]
    return max(min((gap for gap in gaps if gap), default=1), 1)


def inserted(text: str, row: Row, pieces: str | Sequence[str], after: int) -> list[Splice]:
    """*pieces* as more items behind the one with the number *after*; -1: before the first."""
    several = [pieces] if isinstance(pieces, str) else list(pieces)
    if not row.items:
        return [Splice(row.inside[0], row.inside[0], row.sign.join(several))]
    near = _item(text, row, max(after, 0))
    is_last = after == len(row.items) - 1
    indent = text[near.line : near.start]
    newline = _newline(text, near.line_end)
    if near.alone:
        apart = newline * _apart(text, row)
        piece = f"{row.sign}{apart}{indent}".join(several)
        if after < 0:
            return [Splice(near.line, near.line, f"{indent}{piece}{row.sign}{apart}")]
        if is_last and row.sign and near.sign == near.behind:
            return [Splice(near.end, near.end, row.sign), Splice(near.line_end, near.line_end, f"{apart}{indent}{piece}")]
        return [Splice(near.line_end, near.line_end, f"{apart}{indent}{piece}{row.sign if near.sign < near.behind else ''}")]
    if after >= 0 and is_last and not indent.strip(" \t") and near.line and len(row.items) > 1 and _apart_lines(text, row):
        return [Splice(near.end, near.end, "".join(f"{row.sign}{newline}{indent}{piece}" for piece in several))]
    gap = _gap(text, row)
    piece = gap.join(several)
    return [Splice(near.start, near.start, piece + gap)] if after < 0 else [Splice(near.end, near.end, gap + piece)]


def _apart_lines(text: str, row: Row) -> bool:
    """Whether each item stands on another line than the one before it."""
    return all(_LINE_END.search(text[one[1] : other[0]]) for one, other in zip(row.items, row.items[1:], strict=False))


def _gap(text: str, row: Row) -> str:
    """What stands between two items on one line."""
    gaps = [text[one[1] : other[0]] for one, other in zip(row.items, row.items[1:], strict=False)]
    plain = [gap for gap in gaps if gap.strip() in ("", row.sign)]
    same_line = [gap for gap in plain if not _LINE_END.search(gap)]
    if same_line:
        return max(set(same_line), key=lambda gap: (same_line.count(gap), gap))
    return plain[-1] if plain else f"{row.sign} " if row.sign else " "


def removed(text: str, row: Row, numbers: Iterable[int]) -> list[Splice]:
    """The items with those *numbers* taken out, each with what parts it from its neighbours."""
    gone = sorted(set(numbers))
    found: list[Splice] = []
    runs: list[list[int]] = []
    for number in gone:
        if runs and runs[-1][-1] == number - 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    for run in runs:
        found += _run_removed(text, row, run[0], run[-1])
    return found


def _run_removed(text: str, row: Row, first: int, last: int) -> list[Splice]:
    """The items from *first* to *last* taken out."""
    begin, end = _item(text, row, first), _item(text, row, last)
    at_end = last == len(row.items) - 1
    if begin.alone and end.alone:
        found: list[Splice] = []
        if at_end and first and row.sign and end.sign == end.behind:
            before = _item(text, row, first - 1)
            if before.sign < before.behind:
                found.append(Splice(before.sign, before.behind, ""))
        ended = _LINE_END.match(text, end.line_end)
        start, stop = begin.line, ended.end() if ended else end.line_end
        above = _item(text, row, first - 1).line_end if first else None
        if above is not None and above <= begin.line and not text[above : begin.line].strip():
            start, stop = above, end.line_end  # with the empty lines before it
        elif not first and not at_end:
            following = _item(text, row, last + 1).line
            if following >= stop and not text[stop:following].strip():
                stop = following
        return [*found, Splice(start, stop, "")]
    if first:
        before_end = row.items[first - 1][1]
        gap_before, gap_after = text[before_end : begin.start], text[end.end : row.items[last + 1][0]] if not at_end else ""
        if not at_end and _LINE_END.search(gap_before) and not _LINE_END.search(gap_after):
            return [Splice(begin.start, row.items[last + 1][0], "")]
        return [Splice(before_end, end.end, "")]
    return [Splice(begin.start, row.items[last + 1][0] if not at_end else end.behind, "")]


def place_for(texts: Sequence[str], new: str, numbers: Sequence[int]) -> int:
    """Behind which of the items, whose *numbers* and *texts* are given in their order, *new* belongs: the last, or where the alphabet has it if the others
    follow that; -1 for before the first.
    """
    if not numbers:
        return -1
    for key in (str, str.lower):
        rest = [key(text) for text in texts]
        start = 0 if rest == sorted(rest) else 1  # a list may begin with its source
        if len(rest) - start >= _SORTED and rest[start:] == sorted(rest[start:]):
            smaller = [number for number, text in zip(numbers[start:], rest[start:], strict=True) if text < key(new)]
            return smaller[-1] if smaller else numbers[start - 1] if start else numbers[0] - 1
    return numbers[-1]


#: So many items in the order of the alphabet are no accident.
_SORTED = 4


def lines_as_nest(text: str) -> Nest:
    """The lines of *text* beside each other: where nothing else is known of it."""
    spans = []
    position = 0
    for ended in re.finditer(r"\r\n|\n|\r|\Z", text):
        line = text[position : ended.start()]
        blank = len(line) - len(line.lstrip(" \t"))
        if line.strip():
            spans.append((position + blank, position + len(line.rstrip(" \t"))))
        position = ended.end()
    return Nest(0, len(text), lambda: [Nest(start, end, tuple, "line") for start, end in spans], "lines")
