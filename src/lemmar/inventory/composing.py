"""Composed catalogs: what the fragments of a locale give when they are put together, and what the catalog that is made of them has.

Nothing is run: the charter says in which order fragments come, below which key, and which text counts where two have one key.
"""

from __future__ import annotations

import posixpath
from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from msgspec import Struct

from lemmar import formats
from lemmar.charter.types import ComposedEntry
from lemmar.documents.structured import suffix_of
from lemmar.formats import Column, Format, ReadOptions
from lemmar.inventory.contents import Spot
from lemmar.inventory.locales import Speller
from lemmar.inventory.readings import Readings
from lemmar.tags import Tag
from lemmar.trees import File, Match, Tree
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


def compositions(
    tree: Tree, entry: ComposedEntry, base: str, speller: Speller, unmarked: Tag, readings: Readings, where: tuple[str | int, ...]
) -> Iterator[Composition]:
    """What each locale's fragments give, in the order of the locales' first fragments."""
    parts: dict[Tag, list[Part]] = {}
    fragments: dict[Tag, dict[File, Fragment]] = {}
    faults: dict[Tag, str] = {}
    for pattern in entry.sources:
        for match in sorted(tree.files(pattern, base), key=lambda match: match.file):
            for tag, column, fragment, spot, fault in _columns(tree, entry.fragments, (pattern, base), match, speller, unmarked, readings):
                fragments.setdefault(tag, {})[match.file] = fragment
                if fault:
                    faults.setdefault(tag, fault)
                head = entry.under.replace("{part}", (match.part or "").replace("/", "."))
                parts.setdefault(tag, []).extend(_parts(column, f"{head}." if head else "", spot) if column is not None else ())
    made = {_tag(match, speller, unmarked): match.file for match in tree.files(entry.into, base)}
    for tag, those in parts.items():
        wanted, clashes = _together(those, entry.clash)
        file = made.get(tag) or _path(entry.into, base, tag, made, speller)
        if file is None:
            continue
        form = formats.load(entry.format) if entry.format else formats.by_suffix(suffix_of(file))
        if form is None:
            continue
        by_label = "{locale}" not in entry.into
        options = ReadOptions("locale-rooted" if by_label else form.layouts[0], suffix=suffix_of(file))
        made_of = tuple(fragments[tag].values())
        found = Composition(where, tag, file, tree.is_file(file), form, options, None, made_of, wanted, clashes, fault=faults.get(tag, ""))
        yield _compared(tree, found, readings, speller if by_label else None)


def _tag(match: Match, speller: Speller, unmarked: Tag) -> Tag | None:
    return unmarked if match.locale is None else speller.tag(match.locale)


def _columns(
    tree: Tree, form_name: str | None, whence: tuple[str, str], match: Match, speller: Speller, unmarked: Tag, readings: Readings
) -> Iterator[tuple[Tag, Column | None, Fragment, Spot, str]]:
    """The columns of a fragment, each with its locale; and what is wrong with it, in words."""
    form = formats.load(form_name) if form_name else formats.by_suffix(suffix_of(match.file))
    tag, by_file = _tag(match, speller, unmarked), "{locale}" in whence[0]
    if form is None or (tag is None and by_file):
        return
    options = ReadOptions(form.layouts[0] if by_file else "locale-rooted", suffix=suffix_of(match.file))
    fragment = Fragment(match.file, form, options, *whence, match.part)
    try:
        digest, data = tree.read(match.file)
    except OSError:
        if tag is not None:
            yield tag, None, fragment, Spot(match.file, line=1, column=1), f"{match.file} cannot be read"
        return
    reading = readings.read(digest, data, form, options)
    blind = next((defect for defect in reading.defects if defect.blinds in ("file", "rest")), None)
    fault = f"{match.file}:{blind.line}: {blind.detail}" if blind is not None else ""
    for column in reading.columns:
        own = tag if by_file else speller.tag(column.label or "")
        if own is not None:
            yield own, column, fragment, Spot(match.file, digest, column.label), fault


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


def _path(into: str, base: str, tag: Tag, made: Mapping[Tag | None, File], speller: Speller) -> File | None:
    """Where the catalog of a locale belongs that is not there: named as the others are, else by its tag."""
    if "{locale}" not in into:
        return File(posixpath.normpath(posixpath.join(base, into)))
    like = next(iter(made.values()), File(""))
    from lemmar.tags import LanguageTag, write_spelling

    path = rewritten_path(
        into, base, like, write_spelling(LanguageTag.parse(tag), speller.spelling if speller.spelling != "auto" else "bcp47"), None
    )
    return File(path) if path is not None else None


def _compared(tree: Tree, made: Composition, readings: Readings, speller: Speller | None) -> Composition:
    """The composition with what its catalog has otherwise."""
    from msgspec.structs import replace

    wanted = {part.key: part.said for part in made.wanted}
    if not made.there:
        return replace(made, lacking=tuple(wanted))
    digest, data = tree.read(made.file)
    reading = readings.read(digest, data, made.form, made.options)
    blind = next((defect for defect in reading.defects if defect.blinds in ("file", "rest")), None)
    if blind is not None:
        return replace(made, fault=made.fault or f"{made.file}:{blind.line}: {blind.detail}")
    column = next((each for each in reading.columns if speller is None or speller.tag(each.label or "") == made.tag), None)
    held = {part.key: part.said for part in _parts(column, "", Spot(made.file))} if column is not None else {}
    return replace(
        made,
        label=column.label if column is not None else None,
        lacking=tuple(key for key in wanted if key not in held),
        surplus=tuple(key for key in held if key not in wanted),
        other=tuple(key for key, said in wanted.items() if key in held and held[key] != said),
    )
