"""Which catalogs each client asks for a locale, beside what the charter wants, and why they differ."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from lemmar.report import Drawn, Page, Table, View, drawn_table, plain
from lemmar.resolve.chains import Chain, chains, divergence_cause
from lemmar.resolve.world import Client, World
from lemmar.tags import Tag

_COLUMNS = ("client", "locale", "consulted", "wanted")
_LEGEND = "≠: differs from the charter's chain. –: not supported. A client that uses one catalog for all messages asks only that one."


def view(world: World, clients: Sequence[Client], locales: Sequence[Tag]) -> View:
    """The chains of *locales*, without any of the whole roster, in each of *clients*."""
    found = [(client, each) for client in clients for each in chains(world, client, locales)]
    rows = [(client.name, each.locale, each.consulted, each.wanted) for client, each in found]

    def drawn(_page: Page) -> Iterator[Drawn]:
        heads = [("client", "left"), ("locale", "left"), ("catalogs asked, in order", "left"), ("as the charter wants", "left")]
        yield drawn_table(heads, [_line(client, each) for client, each in found])
        yield ""
        why = [plain(f"{client.name}, {each.locale}: {_why(world, client, each)}") for client, each in found if each.diverges]
        yield from why
        if why:
            yield ""
        yield plain(_LEGEND, "faint")

    return View(Table("chain", _COLUMNS, rows), drawn)


def _line(client: Client, each: Chain) -> list[Any]:
    wanted = " → ".join(each.wanted)
    if each.consulted is None:
        return [client.name, each.locale, plain("–", "faint"), wanted]
    shown = plain(("≠ " if each.diverges else "") + " → ".join(each.consulted), "error" if each.diverges else "")
    return [client.name, each.locale, shown, wanted]


def _why(world: World, client: Client, each: Chain) -> str:
    """Which link makes the difference, and where it is stated."""
    extra = [f"{link} is asked but not wanted" for link in each.behind if link not in each.wanted_behind]
    lost = [f"{link} is wanted but not asked" for link in each.wanted_behind if link not in each.behind]
    cause, spot = divergence_cause(world, client, [each])
    by = {"chain": "its chain", "default": "its default"}.get(cause, f"its lookup {client.runtime.lookup!r} in what it supports")
    return f"{'; '.join(extra + lost) or 'the order differs'}, by {by}, {spot.file}:{spot.line}"
