"""What helps a translator: what a near locale says, how the same or a similar text was translated elsewhere in the product, samples for placeholders."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.handoff.needs import own_tag, translation
from lemmar.handoff.texts import Name, Text, Use
from lemmar.resolve.world import World
from lemmar.syntax import Placeholder, leading, neutral, paired
from lemmar.tags import CATEGORIES, LanguageTag, Tag, distance, plural_categories, plural_category, whole_numbers

#: A locale that is farther away, by UTS 35's language matching, is of no help.
_NEAR = 50
#: How similar texts are at the least, in percent; how many are shown; and how many that share words with a text are looked at.
_ALIKE, _SHOWN, _LOOKED_AT = 75.0, 3, 60
#: A word that more texts have tells nothing.
_COMMON = 400
_WORD = expression(r"\w+")


class Alike(NamedTuple):
    """A text of the product that is the same or similar (in percent), and its translation."""

    source: str
    translation: str
    percent: int


class Said(NamedTuple):
    """What a locale says for a text."""

    locale: Tag
    text: str


def in_words(use: Use, text: Text, forms: Mapping[str, str]) -> Mapping[str, str]:
    """A translation that a client has, as people are given it, with the placeholders' names of *text*; as it is where it has no neutral form."""
    found = neutral(use.syntax, forms) if not text.syntax else None
    if found is None or use.neutral is None:
        return forms
    names = paired(use.neutral.placeholders, text.placeholders)
    return {form: _NAMED.sub(lambda match: f"{{{names.get(match[1], match[1])}}}", words) for form, words in found.forms.items()}


_NAMED = expression(r"\{([^{}]*)\}")


def near_locales(world: World, locale: Tag) -> list[Tag]:
    """The other locales of the roster whose texts a reader of *locale* may understand, the nearest first; the source's is none."""
    wanted = LanguageTag.parse(locale)
    apart = [
        (distance(wanted, LanguageTag.parse(each)), each) for each in world.charter.locales if each not in (locale, world.charter.source)
    ]
    return [each for far, each in sorted(apart, key=lambda pair: pair[0]) if far < _NEAR]


def nearest(text: Text, locales: Sequence[Tag]) -> Said | None:
    """What the nearest of *locales* that has the text says for it."""
    for locale in locales:
        for use in text.uses:
            forms = translation(use, locale)
            if forms:
                return Said(locale, leading(in_words(use, text, forms)))
    return None


class Memory:
    """What the product says in one locale: every text that has a translation, found again by its words."""

    def __init__(self, texts: Iterable[Text], locale: Tag, wanted: frozenset[Name]) -> None:
        """*wanted* are the messages whose translations do not count, as they are work themselves."""
        self._source: list[str] = []
        self._said: list[str] = []
        self._words: dict[str, list[int]] = {}
        for text in texts:
            words = self._translated(text, locale, wanted)
            if words:
                self.keep(text.shown, words)

    def keep(self, source: str, said: str) -> None:
        """Remembers what is *said* for a source text."""
        for word in set(_WORD.findall(source.lower())):
            self._words.setdefault(word, []).append(len(self._source))
        self._source.append(source)
        self._said.append(said)

    @staticmethod
    def _translated(text: Text, locale: Tag, wanted: frozenset[Name]) -> str:
        said = Counter(
            leading(in_words(use, text, forms))
            for use in text.uses
            if use.name not in wanted and own_tag(use.client, locale) is not None and (forms := translation(use, locale))
        )
        return max(said, key=lambda words: said[words], default="")

    def alike(self, text: Text) -> list[Alike]:
        """The translations of what is the same or similar, the most similar first."""
        from rapidfuzz import fuzz

        shared: Counter[int] = Counter()
        for word in set(_WORD.findall(text.shown.lower())):
            numbers = self._words.get(word, ())
            if len(numbers) <= _COMMON:
                shared.update(numbers)
        near = sorted(shared, key=lambda number: (-shared[number], number))[:_LOOKED_AT]
        scored = [(fuzz.ratio(text.shown, self._source[number], score_cutoff=_ALIKE), number) for number in near]
        best = sorted((each for each in scored if each[0]), key=lambda each: (-each[0], each[1]))[:_SHOWN]
        return [Alike(self._source[number], self._said[number], int(score)) for score, number in best]


_SAMPLES = {"whole": "5", "number": "5", "real": "2.5", "date": "2027-01-31", "character": "A"}
_SOUNDS_LIKE = (
    (expression(r"count|num(?!e)|total|amount|quantity|nights?$|days?$|hours?$|minutes?$|^n$", 2), "5"),
    (expression(r"price|cost|sum|fee|deposit", 2), "48.50"),
    (expression(r"date|day|from|until|when", 2), "2027-01-31"),
    (expression(r"time|clock", 2), "14:30"),
    (expression(r"percent|share|ratio", 2), "80"),
    (expression(r"mail", 2), "ana@tarnhut.example"),
    (expression(r"url|link|href|address", 2), "https://tarnhut.example"),
)


def sample(placeholder: Placeholder) -> str:
    """A value that could stand for a placeholder: by the kind that it shows, else by its name."""
    kind = next((each for each in placeholder.kind.split("/") if each in _SAMPLES), None)
    if kind is not None:
        return _SAMPLES[kind]
    return next((value for sounds, value in _SOUNDS_LIKE if sounds.search(placeholder.name)), "Ana")


_KINDS = {
    "whole": "a whole number",
    "number": "a number",
    "real": "a number",
    "date": "a date or time",
    "text": "a text",
    "object": "a text",
    "choice": "a choice",
}


def kind_in_words(placeholder: Placeholder) -> str:
    """What kind of value it shows; empty where nobody knows."""
    return " or ".join(dict.fromkeys(_KINDS[each] for each in placeholder.kind.split("/") if each in _KINDS))


_MOST_NUMBERS = 4


def numbers_of(locale: Tag, own: Sequence[str] = ()) -> dict[str, str]:
    """The plural forms that a language needs, each with numbers as examples: ``1, 21, 31, 41``; of those that only fractions take, one of these."""
    if own:
        return dict.fromkeys(own, "")
    tag = LanguageTag.parse(locale)
    whole = whole_numbers(tag, "cardinal")
    found = {}
    for category in plural_categories(tag, "cardinal"):
        numbers = sorted(whole.get(category, ()))[:_MOST_NUMBERS]
        if numbers:
            more = ", …" if len(whole[category]) > _MOST_NUMBERS else ""
            found[category] = ", ".join(map(str, numbers)) + more
        elif category == "other":
            found[category] = next((each for each in ("1.5", "0.5", "2.5") if plural_category(tag, each, "cardinal") == category), "")
    return {category: found[category] for category in CATEGORIES if category in found}
