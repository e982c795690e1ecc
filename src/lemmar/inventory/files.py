"""One catalog file read by itself, without a charter: what Lemmar makes of it, entry by entry."""

from __future__ import annotations

import errno
import fnmatch
import os
from collections import Counter
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import NamedTuple

from lemmar import formats
from lemmar.basics.errors import IncompleteError, UsageError
from lemmar.basics.phrasing import nearest
from lemmar.documents.pointers import POINTS, is_pointer
from lemmar.documents.structured import suffix_of
from lemmar.formats import NOTHING, Column, Defect, Format, ReadOptions, Site
from lemmar.inventory import plurals
from lemmar.inventory.shapes import Shapes
from lemmar.syntax import SeenSyntax, Shape, seen_syntax
from lemmar.syntax import load as load_syntax
from lemmar.tags import looks_like_locale, read_spelling
from lemmar.trees import File
from lemmar.trees.folder import FolderTree


class How(NamedTuple):
    """How files are to be read: the format and layout that were asked for, if any, and what of them is wanted.

    With *apart* each text is taken apart, in *syntax* or in the one that the texts show.
    """

    format: str | None = None
    layout: str | None = None
    fields: Mapping[str, str] = NOTHING
    locales: tuple[str, ...] = ()
    pattern: str | None = None
    apart: bool = False
    syntax: str | None = None


class FileEntry(NamedTuple):
    """An entry of a file with its place; *locale* is the column's label, else what the file's name suggests. *at* is its index in the column."""

    column: Column
    at: int
    locale: str | None
    site: Site | None
    shape: Shape | None

    @property
    def key(self) -> str:
        """The entry's key."""
        return self.column.keys[self.at]

    @property
    def text(self) -> str | None:
        """The entry's text."""
        return self.column.texts[self.at]

    @property
    def forms(self) -> Mapping[str, str] | None:
        """The forms of the text by category, if it has several."""
        return self.column.rare.forms.get(self.at)

    @property
    def state(self) -> str | None:
        """``fixed``, else the state that the file gives it (such as ``fuzzy``), else ``untranslated`` where there is no text."""
        if self.column.rare.fixed.get(self.at):
            return "fixed"
        return self.column.rare.state.get(self.at) or ("untranslated" if self.text is None else None)


class SeenFile(NamedTuple):
    """What was made of a file: its name as given, its format (None: not known), its entries and defects, its locales, its syntax; whether
    all of it could be looked at.
    """

    file: str
    format: Format | None
    entries: tuple[FileEntry, ...]
    defects: tuple[Defect, ...]
    locales: tuple[str, ...] = ()
    syntax: SeenSyntax | None = None
    complete: bool = True
    forwards: str | None = None


class InFolder(NamedTuple):
    """The files to read, how many others with the suffix of a catalog are passed over, by the reason, and what could not be looked at."""

    files: tuple[str, ...]
    passed: Mapping[str, int] = NOTHING
    unread: tuple[str, ...] = ()


def catalogs_in(named: str) -> InFolder:
    """*named* itself; of a folder every file in it whose name and contents are those of a catalog, what git ignores left out."""
    if not os.path.isdir(named):
        return InFolder((named,))
    tree = FolderTree(Path(named))
    found: list[str] = []
    passed: Counter[str] = Counter()
    for match in tree.files("**"):
        if not formats.of_suffix(suffix_of(match.file)):
            continue
        try:
            data = tree.read(match.file)[1]
        except OSError as error:
            passed[f"cannot be read: {error.strerror or error}"] += 1
            continue
        form = formats.judge(match.file, data)
        if isinstance(form, str):
            passed[form] += 1
        elif form.hints.only_at_home:
            passed["source code; name a file to read it as a catalog"] += 1
        else:
            found.append(f"{named.rstrip('/')}/{match.file}")
    return InFolder(tuple(found) or (named,), dict(sorted(passed.items())), tree.unread())


def read_file(file: str, how: How) -> SeenFile:
    """What Lemmar makes of *file*; that it cannot be read, or that its format is not known, is a defect.

    Raises:
        UsageError: the file's format has no such layout.
    """
    path = Path(file)
    try:
        if path.is_dir():
            raise IsADirectoryError(errno.EISDIR, "it is a folder that holds no catalog")
        _, data = FolderTree(path.parent).read(File(path.name))
    except OSError as error:
        form = formats.load(how.format) if how.format else None
        return SeenFile(file, form, (), (Defect("unreadable", 1, 1, f"the file cannot be read: {error.strerror or error}", "file"),))
    if is_pointer(data):
        return SeenFile(file, None, (), (Defect("unreadable", 1, 1, POINTS, "file"),))
    form = formats.load(how.format) if how.format else formats.guess(file, data)
    if form is None:
        looks = formats.likely(data)
        hint = f"its contents look like {' or '.join(looks)}" if looks else "its contents look like none that is known"
        words = f"the format is not known from the name; {hint}; name one with --as ({', '.join(formats.names())})"
        return SeenFile(file, None, (), (Defect("unreadable", 1, 1, words, "file"),))
    if how.layout is not None and how.layout not in form.layouts:
        raise UsageError(f"{form.name} files have no layout {how.layout!r}; it can be {', '.join(form.layouts)}")
    options = ReadOptions(layout=how.layout or form.layouts[0], suffix=path.suffix.lower(), fields=how.fields)
    try:
        reading = form.read(data, options)
    except IncompleteError as error:
        return SeenFile(file, form, (), (Defect("unreadable", 1, 1, str(error), "file"),), complete=False)
    columns = reading.columns
    if not form.habits.own_plurals:
        spelled = plurals.spelled((column.label or _suggested(file), column.keys) for column in columns)
        columns = tuple(plurals.fold(column, spelled, column.label or _suggested(file)) for column in columns)
    sites = plurals.locate(form, data, options, [(column.label, key) for column in columns for key in column.keys])
    labels = tuple(dict.fromkeys(column.label for column in columns if column.label))
    entries, syntax = _entries(file, columns, sites, form, how)
    return SeenFile(file, form, tuple(entries), reading.defects, labels, syntax, forwards=reading.forwards)


def _entries(
    file: str, columns: tuple[Column, ...], sites: Mapping[tuple[str | None, str], Site], form: Format, how: How
) -> tuple[Iterator[FileEntry], SeenSyntax | None]:
    shapes, numbers = Shapes(), {}
    seen: SeenSyntax | None = None
    if how.apart:
        seen = (
            SeenSyntax(how.syntax, 0) if how.syntax else seen_syntax((text for each in columns for text in each.texts), form.habits.syntax)
        )
        numbers = {id(column): shapes.of_column(column, load_syntax(seen.name)) for column in columns}

    def each() -> Iterator[FileEntry]:
        for column in columns:
            if column.label is not None and how.locales and not any(_same(tag, column.label) for tag in how.locales):
                continue
            locale = _suggested(file) if column.label is None else column.label or None
            for index, key in enumerate(column.keys):
                if how.pattern is None or fnmatch.fnmatchcase(key, how.pattern):
                    shape = shapes.table[numbers[id(column)][index]] if seen is not None else None
                    yield FileEntry(column, index, locale, sites.get((column.label, key)), shape)

    return each(), seen


def check_locales(wanted: tuple[str, ...], seen: list[SeenFile]) -> None:
    """A locale that no file has was misspelt. Raises `UsageError`."""
    there = sorted({locale for found in seen for locale in found.locales})
    for locale in wanted:
        if there and not any(_same(locale, known) for known in there):
            raise UsageError(f"no file has the locale {locale!r}{nearest(locale, there)}")


def _same(wanted: str, label: str) -> bool:
    """Whether a column that is called *label* is the locale *wanted*, in whatever spelling."""
    if wanted == label:
        return True
    tags = [read_spelling(text, "auto") for text in (wanted, label)]
    return tags[0] is not None and tags[0] == tags[1]


def _suggested(file: str) -> str | None:
    """The locale that the file's name or folder suggests: a guess, with which nothing is compared."""
    path = Path(file)
    folder = path.parent.name
    words = [path.stem, path.stem.rpartition(".")[2], path.stem.partition("_")[2], folder.removesuffix(".lproj")]
    words += [folder.partition("-")[2]] if folder.startswith("values-") else []
    for word in words:
        if word and looks_like_locale(word):
            tag = read_spelling(word, "auto") or read_spelling(word, "android")
            if tag is not None:
                return str(tag)
    return None
