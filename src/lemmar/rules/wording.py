"""The message family, wording: what was copied, glued together or named twice."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from fnmatch import fnmatchcase
from functools import lru_cache
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import clipped, counted
from lemmar.cache.messagepack import packed
from lemmar.findings import Severity, Subject
from lemmar.inventory.contents import Catalog, Spot
from lemmar.prose.letters import words_of
from lemmar.resolve.outlines import Overview, Row, Said, Told
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Problem, rule
from lemmar.rules._texts import HIDES_ODD, MANY, SourceTexts, graded, is_most, problem_of, problem_of_all
from lemmar.rules._translations import is_computed, texts
from lemmar.rules.likeness import misplaced
from lemmar.tags import LanguageTag, Tag

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

    Reported once for each text, with the corrected text, and once for a catalog that does so as a whole. Not reported: a line end after
    a text in YAML, which depends on how it is written; texts of punctuation alone. To fix: begin and end the text as in the source.
    `lemmar mend` writes the blanks of the source; where a whole catalog differs, it leaves them.
    """
    known = SourceTexts()
    edged: dict[int, bool] = {}
    for client, locale, part, catalog, source in texts(world):
        if id(source) not in edged:
            edged[id(source)] = any(_has_edges(each) for each in source.catalogs)
        if not edged[id(source)] and not _has_edges(catalog):
            continue
        found, edges = _edge_problems((client, locale, part, catalog, source), known.of(source))
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


def _edge_problems(
    place: tuple[Client, Tag, str | None, Catalog, SourcePart], theirs: Mapping[str, str | None]
) -> tuple[list[tuple[bool, Problem]], int]:
    """Each text that begins or ends unlike its source in *theirs*, with whether it has a blank too many; and how many sources have such edges."""
    client, locale, part, catalog, source = place
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
        if catalog.form.habits.ends_lines and not (end + tail).strip("\r\n"):
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
    return found, edges


_WIDE = expression("[\u3001-\u303f\uff01-\uff60]\\s*\\Z")


def _edges(text: str) -> tuple[str, str]:
    bare = text.strip()
    start = text.index(bare)
    return text[:start], text[start + len(bare) :]


def _has_edges(catalog: Catalog) -> bool:
    held = list(filter(None, catalog.column.texts))
    return list(map(str.strip, held)) != held  # a text without edges is stripped to itself, and the two compare by identity


@rule("message.inconsistent", "note", "One source text is translated in two ways.", of="all")
def inconsistent(seen: Overview) -> Iterator[Problem]:
    """The same button has one name on the web and another on the phone.

    Reported once for each source text of two words or more and each translation of it that most clients do not use, at the first.
    Not reported: differences within one client, single words, which often have two meanings, and files that hold another locale's texts
    (`catalog.twin`, `catalog.other-language`). To fix: use the same text in both.
    """
    shared = _shared(seen.told)
    every: dict[tuple[str, Tag], dict[str, list[_Place]]] = {}
    for client, told in zip(seen.clients, seen.told, strict=True):
        wanted = {index for index, words in enumerate(told.words) if words in shared}
        rows, every_said = told.rows() if wanted else ((), ())
        places = [[place for place, index in enumerate(indexes) if index in wanted] for _, indexes in rows]
        for said in every_said:
            keys, indexes = rows[said.keys]
            for place in places[said.keys]:
                text = said.texts[place]
                if text:
                    found = every.setdefault((told.words[indexes[place]], said.locale), {})
                    found.setdefault(" ".join(text.split()), []).append(_Place(client.name, keys[place], said))
    for (words, locale), found in every.items():
        if len(found) < 2:
            continue
        usual = max(found, key=lambda text: len(found[text]))
        for text, those in found.items():
            if text != usual and {each.client for each in those} - {each.client for each in found[usual]}:
                odd, other = those[0], found[usual][0]
                yield Problem(
                    Subject((odd.client,), locale, odd.said.part, odd.key),
                    f"{clipped(words)!r} is {clipped(usual)!r} in {other.client} and {clipped(text)!r} in {odd.client}, in {locale!r}",
                    odd.spot,
                    "users see two names for one thing",
                    "use the same text in both",
                    (other.spot,),
                    detail=words,
                )


class _Place(NamedTuple):
    """Where a client says something."""

    client: str
    key: str
    said: Said

    @property
    def spot(self) -> Spot:
        return Spot(self.said.file, self.said.digest, self.said.label, self.key)


def _shared(every: Sequence[Told]) -> set[str]:
    """The source's texts of two words or more that several clients have."""
    seen: set[str] = set()
    shared: set[str] = set()
    for told in every:
        own = set(told.words)
        shared |= own & seen
        seen |= own
    return {text for text in shared if len(words_of(text)) > 1}


def told_by(world: World) -> Told:
    """How the translations of a world's client say the source's texts that may have two words or more; those of files that hold another locale's texts
    are left out, and so are texts with half a character.
    """
    try:
        return _told(world, None)
    except UnicodeEncodeError:
        return _told(world, _is_sound)


def _told(world: World, is_sound: Callable[[str | None], bool] | None) -> Told:
    known = SourceTexts()
    sources = [known.of(source) for client in world.clients for source in client.sources.values()]
    several = {text for texts_of in sources for text in texts_of.values() if not text.isalpha() and (is_sound is None or is_sound(text))}
    number = {text: index for index, text in enumerate(sorted(several))}
    rows: dict[tuple[int, int], int] = {}
    keys: list[Row] = []
    places: list[list[int]] = []
    said = []
    elsewhere = misplaced(world) if number else frozenset()
    for _, locale, part, catalog, source in texts(world) if number else ():
        column, name = catalog.column, (id(source), id(catalog.column.keys))
        if id(catalog) in elsewhere or (is_sound is not None and not all(map(is_sound, (catalog.file, column.label or "", part or "")))):
            continue
        if name not in rows:
            theirs = known.of(source)
            found = [
                (place, index)
                for place, key in enumerate(column.keys)
                if (index := number.get(theirs.get(key, ""))) is not None and (is_sound is None or is_sound(key))
            ]
            rows[name] = len(keys)
            places.append([place for place, _ in found])
            keys.append((tuple(column.keys[place] for place, _ in found), tuple(index for _, index in found)))
        row = rows[name]
        if places[row]:
            kept = [column.texts[place] for place in places[row]]
            kept = kept if is_sound is None else [text if is_sound(text) else None for text in kept]
            said.append(Said(locale, part, catalog.file, catalog.digest, column.label, row, tuple(kept)))
    return Told(tuple(number), packed((keys, said)))


def _is_sound(text: str | None) -> bool:
    """Whether the text has an encoding: half a character has none."""
    try:
        return text is not None and text.encode("utf-8") is not None
    except UnicodeEncodeError:
        return False
