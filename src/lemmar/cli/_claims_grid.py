"""``lemmar grid --claims``: locales down, each client's claims across, and where they differ."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, NamedTuple

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.inventory.contents import Claim
    from lemmar.report.tables import Table
    from lemmar.resolve.world import Client, World
    from lemmar.tags import Tag


class Column(NamedTuple):
    """One claim, or the files of a client: what it states, where, and how it writes each of the roster's locales."""

    number: int
    client: Client
    states: str
    place: str
    written: dict[Tag, str]
    all_expected: bool


def columns(world: World) -> list[Column]:
    """The claims of all clients in their order, and behind them the client's files, where it has any by locale."""
    found: list[Column] = []
    for client in world.clients:
        for claim in client.claims:
            if claim.states in ("supported", "offered", "routed", "source", "default"):
                expected = claim.states in ("supported", "offered")
                found.append(Column(len(found) + 1, client, claim.states, _place(claim), _written(client, claim), expected))
        files: dict[Tag, str] = {}
        for _, entry in client.names:
            if entry.tag:
                files.setdefault(client.roster(entry.tag), entry.value.text)
        for catalog in client.catalogs:  # also files that name no locale
            files.setdefault(client.roster(catalog.tag), str(catalog.tag))
        if files:
            found.append(Column(len(found) + 1, client, "files", ", ".join(pattern.files for pattern in client.patterns), files, True))
    return found


def _place(claim: Claim) -> str:
    return f"{claim.file}:{claim.entries[0].value.line if claim.entries else 1}"


def _written(client: Client, claim: Claim) -> dict[Tag, str]:
    return {client.roster(entry.tag): entry.value.text for entry in reversed(claim.entries) if entry.tag}


def locales(world: World, found: Iterable[Column]) -> list[Tag]:
    """The roster's locales in its order, then whatever else a claim names."""
    more = sorted({tag for column in found for tag in column.written} - set(world.charter.locales))
    return [*world.charter.locales, *more]


def differs(world: World, column: Column, tag: Tag) -> bool:
    """Whether this cell is one to look at: a locale that is lacking though the client needs it, or there though nobody wants it."""
    if tag in column.written:
        return tag not in column.client.needs
    lacks = column.all_expected or column.states == "routed"
    if column.states == "supported" and tag == world.charter.source and any(claim.states == "source" for claim in column.client.claims):
        return False  # the manifest names it beside the list
    if column.states == "routed" and tag in (column.client.default, world.charter.source):
        return False
    return lacks and tag in column.client.needs and tag in world.charter.locales and not _inherits(column, tag)


def _inherits(column: Column, tag: Tag) -> bool:
    """Whether no file is needed, as every text comes from a parent."""
    effect = column.client.effects.get(tag)
    return column.states == "files" and effect is not None and effect.answer.complete == effect.answer.messages


def table(world: World) -> Table:
    """The claims as rows for machines."""
    from lemmar.report.tables import Table

    found = columns(world)
    rows = [
        (column.client.name, column.states, column.place, tag, column.written.get(tag), differs(world, column, tag))
        for column in found
        for tag in locales(world, found)
    ]
    return Table("claims", ("client", "states", "place", "locale", "written", "differs"), rows)


def draw(world: World) -> list[Drawn]:
    """The grid in as many blocks as the width wants, with the claims' places below."""
    from lemmar.cli._drawing import plain, width
    from lemmar.cli._drawing import table as drawn

    found = columns(world)
    tags = locales(world, found)
    first = max(map(len, tags)) + 8
    blocks: list[list[Column]] = [[]]
    room = width() - first
    for column in found:
        if blocks[-1] and sum(map(_need, blocks[-1])) + _need(column) > room:
            blocks.append([])
        blocks[-1].append(column)
    parts: list[Drawn] = []
    for block in blocks:
        heads = [("locale", "left"), *((f"{column.number} {column.states}", "left") for column in block)]
        rows = [[_locale(world, tag), *(_cell(world, column, tag) for column in block)] for tag in tags]
        parts += [plain(_clients_of(block), "strong"), drawn(heads, rows), ""]
    parts.append(drawn([("", "right"), ("client", "left"), ("states", "left"), ("where", "left")],
                       [(str(column.number), column.client.name, column.states, column.place) for column in found]))  # fmt: skip
    parts += [
        "",
        plain("✓: it is there; where it is written in another way, how. – is not there. ≠ marks what differs from the roster.", "faint"),
    ]
    return parts


def _clients_of(block: list[Column]) -> str:
    """``1-5 booking-site, 6-8 warden-desk``: whose the columns are."""
    names: dict[str, list[int]] = {}
    for column in block:
        names.setdefault(column.client.name, []).append(column.number)
    return ", ".join(f"{numbers[0]}{f'-{numbers[-1]}' if len(numbers) > 1 else ''} {name}" for name, numbers in names.items())


def _need(column: Column) -> int:
    widest = max([len(text) for tag, text in column.written.items() if text != tag] + [1])
    return max(len(column.states) + len(str(column.number)) + 1, min(widest, 20) + 2) + 3


def _locale(world: World, tag: str) -> str:
    return f"{tag} (trial)" if tag in world.charter.roster.trial else tag if tag in world.charter.locales else f"{tag} (not on it)"


def _cell(world: World, column: Column, tag: Tag) -> Drawn:
    from lemmar.cli._drawing import plain

    text = column.written.get(tag)
    shown = "–" if text is None else "✓" if text == tag else text if len(text) <= 20 else f"{text[:19]}…"
    if differs(world, column, tag):
        return plain(f"≠ {shown}", "error")
    return plain(shown, "" if text is not None else "faint")
