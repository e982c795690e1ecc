"""Says in words, step for step, why a request lands where it does: for people who want to know why a user gets a language."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar import lookups
from lemmar.lookups import tries
from lemmar.resolve.runtimes import BY_CHAIN, BY_REST, chain_entry, land, wishes
from lemmar.resolve.world import Landing, Runtime
from lemmar.tags import LanguageTag, TagError, distance, truncations
from lemmar.tags.matching import DEMOTION, THRESHOLD


def reasons(runtime: Runtime, request: str) -> list[str]:
    """The steps by which *request* lands, each a sentence, in their order."""
    found = land(runtime, request)
    every = wishes(request)
    if not every:
        return [f"{request!r} wishes for no language", *_end(runtime, found)]
    if lookups.load(runtime.lookup).of_all is not None:
        return [*_distances(runtime, every), *_end(runtime, found)]
    lines: list[str] = []
    for wish in every:
        lines += _wish(runtime, wish, found)
        if wish == found.wish:
            break
    return [*lines, *_end(runtime, found)]


def _wish(runtime: Runtime, wish: str, found: Landing) -> Iterator[str]:
    """What is tried for one wish, up to where it is found."""
    here = wish == found.wish
    if runtime.first and (entry := chain_entry(runtime, wish, shortened=False)) is not None:
        yield f"its chain, which goes first, has {', '.join(entry)} for {wish}"
        if here and found.step == BY_CHAIN:
            return
    lookup = lookups.load(runtime.lookup)
    wanted = lookup.forms(wish)
    if lookup.exact_first and wish.lower() not in (form.lower() for form in wanted):
        wanted = [wish, *wanted]
    steps = tries(runtime.lookup, wish, runtime.supported)
    if not steps:
        yield f"{runtime.lookup} looks for {', '.join(wanted)}: {'none of them is' if len(wanted) > 1 else 'it is not'} supported"
    else:
        hit = steps[0].tag
        before = []
        for form in wanted:
            if form.lower() == hit.lower():
                break
            before.append(form)
        if len(before) == len(wanted):
            yield f"{runtime.lookup} looks for {', '.join(wanted)}, and takes {hit}: {_alike(runtime, wish, hit)}"
        else:
            passed = f"{', '.join(before)} (not supported), then " if before else ""
            yield f"{runtime.lookup} looks for {passed}{hit}, which is supported"
    if not (here and steps and found.step != BY_CHAIN):
        for form in truncations(wish) if runtime.chain else ():
            if form.lower() in runtime.chain:
                links = ", ".join(chain_entry(runtime, form) or ())
                yield f"its chain has {links} for {form}"
                return


def _alike(runtime: Runtime, wish: str, hit: str) -> str:
    asks = lookups.load(runtime.lookup).asks
    if asks is not None and hit not in {str(step.tag) for step in tries(asks, wish, runtime.supported)}:
        return "the nearest of the same language and script"
    return "the same language, script and region, written otherwise"


def _distances(runtime: Runtime, every: list[str]) -> Iterator[str]:
    for place, wish in enumerate(every):
        near = sorted((cost, order, tag) for order, tag in enumerate(runtime.supported) if (cost := _cost(wish, tag)) is not None)[:3]
        shown = ", ".join(f"{tag} at {cost}" for cost, _, tag in near)
        late = f", {DEMOTION * place} more for a later wish" if place else ""
        yield f"nearest to {wish}: {shown or f'nothing within {THRESHOLD}'}{late if shown else ''}"


def _cost(wish: str, tag: str) -> int | None:
    try:
        cost = distance(LanguageTag.parse(wish), LanguageTag.parse(tag))
    except TagError:
        return None
    return cost if cost < THRESHOLD else None


def _end(runtime: Runtime, found: Landing) -> Iterator[str]:
    if found.step == BY_REST:
        yield f"its chain has {', '.join(runtime.rest or ())} for the rest"
    elif not runtime.falls_back and found.wish is None:
        yield "it has no default, so nothing answers"
    elif found.wish is None:
        there = "" if runtime.default in runtime.supported else ", which is not supported"
        yield f"so the default answers, {runtime.default}{there}"
