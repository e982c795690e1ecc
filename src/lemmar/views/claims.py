"""Locales down, each client's claims across, and where they differ."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

from lemmar.report import Drawn, Page, Table, View, drawn_table, plain
from lemmar.resolve.claims import Stated, place_of, stated
from lemmar.resolve.world import Client, World
from lemmar.tags import Tag
from lemmar.views.blocks import blocks
from lemmar.views.grid import locale_name

_COLUMNS = ("client", "states", "place", "locale", "written", "differs")
_LEGEND = "✓: listed; if written differently, as it is written. –: not listed. ≠: differs from the roster."
_WIDEST = 20


class _Column(NamedTuple):
    """One place of a client: its number, what it states and where."""

    number: int
    client: Client
    stated: Stated
    place: str

    def differs(self, tag: Tag) -> bool:
        """Whether the locale is lacking there, or should not stand there."""
        return tag in self.stated.lacks or tag in self.stated.adds


def view(world: World) -> View:
    """How each place of each client names each locale."""
    places = [(client, each) for client in world.clients for each in stated(world, client)]
    columns = [_Column(number, client, each, place_of(client, each)) for number, (client, each) in enumerate(places, start=1)]
    tags = _locales(world, columns)
    rows = [
        (column.client.name, column.stated.states, column.place, tag, column.stated.written.get(tag), column.differs(tag))
        for column in columns
        for tag in tags
    ]
    return View(Table("claims", _COLUMNS, rows), lambda page: _draw(world, columns, tags, page))


def _locales(world: World, columns: Iterable[_Column]) -> list[Tag]:
    """The roster's locales in its order, then whatever else a claim names."""
    more = sorted({tag for column in columns for tag in column.stated.written} - set(world.charter.locales))
    return [*world.charter.locales, *more]


def _draw(world: World, columns: list[_Column], tags: list[Tag], page: Page) -> Iterator[Drawn]:
    for block in blocks(columns, _need, page.width - max(map(len, tags)) - 8):
        yield plain(_clients_of(block), "strong")
        heads = [("locale", "left"), *((f"{column.number} {column.stated.states}", "left") for column in block)]
        yield drawn_table(heads, [[locale_name(world, tag), *(_cell(column, tag) for column in block)] for tag in tags])
        yield ""
    heads = [("", "right"), ("client", "left"), ("states", "left"), ("where", "left")]
    yield drawn_table(heads, [(str(column.number), column.client.name, column.stated.states, column.place) for column in columns])
    yield ""
    yield plain(_LEGEND, "faint")


def _clients_of(block: list[_Column]) -> str:
    """``1-5 booking-site, 6-8 warden-desk``: whose the columns are."""
    names: dict[str, list[int]] = {}
    for column in block:
        names.setdefault(column.client.name, []).append(column.number)
    return ", ".join(f"{numbers[0]}{f'-{numbers[-1]}' if len(numbers) > 1 else ''} {name}" for name, numbers in names.items())


def _need(column: _Column) -> int:
    widest = max([len(text) for tag, text in column.stated.written.items() if text != tag] + [1])
    return max(len(column.stated.states) + len(str(column.number)) + 1, min(widest, _WIDEST) + 2) + 3


def _cell(column: _Column, tag: Tag) -> Drawn:
    text = column.stated.written.get(tag)
    shown = "–" if text is None else "✓" if text == tag else text if len(text) <= _WIDEST else f"{text[: _WIDEST - 1]}…"
    if column.differs(tag):
        return plain(f"≠ {shown}", "error")
    return plain(shown, "" if text is not None else "faint")
