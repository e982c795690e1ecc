"""Language tags: RFC 5646 tags as values, CLDR's knowledge of them, and the platforms' spellings of them.

Pure and typed; needs nothing of the rest of Lemmar. Importing it reads no table.
"""

from lemmar.tags.grammar import TagError
from lemmar.tags.language_tag import LanguageTag, Tag, direction, same_locale
from lemmar.tags.lookup import lookup, truncations
from lemmar.tags.matching import distance, nearest
from lemmar.tags.meaning import meant
from lemmar.tags.plurals import CATEGORIES, plural_categories, plural_category, whole_number_categories
from lemmar.tags.spellings import SPELLINGS, android_variant, looks_like_locale, read_spelling, spelling_candidates, write_spelling

__all__ = [
    "CATEGORIES",
    "SPELLINGS",
    "LanguageTag",
    "Tag",
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
