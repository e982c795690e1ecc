"""Syntaxes of a team's own: what a regular expression of the charter finds, within bounded time."""

from __future__ import annotations

from functools import lru_cache

from lemmar.basics.bounded_expressions import compiled
from lemmar.basics.errors import IncompleteError
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Piece, Shape, Syntax

_SECONDS = 0.5


@lru_cache(maxsize=64)
def own(name: str, placeholder: str) -> Syntax:
    """The syntax *name*, whose placeholders the expression finds: its group ``name`` is the argument.

    Raises:
        ValueError: the expression cannot be read, or has no group of that name.
    """
    found = compiled(placeholder, small=False)
    if "name" not in found.groupindex:
        raise ValueError(f"the expression {placeholder!r} has no group (?P<name>…)")

    def shape(text: str) -> Shape:
        try:
            return shape_of(match.group("name") or "" for match in found.finditer(text, timeout=_SECONDS))
        except TimeoutError:
            raise IncompleteError(f"the charter's expression for placeholders, {placeholder!r}, takes too long on {text[:40]!r}") from None

    def pieces(text: str) -> list[Piece] | None:
        out, position = [], 0
        for match in found.finditer(text, timeout=_SECONDS):
            out += [Piece(text[position : match.start()]), Piece(match.group(), match.group("name") or "")]
            position = match.end()
        return [each for each in (*out, Piece(text[position:])) if each.text]

    return Syntax(name=name, shape=shape, pieces=pieces)
