"""Resolves a client: which locales it supports, what stands in for what, and what its users therefore see."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Mapping, Sequence
from typing import Any, NamedTuple

from lemmar.charter.types import Charter
from lemmar.inventory import ClientFiles, Inventory
from lemmar.inventory.contents import Catalog
from lemmar.resolve.effective import BySpace, Held, WhenMissing, effect, held
from lemmar.resolve.layers import Layers, layers_of
from lemmar.resolve.pairing import pair_lists, same_language
from lemmar.resolve.runtimes import consulted, land
from lemmar.resolve.world import Client, Effect, Runtime, SourcePart, Space
from lemmar.tags import Tag


def resolve(charter: Charter, inventory: Inventory) -> tuple[Client, ...]:
    """Every client of the charter, resolved, in the charter's order."""
    return tuple(resolve_client(charter, files) for files in inventory.clients)


def resolve_client(charter: Charter, files: ClientFiles) -> Client:
    """One client of the charter, resolved."""
    catalogs = tuple(catalog for found in files.found for catalog in found.catalogs)
    layers = layers_of(files, catalogs, files.source)
    by_space = _by_space(catalogs, layers)
    roster, pseudo = tuple(map(Tag, charter.locales)), tuple(map(Tag, charter.roster.pseudo))
    supported, declared_by = _supported(files, catalogs, pseudo)
    names = tuple(name for found in files.found for name in found.names)
    claimed = [[entry.tag for entry in claim.entries if entry.tag] for claim in files.claims]
    shown = [list(dict.fromkeys(asset.tag for asset in assets.found)) for assets in files.assets]
    known_as = pair_lists([*claimed, [catalog.tag for catalog in catalogs], *([] if claimed else [supported]), *shown], (*roster, *pseudo))
    source = files.source
    if source not in known_as and source not in roster and _is_source(source, charter, known_as):
        known_as[source] = charter.source
    sources = _sources(by_space, source, charter.messages.source_only_keys)
    runtime = _runtime(files, supported, _default(charter, files, known_as))
    written = _written(files)
    with_catalog = {catalog.tag for catalog in catalogs}
    stands_for = _stands_for(supported, with_catalog, known_as)
    answering = (*stands_for, *(tag for tag in sorted(with_catalog) if tag not in stands_for))
    unmarked = source if files.traits["unmarked"].value in ("default", "root") else None
    asking = _Asking(runtime, known_as, by_space, sources, source, answering, stands_for, unmarked)
    effects = _effects(files, asking, roster)
    return Client(
        catalogs=catalogs,
        names=names,
        supported=supported,
        declared_by=declared_by,
        known_as=known_as,
        needs=tuple(tag for tag in roster if tag not in files.entry.without),
        default=runtime.default,
        sources=sources,
        by_space=by_space,
        layers=layers,
        effects=effects,
        beyond=_effects(files, asking, _beyond(supported, known_as, (*roster, *pseudo))),
        runtime=_literal(runtime, written),
        meant={literal: tag for tag, literals in written.items() for literal in reversed(literals) if literal != tag},
        source=source,
        answering=answering,
        stands_for=stands_for,
        unmarked=unmarked,
        trial={tag: share for tag, share in {**charter.roster.trial, **files.entry.trial}.items() if tag not in files.entry.without},
        own_locales={request: locale for locale, effect in reversed(effects.items()) for request in (locale, effect.tag)},
        **_as_read(files),
        held_locales=frozenset(known_as.get(tag, tag) for tag in with_catalog),
    )


def _as_read(files: ClientFiles) -> dict[str, Any]:
    """What a client is and has that nothing has to be resolved for."""
    entry = files.entry
    return {
        "name": entry.name,
        "kind": entry.kind,
        "root": entry.root,
        "traits": files.traits,
        "claims": files.claims,
        "faults": tuple(fault for found in files.found for fault in found.faults),
        "patterns": tuple(found.pattern for found in files.found),
        "carries_source": files.carried,
        "composed": files.composed.catalogs,
        "unmade": files.composed.unmade,
        "key_lists": files.key_lists,
        "usage": files.usage,
        "assets": files.assets,
        "fonts": files.fonts,
        "boxes": files.boxes,
        "expand": entry.expand or 0.0,
        "budget": entry.budget or "",
        "sizes": files.sizes,
    }


def _is_source(source: Tag, charter: Charter, known_as: Mapping[Tag, Tag]) -> bool:
    """Whether the client's *source* is what the roster calls its source: in the same language, and nothing else of the client is."""
    return same_language(source, charter.source) and charter.source not in known_as.values()


def _by_space(catalogs: Iterable[Catalog], layers: Layers) -> BySpace:
    spaces: dict[Space, dict[Tag, tuple[Catalog, ...]]] = {}
    for catalog in sorted(catalogs, key=lambda catalog: catalog.order):
        locales = spaces.setdefault(Space(catalog.part, layers[catalog.order, catalog.part]), {})
        locales[catalog.tag] = (*locales.get(catalog.tag, ()), catalog)
    return spaces


def _supported(files: ClientFiles, catalogs: Sequence[Catalog], pseudo: Sequence[Tag]) -> tuple[tuple[Tag, ...], str]:
    """The client's own tags for what it supports, and how that is known."""
    claimed = _claimed(files, ("supported",))
    claimed = [*claimed, *_claimed(files, ("source",))] if claimed else []  # manifests name the source beside the list
    if claimed and files.carried:  # a program whose translations hold the source's texts needs no word of it in its list
        claimed.append(files.source)
    filed = sorted({tag for tag in _filed(files, catalogs) if tag not in pseudo})
    if files.traits["supported"].value == "files":
        return tuple(dict.fromkeys([*claimed, *filed])), "files"  # a claim has an order of its own, a folder has none
    claimed = claimed or _claimed(files, ("offered", "routed"))
    return (tuple(dict.fromkeys(claimed)), "claims") if claimed else (tuple(filed), "nothing")


def _filed(files: ClientFiles, catalogs: Sequence[Catalog]) -> list[Tag]:
    """The locales that the client's files name, also of those that could not be read."""
    return [entry.tag for found in files.found for _, entry in found.names if entry.tag] + [catalog.tag for catalog in catalogs]


def _claimed(files: ClientFiles, states: tuple[str, ...]) -> list[Tag]:
    return [entry.tag for claim in files.claims if claim.states in states for entry in claim.entries if entry.tag]


def _default(charter: Charter, files: ClientFiles, known_as: Mapping[Tag, Tag]) -> Tag:
    """The client's default: what it claims, else the last link of the charter's default chain, by the client's own tag for it."""
    claimed = _claimed(files, ("default",))
    if claimed:
        return claimed[0]
    own = [tag for tag, known in known_as.items() if known == charter.default]
    return charter.default if charter.default in own or not own else files.source if files.source in own else own[0]


def _sources(by_space: BySpace, source: Tag, source_only: Sequence[str]) -> dict[Space, SourcePart]:
    """The messages of each space that the source locale has; what has no source text is no message."""
    found = {}
    for space, locales in by_space.items():
        catalogs = locales.get(source, ())
        if not catalogs:
            continue
        full = held(catalogs).full
        fixed = frozenset(key for catalog in catalogs for key in _fixed(catalog))
        if source_only:
            fixed |= frozenset(key for key in full if any(fnmatch.fnmatchcase(key, pattern) for pattern in source_only))
        order = dict.fromkeys(key for catalog in catalogs for key in catalog.column.keys)
        keys = tuple(key for key in order if key in full and key not in fixed) if fixed or len(full) != len(order) else tuple(order)
        found[space] = SourcePart(keys, full - fixed if fixed else full, fixed, catalogs)
    return found


def _fixed(catalog: Catalog) -> list[str]:
    return [catalog.column.keys[index] for index in catalog.column.rare.fixed]


def _runtime(files: ClientFiles, supported: tuple[Tag, ...], default: Tag) -> Runtime:
    """How the client answers, by its traits and its claims of a chain."""
    chain: dict[str, tuple[Tag, ...]] = {}
    rest: tuple[Tag, ...] | None = None
    transitive = False
    for claim in files.claims:
        for entry in claim.entries if claim.states == "chain" else ():
            link = entry.tag or Tag(entry.value.text)
            key = entry.value.label
            transitive = transitive or claim.transitive
            if key is None or key in ("default", "*"):
                rest = (*(rest or ()), link)
            else:
                chain[key.lower()] = (*chain.get(key.lower(), ()), link)
    traits = files.traits
    first = files.entry.runtime.chain == "first"
    falls_back = files.entry.runtime.default != "none"
    return Runtime(traits["lookup"].value, traits["grain"].value, supported, default, chain, rest, transitive, first, falls_back)


def _written(files: ClientFiles) -> dict[Tag, tuple[Tag, ...]]:
    """How the client writes each of its tags, in its claims and then in its files' names: the first way, and all in lists of what it supports,
    of which a lookup sees each.
    """
    found: dict[Tag, tuple[Tag, ...]] = {}
    claimed = [entry for claim in files.claims for entry in claim.entries]
    for entry in [*claimed, *(entry for each in files.found for _, entry in each.names)]:
        if entry.tag is not None and entry.literal is not None:
            found.setdefault(entry.tag, (entry.literal,))
    for entry in [entry for claim in files.claims if claim.states == "supported" for entry in claim.entries]:
        if entry.tag is not None and entry.literal is not None:
            found[entry.tag] = tuple(dict.fromkeys((*found[entry.tag], entry.literal)))
    return found


def _literal(runtime: Runtime, written: Mapping[Tag, tuple[Tag, ...]]) -> Runtime:
    """The runtime with its tags as the client writes them, which is how a program compares them."""

    def first(tag: Tag) -> Tag:
        return written.get(tag, (tag,))[0]

    supported = tuple(dict.fromkeys(literal for tag in runtime.supported for literal in written.get(tag, (tag,))))
    chain = {key: tuple(map(first, links)) for key, links in runtime.chain.items()}
    rest = tuple(map(first, runtime.rest)) if runtime.rest is not None else None
    return runtime._replace(supported=supported, default=first(runtime.default), chain=chain, rest=rest)


class _Asking(NamedTuple):
    """What decides which catalogs are asked: the fields are those of `Client`, the runtime as it is meant."""

    runtime: Runtime
    known_as: Mapping[Tag, Tag]
    by_space: BySpace
    sources: Mapping[Space, SourcePart]
    source: Tag
    answering: tuple[Tag, ...]
    stands_for: Mapping[Tag, Tag]
    unmarked: Tag | None


def _beyond(supported: Sequence[Tag], known_as: Mapping[Tag, Tag], charted: Sequence[Tag]) -> tuple[Tag, ...]:
    """What is supported and neither on the roster nor a test locale."""
    return tuple(dict.fromkeys(tag for tag in supported if known_as.get(tag, tag) not in charted))


def _effects(files: ClientFiles, asking: _Asking, roster: tuple[Tag, ...]) -> dict[Tag, Effect]:
    held_by: dict[tuple[Tag, Space], Held] = {}
    for space, locales in asking.by_space.items():
        for tag, catalogs in locales.items():
            held_by[tag, space] = held(catalogs)
    seen = WhenMissing(files.traits["on-miss"].value, files.traits["on-empty"].value, asking.source)
    first: dict[Tag, Tag] = {}
    for tag in asking.runtime.supported:
        first.setdefault(asking.known_as.get(tag, tag), tag)
    with_catalog = {tag for tag, _ in held_by}
    without = {found.pattern.number: found.pattern.without for found in files.found}
    effects: dict[Tag, Effect] = {}
    for locale in roster:
        own = first.get(locale)
        if own is not None:
            chain = consulted(asking.runtime, land(asking.runtime, own), asking.answering, asking.unmarked)
            links = dict.fromkeys(asking.stands_for.get(link, link) for link in chain)
            asked = [link for link in links if link in with_catalog]
            needed = {space: rest for space, whole in asking.sources.items() if (rest := _needed(locale, whole, without)) is not None}
            effects[locale] = effect(locale, asking.stands_for.get(own, own), asked, needed, held_by, seen)
    return effects


def _stands_for(supported: tuple[Tag, ...], with_catalog: set[Tag], known_as: Mapping[Tag, Tag]) -> dict[Tag, Tag]:
    """For each supported tag the tag of the catalogs that answer it: its own, else that of the same locale written otherwise."""
    by_roster = {known_as.get(tag, tag): tag for tag in sorted(with_catalog)}
    answers = ((tag, tag if tag in with_catalog else by_roster.get(known_as.get(tag, tag))) for tag in supported)
    return {tag: answer for tag, answer in answers if answer is not None}


def _needed(locale: Tag, source: SourcePart, without: Mapping[int, Mapping[Tag, str]]) -> SourcePart | None:
    """The part's messages from catalogs that may not do without *locale*; None where all may."""
    needed = tuple(catalog for catalog in source.catalogs if locale not in without.get(catalog.order, {}))
    if len(needed) == len(source.catalogs):
        return source
    keys = tuple(key for key in source.keys if any(key in catalog.column.key_set for catalog in needed))
    return SourcePart(keys, frozenset(keys), source.fixed, needed) if needed else None
