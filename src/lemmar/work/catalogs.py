"""Edits of clients' catalogs: files of a locale are made, moved or dropped; in files of several locales one is put in, taken out, or called otherwise."""

from __future__ import annotations

import posixpath
from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from lemmar.charter import CatalogEntry
from lemmar.documents.splicing import EditError, encoded, rewritten
from lemmar.documents.workbook import WorkbookError, is_workbook
from lemmar.formats import Format, Model, ReadOptions, marked
from lemmar.inventory.catalogs import layout_of, one_each
from lemmar.inventory.contents import Catalog
from lemmar.inventory.locales import Speller
from lemmar.tags import LanguageTag, Tag, same_locale
from lemmar.text import decode
from lemmar.trees import File, Match
from lemmar.trees.patterns import rewritten_path
from lemmar.work.changes import Changes
from lemmar.work.likeness import Example, restated, written_like


class CatalogPlace(NamedTuple):
    """A catalog of the charter that is edited: what the charter says of it, the folder that its pattern starts from, how its locales are read, the columns that
    it holds, the client's own tag of the source, and what the roster calls a locale of the client's.
    """

    entry: CatalogEntry
    base: str
    speller: Speller
    catalogs: tuple[Catalog, ...]
    source: Tag
    roster: Callable[[Tag], Tag]

    @property
    def by_file(self) -> bool:
        """Whether a file is of one locale, which its name says."""
        layout = layout_of(self.entry)
        return layout == "by-file" or "{locale}" in self.entry.files


def add(changes: Changes, place: CatalogPlace, tag: Tag, like: Tag | None = None) -> None:
    """Makes the catalog ready for the roster's locale *tag*: with no texts yet."""
    if place.by_file:
        for model in _models(place, like):
            _attempt(changes, model.file, lambda model=model: _new_file(changes, place, model, tag))
    else:
        for file in dict.fromkeys(catalog.file for catalog in place.catalogs):
            _attempt(changes, file, lambda file=file: new_column(changes, place, file, tag))


def _attempt(changes: Changes, file: File, edit: Callable[[], None]) -> None:
    """Makes an edit; one that cannot be made is a step."""
    try:
        edit()
    except (EditError, WorkbookError) as error:
        changes.step(f"cannot be edited: {error}; do it by hand", file, error if isinstance(error, EditError) else None)


def _models(place: CatalogPlace, like: Tag | None) -> Iterator[Catalog]:
    """For each part the file after which another is made: of *like* if that is there, else of the translation with the most texts, else of the source."""
    by_part: dict[str | None, list[Catalog]] = {}
    for catalog in place.catalogs:
        by_part.setdefault(catalog.part, []).append(catalog)
    own = {catalog.part for catalog in place.catalogs if catalog.tag == place.source}
    for part, those in by_part.items():
        if own and part not in own:
            continue  # what only translations have
        yield max(those, key=lambda each: (place.roster(each.tag) == like, each.tag != place.source, len(each.column.keys), each.file))


def _matches(changes: Changes, place: CatalogPlace) -> list[Match]:
    return one_each(changes.tree.files(place.entry.files, place.base), place.speller)


def _examples(place: CatalogPlace, matches: Sequence[Match]) -> list[Example]:
    """The locales of files as their names write them."""
    found = {}
    for match in matches:
        own = place.speller.tag(match.locale) if match.locale is not None else None
        if own is not None and match.locale is not None:
            found[match.locale] = Example(LanguageTag.parse(place.roster(own)), match.locale)
    return list(found.values())


def _written(place: CatalogPlace, tag: Tag, examples: Sequence[Example]) -> str:
    """How the locale *tag* is written here. Raises `EditError` where it would not be read back."""
    text = written_like(LanguageTag.parse(tag), place.speller.spelling, examples)
    own = place.speller.tag(text)
    if own is None or not (place.roster(own) in (tag, own) or same_locale(LanguageTag.parse(own), LanguageTag.parse(tag))):
        raise EditError(f"{text!r} would not be read as {tag!r} here")
    return text


def path_of(changes: Changes, place: CatalogPlace, like: File, tag: Tag, written: str | None = None) -> File:
    """Where the file of *tag* belongs (which is *written* so, where that is known) that is as *like* is of another locale.

    Raises:
        EditError: it is not known.
    """
    matches = _matches(changes, place)
    text = written or _written(place, tag, _examples(place, matches))
    match = next((match for match in matches if match.file == like), None)
    found = rewritten_path(place.entry.files, place.base, like, text, match.part if match is not None else None)
    if found is None:
        raise EditError(f"it is not known where the file of {tag!r} belongs")
    return File(found)


def _model(changes: Changes, place: CatalogPlace, catalog: Catalog, tag: Tag, written: str) -> Model:
    decoded = decode(changes.read(catalog.file), catalog.options.encoding or catalog.form.encoding(changes.read(catalog.file)))
    old, new = LanguageTag.parse(place.roster(catalog.tag)), LanguageTag.parse(tag)
    return Model(decoded.text, catalog.options, old, new, written, lambda text: restated(text, old, new, place.speller.spelling))


def _new_file(changes: Changes, place: CatalogPlace, like: Catalog, tag: Tag) -> None:
    file = path_of(changes, place, like.file, tag)
    if changes.is_file(file):
        return
    if like.form.edits is None:
        raise EditError(f"{like.form.name} files are not made")
    labels = [Example(LanguageTag.parse(place.roster(own)), each.column.label) for each in place.catalogs if each.column.label and (own := place.speller.tag(each.column.label))]
    label = _written(place, tag, labels) if labels else written_like(LanguageTag.parse(tag), "bcp47", [])
    if like.column.mark and not labels:
        marks = {each.column.mark: Example(LanguageTag.parse(place.roster(each.tag)), each.column.mark) for each in place.catalogs if each.column.mark}
        label = written_like(LanguageTag.parse(tag), place.speller.spelling, list(marks.values()))
    data = changes.read(like.file)
    like.form.check_sound(data, like.options)
    text = like.form.edits.blank(_model(changes, place, like, tag, label))
    changes.put(file, _as_bytes(text, data, like.form, like.options))
    changes.places += 1
    problems = like.form.read(changes.read(file), like.options).defects
    if problems:
        changes.put(file, None)
        raise EditError(f"the new file would be damaged: {problems[0].detail}")


def _as_bytes(text: str, like: bytes, form: Format, options: ReadOptions) -> bytes:
    """*text* in the encoding of the file that it is made after, unless it says that it is in another."""
    decoded = decode(like, options.encoding or form.encoding(like))
    named = form.encoding(text.encode("utf-8"))
    encoding = decoded.encoding if named is None or decoded.mark else decode(b"", named).encoding
    if encoding in ("latin-1", "iso8859-1") and form.escape is None:
        encoding = "utf-8"
    return like[: decoded.mark] + encoded(text, encoding, form.escape)


def new_column(changes: Changes, place: CatalogPlace, file: File, tag: Tag) -> None:
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
    if like.form.edits is None or like.form.edits.take_in is None:
        raise EditError(f"{like.form.name} files hold one locale each")
    _edit(changes, file, like, like.form.edits.take_in(_model(changes, place, like, tag, written)))


def _edit(changes: Changes, file: File, like: Catalog, splices: Sequence[object]) -> None:
    data = changes.read(file)
    decoded = decode(data, like.options.encoding or like.form.encoding(data))
    like.form.check_sound(data, like.options)
    before = like.form.read(data, like.options).defects
    after = rewritten(data, decoded, splices, like.form.escape)  # type: ignore[arg-type]
    if len(like.form.read(after, like.options).defects) > len(before):
        raise EditError("the edit would damage the file")
    if after != data:
        changes.put(file, after)
        changes.places += 1


def drop(changes: Changes, place: CatalogPlace, tag: Tag) -> None:
    """Drops the files and columns of the roster's locale *tag*."""
    for file in dict.fromkeys(catalog.file for catalog in place.catalogs if place.roster(catalog.tag) == tag and catalog.tag != place.source):
        _attempt(changes, file, lambda file=file: _drop(changes, place, file, tag))


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
    edits = like.form.edits
    if edits is None or edits.leave_out is None or edits.rename is None:
        raise EditError(f"{like.form.name} files hold one locale each")
    text = decode(data, like.options.encoding or like.form.encoding(data)).text
    _edit(changes, file, like, edits.leave_out(text, like.options, label) if new is None else edits.rename(text, like.options, label, new))


def rename(changes: Changes, place: CatalogPlace, old: Tag, new: Tag) -> None:
    """Calls the roster's locale *old* by its *new* tag in the names of files and folders, in columns, and in the marks inside of files."""
    for catalog in [catalog for catalog in place.catalogs if place.roster(catalog.tag) == old]:
        _attempt(changes, catalog.file, lambda catalog=catalog: _renamed(changes, place, catalog, old, new))


def _renamed(changes: Changes, place: CatalogPlace, catalog: Catalog, old: Tag, new: Tag) -> None:
    if not changes.is_file(catalog.file):
        return  # it is moved already, with another of its columns
    was, now = LanguageTag.parse(catalog.tag), LanguageTag.parse(new)
    others = [each for each in place.catalogs if place.roster(each.tag) != old]
    if catalog.column.label:
        labels = [Example(LanguageTag.parse(place.roster(each.tag)), each.column.label) for each in others if each.column.label]
        label = _written(place, new, labels)
        if label != catalog.column.label:
            relabelled(changes, catalog.file, catalog, catalog.column.label, label)
    elif catalog.column.mark and catalog.form.marks:
        data = changes.read(catalog.file)
        text = decode(data, catalog.options.encoding or catalog.form.encoding(data)).text
        _edit(changes, catalog.file, catalog, marked(text, catalog.form.marks, lambda mark: restated(mark, was, now, place.speller.spelling, names=False)))
    if place.by_file:
        to = path_of(changes, place, catalog.file, new)
        if to != catalog.file and posixpath.normpath(to) == to:
            changes.move(catalog.file, to)
            changes.places += 1
