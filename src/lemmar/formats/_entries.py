"""Entries as they stand in a file, gathered into columns; and what a careful reading of a file is given and tells."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from functools import cached_property
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar.basics.text import Decoded, Lines, decode, decode_fault, text_encoding, wide
from lemmar.documents.merges import Merge
from lemmar.formats._reading import NOTHING, Blinds, Column, Defect, DefectKind, Keys, Rare, Reading, ReadOptions


class Entry(NamedTuple):
    """An entry as it stands in its file; offsets count code points.

    *key_at* spans its key, *inside* its text (None where no text can be put), *whole* all of it. *place* is where a reader is sent: None where
    nobody knows. In files that are no text, *at* is that place as a line and column. *nth* counts columns of one label. *rare* is what few
    entries have, by the fields of `Rare`.
    """

    key: str
    text: str | None
    place: int | None = None
    key_at: tuple[int, int] = (0, 0)
    inside: tuple[int, int] | None = None
    whole: tuple[int, int] = (0, 0)
    label: str | None = None
    part: str | None = None
    rare: Mapping[str, Any] = NOTHING
    at: tuple[int, int] | None = None
    nth: int = 0


def entry_of_forms(key: str, forms: Mapping[str, str | None], **rare: Any) -> Entry:
    """An entry of several forms (plural categories, items of a list); its text is the form for *other*, else the last."""
    whole = {name: text for name, text in forms.items() if text is not None}
    text = whole.get("other", next(reversed(whole.values())) if whole else None)
    return Entry(key, text, rare={"forms": whole, **rare})


class Gathering:
    """Gathers the entries of one column in file order. A repeated key keeps its first place and takes the later text."""

    def __init__(self) -> None:
        self.index: dict[str, int] = {}
        self.texts: list[str | None] = []
        self.rare: dict[str, dict[int, Any]] = {}

    def add(self, key: str, text: str | None, rare: Mapping[str, Any] = NOTHING) -> int:
        """Adds an entry; gives its index."""
        index = self.index.setdefault(key, len(self.texts))
        if index == len(self.texts):
            self.texts.append(text)
        else:
            self.texts[index] = text
        for kind, value in rare.items():
            if value:
                self.rare.setdefault(kind, {})[index] = value
        return index

    def value(self, key: str) -> object:
        """What is held for *key*, to be compared with what is found for it again."""
        index = self.index[key]
        return self.rare.get("forms", {}).get(index, self.texts[index])

    def column(self, label: str | None = None, part: str | None = None, **facts: Any) -> Column:
        """The column gathered so far."""
        return Column(label, Keys(self.index), tuple(self.texts), Rare(**self.rare), part=part, **facts)


#: Of each kind of defect a file tells these many, and how many there are.
MAX_DEFECTS = 5_000

#: A column's label and part, and which of those with the same label it is.
_ColumnName = tuple[str | None, str | None, int]


class Walk:
    """One careful reading of a file: its bytes and how they are to be read, and where its format's iterator tells what is wrong.

    *mark* and *header* are set by the iterator, as for `Column`; so is *tells_repeats*, where it tells keys that are there twice itself, and
    *forwards*, as for `Reading`.
    """

    def __init__(self, data: bytes, options: ReadOptions, encoding: str | None, mark_harms: str = "", takes_wide: str = "any") -> None:
        self.data = data
        self.options = options
        self.mark: str | None = None
        self.header: str | None = None
        self.forwards: str | None = None
        self.tells_repeats = False
        self._encoding = encoding
        self._mark_harms = mark_harms
        self._takes_wide = takes_wide
        self._defects: list[Defect] = []
        self._number: dict[DefectKind, int] = {}
        self._blinding: set[DefectKind] = set()
        self._faults: list[tuple[int, int, str]] = []
        self._columns: dict[_ColumnName, Gathering] = {}
        self._labels: dict[_ColumnName, tuple[int, int]] = {}
        self._marks: dict[_ColumnName, str] = {}
        self._first: dict[tuple[_ColumnName, str], tuple[int, int]] = {}

    @cached_property
    def decoded(self) -> Decoded:
        """The file as text; what is wrong with its encoding is reported when it is first asked for."""
        large = wide(self.data)
        named = self.options.encoding or self._encoding
        if named and text_encoding(named) is None and named.lower() != "charset":  # which a template's header says
            words = f"the file says that it is in {named!r}, which is no encoding of texts; save it as UTF-8 and say so"
            self._tell(Defect("encoding", 1, 1, words))
        elif named and not self.options.encoding and large is None and (text_encoding(named) or "").startswith(("utf-16", "utf-32")):
            words = f"the file says that it is in {named!r}, which it is not; save it as UTF-8 and say so"
            self._tell(Defect("encoding", 1, 1, words))
            named = None
        found = decode(self.data, self.options.encoding or large or named)
        if found.fault is not None:
            line, column = decode_fault(self.data, found)
            byte = self.data[found.fault]
            self._tell(Defect("encoding", line, column, f"the byte 0x{byte:02X} is no {found.encoding.upper()}", "key"))
        if large is not None and not self.options.encoding and self._takes_wide != "any" and not (found.mark and self._takes_wide):
            with_mark = "" if found.mark else " without a byte-order mark"
            words = f"the file is {_named(large)}{with_mark}; this format wants UTF-8 without a byte-order mark"
            self._tell(Defect("encoding", 1, 1, words))
        elif self._mark_harms and found.mark and large is None:
            self._tell(Defect("encoding", 1, 1, f"the file begins with a byte-order mark, {self._mark_harms}"))
        declared = self.options.encoding
        if declared and found.mark and not _same_encoding(declared, found.encoding):
            words = f"the file is {found.encoding.upper()}, the charter says {declared.upper()}"
            self._tell(Defect("encoding", 1, 1, words))
        return found

    @property
    def text(self) -> str:
        """The file's text."""
        return self.decoded.text

    @cached_property
    def lines(self) -> Lines:
        """The lines of the text."""
        return Lines(self.text)

    @property
    def is_sound(self) -> bool:
        """Whether nothing has been reported yet."""
        return not self._defects and not self._faults

    # ------------------------------------------------------------------------------------------------ what an iterator tells

    def fault(self, offset: int, words: str) -> None:
        """Tells what is wrong at the code point *offset*. Of all faults the first is reported, and how many there are."""
        self._faults.append((*self.lines.place(offset), words))

    def fault_at(self, line: int, column: int, words: str) -> None:
        """The same at a 1-based line and column."""
        self._faults.append((line, column, words))

    def defect(self, kind: DefectKind, offset: int, words: str, blinds: Blinds = "none", key: str | None = None) -> None:
        """Tells a defect of its own at the code point *offset*."""
        self._tell(Defect(kind, *self.lines.place(offset), words, blinds, None, key))

    def defect_at(self, kind: DefectKind, line: int, column: int, words: str, blinds: Blinds = "none", key: str | None = None) -> None:
        """The same at a 1-based line and column."""
        self._tell(Defect(kind, line, column, words, blinds, None, key))

    def nothing(self, words: str, offset: int = 0) -> None:
        """Tells that the file holds no message, unless something else has been reported."""
        if self.is_sound:
            self._tell(Defect("unreadable", *(self.lines.place(offset) if offset else (1, 1)), words, "file"))

    def _tell(self, defect: Defect) -> None:
        number = self._number[defect.kind] = self._number.get(defect.kind, 0) + 1
        if number <= MAX_DEFECTS:
            self._defects.append(defect)
        elif defect.blinds != "none":
            self._blinding.add(defect.kind)

    def again(self, key: str, first_line: int, place: tuple[int, int], same: bool, label: str | None = None) -> None:
        """Tells a key that is there twice in one catalog."""
        how = "with the same text" if same else "with another text"
        words = f"the key {key!r} is already on line {first_line}, {how}"
        self._tell(Defect("duplicate-key", *place, words, "none", label, key))

    def column(
        self,
        label: str | None = None,
        part: str | None = None,
        at: tuple[int, int] | None = None,
        mark: str | None = None,
        nth: int = 0,
    ) -> Gathering:
        """The column *label* of *part*, which is there from now on even without an entry. *at* is where the label stands, *mark* the language
        that it says it is in, where the whole file does not.
        """
        name = (label, part, nth)
        if at is not None:
            self._labels.setdefault(name, at)
        if mark is not None:
            self._marks[name] = mark
        return self._columns.setdefault(name, Gathering())

    # ------------------------------------------------------------------------------------------------ what comes of it

    def take(self, entry: Entry) -> None:
        """Takes up an entry; tells it where its key is there already."""
        column = self.column(entry.label, entry.part, nth=entry.nth)
        if not self.tells_repeats:
            name = ((entry.label, entry.part, entry.nth), entry.key)
            place = self.place_of(entry) or (1, 1)
            if entry.key in column.index:
                same = column.value(entry.key) == (entry.rare.get("forms") or entry.text)
                self.again(entry.key, self._first[name][0], place, same, entry.label)
            else:
                self._first[name] = place
        column.add(entry.key, entry.text, entry.rare)

    def place_of(self, entry: Entry) -> tuple[int, int] | None:
        """1-based line and column of the entry, None where nobody knows."""
        if entry.at is not None:
            return entry.at
        return self.lines.place(entry.place) if entry.place is not None else None

    def reading(self) -> Reading:
        """All that was taken up and reported."""
        some = any(column.index for column in self._columns.values())
        blinds: Blinds = "rest" if some else "file"
        if self._faults:
            line, column, words = self._faults[0]
            more = f" ({len(self._faults) - 1} more after it)" if len(self._faults) > 1 else ""
            self._defects.append(Defect("damaged" if some else "unreadable", line, column, words + more, blinds))
        for kind, number in self._number.items():
            if number > MAX_DEFECTS:
                last = max(index for index, defect in enumerate(self._defects) if defect.kind == kind)
                words = f"{self._defects[last].detail} ({number - MAX_DEFECTS} more after it)"
                self._defects[last] = self._defects[last]._replace(detail=words)
                if kind in self._blinding:
                    self._defects[last] = self._defects[last]._replace(blinds="rest")
        columns = [
            gathered.column(*name[:2], mark=self._marks.get(name, self.mark), header=self.header, at=self._labels.get(name))
            for name, gathered in self._columns.items()
        ]
        return Reading(tuple(columns), in_order(self._defects), self.forwards)


def joined(merge: Merge, ours: Reading, theirs: Reading) -> Reading:
    """What both sides of an unfinished merge hold, the texts of the first before those of the second."""
    more = {(column.label, column.part): column for column in theirs.columns}
    columns = [_with(column, more.pop((column.label, column.part), None)) for column in ours.columns]
    many = f" ({merge.number - 1} more after it)" if merge.number > 1 else ""
    words = f"an unfinished merge begins here{many}"
    return Reading((*columns, *more.values()), (Defect("conflict", merge.line, 1, words),))


def _with(column: Column, other: Column | None) -> Column:
    """*column* with the entries of the *other* that it has not."""
    added = [index for index, key in enumerate(other.keys) if key not in column.key_set] if other is not None else []
    if other is None or not added:
        return column
    places = {index: len(column.keys) + place for place, index in enumerate(added)}
    rare = {
        kind: {
            **getattr(column.rare, kind),
            **{places[index]: value for index, value in getattr(other.rare, kind).items() if index in places},
        }
        for kind in Rare.__struct_fields__
    }
    keys = Keys([*column.keys, *(other.keys[index] for index in added)])
    return replace(column, keys=keys, texts=(*column.texts, *(other.texts[index] for index in added)), rare=Rare(**rare))


def _named(encoding: str) -> str:
    """``UTF-16 LE`` for ``utf-16-le``."""
    return encoding.upper().replace("-LE", " LE").replace("-BE", " BE")


def _same_encoding(declared: str, found: str) -> bool:
    plain = declared.lower().replace("_", "-").replace("utf8", "utf-8").replace("utf16", "utf-16")
    return found == plain or (plain in ("utf-16", "utf-8-sig") and found.startswith(plain[:5]))


def in_order(defects: Iterable[Defect]) -> tuple[Defect, ...]:
    """The defects in the order of their places."""
    return tuple(sorted(defects, key=lambda defect: (defect.line, defect.column, defect.kind)))
