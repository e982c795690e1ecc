"""What of a text must survive translation, and what a message syntax is."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from typing import NamedTuple

from msgspec import Struct


class Argument(NamedTuple):
    """A value that a program puts into a text: its name or position, and what kind of value it is shown as (empty: any)."""

    name: str
    type: str


class Choice(NamedTuple):
    """A place where a text has several branches: by which argument (empty: the catalog's own count), of which kind (``plural``,
    ``ordinal``, ``select``), and the branches' keys in their order.
    """

    argument: str
    kind: str
    keys: tuple[str, ...]


class Fault(NamedTuple):
    """Where a text breaks its syntax: an offset in code points, and what is wrong there. A *mild* one is none where the source's text has it
    too, since then its program bears it.
    """

    offset: int
    words: str
    mild: bool = False


class Shape(Struct, frozen=True):
    """What of a text must survive translation.

    *arguments* are sorted by name, each once. *choices* are the plurals and selects. *partial* are (argument, branch) where one branch of a
    choice lacks what another has. *markup* are the elements, sorted, as often as they are opened; *fault* is set where the text is broken,
    and nothing else is then known but where it is a mild one.
    """

    arguments: tuple[Argument, ...] = ()
    choices: tuple[Choice, ...] = ()
    partial: tuple[tuple[str, str], ...] = ()
    markup: tuple[str, ...] = ()
    fault: Fault | None = None


class Piece(NamedTuple):
    """A stretch of a text: words, escapes resolved; or, with a *name*, a placeholder as it is written, with the *kind* of value that it shows."""

    text: str
    name: str = ""
    kind: str = ""


class Branches(NamedTuple):
    """The forms by number that one text holds, by category; by which *argument* they go, and how such a text is *written* of other forms."""

    argument: str
    forms: Mapping[str, str]
    written: Callable[[Mapping[str, str]], str]


class Syntax(Struct, frozen=True, kw_only=True):
    """A message syntax. A text without any of the characters *special*, which does not begin with *first*, has the empty shape and is
    never parsed.

    Where what one expression, *placeholder*, finds decides a text's shape, texts in which it finds the same are parsed once. With *quoted* the
    syntax is the same in which every apostrophe quotes.
    """

    name: str
    shape: Callable[[str], Shape]
    special: str = ""
    first: str = ""
    placeholder: re.Pattern[str] | None = None
    quoted: Callable[[str], Shape] | None = None
    #: What *pieces* and *literal* are then.
    doubled_pieces: Callable[[str], list[Piece] | None] | None = None
    doubled_literal: Callable[[str, bool, bool], str] | None = None
    #: Where words stand that people read, for a syntax whose texts are more than words and placeholders: half-open spans of code points, those of each
    #: branch apart.
    words: Callable[[str], list[list[tuple[int, int]]]] | None = None
    #: A text's words and placeholders, where one expression does not find them; None where it has branches or escapes beyond these.
    pieces: Callable[[str], list[Piece] | None] | None = None
    #: The forms by number that a text holds, where it holds nothing else.
    branches: Callable[[str], Branches | None] | None = None
    #: ``#`` stands for the number in them.
    counts_by_sign: bool = False
    #: How words are written, in a text with placeholders or without, and with one behind them.
    literal: Callable[[str, bool, bool], str] | None = None
    #: How a placeholder without a name is written where it does not stand in the order of the source's.
    moved: Callable[[str, str], str] | None = None
    #: How a placeholder is written, by its name or number and its kind.
    written: Callable[[str, str], str] = lambda name, _kind: repr(name)
    #: Whether a text surely takes something in this syntax; None for one that is never seen from texts alone.
    sure: Callable[[str], bool] | None = None
    #: Of those that are sure of a text the strictest count: 1 before 2.
    strictness: int = 9
    #: Of two that are sure of equally many texts the one with the lower rank.
    rank: int = 99
    #: In so many texts it must be seen, as other things look like it.
    fewest: int = 1
    #: Syntaxes whose texts are texts of this one too.
    includes: tuple[str, ...] = ()
