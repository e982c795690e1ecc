"""``lemmar charter``: check it, print its schema."""

from __future__ import annotations

import json
from pathlib import Path

import click

from lemmar.basics.phrasing import counted
from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Check the charter, or print its JSON Schema.")
@_options.charter
@click.option("--schema", is_flag=True, help="Print the charter's JSON Schema, for editors, and exit.")
@_options.to_file
@_options.loudness
def command(charter_path: Path | None, schema: bool, target: Path | None) -> int:
    """Check the charter and report all its mistakes at once; no client file is read."""
    from lemmar.charter.reading import schema as make_schema
    from lemmar.cli._running import charter_of
    from lemmar.cli._writing import write

    if schema:
        write([json.dumps(make_schema(), ensure_ascii=False, indent=2) + "\n"], target)
        return Exit.CLEAR
    read, _ = charter_of(charter_path)
    roster = read.charter.roster
    trial = f", {len(roster.trial)} on trial" if roster.trial else ""
    locales = f"{len(roster.shipping)} shipping locales{trial}"
    write([f"{read.file} is in order: {counted(len(read.charter.client), 'client')}, {locales}, source {read.charter.source}.\n"], target)
    return Exit.CLEAR
