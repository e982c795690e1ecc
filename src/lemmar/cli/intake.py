"""``lemmar intake``: takes translators' answers back."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.basics.errors import TreeError, UsageError
from lemmar.cli import _completing, _options
from lemmar.cli._changing import ChangeOptions, change, changing
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.handoff.answers import File
    from lemmar.handoff.forms import Expected
    from lemmar.handoff.texts import Name, Text
    from lemmar.resolve.world import World
    from lemmar.tags import Tag
    from lemmar.views.changes import ChangesResult
    from lemmar.work.places import Monorepo


@click.command(short_help="Read translators' answers and write the sound ones into every catalog that needs them.")
@click.argument("files", nargs=-1, required=True, type=_options.PathName(path_type=Path), metavar="FILE...")
@click.option("--locale", metavar="TAG", shell_complete=_completing.locales, help="The locale of the files, if they do not name it.")
@click.option("--replace", is_flag=True, help="Allow an answer to replace a text that no brief listed.")
@click.option(
    "--back",
    type=_options.PathName(path_type=Path, file_okay=False),
    metavar="FOLDER",
    help="Write the answers with faults into FOLDER, to send back to translators.",
)
@changing
def command(asked: ChangeOptions, files: tuple[Path, ...], locale: str | None, replace: bool, back: Path | None) -> Exit:
    """Read the answers in these FILEs (XLIFF, PO, CSV, XLSX) to what 'lemmar brief' has listed. Each answer is checked against today's source and
    by the rules of the audit. Answers with faults are listed, and written into no catalog.
    """

    def plan(monorepo: Monorepo) -> ChangesResult:
        from lemmar.basics.phrasing import counted
        from lemmar.handoff.files import expectation
        from lemmar.handoff.intake import take
        from lemmar.handoff.returning import send_back
        from lemmar.handoff.texts import texts_of
        from lemmar.views import intake as views
        from lemmar.views.changes import ChangesResult
        from lemmar.work.changes import Step
        from lemmar.work.places import Outcome, steps_of

        world = monorepo.world
        texts = texts_of(world)
        expected = expectation(texts, world)
        read = _read(files, locale, expected, world)
        made = take(monorepo, texts, expected, read, _ages(monorepo, texts, read), replace)
        steps = views.steps(made.rows)
        if back is not None:
            steps += [Step(f"send {path} back") for path in send_back(made.rows, world, texts, monorepo.tree, back)]
        elif steps:
            steps.append(Step("--back FOLDER writes files of these for the translators, with the reasons"))
        changes = list(monorepo.changes)
        title = f"intake: {counted(sum(len(file.answers) for file in read), 'row')} in {counted(len(read), 'file')}"
        found = list(views.facts(read, made.rows, made.places))
        outcome = Outcome(made.verdict, made.new, (), made.gone)
        steps += [*monorepo.changes.steps, *steps_of([finding for finding in made.new if finding.severity != "note"])]
        return ChangesResult(title, found, changes, steps, outcome, answers=list(views.records(made.rows)))

    return change(asked, plan)


def _read(paths: Sequence[Path], locale: str | None, expected: Expected, world: World) -> list[File]:
    """The files that came back. Raises `UsageError` for one of which nobody knows the locale, `TreeError` for one that cannot be read."""
    from lemmar.cli._running import on_roster
    from lemmar.handoff.answers import File
    from lemmar.handoff.files import locale_of, read_file

    known = on_roster(world, [locale])[0] if locale is not None else None
    found = []
    for path in dict.fromkeys(paths):
        form, returned = read_file(path, expected)
        tag = known or locale_of(path, returned, world)
        if tag is None:
            raise UsageError(f"{path} does not say which locale of the roster it is in; name it with --locale")
        found.append(File(str(path), form, tag, returned.answers, returned.faults))
    return found


def _ages(monorepo: Monorepo, texts: Sequence[Text], files: Sequence[File]) -> dict[Tag, frozenset[Name]]:
    """The messages whose source was changed after their translation, by the repository's history, where there is one."""
    from lemmar.handoff.history import DEPTH, ages
    from lemmar.inventory.readings import Readings

    locales = list(dict.fromkeys(file.locale for file in files))
    try:
        return dict(ages(texts, locales, monorepo.tree, monorepo.file.root, DEPTH, Readings()).changed)
    except TreeError:
        return {}
