"""Reads a locale as some place writes it: by the place's spelling and its own table, and says how it should be written."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from lemmar.model import Tag
from lemmar.tags import LanguageTag, read_spelling, spelling_candidates, write_spelling


class Reading(NamedTuple):
    """The tag that a text stands for (None: none), and how this place should write it where it does not."""

    tag: Tag | None
    wanted: str | None


class Speller:
    """Reads locales in one *spelling*, with a table of the charter's own spellings that goes before it."""

    def __init__(self, spelling: str, spelled: Mapping[str, str]) -> None:
        self.spelling = spelling
        self.spelled = spelled

    def read(self, text: str) -> Reading:
        """What *text* stands for. What another spelling alone can read counts as that, and is to be written otherwise."""
        own = self.spelled.get(text)
        if own is not None:
            return Reading(Tag(own), None)
        tag = _sound(read_spelling(text, self.spelling))
        if tag is not None:
            return Reading(Tag(str(tag)), None if self._well_written(text, tag) else write_spelling(tag, self.spelling))
        others = {found for found in map(_sound, spelling_candidates(text).values()) if found}
        others |= {found for found in (_sound(read_spelling(text.replace("_", "-"), "bcp47")),) if found}
        if len(others) == 1:
            tag = others.pop()
            return Reading(Tag(str(tag)), write_spelling(tag, self.spelling))
        return Reading(None, None)

    def _well_written(self, text: str, tag: LanguageTag) -> bool:
        if self.spelling == "auto":
            return any(_plain(text, write_spelling(tag, name), name) for name in spelling_candidates(text))
        return _plain(text, write_spelling(tag, self.spelling), self.spelling)


def _plain(text: str, canonical: str, spelling: str) -> bool:
    """Whether *text* is its spelling's own form: not the canonical one in another case or with another separator."""
    if spelling == "lproj":
        text = text.replace("_", "-")
    return text == canonical or text.lower().replace("_", "-") != canonical.lower().replace("_", "-")


def _sound(tag: LanguageTag | None) -> LanguageTag | None:
    """*tag*, unless its language is a word: no language of four letters or more is registered."""
    return tag if tag is not None and (len(tag.language) <= 3 or "-" in tag.language) else None
