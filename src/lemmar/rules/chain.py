"""The chain family: what a client falls back to, held against what the team wants."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from lemmar.model import Client, Landing, Problem, Spot, Subject, Tag, World
from lemmar.resolve.runtimes import land
from lemmar.rules import rule
from lemmar.rules.speaking import charter_spot, claims_of, tags_of, where_declared


@rule("chain.default", "error", "A client's default is not the charter's.")
def default(world: World) -> Iterator[Problem]:
    """The default is what every user gets whose language a client does not have, and so are its leftovers.

    Reported once for each client that claims another default than the last link of the charter's default chain.
    To fix: change the client's default, or the charter's chain.
    """
    for client in world.clients:
        for claim in claims_of(client, "default"):
            for tag, spot in list(tags_of(client, claim).items())[:1]:
                if tag != world.charter.default:
                    yield Problem(
                        Subject((client.name,), tag),
                        f"{client.name} defaults to {tag!r}, the charter to {world.charter.default!r}",
                        spot,
                        f"users of a language that {client.name} lacks get {tag!r}",
                        f"make {world.charter.default!r} the default, or change [chains] in the charter",
                    )


@rule("chain.cycle", "error", "A client's chain leads back to where it began.")
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
                    _link_spot(client, circle[0]) or claim.spot(),
                    "users of these languages fall from one to the other and then to the default",
                    "let one of the links lead elsewhere",
                    detail=" ".join(sorted(circle)),
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


def _link_spot(client: Client, key: str) -> Spot | None:
    """Where the claim of a chain names the links of *key*."""
    for claim in claims_of(client, "chain"):
        for entry in claim.entries:
            if entry.value.label is not None and entry.value.label.lower() == key and claim.file is not None:
                return Spot(claim.file, claim.digest, line=entry.value.line, column=entry.value.column)
    return None


@rule("chain.unshipped", "error", "A client's chain names a locale that it does not have.")
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
                )


@rule("chain.landing", "error", "A request lands elsewhere than the team wants.")
def landing(world: World) -> Iterator[Problem]:
    """Austrians get English, Chinese traditional readers simplified characters: what a user asks for and what the client answers.

    Reported once for each client, with all the requests of the charter's `[audience]` that land elsewhere than wanted there. Not
    reported: a locale that the client may go `without`. To fix: change the client's lookup, its list or its chain, or what is wanted.
    """
    for client in world.clients:
        known = {client.roster(tag) for tag in client.supported}
        wrong: list[tuple[str, Tag, Landing]] = []
        for request, wanted in world.charter.audience.items():
            if wanted == "agree" or Tag(wanted) not in client.needs or Tag(wanted) not in known:
                continue
            found = land(client.runtime, request)
            if client.landed(found.tag) != wanted:
                wrong.append((request, Tag(wanted), found))
        if wrong:
            shown = "; ".join(f"{request!r} in {found.tag!r} instead of {wanted!r}" for request, wanted, found in wrong[:6])
            more = f"; and {len(wrong) - 6} more" if len(wrong) > 6 else ""
            only = wrong[0] if len(wrong) == 1 else None
            yield Problem(
                Subject((client.name,), only[1] if only else None, request=only[0] if only else None),
                f"{client.name} lands {shown}{more}",
                where_declared(world, client),
                f"by its lookup {client.runtime.lookup!r}, users read another language than they asked for",
                "change the client's lookup, list or chain, or what [audience] wants",
                detail=" ".join(request for request, _, _ in wrong),
            )


@rule("chain.landing-differs", "warning", "Clients answer one request in different locales.")
def landing_differs(world: World) -> Iterator[Problem]:
    """The same user reads one language on the web and another in the pocket.

    Reported once for each request that the charter's `[audience]` marks with `agree` and that clients land in different locales. To fix:
    make the clients' lookups, lists or chains alike, or say which landing is wanted.
    """
    for request, wanted in world.charter.audience.items():
        if wanted != "agree":
            continue
        landings: dict[Tag, list[str]] = {}
        for client in world.clients:
            landings.setdefault(client.landed(land(client.runtime, request).tag), []).append(client.name)
        if len(landings) > 1:
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
