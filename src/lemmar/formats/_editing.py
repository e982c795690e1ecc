"""What the edits of all formats share: what they are asked for, and rows of entries that stand one after the other.

Every edit is a list of splices of the file's text, so that nothing else changes. None is made in a file that is not sound.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from typing import NamedTuple

from lemmar.documents.rows import Row, inserted, removed
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.expressions import expression
from lemmar.formats._reading import NOTHING, ReadOptions
from lemmar.tags import LanguageTag

_LOCALE = expression(r"[A-Za-z]{2,3}(?:[-_@][A-Za-z0-9]+)*")


class Model(NamedTuple):
    """A catalog's file after which one for the locale *new* is made: its *text* and how it is read, the locale that it is of, and how the other is
    *written* where files or columns name theirs. *restate* writes a name of the one as one of the other.
    """

    text: str
    options: ReadOptions
    tag: LanguageTag
    new: LanguageTag
    written: str
    restate: Callable[[str], str]


class NewEntry(NamedTuple):
    """An entry to be put into a file: its text, or its *forms* by plural category; *source* is the source's text, where files carry that."""

    key: str
    text: str
    forms: Mapping[str, str] = NOTHING
    comment: str = ""
    source: str | None = None


class Edits(NamedTuple):
    """What a format can do with a file's text besides replacing texts.

    *blank* gives the text of a file without texts for another locale. For files of several locales, *take_in* puts one in, *leave_out* takes one
    out, *rename* gives one another name; *labelled* says whether a layout is such.
    """

    blank: Callable[[Model], str]
    take_in: Callable[[Model], list[Splice]] | None = None
    leave_out: Callable[[str, ReadOptions, str], list[Splice]] | None = None
    rename: Callable[[str, ReadOptions, str, str], list[Splice]] | None = None
    #: The row of entries that *text* holds, with the key of each, where they stand beside each other.
    rows: Callable[[str, ReadOptions], Sequence[Entries]] | None = None
    #: An entry as it is written, after an example that stands in the text, if there is one.
    write: Callable[[NewEntry, str, Entries], str] | None = None
    #: Comments above an entry go with it.
    comment: re.Pattern[str] | None = None


class Entries(NamedTuple):
    """A row of entries, and the key of each."""

    row: Row
    keys: tuple[str, ...]
    above: str = ""


def without(text: str, every: Iterable[Entries], keys: Collection[str]) -> list[Splice]:
    """The entries with those *keys* taken out. Raises `EditError` where one is not there."""
    found: list[Splice] = []
    left = set(keys)
    for entries in every:
        numbers = [number for number, key in enumerate(entries.keys) if key in keys]
        found += removed(text, entries.row, numbers)
        left -= {entries.keys[number] for number in numbers}
    if left:
        raise EditError(f"there is no entry {min(left)!r}")
    return found


def marked(text: str, marks: Sequence[str], restate: Callable[[str], str]) -> list[Splice]:
    """The language that a file says it is in, by the expressions that stand before it, as *restate* writes it."""
    for before in marks:
        found = re.compile(f"{before}({_LOCALE.pattern})").search(text)
        if found:
            start, end = found.span(found.re.groups)
            return [Splice(start, end, restate(found[found.re.groups]))]
    return []


def line_end_of(text: str) -> str:
    """How the lines of *text* end."""
    found = re.search(r"\r\n|\n|\r", text)
    return found.group() if found else "\n"


def indent_of(text: str) -> str:
    """By how much *text* indents: the first blanks at the beginning of a line."""
    found = re.search(r"(?m)^([ \t]+)\S", text)
    return found[1] if found else "  "


__all__ = ["Edits", "Entries", "Model", "NewEntry", "inserted", "line_end_of", "indent_of", "marked", "removed", "spliced", "without"]
