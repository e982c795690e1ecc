"""The grid as a figure: clients × locales, the share that users read in their own language."""

from __future__ import annotations

from lemmar.report import heat, percent
from lemmar.resolve.world import World
from lemmar.views.figures.drawing import Cell, Squares


def of_grid(world: World) -> Squares:
    """Clients down, the roster's locales across."""
    locales = world.charter.locales
    cells = [
        [
            Cell(percent(effect.answer), str(heat(effect.answer))) if (effect := client.effects.get(locale)) is not None else Cell("–")
            for locale in locales
        ]
        for client in world.clients
    ]
    legend = "The share of messages that users read in their own language. –: not supported."
    return Squares("Clients × locales", [client.name for client in world.clients], locales, cells, legend)
