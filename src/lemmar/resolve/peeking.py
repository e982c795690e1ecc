"""What a user sees for one message: the text, whence it comes, and from which locale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from lemmar.inventory.contents import Catalog
from lemmar.resolve.effective import Seen, missing_origin, origin_of
from lemmar.resolve.world import Client, Effect, Origin
from lemmar.tags import Tag


class Sight(NamedTuple):
    """A message as users of *locale* see it in *client*: *text* (None where no text is shown), *origin*, the locale it is *from*."""

    client: str
    locale: Tag
    part: str | None
    key: str
    text: str | None
    origin: Origin
    source: Tag | None


def sights(client: Client, locale: Tag, part: str | None, keys: Sequence[str], source: Tag) -> Iterator[Sight]:
    """What users of the roster's *locale* see for each of *keys* of a part; nothing where the client does not support it."""
    effect = client.effects.get(locale)
    if effect is None:
        return
    seen = Seen(client.traits["on-miss"].value, client.traits["on-empty"].value, source)
    for key in keys:
        yield _sight(client, effect, part, key, seen)


def _sight(client: Client, effect: Effect, part: str | None, key: str, seen: Seen) -> Sight:
    locale, own = effect.locale, effect.tag
    for link in effect.consulted:
        text = _held(client.by_part.get(part, {}).get(link, ()), key)
        if text:
            return Sight(client.name, locale, part, key, text, origin_of(own, link), link)
        if text == "" and seen.on_empty == "blank":
            return Sight(client.name, locale, part, key, "", "blank", link)
    origin = missing_origin(own, seen)
    if seen.on_miss == "source":
        return Sight(client.name, locale, part, key, _held(client.by_part.get(part, {}).get(seen.source, ()), key), origin, seen.source)
    return Sight(client.name, locale, part, key, key if origin == "key" else None, origin, None)


def _held(catalogs: Sequence[Catalog], key: str) -> str | None:
    """The text of *key*, the later catalog's where several have it."""
    found: str | None = None
    for catalog in catalogs:
        index = catalog.column.keys.places.get(key)
        if index is not None and catalog.column.texts[index] is not None:
            found = catalog.column.texts[index]
    return found
