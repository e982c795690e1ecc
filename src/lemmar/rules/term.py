"""The message family, terms: do translations call things as the charter says?"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.phrasing import clipped
from lemmar.findings import Subject
from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import key_spot
from lemmar.resolve.terms import Term, terms
from lemmar.resolve.world import SourcePart, World
from lemmar.rules import Problem, rule
from lemmar.rules._texts import HIDES_ODD, MANY, SourceTexts, problem_of
from lemmar.rules._translations import is_computed, texts


@rule("message.term", "warning", "A translation does not use the agreed term.", hides=HIDES_ODD)
def term(world: World) -> Iterator[Problem]:
    """Users see two names for one thing, or a name that was translated.

    Reported once for each text whose source has a `[[term]]` of the charter and which lacks what is agreed for the locale, or has a word that
    is to be avoided; once for a term and a catalog where most of its texts are so. Not reported: locales for which nothing is agreed. A term
    is a word by itself, in whatever case; forms of it are the charter's to say (`forms`, `inflected`). To fix: use the agreed word, or
    say its form in the charter.
    """
    every = terms(world.charter)
    if not every:
        return
    known = SourceTexts()
    held: dict[int, dict[int, list[str]]] = {}
    for client, locale, part, catalog, source in texts(world):
        wanted = [(number, each) for number, each in enumerate(every) if each.concerns(locale)]
        if not wanted or locale not in client.needs or locale == client.written_in:
            continue
        if id(source) not in held:
            held[id(source)] = _with_terms(every, source, known)
        for number, each in wanted:
            keys = [key for key in held[id(source)][number] if _text(catalog, key) and not is_computed(catalog, key)]
            wrong = [(key, words) for key in keys if (words := each.wrong(_text(catalog, key), locale))]
            if len(wrong) >= MANY and 2 * len(wrong) > len(keys):
                yield Problem(
                    Subject((client.name,), locale, part),
                    f"{len(wrong):,} of {len(keys):,} texts in {locale!r} with {each.entry.word!r} in their source {_plural(wrong[0][1])}",
                    key_spot(catalog, wrong[0][0]),
                    "users see two names for one thing",
                    "use the agreed word, or say its forms in the charter",
                    detail=each.entry.word,
                )
                continue
            for key, words in wrong:
                told = (
                    f"{key!r} in {locale!r} {words}",
                    f"users read {clipped(_text(catalog, key))!r}",
                    "use the agreed word, or say its form in the charter",
                )
                yield problem_of(client, locale, part, key, catalog, source, told, each.entry.word)


def _plural(words: str) -> str:
    """``lack …`` for ``lacks …``."""
    return words.replace("lacks ", "lack ", 1).replace("has ", "have ", 1)


def _with_terms(every: tuple[Term, ...], source: SourcePart, known: SourceTexts) -> dict[int, list[str]]:
    """The keys of the source's texts that have each term, by its number."""
    texts_of = known.of(source)
    return {
        number: [key for key, text in texts_of.items() if key in source.key_set and each.is_in(text)] for number, each in enumerate(every)
    }


def _text(catalog: Catalog, key: str) -> str:
    """A message's text, with all of its forms."""
    place = catalog.column.keys.places.get(key)
    if place is None:
        return ""
    forms = catalog.column.rare.forms.get(place)
    return "\n".join(forms.values()) if forms else catalog.column.texts[place] or ""
