"""``inherit``: canonical form, likely script, then CLDR's parents (UTS 35, Parent Locales); at each step the equal tag, else the first with the
same maximized form.
"""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.lookups._lookup import THE_REQUEST, Known, Lookup, Steps, equal, is_alone, parsed, with_script
from lemmar.tags import Tag


def forms(request: str) -> list[str]:
    """The request in canonical form with its likely script, and its parents."""
    tag = parsed(request)
    if tag is None or is_alone(tag):
        return [request]
    start = with_script(tag.canonical())
    return [str(each) for each in (start, *start.parents())]


def steps(request: str, known: Known, among: Sequence[Tag]) -> Steps:
    """The supported tags of the request and its parents."""
    tag = parsed(request)
    if tag is None or is_alone(tag):
        yield from equal([request], known, THE_REQUEST)
        return
    start = with_script(tag.canonical())
    full = {each: other.maximized() for each in among if (other := parsed(each)) is not None and not is_alone(other)}
    for step in (start, *start.parents()):
        same = known.get(str(step).lower())
        if same is None:
            wanted = step.maximized()
            same = next((each for each, maximized in full.items() if maximized == wanted), None)
        if same is not None:
            yield same, "the request's parents"


LOOKUP = Lookup("inherit", "the request, then its parents by CLDR; what has the same maximized form is equal (UTS 35)", forms, steps)
