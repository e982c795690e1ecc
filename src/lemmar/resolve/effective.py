"""Effective texts: for every message of a client, what a user of one locale sees, and from which catalog.

Set operations on whole key columns; single messages are looked at only where a locale does not have them itself.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from operator import itemgetter
from typing import NamedTuple

from lemmar.findings import ORIGINS, Answer, Origin
from lemmar.inventory.contents import Catalog
from lemmar.resolve.landings import Cause
from lemmar.resolve.pairing import same_language
from lemmar.resolve.spots import text_of
from lemmar.resolve.world import Absence, Client, Effect, SourcePart, Space, World
from lemmar.tags import Tag

BySpace = Mapping[Space, Mapping[Tag, tuple[Catalog, ...]]]


class Held(NamedTuple):
    """The keys for which one locale has a text in one part, and those for which its text is empty."""

    full: frozenset[str]
    empty: frozenset[str]


def held(catalogs: Sequence[Catalog]) -> Held:
    """What *catalogs*, in the charter's order, hold together; of the same key, the later one's text counts."""
    full: frozenset[str] = frozenset()
    empty: frozenset[str] = frozenset()
    for catalog in catalogs:
        here, blank = _held_by(catalog)
        full, empty = (full - blank) | here, (empty - here) | blank
    return Held(full, empty)


def _held_by(catalog: Catalog) -> Held:
    texts = catalog.column.texts
    if any(map(str.isspace, filter(None, texts))):  # a text of blanks shows as little as none
        texts = tuple("" if text is not None and text.isspace() else text for text in texts)
    has_none, has_empty = None in texts, "" in texts
    if not has_none and not has_empty:
        return Held(catalog.column.key_set, frozenset())
    keys = catalog.column.keys
    full = frozenset(key for key, text in zip(keys, texts, strict=True) if text)
    empty = frozenset(key for key, text in zip(keys, texts, strict=True) if text == "") if has_empty else frozenset()
    return Held(full, empty)


class WhenMissing(NamedTuple):
    """How a client shows what is not there: its traits *on-miss* and *on-empty*, and its source locale."""

    on_miss: str
    on_empty: str
    source: Tag


def effect(
    locale: Tag,
    tag: Tag,
    chain: Sequence[Tag],
    sources: Mapping[Space, SourcePart],
    held_by: Mapping[tuple[Tag, Space], Held],
    seen: WhenMissing,
) -> Effect:
    """What users of the roster's *locale*, which the client calls *tag*, see when *chain* is consulted in its order."""
    by_space: dict[Space, Answer] = {}
    absences: list[Absence] = []
    for space, source in sources.items():
        counts = dict.fromkeys(ORIGINS, 0)
        remaining = source.key_set
        where: dict[str, tuple[Origin, Tag | None]] = {}
        for link in chain:
            have = held_by.get((link, space))
            if have is None or not remaining:
                continue
            origin = origin_of(tag, link)
            got = remaining & have.full
            _count(counts, where, origin, got, link)
            remaining -= got
            if seen.on_empty == "blank" and have.empty:
                blank = remaining & have.empty
                _count(counts, where, "blank", blank, link)
                remaining -= blank
        origin = missing_origin(tag, seen)
        _count(counts, where, origin, remaining, seen.source if seen.on_miss == "source" else None)
        by_space[space] = Answer(**counts)
        if where:
            own_empty = held_by.get((tag, space), Held(frozenset(), frozenset())).empty
            absences += [Absence(space, key, *where[key], key in own_empty) for key in source.keys if key in where]
    total = Answer(*(sum(answer[index] for answer in by_space.values()) for index in range(len(ORIGINS))))
    return Effect(locale, tag, tuple(chain), total, tuple(absences), by_space)


def _count(
    counts: dict[Origin, int], where: dict[str, tuple[Origin, Tag | None]], origin: Origin, keys: frozenset[str], link: Tag | None
) -> None:
    counts[origin] += len(keys)
    if origin not in ("own", "inherited"):
        where.update(dict.fromkeys(keys, (origin, link)))


def origin_of(tag: Tag, link: Tag) -> Origin:
    """What a text that *link* gives is to a reader of *tag*."""
    if tag == link:
        return "own"
    return "inherited" if same_language(tag, link) else "foreign"


def missing_origin(tag: Tag, seen: WhenMissing) -> Origin:
    """What a reader of *tag* sees for a message that no consulted catalog has."""
    if seen.on_miss == "source":
        return origin_of(tag, seen.source)
    return "blank" if seen.on_miss == "blank" else "error" if seen.on_miss == "error" else "key"


def lacking_too(client: Client, effect: Effect, asked: Collection[Tag]) -> set[tuple[Space, str]]:
    """What a parent in the same language lacks too, of the locales whose texts are *asked* for: where that gets one, this locale has it."""
    found = set()
    for other in client.effects.values():
        consulted = other.tag != effect.tag and other.tag in effect.consulted
        if consulted and other.locale in asked and same_language(effect.tag, other.tag):
            found |= {(absence.space, absence.key) for absence in other.absences}
    return found


def unasked(world: World, client: Client, effect: Effect) -> dict[Cause, dict[Space, tuple[Catalog, ...]]]:
    """By cause the catalogs of each space that readers of the locale should be given and that the client does not ask for them: its own,
    and those of its language that the charter's chain names.
    """
    asked = set(effect.consulted)
    named = [locale for locale in world.charter.chains.get(effect.locale, ()) if same_language(effect.locale, locale)]
    held = _by_locale(world, client)
    found: dict[Cause, dict[Space, tuple[Catalog, ...]]] = {}
    for _, space, tag, catalogs in sorted((each for locale in {effect.locale, *named} for each in held.get(locale, ())), key=itemgetter(0)):
        if tag not in asked and client.roster(tag) == effect.locale:
            found.setdefault("lookup", {})[space] = catalogs
        elif tag not in asked:
            found.setdefault("chain", {})[space] = (*found.get("chain", {}).get(space, ()), *catalogs)
    return found


_Numbered = tuple[int, Space, Tag, tuple[Catalog, ...]]


def _by_locale(world: World, client: Client) -> dict[Tag, list[_Numbered]]:
    """The client's catalogs by the roster's locales: each space's with its tag, numbered in the client's order."""
    every: dict[str, dict[Tag, list[_Numbered]]] = world.memo.setdefault("catalogs by locale", {})
    if client.name not in every:
        found = every[client.name] = {}
        pairs = ((space, tag, catalogs) for space, locales in client.by_space.items() for tag, catalogs in locales.items())
        for number, (space, tag, catalogs) in enumerate(pairs):
            found.setdefault(client.roster(tag), []).append((number, space, tag, catalogs))
    return every[client.name]


# --------------------------------------------------------------------------------------------------------- message by message


class Sight(NamedTuple):
    """A message as users of *locale* see it in *client*: *text* (None where no text is shown), *origin*, the locale it is *from*."""

    client: str
    locale: Tag
    space: Space
    key: str
    text: str | None
    origin: Origin
    source: Tag | None


def sights(client: Client, locale: Tag, space: Space, keys: Sequence[str]) -> Iterator[Sight]:
    """What users of the roster's *locale* see for each of *keys* of a space; nothing where the client does not support it."""
    effect = client.effects.get(locale) or client.beyond.get(locale)
    if effect is None:
        return
    seen = WhenMissing(client.traits["on-miss"].value, client.traits["on-empty"].value, client.source)
    for key in keys:
        yield _sight(client, effect, space, key, seen)


def _sight(client: Client, effect: Effect, space: Space, key: str, seen: WhenMissing) -> Sight:
    locale, own = effect.locale, effect.tag
    for link in effect.consulted:
        text = text_of(client.by_space.get(space, {}).get(link, ()), key)
        if text:
            return Sight(client.name, locale, space, key, text, origin_of(own, link), link)
        if text == "" and seen.on_empty == "blank":
            return Sight(client.name, locale, space, key, "", "blank", link)
    origin = missing_origin(own, seen)
    if seen.on_miss == "source":
        return Sight(
            client.name, locale, space, key, text_of(client.by_space.get(space, {}).get(seen.source, ()), key), origin, seen.source
        )
    return Sight(client.name, locale, space, key, key if origin == "key" else None, origin, None)
