"""Shape numbers: each distinct text is parsed once, each distinct shape kept once. 0 is the shape of a text with nothing in it."""

from __future__ import annotations

from array import array
from collections.abc import Sequence
from typing import Any

from lemmar import syntax
from lemmar.model import Column, Shape, Syntax

_SEEN = ("double-brace", "printf", "brace")  # of two that fit equally well, the earlier: `{{name}}` also holds `{name}`


class Shapes:
    """The table of shapes of one audit."""

    def __init__(self) -> None:
        self.table: list[Shape] = [Shape()]
        self._numbers: dict[Shape, int] = {self.table[0]: 0}
        self._pieces: dict[str, dict[tuple[Any, ...], int]] = {}

    def of_column(self, column: Column, name: str) -> array[int]:
        """The shape number of each text of *column* in the syntax *name*; of several forms, what all of them together take."""
        found = syntax.load(name)
        numbers = array("I", bytes(4 * len(column.texts)))
        if not found.special:
            return numbers
        special, texts = found.special, column.texts
        indexes = [index for index, text in enumerate(texts) if text is not None and special in text]
        for index, number in zip(indexes, self._parsed([texts[index] or "" for index in indexes], found), strict=True):
            numbers[index] = number
        for index, forms in column.rare.get("forms", {}).items():
            numbers[index] = self._together(self._parsed([text for text in forms.values() if special in text], found))
        return numbers

    def _parsed(self, texts: list[str], found: Syntax) -> list[int]:
        """The shape number of each of *texts*."""
        if found.placeholder is None:
            return [self._number(found.shape(text)) for text in texts]
        known = self._pieces.setdefault(found.name, {})
        pieces = list(map(tuple, map(found.placeholder.findall, texts)))
        for piece, text in zip(pieces, texts, strict=True):
            if piece not in known:
                known[piece] = self._number(found.shape(text))
        return [known[piece] for piece in pieces]

    def _number(self, shape: Shape) -> int:
        number = self._numbers.get(shape)
        if number is None:
            number = self._numbers[shape] = len(self.table)
            self.table.append(shape)
        return number

    def _together(self, numbers: Sequence[int]) -> int:
        if len(set(numbers)) <= 1:
            return numbers[0] if numbers else 0
        arguments: dict[str, Any] = {}
        for number in numbers:
            arguments.update(self.table[number].arguments)
        return self._number(Shape(tuple(sorted(arguments.items()))))


def seen_syntax(columns: Sequence[Column]) -> str:
    """The syntax in which most of the texts of *columns* take arguments; ``plain`` where none does in any."""
    counts = dict.fromkeys(_SEEN, 0)
    for column in columns:
        for text in column.texts:
            if text is not None and ("{" in text or "%" in text):
                for name in _SEEN:
                    counts[name] += bool(syntax.load(name).shape(text).arguments)
    best = max(_SEEN, key=lambda name: counts[name])
    return best if counts[best] else "plain"
