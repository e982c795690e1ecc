"""What a client's claims state, held against the roster, against each other and against its files: the one answer for rules and commands."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Set
from typing import NamedTuple

from lemmar.charter.presets import mirrors_itself
from lemmar.inventory.contents import Claim, Spot
from lemmar.resolve.spots import client_spot, file_spot, named_spot
from lemmar.resolve.world import Client, World
from lemmar.tags import LanguageTag, Tag, direction, truncations
from lemmar.trees import File


def claims_of(client: Client, *states: str) -> list[Claim]:
    """The client's claims of these states, in the charter's order."""
    return [claim for claim in client.claims if claim.states in states]


def tags_of(client: Client, claim: Claim) -> dict[Tag, Spot]:
    """The locales of a claim as the roster calls them, each with the place of its first entry."""
    found: dict[Tag, Spot] = {}
    for entry in claim.entries:
        spot = named_spot(claim, entry)
        if entry.tag is not None and spot is not None:
            found.setdefault(client.roster(entry.tag), spot)
    return found


def default_claim(client: Client) -> Claim | None:
    """The claim of the client's default that names one."""
    return next((claim for claim in claims_of(client, "default") if claim.entries), None)


def where_declared(world: World, client: Client) -> Spot:
    """The place where the client says what it supports: its first claim, else its table in the charter."""
    for claim in claims_of(client, "supported", "offered", "routed"):
        if claim.file is not None and claim.entries:
            return claim.spot()
    return client_spot(world, client)


#: What a program writes for no.
_NO = frozenset({"", "false", "no", "0", "off", "never", "none", "null", "nil", "ltr"})


def mirrors(client: Client) -> bool | None:
    """Whether the client says that it mirrors its layout where text runs from right to left; None where it says nothing."""
    said = [entry.value.text.strip().lower() not in _NO for claim in claims_of(client, "mirrored") for entry in claim.entries]
    return all(said) if said else None


def ships_right_to_left(client: Client) -> tuple[Tag, ...]:
    """The shipping locales from right to left that the client supports; none of a service, which has no layout."""
    if client.kind == "service":
        return ()
    return tuple(tag for tag in client.effects if client.ships(tag) and direction(LanguageTag.parse(tag)) == "rtl")


def unmirrored(client: Client) -> tuple[Tag, ...]:
    """The shipping locales from right to left whose layout the client says it does not mirror, unless its platform does."""
    return ships_right_to_left(client) if mirrors(client) is False and not mirrors_itself(client.traits) else ()


def gone_to(client: Client, tag: Tag) -> str:
    """Words on where the file of the client's own *tag*, which its catalog lacks, may lie now; none where nothing of its shape is there."""
    found = next((pattern.moved[tag] for pattern in client.patterns if tag in pattern.moved), None)
    return f"; its file may be {found} now" if found is not None else ""


def link_spot(client: Client, key: str) -> Spot | None:
    """Where the claim of a chain names the links of *key* (in lower case)."""
    for claim in claims_of(client, "chain"):
        for entry in claim.entries:
            if entry.value.label is not None and entry.value.label.lower() == key and claim.file is not None:
                return named_spot(claim, entry)
    return None


def chain_spot(client: Client, tags: Iterable[Tag]) -> Spot | None:
    """Where the client's claim of a chain speaks of one of *tags*, else where it begins; None where there is no such claim."""
    for tag in tags:
        for form in truncations(tag):
            spot = link_spot(client, form.lower())
            if spot is not None:
                return spot
    claim = next((claim for claim in claims_of(client, "chain") if claim.entries), None)
    return claim.spot() if claim is not None else None


# -------------------------------------------------------------------------------------------------------- against the roster

#: The name of what comes of a client without any catalog.
NO_CATALOG = "no catalog"


def origin_of_gaps(client: Client) -> str | None:
    """What locales without a catalog come of, if it is known: none of the client's patterns matches a file."""
    return None if client.catalogs or client.faults else NO_CATALOG


def known(client: Client) -> tuple[Tag, ...]:
    """What the client supports, as the roster calls it, in the client's order."""
    return tuple(dict.fromkeys(client.roster(tag) for tag in client.supported))


def absent(client: Client) -> list[Tag]:
    """The locales that the client needs and does not support."""
    there = set(known(client))
    return [tag for tag in client.needs if tag not in there]


def surplus(world: World, client: Client) -> list[Tag]:
    """The client's own tags that it supports and that it does not need; test locales left out."""
    pseudo = set(world.charter.roster.pseudo)
    return [tag for tag in client.supported if client.roster(tag) not in client.needs and client.roster(tag) not in pseudo]


def pseudo_locales(world: World, client: Client) -> dict[Tag, tuple[Claim, Spot]]:
    """The test locales that a claim supports, offers or names in addresses, each with the first claim that does."""
    found: dict[Tag, tuple[Claim, Spot]] = {}
    for tag in world.charter.roster.pseudo:
        for claim in claims_of(client, "supported", "offered", "routed"):
            spot = tags_of(client, claim).get(tag)
            if spot is not None:
                found.setdefault(tag, (claim, spot))
    return found


def hollow(client: Client) -> list[Tag]:
    """The locales that the client supports, has no file of and does not inherit whole: that it needs, and off the roster those that users can choose."""
    filed = {catalog.tag for catalog in client.catalogs} | {fault.tag for fault in client.faults}
    needed = [locale for locale in client.effects if locale in client.needs]
    every = {**client.effects, **client.beyond}
    return [locale for locale in (*needed, *_choosable(client)) if every[locale].tag not in filed and not every[locale].answer.is_complete]


def _choosable(client: Client) -> list[Tag]:
    """What is off the roster, and supported, and shown by a picker where the client has one."""
    pickers = [claim for claim in claims_of(client, "offered") if claim.entries]
    offered = {tag for claim in pickers for tag in tags_of(client, claim)}
    return [tag for tag in client.beyond if not pickers or tag in offered or client.roster(tag) in offered]


def orphans(world: World, client: Client) -> dict[Tag, File]:
    """The locales, as the roster calls them, of which the client has a catalog and that no claim supports, each with its first file."""
    if client.declared_by != "claims":
        return {}
    fine = {*known(client), *world.charter.roster.pseudo}
    found: dict[Tag, File] = {}
    for catalog in client.catalogs:
        if catalog.tag not in client.supported and client.roster(catalog.tag) not in fine:
            found.setdefault(client.roster(catalog.tag), catalog.file)
    return found


def unoffered(client: Client) -> list[Tag]:
    """The locales that the client supports and needs and that none of its pickers shows; none where it has no picker."""
    pickers = [claim for claim in claims_of(client, "offered") if claim.entries]
    if not pickers or not _declares(client):
        return []
    offered = {tag for claim in pickers for tag in tags_of(client, claim)}
    return [tag for tag in known(client) if tag not in offered and tag in client.needs]


def wrong_default(world: World, client: Client) -> tuple[Tag, Spot] | None:
    """The default that the client claims, where it is not the charter's."""
    claim = default_claim(client)
    first = next(iter(tags_of(client, claim).items()), None) if claim is not None else None
    return first if first is not None and first[0] != world.charter.default else None


# ------------------------------------------------------------------------------------------------------- against each other


class Split(NamedTuple):
    """Two claims that differ, or a claim and the files (None): what *claim* lacks and what it has more than *base*, and where to look."""

    claim: Claim | None
    base: Claim | None
    fewer: tuple[Tag, ...]
    more: tuple[Tag, ...]
    spot: Spot


def splits(world: World, client: Client) -> Iterator[Split]:
    """The claims of one client that do not agree: of what is supported, of what is offered or named in addresses and not supported.

    Locales that the whole client lacks are left out, as those that a picker does not show.
    """
    yield from _support_splits(client, frozenset(world.charter.roster.pseudo))
    if not _declares(client):
        return
    lacking, there = set(absent(client)), set(known(client))
    base = next(iter(claims_of(client, "supported")), None)
    for claim in claims_of(client, "offered", "routed"):
        spots = tags_of(client, claim)
        more = tuple(tag for tag in spots if tag not in there and tag not in lacking)
        free = (client.default, client.written_in, world.charter.source)
        fewer = tuple(tag for tag in known(client) if tag not in spots and tag not in free) if claim.states == "routed" else ()
        if (more or fewer) and claim.file is not None:
            yield Split(claim, base, fewer, more, spots[more[0]] if more else claim.spot())


def _declares(client: Client) -> bool:
    """Whether something says what is supported."""
    return bool(claims_of(client, "supported")) or client.declared_by == "files"


def _support_splits(client: Client, pseudo: Set[str]) -> Iterator[Split]:
    """What claims of what is supported differ in from the one that is nearest to what the client needs; files may hold test locales (*pseudo*) as well."""
    source = frozenset(tag for claim in claims_of(client, "source") for tag in tags_of(client, claim))
    source |= {client.written_in} if client.carries_source else set()
    sets: list[tuple[Claim | None, frozenset[Tag]]] = [
        (claim, frozenset(tags_of(client, claim)) | source) for claim in claims_of(client, "supported") if claim.entries and claim.file
    ]
    if client.declared_by == "files" and sets:
        sets.insert(0, (None, frozenset(client.roster(catalog.tag) for catalog in client.catalogs) - pseudo))
    if len(sets) < 2:
        return
    often, needs = Counter(tags for _, tags in sets), set(client.needs)
    base, usual = max(sets, key=lambda each: (-len(each[1] ^ needs), often[each[1]]))
    for claim, tags in sets:
        if tags != usual:
            fewer, more = tuple(sorted(usual - tags)), tuple(sorted(tags - usual))
            shown = claim or base
            assert shown is not None
            yield Split(claim, base, fewer, more, tags_of(client, claim)[more[0]] if more and claim is not None else shown.spot())


# ------------------------------------------------------------------------------------------------------------- side by side


class Stated(NamedTuple):
    """A claim (None: the client's files): how it writes each locale, as the roster calls it, and what is wrong with what it names.

    *lacks* are locales that should stand there, *adds* those that should not.
    """

    claim: Claim | None
    states: str
    written: dict[Tag, str]
    lacks: frozenset[Tag]
    adds: frozenset[Tag]


def stated(world: World, client: Client) -> list[Stated]:
    """What each place of a client states, in the charter's order, its files last; exactly what rules report of it is lacking or too much."""
    missing = frozenset(absent(client))
    extra = frozenset(client.roster(tag) for tag in surplus(world, client)) | frozenset(pseudo_locales(world, client))
    fewer: dict[int, set[Tag]] = {}
    more: dict[int, set[Tag]] = {}
    for split in splits(world, client):
        fewer.setdefault(id(split.claim), set()).update(split.fewer)
        more.setdefault(id(split.claim), set()).update(split.more)
    wrong = wrong_default(world, client)
    found = []
    for claim in claims_of(client, "supported", "offered", "routed", "source", "default"):
        written = {client.roster(entry.tag): entry.value.text for entry in reversed(claim.entries) if entry.tag}
        lacks, adds = set(fewer.get(id(claim), ())), set(more.get(id(claim), ()))
        if claim.states in ("supported", "offered", "routed"):
            lacks |= missing - written.keys()
            adds |= extra & written.keys()
        if claim.states == "offered":
            lacks |= set(unoffered(client))
        if claim.states == "default" and wrong is not None and claim is default_claim(client):
            adds.add(wrong[0])
        found.append(Stated(claim, claim.states, written, frozenset(lacks), frozenset(adds)))
    files = _files(client)
    if files:
        lacks = set(fewer.get(id(None), ())) | set(hollow(client)) | (missing - files.keys())
        adds = set(more.get(id(None), ())) | set(orphans(world, client))
        adds |= extra & files.keys() if client.declared_by == "files" else set()
        found.append(Stated(None, "files", files, frozenset(lacks), frozenset(adds - set(world.charter.roster.pseudo))))
    return found


def _files(client: Client) -> dict[Tag, str]:
    """How the client's files write their locales; those that name none as their tag."""
    found: dict[Tag, str] = {}
    for _, entry in client.names:
        if entry.tag:
            found.setdefault(client.roster(entry.tag), entry.value.text)
    for catalog in client.catalogs:
        found.setdefault(client.roster(catalog.tag), str(catalog.tag))
    return found


def supported_at(client: Client, tag: Tag) -> Spot | None:
    """Where the client says that it supports its own *tag*."""
    for claim in claims_of(client, "supported", "offered", "routed"):
        spot = tags_of(client, claim).get(client.roster(tag))
        if spot is not None:
            return spot
    return next((file_spot(catalog) for catalog in client.catalogs if catalog.tag == tag), None)


def place_of(client: Client, each: Stated) -> str:
    """Where a claim stands, in words: its file and line, or the patterns of the client's files."""
    if each.claim is None:
        return ", ".join(pattern.files for pattern in client.patterns)
    return f"{each.claim.file}:{each.claim.entries[0].value.line if each.claim.entries else 1}"
