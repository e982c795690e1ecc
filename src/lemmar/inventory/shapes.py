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
        self._texts: dict[str, dict[str, int]] = {}
        self._pieces: dict[tuple[Any, ...], int] = {}

    def of_column(self, column: Column, name: str) -> array[int]:
        """The shape number of each text of *column* in the syntax *name*; of several forms, what all of them together take."""
        found = syntax.load(name)
        if not found.special:
            return array("I", bytes(4 * len(column.texts)))
        special, known = found.special, self._texts.setdefault(name, {})
        numbers = array(
            "I", [0 if text is None or special not in text else known.get(text) or self._parse(text, found, known) for text in column.texts]
        )
        for index, forms in column.rare.get("forms", {}).items():
            numbers[index] = self._together(
                [known.get(text) or self._parse(text, found, known) for text in forms.values() if special in text]
            )
        return numbers

    def _parse(self, text: str, found: Syntax, known: dict[str, int]) -> int:
        if found.pieces is None:
            number = self._number(found.shape(text))
        else:
            pieces = (found.name, *found.pieces(text))
            number = self._pieces.get(pieces, -1)
            if number < 0:
                number = self._pieces[pieces] = self._number(found.shape(text))
        known[text] = number
        return number

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
