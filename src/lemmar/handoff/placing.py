"""Puts translations into the catalogs of every client that needs them: in the syntax of each, escaped as its format wants, in files that are made where there
are none.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from lemmar.basics.text import decode
from lemmar.documents.splicing import EditError, encoded
from lemmar.formats import Column, FormPlace, Model, NewEntry, Settled, Where, form_names, read_header
from lemmar.handoff.needs import own_catalog, own_tag
from lemmar.handoff.texts import Text, Use
from lemmar.inventory.composing import Fragment
from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import pattern_of
from lemmar.resolve.syntaxes import entry_of
from lemmar.resolve.world import Client
from lemmar.syntax import NotWrittenError, paired, written
from lemmar.tags import CATEGORIES, LanguageTag, Tag, whole_number_categories, whole_numbers
from lemmar.trees import File
from lemmar.trees.patterns import rewritten_path
from lemmar.work import catalogs
from lemmar.work.catalogs import CatalogPlace
from lemmar.work.changes import Changes
from lemmar.work.places import Monorepo


class Placed(NamedTuple):
    """A translation on its way: the text and its use, the locale, the forms as the use's syntax writes them (one under the empty name), and its number among
    the offers.
    """

    number: int
    text: Text
    use: Use
    locale: Tag
    forms: Mapping[str, str]


class Refused(NamedTuple):
    """A translation that has no place, by its number among the offers, and why."""

    number: int
    use: Use
    reason: str


def in_syntax(text: Text, use: Use, forms: Mapping[str, str]) -> Mapping[str, str]:
    """The *forms* of a translation as a use's syntax writes them. Raises `NotWrittenError`."""
    if text.syntax or use.neutral is None:
        return forms
    return written(use.syntax, use.neutral, forms, paired(text.placeholders, use.neutral.placeholders))


def place(monorepo: Monorepo, every: Sequence[Placed]) -> list[Refused]:
    """Puts all of them into the monorepo's changes, a file at a time; those that have no place."""
    groups: dict[tuple[str, int, str | None, Tag], list[Placed]] = {}
    for each in every:
        groups.setdefault((each.use.client.name, each.use.holder.order, each.use.part, each.locale), []).append(each)
    refused: list[Refused] = []
    for (_, order, _, locale), those in groups.items():
        client = those[0].use.client
        catalog_place = _place_of(monorepo, client, order)
        if catalog_place is None:
            refused += [Refused(each.number, each.use, "its catalog is not edited") for each in those]
            continue
        refused += _Page(monorepo, client, catalog_place, locale).put(those)
    return refused


def _place_of(monorepo: Monorepo, client: Client, order: int) -> CatalogPlace | None:
    return next((each for each in monorepo.catalogs(client) if any(catalog.order == order for catalog in each.catalogs)), None)


class _Page:
    """The catalogs of one locale in one catalog of the charter."""

    def __init__(self, monorepo: Monorepo, client: Client, catalog_place: CatalogPlace, locale: Tag) -> None:
        self._monorepo = monorepo
        self._changes: Changes = monorepo.changes
        self._client = client
        self._place = catalog_place
        self._locale = locale

    def put(self, those: Sequence[Placed]) -> list[Refused]:
        """Puts translations into their files; of a file that cannot take them all, each by itself."""
        by_target: dict[tuple[File, str | None], list[Placed]] = {}
        refused: list[Refused] = []
        for each in those:
            try:
                file, label = self._target(each)
            except (EditError, ValueError) as error:
                refused.append(Refused(each.number, each.use, str(error)))
                continue
            by_target.setdefault((file, label), []).append(each)
        for (file, label), group in by_target.items():
            lost = self._put(file, label, group)
            refused += lost
            gone = {each.number for each in lost}
            refused += self._put_into_fragments(file, [each for each in group if each.number not in gone])
        return refused

    def _put_into_fragments(self, file: File, group: Sequence[Placed]) -> list[Refused]:
        """Puts what went into a composed catalog into the fragments that it is made of as well: else the next build would undo it."""
        tables = {each.where for each in self._client.composed if each.file == file}
        made = next((each for each in self._client.composed if each.tag == self._client.source and each.where in tables), None)
        if made is None:
            return []
        parts = {part.key: part for part in made.wanted}
        fragments = {each.file: each for each in made.fragments}
        by_file: dict[File, list[Placed]] = {}
        for each in group:
            if each.use.key in parts:
                by_file.setdefault(parts[each.use.key].spot.file, []).append(each)
        refused = []
        for source, those in by_file.items():
            try:
                self._put_into(fragments[source], those, {each.use.key: parts[each.use.key].spot.key or "" for each in those})
            except (EditError, ValueError) as error:
                refused += [Refused(each.number, each.use, f"the fragment beside {source} cannot take it: {error}") for each in those]
        return refused

    def _put_into(self, fragment: Fragment, those: Sequence[Placed], keys: Mapping[str, str]) -> None:
        """Raises `EditError`."""
        like = self._changes.read(fragment.file)
        tag = own_tag(self._client, self._locale) or self._locale
        label = None
        file = fragment.file
        if "{locale}" in fragment.pattern:
            written_so = next(
                (match.locale for match in self._place.matches.values() if self._place.speller.tag(match.locale or "") == tag), tag
            )
            path = rewritten_path(fragment.pattern, fragment.base, fragment.file, written_so or tag, fragment.part)
            if path is None:
                raise EditError("it is not known where it belongs")
            file = File(path)
            if not self._changes.is_file(file):
                if fragment.form.writes.edits is None:
                    raise EditError(f"{fragment.form.name} files are not made")
                parsed = LanguageTag.parse(tag)
                blank = fragment.form.writes.edits.blank(Model(decode(like).text, fragment.options, parsed, parsed, tag, lambda mark: mark))
                self._changes.put(file, blank.encode("utf-8"))
        columns = fragment.form.read(self._changes.read(file), fragment.options).columns
        if "{locale}" not in fragment.pattern:
            label = next((each.label for each in columns if self._place.speller.tag(each.label or "") == tag), None)
        order = [key for column in fragment.form.read(like, fragment.options).columns for key in column.keys]
        where = Where(fragment.options, label, order, decode(like).text)
        news = [NewEntry(keys[each.use.key], each.forms[""]) for each in those if "" in each.forms]
        if len(news) < len(those):
            raise EditError("plural forms are not put into fragments; do so by hand")
        self._changes.put(file, fragment.form.added(self._changes.read(file), where, news))

    def _put(self, file: File, label: str | None, group: Sequence[Placed]) -> list[Refused]:
        before = self._changes.read(file)
        try:
            if group[0].use.holder.form.habits.is_whole:
                self._changes.put(file, _whole(group[0], self._changes.read(group[0].use.holder.file)))
                return []
            self._changes.put(file, self._edited(before, label, group))
            return []
        except (EditError, ValueError) as error:
            self._changes.put(file, before)
            if len(group) == 1:
                return [Refused(group[0].number, group[0].use, str(error))]
        middle = len(group) // 2
        return [*self._put(file, label, group[:middle]), *self._put(file, label, group[middle:])]

    def _target(self, each: Placed) -> tuple[File, str | None]:
        """The file and column that the translation belongs into, made where it is not there. Raises `EditError`."""
        own = own_catalog(each.use, self._locale)
        if own is not None:
            return own.file, own.column.label
        if each.use.holder.form.habits.is_whole:
            file = catalogs.path_of(self._place, each.use.holder.file, own_tag(self._client, self._locale) or self._locale)
            if not self._changes.is_file(file):
                self._changes.put(file, b"")
            return file, None
        tag = own_tag(self._client, self._locale) or self._locale
        beside = [
            catalog
            for catalog in self._client.by_space.get(each.use.space, {}).get(tag, ())
            if catalog.order == each.use.holder.order and self._place.has_file(catalog)
        ]
        if beside:
            return beside[-1].file, beside[-1].column.label
        if not self._place.by_file:
            catalogs.new_column(self._changes, self._place, each.use.holder.file, tag)
            return each.use.holder.file, self._label(each.use.holder, tag)
        file = catalogs.path_of(self._place, each.use.holder.file, tag)
        if not self._changes.is_file(file):
            catalogs.add(self._changes, self._place, tag)
        if not self._changes.is_file(file):
            raise EditError(f"{file} is not there, and cannot be made")
        return file, self._label_in(file, each.use.holder)

    def _label(self, holder: Catalog, tag: Tag) -> str | None:
        labels = [column.label for column in holder.form.read(self._changes.read(holder.file), holder.options).columns if column.label]
        return next((label for label in labels if self._place.speller.tag(label) == tag), None)

    def _label_in(self, file: File, holder: Catalog) -> str | None:
        """The label of the only column of a file that was just made."""
        columns = holder.form.read(self._changes.read(file), holder.options).columns
        return columns[0].label if columns else None

    def _edited(self, data: bytes, label: str | None, group: Sequence[Placed]) -> bytes:
        """The file with the translations. Raises `EditError`, `ValueError`."""
        holder = group[0].use.holder
        form, options = holder.form, holder.options
        source = self._client.sources[group[0].use.space]
        like = self._changes.read(holder.file).decode("utf-8", "replace") if self._changes.is_file(holder.file) else ""
        order = [key for catalog in source.catalogs for key in self._spelled_order(catalog)]
        where = Where(options, label, order, like)
        form.check_sound(data, options)
        column = next((each for each in form.read(data, options).columns if each.label == label), None)
        entries: list[NewEntry] = []
        several: dict[str, Mapping[str, str]] = {}
        places = (
            {place.key for place in form.form_places(data, options) if place.label == label} if form.habits.own_plurals else frozenset()
        )
        for each in group:
            forms, key = each.forms, each.use.key
            words = _source_text(each.use)
            if "" in forms:
                entries.append(NewEntry(key, forms[""], source=words))
            elif form.habits.own_plurals:
                if key in places:
                    several[key] = forms
                else:
                    ordered = self._ordered(forms, column)
                    entries.append(NewEntry(key, forms.get("other", list(forms.values())[-1]), ordered, source=words))
            else:
                entries += self._spelled(each.use, forms)
        held = column.key_set if column is not None else frozenset()
        data = form.with_entries(data, where, [new for new in entries if new.key in held])
        fresh = [new for new in entries if new.key not in held]
        data = form.added(data, where, fresh) if fresh else data
        names = self._names(column)
        if several:
            data = form.with_forms(data, options, lambda place: _form_of(place, label, several, names))
        data = form.settled(data, where, [Settled(each.use.key, _copy(each.use), done=True) for each in group])
        read = form.read(data, options).columns
        self._check_forms(read, label, several, names)
        self._check_texts(read, label, entries)
        return data

    def _spelled_order(self, catalog: Catalog) -> Iterable[str]:
        """The keys as the source's file has them, where they spell forms."""
        if not catalog.column.rare.forms or catalog.form.habits.own_plurals:
            return catalog.column.keys
        return (key for column in catalog.form.read(self._changes.read(catalog.file), catalog.options).columns for key in column.keys)

    def _ordered(self, forms: Mapping[str, str], column: Column | None) -> Mapping[str, str]:
        """The forms in the order in which the file numbers them."""
        names = self._names(column)
        return {name: forms.get(name, forms.get("other", "")) for name in names} if names else forms

    def _names(self, column: Column | None) -> tuple[str, ...]:
        """What the numbers of a file's forms stand for: by its header, else by the language."""
        tag = LanguageTag.parse(self._locale)
        header = read_header(column.header) if column is not None and column.header else None
        if header is not None:
            return form_names(header, tag)[0]
        if self._place.catalogs and self._place.catalogs[0].form.habits.names_forms:
            return ()
        return tuple(whole_numbers(tag, "cardinal")) if self._place.catalogs[0].form.name in ("po", "ts-xml") else ()

    def _check_texts(self, columns: Sequence[Column], label: str | None, entries: Sequence[NewEntry]) -> None:
        """Sees to it that each text is read as it was written. Raises `EditError`."""
        column = next((each for each in columns if each.label == label), None)
        for new in entries:
            index = column.keys.places.get(new.key) if column is not None else None
            text = column.texts[index] if column is not None and index is not None else None
            if text != new.text and not new.forms:
                raise EditError(f"the file would give {text!r} for it")

    def _check_forms(
        self, columns: Sequence[Column], label: str | None, several: Mapping[str, Mapping[str, str]], names: Sequence[str]
    ) -> None:
        """Sees to it that each form has a place. Raises `EditError`."""
        column = next((each for each in columns if each.label == label), None)
        for key, forms in several.items():
            index = column.keys.places.get(key) if column is not None else None
            there = column.rare.forms.get(index, {}) if column is not None and index is not None else {}
            wanted = set(names) & set(forms) if names else set(forms)
            if len(there) < len(wanted):
                raise EditError(f"the file has no place for {len(wanted)} forms of {key!r}")

    def _spelled(self, use: Use, forms: Mapping[str, str]) -> list[NewEntry]:
        """An entry for each form, where keys spell them as the source's do; or one whose text parts them. Raises `EditError`."""
        entry = entry_of(self._monorepo.read.charter, pattern_of(use.client, use.holder))
        raw = {
            key for column in use.holder.form.read(self._changes.read(use.holder.file), use.holder.options).columns for key in column.keys
        }
        if entry.plural == "pipe":
            names = whole_number_categories(LanguageTag.parse(self._locale), "cardinal")
            ordered = [name for name in names if name in forms] or list(forms)
            return [NewEntry(use.key, " | ".join(forms[name] for name in ordered))]
        for sign in "_.":
            if any(f"{use.key}{sign}{category}" in raw for category in CATEGORIES):
                return [NewEntry(f"{use.key}{sign}{form}", text) for form, text in forms.items()]
        if f"{use.key}.0" in raw:
            names = whole_number_categories(LanguageTag.parse(self._locale), "cardinal")
            return [NewEntry(f"{use.key}.{number}", forms[name]) for number, name in enumerate(names) if name in forms]
        raise EditError("its file spells plural forms in an older way; write them there by hand")


def _whole(placed: Placed, like: bytes) -> bytes:
    """A file that is one message, in the encoding of the source's and closed as that is."""
    decoded = decode(like)
    end = decoded.text[len(decoded.text.rstrip("\r\n")) :]
    return like[: decoded.mark] + encoded(placed.forms[""].rstrip("\r\n") + end, decoded.encoding)


def _form_of(place: FormPlace, label: str | None, several: Mapping[str, Mapping[str, str]], names: Sequence[str]) -> str | None:
    """The text for a form's place; None where it stays as it is."""
    forms = several.get(place.key)
    if forms is None or place.label != label:
        return None
    name = names[int(place.form)] if place.form.isdigit() and int(place.form) < len(names) else place.form
    return forms.get(name, forms.get("other", list(forms.values())[-1]))


def _source_text(use: Use) -> str:
    """The source's text of a message, as files that carry it have it."""
    place = use.holder.column.keys.places[use.key]
    forms = use.holder.column.rare.forms.get(place)
    several = use.holder.column.rare.several.get(place)
    return several or (forms.get("other") if forms else None) or use.holder.column.texts[place] or ""


def _copy(use: Use) -> str | None:
    """The source's text of today, where its own file has a copy that translations' files have as well."""
    place = use.holder.column.keys.places[use.key]
    if place in use.holder.column.rare.forms:
        return None
    return use.holder.column.rare.source.get(place) or (use.holder.column.texts[place] if use.holder.form.habits.carries_source else None)


__all__ = ["NotWrittenError", "Placed", "Refused", "in_syntax", "place"]
