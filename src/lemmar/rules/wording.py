"""The message family, wording: what a reader sees wrong in a text without knowing its language."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from fnmatch import fnmatchcase
from functools import lru_cache
from typing import NamedTuple

from lemmar.model import Catalog, Client, Hides, Problem, Severity, SourcePart, Subject, Tag, World
from lemmar.rules import rule
from lemmar.rules.comparisons import is_computed, texts
from lemmar.rules.letters import NO_WORDS, expected, has_letters, letters, lookalikes, others, script_of, words_of
from lemmar.rules.speaking import clipped, counted, holder_of, key_spot, listed, pattern_of
from lemmar.tags import LanguageTag, read_spelling

_TEXT = ("client", "locale", "part", "key")
_SHORT = 3  # letters; a word of so few is the same in many languages
_ONE_WORD = 7  # letters; of a single word that has fewer, nobody can tell
_MANY = 10  # texts; so many with one fault, and more than half of the catalog, are told once
_BETWEEN = "\0"


@lru_cache(maxsize=1024)
def _language(tag: str) -> str:
    return LanguageTag.parse(tag).canonical().language


def _problem(
    client: Client,
    locale: Tag,
    part: str | None,
    key: str,
    catalog: Catalog,
    source: SourcePart | None,
    words: Sequence[str],
    detail: str = "",
) -> Problem:
    """A problem of one text; *words* are what is wrong, what users see and what to do."""
    text, effect, remedy = words
    related = (key_spot(holder_of(source, key), key),) if source is not None and key in source.key_set else ()
    return Problem(Subject((client.name,), locale, part, key), text, key_spot(catalog, key), effect, remedy, related, detail)


def _source_texts(source: SourcePart) -> dict[str, str]:
    """The source's text of each key."""
    found: dict[str, str] = {}
    for catalog in source.catalogs:
        found.update((key, text) for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True) if text)
    return found


class _SourceTexts:
    """The source's texts of each part, made once where several locales are held against them."""

    def __init__(self) -> None:
        self._known: dict[int, dict[str, str]] = {}

    def of(self, source: SourcePart) -> dict[str, str]:
        """The source's text of each key."""
        found = self._known.get(id(source))
        if found is None:
            found = self._known[id(source)] = _source_texts(source)
        return found


_ODD = (Hides(("message.inconsistent",), _TEXT),)


@rule("message.same-as-source", "warning", "A translation is the same as the source's text.", hides=_ODD)
def same_as_source(world: World) -> Iterator[Problem]:
    """Most texts that are equal in two languages were copied and never translated.

    Reported once for each text of two words or more, and once for a catalog most of whose texts are; a single word, or words that all begin
    with a capital as names do, is a note. Not
    reported: locales of the source's language; single words of fewer than seven letters (`Hotel`, `Radio`); texts of digits, units,
    addresses
    and placeholders only; what the charter lists under `may-equal-source` and `may-equal-source-keys`. To fix: translate the text, or list
    it.
    """
    source_language = _language(world.charter.source)
    free, free_keys = frozenset(world.charter.messages.may_equal_source), world.charter.messages.may_equal_source_keys
    known = _SourceTexts()
    grades: dict[str, Severity | None] = {}
    for client, locale, part, catalog, source in texts(world):
        if _language(locale) == source_language or locale not in client.needs:
            continue
        equal = _equal(catalog, source, known)
        sure = [text for _, text in equal if text not in free and _grade(text, free) == "warning"] if len(equal) >= _MANY else []
        if _is_most(len(sure), catalog):
            words = (
                f"{len(sure):,} of {counted(len(catalog.column.texts), 'text')} in {locale!r} are the same as in the source",
                f"users read the source's language: {clipped(sure[0])!r}",
                "translate them",
            )
            yield _whole(client, locale, part, catalog, words)
            continue
        for key, text in equal:
            if text in free or any(fnmatchcase(key, pattern) for pattern in free_keys) or key not in source.key_set:
                continue
            if text not in grades:
                grades[text] = _grade(text, free)
            grade = grades[text]
            if grade is not None and not is_computed(catalog, key):
                words = (
                    f"{key!r} is the same in {locale!r} as in the source: {clipped(text)!r}",
                    "users read the source's language",
                    "translate it, or list it under may-equal-source in the charter",
                )
                found = _problem(client, locale, part, key, catalog, source, words)
                yield found if grade == "warning" else _graded(found, grade)


def _graded(problem: Problem, grade: Severity) -> Problem:
    from msgspec.structs import replace

    return replace(problem, severity=grade)


def _equal(catalog: Catalog, source: SourcePart, known: _SourceTexts) -> list[tuple[str, str]]:
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


@rule("message.edge-space", "warning", "A translation begins or ends with a blank where the source does not, or the other way round.")
def edge_space(world: World) -> Iterator[Problem]:
    """Programs join texts at their edges: a blank too many moves a line, one that is lost glues two words together.

    Reported once for each text, with the mended text. Not reported: in YAML, a line's end behind the text, which comes of how it is
    written. To fix: write the text's edges as the source does.
    """
    known = _SourceTexts()
    edged: dict[int, bool] = {}
    for client, locale, part, catalog, source in texts(world):
        if id(source) not in edged:
            edged[id(source)] = any(_has_edges(each) for each in source.catalogs)
        if not edged[id(source)] and not _has_edges(catalog):
            continue
        theirs = known.of(source)
        by_yaml = pattern_of(client, catalog).read_as == "yaml"
        for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True):
            other = theirs.get(key) if text else None
            if not text or not other or key not in source.key_set or not text.strip() or not other.strip():
                continue
            (start, end), (lead, tail) = _edges(text), _edges(other)
            if _WIDE.search(text):
                end = tail  # a full-width sign holds its own blank
            if by_yaml and not (end + tail).strip("\r\n"):
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
                yield _problem(client, locale, part, key, catalog, source, words)


_WIDE = re.compile("[\u3001-\u303f\uff01-\uff60]\\s*\\Z")


def _edges(text: str) -> tuple[str, str]:
    bare = text.strip()
    start = text.index(bare)
    return text[:start], text[start + len(bare) :]


def _has_edges(catalog: Catalog) -> bool:
    held = list(filter(None, catalog.column.texts))
    return list(map(str.strip, held)) != held  # a text without edges is stripped to itself, and the two compare by identity


_CONTROLS = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\u202a-\u202e\u2066-\u2069]")
_CONTROL = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f]")
_OPENS = {
    "\u202a": "\u202c",
    "\u202b": "\u202c",
    "\u202d": "\u202c",
    "\u202e": "\u202c",
    "\u2066": "\u2069",
    "\u2067": "\u2069",
    "\u2068": "\u2069",
}


@rule("message.control-character", "error", "A text holds a character that no reader can see and some programs refuse.", hides=_ODD)
def control_character(world: World) -> Iterator[Problem]:
    """Control characters come of copying; programs cut texts at them, show boxes, or turn the rest of a line round.

    Reported once for each text with a character of C0 (but tab, line feed, carriage return) or C1, or with bidirectional controls that are
    not closed. Not reported: balanced controls, marks, joiners, no-break and zero-width spaces; a translation that has what its source has,
    which is reported. To fix: remove the character.
    """
    for client in world.clients:
        for part, source in client.sources.items():
            theirs: dict[str, str] = {}
            for catalog in source.catalogs:
                for key, words in _controls(catalog):
                    theirs[key] = words
                    yield _control(client, Tag(world.charter.source), part, key, catalog, None, words)
            for tag, catalogs in client.by_part[part].items():
                for catalog in catalogs if catalogs is not source.catalogs else ():
                    for key, words in _controls(catalog):
                        if theirs.get(key) != words:
                            yield _control(client, client.roster(tag), part, key, catalog, source, words)


def _control(client: Client, locale: Tag, part: str | None, key: str, catalog: Catalog, source: SourcePart | None, words: str) -> Problem:
    told = (f"{key!r} in {locale!r} holds {words}", "users see a box, a cut text, or words in the wrong order", "remove the character")
    return _problem(client, locale, part, key, catalog, source, told, detail=words)


def _controls(catalog: Catalog) -> list[tuple[str, str]]:
    """The keys of texts with control characters, and what they hold."""
    if " ".join(filter(None, catalog.column.texts)).isprintable():
        return []
    found = []
    for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True):
        if not text or text.isprintable():
            continue
        match = _CONTROL.search(text)
        if match is not None:
            found.append((key, f"the control character U+{ord(match.group()):04X}"))
        elif unclosed := _unbalanced(text):
            found.append(
                (
                    key,
                    f"the bidirectional control U+{ord(unclosed):04X}, which nothing {'opens' if unclosed in _OPENS.values() else 'closes'}",
                )
            )
    return found


def _unbalanced(text: str) -> str | None:
    """The first bidirectional control that has no partner."""
    waiting: list[str] = []
    for sign in _CONTROLS.findall(text):
        if sign in _OPENS:
            waiting.append(sign)
        elif waiting and _OPENS[waiting[-1]] == sign:
            waiting.pop()
        else:
            return str(sign)
    return waiting[0] if waiting else None


@rule("message.wrong-script", "warning", "A text is not in its locale's script.", hides=_ODD)
def wrong_script(world: World) -> Iterator[Problem]:
    """A text pasted into the wrong language, or a letter typed on the wrong keyboard.

    Reported once for each text, and once for a catalog most of whose texts are so, with words in a script that its locale is not written in
    and that the source's text has not, for a text all of
    Latin words where the locale is written otherwise, and for words that mix Latin and Cyrillic letters that look alike. Not reported:
    names,
    code, placeholders and loanwords in Latin letters beside the locale's own. It cannot tell simplified from traditional characters.
    To fix: put the right text there.
    """
    known = _SourceTexts()
    for client, locale, part, catalog, source in texts(world):
        if locale not in client.needs:
            continue
        script = _script(world, locale)
        mine = expected(script)
        if not mine:
            continue
        foreign = others(mine)
        suspects = _suspects(catalog, mine, foreign)
        theirs = known.of(source) if suspects else {}
        wrong = []
        for place in suspects:
            key, text = catalog.column.keys[place], catalog.column.texts[place] or ""
            told = _wrong_letters(text, theirs.get(key, ""), mine, foreign)
            if told and not is_computed(catalog, key) and not _names_language(theirs.get(key, "")):
                wrong.append((key, text, told))
        if _is_most(len(wrong), catalog):
            told = wrong[0][2].partition(":")[0]
            words = (
                f"{len(wrong):,} of {counted(len(catalog.column.texts), 'text')} in {locale!r} {told.replace('is ', 'are ', 1)}",
                f"users read such as {clipped(wrong[0][1])!r}",
                "put the texts of this locale there, or name the locale by the script that they are in",
            )
            yield _whole(client, locale, part, catalog, words)
            continue
        for key, text, told in wrong:
            words = (
                f"{key!r} in {locale!r} {told}",
                f"users read {clipped(text)!r}",
                "put the text of this locale there, typed in its own letters",
            )
            yield _problem(client, locale, part, key, catalog, source, words)


def _is_most(wrong: int, catalog: Catalog) -> bool:
    """Whether so many texts of a catalog have one fault that it is one of the catalog."""
    return wrong >= _MANY and wrong * 2 > sum(1 for text in catalog.column.texts if text)


def _whole(client: Client, locale: Tag, part: str | None, catalog: Catalog, words: Sequence[str]) -> Problem:
    """A problem of a whole catalog."""
    text, effect, remedy = words
    return Problem(Subject((client.name,), locale, part), text, key_spot(catalog, None), effect, remedy)


@lru_cache(maxsize=4096)
def _names_language(text: str) -> bool:
    """Whether a text is a language's name, whose translation may be in that language's own letters."""
    return len(text) < 40 and read_spelling(text, "name") is not None


@lru_cache(maxsize=1024)
def _likely_script(locale: str) -> str:
    return LanguageTag.parse(locale).maximized().script or ""


def _script(world: World, locale: str) -> str:
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
    plain = NO_WORDS.sub(" ", text)
    if mine[0] in ("Latn", "Cyrl") and (mixed := [word for word in lookalikes(plain) if word not in source]):
        return f"mixes letters of two scripts that look alike in {listed(mixed)}"
    runs = [run for run in letters(foreign)(plain) if run not in source and len(run) > 1]
    count = sum(map(len, runs))
    if count >= 2 and count * 4 >= sum(map(len, words_of(text))):
        return f"is written in {script_of(runs[0])} letters: {clipped(' '.join(runs))!r}"
    if mine != ("Latn",) and not has_letters(mine)(plain):
        latin = [word for word in words_of(text) if len(word) > _SHORT and not word.isupper() and word not in source]
        if len(latin) > 1 and not all(word[0].isupper() for word in words_of(text)):
            return f"is written in Latin letters only: {clipped(text)!r}"
    return ""


@rule("message.too-long", "warning", "A text is longer than its file allows.", hides=_ODD)
def too_long(world: World) -> Iterator[Problem]:
    """The text does not fit where it is shown: it is cut, or breaks the screen.

    Reported once for each text with more characters than the limit that its own entry, or the source's, states. Not reported: locales that
    have
    no text. To fix: shorten the text.
    """
    for client in world.clients:
        for part, source in client.sources.items():
            limits: dict[str, int] = {}
            for catalog in source.catalogs:
                limits |= {catalog.column.keys[place]: limit for place, limit in catalog.column.rare.get("limit", {}).items()}
            for tag, catalogs in client.by_part[part].items():
                for catalog in catalogs:
                    own = catalog.column.rare.get("limit", {})
                    if own or limits:
                        yield from _too_long(client, client.roster(tag), part, catalog, source, limits)


def _too_long(
    client: Client, locale: Tag, part: str | None, catalog: Catalog, source: SourcePart, limits: dict[str, int]
) -> Iterator[Problem]:
    own = catalog.column.rare.get("limit", {})
    for place, (key, text) in enumerate(zip(catalog.column.keys, catalog.column.texts, strict=True)):
        limit = own.get(place, limits.get(key))
        if text and isinstance(limit, int) and limit > 0 and len(text) > limit:
            words = (
                f"{key!r} in {locale!r} has {counted(len(text), 'character')}, and {limit} are allowed",
                f"users see it cut, or over its edge: {clipped(text)!r}",
                f"shorten it by {counted(len(text) - limit, 'character')}",
            )
            yield _problem(client, locale, part, key, catalog, None if catalog in source.catalogs else source, words)


_REVIEW = {"fuzzy": "marked as a guess (fuzzy)", "unfinished": "marked as unfinished"}


@rule("message.unreviewed", "warning", "A translation is marked as needing work.", hides=(Hides(("message.missing",), _TEXT),))
def unreviewed(world: World) -> Iterator[Problem]:
    """Somebody has set a mark on the text, that it is a guess or is to be looked at again.

    Reported once for each text of a shipping locale, and an error where the mark keeps the text from being shipped, as *fuzzy* does: users
    then
    see the source's. Not reported: entries without a text. To fix: review the text, and take the mark away.
    """
    for client, locale, part, catalog, source in texts(world):
        states = catalog.column.rare.get("state", {})
        if not states or locale not in world.charter.roster.shipping or locale not in client.needs:
            continue
        for place, state in states.items():
            key, text = catalog.column.keys[place], catalog.column.texts[place]
            if state == "computed" or key not in source.key_set or (not text and state != "fuzzy"):
                continue
            words = (
                f"{key!r} in {locale!r} is {_REVIEW.get(state, f'marked {state!r}')}",
                "users see the source's text" if not text else f"users read a text that nobody has looked at: {clipped(text)!r}",
                "review it, and take the mark away",
            )
            found = _problem(client, locale, part, key, catalog, source, words)
            yield found if text else _graded(found, "error")


@rule("message.stale", "warning", "A translation was made from another text than the source has today.", hides=_ODD)
def stale(world: World) -> Iterator[Problem]:
    """The source's text was changed, and the translation still says what it said before.

    Reported once for each text whose file carries its own copy of the source's, where that copy differs from today's in more than its
    blanks. Not
    reported: files of which the source has none of its own, and formats whose keys are the source's texts. To fix: look at the
    translation, and bring the copy up to date.
    """
    for client, locale, part, catalog, source in texts(world):
        copies = catalog.column.rare.get("source")
        if not copies or any(each.file == catalog.file for each in source.catalogs) or pattern_of(client, catalog).read_as == "po":
            continue
        theirs = _source_texts(source)
        for place, copy in copies.items():
            key, text = catalog.column.keys[place], catalog.column.texts[place]
            today = theirs.get(key)
            if text and today is not None and copy and copy.split() != today.split():
                words = (
                    f"{key!r} in {locale!r} was translated from {clipped(copy)!r}, and the source now says {clipped(today)!r}",
                    f"users read what the source said before: {clipped(text)!r}",
                    "look at the translation, and bring the file's copy of the source up to date",
                )
                yield _problem(client, locale, part, key, catalog, source, words)


@rule("message.inconsistent", "note", "One source text has two translations in one locale.")
def inconsistent(world: World) -> Iterator[Problem]:
    """The same button has one name on the web and another in the pocket.

    Reported once for each text of two words or more and each translation of it that most clients do not have, at the first such. Not reported:
    different
    texts within one client, and single words, which often have two meanings. To fix: let both say the same.
    """
    if len(world.clients) < 2:
        return
    shared = _shared_texts(world)
    seen: dict[tuple[str, Tag], dict[str, list[_Told]]] = {}
    known = _SourceTexts()
    for client, locale, part, catalog, source in texts(world) if shared else ():
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
                    "users meet two names for one thing",
                    "let both say the same",
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
