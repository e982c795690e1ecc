"""``lemmar terms``: the words of the product, and what they are in each language."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show the agreed terms, and propose more from the product's texts.")
@click.argument("words", nargs=-1, metavar="[WORD]...")
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(words: tuple[str, ...], charter_path: Path | None, form: str, target: Path | None) -> Exit:
    """Show the terms that the charter has, and propose others: names that stay as they are, and words that are translated consistently.

    With WORDs, only those. The proposals are `[[term]]` tables; copy them into the charter once somebody has checked them.
    """
    from lemmar.cli._running import world_of
    from lemmar.cli._showing import show
    from lemmar.handoff.proposing import propose
    from lemmar.handoff.texts import texts_of
    from lemmar.views.terms import view

    world = world_of(charter_path)
    show(view(world, propose(world, texts_of(world), words)), form, target)
    return Exit.CLEAR
