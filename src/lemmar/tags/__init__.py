"""Language tags: RFC 5646 tags as values, CLDR's knowledge of them, and the platforms' spellings of them.

Pure and typed; needs nothing of the rest of Lemmar. Importing it reads no table.
"""

from __future__ import annotations

from lemmar.tags.grammar import LanguageTag, TagError
from lemmar.tags.lookup import lookup, truncations
from lemmar.tags.spellings import SPELLINGS, android_variant, looks_like_locale, read_spelling, spelling_candidates, write_spelling

TYPE_CHECKING = False
if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from lemmar.tags.meaning import Meant
    from lemmar.tags.plurals import Kind

#: The plural categories, in CLDR's order (UTS 35 part 3, section 5).
CATEGORIES = ("zero", "one", "two", "few", "many", "other")

__all__ = [
    "CATEGORIES",
    "SPELLINGS",
    "LanguageTag",
    "TagError",
    "android_variant",
    "direction",
    "distance",
    "looks_like_locale",
    "lookup",
    "meant",
    "nearest",
    "plural_categories",
    "plural_category",
    "read_spelling",
    "same_locale",
    "spelling_candidates",
    "truncations",
    "whole_number_categories",
    "write_spelling",
]


def same_locale(a: LanguageTag, b: LanguageTag) -> bool:
    """Whether two tags mean the same locale: equal canonical forms, or equal maximized ones (``zh-TW`` and ``zh-Hant``)."""
    return a.canonical() == b.canonical() or a.maximized() == b.maximized()


def direction(tag: LanguageTag) -> str:
    """``rtl`` or ``ltr``, by the tag's script, given or likely."""
    from lemmar.tags.tables import table

    return "rtl" if tag.maximized().script in table("scripts")["rtl"].split() else "ltr"


def plural_categories(tag: LanguageTag, kind: Kind) -> tuple[str, ...]:
    """The plural categories of *tag* for *kind* (``cardinal`` or ``ordinal``), in CLDR's order."""
    from lemmar.tags import plurals

    return plurals.plural_categories(tag, kind)


def plural_category(tag: LanguageTag, number: str, kind: Kind) -> str:
    """The category that *number* takes; a text, so that visible decimals count (``1``, ``1.0``, ``1c6``). Raises `ValueError`."""
    from lemmar.tags import plurals

    return plurals.plural_category(tag, number, kind)


def whole_number_categories(tag: LanguageTag, kind: Kind) -> tuple[str, ...]:
    """Those of the plural categories that whole numbers reach."""
    from lemmar.tags import plurals

    return plurals.whole_number_categories(tag, kind)


def nearest(desired: Iterable[str], supported: Sequence[str], default: str | None = None) -> str | None:
    """The supported tag nearest to the wishes by UTS 35 language matching, as written; else *default*."""
    from lemmar.tags import matching

    return matching.nearest(desired, supported, default)


def distance(desired: LanguageTag, supported: LanguageTag) -> int:
    """The UTS 35 distance from *desired* to *supported*; 50 and more is no match."""
    from lemmar.tags import matching

    return matching.distance(desired, supported)


def meant(text: str) -> tuple[Meant, ...]:
    """What was likely meant by a text that is no locale, the likeliest first, each with the reason."""
    from lemmar.tags import meaning

    return meaning.meant(text)
