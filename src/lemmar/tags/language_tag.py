"""A language tag as a value, with all that the registry and CLDR know of it."""

from __future__ import annotations

from functools import lru_cache

from lemmar.tags.grammar import Subtags, parse

# What the methods need is loaded when it is first used: with the module `typing` it would double the package's time to load.
TYPE_CHECKING = False
if TYPE_CHECKING:
    from typing import NewType

    from lemmar.tags.registry import Problem

    #: A language tag as a text, in the case of RFC 5646 section 2.1.1.
    Tag = NewType("Tag", str)
else:
    Tag = str


class LanguageTag(Subtags):
    """A well-formed language tag, its subtags in the case of RFC 5646 section 2.1.1."""

    __slots__ = ()

    @classmethod
    def parse(cls, text: str) -> LanguageTag:
        """The tag that *text* writes, in any case; hyphens only, ASCII only.

        Raises:
            TagError: *text* does not match the grammar.
        """
        return _parsed(text)

    @property
    def valid(self) -> bool:
        """RFC 5646 section 2.2.9: every subtag is registered, extlangs stand after their prefix, no variant or singleton twice."""
        from lemmar.tags.registry import is_valid

        return is_valid(self)

    def problems(self) -> tuple[Problem, ...]:
        """What is wrong or not at its best with the tag, in the order of its subtags, each with advice."""
        from lemmar.tags.registry import problems

        return problems(self)

    def canonical(self) -> LanguageTag:
        """The canonical form by UTS 35 Annex C, a fixed point."""
        return _canonical(self)

    def maximized(self) -> LanguageTag:
        """The canonical form with its likely script and region (UTS 35, Likely Subtags)."""
        return _maximized(self)

    def minimized(self) -> LanguageTag:
        """The shortest tag with the same maximized form, the region favoured over the script."""
        return _minimized(self)

    def parents(self) -> tuple[LanguageTag, ...]:
        """CLDR's chain of parent locales, up to and without root."""
        return _parents(self)


def same_locale(a: LanguageTag, b: LanguageTag) -> bool:
    """Whether two tags mean the same locale: equal canonical forms, or equal maximized ones (``zh-TW`` and ``zh-Hant``)."""
    return a.canonical() == b.canonical() or a.maximized() == b.maximized()


def direction(tag: LanguageTag) -> str:
    """``rtl`` or ``ltr``, by the tag's script, given or likely."""
    from lemmar.tags.tables import table

    return "rtl" if tag.maximized().script in table("scripts")["rtl"].split() else "ltr"


@lru_cache(maxsize=1 << 16)
def _parsed(text: str) -> LanguageTag:
    return LanguageTag._make(parse(text))


@lru_cache(maxsize=1 << 14)
def _canonical(tag: LanguageTag) -> LanguageTag:
    from lemmar.tags.canonical import canonical

    return LanguageTag._make(canonical(tag))


@lru_cache(maxsize=1 << 14)
def _maximized(tag: LanguageTag) -> LanguageTag:
    from lemmar.tags.likely import maximized

    return LanguageTag._make(maximized(tag))


@lru_cache(maxsize=1 << 14)
def _minimized(tag: LanguageTag) -> LanguageTag:
    from lemmar.tags.likely import minimized

    return LanguageTag._make(minimized(tag))


@lru_cache(maxsize=1 << 14)
def _parents(tag: LanguageTag) -> tuple[LanguageTag, ...]:
    from lemmar.tags.likely import parents

    return tuple(map(LanguageTag._make, parents(tag)))
