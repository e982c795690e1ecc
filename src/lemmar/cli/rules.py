"""``lemmar rules``: every rule, and the manual of one."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.basics.phrasing import nearest
from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit


@click.command(short_help="List the rules, or explain one.")
@click.argument("name", shell_complete=_completing.rules, required=False)
@_options.output_of_tables
@_options.loudness
def command(name: str | None, form: str, target: Path | None) -> int:
    """List every rule with its severity; with NAME, explain that rule, or list those of a family."""
    from lemmar.cli._showing import show
    from lemmar.rules import all_rules
    from lemmar.views import rules as views

    known = all_rules()
    wanted = [rule for rule in known.values() if name in (None, rule.name, rule.name.partition(".")[0])]
    if not wanted:
        raise UsageError(f"there is no rule {name!r}{nearest(name or '', known)}")
    show(views.view(wanted, manual=name in known), form, target)
    return Exit.CLEAR
