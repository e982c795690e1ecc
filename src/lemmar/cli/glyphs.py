"""``lemmar glyphs``: the characters that texts need signs for."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit


@click.command(short_help="List the characters that texts need, as ranges.")
@click.argument("locales", nargs=-1, metavar="[LOCALE]...", shell_complete=_completing.locales)
@click.option("--client", "clients", shell_complete=_completing.clients, multiple=True, metavar="NAME", help="Only this client.")
@click.option("--together", is_flag=True, help="List all of them together, as one row of ranges.")
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(
    locales: tuple[str, ...], clients: tuple[str, ...], together: bool, charter_path: Path | None, form: str, target: Path | None
) -> int:
    """List the characters that each LOCALE's texts use, as ranges for subsetting a font; without LOCALE, for the whole roster. Text that the
    program inserts is not included: add digits, and whatever users type.
    """
    from lemmar.cli._running import chosen, on_roster, world_of
    from lemmar.cli._showing import show
    from lemmar.views import glyphs

    world = world_of(charter_path)
    show(glyphs.view(world, chosen(world, clients), on_roster(world, locales), together), form, target)
    return Exit.CLEAR
