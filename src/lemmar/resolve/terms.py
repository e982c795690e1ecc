"""The terms of a charter: where a source text has one, and whether its translation has what is agreed for it.

Words end where letters do (UAX 29 in outline): in languages that write no blanks between words a term may stand inside of others, in Korean endings follow
it, in Arabic and Hebrew the article and other small words stand at either end. Other inflections are the charter's to say.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from typing import Any, NamedTuple

from lemmar.basics.bounded_expressions import compiled, found_in
from lemmar.basics.phrasing import joined
from lemmar.charter.types import Charter, TermEntry
from lemmar.tags import LanguageTag, Tag

#: Languages without blanks between words, or in which other words stand at either end of one without a blank; and those in which endings do.
_ANYWHERE = frozenset(["zh", "ja", "yue", "th", "lo", "km", "my", "bo", "ar", "he", "ur", "fa", "ku", "ps", "sd", "ug", "dv"])
_ENDINGS = frozenset(["ko"])


class Term(NamedTuple):
    """A term: what the charter says of it, and what finds it in a source text."""

    entry: TermEntry
    source: Any

    def is_in(self, text: str) -> bool:
        """Whether a source text has it."""
        return found_in(self.source, text)

    def wrong(self, text: str, locale: Tag) -> str:
        """What is wrong with a translation of a text that has the term, in words; empty where nothing is."""
        entry = self.entry
        avoided = [word for word in entry.avoid.get(locale, ()) if found_in(_words(word, locale), text)]
        if avoided:
            wanted = f"; {_or(entry.agreed[locale])} is agreed" if locale in entry.agreed else ""
            return f"has {avoided[0]!r} for {entry.word!r}, which is to be avoided{wanted}"
        own = entry.inflected.get(locale)
        if own is not None and found_in(_whole(own, locale), text):
            return ""
        if entry.keeps:
            return "" if found_in(_words(entry.word, locale), text) else f"lacks {entry.word!r}, which stays as it is in every language"
        agreed = entry.agreed.get(locale, ())
        if not agreed or any(found_in(_words(word, locale), text) for word in agreed):
            return ""
        return f"lacks {_or(agreed)}, as {entry.word!r} is to be translated"

    def said(self, locale: Tag) -> str:
        """What a translator should know of it."""
        entry = self.entry
        pieces = [f"{entry.word}: stays as it is"] if entry.keeps else []
        pieces += [f"{entry.word}: {' or '.join(entry.agreed[locale])}"] if locale in entry.agreed else []
        head = pieces[0] if pieces else entry.word
        more = [f"not {joined(entry.avoid[locale])}"] if locale in entry.avoid else []
        more += [entry.note] if entry.note else []
        return "; ".join([head, *more])

    def concerns(self, locale: Tag) -> bool:
        """Whether anything is agreed on it for a locale."""
        return self.entry.keeps or locale in self.entry.agreed or locale in self.entry.avoid


def terms(charter: Charter) -> tuple[Term, ...]:
    """The charter's terms."""
    return tuple(
        Term(entry, _whole(entry.forms, charter.source) if entry.forms is not None else _words(entry.word, charter.source))
        for entry in charter.term
    )


def in_text(every: Iterable[Term], text: str) -> list[Term]:
    """The terms that a source text has."""
    return [term for term in every if term.is_in(text)]


def _words(word: str, locale: Tag) -> Any:
    """What finds a word of a language, where it is no piece of another; one with capital letters inside as it is written."""
    return _whole(re.escape(word), locale, small=not any(sign.isupper() for sign in word[1:]))


def _whole(pattern: str, locale: Tag, small: bool = True) -> Any:
    """What finds an expression where it is no piece of another word of the language."""
    language = LanguageTag.parse(locale).canonical().language
    before = "" if language in _ANYWHERE else r"(?<![\p{L}\p{N}])"
    after = "" if language in _ANYWHERE | _ENDINGS else r"(?![\p{L}\p{N}])"
    return compiled(f"{before}(?:{pattern}){after}", small)


def _or(words: Sequence[str]) -> str:
    return " or ".join(map(repr, words))
