"""Changes to a monorepo's files, gathered before any of them is made: what each file would hold, and what is left for a person."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from typing import NamedTuple

from lemmar.basics.errors import LemmarError
from lemmar.basics.text import Decoded, Lines, decode, lines
from lemmar.documents.splicing import EditError, Splice, rewritten
from lemmar.documents.workbook import WorkbookError
from lemmar.trees import File
from lemmar.trees.overlay import OverlayTree, Walkable


class Step(NamedTuple):
    """Something that a person must do or look at: what, and where (1-based)."""

    words: str
    file: File | None = None
    line: int | None = None

    @property
    def place(self) -> str:
        """``file:line``, as far as it is known."""
        return "" if self.file is None else self.file if self.line is None else f"{self.file}:{self.line}"


class Change(NamedTuple):
    """What becomes of a file: its contents *before* (None: it is new), and *after* (None: it is gone); where it *moved* to, if it did."""

    file: File
    before: bytes | None
    after: bytes | None
    moved: File | None = None


class Changes:
    """Changes to the files of *below*, one on top of the other, and the steps that they leave."""

    def __init__(self, below: Walkable) -> None:
        self.below = below
        self.steps: list[Step] = []
        self.places = 0
        self._before: dict[File, bytes | None] = {}
        self._after: dict[File, bytes | None] = {}
        self._moves: dict[File, File] = {}

    @property
    def tree(self) -> OverlayTree:
        """The tree as it would be."""
        return OverlayTree(self.below, self._after)

    def read(self, file: File) -> bytes:
        """The file's bytes, as they would be. Raises `EditError` where there is no such file."""
        if file in self._after:
            data = self._after[file]
            if data is None:
                raise EditError("the file is gone")
            return data
        try:
            return self.below.data(file)
        except OSError as error:
            raise EditError(f"the file cannot be read: {error.strerror or error}") from error

    def is_file(self, file: File) -> bool:
        """Whether there would be such a file."""
        return self._after[file] is not None if file in self._after else self.below.is_file(file)

    def put(self, file: File, data: bytes | None) -> None:
        """Lets *file* hold *data*, or be gone."""
        if file not in self._before:
            self._before[file] = self.below.data(file) if self.below.is_file(file) else None
        self._after[file] = data

    def edit(self, file: File, splices: Iterable[Splice], decoded: Decoded | None = None) -> None:
        """Makes *splices* in the text of *file*, which is *decoded* if that is known already. Raises `EditError`."""
        found = list(splices)
        if found:
            data = self.read(file)
            self.put(file, rewritten(data, decoded or decode(data), found))
            self.places += 1

    def move(self, file: File, to: File) -> None:
        """Lets *file* lie at *to*. Raises `EditError` where something lies there."""
        if self.is_file(to):
            raise EditError(f"{to} is there already")
        data = self.read(file)
        self.put(file, None)
        self.put(to, data)
        self._moves[file] = to

    def step(self, words: str, file: File | None = None, at: int | EditError | None = None) -> None:
        """Leaves a step for a person, at a line or where an edit failed."""
        step = Step(words, file, at.line if isinstance(at, EditError) else at)
        if step not in self.steps:
            self.steps.append(step)

    @contextmanager
    def or_step(self, words: str, file: File) -> Iterator[None]:
        """Makes an edit of *file*; one that cannot be made is a step for a person: the *words* say what is to be done."""
        try:
            yield
        except (EditError, WorkbookError, LemmarError) as error:
            self.step(f"{words}: {error}", file, error if isinstance(error, EditError) else None)

    def __iter__(self) -> Iterator[Change]:
        """What becomes of each file that does not stay as it is, by name."""
        arrived = {to for file, to in self._moves.items() if self._after.get(to) is not None}
        for file in sorted(self._before):
            before, after = self._before[file], self._after[file]
            if file in arrived or before == after:
                continue
            to = self._moves.get(file)
            yield Change(file, before, self._after[to] if to is not None else after, to)

    def __bool__(self) -> bool:
        return any(True for _ in self)

    @property
    def written(self) -> Mapping[File, bytes | None]:
        """What each file that changes would hold."""
        return {file: data for file, data in self._after.items() if self._before[file] != data}

    @property
    def before(self) -> Mapping[File, bytes | None]:
        """What each of these held."""
        return {file: self._before[file] for file in self.written}

    @property
    def moves(self) -> Mapping[File, File]:
        """The files that are moved, each with where to."""
        return dict(self._moves)


def line_of(text: str, offset: int) -> int:
    """The 1-based line of the code point at *offset*."""
    return Lines(text).place(offset)[0]


#: So many lines around a change are shown.
_AROUND = 3


def difference(change: Change) -> list[str]:
    """A unified diff of a change, line by line; of contents that are no text only that they differ."""
    old = f"a/{change.file}" if change.before is not None else "/dev/null"
    new = "/dev/null" if change.after is None else f"b/{change.moved or change.file}"
    texts = [_lines(data) for data in (change.before, change.after)]
    if None in texts:
        return [f"--- {old}", f"+++ {new}", "(contents that are no text)"]
    before, after = (found or [] for found in texts)
    found = list(difflib.unified_diff(before, after, old, new, lineterm="", n=_AROUND))
    if not found:
        found = [f"--- {old}", f"+++ {new}"]
        if change.moved is not None:
            found.append("(moved as it is)")
        elif change.before is None or change.after is None:
            found.append("(without contents)")
        elif change.before != change.after:
            found.append("(no line differs: only how lines end, or the encoding)")
    return found


def _lines(data: bytes | None) -> list[str] | None:
    """The lines of a file; None where it is no text."""
    if data is None or not data:
        return []
    if data.startswith((b"PK\x03\x04", b"bplist")):
        return None
    text = decode(data).text
    found = lines(text)
    if found[-1] == "":
        found.pop()
    else:
        found[-1] += "  (no line end follows)"
    return found
