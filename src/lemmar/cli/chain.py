"""``lemmar chain``: which catalogs each client really consults for a locale."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from lemmar.cli import options
from lemmar.cli.exits import Exit

if TYPE_CHECKING:
    from lemmar.model import World


@click.command(short_help="Show which catalogs each client consults for a locale, in order.")
@click.argument("locales", nargs=-1, metavar="LOCALE...")
@click.option("--client", "clients", multiple=True, metavar="NAME", help="Only this client.")
@options.charter
@options.output(*options.TABLES)
@options.loudness
def command(locales: tuple[str, ...], clients: tuple[str, ...], charter_path: Path | None, form: str, target: Path | None) -> int:
    """Show for each client the locales whose catalogs are asked, in order, for users of LOCALE; without LOCALE, for all of the roster."""
    from lemmar.audit import read_charter, survey_world
    from lemmar.cli.writing import write
    from lemmar.report.tables import FORMS, Table

    read = read_charter(charter_path)
    options.check_known("client", clients, [client.name for client in read.charter.client])
    options.check_known("locale on the roster", locales, read.charter.locales)
    world = survey_world(read)
    rows = list(_rows(world, locales or tuple(world.charter.locales), clients))
    if form != "text":
        write(FORMS[form](Table("chain", ("client", "locale", "consulted", "wanted"), rows)), target)
        return Exit.CLEAR
    from lemmar.cli.drawing import plain, render, table

    shown = [("client", "left"), ("locale", "left"), ("catalogs asked, in order", "left"), ("as the charter wants", "left")]
    write(render([table(shown, list(map(_line, rows))), "", plain(_LEGEND, "faint")], target), target)
    return Exit.CLEAR


_LEGEND = "≠: a link of another language comes before, or instead of, the charter's. –: not supported."


def _line(row: tuple[Any, ...]) -> list[Any]:
    from lemmar.cli.drawing import plain
    from lemmar.resolve.pairing import same_language

    client, locale, consulted, wanted = row
    if consulted is None:
        return [client, locale, plain("–", "faint"), " → ".join(wanted)]
    foreign = [link for link in consulted if not same_language(locale, link)]
    agreed = [link for link in wanted if not same_language(locale, link)]
    differs = bool(foreign) and foreign[: len(agreed)] != agreed[: len(foreign)]
    return [client, locale, plain(("≠ " if differs else "") + " → ".join(consulted), "error" if differs else ""), " → ".join(wanted)]


def _rows(world: World, locales: Iterable[str], clients: tuple[str, ...]) -> Iterable[tuple[Any, ...]]:
    default = world.charter.chains.get("default", (world.charter.source,))
    for client in world.clients:
        if clients and client.name not in clients:
            continue
        for locale in locales:
            effect = client.effects.get(locale)  # type: ignore[call-overload]
            wanted = [locale, *(link for link in world.charter.chains.get(locale, default) if link != locale)]
            yield client.name, locale, [client.roster(tag) for tag in effect.consulted] if effect is not None else None, wanted
