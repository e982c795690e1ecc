"""The chain family: what a client falls back to, held against what the team wants."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

from lemmar.inventory.contents import Spot
from lemmar.resolve.chains import divergence_cause, divergences
from lemmar.resolve.claims import claims_of, default_claim, link_spot, where_declared, wrong_default
from lemmar.resolve.landings import Cause, Landed, cause_of, cause_spot, differing, landed, wrong_landings
from lemmar.resolve.spots import charter_spot
from lemmar.resolve.world import Client, World
from lemmar.rules import Hides, Problem, Subject, rule
from lemmar.tags import LanguageTag, Tag

_EXPLAINS = (Hides(("chain.diverges",), ("client",)), Hides(("chain.landing", "message.missing"), ("client", "cause")))
_LOOKED_UP = Hides(("message.missing", "chain.unreachable"), ("client", "cause"))


@rule("chain.default", "error", "A client's default is not the charter's.", hides=_EXPLAINS)
def default(world: World) -> Iterator[Problem]:
    """The default is what every user gets whose language a client does not have, and so are its leftovers.

    Reported once for each client that claims another default than the last link of the charter's default chain.
    To fix: change the client's default, or the charter's chain.
    """
    for client in world.clients:
        wrong = wrong_default(world, client)
        if wrong is not None:
            tag, spot = wrong
            yield Problem(
                Subject((client.name,), tag),
                f"{client.name} defaults to {tag!r}, the charter to {world.charter.default!r}",
                spot,
                f"users of a language that {client.name} lacks get {tag!r}",
                f"make {world.charter.default!r} the default, or change [chains] in the charter",
                cause="default",
            )


@rule("chain.cycle", "error", "A client's chain leads back to where it began.", hides=_EXPLAINS)
def cycle(world: World) -> Iterator[Problem]:
    """Links that are followed from one to the next and come back never reach a catalog that was meant to be last.

    Reported once for each circle of a claim that is `transitive`. Not reported: chains that are complete as they stand, of which no
    link is followed. To fix: let one of the links lead elsewhere.
    """
    for client in world.clients:
        seen: set[frozenset[str]] = set()
        for start in client.runtime.chain if client.runtime.transitive else ():
            circle = _circle(client.runtime.chain, start)
            if circle and frozenset(circle) not in seen:
                seen.add(frozenset(circle))
                claim = claims_of(client, "chain")[0]
                yield Problem(
                    Subject((client.name,)),
                    f"the chain goes round: {' → '.join([*circle, circle[0]])}",
                    link_spot(client, circle[0]) or claim.spot(),
                    "users of these languages fall from one to the other and then to the default",
                    "let one of the links lead elsewhere",
                    detail=" ".join(sorted(circle)),
                    cause="chain",
                )


def _circle(chain: Mapping[str, tuple[Tag, ...]], start: str) -> list[str]:
    """The links from *start* back to it, by the first of each; empty where they do not come back."""
    path = [start]
    while len(path) <= len(chain):
        following = chain.get(path[-1].lower())
        if not following:
            return []
        link = following[0].lower()
        if link == start:
            return path
        if link in path:
            return []
        path.append(link)
    return []


@rule("chain.unshipped", "error", "A client's chain names a locale that it does not have.", hides=_EXPLAINS)
def unshipped(world: World) -> Iterator[Problem]:
    """The fallback was agreed, and the catalog that it leads to is not there: users fall further than they should.

    Reported once for each link of a chain claim that the client neither supports nor has a catalog of. To fix: ship the locale in this
    client, or take the link out.
    """
    for client in world.clients:
        held = {tag.lower() for tag in client.supported} | {catalog.tag.lower() for catalog in client.catalogs}
        told: set[str] = set()
        for claim in claims_of(client, "chain"):
            for entry in claim.entries:
                link = str(entry.tag or entry.value.text)
                if link.lower() in held or link.lower() in told or claim.file is None:
                    continue
                told.add(link.lower())
                named = f"of {entry.value.label!r} " if entry.value.label else ""
                yield Problem(
                    Subject((client.name,), client.roster(Tag(link))),
                    f"the chain {named}leads to {link!r}, which {client.name} does not have",
                    Spot(claim.file, claim.digest, line=entry.value.line, column=entry.value.column),
                    "users fall through to the next link, or to the default",
                    f"ship {link!r} in {client.name}, or take the link out",
                    cause="chain",
                )


@rule("chain.landing", "error", "A request lands elsewhere than the team wants.", hides=(_LOOKED_UP,))
def landing(world: World) -> Iterator[Problem]:
    """Austrians get English, Chinese traditional readers simplified characters: what a user asks for and what the client answers.

    Reported once for each client and cause (its lookup, its chain, its default), with all the requests of the charter's `[audience]` that
    land elsewhere than wanted there, and with the locales whose own catalog is there and not asked, so that users read another language.
    Not reported: a locale that the client may go `without`. To fix: change the client's lookup, its list or its chain, or what is wanted.
    """
    for client in world.clients:
        wrong: dict[Cause, list[Landed]] = {}
        for each in wrong_landings(world, client):
            wrong.setdefault(cause_of(world, each), []).append(each)
        for cause, those in wrong.items():
            requests = list(dict.fromkeys(each.request for each in those))
            shown = "; ".join(f"{each.request!r} in {each.found.tag!r} instead of {each.wanted!r}" for each in those[:6])
            more = f"; and {len(those) - 6} more" if len(those) > 6 else ""
            only = those[0] if len(those) == 1 else None
            spot, why, remedy = _landing_words(world, cause, those[0])
            yield Problem(
                Subject((client.name,), only.wanted if only else None, request=only.request if only else None),
                f"{client.name} lands {shown}{more}",
                spot,
                f"{why}, users read another language than they asked for",
                f"{remedy}, or change what [audience] wants",
                detail=" ".join(requests),
                cause=cause,
            )


def _landing_words(world: World, cause: Cause, wrong: Landed) -> tuple[Spot, str, str]:
    """Where the cause of a wrong landing stands, why it lands there, and what to change."""
    spot, form = cause_spot(world, wrong, cause)
    if form:
        return spot, f"by what its chain says of {form!r}", "change the client's chain"
    if cause == "default":
        return spot, "by its default", "change the client's default"
    return spot, f"by its lookup {wrong.client.runtime.lookup!r}", "change the client's lookup, list or chain"


@rule("chain.landing-differs", "warning", "Clients answer one request in different locales.")
def landing_differs(world: World) -> Iterator[Problem]:
    """The same user reads one language on the web and another in the pocket.

    Reported once for each request that the charter's `[audience]` marks with `agree` and that clients land in different locales. To fix:
    make the clients' lookups, lists or chains alike, or say which landing is wanted.
    """
    for request in world.charter.audience:
        landings = differing(world, request)
        if landings:
            shown = "; ".join(
                f"{tag!r} in {', '.join(names[:4])}{' and more' if len(names) > 4 else ''}" for tag, names in landings.items()
            )
            yield Problem(
                Subject(request=request),
                f"{request!r} lands in {shown}",
                charter_spot(world, "audience", request),
                "the same user reads one language here and another there",
                "make the clients' lookups, lists or chains alike, or say which landing is wanted",
            )


@rule(
    "chain.diverges",
    "error",
    "A client falls back along another chain than the charter's.",
    hides=(Hides(("message.missing",), ("client", "locale", "cause")),),
)
def diverges(world: World) -> Iterator[Problem]:
    """What is missing in a language comes from another language than the team has agreed on.

    Reported once for each client that falls back by message, with the locales whose catalogs are asked in another order than the charter's
    `[chains]` say. Links of the locale's own language and script may stand between, unless the charter has an entry of that locale's own.
    Not reported: links of which the client has no catalog, and clients that choose one catalog for all messages. To fix: change the
    client's chain or lookup, or the charter.
    """
    for client in world.clients:
        wrong = divergences(world, client)
        if wrong:
            shown = "; ".join(
                f"{each.locale!r} along {_arrows(each.behind)} instead of {_arrows(each.wanted_behind)}" for each in wrong[:4]
            )
            more = f"; and {len(wrong) - 4} more" if len(wrong) > 4 else ""
            yield Problem(
                Subject((client.name,), wrong[0].locale if len(wrong) == 1 else None),
                f"{client.name} falls back from {shown}{more}",
                divergence_cause(world, client, wrong)[1],
                "users read another language for what is missing in theirs",
                "change the client's chain or lookup, or [chains] in the charter",
                detail=" ".join(each.locale for each in wrong),
                cause="chain",
            )


def _arrows(tags: Sequence[Tag]) -> str:
    return " → ".join(tags) or "nothing"


@rule("chain.crosses-script", "warning", "The charter's chain leads through another script.")
def crosses_script(world: World) -> Iterator[Problem]:
    """Readers of traditional characters cannot read simplified ones, and readers of Cyrillic not always Latin letters.

    Reported for each link of a chain of the charter, but the last, that is written in another script than the locale. To fix: take the
    link out, so that the last one answers.
    """
    for locale, chain in world.charter.chains.items():
        if locale == "default":
            continue
        script = LanguageTag.parse(locale).maximized().script
        for index, link in enumerate(chain[:-1]):
            other = LanguageTag.parse(link).maximized().script
            if other != script:
                yield Problem(
                    Subject(locale=locale),
                    f"the chain of {locale!r}, which is written in {script}, leads through {link!r}, in {other}",
                    charter_spot(world, "chains", locale, index),
                    "users see letters that they may not read",
                    "take the link out, so that the last one answers",
                    detail=link,
                )


@rule("chain.dead-end", "error", "The last catalog that a client asks is not there.")
def dead_end(world: World) -> Iterator[Problem]:
    """What no catalog has ends in the default; where the default has none, users see keys or nothing.

    Reported once for each client of whose default there is no catalog. Not reported: clients without any catalog. To fix: ship the default's
    catalogs, or make a locale the default that has some.
    """
    for client in world.clients:
        held = {catalog.tag for catalog in client.catalogs} | {fault.tag for fault in client.faults}
        if (
            client.catalogs
            and client.default not in held
            and client.roster(client.default) not in {client.roster(tag) for tag in held if tag}
        ):
            claim = default_claim(client)
            yield Problem(
                Subject((client.name,), client.roster(client.default)),
                f"{client.name} falls back to {client.default!r}, of which it has no catalog",
                claim.spot() if claim is not None else where_declared(world, client),
                "users of a language that is not there see raw keys or nothing",
                f"ship the catalogs of {client.default!r}, or make another locale the default",
            )


@rule("chain.unreachable", "warning", "A supported locale's catalog is never asked.")
def unreachable(world: World) -> Iterator[Problem]:
    """The catalog was paid for, and by the client's lookup nobody ever reads it.

    Reported for each locale that a client supports and has a catalog of, where neither a locale of the roster nor a request of the charter's
    `[audience]` ever leads there. To fix: change the client's lookup, or leave the catalog out.
    """
    for client in world.clients:
        reached = {tag for effect in client.effects.values() for tag in effect.consulted}
        asked = {
            client.meant.get(found, found) for request in world.charter.audience for found in [landed(world, client, request).found.tag]
        }
        held = {catalog.tag: catalog for catalog in reversed(client.catalogs)}
        for tag in client.supported:
            if tag in held and tag not in reached | asked and not _stood_for(client, tag, reached):
                yield Problem(
                    Subject((client.name,), client.roster(tag)),
                    f"no user of {client.name} ever reads its catalog of {tag!r}",
                    Spot(held[tag].file, held[tag].digest, line=1, column=1),
                    f"by its lookup {client.runtime.lookup!r}, another locale answers",
                    "change the client's lookup, or leave the catalog out",
                    cause="lookup",
                )


def _stood_for(client: Client, tag: Tag, reached: set[Tag]) -> bool:
    """Whether the locale is reached under another of its names."""
    return any(client.roster(other) == client.roster(tag) for other in reached)
