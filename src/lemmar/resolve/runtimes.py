"""Runtimes: where a user's request lands in a client, why, and which catalogs are consulted there. Pure, by tables.

Source: DESIGN "What is computed" in the charter's own words, RFC 4647 and RFC 9110 section 12.5.4 for lists of wishes.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache

from lemmar import lookups
from lemmar.basics.expressions import expression
from lemmar.lookups import THE_REQUEST, Tried, by_small_letters, tries
from lemmar.resolve.world import Landing, Runtime
from lemmar.tags import Tag, truncations

_WEIGHT = expression(r"\s*([^\s;]+)\s*(?:;\s*[qQ]\s*=\s*([0-9.]+)\s*)?")
_MOST_LINKS = 64
#: The steps of a landing that are not the lookup's own.
BY_CHAIN, BY_REST, BY_DEFAULT = "the chain's entry for it", "the chain's entry for the rest", "the default"

#: Where a request lands that nothing answers, of a client without a default; no locale has that name.
NOTHING, BY_NOTHING = Tag("nothing"), "no default"


def wishes(request: str) -> list[str]:
    """The wishes of a list as an Accept-Language header gives it, the dearest first; ``*`` and what has no weight left out.

    An underscore counts as a hyphen.
    """
    found: list[tuple[float, int, str]] = []
    for place, piece in enumerate(request.split(",")):
        match = _WEIGHT.fullmatch(piece)
        if match is None:
            continue
        try:
            weight = float(match.group(2)) if match.group(2) else 1.0
        except ValueError:
            weight = 0.0
        if weight > 0 and not match.group(1).startswith("*"):
            found.append((-weight, place, match.group(1).replace("_", "-")))
    return [wish for _, _, wish in sorted(found)]


def land(runtime: Runtime, request: str) -> Landing:
    """Where *request* lands: the lookup's steps and the chain claim's entries for each wish, then the rest's entry and the default."""
    every, lookup = wishes(request), lookups.load(runtime.lookup)
    together = lookup.of_all(every, runtime.supported) if lookup.of_all is not None else None
    if together is not None:
        dearest = every[0]
        own = chain_entry(runtime, dearest, shortened=False) if runtime.first else None
        link = _supported_link(runtime, own) if own is not None and dearest.lower() not in map(str.lower, runtime.supported) else None
        if link is not None:
            return Landing(link, BY_CHAIN, dearest)
        return _of_all(runtime, every, Tag(together))
    entry_named = False
    for wish in every:
        own = chain_entry(runtime, wish, shortened=False) if runtime.first else None
        steps = tries(lookup.name, wish, runtime.supported) if lookup.of_all is None else []
        exact = [each for each in steps if each.tag.lower() == wish.lower()][:1] if lookup.exact_first else []
        links = _supported_link(runtime, own) if own is not None else None
        if own is not None:
            entry_named = True
        if exact:
            return Landing(exact[0].tag, exact[0].step, wish)
        if links is not None:
            return Landing(links, BY_CHAIN, wish)
        if steps:
            return Landing(steps[0].tag, steps[0].step, wish)
        entry = chain_entry(runtime, wish)
        if entry is not None:
            entry_named = True
            link = _supported_link(runtime, entry)
            if link is not None:
                return Landing(link, BY_CHAIN, wish)
    if runtime.rest is not None and not entry_named:
        link = _supported_link(runtime, _rest(runtime))
        if link is not None:
            return Landing(link, BY_REST, None)
    return Landing(runtime.default, BY_DEFAULT, None) if runtime.falls_back else Landing(NOTHING, BY_NOTHING, None)


def _of_all(runtime: Runtime, every: Sequence[str], found: Tag) -> Landing:
    """The landing in the one tag that answers all wishes together: what it is the answer to, and how."""
    known = by_small_letters(runtime.supported)
    exact = next((wish for wish in every if known.get(wish.lower()) == found), None)
    return Landing(found, THE_REQUEST if exact else "the least distance", exact or (every[0] if every else None))


def chain_entry(runtime: Runtime, wish: str, shortened: bool = True) -> tuple[Tag, ...] | None:
    """The links that the chain claim names for *wish*, else for the nearest of its shortened forms, links of links after them."""
    for form in truncations(wish) if shortened else [wish]:
        links = runtime.chain.get(form.lower())
        if links is not None:
            return tuple(_followed(runtime, links)) if runtime.transitive else links
    return None


def _rest(runtime: Runtime) -> tuple[Tag, ...]:
    """The links for all that the chain claim has no entry for."""
    links = runtime.rest or ()
    return tuple(_followed(runtime, links)) if runtime.transitive else links


def _followed(runtime: Runtime, links: Sequence[Tag]) -> Iterator[Tag]:
    """The links and theirs, depth first, each once."""
    seen: set[str] = set()
    stack = list(reversed(links))
    while stack and len(seen) < _MOST_LINKS:
        link = stack.pop()
        if link.lower() in seen:
            continue
        seen.add(link.lower())
        yield link
        stack += reversed(runtime.chain.get(link.lower(), ()))


def _supported_link(runtime: Runtime, links: Sequence[Tag]) -> Tag | None:
    known = by_small_letters(runtime.supported)
    return next((known[link.lower()] for link in links if link.lower() in known), None)


def consulted(runtime: Runtime, landing: Landing, with_catalog: Sequence[Tag], unmarked: Tag | None = None) -> list[Tag]:
    """The tags whose catalogs are asked, in order, for users who landed so: one where a catalog is chosen for all messages.

    *with_catalog* are those that have a catalog, *unmarked* is the locale of the file that every locale falls back to, if there is one.
    """
    known = by_small_letters(tuple(with_catalog))
    forms = [runtime.default, *lookups.load(runtime.lookup).forms(runtime.default)] if runtime.falls_back else []
    default = next((known[form.lower()] for form in forms if form.lower() in known), None)
    here = known.get(landing.tag.lower())
    if runtime.grain == "catalog":
        return [here or default] if here or default else []  # type: ignore[list-item]
    own = _supported(tuple(with_catalog), runtime.supported)
    steps = [each.tag for each in _steps(runtime, landing, own, with_catalog)]
    entry = chain_entry(runtime, landing.wish) if landing.wish is not None else None
    named = entry if entry is not None else _rest(runtime) if landing.step not in (BY_DEFAULT, BY_NOTHING) else ()
    links = [known[link.lower()] for link in named if link.lower() in known]
    before = runtime.first and landing.wish is not None and chain_entry(runtime, landing.wish, shortened=False) is not None
    chain = [*links, *steps] if before else [*steps, *links]
    if here is not None and landing.step == THE_REQUEST:
        chain.insert(0, here)
    if not (lookups.load(runtime.lookup).candidates and steps):
        chain += [default] if default is not None else []
    if unmarked is not None and unmarked.lower() in known:
        chain.append(known[unmarked.lower()])
    return list(dict.fromkeys(chain))


@lru_cache(maxsize=64)
def _supported(tags: tuple[Tag, ...], supported: tuple[Tag, ...]) -> tuple[Tag, ...]:
    """Those of *tags* that are supported, in their order."""
    known = by_small_letters(supported)
    return tuple(tag for tag in tags if tag.lower() in known)


def _steps(runtime: Runtime, landing: Landing, own: Sequence[Tag], with_catalog: Sequence[Tag]) -> list[Tried]:
    """The catalogs that the lookup's steps lead to, from what was wished for, or from where it landed."""
    if landing.wish is None:
        return []
    lookup = lookups.load(runtime.lookup)
    if lookup.candidates:
        held = by_small_letters(tuple(with_catalog))
        every = [Tried(held[each.lower()], "") for each in lookup.forms(landing.wish) if each.lower() in held]
        return every if any(each.tag.lower() == landing.tag.lower() for each in every) else []
    if lookup.asks is None:
        return tries(lookup.name, landing.wish, own)
    parents = tries(lookup.asks, landing.wish, own)
    if any(each.tag.lower() == landing.tag.lower() for each in parents) or landing.step == BY_CHAIN:
        return parents
    return tries(lookup.asks, landing.tag, own)
