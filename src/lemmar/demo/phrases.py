"""Tarnhut's texts: one table for all clients, each of which writes the placeholders in its own syntax."""

from __future__ import annotations

import csv
from collections.abc import Callable
from functools import lru_cache
from importlib import resources
from typing import NamedTuple

from lemmar.basics.expressions import expression

#: The locales of the roster that ship, then those on trial.
SHIPPING = ("en", "de", "de-AT", "fr", "it", "pt-BR", "zh-Hans", "ar", "sr-Latn")
TRIAL = ("uk", "sl")
LOCALES = (*SHIPPING, *TRIAL)
_FIELD = expression(r"\{(\w+)\}")
# Of the locales on trial, every ninth and every fourth text is still to be translated.
_OPEN = {"uk": 9, "sl": 4}


class Phrase(NamedTuple):
    """A message: its part, its dotted name, its texts by locale (an overlay's only where they differ from its parent's)."""

    part: str
    name: str
    texts: dict[str, str]

    @property
    def fields(self) -> list[str]:
        """The placeholders in the order of the source text."""
        return _FIELD.findall(self.texts["en"])

    def text(self, locale: str, write: Callable[[str, int], str], overlay: bool) -> str | None:
        """The text in *locale*, *write* giving each placeholder by name and 1-based number; None where there is none.

        Without *overlay* a locale that differs little from its parent has all of the parent's texts as well.
        """
        text = self.texts.get(locale) or (None if overlay or locale != "de-AT" else self.texts["de"])
        if text is None:
            return None
        numbers = {name: number for number, name in enumerate(self.fields, start=1)}
        return _FIELD.sub(lambda match: write(match.group(1), numbers[match.group(1)]), text)


@lru_cache(maxsize=1)
def phrases() -> tuple[Phrase, ...]:
    """All of Tarnhut's messages, those on trial with what is still to be translated left out."""
    table = resources.files("lemmar.demo").joinpath("phrases.tsv").read_text("utf-8")
    found = []
    for number, row in enumerate(csv.DictReader(table.split("\n"), delimiter="\t", quoting=csv.QUOTE_NONE)):
        texts = {locale: text for locale in LOCALES if (text := row[locale]) and (locale not in _OPEN or number % _OPEN[locale])}
        found.append(Phrase(row["part"], row["id"], texts))
    return tuple(found)
