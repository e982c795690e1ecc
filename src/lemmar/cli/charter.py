"""``lemmar charter``: check it, confirm what was drafted, print its schema."""

from __future__ import annotations

import json
from pathlib import Path

import click

from lemmar.basics.phrasing import counted
from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Check the charter, confirm drafted tables, or print its JSON Schema.")
@_options.charter
@click.option("--schema", is_flag=True, help="Print the charter's JSON Schema, for editors, and exit.")
@click.option(
    "--confirm",
    "names",
    metavar="NAME",
    multiple=True,
    help="Confirm what the survey drafted: all tables of a client, or one by its place (lemmar.toml:28).",
)
@_options.to_file
@_options.loudness
def command(charter_path: Path | None, schema: bool, names: tuple[str, ...], target: Path | None) -> int:
    """Check the charter and report all its mistakes at once; no client file is read.

    With --confirm, take out of the tables that you name how sure the survey was of them: what rests on them then counts in full.
    """
    from lemmar.charter.reading import schema as make_schema
    from lemmar.cli._running import charter_of
    from lemmar.cli._writing import write

    if schema:
        write([json.dumps(make_schema(), ensure_ascii=False, indent=2) + "\n"], target)
        return Exit.CLEAR
    if names:
        return _confirm(charter_path, names)
    read, _ = charter_of(charter_path)
    roster = read.charter.roster
    trial = f", {len(roster.trial)} on trial" if roster.trial else ""
    locales = f"{len(roster.shipping)} shipping locales{trial}"
    write([f"{read.file} is in order: {counted(len(read.charter.client), 'client')}, {locales}, source {read.charter.source}.\n"], target)
    return Exit.CLEAR


def _confirm(charter_path: Path | None, names: tuple[str, ...]) -> int:
    from lemmar.basics.errors import TreeError, UsageError
    from lemmar.cli._writing import remark, replaced
    from lemmar.work.confirming import confirmed

    file = _options.origin(charter_path).file
    if not file.on_disk:
        raise UsageError("a charter of a revision cannot be written; leave out --at and REVISION:")
    before = {file.name: file.data, **{each.name: each.data for each in file.included}}
    after = confirmed(file, names)
    for name, data in after.items():
        if not replaced(file.root / name, before[name], data):
            raise TreeError(f"{file.root / name} was changed meanwhile; nothing was written there: run the command again")
        lines = before[name].count(b"\n") - data.count(b"\n")
        remark(f"wrote {name}: {counted(lines, 'table')} confirmed")
    if not after:
        remark("Every table of these is confirmed already.")
    return Exit.CLEAR
