"""What all syntaxes share: gathering a text's arguments, each once, into a shape."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable

from lemmar.syntax._shape import Argument, Choice, Shape, Syntax


class BrokenError(Exception):
    """A text breaks its syntax at *offset* (code points)."""

    def __init__(self, offset: int, words: str) -> None:
        super().__init__(offset, words)
        self.offset = offset
        self.words = words


class Arguments:
    """The arguments of a text as they are come upon."""

    def __init__(self) -> None:
        self._types: dict[str, set[str]] = {}

    def add(self, name: str, kind: str = "") -> None:
        """Notes that the text takes *name*, shown as *kind*."""
        types = self._types.setdefault(name, set())
        if kind:
            types.add(kind)

    def all(self) -> tuple[Argument, ...]:
        """The arguments by name; of one that is shown in several ways, all of them."""
        return tuple(Argument(name, "/".join(sorted(types))) for name, types in sorted(self._types.items()))


def shape_of(names: Iterable[str]) -> Shape:
    """The shape of a text that takes *names* and has nothing else to survive."""
    return Shape(tuple(Argument(name, "") for name in sorted(set(names))))


def partial(argument: str, branches: Iterable[tuple[str, frozenset[str]]]) -> tuple[tuple[str, str], ...]:
    """Which argument which branch lacks that another has; the one that the choice goes by may be left out."""
    listed = list(branches)
    every = frozenset().union(*(names for _, names in listed)) - {argument} if listed else frozenset()
    return tuple((name, key) for key, names in listed for name in sorted(every - names))


def with_choices(arguments: Arguments, choices: list[Choice], lacking: list[tuple[str, str]]) -> Shape:
    """The shape of a text with branches."""
    return Shape(arguments.all(), tuple(choices), tuple(dict.fromkeys(lacking)))


def element_words(name: str) -> str:
    """An element of a shape's markup in words."""
    return f"<{name[1:]}> never closed" if name[0] == "+" else f"</{name[1:]}> without a beginning" if name[0] == "-" else f"<{name}>"


def by_signs(
    name: str,
    placeholder: re.Pattern[str],
    written: Callable[[str], str],
    signs: tuple[str, str],
    *,
    strictness: int,
    rank: int,
    fewest: int = 1,
    folds: bool = False,
) -> Syntax:
    """A syntax whose placeholders are names between signs: *placeholder* finds each, and its groups give the name; signs that hold no name are text.

    Of the two *signs* every placeholder has the first, and one that is surely meant has the second. Where it *folds*, case does not tell two names apart.
    """

    def shape(text: str) -> Shape:
        found = placeholder.findall(text)
        names = (each for groups in found for each in ((groups,) if isinstance(groups, str) else groups) if each)
        return shape_of(map(str.lower, names) if folds else names)

    return Syntax(
        name=name,
        shape=shape,
        written=lambda argument, _kind: written(argument),
        special=signs[0],
        placeholder=placeholder,
        sure=lambda text: signs[1] in text and bool(shape(text).arguments),
        strictness=strictness,
        rank=rank,
        fewest=fewest,
    )
