"""``lemmar chain``: which catalogs each client really consults for a locale."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit
from lemmar.tags import Tag

if TYPE_CHECKING:
    from lemmar.resolve.world import World


@click.command(short_help="Show which catalogs each client consults for a locale, in order.")
@click.argument("locales", nargs=-1, metavar="LOCALE...")
@click.option("--client", "clients", multiple=True, metavar="NAME", help="Only this client.")
@_options.charter
@_options.output(*_options.TABLES)
@_options.loudness
def command(locales: tuple[str, ...], clients: tuple[str, ...], charter_path: Path | None, form: str, target: Path | None) -> int:
    """Show for each client the locales whose catalogs are asked, in order, for users of LOCALE; without LOCALE, for all of the roster."""
    from lemmar.audit import read_charter, survey_world
    from lemmar.cli._writing import write
    from lemmar.report.tables import FORMS, Table

    read = read_charter(charter_path)
    _options.check_known("client", clients, [client.name for client in read.charter.client])
    _options.check_known("locale on the roster", locales, read.charter.locales)
    world = survey_world(read)
    rows = list(_rows(world, tuple(map(Tag, locales)) or world.charter.locales, clients))
    if form != "text":
        write(FORMS[form](Table("chain", ("client", "locale", "consulted", "wanted"), rows)), target)
        return Exit.CLEAR
    from lemmar.cli._drawing import plain, render, table

    shown = [("client", "left"), ("locale", "left"), ("catalogs asked, in order", "left"), ("as the charter wants", "left")]
    causes = _causes(world)
    lines = [_line(row, (row[0], row[1]) in causes) for row in rows]
    told = [plain(f"{client}, {locale}: {causes[client, locale]}") for client, locale, *_ in rows if (client, locale) in causes]
    write(render([table(shown, lines), "", *told, *([""] if told else []), plain(_LEGEND, "faint")], target), target)
    return Exit.CLEAR


_LEGEND = "≠: another chain than the charter's. –: not supported. Where one catalog is chosen for all messages, only that one is asked."


def _line(row: tuple[Any, ...], differs: bool) -> list[Any]:
    from lemmar.cli._drawing import plain

    client, locale, consulted, wanted = row
    if consulted is None:
        return [client, locale, plain("–", "faint"), " → ".join(wanted)]
    return [client, locale, plain(("≠ " if differs else "") + " → ".join(consulted), "error" if differs else ""), " → ".join(wanted)]


def _causes(world: World) -> dict[tuple[str, str], str]:
    """For each client and locale whose chain is not the charter's, which link it is and where it is stated."""
    from lemmar.resolve.chains import divergences
    from lemmar.rules._speaking import chain_spot, claims_of, where_declared

    found = {}
    for client in world.clients:
        default = next((claim for claim in claims_of(client, "default") if claim.entries), None)
        for each in divergences(world.charter, client):
            extra = [link for link in each.found if link not in each.wanted]
            lost = [link for link in each.wanted if link not in each.found]
            words = "; ".join(
                [*(f"{link} is asked and not wanted" for link in extra), *(f"{link} is wanted and not asked" for link in lost)]
            )
            spot = chain_spot(client, [client.effects[each.locale].tag])
            by = "its chain"
            if spot is None and default is not None and client.roster(client.default) != world.charter.default:
                spot, by = default.spot(), "its default"
            elif spot is None:
                spot, by = where_declared(world, client), f"its lookup {client.runtime.lookup!r} in what it supports"
            found[client.name, str(each.locale)] = f"{words or 'the order differs'}, by {by}, {spot.file}:{spot.line}"
    return found


def _rows(world: World, locales: Iterable[Tag], clients: tuple[str, ...]) -> Iterable[tuple[Any, ...]]:
    for client in world.clients:
        if clients and client.name not in clients:
            continue
        for locale in locales:
            effect = client.effects.get(locale)
            wanted = [locale, *(link for link in world.charter.chain(locale) if link != locale)]
            yield client.name, locale, [client.roster(tag) for tag in effect.consulted] if effect is not None else None, wanted
