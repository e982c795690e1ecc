"""``lemmar survey``: draws up a charter from what a monorepo holds."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.basics.errors import IncompleteError, TreeError, UsageError
from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.survey.draft import Draft
    from lemmar.trees.known import KnownTree


@click.command(short_help="Draft a charter from what is there.")
@click.argument("folder", required=False, type=_options.PathName(path_type=Path))
@click.option(
    "--write", "write_it", is_flag=True, help="Write the charter as lemmar.toml into FOLDER; an existing one is never overwritten."
)
@click.option(
    "--split", "split_it", is_flag=True, help="With --write: each client's own tables into its folder, in files that lemmar.toml includes."
)
@click.option("--check", "check_it", is_flag=True, help="Exit 1 if the charter lacks something, or one of its claims is gone.")
@_options.at
@_options.cache
@_options.output_of_tables
@_options.loudness
def command(folder: Path | None, write_it: bool, split_it: bool, check_it: bool, form: str, target: Path | None) -> int:
    """Find the clients, catalogs and claims in FOLDER (default: here), each with its evidence, and list what could not be decided.

    If there is a charter, say what it lacks. Nothing that is found is run.

    Exits 0; 1 with --check if the charter lacks something; 3 if something could not be checked: the draft may then be incomplete.
    """
    from lemmar.charter.file import FILE_NAME
    from lemmar.cli._showing import here, show
    from lemmar.views import survey as views

    root = folder or here()
    if split_it and not write_it:
        raise UsageError("--split says how --write writes; give both")
    if not os.path.isdir(root):
        raise TreeError(f"{root} is not a folder; name the monorepo's root")
    present, tree = root / FILE_NAME, _options.tree_of(root)
    if _options.asked_for("at") and write_it:
        raise UsageError("--write puts a charter into the folder on disk; leave out --at")
    if tree.is_file(FILE_NAME) or (not _options.asked_for("at") and os.path.lexists(present)):
        if write_it:
            raise TreeError(
                f"there is a charter already, {present}; it is never overwritten: move it away, or run the survey without --write"
            )
        return _news(present, tree, check_it, form, target)
    if check_it:
        raise TreeError(f"there is no charter in {root} to check; draft one with 'lemmar survey --write'")
    draft = _draft(root, tree)
    show(views.view(draft, written=write_it), form, target)
    if write_it:
        _write(draft, root, split_it)
    return Exit.INCOMPLETE if draft.unfinished else Exit.CLEAR


def _news(present: Path, tree: KnownTree, check_it: bool, form: str, target: Path | None) -> int:
    """Shows what the charter lacks."""
    from lemmar.cli._running import world_of
    from lemmar.cli._showing import show
    from lemmar.survey.unknown import news
    from lemmar.views import survey as views

    world = world_of(present)
    fresh = news(world.charter, tree, world.clients)
    shown = views.news(fresh, world.clients)
    show(shown, form, target)
    if fresh.unfinished:
        return Exit.INCOMPLETE
    return Exit.HOLD if check_it and shown.table.rows else Exit.CLEAR


def _draft(root: Path, tree: KnownTree) -> Draft:
    from lemmar.cache import Nothing, code_digest
    from lemmar.cli._caching import opened
    from lemmar.cli._writing import progress, remark
    from lemmar.inventory.readings import Readings
    from lemmar.survey.settling import draw_up

    remark(f"surveying {root}", detail=True)
    with progress() as tell, opened(Path(os.path.realpath(root))) as cache:
        kept = None if isinstance(cache, Nothing) else cache
        draft = draw_up(tree, tell, Readings(cache=kept, code=code_digest()))
    if not draft.clients and draft.unfinished:
        raise IncompleteError("\n".join(draft.unfinished))
    if not draft.clients:
        raise TreeError(f"no catalog was found in {root}; go to the monorepo's root, or try 'lemmar read' on a file that should be one")
    return draft


def _write(draft: Draft, root: Path, split_it: bool) -> None:
    from lemmar.charter.file import FILE_NAME
    from lemmar.cli._writing import remark, write
    from lemmar.survey.writing import charter_text, charter_texts

    texts = charter_texts(draft, FILE_NAME) if split_it else {FILE_NAME: charter_text(draft)}
    there = [name for name in texts if os.path.lexists(root / name)]
    if there:
        raise TreeError(f"there is a file {root / there[0]} already; it is never overwritten: move it away, and run the survey again")
    for name in sorted(texts, key=lambda name: name == FILE_NAME):  # the charter last: what is not whole has none
        write([texts[name]], root / name)
    others = f" and {len(texts) - 1} files that it includes" if len(texts) > 1 else ""
    remark(f"wrote {root / FILE_NAME}{others}; review it, then run: lemmar audit")
