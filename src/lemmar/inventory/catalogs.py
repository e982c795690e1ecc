"""Finds and reads the files of one catalog of the charter."""

from __future__ import annotations

from array import array
from collections.abc import Iterable, Mapping
from fnmatch import fnmatchcase
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar import formats
from lemmar.basics.errors import IncompleteError
from lemmar.charter.types import CatalogEntry
from lemmar.documents.pointers import POINTS, is_pointer
from lemmar.documents.structured import suffix_of
from lemmar.formats import NOTHING, Column, Defect, Format, Keys, Reading, ReadOptions
from lemmar.inventory import plurals
from lemmar.inventory.contents import Catalog, FileFault, Named, Pattern
from lemmar.inventory.forwarding import followed
from lemmar.inventory.locales import Speller
from lemmar.inventory.message_names import message_names
from lemmar.inventory.plurals import named_by_header
from lemmar.inventory.readings import Readings
from lemmar.inventory.shapes import Shapes
from lemmar.inventory.sources import Read, agreed, with_sources
from lemmar.selectors import Value
from lemmar.syntax import SeenSyntax, Syntax, doubled, own, seen_syntax
from lemmar.syntax import load as load_syntax
from lemmar.tags import LanguageTag, Tag, android_variant, same_locale
from lemmar.trees import Digest, File, Match, Tree
from lemmar.trees.patterns import matcher


class Found(NamedTuple):
    """What one catalog of the charter holds. *names* are the locales of its files or columns as written, each with its place; *unfinished* are
    sentences on what a bound of time has cut short.
    """

    pattern: Pattern
    catalogs: tuple[Catalog, ...]
    faults: tuple[FileFault, ...]
    names: tuple[tuple[File, Named], ...]
    unfinished: tuple[str, ...] = ()


def options_of(entry: CatalogEntry, file: str, names: Mapping[str, str] = NOTHING) -> ReadOptions:
    """How the charter says that *file* of the catalog is to be read; *names* are those of numbered messages."""
    columns: dict[str, Any] = {}
    if entry.columns is not None:
        found = entry.columns
        columns = {"key": found.key, "description": found.description, "limit": found.limit, "ignore": found.ignore}
    fields: dict[str, str | None] = {}
    if entry.fields is not None:
        fields = {"list": entry.fields.list, "key": entry.fields.key, "text": entry.fields.text, "locale": entry.fields.locale}
    return ReadOptions(
        layout_of(entry),
        entry.encoding,
        {name: value for name, value in columns.items() if value},
        suffix_of(file),
        {name: value for name, value in fields.items() if value},
        names,
    )


def layout_of(entry: CatalogEntry) -> str:
    """The catalog's layout: the charter's, else the first that its format has."""
    if entry.layout:
        return entry.layout
    if entry.fields is not None:
        return "records"
    form = formats.load(entry.format) if entry.format else formats.by_suffix(suffix_of(entry.files))
    return form.layouts[0] if form is not None else "by-file"


def gathers_catalogs(match: Match, form: str | None = None) -> bool:
    """Whether a module such as ``index.ts`` lies among catalogs in code: what gathers them is none itself. *form* is their format, where it is known."""
    return any(
        match.locale in each.hints.gathered_by for each in ((formats.load(form),) if form else formats.of_suffix(suffix_of(match.file)))
    )


def one_each(matches: Iterable[Match], speller: Speller) -> list[Match]:
    """One match a file: its first reading of which the locale is surely one, else its first of which it is one, else its first."""
    best: dict[File, tuple[int, Match]] = {}
    for match in matches:
        rank = _sureness(match.locale, speller)
        if match.file not in best or rank > best[match.file][0]:
            best[match.file] = (rank, match)
    return [match for _, match in best.values()]


def _sureness(text: str | None, speller: Speller) -> int:
    """How sure a text is a locale: 3 where it is valid and its language has two letters, as most have; 0 where it is none."""
    tag = speller.tag(text) if text is not None else None
    parsed = LanguageTag.parse(tag) if tag is not None else None
    if parsed is None:
        return 3 if text is None else 0
    return (3 if len(parsed.language) == 2 else 2) if parsed.valid else 1


#: A source with so many texts that its format's compiler refuses is not compiled by that one: other runtimes read such files too.
_UNCOMPILED = 3


class CatalogReader:
    """Reads the files of a catalog; *base* is the folder its pattern starts from, *unmarked* the locale of files whose name has none, *keys*
    the key tuples of the audit so far, *own_syntaxes* the charter's own expressions for placeholders, *readings* what has been read already.
    """

    def __init__(
        self,
        tree: Tree,
        entry: CatalogEntry,
        base: str,
        speller: Speller,
        unmarked: Tag,
        keys: dict[Keys, Keys],
        own_syntaxes: Mapping[str, str] = NOTHING,
        readings: Readings | None = None,
    ) -> None:
        self.tree = tree
        self.keys = keys
        self.entry = entry
        self.base = base
        self.speller = speller
        self.unmarked = Tag(entry.unmarked) if entry.unmarked else unmarked
        self.written_in = LanguageTag.parse(unmarked)
        self.matches: list[Match] = []
        self.known: frozenset[File] = frozenset()
        self.read: list[Read] = []
        self.faults: list[FileFault] = []
        self.names: list[tuple[File, Named]] = []
        self.unfinished: list[str] = []
        self.spells_plurals = False
        self.read_as: Format | None = None
        self.own_syntaxes = own_syntaxes
        self.readings = readings or Readings()
        self.message_names = message_names(tree, entry, base)

    def read_files(self) -> frozenset[Tag]:
        """Reads the catalog's files; returns the locales that they hold."""
        self.matches = self._matches()
        named = self.message_names
        self.faults += [FileFault(named.file, named.digest, defect, None, None) for defect in named.defects if named.file]
        for match in self.matches:
            self._file(match)
        return frozenset(read.tag for read in self.read)

    def found(self, number: int, where: tuple[str | int, ...], clients: tuple[str, ...], shapes: Shapes, source: Tag) -> Found:
        """All that the files hold that have been read, in their order; *number* and *where* are the catalog's place in the charter, *source*
        is the locale that the texts are written in.
        """
        self.read = agreed(with_sources(self.read, source, self.keys, from_keys=self.entry.source_text == "key"))
        self._fold_plurals()
        seen = self._syntax(source)
        syntax = self._loaded(seen.name)
        refused = sum(len(read.column.rare.refused) for read in self.read if read.tag == source)
        catalogs = tuple(self._catalog(number, read, syntax, shapes, refused < _UNCOMPILED) for read in self.read)
        pattern = Pattern(
            number,
            self.entry.files,
            self.base,
            self.entry.format,
            layout_of(self.entry),
            seen.name,
            self.speller.spelling,
            clients,
            len(self.matches),
            self.entry.without,
            where,
            self.entry.requires_own,
            self.entry.built,
            seen,
            self.read_as,
            self.known,
            self.entry.source_text == "key",
            self.entry.name,
            self.entry.over,
        )
        return Found(pattern, catalogs, tuple(self.faults), tuple(self.names), tuple(self.unfinished))

    def _catalog(self, number: int, read: Read, syntax: Syntax, shapes: Shapes, compiled: bool) -> Catalog:
        try:
            with self.readings.times.of("shapes", syntax.name):
                numbers = shapes.of_column(read.column, syntax, self.entry.markup, compiled)
        except IncompleteError as error:
            self.unfinished.append(f"{read.file}: {error}")
            numbers = array("I", bytes(4 * len(read.column.texts)))
        return Catalog(read.file, read.digest, read.tag, read.part, number, read.column, numbers, read.form, read.options)

    def _syntax(self, source: Tag) -> SeenSyntax:
        """The charter's syntax for the catalog, else the one that the source's texts show; all texts where the source's are in another catalog."""
        if self.entry.syntax is not None:
            return SeenSyntax(self.entry.syntax, 0)
        own = [read for read in self.read if read.tag == source] or self.read
        texts = (text for read in own for text in read.column.texts)
        return seen_syntax(texts, self.read_as.habits.syntax if self.read_as is not None else None)

    def _loaded(self, name: str) -> Syntax:
        if name in self.own_syntaxes:
            return own(name, self.own_syntaxes[name])
        return doubled(name) if self.entry.apostrophe == "doubled" else load_syntax(name)

    def _matches(self) -> list[Match]:
        """One match a file, those left out that are set aside."""
        best = one_each(self.tree.files(self.entry.files, self.base), self.speller)
        self.known = frozenset(match.file for match in best)
        excepted = [matcher(pattern, self.base) for pattern in self.entry.exceptions]
        return [match for match in best if not self._set_aside(match) and not any(each(match.file) for each in excepted)]

    def _set_aside(self, match: Match) -> bool:
        """Whether the folder is a variant for other circumstances than the language, or holds layouts only."""
        if match.locale is None:
            return False
        if gathers_catalogs(match, self.entry.format):
            return True
        return (self.speller.spelling == "android" and android_variant(match.locale)) or (
            self.speller.spelling == "lproj" and match.locale == "Base"
        )

    def _file(self, match: Match) -> None:
        tag = self.unmarked if match.locale is None else self._name(match.file, Value(match.locale, 1, 1))
        if tag is None and match.locale is not None:
            return  # no locale: the finding about its name says so
        try:
            digest, data = self.tree.read(match.file)
        except OSError as error:
            self._fault(match, None, Defect("unreadable", 1, 1, f"the file cannot be read: {error.strerror or error}", "file"), tag)
            return
        if is_pointer(data):
            self._fault(match, digest, Defect("unreadable", 1, 1, POINTS, "file"), tag)
            return
        reader = self._format_of(match.file, data)
        if reader is None:
            words = f"the format is not known from the name; set 'format' to one of {', '.join(formats.names())}"
            self._fault(match, digest, Defect("unreadable", 1, 1, words, "file"), tag)
            return
        options = replace(options_of(self.entry, match.file, self.message_names.names), key=match.key or "")

        def read(mark: Digest, held: bytes, suffix: str) -> Reading:
            return self.readings.read(mark, held, reader, replace(options, suffix=suffix))

        try:
            found = followed(self.tree, match.file, digest, data, read)
        except IncompleteError as error:
            self.unfinished.append(f"{match.file}: {error}")
            return
        file, digest, reading = found
        self.spells_plurals = self.spells_plurals or not reader.habits.own_plurals
        self.read_as = self.read_as or reader
        for defect in reading.defects if file == match.file or all(file != other.file for other in self.matches) else ():
            self._fault(match._replace(file=file), digest, defect, tag if self._by_file or match.locale is not None else None)
        rooted = match.locale is not None and len(reading.columns) == 1 and layout_of(self.entry) == "locale-rooted"
        blind = self._by_file and any(defect.blinds == "file" for defect in reading.defects)
        for column in reading.columns:
            if rooted:  # the key around the texts says again what the file's name says
                column = replace(column, mark=column.label)
            held = tag if self._by_file or rooted else self._label(file, column)
            if held is not None and (column.keys or not blind):
                if column.header is not None and reader.reads.plural_header is not None:
                    column, words = named_by_header(column, held)
                    if words and not same_locale(LanguageTag.parse(held), self.written_in):
                        line = data.count(b"\n", 0, data.find(reader.reads.plural_header)) + 1
                        self._fault(match, digest, Defect("plural-header", line, 1, words), held)
                self._take(column, Read(file, digest, held, match.part, column, reader, options))

    def _take(self, column: Column, read: Read) -> None:
        """Takes a *column*, whose keys are one object with those of other columns that have the same."""
        column = self._limited(column)
        shared = replace(column, keys=self.keys.setdefault(column.keys, column.keys))
        self.read.append(read._replace(column=shared, part=read.part if column.part is None else column.part))

    def _limited(self, column: Column) -> Column:
        """The column with the limits that the charter states, where its entries have none."""
        if not self.entry.limits:
            return column
        limits = {
            index: limit
            for pattern, limit in reversed(self.entry.limits.items())
            for index, key in enumerate(column.keys)
            if fnmatchcase(key, pattern)
        }
        return replace(column, rare=replace(column.rare, limit={**limits, **column.rare.limit})) if limits else column

    @property
    def _by_file(self) -> bool:
        """Whether the file's name alone says of which locale its texts are."""
        layout = layout_of(self.entry)
        return layout == "by-file" or (layout == "records" and self.entry.fields is not None and not self.entry.fields.locale)

    def _format_of(self, file: File, data: bytes) -> Format | None:
        return formats.load(self.entry.format) if self.entry.format else formats.guess(file, data)

    def _fold_plurals(self) -> None:
        """Brings together the forms that keys spell; which keys do is seen over all locales of a part."""
        if self.entry.plural == "pipe":
            self.read = [read._replace(column=plurals.split_pipes(read.column, read.tag)) for read in self.read]
            return
        if not self.spells_plurals or self.entry.plural == "none":
            return
        for part in dict.fromkeys(read.part for read in self.read):
            how = plurals.spelled(((read.tag, read.column.keys) for read in self.read if read.part == part), self.entry.plural)
            if how:
                self.read = [read if read.part != part else read._replace(column=self._folded(read, how)) for read in self.read]

    def _folded(self, read: Read, how: plurals.Spelled) -> Column:
        column = plurals.fold(read.column, how, read.tag)
        return replace(column, keys=self.keys.setdefault(column.keys, column.keys))

    def _fault(self, match: Match, digest: Digest | None, defect: Defect, tag: Tag | None) -> None:
        self.faults.append(FileFault(match.file, digest, defect, tag, match.part))

    def _name(self, file: File, value: Value) -> Tag | None:
        """Reads the locale that a file or column is named by, and keeps it as written; that of many files which are a message each once."""
        entry = self.speller.read(value)
        if "{key}" not in self.entry.files or all(other.value.text != value.text for _, other in self.names):
            self.names.append((file, entry))
        return entry.tag

    def _label(self, file: File, column: Column) -> Tag | None:
        return self._name(file, Value(column.label or "", *(column.at or (1, 1))))
