"""``lemmar tag``: what a language tag means, or was meant to."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Explain a language tag, or what it was meant to be.")
@click.argument("tags", nargs=-1, required=True, metavar="TAG...")
@click.option("--compare", is_flag=True, help="Compare two tags: the same locale or not, their distance, which falls back to which.")
@_options.output_of_tables
@_options.loudness
def command(tags: tuple[str, ...], compare: bool, form: str, target: Path | None) -> int:
    """Show for each TAG whether it is well-formed, valid and canonical, what it means, how each platform writes it, and what was likely meant if
    it is wrong. Several are shown side by side.

    Exits 0 if all are valid, 1 if one is not.
    """
    from lemmar.cli._showing import show
    from lemmar.tags import LanguageTag, TagError
    from lemmar.views import tag as views

    if not compare:
        view, valid = views.view(tags)
        show(view, form, target)
        return Exit.CLEAR if valid else Exit.HOLD
    if len(tags) != 2:
        raise UsageError(f"--compare takes two tags, found {len(tags)}")
    try:
        first, second = map(LanguageTag.parse, tags)
    except TagError as error:
        raise UsageError(str(error)) from error
    show(views.comparison(first, second, (tags[0], tags[1])), form, target)
    return Exit.CLEAR
