"""Shape numbers: each distinct text is parsed once, each distinct shape kept once. 0 is the shape of a text with nothing in it."""

from __future__ import annotations

import re
from array import array
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from msgspec.structs import replace

from lemmar.formats import Column
from lemmar.syntax import Argument, Choice, Fault, Shape, Syntax, codes, elements, load, tags
from lemmar.syntax._arguments import Arguments, partial
from lemmar.tags import CATEGORIES

_CATEGORIES = frozenset(CATEGORIES)


class Shapes:
    """The table of shapes of one audit."""

    def __init__(self) -> None:
        self.table: list[Shape] = [Shape()]
        self._numbers: dict[Shape, int] = {self.table[0]: 0}
        self._joined: dict[tuple[tuple[str, int], ...], int] = {}
        self._pieces: dict[tuple[Callable[[str], Shape], bool], dict[Any, int]] = {}

    def of_column(self, column: Column, found: Syntax, markup: str | None = None, refused: bool = True) -> array[int]:
        """The shape number of each text of *column* in a syntax; of several forms, what all of them together take.

        *markup* is ``none`` where angle brackets are text. Without *refused* it does not count what the format's compiler refuses.
        """
        numbers = array("I", bytes(4 * len(column.texts)))
        with_markup, texts = markup != "none", column.texts
        indexes = _special(texts, found, with_markup)
        if indexes:
            known = self._pieces.setdefault((found.shape, with_markup), {})
            findall = found.placeholder.findall if found.placeholder is not None else None
            unformatted = column.rare.unformatted if found.name == "printf" else {}
            for index in indexes:
                text = texts[index] or ""
                if index in unformatted:
                    numbers[index] = self._parsed(text, load("plain"), with_markup)
                    continue
                key: Any = text if findall is None else tuple(findall(text))
                number = known.get(key) if "<" not in text or not with_markup else None
                numbers[index] = self._parsed(text, found, with_markup) if number is None else number
        for index, forms in column.rare.forms.items():
            own = load("plain") if found.name == "printf" and index in column.rare.unformatted else found
            numbers[index] = self._together({name: self._parsed(text, own, with_markup) for name, text in forms.items()})
        for index, (offset, words) in column.rare.refused.items() if refused else ():
            numbers[index] = self._number(Shape(fault=Fault(offset, words)))
        return numbers

    def _parsed(self, text: str, found: Syntax, with_markup: bool) -> int:
        """The shape number of *text*."""
        known = self._pieces.setdefault((found.shape, with_markup), {})
        key: Any = text
        marks: tuple[tuple[str, str, str], ...] = tags(text) if with_markup and "<" in text else ()
        inline = codes(text) if with_markup and "<" in text else ()
        if found.placeholder is not None:
            key = (*found.placeholder.findall(text), *((marks,) if marks else ()), *inline)
        number = known.get(key)
        if number is None:
            shape = found.shape(text)
            if marks and shape.fault is None and (found_here := elements(marks)):
                shape = replace(shape, markup=tuple(sorted({*shape.markup, *found_here})))
            if inline and shape.fault is None:
                names = dict.fromkeys((*shape.arguments, *(Argument(each, "") for each in inline)))
                shape = replace(shape, arguments=tuple(sorted(names)))
            number = self._number(shape)
            if shape.fault is None:  # the place of a fault is each text's own
                known[key] = number
        return number

    def _number(self, shape: Shape) -> int:
        number = self._numbers.get(shape)
        if number is None:
            number = self._numbers[shape] = len(self.table)
            self.table.append(shape)
        return number

    def _together(self, numbers: Mapping[str, int]) -> int:
        """The shape of a message whose forms have the shapes *numbers*: where the forms are plural categories, they are a choice."""
        name = tuple(numbers.items())
        known = self._joined.get(name)
        if known is None:
            known = self._joined[name] = self._shape_of_forms(numbers)
        return known

    def _shape_of_forms(self, numbers: Mapping[str, int]) -> int:
        shapes = {name: self.table[number] for name, number in numbers.items()}
        broken = next((shape for shape in shapes.values() if shape.fault is not None), None)
        if broken is not None:
            return self._number(broken)
        arguments = Arguments()
        markup: set[str] = set()
        for shape in shapes.values():
            markup.update(shape.markup)
            for argument in shape.arguments:
                for kind in argument.type.split("/"):
                    arguments.add(argument.name, kind)
        inner = tuple(dict.fromkeys(choice for shape in shapes.values() for choice in shape.choices))
        if not _CATEGORIES & set(numbers):
            return self._number(Shape(arguments.all(), inner, (), tuple(sorted(markup))))
        branches = [(name, frozenset(argument.name for argument in shape.arguments)) for name, shape in shapes.items()]
        return self._number(
            Shape(arguments.all(), (Choice("", "plural", tuple(numbers)), *inner), partial("", branches), tuple(sorted(markup)))
        )


def _special(texts: Sequence[str | None], found: Syntax, with_markup: bool) -> list[int]:
    """The indexes of the texts that are to be parsed."""
    if not found.special and found.name != "plain":  # a team's own: nobody knows what its placeholders begin with
        return [index for index, text in enumerate(texts) if text]
    if not found.special and not with_markup:
        return []
    signs = found.special + ("<" if with_markup else "")
    whole = "\n".join(filter(None, texts))
    present = [sign for sign in signs if sign in whole]
    if found.first and (whole.startswith(found.first) or f"\n{found.first}" in whole):
        return [index for index, text in enumerate(texts) if text and (text.startswith(found.first) or _any(present)(text))]
    if not present:
        return []
    if len(present) == 1:
        sign = present[0]
        return [index for index, text in enumerate(texts) if text is not None and sign in text]
    test = _any(present)
    return [index for index, text in enumerate(texts) if text is not None and test(text)]


def _any(signs: Sequence[str]) -> Callable[[str], Any]:
    return re.compile("[" + re.escape("".join(signs)) + "]").search if signs else lambda _text: None
