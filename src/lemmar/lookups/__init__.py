"""Lookups: which of its supported locales a runtime tries for one wish, and in which order. One module a lookup; the registry lists this folder.

A lookup is literal: it compares tags as the client has them; case does not count.
"""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.basics.registry import Folder
from lemmar.lookups._lookup import THE_REQUEST, Lookup, Tried, by_small_letters
from lemmar.tags import Tag

_FOLDER: Folder[Lookup] = Folder(__name__, __path__, "LOOKUP")
names = _FOLDER.names
load = _FOLDER.load


def tries(name: str, request: str, among: Sequence[Tag]) -> list[Tried]:
    """Those of the tags *among* that the lookup *name* tries for *request*, in the order tried, each once.

    Raises:
        KeyError: there is no such lookup.
    """
    lookup = load(name)
    known = by_small_letters(tuple(among))
    found: dict[Tag, str] = {}
    if lookup.exact_first and request.lower() in known:
        found[known[request.lower()]] = THE_REQUEST
    if request.lower().startswith(("x-", "und-")):  # of no known language: nothing is near to it
        exact = known.get(request.lower())
        return [Tried(exact, THE_REQUEST)] if exact is not None else []
    for tag, step in lookup.steps(request, known, among):
        found.setdefault(tag, step)
    return [Tried(tag, step) for tag, step in found.items()]


__all__ = ["THE_REQUEST", "Lookup", "Tried", "by_small_letters", "load", "names", "tries"]
