"""``lemmar mend``: repairs that need no judgement."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Fix what needs no judgement.")
@click.argument("rules", nargs=-1, metavar="[RULE]...")
@changing
def command(asked: ChangeOptions, rules: tuple[str, ...]) -> Exit:
    """Fix what these RULEs report (default: all rules that have a repair). 'lemmar rules RULE' says whether a rule has one, and what it does."""

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted
        from lemmar.views.changes import ChangesResult, mended_facts
        from lemmar.work.mending import mend
        from lemmar.work.places import Outcome, steps_of

        made = mend(monorepo, rules)
        changes = list(monorepo.changes)
        before, after = (sum(pair[side] for pair in made.counts.values()) for side in (0, 1))
        title = f"mend: {counted(before - after, 'finding')} of {before:,} in {counted(len(changes), 'file')}"
        steps = [*monorepo.changes.steps, *steps_of(made.new)]
        return ChangesResult(title, mended_facts(made.counts), changes, steps, Outcome(made.verdict, made.new, (), 0))

    return change(asked, plan)
