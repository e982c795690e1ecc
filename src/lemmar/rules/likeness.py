"""The catalog family, likeness: files that hold the texts of another locale, or say so."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from typing import TypeVar

from lemmar.basics.phrasing import counted
from lemmar.findings import Subject
from lemmar.inventory.contents import Catalog, Spot
from lemmar.inventory.locales import Speller
from lemmar.prose import Guess, guess, kindred
from lemmar.resolve.pairing import same_language
from lemmar.resolve.spots import key_spot
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._texts import SourceTexts, graded
from lemmar.rules._translations import texts
from lemmar.tags import LanguageTag, Tag, same_locale, write_spelling

#: What comes of texts that are another language's.
_TEXTS = ("message.wrong-script", "message.same-as-source")
#: Fewer texts of its own than this, and a catalog says nothing of what language it is in.
_FEWEST = 3
#: Fewer words of its own than this may be the same in two languages that are kindred.
_FEWEST_WORDS = 8
#: So many of a catalog's words (0 to 1) with letters that a language has not are none of its words.
_ALIEN = 0.03
_T = TypeVar("_T")
#: A client, a part, and two locales of it with catalogs of the same texts: the copy first.
_Twin = tuple[Client, str | None, tuple[Tag, Catalog], tuple[Tag, Catalog]]
_Guessed = tuple[Client, Tag, str | None, Catalog, Guess]
#: So many texts of a catalog are looked at.
_SAMPLED = 200
#: So many characters are looked at together: some eighty words.
_AT_A_TIME = 600


@rule(
    "catalog.twin",
    "warning",
    "Two locales have the same texts.",
    hides=(Hides(("catalog.mark-differs", *_TEXTS), ("client", "locale", "part", "catalog")),),
)
def twin(world: World) -> Iterator[Problem]:
    """A file was copied as a start and never translated: users of one of the two locales read the other's language.

    Reported once for each file whose texts are all those of another locale of another language, at the one whose language they seem not to be,
    else at the later of the two; an error if the two are written in different scripts, as simplified and traditional Chinese are. Not reported:
    locales of one language and script, files with few texts of their own (of kindred languages: with few words), and copies of the source
    (`message.same-as-source`). To fix: translate one of them, or remove it.
    """
    for client, part, copy, kept in _memoized(world, _twins):
        problem = _problem(client, part, *copy, *kept)
        yield graded(problem, "error") if _script(copy[0]) != _script(kept[0]) else problem


def _twins(world: World) -> Iterator[_Twin]:
    known = SourceTexts()
    seen: dict[tuple[object, ...], tuple[Tag, Catalog]] = {}
    for client, locale, part, catalog, source in texts(world):
        name = (client.name, part, catalog.order, catalog.column.keys, catalog.column.texts)
        other, first = seen.setdefault(name, (locale, catalog))
        words = _FEWEST_WORDS if kindred(LanguageTag.parse(other).language, LanguageTag.parse(locale).language) else 0
        if not same_language(other, locale) and _has_texts(catalog, source, known, words):
            those = (locale, catalog), (other, first)
            copy, kept = those if _fits(*those[0]) <= _fits(*those[1]) else those[::-1]
            yield client, part, copy, kept


@rule(
    "catalog.other-language",
    "error",
    "A file is in another language.",
    hides=(
        Hides(
            ("catalog.mark-differs", "catalog.twin", *_TEXTS),
            ("client", "locale", "part", "catalog"),
        ),
    ),
)
def other_language(world: World) -> Iterator[Problem]:
    """Two files were swapped, or one was saved under the wrong name: users read a language that they did not choose.

    Reported once for each file whose function words, or letters, mostly belong to another language; and for two files
    of one part each of which looks as if it were in the other's language. For languages that share most words, only where letters tell them
    apart. Not reported: files of few words, texts that are still the source's
    (`message.same-as-source`), and languages of which no list is known. To fix: put the texts where they belong.
    """
    for client, locale, part, catalog, found in _memoized(world, _elsewhere):
        name = write_spelling(LanguageTag.parse(found.language), "name")
        yield Problem(
            Subject((client.name,), locale, part),
            f"the texts of {locale!r} are in {name}",
            key_spot(catalog, None),
            f"users of {locale!r} read {name}",
            "put the texts of the locale here; they may be in another file",
            catalog=catalog.order,
            gather=found.language,
        )


def _elsewhere(world: World) -> Iterator[_Guessed]:
    known = SourceTexts()
    sources = (
        (client, client.written_in, space.part, catalog, source)
        for client in world.clients
        for space, source in client.sources.items()
        for catalog in source.catalogs
    )
    guessed: dict[tuple[object, ...], list[_Guessed]] = {}
    for client, locale, part, catalog, source in (*texts(world), *sources):
        if locale == client.written_in and any(file == catalog.file and name.tag != catalog.tag for file, name in client.names):
            continue  # the source's texts as another locale's file has them
        others = source if catalog not in source.catalogs else None
        found = _guessed(world, known, catalog, others, LanguageTag.parse(locale).language)
        if found is not None and found.language != LanguageTag.parse(client.written_in).language:
            guessed.setdefault((client.name, part, catalog.order), []).append((client, locale, part, catalog, found))
    for those in guessed.values():
        yield from _in_another(those)


def _guessed(world: World, theirs_of: SourceTexts, catalog: Catalog, source: SourcePart | None, language: str) -> Guess | None:
    """What language the texts of a catalog seem to be in that are not the *source*'s, where they should be in *language*; made once for the same columns
    where the monorepo is looked at again.
    """
    made = world.memo.get("guesses")
    columns = (catalog.column, *(each.column for each in source.catalogs)) if source is not None else (catalog.column,)
    name = (language, source is None, *(id(column.texts) for column in columns))
    known_columns, found = made[name] if made is not None and name in made else ((), None)
    if not known_columns or any(known.keys != column.keys for known, column in zip(known_columns, columns, strict=True)):
        found = guess(_sample(catalog, theirs_of.of(source) if source is not None else {}), language, odd_only=True)
        if made is not None:
            made[name] = columns, found  # the columns are kept, so that no other texts get the identity of theirs
    return found


def misplaced(world: World) -> frozenset[int]:
    """The catalogs, by identity, whose texts are another locale's: no translations that others could be held against."""
    copies = (id(copy[1]) for _, _, copy, _ in _memoized(world, _twins))
    return frozenset((*copies, *(id(catalog) for *_, catalog, _ in _memoized(world, _elsewhere))))


def _memoized(world: World, find: Callable[[World], Iterator[_T]]) -> tuple[_T, ...]:
    found: tuple[_T, ...] | None = world.memo.get(find.__name__)
    if found is None:
        found = world.memo[find.__name__] = tuple(find(world))
    return found


def _fits(locale: Tag, catalog: Catalog) -> int:
    """Whether the texts are in the locale's language: 1 if they look so, -1 if they have letters that it has not, 0 where nobody can tell."""
    found = guess(_sample(catalog, {}), LanguageTag.parse(locale).language)
    return 0 if found is None else -1 if found.alien_expected >= _ALIEN else int(found.is_expected)


def _in_another(those: list[_Guessed]) -> Iterator[_Guessed]:
    """Those of the catalogs of one part that are surely in another language, or have changed places with one another."""
    likely = {(found.wanted, found.language) for *_, found in those if found.is_likely}
    return (
        each for each in those if each[-1].is_sure or {(each[-1].wanted, each[-1].language), (each[-1].language, each[-1].wanted)} <= likely
    )


def _sample(catalog: Catalog, theirs: Mapping[str, str]) -> Iterator[str]:
    """Texts from all of a catalog that are not the source's, some at a time."""
    column = catalog.column
    step = max(len(column.keys) // _SAMPLED, 1)
    some: list[str] = []
    length = 0
    for key, text in zip(column.keys[::step], column.texts[::step], strict=True):
        if text and theirs.get(key) != text:
            some.append(text)
            length += len(text)
            if length > _AT_A_TIME:
                yield "\n".join(some)
                some, length = [], 0
    yield "\n".join(some)


def _has_texts(catalog: Catalog, source: SourcePart, known: SourceTexts, words: int) -> bool:
    """Whether most texts of a catalog are its own, and some, with so many *words* together."""
    theirs = known.of(source)
    column = catalog.column
    full = [(key, text) for key, text in zip(column.keys, column.texts, strict=True) if text and any(map(str.isalpha, text))]
    own = [text for key, text in full if theirs.get(key) != text]
    return len(own) >= _FEWEST and 2 * len(own) > len(full) and sum(len(text.split()) for text in own) >= words


def _problem(client: Client, part: str | None, locale: Tag, catalog: Catalog, other: Tag, first: Catalog) -> Problem:
    number = counted(sum(1 for text in catalog.column.texts if text), "text")
    return Problem(
        Subject((client.name,), locale, part),
        f"all {number} of {locale!r} are those of {other!r}",
        key_spot(catalog, None),
        f"users of {locale!r} or of {other!r} read another language than they chose",
        f"translate one of them, or remove it: {catalog.file} or {first.file}",
        (key_spot(first, None),),
        catalog=catalog.order,
        gather=other,
    )


def _script(tag: Tag) -> str | None:
    return LanguageTag.parse(tag).maximized().script


@rule("catalog.mark-differs", "error", "A file's language mark does not match its name.")
def mark_differs(world: World) -> Iterator[Problem]:
    """The file was copied from another language, and either its mark or its texts are wrong.

    Reported once for each file that states another locale inside than in its name; the language alone will do, unless the roster has a
    locale of that name; where the name is the language alone, the mark may name its region. To fix: correct the mark, or move the file
    where it belongs. `lemmar mend` changes the mark to match the file's name.
    """
    for client in world.clients:
        for catalog in client.catalogs:
            mark = catalog.column.mark
            marked = Speller("auto", {}).tag(mark) if mark else None
            if marked and _differs(world, client, marked, catalog.tag):
                yield Problem(
                    Subject((client.name,), client.roster(catalog.tag), catalog.part),
                    f"the file is marked {mark!r}, but its name says {catalog.tag!r}",
                    Spot(catalog.file, catalog.digest, mark=mark),
                    "users may get another language than they chose",
                    "correct the mark, or move the file where it belongs",
                )


def _differs(world: World, client: Client, marked: Tag, named: Tag) -> bool:
    """Whether a mark means another locale than the name: another language, or exactly another where the roster has both."""
    mark = LanguageTag.parse(marked).canonical()
    own = client.roster(named)
    others = (LanguageTag.parse(tag).canonical() for tag in world.charter.locales if tag != own)
    mine = LanguageTag.parse(own).canonical(), LanguageTag.parse(named).canonical()
    if mark not in mine and mark in others and mark.script in (None, mine[0].script) and (mark.script or not mine[0].script):
        return True
    return not _one_language(LanguageTag.parse(marked), LanguageTag.parse(named))


def _one_language(mark: LanguageTag, named: LanguageTag) -> bool:
    """Whether a file may be marked so: the same locale, its language alone, or, where it is named for the language alone, a region of that;
    ``no`` and ``nb`` are written for each other.
    """
    first, second = (tag._replace(language="nb") if tag.language == "no" else tag for tag in (mark, named))
    scripts = first.maximized().script, second.maximized().script
    alike = first.language == second.language and scripts[0] == scripts[1]
    return same_locale(first, second) or (alike and None in (first.region, second.region))
