"""Edits of clients' catalogs: files of a locale are made, moved or dropped; in files of several locales one is put in, taken out, or called otherwise."""

from __future__ import annotations

import posixpath
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import cached_property

from lemmar.basics.text import decode
from lemmar.charter.types import CatalogEntry
from lemmar.documents.splicing import EditError, encoded, rewritten
from lemmar.documents.workbook import is_workbook
from lemmar.formats import Format, Model, ReadOptions, marked
from lemmar.inventory.catalogs import layout_of, one_each
from lemmar.inventory.contents import Catalog
from lemmar.inventory.locales import Speller
from lemmar.tags import LanguageTag, Tag, same_locale
from lemmar.trees import File, Match, Tree
from lemmar.trees.patterns import rewritten_path
from lemmar.work.changes import Changes
from lemmar.work.likeness import Example, restated, written_like
from lemmar.work.mentions import Mentions

#: What is left of an edit that cannot be made.
_BY_HAND = "edit it by hand"


class CatalogPlace:
    """A catalog of the charter that is edited.

    *entry* is what the charter says of it, *base* the folder that its pattern starts from, *speller* reads its locales, *catalogs* are the columns that it
    holds, *source* is the client's own tag of the source; *roster* gives what the roster calls a locale of the client's.
    """

    def __init__(
        self,
        tree: Tree,
        entry: CatalogEntry,
        base: str,
        speller: Speller,
        catalogs: tuple[Catalog, ...],
        source: Tag,
        roster: Callable[[Tag], Tag],
    ) -> None:
        self._tree = tree
        self.entry = entry
        self.base = base
        self.speller = speller
        self.catalogs = catalogs
        self.source = source
        self.roster = roster

    @cached_property
    def by_file(self) -> bool:
        """Whether a file is of one locale, which its name says."""
        layout = layout_of(self.entry)
        return layout == "by-file" or "{locale}" in self.entry.files

    @cached_property
    def matches(self) -> dict[File, Match]:
        """The files of the catalog, as its pattern reads their names."""
        return {match.file: match for match in one_each(self._tree.files(self.entry.files, self.base), self.speller)}

    @cached_property
    def names(self) -> list[Example]:
        """The locales of files as their names write them."""
        return self._examples(match.locale for match in self.matches.values())

    @cached_property
    def labels(self) -> list[Example]:
        """The locales of columns as files of several write them."""
        return self._examples(catalog.column.label for catalog in self.catalogs)

    @cached_property
    def marks(self) -> list[Example]:
        """The locales of files as marks in them write them."""
        marks = {catalog.column.mark: catalog.tag for catalog in self.catalogs if catalog.column.mark}
        return [Example(LanguageTag.parse(self.roster(tag)), mark) for mark, tag in marks.items()]

    @cached_property
    def translated(self) -> frozenset[File]:
        """The files that hold another locale than the source's."""
        return frozenset(catalog.file for catalog in self.catalogs if catalog.tag != self.source)

    def has_file(self, catalog: Catalog) -> bool:
        """Whether a column is of its own file's locale: the source's may be made of what a translation's file carries."""
        return not (self.by_file and catalog.tag == self.source and catalog.file in self.translated)

    def _examples(self, texts: Iterable[str | None]) -> list[Example]:
        found = {}
        for text in dict.fromkeys(texts):
            own = self.speller.tag(text) if text else None
            if own is not None and text:
                found[text] = Example(LanguageTag.parse(self.roster(own)), text)
        return list(found.values())


#: So many files of a part show who names them.
_SHOWN = 4


def add(changes: Changes, place: CatalogPlace, tag: Tag, like: Tag | None = None) -> None:
    """Makes the catalog ready for the roster's locale *tag*: with no texts yet."""
    if any(catalog.form.habits.is_whole for catalog in place.catalogs):
        return  # a file is a text: there is none yet
    if place.by_file:
        named = Mentions(changes, {catalog.file for catalog in place.catalogs})
        for model in _models(place, like):
            with changes.or_step(_BY_HAND, model.file):
                file = _new_file(changes, place, model, tag)
                those = [catalog.file for catalog in place.catalogs if catalog.part == model.part and place.has_file(catalog)][:_SHOWN]
                for other in set(named.of_several(those)) - set(named.of(file)) if file is not None else ():
                    changes.step(f"name {file} here, as its neighbours are named", other)
    else:
        for file in dict.fromkeys(catalog.file for catalog in place.catalogs):
            with changes.or_step(_BY_HAND, file):
                new_column(changes, place, file, tag)


def _models(place: CatalogPlace, like: Tag | None) -> Iterator[Catalog]:
    """For each part the file after which another is made: of *like* if that is there, else of the translation with the most texts, else of the source; of
    code, where words of a language may stand around the texts, of the source first. A part that the source has not is made where most locales have it.
    """
    by_part: dict[str | None, list[Catalog]] = {}
    for catalog in place.catalogs:
        by_part.setdefault(catalog.part, []).append(catalog)
    filed = [catalog for catalog in place.catalogs if catalog.tag == place.source and place.has_file(catalog)]
    own = {catalog.part for catalog in filed}
    most = max((len({each.tag for each in those}) for those in by_part.values()), default=0)
    for part, those in by_part.items():
        if (own and part not in own) or (not own and 2 * len({each.tag for each in those}) < most):
            continue
        from_source = those[0].form.name == "code"
        yield max(
            (each for each in those if place.has_file(each)),
            key=lambda each: (place.roster(each.tag) == like, (each.tag != place.source) != from_source, len(each.column.keys), each.file),
        )


def _written(place: CatalogPlace, tag: Tag, examples: Sequence[Example]) -> str:
    """How the locale *tag* is written here. Raises `EditError` where it would not be read back."""
    text = written_like(LanguageTag.parse(tag), place.speller.spelling, examples)
    own = place.speller.tag(text)
    if own is None or not (place.roster(own) in (tag, own) or same_locale(LanguageTag.parse(own), LanguageTag.parse(tag))):
        raise EditError(f"{text!r} would not be read as {tag!r} here")
    return text


def path_of(place: CatalogPlace, like: File, tag: Tag, written: str | None = None) -> File:
    """Where the file of *tag* belongs (which is *written* so, where that is known) that is as *like* is of another locale.

    Raises:
        EditError: it is not known.
    """
    text = written or _written(place, tag, place.names)
    match = place.matches.get(like)
    found = rewritten_path(place.entry.files, place.base, like, text, match.part if match is not None else None)
    if found is None:
        raise EditError(f"it is not known where the file of {tag!r} belongs")
    return File(found)


def _model(changes: Changes, place: CatalogPlace, catalog: Catalog, tag: Tag, written: str) -> Model:
    decoded = decode(changes.read(catalog.file), catalog.options.encoding or catalog.form.reads.encoding(changes.read(catalog.file)))
    old, new = LanguageTag.parse(place.roster(catalog.tag)), LanguageTag.parse(tag)
    return Model(decoded.text, catalog.options, old, new, written, lambda text: restated(text, old, new, place.speller.spelling))


def _new_file(changes: Changes, place: CatalogPlace, like: Catalog, tag: Tag) -> File | None:
    """The file that is made; None where there is one already."""
    file = path_of(place, like.file, tag)
    if changes.is_file(file):
        return None
    if like.form.writes.edits is None:
        raise EditError(f"{like.form.name} files are not made")
    if place.labels:
        label = _written(place, tag, place.labels)
    else:  # where a mark says it, as marks are written; else by its tag
        label = written_like(LanguageTag.parse(tag), place.speller.spelling if like.column.mark else "bcp47", place.marks)
    data = changes.read(like.file)
    like.form.check_sound(data, like.options)
    text = like.form.writes.edits.blank(_model(changes, place, like, tag, label))
    changes.put(file, _as_bytes(text, data, like.form, like.options))
    changes.places += 1
    problems = like.form.read(changes.read(file), like.options).defects
    if problems:
        changes.put(file, None)
        raise EditError(f"the new file would be damaged: {problems[0].detail}")
    return file


def _as_bytes(text: str, like: bytes, form: Format, options: ReadOptions) -> bytes:
    """*text* in the encoding of the file that it is made after, unless it says that it is in another."""
    decoded = decode(like, options.encoding or form.reads.encoding(like))
    named = form.reads.encoding(text.encode("utf-8"))
    encoding = decoded.encoding if named is None or decoded.mark else decode(b"", named).encoding
    if encoding in ("latin-1", "iso8859-1") and form.writes.escape is None:
        encoding = "utf-8"
    return like[: decoded.mark] + encoded(text, encoding, form.writes.escape)


def new_column(changes: Changes, place: CatalogPlace, file: File, tag: Tag) -> None:
    """Puts the locale *tag* into a file of several locales, if it is not there. Raises `EditError`."""
    those = [catalog for catalog in place.catalogs if catalog.file == file]
    if any(place.roster(catalog.tag) == tag for catalog in those):
        return
    like = max(those, key=lambda each: (each.tag != place.source, len(each.column.keys)))
    labels = [Example(LanguageTag.parse(place.roster(each.tag)), each.column.label) for each in those if each.column.label]
    written = _written(place, tag, labels)
    data = changes.read(file)
    if is_workbook(data):
        from lemmar.formats.sheet import edited_workbook

        changes.put(file, edited_workbook(data, like.options, None, written))
        changes.places += 1
        return
    if like.form.writes.edits is None or like.form.writes.edits.take_in is None:
        raise EditError(f"{like.form.name} files hold one locale each")
    _edit(changes, file, like, like.form.writes.edits.take_in(_model(changes, place, like, tag, written)))


def _edit(changes: Changes, file: File, like: Catalog, splices: Sequence[object]) -> None:
    data = changes.read(file)
    decoded = decode(data, like.options.encoding or like.form.reads.encoding(data))
    like.form.check_sound(data, like.options)
    before = like.form.read(data, like.options).defects
    after = rewritten(data, decoded, splices, like.form.writes.escape)  # type: ignore[arg-type]
    if len(like.form.read(after, like.options).defects) > len(before):
        raise EditError("the edit would damage the file")
    if after != data:
        changes.put(file, after)
        changes.places += 1


def drop(changes: Changes, place: CatalogPlace, tag: Tag) -> None:
    """Drops the files and columns of the roster's locale *tag*."""
    named = Mentions(changes, {catalog.file for catalog in place.catalogs})
    for file in dict.fromkeys(
        catalog.file for catalog in place.catalogs if place.roster(catalog.tag) == tag and catalog.tag != place.source
    ):
        with changes.or_step(_BY_HAND, file):
            _drop(changes, place, file, tag)
            for other, line in named.of(file).items() if not changes.is_file(file) else ():
                changes.step(f"take {file} out here: it is gone", other, line)


def _drop(changes: Changes, place: CatalogPlace, file: File, tag: Tag) -> None:
    those = [catalog for catalog in place.catalogs if catalog.file == file and place.roster(catalog.tag) == tag]
    if place.by_file:
        if changes.is_file(file):
            changes.put(file, None)
            changes.places += 1
        return
    for label in dict.fromkeys(catalog.column.label for catalog in those):
        relabelled(changes, file, those[0], label or "", None)


def relabelled(changes: Changes, file: File, like: Catalog, label: str, new: str | None) -> None:
    """Calls a column of a file by a *new* label; without one it is taken out."""
    data = changes.read(file)
    if is_workbook(data):
        from lemmar.formats.sheet import edited_workbook

        changes.put(file, edited_workbook(data, like.options, label, new))
        changes.places += 1
        return
    edits = like.form.writes.edits
    if edits is None or edits.leave_out is None or edits.rename is None:
        raise EditError(f"{like.form.name} files hold one locale each")
    text = decode(data, like.options.encoding or like.form.reads.encoding(data)).text
    _edit(changes, file, like, edits.leave_out(text, like.options, label) if new is None else edits.rename(text, like.options, label, new))


def rename(changes: Changes, place: CatalogPlace, old: Tag, new: Tag) -> None:
    """Calls the roster's locale *old* by its *new* tag in the names of files and folders, in columns, and in the marks inside of files."""
    named = Mentions(changes, {catalog.file for catalog in place.catalogs})
    for catalog in [catalog for catalog in place.catalogs if place.roster(catalog.tag) == old]:
        with changes.or_step(_BY_HAND, catalog.file):
            to = _renamed(changes, place, catalog, old, new)
            for other, line in named.of(catalog.file).items() if to is not None else ():
                changes.step(f"name {to} here, where it still has its old name", other, line)


def _renamed(changes: Changes, place: CatalogPlace, catalog: Catalog, old: Tag, new: Tag) -> File | None:
    """Where the file is moved to, if it is."""
    if not changes.is_file(catalog.file):
        return None  # it is moved already, with another of its columns
    was, now = LanguageTag.parse(catalog.tag), LanguageTag.parse(new)
    if catalog.column.label:
        label = _written(place, new, [each for each in place.labels if str(each.tag) != old])
        if label != catalog.column.label:
            relabelled(changes, catalog.file, catalog, catalog.column.label, label)
    elif catalog.column.mark and catalog.form.writes.marks:
        data = changes.read(catalog.file)
        text = decode(data, catalog.options.encoding or catalog.form.reads.encoding(data)).text
        _edit(
            changes,
            catalog.file,
            catalog,
            marked(text, catalog.form.writes.marks, lambda mark: restated(mark, was, now, place.speller.spelling, names=False)),
        )
    if place.by_file:
        to = path_of(place, catalog.file, new)
        if to != catalog.file and posixpath.normpath(to) == to:
            changes.move(catalog.file, to)
            changes.places += 1
            return to
    return None
