"""``lemmar compose``: makes composed catalogs and key lists anew."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli import _completing
from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Rebuild composed catalogs and key lists.")
@click.option("--client", "clients", shell_complete=_completing.clients, multiple=True, metavar="NAME", help="Only this client.")
@changing
def command(asked: ChangeOptions, clients: tuple[str, ...]) -> Exit:
    """Rebuild the catalogs of the charter's `composed` tables from their fragments, and the lists of its `key-list` tables. No build is run: the
    charter says which fragments go where.
    """

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted
        from lemmar.cli._running import chosen
        from lemmar.views.changes import ChangesResult
        from lemmar.work.composing import compose
        from lemmar.work.places import compared, steps_of

        compose(monorepo, chosen(monorepo.world, clients))
        changes = list(monorepo.changes)
        result = compared(monorepo)
        return ChangesResult(
            "compose", [counted(len(changes), "file")] if changes else [], changes, [*monorepo.changes.steps, *steps_of(result.new)], result
        )

    return change(asked, plan)
