"""The message family, upkeep: what the files themselves say of their texts, and the room there is for them."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.phrasing import clipped, counted
from lemmar.inventory.contents import Catalog
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._texts import HIDES_ODD, TEXT, graded, problem_of, source_texts
from lemmar.rules._translations import texts
from lemmar.tags import Tag


@rule("message.too-long", "warning", "A text is longer than its file allows.", hides=HIDES_ODD)
def too_long(world: World) -> Iterator[Problem]:
    """The text does not fit on the screen: it is cut, or breaks the layout.

    Reported once for each text with more characters than its own entry or the source's allows. To fix: shorten the text.
    """
    for client in world.clients:
        for space, source in client.sources.items():
            limits: dict[str, int] = {}
            for catalog in source.catalogs:
                limits |= {catalog.column.keys[place]: limit for place, limit in catalog.column.rare.limit.items()}
            for tag, catalogs in client.by_space[space].items():
                for catalog in catalogs:
                    own = catalog.column.rare.limit
                    if own or limits:
                        yield from _too_long(client, client.roster(tag), space.part, catalog, source, limits)


def _too_long(
    client: Client, locale: Tag, part: str | None, catalog: Catalog, source: SourcePart, limits: dict[str, int]
) -> Iterator[Problem]:
    own = catalog.column.rare.limit
    for place, (key, text) in enumerate(zip(catalog.column.keys, catalog.column.texts, strict=True)):
        limit = own.get(place, limits.get(key))
        if text and isinstance(limit, int) and limit > 0 and len(text) > limit:
            words = (
                f"{key!r} in {locale!r} has {counted(len(text), 'character')}; at most {limit} are allowed",
                f"users see it cut off or overflowing: {clipped(text)!r}",
                f"shorten it by {counted(len(text) - limit, 'character')}",
            )
            yield problem_of(client, locale, part, key, catalog, None if catalog in source.catalogs else source, words)


_REVIEW = {"fuzzy": "marked as a guess (fuzzy)", "unfinished": "marked as unfinished"}


@rule("message.unreviewed", "warning", "A translation is marked as needing work.", hides=(Hides(("message.missing",), TEXT),))
def unreviewed(world: World) -> Iterator[Problem]:
    """Somebody has marked the text as a guess or as needing review.

    Reported once for each text of a shipping locale; an error if the mark keeps the text from being shipped, as *fuzzy* does: users then
    see the source text. Not reported: entries without a text. To fix: review the text and remove the mark.
    """
    for client, locale, part, catalog, source in texts(world):
        states = catalog.column.rare.state
        if not states or not client.ships(locale):
            continue
        for place, state in states.items():
            key, text = catalog.column.keys[place], catalog.column.texts[place]
            if state == "computed" or key not in source.key_set or (not text and state != "fuzzy"):
                continue
            words = (
                f"{key!r} in {locale!r} is {_REVIEW.get(state, f'marked {state!r}')}",
                "users see the source's text" if not text else f"users read a text that nobody has reviewed: {clipped(text)!r}",
                "review it and remove the mark",
            )
            found = problem_of(client, locale, part, key, catalog, source, words)
            yield found if text else graded(found, "error")


def _originals(source: SourcePart) -> dict[str, str]:
    """The text of each key that translations are made from."""
    found = source_texts(source)
    for catalog in source.catalogs:
        found |= {catalog.column.keys[place]: copy for place, copy in catalog.column.rare.source.items()}
    return found


@rule("message.stale", "warning", "A translation was made from an older source text.", hides=HIDES_ODD)
def stale(world: World) -> Iterator[Problem]:
    """The source text was changed, and the translation still says what it said before.

    Reported once for each text whose file has a copy of the source text that differs from today's in more than blanks. Today's is the
    copy in the source's own file, where that has one: its translation may spell a text in another way. Not reported: files without a
    source file of their own, and formats whose keys are the source texts. To fix: review the translation and update the copy. `lemmar
    mend` brings the copy up to date in XLIFF and TS, and marks the translation as needing work.
    """
    for client, locale, part, catalog, source in texts(world):
        copies = catalog.column.rare.source
        if not copies or any(each.file == catalog.file for each in source.catalogs) or catalog.form.habits.keys_are_texts:
            continue
        theirs = _originals(source)
        for place, copy in copies.items():
            key, text = catalog.column.keys[place], catalog.column.texts[place]
            today = theirs.get(key)
            if today != copy and text and today is not None and copy and copy.split() != today.split():
                words = (
                    f"{key!r} in {locale!r} was translated from {clipped(copy)!r}; the source now says {clipped(today)!r}",
                    f"users read the old text: {clipped(text)!r}",
                    "review the translation and update the file's copy of the source",
                )
                yield problem_of(client, locale, part, key, catalog, source, words)
