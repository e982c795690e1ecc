"""Charters, mutated: each is read, or refused with one plain error; nothing else."""

from __future__ import annotations

import random
from importlib.resources import files

from fuzzing.catalogs import mutated, pumped
from lemmar.basics.errors import LemmarError
from lemmar.charter.reading import parse
from lemmar.trees.patterns import PatternError, compile_pattern, match_path

_SIGNS = (
    "{locale}",
    "{part}",
    "{part+}",
    "{",
    "}",
    "[",
    "]",
    "*",
    "**",
    "?",
    "/",
    "\\",
    "..",
    ".",
    "a",
    "de",
    "é",
    "\n",
    "\0",
    "\u202e",
    "(",
    "+",
    "|",
    "^",
    "$",
)


class Charters:
    """The target: the demo's charter, as bytes."""

    def __init__(self, chance: random.Random) -> None:
        self._seed = (files("lemmar.demo") / "charter.toml").read_bytes()
        self._chance, self._count = chance, 0

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""
        self._count += 1
        data = self._seed
        for _ in range(self._chance.randint(1, 3)):
            data = mutated(data, self._chance)
        data = pumped(data, self._chance) if self._count % 20 == 0 else data
        try:
            parse(data, "lemmar.toml")
        except LemmarError as error:
            if not str(error).strip():
                return "charter", data, "an error without a word"
        return "charter", data, None


class Patterns:
    """The target: file patterns, and names that they are held against."""

    def __init__(self, chance: random.Random) -> None:
        self._chance = chance

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""
        pattern = "".join(self._chance.choice(_SIGNS) for _ in range(self._chance.randint(1, 14)))
        pattern = pattern * self._chance.choice((1, 1, 1, 30))
        name = "".join(self._chance.choice(("a", "de", "/", "-", "_", ".", "\n", "é")) for _ in range(self._chance.choice((3, 8, 120))))
        try:
            ways = compile_pattern(pattern)
        except PatternError as error:
            return "pattern", pattern.encode(), None if str(error) else "an error without a word"
        match_path(ways, name)
        return "pattern", pattern.encode(), None
