"""Fonts: can they draw what texts use? And do texts fit?"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator, Sequence

from lemmar.basics.phrasing import clipped, counted, joined, listed
from lemmar.charter.types import BoxEntry
from lemmar.findings import Subject
from lemmar.fonts import Metrics, metrics_of, normal, upper
from lemmar.inventory.contents import Catalog, Spot
from lemmar.inventory.fonts import Fonts
from lemmar.prose.guessing import alphabet
from lemmar.prose.letters import NAMES
from lemmar.resolve.fonts import Lacks, Text, columns, concerns, lacks, source_words, texts
from lemmar.resolve.spots import charter_spot, key_spot
from lemmar.resolve.world import Client, Effect, World
from lemmar.rules import Problem, rule
from lemmar.tags import LanguageTag, Tag

#: So many characters of one finding are named.
_NAMED = 8


def _every(world: World) -> Iterator[tuple[Client, Fonts, Tag, Lacks]]:
    """What the fonts lack, by client, table and locale; computed once."""
    known: dict[str, list[tuple[Fonts, Tag, Lacks]]] = world.memo.setdefault("fonts", {})
    for client in world.clients:
        if client.name not in known:
            known[client.name] = [
                (fonts, locale, lacks(world.charter, client, fonts, effect, alphabet(LanguageTag.parse(locale).language)))
                for fonts in client.fonts
                for locale, effect in client.effects.items()
                if concerns(fonts, locale) and any(not each.font.fault for each in fonts.asked)
            ]
        yield from ((client, *each) for each in known[client.name])


@rule("font.glyph", "error", "A font has no sign for characters that texts use.")
def glyph(world: World) -> Iterator[Problem]:
    """Users see boxes, or signs of another font that do not fit beside the others.

    Reported once for each locale and `[[client.font]]` of the charter, with the characters that none of its fonts has, in how many texts they are, and where
    the first one is; also for a font that is not there or cannot be read. Texts are those that users of the locale see, with `uppercase` as their
    language writes capital letters. Blanks, controls and signs that can be put together of others are not reported. To fix: use a font that has
    them, add one as `fallback`, or reword the text.
    """
    for client in world.clients:
        for fonts in client.fonts:
            faults = [
                *(f"{pattern} matches no font" for pattern in fonts.unmatched),
                *(f"{each.file}: {each.font.fault}" for each in (*fonts.asked, *fonts.wholes) if each.font.fault),
            ]
            for words in faults:
                yield Problem(
                    Subject((client.name,)),
                    words,
                    charter_spot(world, *fonts.where),
                    "no text was checked with this font",
                    "correct the file, or the charter",
                    detail=words,
                )
    for client, fonts, locale, found in _every(world):
        if found.glyphs:
            yield _lacking(
                client,
                fonts,
                locale,
                found,
                found.glyphs,
                "has no sign for",
                "use a font that has them, add one as 'fallback', or reword the text",
            )


@rule("font.subset", "error", "A font was subset to fewer characters than texts use.")
def subset(world: World) -> Iterator[Problem]:
    """Texts have changed since a build cut the font; users see boxes.

    Reported as `font.glyph` is, for characters that a font of `cut-from` has and the `files` have not. To fix: cut it anew; `lemmar glyphs` lists what it
    needs.
    """
    for client, fonts, locale, found in _every(world):
        if found.cut:
            yield _lacking(client, fonts, locale, found, found.cut, "was cut without", "subset it again, for what 'lemmar glyphs' lists")


def _lacking(client: Client, fonts: Fonts, locale: Tag, found: Lacks, characters: Sequence[str], what: str, remedy: str) -> Problem:
    first = min((found.needs.characters[character].first, character) for character in characters)
    text = found.needs.texts[first[0]]
    number = len(set(_keys_with(fonts, locale, found, characters)))
    return Problem(
        Subject((client.name,), locale),
        f"{_font_name(fonts)} {what} {joined([_shown(each) for each in characters], most=_NAMED)}, in {counted(number, 'text')} of {locale!r}",
        key_spot(text.catalog, text.key),
        f"users see boxes, such as in {clipped(' '.join(normal(text.words).split()))!r}",
        remedy,
        detail=f"{fonts.where[-1]} {what}",
    )


def _keys_with(fonts: Fonts, locale: Tag, found: Lacks, characters: Sequence[str]) -> Iterator[tuple[int, str]]:
    wanted = set(characters)
    for text in found.needs.texts:
        words = normal(text.words)
        if not wanted.isdisjoint(upper(words, locale) if fonts.entry.uppercase else words):
            yield id(text.catalog), text.key


def _font_name(fonts: Fonts) -> str:
    first = next((each.file for each in fonts.asked if not each.font.fault), "the font")
    return first if len(fonts.asked) == 1 else f"{first} (and {counted(len(fonts.asked) - 1, 'more font')})"


def _shown(character: str) -> str:
    code = f"U+{ord(character):04X}"
    return f"{character} ({code})" if not unicodedata.combining(character) and unicodedata.category(character) != "Co" else code


@rule("font.mark", "warning", "A font cannot put together what a script needs.")
def mark(world: World) -> Iterator[Problem]:
    """Letters stand apart that should join, or a mark stands beside its letter.

    Reported once for each locale and font table: for combining marks that texts use, that are in no letter of their own, and for which no font has an anchor;
    for scripts whose letters join or change place, such as Arabic and Devanagari, where no font that has the letters has tables for them. Fonts of
    bitmaps have no such tables, and are not reported. To fix: use a font that has these tables; a tool that subsets fonts must keep them.
    """
    for client, fonts, locale, found in _every(world):
        said = []
        if found.scripts:
            said.append(f"has no tables to shape {joined([NAMES.get(script, script) for script in found.scripts])}")
        if found.marks:
            said.append(f"has no place on letters for {joined([_shown(each) for each in found.marks], most=_NAMED)}")
        if said:
            characters = found.marks or tuple(found.needs.characters)
            text = found.needs.texts[min(found.needs.characters[character].first for character in characters)]
            yield Problem(
                Subject((client.name,), locale),
                f"{_font_name(fonts)} {' and '.join(said)}",
                charter_spot(world, *fonts.where),
                "users see letters apart, and marks beside them",
                "use a font that has these tables, and keep them when subsetting it",
                (key_spot(text.catalog, text.key),),
                detail=str(fonts.where[-1]),
            )


@rule("font.alphabet", "note", "A font lacks letters of a language that no text uses yet.")
def letters(world: World) -> Iterator[Problem]:
    """Names and words that users write, and tomorrow's texts, will have them.

    Reported once for each locale and font table, by the language's own letters in CLDR, without those that texts use (`font.glyph`). To fix: use
    a font that has them, or include them when subsetting it.
    """
    for client, fonts, locale, found in _every(world):
        if found.letters and not found.glyphs and not found.cut:
            yield Problem(
                Subject((client.name,), locale),
                f"{_font_name(fonts)} has no sign for {listed(found.letters, most=_NAMED)}, which {locale!r} is written with",
                charter_spot(world, *fonts.where),
                "no text needs them yet; names that users write will",
                "use a font that has them, or include them when subsetting it",
                detail=str(fonts.where[-1]),
            )


#: So many columns more than its source's a text may always have: short words differ most.
_ALWAYS = 5


@rule("message.overflows", "warning", "A text is wider than the room for it.")
def overflows(world: World) -> Iterator[Problem]:
    """Its end is cut off, or it covers what is beside it.

    Reported for each text that is wider than a `[[client.box]]` of the charter, measured with the advances and the kerning of the box's font,
    without what the program inserts, where the font has all its letters; and, where a client has `expand`, for each that exceeds its source by
    more than that share and five columns, wide signs counting two. Many of one locale are one finding. To fix: write it shorter, or make room.
    """
    for client in world.clients:
        for locale, effect in client.effects.items():
            if locale != client.written_in and client.expand:
                yield from _expanded(world, client, locale, effect)
            for box in client.boxes:
                metrics = _metrics(world, client, box.file, box.data)
                if metrics is not None:
                    yield from _boxed(world, client, locale, metrics, box.entry)
        for box in client.boxes:
            if box.fault or _metrics(world, client, box.file, box.data) is None:
                yield Problem(
                    Subject((client.name,)),
                    f"{box.file}: {box.fault or 'its widths cannot be read'}",
                    charter_spot(world, *box.where),
                    "no text was measured for this box",
                    "correct the file, or the charter",
                    detail=str(box.where[-1]),
                )


def _metrics(world: World, client: Client, file: str, data: bytes) -> Metrics | None:
    known: dict[tuple[str, str], Metrics | None] = world.memo.setdefault("metrics", {})
    if (client.name, file) not in known:
        known[client.name, file] = metrics_of(data, file) if data else None
    return known[client.name, file]


def _expanded(world: World, client: Client, locale: Tag, effect: Effect) -> Iterator[Problem]:
    for text in texts(world.charter, client, effect):
        if text.catalog.tag == client.source:
            continue
        own, source = columns(text.words), columns(source_words(world, client, client.space(text.catalog), text.key))
        if source and own > max(source * client.expand, source + _ALWAYS):
            yield _too_wide(
                client, locale, text.catalog, text, f"is {own} columns wide, and its source {source}", f"{client.expand:g} times is allowed"
            )


def _boxed(
    world: World,
    client: Client,
    locale: Tag,
    metrics: Metrics,
    box: BoxEntry,
) -> Iterator[Problem]:
    for text in texts(world.charter, client, client.effects[locale], box.keys):
        if not metrics.knows(normal(text.words)):
            continue  # another font draws it, which is as wide as nobody knows
        wrapped = _wrapped(normal(text.words), metrics, box.width, box.size) if box.lines > 1 else normal(text.words).split("\n")
        widest = max((metrics.width(line, box.size) for line in wrapped), default=0)
        if widest > box.width:
            yield _too_wide(client, locale, text.catalog, text, f"is {widest:.0f} wide", f"there is room for {box.width:g}")
        elif box.lines > 1 and len(wrapped) > box.lines:
            yield _too_wide(client, locale, text.catalog, text, f"takes {len(wrapped)} lines", f"there is room for {box.lines}")


def _wrapped(text: str, metrics: Metrics, width: float, size: float) -> list[str]:
    """The lines of a text that breaks at blanks."""
    lines = []
    for paragraph in text.split("\n"):
        line = ""
        for word in paragraph.split(" "):
            longer = f"{line} {word}" if line else word
            if line and metrics.width(longer, size) > width:
                lines.append(line)
                line = word
            else:
                line = longer
        lines.append(line)
    return lines


def _too_wide(client: Client, locale: Tag, catalog: Catalog, text: Text, what: str, room: str) -> Problem:
    spot: Spot = key_spot(catalog, text.key)
    return Problem(
        Subject((client.name,), locale, catalog.part, text.key),
        f"{text.key!r} in {locale!r} {what}; {room}",
        spot,
        f"users see {clipped(' '.join(text.words.split()))!r} cut off",
        "write it shorter, or make room",
        gather="overflows",
    )
