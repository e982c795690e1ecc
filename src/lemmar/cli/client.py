"""``lemmar client``: what is known of one client, and from where."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show what is known about a client, and from where.")
@click.argument("name", shell_complete=_completing.clients, required=False)
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(name: str | None, charter_path: Path | None, form: str, target: Path | None) -> int:
    """Show the catalogs, claims and runtime traits of the client NAME, and where each is known from; without NAME, list the clients."""
    from lemmar.cli._running import chosen, world_of
    from lemmar.cli._showing import show
    from lemmar.views import client as views

    world = world_of(charter_path)
    show(views.view(world, *chosen(world, [name])) if name is not None else views.listing(world), form, target)
    return Exit.CLEAR
