"""Where users' requests land, whether that is where the team wants them, and why: the one answer for rules and commands."""

from __future__ import annotations

from typing import Literal, NamedTuple

from lemmar.inventory.contents import Spot
from lemmar.resolve.claims import default_claim, link_spot, where_declared
from lemmar.resolve.pairing import same_language
from lemmar.resolve.runtimes import BY_CHAIN, BY_DEFAULT, BY_NOTHING, BY_REST, consulted, land
from lemmar.resolve.world import Client, Landing, World
from lemmar.tags import Tag, truncations

#: What a client's answer may come of.
Cause = Literal["default", "chain", "lookup"]
#: What the charter writes for a request of which any landing is right, so long as all clients agree.
AGREE = "agree"


class Landed(NamedTuple):
    """Where a request lands in a client: as its program has it, and the *locale* that the roster calls it.

    *wanted* is the landing that the team wants: of the audience, else, for a shipping locale that the client has a catalog of, that locale or
    one of its language. None where nothing is wanted. *absent* says that the client does not support what is wanted.
    """

    client: Client
    request: str
    found: Landing
    locale: Tag
    wanted: Tag | None
    is_wrong: bool
    absent: bool


def landed(world: World, client: Client, request: str) -> Landed:
    """Where *request* lands in *client*."""
    found = land(client.runtime, request)
    locale = client.landed(found.tag)
    wanted = world.charter.audience.get(request)
    if wanted == AGREE:
        return Landed(client, request, found, locale, None, False, False)
    if wanted is not None:
        tag = Tag(wanted)
        absent = tag not in {client.roster(each) for each in client.supported}
        return Landed(client, request, found, locale, tag, tag in client.needs and locale != tag, absent)
    own = _own_locale(world, client, request)
    if own is not None:
        return Landed(client, request, found, locale, own, not same_language(own, locale), False)
    return Landed(client, request, found, locale, None, False, False)


def _own_locale(world: World, client: Client, request: str) -> Tag | None:
    """The shipping locale that *request* is itself, where the client supports it, needs it and has a catalog of it."""
    locale = client.own_locales.get(request)
    if locale is None:
        return None
    tag = client.effects[locale].tag
    miswritten = tag in client.meant.values() and tag not in client.runtime.supported  # the family `tag` speaks of these
    return locale if client.ships(locale) and locale in client.held_locales and not miswritten else None


def wrong_landings(world: World, client: Client) -> list[Landed]:
    """The requests that land elsewhere than wanted though the client supports what is wanted: those of the audience in the charter's order,
    then shipping locales of which the audience does not speak.
    """
    asked = [landed(world, client, request) for request in world.charter.audience]
    asked += [landed(world, client, effect.tag) for locale, effect in client.effects.items() if locale not in world.charter.audience]
    return [each for each in asked if each.is_wrong and not each.absent]


def asked(client: Client, landing: Landing) -> list[Tag]:
    """The locales whose catalogs are asked for users who landed so, as the client writes them."""
    answering = [literal for tag in client.answering for literal in client.written(tag)]
    unmarked = client.written(client.unmarked)[0] if client.unmarked is not None else None
    chain = consulted(client.runtime, landing, answering, unmarked)
    held = {catalog.tag for catalog in client.catalogs}
    found = (client.stands_for.get(tag, tag) for link in chain for tag in [client.meant.get(link, link)])
    return list(dict.fromkeys(client.written(tag)[0] for tag in found if tag in held))


def cause_of(world: World, each: Landed) -> Cause:
    """What a wrong landing comes of."""
    if each.found.step in (BY_CHAIN, BY_REST):
        return "chain"
    by_default = each.found.step in (BY_DEFAULT, BY_NOTHING) and each.wanted == world.charter.default
    return "default" if by_default and (default_claim(each.client) is not None or not each.client.runtime.falls_back) else "lookup"


def cause_spot(world: World, each: Landed, cause: Cause) -> tuple[Spot, str]:
    """Where the cause of a wrong landing stands, and the tag that a chain speaks of, if it is one."""
    if cause == "chain":
        for form in truncations(each.found.wish) if each.found.wish else ("*", "default"):
            spot = link_spot(each.client, form.lower())
            if spot is not None:
                return spot, form
    claim = default_claim(each.client)
    if cause == "default" and claim is not None:
        return claim.spot(), ""
    return where_declared(world, each.client), ""
