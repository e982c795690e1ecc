"""Which catalogs each client asks for a locale, held against the charter's chains, and why they differ: the one answer for rules and commands."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from lemmar.charter.types import Charter
from lemmar.inventory.contents import Spot
from lemmar.resolve.claims import chain_spot, claims_of, default_claim, where_declared, wrong_default
from lemmar.resolve.landings import Cause, asked
from lemmar.resolve.pairing import same_language, scripts_of
from lemmar.resolve.runtimes import land
from lemmar.resolve.world import Client, Effect, World
from lemmar.tags import Tag, truncations


class Chain(NamedTuple):
    """What a client asks for a locale of the roster, in order (None: it does not support it), and what the charter wants.

    *behind* and *wanted_behind* are what is compared: the links behind the locale's own, of which the client has catalogs. Links of the
    locale's own language and script may stand between, unless the charter has an entry of that locale's own.
    """

    locale: Tag
    consulted: tuple[Tag, ...] | None
    wanted: tuple[Tag, ...]
    behind: tuple[Tag, ...] = ()
    wanted_behind: tuple[Tag, ...] = ()
    diverges: bool = False


def chains(world: World, client: Client, locales: Sequence[Tag] = ()) -> list[Chain]:
    """The chains of *locales*, without any of the whole roster. Where a client chooses one catalog for all messages, none diverges."""
    charter = world.charter
    held = {client.roster(catalog.tag) for catalog in client.catalogs}
    found = []
    for locale in locales or charter.locales:
        wanted = (locale, *(link for link in charter.chain(locale) if link != locale))
        effect = client.effects.get(locale)
        if effect is None:
            found.append(Chain(locale, None, wanted))
            continue
        behind = _behind(charter, client, effect)
        behind_wanted = _wanted(charter, client, locale, held, len(behind))
        diverges = client.runtime.grain == "message" and locale in client.needs and behind != behind_wanted
        found.append(Chain(locale, tuple(client.roster(tag) for tag in effect.consulted), wanted, behind, behind_wanted, diverges))
    return found


def divergences(world: World, client: Client) -> list[Chain]:
    """The locales that a client needs and that fall along another chain than the charter's, in the order of what it supports."""
    return [each for each in chains(world, client, tuple(client.effects)) if each.diverges]


def divergence_cause(world: World, client: Client, those: Sequence[Chain]) -> tuple[Cause, Spot]:
    """What chains differ by, and where that is stated: the client's chain, its default, else its lookup in what it supports."""
    spot = chain_spot(client, [client.effects[each.locale].tag for each in those])
    if spot is not None:
        return "chain", spot
    claim = default_claim(client)
    if claim is not None and client.roster(client.default) != world.charter.default:
        return "default", claim.spot()
    return "lookup", where_declared(world, client)


def origins(world: World, client: Client, those: Sequence[Chain]) -> dict[str | None, list[Chain]]:
    """The diverging chains by what is known to bring them about: the wrong default, a link that leads to what the client lacks or in a circle,
    a tag without its script (each by its name, see `DEFAULT`, `link_origin`, `script_origin`); None where it is the chain itself.
    """
    found: dict[str | None, list[Chain]] = {}
    for each in those:
        found.setdefault(_origin(world, client, each), []).append(each)
    return found


#: The name of what comes of a wrong default.
DEFAULT = "default"


def link_origin(tag: str) -> str:
    """The name of what comes of a chain that leads to *tag*."""
    return f"link {tag.lower()}"


def script_origin(tag: str) -> str:
    """The name of what comes of a tag that does not say which script it means."""
    return f"script {tag.lower()}"


def circle(chain: Mapping[str, tuple[Tag, ...]], start: str) -> list[str]:
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


def lacking(client: Client) -> frozenset[str]:
    """The links of the client's claimed chains that it neither supports nor has a catalog of, in lower case."""
    held = {tag.lower() for tag in client.supported} | {catalog.tag.lower() for catalog in client.catalogs}
    named = (str(entry.tag or entry.value.text).lower() for claim in claims_of(client, "chain") for entry in claim.entries)
    return frozenset(link for link in named if link not in held)


def _origin(world: World, client: Client, each: Chain) -> str | None:
    chain = client.runtime.chain
    own = next((form.lower() for form in truncations(client.effects[each.locale].tag) if form.lower() in chain), None)
    links = [tag.lower() for tag in chain.get(own, ())] if own is not None else []
    absent = lacking(client)
    lost = next((link for link in links if link in absent), None)
    if lost is not None:
        return link_origin(lost)
    around = circle(chain, own) if own is not None and client.runtime.transitive else []
    if around:
        return link_origin(min(around))
    extra, unclear = set(each.behind) - set(each.wanted_behind), scripts_of(world.charter.locales)
    vague = next((tag for tag in client.effects[each.locale].consulted if tag in unclear and client.roster(tag) in extra), None)
    if vague is not None:
        return script_origin(vague)
    if wrong_default(world, client) is None and client.runtime.falls_back:
        return None
    default = next((tag for tag in client.supported if client.roster(tag) == world.charter.default), world.charter.default)
    mended = replace(client, default=default, runtime=client.runtime._replace(default=client.written(default)[0], falls_back=True))
    effect = replace(client.effects[each.locale], consulted=tuple(asked(mended, land(mended.runtime, client.effects[each.locale].tag))))
    behind = _behind(world.charter, client, effect)
    held = {client.roster(catalog.tag) for catalog in client.catalogs}
    return DEFAULT if behind == _wanted(world.charter, client, each.locale, held, len(behind)) else None


def _behind(charter: Charter, client: Client, effect: Effect) -> tuple[Tag, ...]:
    """The locales asked behind the locale's own, as the roster calls them; of its language and script only where the charter says so."""
    chain = [client.roster(tag) for tag in effect.consulted]
    behind = tuple(tag for tag in dict.fromkeys(chain) if tag != effect.locale)
    if effect.locale in charter.chains:
        return behind
    return tuple(tag for tag in behind if not same_language(effect.locale, tag))


def _wanted(charter: Charter, client: Client, locale: Tag, held: set[Tag], most: int) -> tuple[Tag, ...]:
    """The charter's chain behind *locale*, of which the client has catalogs; the source is asked last where all fall back to it."""
    named = locale in charter.chains
    found = [tag for tag in charter.chain(locale) if tag != locale and tag in held and (named or not same_language(locale, tag))]
    source = client.written_in
    if len(found) < most and source not in found and source != locale and not same_language(locale, source):
        found.append(source)
    return tuple(found)
