"""``lemmar retire``: lets no client carry a locale any more."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Take a locale out: of the charter, every claim, and, if asked, every catalog.")
@click.argument("tag")
@click.option("--drop-files", is_flag=True, help="Delete its catalogs as well; without it they stay.")
@changing
def command(asked: ChangeOptions, tag: str, drop_files: bool) -> Exit:
    """Take the locale TAG out: where its users land then, every edit, and what is left for a person."""

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
