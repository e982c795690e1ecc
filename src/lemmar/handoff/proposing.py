"""Terms that the product itself shows: words that stay as they are in every language, and words that it translates most consistently.

A word and a word of a locale belong together where they stand in the same texts, and neither in many others (Dice's coefficient over texts). Words that
begin alike count as forms of one; where no blanks are written, pieces of two to four characters are words. A proposal: nothing of it holds until it
stands in the charter.
"""

from __future__ import annotations

import json
import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.handoff.hints import in_words
from lemmar.handoff.needs import translation
from lemmar.handoff.texts import Text
from lemmar.prose.guessing import function_words
from lemmar.resolve.terms import terms
from lemmar.resolve.world import World
from lemmar.syntax import leading
from lemmar.tags import LanguageTag, Tag

#: A term stands in so many texts at the least; in so large a share of them its translation does; and so well do the two go together.
_FEWEST, _SHARE, _TOGETHER = 3, 0.7, 0.6
#: A name stays in so large a share of all translations, of so many locales at the least.
_STAYS, _LOCALES = 0.9, 3
#: Words with so many first letters in common are forms of one.
_ALIKE = 5
_WORD = expression(r"[^\W\d_][\w’'-]*")
_PLACEHOLDER = expression(r"\{[^{}]*\}|%\S+|<[^<>]*>|&\w+;|https?://\S+")
_UNSPACED = frozenset(["zh", "ja", "yue", "th", "lo", "km", "my"])


class Proposal(NamedTuple):
    """A term that is proposed: the word; the locale, or None for one that stays as it is everywhere; its translation there, with the forms that it has; in
    how many of the texts with the word the translation stands.
    """

    word: str
    locale: Tag | None
    said: str
    forms: tuple[str, ...]
    texts: int
    of: int


def propose(world: World, texts: Sequence[Text], only: Sequence[str] = ()) -> list[Proposal]:
    """The terms that the product shows and its charter does not have yet, names first, then by word and locale; *only* these words where some are given."""
    known = {term.entry.word.casefold() for term in terms(world.charter)}
    chosen = {word.casefold() for word in only}
    said = {locale: _said(texts, locale) for locale in world.charter.locales if locale != world.charter.source}
    names = list(_names(texts, said))
    named = {each.word.casefold() for each in names}
    others = (each for each in _translated(world, texts, said) if each.word not in named)
    found = [*names, *sorted(others, key=lambda each: each.word)]
    return [each for each in found if each.word.casefold() not in known and (not chosen or each.word.casefold() in chosen)]


def _said(texts: Iterable[Text], locale: Tag) -> dict[str, str]:
    """What most clients say for each text in a locale, by its id."""
    found = {}
    for text in texts:
        held = Counter(leading(in_words(use, text, forms)) for use in text.uses if (forms := translation(use, locale)))
        if held:
            found[text.id] = max(held, key=lambda words: held[words])
    return found


def _words(text: str) -> list[str]:
    return _WORD.findall(_PLACEHOLDER.sub(" ", text))


def _names(texts: Sequence[Text], said: Mapping[Tag, Mapping[str, str]]) -> Iterator[Proposal]:
    """Words with a capital letter that are not the first of every text, or have more than one, and that translations keep."""
    holders: dict[str, list[Text]] = defaultdict(list)
    inside: set[str] = set()
    for text in texts:
        for place, word in enumerate(_words(text.shown)):
            if word[:1].isupper() and len(word) > 1 and "_" not in word:
                if place or any(sign.isupper() for sign in word[1:]):
                    inside.add(word)
                if not holders[word] or holders[word][-1] is not text:
                    holders[word].append(text)
    for word in sorted(inside):
        those = holders[word]
        pairs = [
            (locale, words) for locale, every in said.items() for text in those if (words := every.get(text.id)) and words != text.shown
        ]
        keep = [locale for locale, words in pairs if word in words]
        if len(those) >= 2 and len(set(keep)) >= _LOCALES and len(keep) >= _STAYS * len(pairs):
            yield Proposal(word, None, word, (), len(keep), len(pairs))


def _translated(world: World, texts: Sequence[Text], said: Mapping[Tag, Mapping[str, str]]) -> Iterator[Proposal]:
    common = function_words(LanguageTag.parse(world.charter.source).canonical().language)
    holders: dict[str, set[str]] = defaultdict(set)
    for text in texts:
        for word in {word.casefold() for word in _words(text.shown)}:
            if len(word) > 2 and word not in common:
                holders[word].add(text.id)
    for locale, every in said.items():
        unspaced = LanguageTag.parse(locale).canonical().language in _UNSPACED
        stems: dict[str, set[str]] = defaultdict(set)
        forms: dict[str, Counter[str]] = defaultdict(Counter)
        small = function_words(LanguageTag.parse(locale).canonical().language)
        for name, words in every.items():
            for word in set(_pieces(words) if unspaced else _words(words)):
                if word.casefold() in small:
                    continue
                stem = word if unspaced else word.casefold()[:_ALIKE]
                stems[stem].add(name)
                forms[stem][word] += 1
        by_text: dict[str, list[str]] = defaultdict(list)
        for stem, names in stems.items():
            for name in names:
                by_text[name].append(stem)
        for word in sorted(holders):
            those = holders[word] & every.keys()
            if len(those) >= _FEWEST:
                best = _best(those, stems, by_text)
                if best is not None:
                    shared = len(stems[best] & those)
                    spelled = [form for form, _ in sorted(forms[best].items(), key=lambda pair: (-pair[1], pair[0]))]
                    yield Proposal(word, locale, spelled[0], tuple(spelled), shared, len(those))


def _best(those: set[str], stems: Mapping[str, set[str]], by_text: Mapping[str, Sequence[str]]) -> str | None:
    """What goes best with a word that stands in *those* texts; None where nothing goes well, or two do equally."""
    shared = Counter(stem for name in those for stem in by_text.get(name, ()))
    scored = [
        (2 * count / (len(those) + len(stems[stem])), len(stem), stem) for stem, count in shared.items() if count >= _SHARE * len(those)
    ]
    scored.sort(reverse=True)
    if not scored or scored[0][0] < _TOGETHER:
        return None
    rivals = [each for each in scored[1:] if each[0] == scored[0][0] and each[2] not in scored[0][2]]
    return None if rivals else scored[0][2]


def _pieces(text: str) -> Iterator[str]:
    """The pieces of two to four characters of a text without blanks between words."""
    for run in expression(r"[^\W\d_a-zA-Z]+").findall(_PLACEHOLDER.sub(" ", text)):
        for length in (2, 3, 4):
            for start in range(len(run) - length + 1):
                yield run[start : start + length]


def as_toml(found: Sequence[Proposal]) -> list[str]:
    """The proposals as tables of a charter, a line each."""
    lines: list[str] = []
    by_word: dict[str, list[Proposal]] = {}
    for each in found:
        by_word.setdefault(each.word, []).append(each)
    for word, those in by_word.items():
        lines += ["[[term]]", f"word   = {_quoted(word)}"]
        if those[0].locale is None:
            lines += ["keeps  = true", ""]
            continue
        lines += ["  [term.agreed]", *(f"  {_key(each.locale or '')} = [{_quoted(each.said)}]" for each in those)]
        several = [each for each in those if len({form.casefold() for form in each.forms}) > 1]
        if several:
            lines += ["  [term.inflected]", *(f"  {_key(each.locale or '')} = '{_stem(each.forms)}\\w*'" for each in several)]
        lines.append("")
    return lines


def _stem(forms: Sequence[str]) -> str:
    """What all forms begin with."""
    small = [form.casefold() for form in forms]
    length = next((place for place, signs in enumerate(zip(*small, strict=False)) if len(set(signs)) > 1), min(map(len, small)))
    return re.escape(small[0][:length])


def _key(locale: str) -> str:
    return locale if locale.replace("-", "").isalnum() else _quoted(locale)


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)
