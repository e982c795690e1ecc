"""Wide tables in as many blocks as the page wants."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TypeVar

_T = TypeVar("_T")


def blocks(columns: Sequence[_T], need: Callable[[_T], int], room: int) -> list[list[_T]]:
    """*columns* in their order, in blocks whose needs together fit the *room* (in characters); each block has one at least."""
    found: list[list[_T]] = [[]]
    for column in columns:
        if found[-1] and sum(map(need, found[-1])) + need(column) > room:
            found.append([])
        found[-1].append(column)
    return found
