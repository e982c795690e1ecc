"""What is assumed of several clients is one finding."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.phrasing import joined
from lemmar.findings import Subject
from lemmar.resolve.outlines import Overview
from lemmar.resolve.spots import charter_spot
from lemmar.rules._problem import Problem

#: So many clients are named.
_NAMED = 6


def assumption(seen: Overview, fact: str, text: str, effect: str, remedy: str, detail: str = "") -> Iterator[Problem]:
    """One problem for all clients of which a *fact* is assumed, at the first one's table in the charter; *text* has a place for their names."""
    names = tuple(client.name for client in seen.clients if client.outcome.is_silent(fact))
    if names:
        index = next(index for index, entry in enumerate(seen.charter.client) if entry.name == names[0])
        where = charter_spot(seen, "client", index)
        yield Problem(Subject(names), text.format(f"nothing in {joined(names, _NAMED)} says"), where, effect, remedy, detail=detail or fact)
