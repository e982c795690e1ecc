"""Landings as a figure: where each request lands in each client."""

from __future__ import annotations

from collections.abc import Sequence

from lemmar.resolve.landings import Landed, landed
from lemmar.resolve.runtimes import BY_DEFAULT, BY_NOTHING
from lemmar.resolve.world import Client, World
from lemmar.views.figures.drawing import Cell, Squares


def of_landings(world: World, clients: Sequence[Client], requests: Sequence[str]) -> Squares:
    """The *clients* down, the *requests* across."""
    cells = [[_cell(landed(world, client, request)) for request in requests] for client in clients]
    legend = "≠: not what the charter wants. (default): nothing that was asked for is supported."
    return Squares("Where requests land", [client.name for client in clients], requests, cells, legend)


def _cell(found: Landed) -> Cell:
    by_default = found.found.step == BY_DEFAULT
    text = f"{'≠ ' if found.is_wrong else ''}{found.found.tag}{' (default)' if by_default else ''}"
    return Cell(text, "1" if found.is_wrong else "4" if by_default or found.found.step == BY_NOTHING else "7")
