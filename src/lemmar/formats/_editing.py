"""What the edits of all formats share: what they are asked for, and rows of entries that stand one after the other.

Every edit is a list of splices of the file's text, so that nothing else changes. None is made in a file that is not sound.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.rows import Row, inserted, removed
from lemmar.documents.splicing import EditError, Splice, spliced
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
    remove: Remove | None = None
    add: Add | None = None
    #: The forms of texts that have several, where each stands.
    forms: Callable[[str, ReadOptions], Iterable[FormPlace]] | None = None
    #: Says of entries whether their translations are done, and brings the file's own copies of their source's texts up to date.
    settle: Settle | None = None
    #: Puts texts into entries that are there and have no place for one yet.
    fill: Callable[[str, Where, Sequence[NewEntry]], list[Splice]] | None = None


class FormPlace(NamedTuple):
    """A form of a text: the label of its column, its key, which form it is, its text, and the code points that it spans."""

    label: str | None
    key: str
    form: str
    text: str
    span: tuple[int, int]


class Where(NamedTuple):
    """Which column of a text is edited, and how: its *label* (None: the file's only one), the keys of the source in their *order*, and the text of a file
    *like* it, which shows how keys nest where the text itself has none.
    """

    options: ReadOptions
    label: str | None = None
    order: Sequence[str] = ()
    like: str = ""


#: Takes entries out of a text; of a key that is there several times all but the last where *repeats* are meant.
Remove = Callable[[str, Where, Collection[str], bool], list[Splice]]
#: Puts entries into a text, each after the nearest one before it in the source's order.
Add = Callable[[str, Where, Sequence[NewEntry]], list[Splice]]


class Settled(NamedTuple):
    """How an entry is to be marked: its key, the *source*'s text of today (None: its copy stays), and whether its translation is *done*, or needs work."""

    key: str
    source: str | None
    done: bool


#: Marks entries.
Settle = Callable[[str, Where, Sequence[Settled]], list[Splice]]


class Entries(NamedTuple):
    """A row of entries, and the key of each."""

    row: Row
    keys: tuple[str, ...]


#: The rows of entries of a text.
Rows = Callable[[str, ReadOptions], Sequence[Entries]]
#: A new entry as it is written, by the example of one that stands in the text (empty: there is none), which is the whole of it.
Write = Callable[[NewEntry, str, str], str]


def in_rows(rows: Rows, write: Write, frame: Callable[[str, Sequence[str]], list[Splice]]) -> tuple[Remove, Add]:
    """The edits of a format whose entries stand one after the other; *frame* puts the first ones into a text that has none."""

    def remove(text: str, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
        found: list[Splice] = []
        left = set(keys)
        for entries in rows(text, where.options):
            last = {key: number for number, key in enumerate(entries.keys)}
            numbers = [number for number, key in enumerate(entries.keys) if key in keys and not (repeats and number == last[key])]
            found += removed(text, entries.row, numbers)
            left -= {entries.keys[number] for number in numbers}
        if left:
            raise EditError(f"there is no entry {min(left)!r} that could be taken out")
        return found

    def add(text: str, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
        every = [entries for entries in rows(text, where.options) if entries.row.items]
        if not every:
            return frame(text, [write(new, text, "") for new in news])
        entries = every[0]
        example = text[slice(*entries.row.items[0])]
        found: list[Splice] = []
        for after, those in after_each(entries.keys, [new.key for new in news], where.order).items():
            pieces = [write(new, text, example) for new in news if new.key in those]
            found += inserted(text, entries.row, pieces, after)
        return found

    return remove, add


def after_each(there: Sequence[str], news: Sequence[str], order: Sequence[str]) -> dict[int, list[str]]:
    """For each place the new keys that belong there: the number of the nearest key before them in the source's *order* that is *there*; -1 where none is, the
    last where the order says nothing of them.
    """
    places = {key: number for number, key in enumerate(there)}
    known = {key: number for number, key in enumerate(order)}
    found: dict[int, list[str]] = {}
    for new in news:
        after = len(there) - 1
        if new in known:
            after = next((places[order[at]] for at in range(known[new] - 1, -1, -1) if order[at] in places), -1)
        found.setdefault(after, []).append(new)
    return found


def with_comments(text: str, spans: Sequence[tuple[int, int]], comment: re.Pattern[str]) -> tuple[tuple[int, int], ...]:
    """The *spans* of entries, each with the comments that stand directly above it, without an empty line between; what stands at the head of the file is
    the file's own.
    """
    found, before = [], 0
    for number, (start, end) in enumerate(spans):
        line = max(text.rfind("\n", 0, start), text.rfind("\r", 0, start)) + 1
        above = comment.search(text, before, line) if not text[line:start].strip() else None
        is_own = above is not None and (number > 0 or bool(text[: above.start()].strip()))
        found.append((above.start() + len(above.group()) - len(above.group().lstrip()) if above is not None and is_own else start, end))
        before = end
    return tuple(found)


def at_the_end(text: str, pieces: Sequence[str]) -> list[Splice]:
    """*pieces*, a line each, at the end of a text without entries."""
    end = line_end_of(text)
    start = end if text and not text.endswith(("\n", "\r")) else ""
    return [Splice(len(text), len(text), start + "".join(piece + end for piece in pieces))]


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


__all__ = [
    "Add",
    "Edits",
    "Entries",
    "FormPlace",
    "Model",
    "NewEntry",
    "Remove",
    "Settled",
    "Where",
    "after_each",
    "at_the_end",
    "in_rows",
    "indent_of",
    "line_end_of",
    "marked",
    "spliced",
    "with_comments",
]
