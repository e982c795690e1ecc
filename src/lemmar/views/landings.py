"""Where requests land: clients down, requests across; or step by step in words."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.report import Drawn, Page, Table, View, drawn_table, plain
from lemmar.resolve.claims import hollow
from lemmar.resolve.explaining import reasons
from lemmar.resolve.landings import Landed, asked, landed
from lemmar.resolve.runtimes import BY_DEFAULT
from lemmar.resolve.world import Client, World

_COLUMNS = ("client", "request", "landing", "wanted", "step", "consulted")


def view(world: World, clients: Sequence[Client], requests: Sequence[str], explain: bool) -> View:
    """Where each of *requests* lands in each of *clients*; with *explain* each step is explained."""
    found = [landed(world, client, request) for client in clients for request in requests]
    audience = world.charter.audience
    rows = [
        (each.client.name, each.request, each.found.tag, audience.get(each.request), each.found.step, asked(each.client, each.found))
        for each in found
    ]

    def drawn(_page: Page) -> Iterator[Drawn]:
        return _reasons(found, requests) if explain else _grid(found, requests)

    return View(Table("landing", _COLUMNS, rows), drawn)


def _reasons(found: Sequence[Landed], requests: Sequence[str]) -> Iterator[Drawn]:
    """For each request and client where it lands, step for step; clients that answer alike stand together."""
    for request in requests:
        alike: dict[tuple[str, ...], list[str]] = {}
        for each in found:
            if each.request == request:
                wrong = f"; the charter wants {each.wanted}" if each.is_wrong else ""
                behind = " → ".join(asked(each.client, each.found)) or "none"
                story = (f"{each.found.tag}{wrong}", *reasons(each.client.runtime, request), f"catalogs asked: {behind}")
                alike.setdefault(story, []).append(each.client.name)
        for (landing, *lines), names in alike.items():
            yield plain(f"{request} gets {landing}: {', '.join(names)}", "strong")
            yield from (plain(f"  {line}") for line in lines)
            yield ""


def _grid(found: Sequence[Landed], requests: Sequence[str]) -> Iterator[Drawn]:
    by_client: dict[str, list[Drawn]] = {}
    for each in found:
        landing, default = each.found.tag, each.found.step == BY_DEFAULT
        empty = _is_empty(each)
        shown = f"{'≠ ' if each.is_wrong else ''}{landing}{' (default)' if default else ''}{' (no catalog)' if empty else ''}"
        style = "error" if each.is_wrong or empty else "faint" if default else ""
        by_client.setdefault(each.client.name, []).append(plain(shown, style))
    heads = [("client", "left"), *((request, "left") for request in requests)]
    yield drawn_table(heads, [[client, *cells] for client, cells in by_client.items()])
    yield ""
    yield plain("≠: not what the charter wants. (default): none of the requested locales is supported.", "faint")
    if any(map(_is_empty, found)):
        yield plain("(no catalog): supported without a catalog, so users see another language.", "faint")


def _is_empty(each: Landed) -> bool:
    """Whether the client supports the locale that answers, and has no catalog of it."""
    return each.found.tag not in asked(each.client, each.found) and each.locale in hollow(each.client)
