"""Language tags: RFC 5646 tags as values, CLDR's knowledge of them, and the platforms' spellings of them.

Pure and typed; needs nothing of the rest of Lemmar. Importing it reads no table.
"""

import importlib

from lemmar.tags.grammar import TagError
from lemmar.tags.language_tag import LanguageTag, Tag, direction, same_locale
from lemmar.tags.lookup import lookup, truncations
from lemmar.tags.spellings import SPELLINGS, android_variant, looks_like_locale, read_spelling, spelling_candidates, write_spelling

# The module `typing`, which these need, would take half of the package's time to load.
TYPE_CHECKING = False
if TYPE_CHECKING:
    from lemmar.tags.matching import distance, nearest
    from lemmar.tags.meaning import meant
    from lemmar.tags.plurals import CATEGORIES, plural_categories, plural_category, whole_number_categories, whole_numbers

_LATER = {
    "CATEGORIES": "plurals",
    "distance": "matching",
    "meant": "meaning",
    "nearest": "matching",
    "plural_categories": "plurals",
    "plural_category": "plurals",
    "whole_number_categories": "plurals",
    "whole_numbers": "plurals",
}


def __getattr__(name: str) -> object:
    """What is loaded when it is first asked for."""
    if name not in _LATER:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    found: object = getattr(importlib.import_module(f"{__name__}.{_LATER[name]}"), name)
    globals()[name] = found
    return found


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
    "whole_numbers",
    "write_spelling",
]
