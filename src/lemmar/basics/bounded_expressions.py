"""Regular expressions that a charter gives: compiled by a library that stops after a time, so that none of them can take forever."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from lemmar.basics.errors import IncompleteError

_SECONDS = 0.5


def wrong_expression(pattern: str) -> str:
    """What is wrong with an expression, in words; empty where it can be read."""
    try:
        compiled(pattern)
    except ValueError as error:
        return str(error)
    return ""


@lru_cache(maxsize=256)
def compiled(pattern: str, small: bool = True) -> Any:
    """The expression, in which *small* letters stand for capital ones as well. Raises `ValueError` where it cannot be read."""
    import regex

    try:
        return regex.compile(pattern, regex.IGNORECASE if small else 0)
    except regex.error as error:
        raise ValueError(f"the expression {pattern!r} cannot be read: {error}") from error


def found_in(expression: Any, text: str) -> bool:
    """Whether *text* has what an expression that was `compiled` finds. Raises `IncompleteError` where that takes too long."""
    try:
        return expression.search(text, timeout=_SECONDS) is not None
    except TimeoutError:
        raise IncompleteError(f"the charter's expression {expression.pattern!r} takes too long on {text[:40]!r}") from None
