"""Which of two lists' tags mean the same locale."""

from __future__ import annotations

from collections.abc import Iterable

from lemmar.model import Tag
from lemmar.tags import LanguageTag


def pair(tags: Iterable[Tag], roster: Iterable[Tag]) -> dict[Tag, Tag]:
    """Each of *tags* that means a locale of *roster*, with the roster's tag for it: equal canonical forms."""
    known = {str(LanguageTag.parse(tag)): tag for tag in roster}
    return {tag: known[str(LanguageTag.parse(tag))] for tag in tags if str(LanguageTag.parse(tag)) in known}


def same_language(tag: Tag, other: Tag) -> bool:
    """Whether readers of *tag* read *other* as their own language, in their own script."""
    first, second = LanguageTag.parse(tag), LanguageTag.parse(other)
    return (first.language, first.script) == (second.language, second.script)
