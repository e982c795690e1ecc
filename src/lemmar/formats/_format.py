"""What a catalog format is: all facts of it, and the two ways to read a file.

Every format gives one careful iterator of entries with their places. It is used for files that are not sound, for places, and wherever there is
no quick reader. What is done with entries — columns, keys that are there twice, places — is the same for all.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from typing import Literal

from msgspec import Struct

from lemmar.basics.text import Bytes, decode, text_encoding, wide
from lemmar.documents.merges import unfinished
from lemmar.documents.splicing import EditError, Splice, rewritten
from lemmar.formats._editing import Edits, FormPlace, NewEntry, Settled, Where
from lemmar.formats._encoding import Encode, Escape, Hole
from lemmar.formats._entries import Entry, Walk, joined
from lemmar.formats._reading import Reading, ReadOptions, Site
from lemmar.formats._spotting import MOST, EntryFinder, SpanFinder, spotted, standing

#: What keeps a file from being edited.
_DAMAGE = ("unreadable", "damaged", "conflict", "key-clash")
_MARKED = (b"\xef", b"\xfe", b"\xff", b"\0")


def _is_utf8(data: bytes) -> bool:
    try:
        return bool(data.decode("utf-8"))
    except UnicodeDecodeError:
        return False


#: How an entry is asked for: the label of its column, its key.
Name = tuple[str | None, str]


class Reads(Struct, frozen=True, kw_only=True):
    """How a file is read. *entries* goes over its entries in order; *quick* reads a sound file in less time, None where it is not sure to see all."""

    entries: Callable[[Walk], Iterable[Entry]]
    quick: Callable[[bytes, ReadOptions], Reading | None] | None = None
    #: What a file shows of its encoding, None for UTF-8.
    encoding: Callable[[bytes], str | None] = lambda _data: None
    #: What a byte-order mark does to the format's usual readers, if it does harm.
    mark_harms: str = ""
    #: UTF-16 is read as well: ``marked`` where it begins with its mark, or ``any``.
    takes_wide: Literal["", "marked", "any"] = ""
    #: What the line begins with that says how plural forms are numbered.
    plural_header: bytes | None = None


class Finds(Struct, frozen=True, kw_only=True):
    """How entries are found again in a file that *quick* has read, where the careful way need not be gone."""

    #: Where one key stands.
    spot: SpanFinder | None = None
    #: Where all entries of a plain file stand, for formats whose keys are no single words.
    stands: EntryFinder | None = None


class Writes(Struct, frozen=True, kw_only=True):
    """How a file is edited. *encode* says how a text is written where one stands, *escape* how a character that the file's encoding lacks."""

    encode: Encode
    escape: Escape | None = None
    #: How files are edited besides the texts in them.
    edits: Edits | None = None
    #: What stands before the name of the language that a file is marked with: expressions, the most telling first.
    marks: tuple[str, ...] = ()


class Habits(Struct, frozen=True, kw_only=True):
    """What the format's programs make of its entries."""

    #: Keys are branches and texts inside one another: a key cannot be both.
    nests: bool = False
    #: The format itself knows plural forms, so that keys never spell them.
    own_plurals: bool = False
    #: It names them by their categories.
    names_forms: bool = False
    #: Files carry the source's texts beside the translations, so that the source needs no file.
    carries_source: bool = False
    #: The keys are the source's texts.
    keys_are_texts: bool = False
    #: A file is one message, whose key its name is.
    is_whole: bool = False
    #: A line's end behind a text comes of how the file is written.
    ends_lines: bool = False
    #: The only message syntax that the format's runtime knows.
    syntax: str | None = None


class Hints(Struct, frozen=True, kw_only=True):
    """How the survey tells such files, and whose they are. *likely* says whether a file's contents look so."""

    likely: Callable[[bytes], bool]
    #: The kind of client that usually has such files.
    kind: str = "web"
    #: The preset of the platform that such files belong to, where their pattern holds *platform_sign*.
    platform: str | None = None
    platform_sign: str = ""
    #: Suffixes of files that are never catalogs.
    never_catalogs: tuple[str, ...] = ()
    #: Suffixes that count only in folders where catalogs live.
    only_at_home: tuple[str, ...] = ()
    #: Suffixes of files that are mostly something else, so that their contents must look so too.
    often_else: tuple[str, ...] = ()
    #: The format whose contents files with these suffixes have.
    contents_of: str = ""
    #: Names of files that gather the catalogs beside them and are none themselves.
    gathered_by: frozenset[str] = frozenset()


class Format(Struct, frozen=True, kw_only=True):
    """A catalog format: all facts of it, by who asks for them. A format leaves out the groups that it does not need."""

    name: str
    suffixes: tuple[str, ...]
    layouts: tuple[str, ...] = ("by-file",)
    reads: Reads
    writes: Writes
    hints: Hints
    finds: Finds = Finds()
    habits: Habits = Habits()

    @property
    def manual(self) -> str:
        """The source that defines the format, and what is read of it: its module's own text."""
        return (sys.modules[self.reads.entries.__module__].__doc__ or "").strip()

    @property
    def catalog_suffixes(self) -> tuple[str, ...]:
        """The suffixes of files that may be catalogs."""
        return tuple(suffix for suffix in self.suffixes if suffix not in self.hints.never_catalogs)

    def read(self, data: bytes, options: ReadOptions) -> Reading:
        """The columns of *data*, a repeated key once with its last text, and every defect. Raises only `IncompleteError`, where code takes too long.

        Of a merge that is not finished both sides are read, and what its marks break is no defect.
        """
        merge = unfinished(data)
        if merge is not None:
            return joined(merge, *(self._read(side, options) for side in (merge.ours, merge.theirs)))
        return self._read(data, options)

    def _read(self, data: bytes, options: ReadOptions) -> Reading:
        known = (named := options.encoding or self.reads.encoding(data)) is None or text_encoding(named) is not None
        found = self.reads.quick(data, options) if self.reads.quick is not None and known and wide(data) is None else None
        return self.read_carefully(data, options) if found is None else found

    def read_carefully(self, data: bytes, options: ReadOptions) -> Reading:
        """The same by the careful way alone, which `quick` must agree with."""
        walk = self._walk(data, options)
        for entry in self.reads.entries(walk):
            walk.take(entry)
        return walk.reading()

    def every_entry(self, data: bytes, options: ReadOptions) -> Iterator[tuple[Entry, int]]:
        """Each entry as it stands, repeated ones each time, with its 1-based line."""
        walk = self._walk(data, options)
        for entry in self.reads.entries(walk):
            yield entry, (walk.place_of(entry) or (1, 1))[0]

    def locate(self, data: bytes, options: ReadOptions, wanted: Iterable[Name]) -> dict[Name, Site]:
        """The site of each wanted (label, key) that is there; of a repeated key that of its last entry, whose text counts."""
        merge = unfinished(data)
        if merge is not None:
            names = set(wanted)
            return self._locate(merge.theirs, options, names) | self._locate(merge.ours, options, names)
        return self._locate(data, options, wanted)

    def _locate(self, data: bytes, options: ReadOptions, wanted: Iterable[Name]) -> dict[Name, Site]:
        names = set(wanted)
        quick = self._spotted(data, options, names)
        return quick if quick is not None else self.locate_carefully(data, options, names)

    def _spotted(self, data: bytes, options: ReadOptions, names: set[Name]) -> dict[Name, Site] | None:
        """The sites in a sound file of one locale, found without reading all of it again; None where that is not sure."""
        if self.finds.stands is not None and options.layout == "by-file" and not options.encoding and wide(data) is None:
            every = self.finds.stands(data, options) if data[:1] not in _MARKED and _is_utf8(data) else None
            if every is None:
                return None
            asked = {key for label, key in names if label is None}
            return {(None, key): site for key, site in standing(decode(data), every, asked).items()}
        if (
            self.finds.spot is None
            or options.layout != "by-file"
            or options.encoding
            or len(names) * len(data) > MOST
            or data[:1] in _MARKED
        ):
            return None
        reading = self.reads.quick(data, options) if self.reads.quick is not None and wide(data) is None and _is_utf8(data) else None
        if reading is None or reading.defects or len(reading.columns) != 1:
            return None
        held, label = reading.columns[0].key_set, reading.columns[0].label
        there = spotted(data, [key for column, key in names if column == label and key in held], self.finds.spot)
        return {(label, key): site for key, site in there.items()} if there is not None else None

    def locate_carefully(self, data: bytes, options: ReadOptions, names: set[Name]) -> dict[Name, Site]:
        """The same by the careful way alone."""
        walk = self._walk(data, options)
        offsets: Bytes | None = None
        found: dict[Name, Site] = {}
        for entry in self.reads.entries(walk) if names else ():
            name = (entry.label, entry.key)
            place = walk.place_of(entry) if name in names and not entry.nth else None
            if place is None:
                continue
            if entry.at is not None:
                found[name] = Site(*place, (0, 0), None, (0, 0))
                continue
            offsets = offsets or Bytes(walk.decoded)
            inside = offsets.span(*entry.inside) if entry.inside is not None else None
            found[name] = Site(*place, offsets.span(*entry.key_at), inside, offsets.span(*entry.whole))
        return found

    def replaced(self, data: bytes, options: ReadOptions, texts: Mapping[Name, str]) -> bytes:
        """*data* with *texts* in the place of those that are there, and nothing else changed.

        Raises:
            ValueError: a text has no place in the file, or the format or its encoding cannot hold it.
        """
        walk, out, position = self._walk(data, options), [], 0
        found = self.locate(data, options, texts)
        places = sorted((span, name) for name in texts for span in [found[name].text if name in found else None] if span is not None)
        if len(places) < len(texts):
            lost = next(name for name in texts if name not in {name for _, name in places})
            raise ValueError(f"there is no text of {lost[1]!r} that can be replaced")
        for (start, end), name in places:
            before = data[start:end].decode(walk.decoded.encoding, "replace")
            at = len(data[walk.decoded.mark : start].decode(walk.decoded.encoding, "replace"))
            written = self.writes.encode(texts[name], Hole(before, walk.text, at, walk.decoded.encoding, options))
            out += [data[position:start], self._encoded(written, walk.decoded.encoding)]
            position = end
        return b"".join([*out, data[position:]])

    def removed(self, data: bytes, where: Where, keys: Collection[str], repeats: bool = False) -> bytes:
        """*data* without the entries of *keys*, with what belongs to each; of one that is there several times, where *repeats* are meant, all but its last.

        Raises:
            EditError: one is not there, the file is damaged, or the format is not edited so.
        """
        if self.writes.edits is None or self.writes.edits.remove is None:
            raise EditError(f"entries of {self.name} files are not taken out")
        remove = self.writes.edits.remove
        return self._edited(data, where.options, lambda text: remove(text, where, keys, repeats))

    def added(self, data: bytes, where: Where, news: Sequence[NewEntry]) -> bytes:
        """*data* with new entries, each after the nearest before it in the source's order that is there; those that are there already get their texts.

        Raises:
            EditError: the file is damaged, or the format is not edited so, or cannot hold a text.
        """
        there = {key for column in self.read(data, where.options).columns if column.label == where.label for key in column.keys}
        old = [new for new in news if new.key in there]
        if old:
            data = self.with_entries(data, where, old)
        left = [new for new in news if new.key not in there]
        if not left:
            return data
        if self.writes.edits is None or self.writes.edits.add is None:
            raise EditError(f"entries of {self.name} files are not added")
        add = self.writes.edits.add
        return self._edited(data, where.options, lambda text: add(text, where, left))

    def with_texts(self, data: bytes, where: Where, texts: Mapping[str, str]) -> bytes:
        """*data* with *texts* for keys that are there, also where none stands yet. Raises `EditError`."""
        return self.with_entries(data, where, [NewEntry(key, text) for key, text in texts.items()])

    def with_entries(self, data: bytes, where: Where, news: Sequence[NewEntry]) -> bytes:
        """The same with whole entries, which may have several forms where none stands yet. Raises `EditError`."""
        found = self.locate(data, where.options, [(where.label, new.key) for new in news])
        placed = {new.key: new.text for new in news if (where.label, new.key) in found and found[where.label, new.key].text is not None}
        try:
            data = self.replaced(data, where.options, {(where.label, key): text for key, text in placed.items()}) if placed else data
        except ValueError as error:
            raise EditError(str(error)) from error
        left = [new for new in news if new.key not in placed]
        if left:
            if self.writes.edits is None or self.writes.edits.fill is None:
                raise EditError(f"there is no place for the text of {left[0].key!r}")
            fill = self.writes.edits.fill
            data = self._edited(data, where.options, lambda text: fill(text, where, left))
        return data

    def settled(self, data: bytes, where: Where, marks: Sequence[Settled]) -> bytes:
        """*data* with entries marked as done or as needing work, and their copies of the source's text as it is today, where the format has such.

        Raises:
            EditError: the file is damaged.
        """
        if self.writes.edits is None or self.writes.edits.settle is None or not marks:
            return data
        settle = self.writes.edits.settle
        return self._edited(data, where.options, lambda text: settle(text, where, marks))

    def form_places(self, data: bytes, options: ReadOptions) -> list[FormPlace]:
        """Where each form of a text that has several stands; none in a format that does not edit them."""
        if self.writes.edits is None or self.writes.edits.forms is None:
            return []
        return list(self.writes.edits.forms(decode(data, options.encoding or wide(data) or self.reads.encoding(data)).text, options))

    def with_forms(self, data: bytes, options: ReadOptions, change: Callable[[FormPlace], str | None]) -> bytes:
        """*data* in which each form of a text that has several is as *change* gives it; None leaves it. Raises `EditError`."""
        forms = self.writes.edits.forms if self.writes.edits is not None else None

        def edit(text: str) -> list[Splice]:
            found = []
            for place in forms(text, options) if forms is not None else ():
                words = change(place)
                if words is not None:
                    hole = Hole(text[slice(*place.span)], text, place.span[0], encoding, options)
                    found.append(Splice(*place.span, self.writes.encode(words, hole)))
            return found

        encoding = decode(data, options.encoding or wide(data) or self.reads.encoding(data)).encoding
        return self._edited(data, options, edit) if forms is not None else data

    def retexted(self, data: bytes, options: ReadOptions, change: Callable[[str | None, str, str], str | None]) -> bytes:
        """*data* in which each text is as *change* gives it for its label, key and text, forms among them; None leaves it. Raises `EditError`."""
        walk = self._walk(data, options)
        single = [
            entry
            for entry in self.reads.entries(walk)
            if entry.text is not None and not entry.rare.get("forms") and not entry.rare.get("fixed")
        ]
        texts = {
            (entry.label, entry.key): words for entry in single if (words := change(entry.label, entry.key, entry.text or "")) is not None
        }
        try:
            made = self.replaced(data, options, texts)
        except ValueError as error:
            raise EditError(str(error)) from error
        return self.with_forms(made, options, lambda place: change(place.label, place.key, place.text))

    def check_sound(self, data: bytes, options: ReadOptions) -> None:
        """Refuses a file of which something cannot be read: an edit could make it worse. Raises `EditError` with the place."""
        for defect in self.read(data, options).defects:
            if defect.kind in _DAMAGE or (defect.kind == "encoding" and defect.blinds != "none"):
                raise EditError(f"the file is damaged: {defect.detail}", defect.line, defect.column)

    def _edited(self, data: bytes, options: ReadOptions, edit: Callable[[str], list[Splice]]) -> bytes:
        self.check_sound(data, options)
        decoded = decode(data, options.encoding or wide(data) or self.reads.encoding(data))
        try:
            return rewritten(data, decoded, edit(decoded.text), self.writes.escape)
        except EditError:
            raise
        except ValueError as error:
            raise EditError(str(error)) from error

    def _encoded(self, text: str, encoding: str) -> bytes:
        """Raises `ValueError` for a character that the encoding lacks and for which the format has no escape."""
        if self.writes.escape is None:
            return text.encode(encoding)
        pieces = (piece.encode(encoding, "ignore") or piece for piece in text)
        return b"".join(piece if isinstance(piece, bytes) else self.writes.escape(piece).encode(encoding) for piece in pieces)

    def locate_mark(self, data: bytes, mark: str) -> tuple[int, int] | None:
        """1-based line and column of the first place where *data* names *mark* as its language: as the format does, else a key at the top."""
        walk = self._walk(data, ReadOptions())
        for before in (*self.writes.marks, r"(?m)^[ \t{]*[\"']?"):
            found = re.search(f"{before}(?=({re.escape(mark)}))", walk.text)
            if found:
                return walk.lines.place(found.end())
        return None

    def _walk(self, data: bytes, options: ReadOptions) -> Walk:
        return Walk(data, options, self.reads.encoding(data), self.reads.mark_harms, self.reads.takes_wide)
