"""``lemmar retag``: calls a locale by another tag."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Rename a locale: in the charter, claims, files and folders.")
@click.argument("old")
@click.argument("new")
@changing
def command(asked: ChangeOptions, old: str, new: str) -> Exit:
    """Rename the locale OLD to NEW everywhere, and show where users who had chosen OLD end up."""

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted
        from lemmar.tags import Tag
        from lemmar.views.changes import ChangesResult
        from lemmar.work.enrolling import known_tag, named
        from lemmar.work.retagging import retag

        made = retag(monorepo, Tag(old), known_tag(new))
        changes = list(monorepo.changes)
        facts = [f"{counted(monorepo.changes.places, 'place')} in {counted(len(changes), 'file')} change"]
        return ChangesResult(f"retag {old} {new}: {named(made.locale)}", facts, changes, made.steps, made.outcome, made.moved)

    return change(asked, plan)
