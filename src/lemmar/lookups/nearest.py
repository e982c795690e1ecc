"""``nearest``: UTS 35 language matching of all wishes together: the least distance."""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.lookups import exact
from lemmar.lookups._lookup import Known, Lookup, Steps
from lemmar.tags import Tag, nearest


def steps(request: str, _known: Known, among: Sequence[Tag]) -> Steps:
    """The one supported tag that is nearest to the request."""
    found = nearest([request], among)
    if found is not None:
        yield Tag(found), "the least distance"


LOOKUP = Lookup("nearest", "the least distance of all wishes together (UTS 35)", exact.forms, steps, of_all=nearest, asks="inherit")
