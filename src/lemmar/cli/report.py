"""``lemmar report``: the verdict as a page."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.cli import _completing, _options
from lemmar.cli.audit import command as audit


@click.command(short_help="Write the verdict as a page for a browser.")
@click.argument("page", type=_options.PathName(path_type=Path, dir_okay=False), metavar="FILE")
@click.option(
    "--gate", shell_complete=_completing.gates, metavar="NAME", help="Decide by this gate of the charter, [gate.NAME], instead of [gate]."
)
@click.option("--since", metavar="WHAT", help="Show what is new since a git revision, a folder, or the JSON of an earlier audit.")
@_options.charter
@_options.cache
@_options.today
@_options.loudness
@click.pass_context
def command(ctx: click.Context, page: Path, gate: str | None, since: str | None, charter_path: Path | None, today: str | None) -> int:
    """Audit the monorepo and write FILE: one page with the verdict, the grid and all findings, which needs no network. Short for 'lemmar audit
    --format html -o FILE', with the same exit codes.
    """
    found: int = ctx.invoke(audit, gate=gate, since=since, charter_path=charter_path, today=today, form="html", target=page)
    return found
