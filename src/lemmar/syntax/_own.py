"""Syntaxes of a team's own: what a regular expression of the charter finds, within bounded time."""

from __future__ import annotations

from functools import lru_cache

from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Fault, Shape, Syntax

_SECONDS = 0.5


@lru_cache(maxsize=64)
def own(name: str, placeholder: str) -> Syntax:
    """The syntax *name*, whose placeholders the expression finds: its group ``name`` is the argument.

    Raises:
        ValueError: the expression cannot be read, or has no group of that name.
    """
    import regex

    try:
        found = regex.compile(placeholder)
    except regex.error as error:
        raise ValueError(f"the expression {placeholder!r} cannot be read: {error}") from error
    if "name" not in found.groupindex:
        raise ValueError(f"the expression {placeholder!r} has no group (?P<name>…)")

    def shape(text: str) -> Shape:
        try:
            return shape_of(match.group("name") or "" for match in found.finditer(text, timeout=_SECONDS))
        except TimeoutError:
            return Shape(fault=Fault(0, "the charter's expression for placeholders takes too long on this text"))

    return Syntax(name=name, shape=shape)
