"""``lemmar enroll``: makes every client carry a locale."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Add a locale: to the charter, every claim, every catalog.")
@click.argument("tag")
@click.option(
    "--trial", type=click.FloatRange(0, 1), metavar="SHARE", help="Add it as a trial locale, which must reach this share of the messages."
)
@click.option("--like", metavar="TAG", help="Copy how this locale of the roster is written.")
@changing
def command(asked: ChangeOptions, tag: str, trial: float | None, like: str | None) -> Exit:
    """Show every edit that the new locale TAG needs, and the steps that are left for a person.

    Its catalogs begin without texts. A trial locale becomes a shipping one.
    """

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted
        from lemmar.tags import Tag
        from lemmar.views.changes import ChangesResult
        from lemmar.work.enrolling import enroll, known_tag, named, summary

        made = enroll(monorepo, known_tag(tag), trial, Tag(like) if like is not None else None)
        changes = list(monorepo.changes)
        places = counted(monorepo.changes.places, "place")
        facts = [f"{places} in {counted(len(changes), 'file')} change", f"{summary(made)} to translate", *made.news]
        work = [(each.client, each.messages, each.words) for each in made.work]
        title = f"enroll {tag}: {named(made.locale)}, {f'on trial from {trial:.0%}' if trial is not None else 'shipping'}"
        return ChangesResult(title, facts if changes else (), changes, made.steps, made.outcome, made.moved, work)

    return change(asked, plan)
