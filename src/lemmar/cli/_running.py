"""What commands share that look at clients: the charter, the world, who is meant."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from lemmar.auditing.pipeline import world_of_charter
from lemmar.basics.phrasing import counted
from lemmar.charter.file import CharterFile
from lemmar.charter.reading import ReadCharter, parsed
from lemmar.cli._options import origin
from lemmar.cli._showing import check_known
from lemmar.cli._writing import remark
from lemmar.resolve.world import Client, World
from lemmar.rules import all_rules
from lemmar.tags import Tag
from lemmar.trees import Tree


def charter_of(path: Path | None) -> tuple[ReadCharter, Tree]:
    """The charter at *path*, else the one found upward from the current folder, and the tree that it speaks of."""
    found = origin(path)
    return charter_in(found.file), found.tree()


def charter_in(file: CharterFile) -> ReadCharter:
    """The charter in *file*. Raises `CharterError`."""
    found = parsed(file, tuple(all_rules()))
    remark(f"reading {counted(len(found.charter.client), 'client')} of {found.root / found.file}", detail=True)
    return found


def world_of(path: Path | None) -> World:
    """The resolved world of the charter at *path*; what of it could not be looked at is remarked."""
    return world_in(*charter_of(path))


def world_in(read: ReadCharter, tree: Tree) -> World:
    """The resolved world of a charter and its tree; what of it could not be looked at is remarked."""
    world = world_of_charter(read, tree)
    for words in world.unfinished:
        remark(f"not checked: {words}")
    return world


def chosen(world: World, names: Sequence[str]) -> list[Client]:
    """The clients of these names, in the charter's order; all without any. Raises `UsageError` for one that is not there."""
    check_known("client", names, [client.name for client in world.clients])
    return [client for client in world.clients if not names or client.name in names]


def on_roster(world: World, tags: Sequence[str]) -> list[Tag]:
    """The locales, as the roster has them. Raises `UsageError` for one that is not on it."""
    check_known("locale on the roster", tags, world.charter.locales)
    return [Tag(tag) for tag in tags]
