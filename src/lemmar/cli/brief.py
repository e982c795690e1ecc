"""``lemmar brief``: the missing work, as files for translators."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.basics.errors import TreeError, UsageError
from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.charter.origins import Origin
    from lemmar.handoff.brief import Only
    from lemmar.handoff.texts import Name, Text
    from lemmar.tags import Tag
    from lemmar.trees import Tree

_DEPTH = 1_000  # as `lemmar.handoff.history.DEPTH`, which is not loaded to start


@click.command(short_help="List what there is to translate, and write files for translators.")
@click.argument("locales", nargs=-1, metavar="[LOCALE]...", shell_complete=_completing.locales)
@click.option("--as", "shape", type=_options.shapes(), default="xliff2", show_default=True, help="The form of the files.")
@click.option(
    "-o",
    "--output",
    "folder",
    type=_options.PathName(path_type=Path, file_okay=False),
    metavar="FOLDER",
    help="Write the files into FOLDER.",
)
@click.option(
    "--after", "earlier", type=_options.PathName(path_type=Path, exists=True), multiple=True, metavar="EARLIER",
    help="Leave out what an earlier brief lists and has not changed since; a file, or a folder of them.",
)  # fmt: skip
@click.option(
    "--only", "only", multiple=True, metavar="WHAT=PATTERN", help="Only this client, key or rule, such as key=legal.*; * matches."
)
@click.option(
    "--depth", type=click.IntRange(min=0), default=_DEPTH, show_default=True, help="Look for stale texts in this many commits; 0: in none."
)
@_options.charter
@_options.cache
@_options.table_form
@_options.loudness
def command(
    locales: tuple[str, ...],
    shape: str,
    folder: Path | None,
    earlier: tuple[Path, ...],
    only: tuple[str, ...],
    depth: int,
    charter_path: Path | None,
    form: str,
) -> Exit:
    """List what there is to translate into each LOCALE (default: the whole roster); with -o, write files for translators. Each text is listed
    once, however many clients need it, with all that is known about it. 'lemmar intake' reads the answers.
    """
    from lemmar.auditing.pipeline import world_of_charter
    from lemmar.cli._running import charter_in, on_roster
    from lemmar.cli._showing import show
    from lemmar.handoff.brief import briefs, not_asked
    from lemmar.handoff.files import asked_before, write_briefs
    from lemmar.handoff.texts import texts_of
    from lemmar.views.brief import BriefResult, view

    where = _options.origin(charter_path)
    tree = where.tree()
    world = world_of_charter(charter_in(where.file), tree)
    asked = on_roster(world, locales) or [locale for locale in world.charter.locales if locale != world.charter.source]
    remarks = [f"not looked at: {words}" for words in world.unfinished] + not_asked(world, asked)
    texts = texts_of(world)
    known = asked_before(texts, world, earlier)
    changed = _ages(texts, asked, where, tree, depth, remarks)
    made = list(briefs(world, texts, tree, asked, _only(only), known, changed))
    files = write_briefs(made, shape, folder) if folder is not None else []
    show(view(BriefResult(made, files, remarks)), form, None)
    return Exit.CLEAR


def _ages(
    texts: Sequence[Text], locales: Sequence[Tag], where: Origin, tree: Tree, depth: int, remarks: list[str]
) -> Mapping[Tag, frozenset[Name]]:
    """The messages whose source was changed after their translation; what of that is not known goes to the *remarks*."""
    from lemmar.cache import code_digest
    from lemmar.cli._caching import opened
    from lemmar.handoff.history import ages, unknown_words
    from lemmar.inventory.readings import Readings

    if not depth:
        return {}
    if where.at is not None:
        remarks.append("which texts are stale by their history is not looked at in a revision; leave --at out for that")
        return {}
    try:
        with opened(where.file.root) as cache:
            found = ages(texts, locales, tree, where.file.root, depth, Readings(cache=cache, code=code_digest()))
    except TreeError as error:
        remarks.append(f"which texts are stale by their history is not known: {str(error).partition(';')[0]}")
        return {}
    remarks += unknown_words(found, depth)
    return found.changed


def _only(chosen: Sequence[str]) -> Only:
    from lemmar.handoff.brief import Only

    by: dict[str, list[str]] = {"client": [], "key": [], "rule": []}
    for each in chosen:
        what, sign, pattern = each.partition("=")
        if not sign or not pattern or what not in by:
            raise UsageError(f"--only {each!r} is not of the form client=NAME, key=KEY or rule=RULE")
        by[what].append(pattern)
    return Only(tuple(by["client"]), tuple(by["key"]), tuple(by["rule"]))
