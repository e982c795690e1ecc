"""The source's texts where no file of its own has them: in translations that carry them, in keys that are texts."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from lemmar.formats import NOTHING, Column, Format, Keys, Rare, ReadOptions
from lemmar.tags import Tag
from lemmar.trees import Digest, File


class Read(NamedTuple):
    """A column as it was read: its file, the locale that it is of, its part, and how the file was read."""

    file: File
    digest: Digest
    tag: Tag
    part: str | None
    column: Column
    form: Format
    options: ReadOptions


def with_sources(reads: Sequence[Read], source: Tag, keys: dict[Keys, Keys], from_keys: bool = False) -> list[Read]:
    """*reads*, with a column of the *source* locale for each part that has none and can have one; *keys* are the tuples known so far.

    With *from_keys* the keys are the source's texts.
    """
    found = [read._replace(column=_own_texts(read.column)) if read.tag == source else read for read in reads]
    found += _carried(found, source, keys)
    if from_keys:
        found += _keyed(found, source, keys)
    return found


def agreed(reads: list[Read]) -> list[Read]:
    """*reads* in which an entry is formatted or not in all files alike: as most of them have it."""
    if not any(read.column.rare.unformatted for read in reads):
        return reads
    held: Counter[tuple[str | None, str]] = Counter()
    plain: Counter[tuple[str | None, str]] = Counter()
    for read in reads:
        if read.column.rare.unformatted or read.column.rare.source:
            held.update((read.part, key) for key, text in zip(read.column.keys, read.column.texts, strict=True) if "%" in (text or ""))
            plain.update((read.part, read.column.keys[index]) for index in read.column.rare.unformatted)
    found = []
    for read in reads:
        names = enumerate(read.column.keys)
        own = {index: True for index, key in names if plain[read.part, key] and 2 * plain[read.part, key] > held[read.part, key]}
        rare = replace(read.column.rare, unformatted=own or NOTHING)
        found.append(read if own == read.column.rare.unformatted else read._replace(column=replace(read.column, rare=rare)))
    return found


def _parts(reads: Sequence[Read], source: Tag) -> list[str | None]:
    """The parts that the source does not have."""
    held = {read.part for read in reads if read.tag == source}
    return [part for part in dict.fromkeys(read.part for read in reads) if part not in held]


def _carried(reads: Sequence[Read], source: Tag, keys: dict[Keys, Keys]) -> Iterator[Read]:
    """Columns of what the translations carry as the source's texts: of all where the source has no file, else of what its file has not and
    half of them have: a stub of the source's own hides nothing.
    """
    without = set(_parts(reads, source))
    for part in dict.fromkeys(read.part for read in reads):
        carrying = [read for read in reads if read.part == part and read.tag != source and read.column.rare.source]
        wanted = None if part in without else _lacking(reads, source, part, carrying)
        if not carrying or (wanted is not None and not wanted):
            continue
        texts: dict[str, str] = {}
        several: dict[str, str] = {}
        fixed: set[str] = set()
        unformatted: set[str] = set()
        for read in carrying:
            names, rare = read.column.keys, read.column.rare
            texts |= {names[index]: text for index, text in rare.source.items() if names[index] not in texts}
            several |= {names[index]: text for index, text in rare.several.items()}
            fixed |= {names[index] for index in rare.fixed}
            unformatted |= {names[index] for index in rare.unformatted}
        made = Keys(texts if wanted is None else [key for key in texts if key in wanted])
        made = keys.setdefault(made, made)
        marked = {made.places[key]: True for key in fixed if key in made.places}
        forms = {made.places[key]: {"one": texts[key], "other": text} for key, text in several.items() if key in made.places}
        first = carrying[0]
        plain = {made.places[key]: True for key in unformatted if key in made.places}
        column = Column(first.column.label, made, tuple(texts[key] for key in made), Rare(fixed=marked, forms=forms, unformatted=plain))
        yield first._replace(tag=source, column=column)


def _lacking(reads: Sequence[Read], source: Tag, part: str | None, carrying: Sequence[Read]) -> set[str]:
    """The keys that at least half of the files carry the source's text of and the source's own file has not."""
    own = {key for read in reads if read.part == part and read.tag == source for key in read.column.keys}
    counts = Counter(read.column.keys[index] for read in carrying for index in read.column.rare.source)
    return {key for key, count in counts.items() if 2 * count >= len(carrying) and key not in own}


def _keyed(reads: Sequence[Read], source: Tag, keys: dict[Keys, Keys]) -> Iterator[Read]:
    """Columns of the keys themselves: of all where the source has no file, else of what its file has not and half of the translations have,
    since a file that only spells a few texts in another way need not have the others.
    """
    without = set(_parts(reads, source))
    for part in dict.fromkeys(read.part for read in reads):
        those = [read for read in reads if read.part == part and (part in without or read.tag != source)]
        counts = Counter(key for read in those for key in read.column.keys)
        if part not in without:
            own = {key for read in reads if read.part == part and read.tag == source for key in read.column.keys}
            counts = Counter({key: count for key, count in counts.items() if 2 * count >= len(those) and key not in own})
        if not counts:
            continue
        made = Keys(counts)
        made = keys.setdefault(made, made)
        first = those[0]
        texts = tuple(key.rpartition("\x04")[2] for key in made)  # before that sign stands a context
        yield first._replace(tag=source, column=Column(first.column.label, made, texts))


def _own_texts(column: Column) -> Column:
    """The source's own *column*, with what it carries as the source where it has no text: nobody translates it into itself."""
    carried = column.rare.source
    if not carried or None not in column.texts:
        return column
    texts = tuple(carried.get(index) if text is None else text for index, text in enumerate(column.texts))
    several, forms = column.rare.several, dict(column.rare.forms)
    for index, text in several.items():
        forms.setdefault(index, {"one": carried.get(index, ""), "other": text})
    return replace(column, texts=texts, rare=replace(column.rare, forms=forms) if forms else column.rare)
