"""``kin``: as `inherit`, then the supported locale of the same language and script with the least UTS 35 distance (``fr-CH`` takes ``fr-CA``)."""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.lookups import inherit
from lemmar.lookups._lookup import Known, Lookup, Steps, is_alone, parsed
from lemmar.tags import Tag, distance


def steps(request: str, known: Known, among: Sequence[Tag]) -> Steps:
    """The supported parents, then the nearest of kin."""
    yield from inherit.steps(request, known, among)
    tag = parsed(request)
    if tag is None or is_alone(tag):
        return
    whole = tag.canonical().maximized()
    near = []
    for place, each in enumerate(among):
        other = parsed(each)
        if other is None or is_alone(other):
            continue
        full = other.maximized()
        if (full.language, full.script) == (whole.language, whole.script):
            near.append((distance(tag.canonical(), other.canonical()), place, each))
    if near:
        yield min(near)[2], "the nearest of the same language and script"


LOOKUP = Lookup("kin", "as inherit, then the nearest of the same language and script", inherit.forms, steps, asks="inherit")
