"""Simplified and traditional characters."""

from __future__ import annotations

from collections.abc import Iterable
from functools import cache
from typing import NamedTuple

from lemmar.prose._tables import table


class Characters(NamedTuple):
    """How many characters of some texts are only simplified forms, and how many only traditional ones."""

    simplified: int
    traditional: int


@cache
def _sets() -> tuple[frozenset[str], frozenset[str]]:
    return frozenset(table("chinese")["simplified"]), frozenset(table("chinese")["traditional"])


def characters(texts: Iterable[str]) -> Characters:
    """Counts the characters of *texts* that are only the one or only the other; those that are both count for none."""
    simplified, traditional = _sets()
    first = second = 0
    for text in texts:
        if not text.isascii():
            first += sum(sign in simplified for sign in text)
            second += sum(sign in traditional for sign in text)
    return Characters(first, second)
