"""``lemmar audit``: the gate."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.findings import Verdict


@click.command(short_help="Say whether the release may ship, and what holds it.")
@_options.charter
@click.option("--rule", "only", metavar="NAME", multiple=True, help="Show only findings of this rule or family; the verdict stays.")
@click.option("--client", "clients", metavar="NAME", multiple=True, help="Show only findings of this client; the verdict stays.")
@click.option("--all", "everything", is_flag=True, help="Show every finding, not only the first of each rule.")
@click.option("--schema", is_flag=True, help="Print the JSON Schema of --format json, and stop.")
@_options.today
@_options.output("text", "json")
@_options.loudness
@click.pass_context
def command(
    ctx: click.Context,
    charter_path: Path | None,
    only: tuple[str, ...],
    clients: tuple[str, ...],
    everything: bool,
    schema: bool,
    today: str | None,
    form: str,
    target: Path | None,
) -> int:
    """Hold every client against the charter: may we ship?

    Exits 0 when the release is clear, 1 when something holds it.
    """
    from lemmar.cli._writing import remark, write

    if schema:
        from lemmar.report.audit_json import shipped_schema

        write(shipped_schema(), target)
        return Exit.CLEAR
    from lemmar.audit import audit, read_charter

    read = read_charter(charter_path)
    _check_names(only, clients, [client.name for client in read.charter.client])
    remark(f"reading {len(read.charter.client)} clients of {read.root / read.file}", detail=True)
    verdict = audit(read, today)
    if form == "json":
        from lemmar.report.audit_json import write as as_json

        write(as_json(verdict), target)
    else:
        from lemmar.cli._verdict import draw

        write(draw(verdict, only, clients, everything, target), target)
    if target is not None:
        remark(f"{'hold' if verdict.hold else 'clear'}; the findings are in {target}")
    return _code(verdict)


def _code(verdict: Verdict) -> int:
    if verdict.hold:
        return Exit.HOLD
    return Exit.CLEAR if verdict.complete else Exit.INCOMPLETE


def _check_names(only: tuple[str, ...], clients: tuple[str, ...], known: list[str]) -> None:
    if only:
        from lemmar.rules import all_rules

        _options.check_known("rule", only, [*all_rules(), *sorted({rule.partition(".")[0] for rule in all_rules()})])
    _options.check_known("client", clients, known)
