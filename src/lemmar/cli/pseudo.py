"""``lemmar pseudo``: makes test catalogs of the source."""

from __future__ import annotations

from typing import TYPE_CHECKING

import click

from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Write test catalogs: the source's texts accented and longer, or mirrored.")
@click.argument("tags", nargs=-1, metavar="[TAG]...")
@changing
def command(asked: ChangeOptions, tags: tuple[str, ...]) -> Exit:
    """Write the catalogs of the test locales TAG (default: those of the charter) from the source's texts. In a locale such as en-XA they are
    accented, a third longer and in brackets; in one such as ar-XB they are mirrored. Placeholders, markup and plurals stay as they are.
    """

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted, listed
        from lemmar.views.changes import ChangesResult
        from lemmar.work.enrolling import judged, known_tag
        from lemmar.work.pseudo import pseudo

        chosen = tuple(map(known_tag, tags))
        pseudo(monorepo, chosen)
        named = chosen or tuple(monorepo.read.charter.roster.pseudo)
        changes = list(monorepo.changes)
        result, steps = judged(monorepo, named[0])
        return ChangesResult(
            f"pseudo: {listed(named)}", [counted(len(changes), "file")], changes, (*monorepo.changes.steps, *steps), result
        )

    return change(asked, plan)
