"""What commands share when they run: the charter, the world, who is meant, and showing a result."""

from __future__ import annotations

import os
import shutil
import sys
from collections.abc import Iterable, Sequence
from pathlib import Path

from lemmar import report
from lemmar.audit import world_of_charter
from lemmar.charter import find, read
from lemmar.charter.reading import ReadCharter
from lemmar.cli._writing import remark, write
from lemmar.errors import TreeError, UsageError
from lemmar.findings import Verdict
from lemmar.report import Page, Shown, View
from lemmar.resolve.world import Client, World
from lemmar.rules import all_rules
from lemmar.tags import Tag
from lemmar.trees import Tree
from lemmar.trees.folder import FolderTree
from lemmar.words import counted, nearest


def charter_of(path: Path | None) -> tuple[ReadCharter, Tree]:
    """The charter at *path*, else the one found upward from the current folder, and the tree that it speaks of."""
    found = read(path or find(here()), tuple(all_rules()))
    remark(f"reading {counted(len(found.charter.client), 'client')} of {found.root / found.file}", detail=True)
    return found, FolderTree(found.root)


def here() -> Path:
    """The current folder. Raises `TreeError` where it is gone."""
    try:
        return Path.cwd()
    except OSError as error:
        raise TreeError("the current folder is not there any more; go to another one") from error


def world_of(path: Path | None) -> World:
    """The resolved world of the charter at *path*; what of it could not be looked at is remarked."""
    world = world_of_charter(*charter_of(path))
    for words in world.unfinished:
        remark(f"not checked: {words}")
    return world


def check_known(what: str, named: Iterable[str], known: Iterable[str]) -> None:
    """Refuses the first of the *named* that is not *known*. Raises `UsageError`, which says *what* it should be."""
    among = list(known)
    for name in named:
        if name not in among:
            raise UsageError(f"there is no {what} {name!r}{nearest(name, among)}")


def chosen(world: World, names: Sequence[str]) -> list[Client]:
    """The clients of these names, in the charter's order; all without any. Raises `UsageError` for one that is not there."""
    check_known("client", names, [client.name for client in world.clients])
    return [client for client in world.clients if not names or client.name in names]


def on_roster(world: World, tags: Sequence[str]) -> list[Tag]:
    """The locales, as the roster has them. Raises `UsageError` for one that is not on it."""
    check_known("locale on the roster", tags, world.charter.locales)
    return [Tag(tag) for tag in tags]


def page_for(target: Path | None) -> Page:
    """The page that a result is drawn on: colour on a terminal, unless NO_COLOR, or where FORCE_COLOR is set; as wide as the window."""
    terminal = target is None and sys.stdout.isatty()
    colour = bool(os.environ.get("FORCE_COLOR")) or (terminal and os.environ.get("TERM") != "dumb")
    wide = os.environ.get("COLUMNS", "").isdigit() or sys.stdout.isatty()
    width = max(40, shutil.get_terminal_size((Page().width, 40)).columns) if wide else Page().width
    return Page(colour and not os.environ.get("NO_COLOR"), width)


def show(view: View, form: str, target: Path | None) -> None:
    """Writes a table in the output *form*."""
    output = report.load(form)
    assert output.table is not None
    pieces = output.table(view, page_for(target))
    write(pieces if output.streams else ["".join(pieces)], target)


def show_findings(verdict: Verdict, shown: Shown, form: str, target: Path | None) -> None:
    """Writes a verdict in the output *form*."""
    output = report.load(form)
    assert output.findings is not None
    pieces = output.findings(verdict, shown, page_for(target))
    write(pieces if output.streams else ["".join(pieces)], target)
