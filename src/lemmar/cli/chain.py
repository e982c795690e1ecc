"""``lemmar chain``: which catalogs each client really consults for a locale."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show which catalogs each client asks for a locale, in order.")
@click.argument("locales", shell_complete=_completing.locales, nargs=-1, metavar="LOCALE...")
@click.option("--client", "clients", shell_complete=_completing.clients, multiple=True, metavar="NAME", help="Only this client.")
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(locales: tuple[str, ...], clients: tuple[str, ...], charter_path: Path | None, form: str, target: Path | None) -> int:
    """Show which catalogs each client asks for users of LOCALE, in order; without LOCALE, for every locale of the roster."""
    from lemmar.cli._running import chosen, on_roster, world_of
    from lemmar.cli._showing import show
    from lemmar.views import chains

    world = world_of(charter_path)
    show(chains.view(world, chosen(world, clients), on_roster(world, locales)), form, target)
    return Exit.CLEAR
