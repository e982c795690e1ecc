"""The message family, scripts: letters of another script, and Chinese characters of the other kind."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import NamedTuple

from lemmar.basics.phrasing import clipped, counted, listed
from lemmar.inventory.contents import Catalog
from lemmar.prose import characters
from lemmar.prose.letters import expected, has_letters, letters, lookalikes, others, script_of, without_code, words_of
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Problem, rule
from lemmar.rules._texts import HIDES_ODD, MANY, SourceTexts, graded, is_most, problem_of, problem_of_all
from lemmar.rules._translations import is_computed, texts
from lemmar.tags import LanguageTag, Tag, read_spelling

_BETWEEN = "\0"
_FLOOD = 50  # texts of one catalog that are in another script; whatever their share, they came together
_SHORT = 3  # letters; a word of so few is the same in many languages


@rule("message.wrong-script", "warning", "A text is in the wrong script.", hides=HIDES_ODD)
def wrong_script(world: World) -> Iterator[Problem]:
    """A text was pasted into the wrong language, or a letter typed on the wrong keyboard.

    Reported once for each text, and once for a catalog if most of its texts are affected, or hardly any of the locale's is in its script:
    words in a script that neither the locale nor the source text uses; a text of Latin words only, in a locale with another script; and
    words that mix Latin and Cyrillic letters that look alike; a Chinese catalog in traditional characters that should be in simplified
    ones, or the other way round. A whole catalog in the wrong script is an error. Not reported: names, code, placeholders and loanwords in
    Latin letters beside the locale's own. To fix: write the text in the locale's own script.
    """
    known = SourceTexts()
    found_in: dict[tuple[str, Tag], list[_Odd]] = {}
    for client, locale, part, catalog, source in texts(world):
        if locale not in client.needs:
            continue
        script = _script(world, locale)
        if script in _CHINESE and LanguageTag.parse(locale).language == "zh":
            other = _other_characters(catalog, script)
            if other:
                words = (
                    f"the texts of {locale!r} are in {other} characters",
                    f"readers of {_CHINESE[script]} characters may not be able to read them",
                    f"put in texts in {_CHINESE[script]} characters, or name their script in the tag",
                )
                yield graded(problem_of_all(client, locale, part, catalog, words), "error")
                continue
        mine = expected(script)
        if not mine:
            continue
        foreign = others(mine)
        suspects = _suspects(catalog, mine, foreign)
        theirs = known.of(source) if suspects else {}
        wrong = []
        for place in suspects:
            key, text = catalog.column.keys[place], catalog.column.texts[place] or ""
            found = _wrong_letters(text, theirs.get(key, ""), mine, foreign)
            if found and not is_computed(catalog, key) and not _names_language(theirs.get(key, "")):
                wrong.append((key, text, found))
        if wrong:
            found_in.setdefault((client.name, locale), []).append(_Odd(client, locale, part, catalog, source, wrong))
    for odd in found_in.values():
        yield from _of_locale(world, odd)


class _Odd(NamedTuple):
    """Texts of a catalog in another script: key, text, what is wrong."""

    client: Client
    locale: Tag
    part: str | None
    catalog: Catalog
    source: SourcePart
    wrong: list[tuple[str, str, str]]


def _of_locale(world: World, those: Sequence[_Odd]) -> Iterator[Problem]:
    """The problems of a locale in a client: one for each catalog of which most is wrong, or for each at all where hardly a text of theirs has letters of
    the locale's script; else one for each text.
    """
    number = sum(len(each.wrong) for each in those)
    own = has_letters(expected(_script(world, those[0].locale)))
    everywhere = number >= MANY and 10 * sum(1 for each in those for text in each.catalog.column.texts if text and own(text)) <= number
    for client, locale, part, catalog, source, wrong in those:
        if everywhere or is_most(len(wrong), catalog) or len(wrong) >= _FLOOD:
            most = wrong[0][2].partition(":")[0]
            words = (
                f"{len(wrong):,} of {counted(_filled(catalog), 'text')} in {locale!r} {most.replace('is ', 'are ', 1)}",
                f"users read, for example, {clipped(wrong[0][1])!r}",
                "replace them with texts of this locale, or name their script in its tag",
            )
            whole = problem_of_all(client, locale, part, catalog, words)
            yield graded(whole, "error") if _is_whole(len(wrong), catalog) else whole
            continue
        for key, text, found in wrong:
            words = (
                f"{key!r} in {locale!r} {found}",
                f"users read {clipped(text)!r}",
                "write this locale's text, in its own letters",
            )
            yield problem_of(client, locale, part, key, catalog, source, words)


_CHINESE = {"Hans": "simplified", "Hant": "traditional"}


def _other_characters(catalog: Catalog, script: str) -> str:
    """The characters that the texts of a Chinese catalog are in, where these are not those of its script."""
    found = characters(text for text in catalog.column.texts if text)
    own, other = (found.simplified, found.traditional) if script == "Hans" else (found.traditional, found.simplified)
    return next(name for kind, name in _CHINESE.items() if kind != script) if other >= 5 and other >= 5 * own else ""


def _is_whole(wrong: int, catalog: Catalog) -> bool:
    """Whether nearly all texts of a catalog are affected."""
    return wrong * 10 >= 8 * _filled(catalog)


def _filled(catalog: Catalog) -> int:
    return sum(map(bool, catalog.column.texts))


@lru_cache(maxsize=4096)
def _names_language(text: str) -> bool:
    """Whether a text is a language's name, whose translation may be in that language's own letters."""
    return len(text) < 40 and read_spelling(text, "name") is not None


@lru_cache(maxsize=1024)
def _likely_script(locale: str) -> str:
    return LanguageTag.parse(locale).maximized().script or ""


def _script(world: World, locale: Tag) -> str:
    own = world.charter.locale.get(locale)
    return str(own.script) if own is not None else _likely_script(locale)


def _suspects(catalog: Catalog, mine: tuple[str, ...], foreign: tuple[str, ...]) -> list[int]:
    """The places of texts that are worth a closer look: quick for the many that are not."""
    column = catalog.column
    whole = _BETWEEN.join(filter(None, column.texts))
    found: list[int] = []
    if mine == ("Latn",):
        if whole.isascii() or not has_letters(foreign)(whole):
            return []
        has = has_letters(foreign)
        return [place for place, text in enumerate(column.texts) if text and not text.isascii() and has(text)]
    own, other = has_letters(mine), has_letters(foreign)
    mixed = "Cyrl" in mine
    any_foreign = other(whole) is not None
    for place, text in enumerate(column.texts):
        if text and (not own(text) or (any_foreign and other(text)) or (mixed and lookalikes(text))):
            found.append(place)
    return found


def _wrong_letters(text: str, source: str, mine: tuple[str, ...], foreign: tuple[str, ...]) -> str:
    """What is wrong with the letters of *text*, in words; empty where nothing is."""
    if text == source:
        return ""
    plain = without_code(text)
    if mine[0] in ("Latn", "Cyrl") and (mixed := [word for word in lookalikes(plain) if word not in source]):
        return f"mixes letters of two scripts that look alike in {listed(mixed)}"
    runs = [run for run in letters(foreign)(plain) if run not in source and len(run) > 1]
    count = sum(map(len, runs))
    if count >= 2 and count * 4 >= sum(map(len, words_of(text))):
        return f"is written in {script_of(runs[0])} letters: {clipped(' '.join(runs))!r}"
    if mine != ("Latn",) and not has_letters(mine)(plain):
        has_latin = has_letters(("Latn",))
        latin = [word for word in words_of(text) if len(word) > _SHORT and not word.isupper() and word not in source and has_latin(word)]
        if len(latin) > 1 and not all(word[0].isupper() for word in words_of(text)):
            return f"is written in Latin letters only: {clipped(text)!r}"
    return ""
