"""Where the words of a text stand: what a translator may write otherwise, between placeholders, markup and the signs of a syntax."""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._shape import Syntax

Span = tuple[int, int]
_APART = expression(r"<[^<>]*>|&#?[A-Za-z0-9]{1,12};|https?://\S+|[\w.+-]+@[\w-]+\.[\w.]+|\\[nrt\"'\\]|%[%n]")


def words(syntax: Syntax, text: str) -> list[list[Span]]:
    """The spans of *text* in which words stand, in their order, without placeholders, markup, references, addresses; those of each branch apart."""
    groups = syntax.words(text) if syntax.words is not None else [[(0, len(text))]]
    taken = [match.span() for match in _APART.finditer(text)]
    if syntax.placeholder is not None:
        taken += [match.span() for match in syntax.placeholder.finditer(text) if match.end() > match.start()]
    return [[piece for span in spans for piece in _without(span, taken) if piece[0] < piece[1]] for spans in groups]


def _without(span: Span, taken: list[Span]) -> list[Span]:
    pieces, start = [], span[0]
    for first, last in sorted(taken):
        if last <= start or first >= span[1]:
            continue
        pieces.append((start, max(first, start)))
        start = max(start, last)
    return [*pieces, (start, span[1])]
