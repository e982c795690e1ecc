"""The tag family: is every locale written so that it means what its writer meant?"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from lemmar.model import Client, Entry, Hides, Problem, Spot, Subject, World
from lemmar.rules import rule


class _Written(NamedTuple):
    """A locale as a place writes it; *where* names the kind of place, *group* the list that it belongs to."""

    clients: tuple[str, ...]
    entry: Entry
    spot: Spot
    where: str
    group: tuple[object, ...]


def _claimed(client: Client) -> Iterator[_Written]:
    for number, claim in enumerate(client.claims):
        for entry in claim.entries:
            if claim.file is not None:
                spot = Spot(claim.file, claim.digest, line=entry.value.line, column=entry.value.column)
                yield _Written((client.name,), entry, spot, str(claim.file), (client.name, number))


def _named(client: Client) -> Iterator[_Written]:
    """Names of files and folders, each spelling once a catalog, and headers of columns, each time."""
    seen: set[tuple[str, bool]] = set()
    sheets = {catalog.file for catalog in client.catalogs if catalog.column.label}
    for file, entry in client.names:
        header = file in sheets
        if header or (entry.value.text, header) not in seen:
            seen.add((entry.value.text, header))
            spot = Spot(file, line=entry.value.line, column=entry.value.column)
            yield _Written((client.name,), entry, spot, f"a column of {file}" if header else "a file's name", (file,) if header else ())


def _written(world: World) -> Iterator[_Written]:
    for client in world.clients:
        yield from _claimed(client)
        yield from _named(client)


@rule("tag.malformed", "error", "A text stands where a locale should, and is none.")
def malformed(world: World) -> Iterator[Problem]:
    """A word that is no language tag in its place's spelling names no locale: what it was meant for is not there.

    Reported once for each place in a claim, file name or header. Not reported: a locale in another spelling
    (`tag.noncanonical`). To fix: write the locale as the place's spelling has it, or say in `spelled` what is meant.
    """
    for client, entry, spot, where, _ in _written(world):
        if entry.tag is None:
            spelling = "any spelling" if entry.spelling == "auto" else f"the spelling {entry.spelling!r}"
            yield Problem(
                Subject(client),
                f"{entry.value.text!r} in {where} is no locale in {spelling}",
                spot,
                "whoever it was meant for does not get it",
                "write it as a language tag, or say what is meant under 'spelled' in the charter",
                detail=entry.value.text,
            )


@rule("tag.noncanonical", "warning", "A locale is written in another case or with other separators than its place has them.")
def noncanonical(world: World) -> Iterator[Problem]:
    """Programs compare tags letter by letter: a list with `pt-br` and a folder `pt-BR` do not meet on every system.

    Reported once for each place in a claim, file name or header; the finding says how that place's spelling has it.
    To fix: write it so.
    """
    for clients, entry, spot, where, _ in _written(world):
        if entry.tag is not None and entry.wanted is not None:
            yield Problem(
                Subject(clients, entry.tag),
                f"{entry.value.text!r} in {where} is written {entry.wanted!r}",
                spot,
                "a program that compares letter by letter does not find it",
                f"write {entry.wanted!r}",
                detail=entry.value.text,
            )


@rule("tag.twice", "error", "One locale stands twice in one list.", hides=(Hides(("tag.*",), ("entry",)),))
def twice(world: World) -> Iterator[Problem]:
    """Of two entries for one locale a program takes one, and nobody knows which; the other's texts are lost.

    Reported at each entry after the first, in one claim or among the columns of one sheet, and for two files of one catalog
    that hold the same part in the same locale. To fix: remove one of them.
    """
    seen: dict[tuple[object, ...], _Written] = {}
    for written in _written(world):
        if written.entry.tag is None or not written.group:
            continue
        first = seen.setdefault((*written.group, written.entry.tag), written)
        if first is not written:
            how = "again" if first.entry.value.text == written.entry.value.text else f"as {first.entry.value.text!r} before, now"
            yield _twice(
                written.clients,
                written.entry,
                written.spot,
                first.spot,
                f"{written.entry.tag!r} stands twice in {written.where}: {how} as {written.entry.value.text!r}",
            )
    for client in world.clients:
        files: dict[tuple[object, ...], Spot] = {}
        for catalog in client.catalogs:
            spot = Spot(catalog.file, catalog.digest, line=1, column=1)
            before = files.setdefault((catalog.order, catalog.tag, catalog.part), spot)
            if before.file != spot.file:
                text = f"two files hold {client.roster(catalog.tag)!r}: {before.file} and {catalog.file}"
                yield Problem(
                    Subject((client.name,), client.roster(catalog.tag), catalog.part), text, spot, _TWICE, "keep one of them", (before,)
                )


_TWICE = "a program takes one of the two; the other's texts are lost"


def _twice(clients: tuple[str, ...], entry: Entry, spot: Spot, first: Spot, text: str) -> Problem:
    return Problem(Subject(clients, entry.tag), text, spot, _TWICE, "remove one of the two", (first,), detail=entry.value.text)
