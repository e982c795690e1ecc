"""``lemmar retire``: lets no client carry a locale any more."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Remove a locale: from the charter, every claim and, if asked, every catalog.")
@click.argument("tag")
@click.option("--drop-files", is_flag=True, help="Delete its catalogs as well. Without it they stay.")
@changing
def command(asked: ChangeOptions, tag: str, drop_files: bool) -> Exit:
    """Show every edit that removes the locale TAG, which locale its users will get, and the steps that are left for a person."""

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted
        from lemmar.tags import Tag
        from lemmar.views.changes import ChangesResult
        from lemmar.work.enrolling import named
        from lemmar.work.retiring import retire

        made = retire(monorepo, Tag(tag), drop_files)
        changes = list(monorepo.changes)
        facts = [f"{counted(monorepo.changes.places, 'place')} in {counted(len(changes), 'file')} change"]
        if not drop_files:
            facts.append("its catalogs stay; --drop-files deletes them")
        return ChangesResult(f"retire {tag}: {named(made.locale)}", facts, changes, made.steps, made.outcome, made.moved)

    return change(asked, plan)
