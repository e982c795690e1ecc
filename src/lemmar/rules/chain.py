"""The chain family: what a client falls back to, held against what the team wants."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.basics.phrasing import joined
from lemmar.findings import Subject
from lemmar.inventory.contents import Spot
from lemmar.resolve.chains import DEFAULT, circle, divergence_cause, divergences, lacking, link_origin, origins
from lemmar.resolve.claims import claims_of, default_claim, link_spot, where_declared, wrong_default
from lemmar.resolve.landings import AGREE, Cause, Landed, cause_of, cause_spot, landed, wrong_landings
from lemmar.resolve.outlines import Overview
from lemmar.resolve.runtimes import NOTHING
from lemmar.resolve.spots import charter_spot
from lemmar.resolve.world import Client, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._assumptions import assumption
from lemmar.tags import LanguageTag, Tag

_EXPLAINS = (
    Hides(("chain.diverges",), ("client", "origin")),
    Hides(("chain.landing", "chain.dead-end", "message.missing"), ("client", "cause")),
)
_LOOKED_UP = Hides(("message.missing", "chain.unreachable"), ("client", "cause"))


@rule("chain.default", "error", "A client's default is not the charter's.", hides=_EXPLAINS)
def default(world: World) -> Iterator[Problem]:
    """Every user whose language the client lacks gets the default, and so does every text that no other catalog has.

    Reported once for each client whose claimed default is not the last link of the charter's default chain, and for one that has none
    (`default = "none"` in its `[client.runtime]`). To fix: change the client's default, or the charter's chain.
    """
    for client in world.clients:
        if not client.runtime.falls_back:
            number = next(number for number, entry in enumerate(world.charter.client) if entry.name == client.name)
            yield Problem(
                Subject((client.name,), world.charter.default),
                f"{client.name} has no default; the charter wants {world.charter.default!r}",
                charter_spot(world, "client", number, "runtime", "default"),
                f"users of a language that {client.name} lacks get no locale, and texts that are missing have none to fall back to",
                f"let it fall back to {world.charter.default!r}",
                cause="default",
                origin=DEFAULT,
            )
            continue
        wrong = wrong_default(world, client)
        if wrong is not None:
            tag, spot = wrong
            yield Problem(
                Subject((client.name,), tag),
                f"the default of {client.name} is {tag!r}; the charter wants {world.charter.default!r}",
                spot,
                f"users of a language that {client.name} lacks get {tag!r}",
                f"make {world.charter.default!r} the default, or change [chains] in the charter",
                cause="default",
                origin=DEFAULT,
            )


@rule("chain.cycle", "error", "A client's chain leads back to where it began.", hides=_EXPLAINS)
def cycle(world: World) -> Iterator[Problem]:
    """A chain that comes back to where it began never reaches its last catalog.

    Reported once for each circle of a claim that is `transitive`. Not reported: claims whose chains are complete as written.
    To fix: point one of the links elsewhere.
    """
    for client in world.clients:
        seen: set[frozenset[str]] = set()
        names = {tag.lower(): tag for links in client.runtime.chain.values() for tag in links}
        for start in client.runtime.chain if client.runtime.transitive else ():
            around = circle(client.runtime.chain, start)
            if around and frozenset(around) not in seen:
                seen.add(frozenset(around))
                claim = claims_of(client, "chain")[0]
                yield Problem(
                    Subject((client.name,)),
                    f"the chain is a circle: {' → '.join(names.get(tag, tag) for tag in [*around, around[0]])}",
                    link_spot(client, around[0]) or claim.spot(),
                    "users of these languages end up with the default",
                    "point one of the links elsewhere",
                    detail=" ".join(sorted(around)),
                    cause="chain",
                    origin=link_origin(min(around)),
                )


@rule("chain.unshipped", "error", "A client's chain leads to a locale that the client lacks.", hides=_EXPLAINS)
def unshipped(world: World) -> Iterator[Problem]:
    """The catalog that the chain leads to is not there, so users fall back further than agreed.

    Reported once for each link of a chain claim that the client neither supports nor has a catalog of. To fix: ship the locale in this
    client, or remove the link.
    """
    for client in world.clients:
        absent = lacking(client)
        seen: set[str] = set()
        for claim in claims_of(client, "chain"):
            for entry in claim.entries:
                link = str(entry.tag or entry.value.text)
                if link.lower() not in absent or link.lower() in seen or claim.file is None:
                    continue
                seen.add(link.lower())
                named = f"of {entry.value.label!r} " if entry.value.label else ""
                yield Problem(
                    Subject((client.name,), client.roster(Tag(link))),
                    f"the chain {named}leads to {link!r}, which {client.name} lacks",
                    Spot(claim.file, claim.digest, line=entry.value.line, column=entry.value.column),
                    "users get the next link or the default",
                    f"ship {link!r} in {client.name}, or remove the link",
                    cause="chain",
                    origin=link_origin(link),
                )


@rule("chain.landing", "error", "A request gets another locale than the charter wants.", hides=(_LOOKED_UP,))
def landing(world: World) -> Iterator[Problem]:
    """Austrians get English, readers of traditional Chinese get simplified characters.

    Reported once for each client and cause (its lookup, its chain, its default), with all the requests of the charter's `[audience]` that
    get another locale than it wants, and the supported locales that have a catalog but get another language.
    Not reported: a locale that the client is exempt from by `without`. To fix: change the client's lookup, list or chain, or what `[audience]` wants.
    """
    for client in world.clients:
        wrong: dict[Cause, list[Landed]] = {}
        for each in wrong_landings(world, client):
            wrong.setdefault(cause_of(world, each), []).append(each)
        for cause, those in wrong.items():
            requests = list(dict.fromkeys(each.request for each in those))
            only = those[0] if len(those) == 1 else None
            if only is not None:
                shown = f"a request for {only.request!r} gets {only.found.tag!r}; the charter wants {only.wanted!r}"
            else:
                several = joined([f"{each.request!r} gets {each.found.tag!r} (wanted {each.wanted!r})" for each in those], 6)
                shown = f"requests get other locales than the charter wants: {several}"
            spot, why, remedy = _landing_words(world, cause, those[0])
            yield Problem(
                Subject((client.name,), only.wanted if only else None, request=only.request if only else None),
                f"in {client.name} {shown}",
                spot,
                f"{why}, users get {'another language than they asked for' if those[0].found.tag != NOTHING else 'no locale at all'}",
                f"{remedy}, or change what [audience] wants",
                detail=" ".join(requests),
                cause=cause,
            )


def _landing_words(world: World, cause: Cause, wrong: Landed) -> tuple[Spot, str, str]:
    """Where the cause of a wrong landing stands, why it lands there, and what to change."""
    spot, form = cause_spot(world, wrong, cause)
    if form:
        return spot, f"because of what its chain says about {form!r}", "change the client's chain"
    if cause == "default" and not wrong.client.runtime.falls_back:
        return spot, "because it has no default", "give the client a default"
    if cause == "default":
        return spot, "because of its default", "change the client's default"
    return spot, f"because of its lookup {wrong.client.runtime.lookup!r}", "change the client's lookup, list or chain"


@rule("chain.landing-differs", "warning", "Clients answer the same request with different locales.", of="all")
def landing_differs(seen: Overview) -> Iterator[Problem]:
    """The same user reads one language on the web and another on the phone.

    Reported once for each request marked `agree` in the charter's `[audience]` that clients answer with different locales. To fix:
    align the clients' lookups, lists or chains, or name the wanted locale.
    """
    for request in seen.charter.audience:
        landings: dict[Tag, list[str]] = {}
        for client in seen.clients if seen.charter.audience[request] == AGREE else ():
            landings.setdefault(client.landings[request], []).append(client.name)
        if len(landings) > 1:
            shown = "; ".join(
                f"{tag!r} in {', '.join(names[:4])}{' and more' if len(names) > 4 else ''}" for tag, names in landings.items()
            )
            yield Problem(
                Subject(request=request),
                f"a request for {request!r} gets {shown}",
                charter_spot(seen, "audience", request),
                "the same user reads one language here and another there",
                "align the clients' lookups, lists or chains, or name the wanted locale in [audience]",
            )


@rule("chain.unstated", "warning", "Nothing says what users of an unsupported language, or of a missing text, get.", of="all")
def unstated(seen: Overview) -> Iterator[Problem]:
    """The verdict rests on an assumption: if the client does something else there, users see it first.

    Reported once for all clients whose default nothing states (no claim of `default`, no chain that has an entry for the rest, no preset whose unmarked
    files are the default): assumed is the charter's. Once for all clients that have no platform, no `lookup` and no claim of `chain`: assumed is
    that they cut subtags off. And once for all clients in which texts are missing and nothing says what a missing text shows. Not reported:
    clients whose `assumes` in the charter gives a reason.
    To fix: point a [[client.claim]] with `states = "default"` or `"chain"` at the place that says so, state `lookup` or `on-miss` in
    `[client.runtime]`, or give the reason: `assumes = { default = "the server decides" }`.
    """
    yield from assumption(
        seen,
        "default",
        f"{{}} what users of an unsupported language get; assumed: {seen.charter.default}",
        "users of a language that these clients lack may get another one",
        'point a [[client.claim]] with states = "default" at the place that says so, or give a reason: assumes = { default = "…" }',
    )
    yield from assumption(
        seen,
        "chain",
        "{} how a request falls back; assumed: subtags are cut off from the right, de-CH to de",
        "users of a region may get the default language in place of their own",
        "name the platform, state lookup in [client.runtime], or point a [[client.claim]] at the place that has the chain",
    )
    yield from assumption(
        seen,
        "on-miss",
        "{} what a missing text shows; assumed: the next text of its chain, or else its raw key",
        "users may see something else where texts are missing",
        "state grain and on-miss in [client.runtime]",
    )


@rule(
    "chain.diverges",
    "error",
    "A client falls back in another order than the charter wants.",
    hides=(Hides(("message.missing",), ("client", "locale", "cause")),),
)
def diverges(world: World) -> Iterator[Problem]:
    """Missing texts come from another language than the team agreed on.

    Reported once for each client that falls back message by message, with the locales whose catalogs are asked in another order than
    `[chains]` wants. Other links in the locale's own language and script are fine, unless the charter has a chain for that very locale.
    Not reported: links without a catalog in the client, and clients that use one catalog for all messages. To fix: change the
    client's chain or lookup, or the charter.
    """
    for client in world.clients:
        for origin, wrong in origins(world, client, divergences(world, client)).items():
            if len(wrong) == 1:
                shown = f"texts missing in {wrong[0].locale!r} come from {_then(wrong[0].behind)}; the charter wants {_then(wrong[0].wanted_behind)}"
            else:
                several = joined(
                    [f"in {each.locale!r} from {_then(each.behind)} (wanted {_then(each.wanted_behind)})" for each in wrong], 4
                )
                shown = f"missing texts come from other locales than the charter wants: {several}"
            yield Problem(
                Subject((client.name,), wrong[0].locale if len(wrong) == 1 else None),
                f"in {client.name} {shown}",
                divergence_cause(world, client, wrong)[1],
                "users read missing texts in the wrong language",
                "change the client's chain or lookup, or [chains] in the charter",
                detail=" ".join(each.locale for each in wrong),
                cause="chain",
                origin=origin,
            )


def _then(tags: Sequence[Tag]) -> str:
    return ", then ".join(tags) or "no other locale"


@rule("chain.crosses-script", "warning", "The charter's chain leads through another script.", of="all")
def crosses_script(seen: Overview) -> Iterator[Problem]:
    """Not everyone who reads traditional characters reads simplified ones, nor does every reader of Cyrillic read Latin letters.

    Reported for each link of a charter's chain, except the last, that is in another script than the locale. To fix: remove the
    link, so that the last one answers.
    """
    for locale, chain in seen.charter.chains.items():
        if locale == "default":
            continue
        script = LanguageTag.parse(locale).maximized().script
        for index, link in enumerate(chain[:-1]):
            other = LanguageTag.parse(link).maximized().script
            if other != script:
                yield Problem(
                    Subject(locale=locale),
                    f"the chain of {locale!r} (script {script}) leads through {link!r} (script {other})",
                    charter_spot(seen, "chains", locale, index),
                    "users may not be able to read it",
                    "remove the link, so that the last one answers",
                    detail=link,
                )


@rule("chain.dead-end", "error", "A client has no catalog for its default.")
def dead_end(world: World) -> Iterator[Problem]:
    """The default is the last fallback; without its catalog, users see keys or nothing.

    Reported once for each client. Not reported: clients without any catalog. To fix: ship the default's
    catalogs, or choose a default that has some.
    """
    for client in world.clients:
        held = {catalog.tag for catalog in client.catalogs} | {fault.tag for fault in client.faults}
        if (
            client.catalogs
            and client.runtime.falls_back
            and client.default not in held
            and client.roster(client.default) not in {client.roster(tag) for tag in held if tag}
        ):
            claim = default_claim(client)
            yield Problem(
                Subject((client.name,), client.roster(client.default)),
                f"{client.name} falls back to {client.default!r}, for which it has no catalog",
                claim.spot() if claim is not None else where_declared(world, client),
                "users of an unsupported language see raw keys or nothing",
                f"ship the catalogs of {client.default!r}, or choose another default",
                cause="default",
            )


@rule("chain.unreachable", "warning", "No user ever gets a supported locale's catalog.")
def unreachable(world: World) -> Iterator[Problem]:
    """The catalog was paid for, and the client's lookup never leads to it.

    Reported for each supported locale with a catalog that no locale of the roster and no request of `[audience]` leads to.
    To fix: change the client's lookup, or remove the catalog.
    """
    for client in world.clients:
        reached = {tag for effect in client.effects.values() for tag in effect.consulted}
        asked = {
            client.meant.get(found, found) for request in world.charter.audience for found in [landed(world, client, request).found.tag]
        }
        held = {catalog.tag: catalog for catalog in reversed(client.catalogs)}
        for tag in client.supported:
            pseudo = client.roster(tag) in world.charter.roster.pseudo
            if not pseudo and tag in held and tag not in reached | asked and not _stood_for(client, tag, reached):
                yield Problem(
                    Subject((client.name,), client.roster(tag)),
                    f"no user of {client.name} ever gets its {tag!r} catalog",
                    Spot(held[tag].file, held[tag].digest, line=1, column=1),
                    f"its lookup {client.runtime.lookup!r} always answers with another locale",
                    "change the client's lookup, or remove the catalog",
                    cause="lookup",
                )


def _stood_for(client: Client, tag: Tag, reached: set[Tag]) -> bool:
    """Whether the locale is reached under another of its names."""
    return any(client.roster(other) == client.roster(tag) for other in reached)
