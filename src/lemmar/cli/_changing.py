"""What the commands share that change a monorepo: they show what they would do, and do it with ``--write``."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


class ChangeOptions(NamedTuple):
    """What all of these commands are asked."""

    write_it: bool
    everything: bool
    charter_path: Path | None
    today: str | None
    form: str
    target: Path | None


#: The options of a command that changes a monorepo.
changing = _options.group(
    "asked",
    ChangeOptions,
    click.option("--write", "write_it", is_flag=True, help="Write the changes. Without it they are only shown."),
    click.option("--all", "everything", is_flag=True, help="Show every line that changes, not only the first of each file."),
    _options.charter,
    _options.today,
    _options.output_of_tables,
    _options.loudness,
)


def change(asked: ChangeOptions, plan: Callable[[Monorepo], ChangesResult]) -> Exit:
    """Makes a *plan* for the monorepo of a charter, shows it, and writes it where that is asked for.

    Raises:
        UsageError: it cannot be made, or the monorepo is a revision.
        TreeError: it cannot be written; then nothing is.
    """
    from lemmar.basics.days import day_of
    from lemmar.basics.errors import UsageError
    from lemmar.basics.phrasing import counted
    from lemmar.cli._showing import show
    from lemmar.cli._writing import remark
    from lemmar.documents.splicing import EditError
    from lemmar.views.changes import view
    from lemmar.work.places import Monorepo
    from lemmar.work.writing import write

    where = _options.origin(asked.charter_path)
    if asked.write_it and (where.at is not None or not where.file.on_disk):
        raise UsageError("a revision cannot be changed; leave out --at and REVISION:")
    monorepo = Monorepo(where.file, where.walked(), day_of(asked.today))
    try:
        shown = plan(monorepo)
    except EditError as error:
        raise UsageError(f"{where.file.name} cannot be edited: {error}") from error
    show(view(shown._replace(everything=asked.everything)), asked.form, asked.target)
    if not shown.changes:
        remark("there is nothing to change")
    elif asked.write_it:
        written = write(where.file.root, monorepo.changes.before, monorepo.changes.written)
        _record_moves(where.file.root, monorepo)
        gone = f", {counted(written.gone, 'file')} gone" if written.gone else ""
        remark(f"wrote {counted(written.made, 'file')}{gone}")
    else:
        remark("Nothing was written. Use --write to apply the changes.")
    return Exit.CLEAR


def _record_moves(root: Path, monorepo: Monorepo) -> None:
    """Lets git know of files that lie elsewhere, where there is git."""
    from lemmar.basics.errors import TreeError
    from lemmar.trees.repository import Repository

    moves: dict[str, str] = {str(file): str(to) for file, to in monorepo.changes.moves.items()}
    if moves:
        with suppress(TreeError):  # there is none, or it does not know the folder
            Repository(root).record_moves(moves)
