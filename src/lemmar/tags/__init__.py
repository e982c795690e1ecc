"""Language tags: RFC 5646 tags as values, and the platforms' spellings of them.

Pure and typed; needs nothing of the rest of Lemmar. Importing it reads no table.
"""

from lemmar.tags.grammar import LanguageTag, TagError
from lemmar.tags.lookup import lookup, truncations
from lemmar.tags.spellings import (
    SPELLINGS,
    android_variant,
    looks_like_locale,
    read_spelling,
    spelling_candidates,
    write_spelling,
)

__all__ = [
    "SPELLINGS",
    "LanguageTag",
    "TagError",
    "android_variant",
    "looks_like_locale",
    "lookup",
    "read_spelling",
    "spelling_candidates",
    "truncations",
    "write_spelling",
]
