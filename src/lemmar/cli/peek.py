"""``lemmar peek``: what users see for a message, per client and locale."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show what users see for a message, per client and locale.")
@click.argument("key", shell_complete=_completing.keys, required=False)
@click.option("--text", "words", metavar="WORDS", help="Find the message by its text in any locale, not by its key.")
@click.option("--client", "clients", shell_complete=_completing.clients, multiple=True, metavar="NAME", help="Only this client.")
@click.option(
    "--locale", "locales", shell_complete=_completing.locales, multiple=True, metavar="TAG", help="Only this locale of the roster."
)
@click.option("--part", metavar="NAME", help="Only this part.")
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(
    key: str | None,
    words: str | None,
    clients: tuple[str, ...],
    locales: tuple[str, ...],
    part: str | None,
    charter_path: Path | None,
    form: str,
    target: Path | None,
) -> int:
    """Show what users of each locale see for the message KEY (* matches) in each client, and which locale it comes from."""
    from lemmar.cli._running import chosen, on_roster, world_of
    from lemmar.cli._showing import show
    from lemmar.views import peek as views

    if (key is None) == (words is None):
        raise UsageError("name a key, or a part of its text with --text")
    world = world_of(charter_path)
    view = views.view(world, chosen(world, clients), on_roster(world, locales), views.Wanted(key, words, part))
    if not view.table.rows:
        raise UsageError(f"no client has a message {key!r}" if key is not None else f"no client has a text with {words!r}")
    show(view, form, target)
    return Exit.CLEAR
