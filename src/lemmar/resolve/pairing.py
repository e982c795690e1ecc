"""Which of two lists' tags mean the same locale, and which tags one reader reads as one language."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from lemmar.tags import LanguageTag, Tag


def _canonical(tag: str) -> LanguageTag:
    return LanguageTag.parse(tag).canonical()


def _maximized(tag: str) -> LanguageTag:
    return LanguageTag.parse(tag).maximized()


def pair(tags: Iterable[Tag], roster: Iterable[Tag]) -> dict[Tag, Tag]:
    """Those of one list's *tags* that mean a locale of *roster*, with the roster's tag for it.

    Equal canonical forms first; then, one to one, equal maximized ones (``zh-TW`` and ``zh-Hant``, ``pt`` and ``pt-BR``).
    """
    listed = list(dict.fromkeys(tags))
    known = {_canonical(tag): tag for tag in roster}
    found = {tag: known[_canonical(tag)] for tag in listed if _canonical(tag) in known}
    free = {_maximized(tag): tag for tag in known.values() if tag not in found.values()}
    for tag in listed:
        if tag not in found and _maximized(tag) in free:
            found[tag] = free.pop(_maximized(tag))
    return found


def pair_lists(lists: Iterable[Iterable[Tag]], roster: Iterable[Tag]) -> dict[Tag, Tag]:
    """What all *lists* of a client agree in pairing: a tag that is a locale of its own in one of them is so in all."""
    wanted = tuple(roster)
    found: dict[Tag, Tag] = {}
    alone: set[Tag] = set()
    for each in lists:
        listed = tuple(each)
        pairs = pair(listed, wanted)
        found |= pairs
        alone |= {tag for tag in listed if tag not in pairs}
    return {tag: known for tag, known in found.items() if tag not in alone}


def scripts_of(roster: Iterable[Tag]) -> dict[str, list[Tag]]:
    """The locales of a roster that name a script, by language: a tag of that language without one does not say which is meant."""
    found: dict[str, list[Tag]] = {}
    for tag in roster:
        parsed = LanguageTag.parse(tag)
        if parsed.script:
            found.setdefault(parsed.language, []).append(tag)
    return found


@lru_cache(maxsize=1 << 14)
def same_language(tag: Tag, other: Tag) -> bool:
    """Whether readers of *tag* read *other* as their own: the same language and script, or a CLDR parent in the same script."""
    first, second = _maximized(tag), _maximized(other)
    if first.script != second.script:
        return False
    return first.language == second.language or _canonical(other) in _canonical(tag).parents()
