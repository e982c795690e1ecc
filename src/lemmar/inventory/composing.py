"""Composed catalogs: what the fragments of a locale give when they are put together, and what the catalog that is made of them has.

Nothing is run: the charter says in which order fragments come, below which key, and which text counts where two have one key.
"""

from __future__ import annotations

import posixpath
from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from lemmar import formats
from lemmar.basics.errors import IncompleteError
from lemmar.charter.types import ComposedEntry
from lemmar.documents.structured import suffix_of
from lemmar.formats import Column, Format, ReadOptions
from lemmar.inventory.contents import Spot
from lemmar.inventory.locales import Speller
from lemmar.inventory.readings import Readings
from lemmar.tags import LanguageTag, Tag, write_spelling
from lemmar.trees import Digest, File, Match, Tree
from lemmar.trees.patterns import rewritten_path

#: A text, or its forms.
Said = str | tuple[tuple[str, str], ...]


class Part(NamedTuple):
    """An entry of a fragment: its key in the whole, what it says, and where it stands."""

    key: str
    said: Said
    spot: Spot


class Clash(NamedTuple):
    """Two fragments that have one key with two texts."""

    first: Part
    second: Part


class Fragment(NamedTuple):
    """A file that a catalog is made of, how it is read, the pattern that it was found by, from which folder, and its part in that."""

    file: File
    form: Format
    options: ReadOptions
    pattern: str
    base: str
    part: str | None


class Composition(Struct, frozen=True):
    """A catalog that is made of fragments: its locale, its *file* (where it is *there*), how it is read and its column in it; its *fragments*; what it is to
    have, in order; and how it differs from that: keys that it *lacks*, those that no fragment has, those with another text. *where* is its table in the
    charter; *fault* says why it cannot be compared.
    """

    where: tuple[str | int, ...]
    tag: Tag
    file: File
    there: bool
    form: Format
    options: ReadOptions
    label: str | None
    fragments: tuple[Fragment, ...]
    wanted: tuple[Part, ...]
    clashes: tuple[Clash, ...]
    lacking: tuple[str, ...] = ()
    surplus: tuple[str, ...] = ()
    other: tuple[str, ...] = ()
    fault: str = ""

    @property
    def is_stale(self) -> bool:
        """Whether the catalog has not what its fragments give."""
        return not self.fault and bool(not self.there or self.lacking or self.surplus or self.other)


class Unmade(NamedTuple):
    """Why a table of the charter, or a file that it names, gives nothing to compare: in words, with its place."""

    where: tuple[str | int, ...]
    file: File | None
    words: str


class Composed(NamedTuple):
    """What the tables of a client give: its composed catalogs, what gives nothing, and sentences on what a bound of time has cut short."""

    catalogs: tuple[Composition, ...] = ()
    unmade: tuple[Unmade, ...] = ()
    unfinished: tuple[str, ...] = ()


class Composer:
    """Puts the fragments of one table together: its *entry* in the charter at *where*, patterns starting from *base*; *unmarked* is the locale of files whose
    name has none.
    """

    def __init__(
        self,
        tree: Tree,
        entry: ComposedEntry,
        base: str,
        speller: Speller,
        unmarked: Tag,
        readings: Readings,
        where: tuple[str | int, ...],
    ) -> None:
        self._tree = tree
        self._entry = entry
        self._base = base
        self._speller = speller
        self._unmarked = unmarked
        self._readings = readings
        self._where = where
        self._parts: dict[Tag, list[Part]] = {}
        self._fragments: dict[Tag, dict[File, Fragment]] = {}
        self._faults: dict[Tag, str] = {}
        self._unmade: list[Unmade] = []
        self._unfinished: list[str] = []

    def composed(self) -> Composed:
        """What each locale's fragments give, in the order of the locales' first fragments; then the catalogs that have none any more."""
        for pattern in self._entry.sources:
            matches = sorted(self._tree.files(pattern, self._base), key=lambda match: match.file)
            if not matches:
                self._tell(None, f"the pattern {pattern!r} matches no fragment")
            for match in matches:
                self._fragment(pattern, match)
        made = {tag: match.file for match in self._tree.files(self._entry.into, self._base) if (tag := self._tag(match)) is not None}
        by_label = "{locale}" not in self._entry.into
        found = []
        for tag in dict.fromkeys((*self._parts, *(made if not by_label else ()))):
            file = made.get(tag) or self._path(tag, made)
            form = formats.load(self._entry.format) if self._entry.format else formats.by_suffix(suffix_of(file)) if file else None
            if file is None or form is None:
                what = (
                    "the format of what is made is not known; say it as 'format'"
                    if file
                    else f"it is not known where the catalog of {tag!r} belongs"
                )
                self._tell(file, what)
                continue
            wanted, clashes = _together(self._parts.get(tag, ()), self._entry.clash)
            options = ReadOptions("locale-rooted" if by_label else form.layouts[0], suffix=suffix_of(file))
            made_of = tuple(self._fragments.get(tag, {}).values())
            fault = self._faults.get(tag, "")
            whole = Composition(
                self._where, tag, file, self._tree.is_file(file), form, options, None, made_of, wanted, clashes, fault=fault
            )
            found.append(self._compared(whole, by_label))
        return Composed(tuple(found), tuple(self._unmade), tuple(self._unfinished))

    def _tell(self, file: File | None, words: str) -> None:
        self._unmade.append(Unmade(self._where, file, words))

    def _tag(self, match: Match) -> Tag | None:
        return self._unmarked if match.locale is None else self._speller.tag(match.locale)

    def _read(self, file: File, form: Format, options: ReadOptions) -> tuple[Digest | None, tuple[Column, ...], str]:
        """The digest and columns of a file, and what is wrong with it, in words."""
        try:
            digest, data = self._tree.read(file)
            reading = self._readings.read(digest, data, form, options)
        except OSError as error:
            return None, (), f"{file} cannot be read: {error.strerror or error}"
        except IncompleteError as error:
            self._unfinished.append(f"{file}: {error}")
            return None, (), f"{file} was not read to its end"
        blind = next((defect for defect in reading.defects if defect.blinds in ("file", "rest")), None)
        return digest, reading.columns, f"{file}:{blind.line}: {blind.detail}" if blind is not None else ""

    def _fragment(self, pattern: str, match: Match) -> None:
        """Takes up a fragment's entries, each in its locale."""
        form = formats.load(self._entry.fragments) if self._entry.fragments else formats.by_suffix(suffix_of(match.file))
        tag, by_file = self._tag(match), "{locale}" in pattern
        if form is None:
            self._tell(match.file, "its format is not known from its name; say it as 'fragments'")
            return
        if by_file and tag is None:
            self._tell(match.file, f"{match.locale!r} is no locale, so that its texts go nowhere")
            return
        options = ReadOptions(form.layouts[0] if by_file else "locale-rooted", suffix=suffix_of(match.file))
        fragment = Fragment(match.file, form, options, pattern, self._base, match.part)
        digest, columns, fault = self._read(match.file, form, options)
        head = self._entry.under.replace("{part}", (match.part or "").replace("/", "."))
        if by_file and not columns and tag is not None:
            self._take(tag, fragment, (), fault)
        for column in columns:
            own = tag if by_file else self._speller.tag(column.label or "")
            if own is None:
                self._tell(match.file, f"{column.label!r} is no locale, so that its texts go nowhere")
                continue
            self._take(own, fragment, _parts(column, f"{head}." if head else "", Spot(match.file, digest, column.label)), fault)
        if not columns and not by_file:
            self._tell(match.file, fault or "it has no texts of any locale")

    def _take(self, tag: Tag, fragment: Fragment, parts: Iterable[Part], fault: str) -> None:
        self._fragments.setdefault(tag, {})[fragment.file] = fragment
        self._parts.setdefault(tag, []).extend(parts)
        if fault:
            self._faults.setdefault(tag, fault)

    def _path(self, tag: Tag, made: Mapping[Tag, File]) -> File | None:
        """Where the catalog of a locale belongs that is not there: named as the others are, else by its tag."""
        into, base = self._entry.into, self._base
        if "{locale}" not in into:
            return File(posixpath.normpath(posixpath.join(base, into)))
        spelling = self._speller.spelling if self._speller.spelling != "auto" else "bcp47"
        like = next(iter(made.values()), File(""))
        path = rewritten_path(into, base, like, write_spelling(LanguageTag.parse(tag), spelling), None)
        return File(path) if path is not None else None

    def _compared(self, made: Composition, by_label: bool) -> Composition:
        """The composition with what its catalog has otherwise."""
        wanted = {part.key: part.said for part in made.wanted}
        if not made.there:
            return replace(made, lacking=tuple(wanted))
        _, columns, fault = self._read(made.file, made.form, made.options)
        if fault:
            return replace(made, fault=made.fault or fault)
        column = next((each for each in columns if not by_label or self._speller.tag(each.label or "") == made.tag), None)
        held = {part.key: part.said for part in _parts(column, "", Spot(made.file))} if column is not None else {}
        return replace(
            made,
            label=column.label if column is not None else None,
            lacking=tuple(key for key in wanted if key not in held),
            surplus=tuple(key for key in held if key not in wanted),
            other=tuple(key for key, said in wanted.items() if key in held and held[key] != said),
        )


def _parts(column: Column, head: str, spot: Spot) -> Iterator[Part]:
    for index, (key, text) in enumerate(zip(column.keys, column.texts, strict=True)):
        forms = column.rare.forms.get(index)
        if forms or text is not None:
            yield Part(head + key, tuple(sorted(forms.items())) if forms else text or "", spot._replace(key=key))


def _together(parts: Iterable[Part], clash: str) -> tuple[tuple[Part, ...], tuple[Clash, ...]]:
    """What fragments give together, each key once; and where two of them disagree, if that is refused."""
    found: dict[str, Part] = {}
    clashes = []
    for part in parts:
        first = found.setdefault(part.key, part)
        if first.said != part.said:
            if clash == "refuse":
                clashes.append(Clash(first, part))
            elif clash == "last":
                found[part.key] = part
    return tuple(found.values()), tuple(clashes)
