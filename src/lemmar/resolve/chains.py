"""Where the catalogs that a client consults are not those that the charter's chains name."""

from __future__ import annotations

from typing import NamedTuple

from lemmar.charter import Charter
from lemmar.resolve.pairing import same_language
from lemmar.resolve.world import Client, Effect
from lemmar.tags import Tag


class Divergence(NamedTuple):
    """A locale of the roster, the locales asked behind its own, and those that the charter wants there."""

    locale: Tag
    found: tuple[Tag, ...]
    wanted: tuple[Tag, ...]


def divergences(charter: Charter, client: Client) -> list[Divergence]:
    """The locales that a client needs and that fall along another chain than the charter's, in the roster's order.

    Links of the locale's own language and script may stand between, unless the charter has an entry of that locale's own. None where
    the client chooses one catalog for all messages.
    """
    if client.runtime.grain != "message":
        return []
    held = {client.roster(catalog.tag) for catalog in client.catalogs}
    found = []
    for locale, effect in client.effects.items():
        behind = _behind(charter, client, effect)
        wanted = _wanted(charter, locale, held, len(behind))
        if locale in client.needs and behind != wanted:
            found.append(Divergence(locale, behind, wanted))
    return found


def _behind(charter: Charter, client: Client, effect: Effect) -> tuple[Tag, ...]:
    """The locales asked behind the locale's own, as the roster calls them; of its language and script only where the charter says so."""
    chain = [client.roster(tag) for tag in effect.consulted]
    behind = tuple(tag for tag in dict.fromkeys(chain) if tag != effect.locale)
    if effect.locale in charter.chains:
        return behind
    return tuple(tag for tag in behind if not same_language(effect.locale, tag))


def _wanted(charter: Charter, locale: Tag, held: set[Tag], most: int) -> tuple[Tag, ...]:
    """The charter's chain behind *locale*, of which the client has catalogs; the source is asked last where all fall back to it."""
    named = charter.chains.get(locale)
    chain = [Tag(tag) for tag in (named if named is not None else charter.default_chain)]
    found = [tag for tag in chain if tag != locale and tag in held and (named is not None or not same_language(locale, tag))]
    source = Tag(charter.source)
    if len(found) < most and source not in found and source != locale and not same_language(locale, source):
        found.append(source)
    return tuple(found)
