"""The message family, wording: what was copied, glued together or named twice."""

from __future__ import annotations

import re
from collections.abc import Iterator
from fnmatch import fnmatchcase
from functools import lru_cache
from typing import NamedTuple

from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import key_spot
from lemmar.resolve.world import SourcePart, World
from lemmar.rules import Problem, Severity, Subject, rule
from lemmar.rules._letters import words_of
from lemmar.rules._texts import HIDES_ODD, MANY, SourceTexts, graded, is_most, problem_of, problem_of_all
from lemmar.rules._translations import is_computed, texts
from lemmar.rules.likeness import misplaced
from lemmar.tags import LanguageTag, Tag
from lemmar.words import clipped, counted

_SHORT = 3  # letters; a word of so few is the same in many languages
_ONE_WORD = 7  # letters; of a single word that has fewer, nobody can tell


@lru_cache(maxsize=1024)
def _language(tag: str) -> str:
    return LanguageTag.parse(tag).canonical().language


@rule("message.same-as-source", "warning", "A translation is identical to the source.", hides=HIDES_ODD)
def same_as_source(world: World) -> Iterator[Problem]:
    """Most texts that are identical in two languages were copied and never translated.

    Reported once for each text of two words or more, and once for a catalog if most of its texts are identical; a single word, or words
    that all begin with a capital letter as names do, is a note. Not reported: locales in the source's language; single words of fewer than
    seven letters (`Hotel`, `Radio`); texts of digits, units, addresses and placeholders only; what the charter lists under
    `may-equal-source` and `may-equal-source-keys`. To fix: translate the text, or list it.
    """
    free, free_keys = frozenset(world.charter.messages.may_equal_source), world.charter.messages.may_equal_source_keys
    known = SourceTexts()
    grades: dict[str, Severity | None] = {}
    for client, locale, part, catalog, source in texts(world):
        if _language(locale) == _language(client.source) or locale not in client.needs:
            continue
        equal = _equal(catalog, source, known)
        sure = [text for _, text in equal if text not in free and _grade(text, free) == "warning"] if len(equal) >= MANY else []
        if is_most(len(sure), catalog):
            words = (
                f"{len(sure):,} of {counted(sum(map(bool, catalog.column.texts)), 'text')} in {locale!r} are identical to the source",
                f"users read the source's language: {clipped(sure[0])!r}",
                "translate them",
            )
            yield problem_of_all(client, locale, part, catalog, words)
            continue
        for key, text in equal:
            if text in free or any(fnmatchcase(key, pattern) for pattern in free_keys) or key not in source.key_set:
                continue
            if text not in grades:
                grades[text] = _grade(text, free)
            grade = grades[text]
            if grade is not None and not is_computed(catalog, key):
                words = (
                    f"{key!r} in {locale!r} is identical to the source: {clipped(text)!r}",
                    "users read the source's language",
                    "translate it, or list it under 'may-equal-source' in the charter",
                )
                found = problem_of(client, locale, part, key, catalog, source, words)
                yield found if grade == "warning" else graded(found, grade)


def _equal(catalog: Catalog, source: SourcePart, known: SourceTexts) -> list[tuple[str, str]]:
    """The keys of the texts that are equal to the source's."""
    column = catalog.column
    first = source.catalogs[0]
    if len(source.catalogs) == 1 and column.keys is first.column.keys:
        pairs = zip(column.keys, column.texts, first.column.texts, strict=True)
        return [(key, text) for key, text, other in pairs if text and text == other]
    theirs = known.of(source)
    return [(key, text) for key, text in zip(column.keys, column.texts, strict=True) if text and theirs.get(key) == text]


def _grade(text: str, free: frozenset[str]) -> Severity | None:
    """How sure it is that a text that is the same in two languages was not translated."""
    words = [word for word in words_of(text) if len(word) > _SHORT and word not in free]
    if not words or text.isupper():
        return None
    if len(words) == 1:
        return "note" if len(words[0]) >= _ONE_WORD else None
    return "note" if all(word[0].isupper() for word in words) else "warning"


@rule("message.edge-space", "warning", "A translation begins or ends with a blank and the source does not, or the reverse.")
def edge_space(world: World) -> Iterator[Problem]:
    """Programs join texts: an extra blank shifts a line, a missing one glues two words together.

    Reported once for each text, with the corrected text, and once for a catalog that does so as a whole. Not reported: a line end after a
    text in YAML, which depends on how it is written; texts of punctuation alone. To fix: begin and end the text as in the source.
    """
    known = SourceTexts()
    edged: dict[int, bool] = {}
    for client, locale, part, catalog, source in texts(world):
        if id(source) not in edged:
            edged[id(source)] = any(_has_edges(each) for each in source.catalogs)
        if not edged[id(source)] and not _has_edges(catalog):
            continue
        theirs = known.of(source)
        found: list[tuple[bool, Problem]] = []
        edges = 0
        for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True):
            other = theirs.get(key) if text else None
            if not text or not other or key not in source.key_set or not text.strip() or not other.strip():
                continue
            if not any(map(str.isalnum, text)):
                continue  # a colon or a dash, before which some languages have a blank
            (start, end), (lead, tail) = _edges(text), _edges(other)
            edges += bool(lead or tail)
            if _WIDE.search(text):
                end = tail  # a full-width sign holds its own blank
            if catalog.form.ends_lines and not (end + tail).strip("\r\n"):
                end = tail
            wrong = [*(["begins"] if bool(start) != bool(lead) else []), *(["ends"] if bool(end) != bool(tail) else [])]
            if wrong and not is_computed(catalog, key):
                mended = f"{lead}{text.strip()}{tail}"
                more = ("begins" in wrong and bool(start)) or ("ends" in wrong and bool(end))
                words = (
                    f"{key!r} in {locale!r} {' and '.join(wrong)} {'with' if more else 'without'} a blank, unlike the source",
                    "users see a gap, or two words glued together",
                    f"write {mended!r}",
                )
                found.append((more, problem_of(client, locale, part, key, catalog, source, words)))
        with_more = sum(more for more, _ in found)
        without = len(found) - with_more
        if is_most(with_more, catalog) or is_most(without, catalog, edges):
            how = "without the blanks of the source" if without > with_more else "with blanks that the source has not"
            texts_of_it = counted(sum(map(bool, catalog.column.texts)), "text")
            words = (
                f"{len(found):,} of {texts_of_it} in {locale!r} begin or end {how}",
                "users see gaps, or words glued together, where a program joins them",
                "begin and end the texts as in the source, or turn the finding off if the blanks are of the layout alone",
            )
            yield problem_of_all(client, locale, part, catalog, words)
        else:
            yield from (problem for _, problem in found)


_WIDE = re.compile("[\u3001-\u303f\uff01-\uff60]\\s*\\Z")


def _edges(text: str) -> tuple[str, str]:
    bare = text.strip()
    start = text.index(bare)
    return text[:start], text[start + len(bare) :]


def _has_edges(catalog: Catalog) -> bool:
    held = list(filter(None, catalog.column.texts))
    return list(map(str.strip, held)) != held  # a text without edges is stripped to itself, and the two compare by identity


@rule("message.inconsistent", "note", "One source text is translated in two ways.")
def inconsistent(world: World) -> Iterator[Problem]:
    """The same button has one name on the web and another on the phone.

    Reported once for each source text of two words or more and each translation of it that most clients do not use, at the first.
    Not reported: differences within one client, single words, which often have two meanings, and files that hold another locale's texts
    (`catalog.twin`, `catalog.other-language`). To fix: use the same text in both.
    """
    if len(world.clients) < 2:
        return
    shared = _shared_texts(world)
    seen: dict[tuple[str, Tag], dict[str, list[_Told]]] = {}
    known = SourceTexts()
    elsewhere = misplaced(world) if shared else frozenset()
    for client, locale, part, catalog, source in texts(world) if shared else ():
        if id(catalog) in elsewhere:
            continue
        theirs = known.of(source)
        for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True):
            words = theirs.get(key, "")
            if text and words in shared:
                seen.setdefault((words, locale), {}).setdefault(" ".join(text.split()), []).append(_Told(client.name, part, key, catalog))
    for (words, locale), found in seen.items():
        if len(found) < 2:
            continue
        usual = max(found, key=lambda text: len(found[text]))
        for text, places in found.items():
            if text != usual and {each.client for each in places} - {each.client for each in found[usual]}:
                odd, other = places[0], found[usual][0]
                yield Problem(
                    Subject((odd.client,), locale, odd.part, odd.key),
                    f"{clipped(words)!r} is {clipped(usual)!r} in {other.client} and {clipped(text)!r} in {odd.client}, in {locale!r}",
                    key_spot(odd.catalog, odd.key),
                    "users see two names for one thing",
                    "use the same text in both",
                    (key_spot(other.catalog, other.key),),
                    detail=words,
                )


class _Told(NamedTuple):
    """Where a client says something."""

    client: str
    part: str | None
    key: str
    catalog: Catalog


def _shared_texts(world: World) -> set[str]:
    """The source's texts of two words or more that several clients have."""
    seen: set[str] = set()
    shared: set[str] = set()
    for client in world.clients:
        own: set[str] = set()
        for source in client.sources.values():
            for catalog in source.catalogs:
                own.update(filter(None, catalog.column.texts))
        shared |= own & seen
        seen |= own
    return {text for text in shared if len(words_of(text)) > 1}
