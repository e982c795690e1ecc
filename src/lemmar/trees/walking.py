"""Which files of a tree a pattern matches, whatever the tree is made of: it only says what is in a folder, and what is passed over."""

from __future__ import annotations

import re
from typing import Protocol

from lemmar.trees.ignoring import FETCHED
from lemmar.trees.patterns import compile_pattern, from_root, match_path
from lemmar.trees.tree import File, Match

#: Folders deeper than this below a pattern's base are not walked.
_MAX_DEPTH = 64


class Walked(Protocol):
    """What is walked."""

    def listing(self, folder: str) -> list[tuple[str, bool]]:
        """The regular files and folders in *folder*, sorted: names, and whether each is a folder."""

    def ignores(self, path: str, is_folder: bool) -> bool:
        """Whether *path* is passed over where no pattern names it."""

    def leads_out(self, start: str) -> bool:
        """Whether the folder that a pattern starts from is not inside the tree; notes it where it is not."""

    def entered(self, folder: str) -> None:
        """Notes that *folder* is not passed through in search of anything, but one whose files the pattern asks for."""


def matches(tree: Walked, pattern: str, base: str) -> list[Match]:
    """The matches of *pattern* relative to the folder *base*, with files from the root, sorted by file.

    A file that can be read in several ways comes once for each, those with a locale first.

    Raises:
        PatternError: the pattern cannot be read or leads out of the root.
    """
    ways = compile_pattern(pattern)
    start, ways = from_root(base, ways)
    found: dict[str, None] = {}
    if start and tree.leads_out(start):
        return []
    for way in ways:
        _walk(tree, start, way.steps, "", found, 0, ())
    prefix = f"{start}/" if start else ""
    if not any(way.has_fields for way in ways):
        return [Match(File(prefix + path), None, None) for path in sorted(found)]
    return [match._replace(file=File(prefix + path)) for path in sorted(found) for match in match_path(ways, path)]


def _walk(
    tree: Walked,
    start: str,
    steps: tuple[str | re.Pattern[str] | None, ...],
    below: str,
    found: dict[str, None],
    depth: int,
    named: tuple[str, ...],
) -> None:
    """Adds to *found* the files under *start*/*below* that the remaining *steps* match; *named* are the literal steps passed."""
    if not steps or depth > _MAX_DEPTH:
        return
    step, rest = steps[0], steps[1:]
    folder = f"{start}/{below}" if start and below else start or below
    if step is None:
        _walk(tree, start, rest, below, found, depth, named)
    entries = tree.listing(folder)
    if step is not None and not entries:
        tree.entered(folder)
    for name, is_folder in entries:
        if isinstance(step, str):
            if name != step:
                continue
        elif step is not None and not step.match(name):
            continue
        path = f"{folder}/{name}" if folder else name
        literal = isinstance(step, str)
        if not literal and (name in FETCHED or name == ".git") and is_folder:
            continue
        if not literal and not _under_named(tree, path, named) and tree.ignores(path, is_folder):
            continue
        here = f"{below}/{name}" if below else name
        passed = (*named, path) if literal else named
        if step is None:
            if is_folder:
                _walk(tree, start, steps, here, found, depth + 1, passed)
            elif not rest:
                found[here] = None
        elif rest and is_folder:
            _walk(tree, start, rest, here, found, depth + 1, passed)
        elif not rest and not is_folder:
            found[here] = None


def _under_named(tree: Walked, path: str, named: tuple[str, ...]) -> bool:
    """Whether an ignored folder that *path* lies in was named by the pattern itself."""
    return any(path.startswith(f"{folder}/") and tree.ignores(folder, True) for folder in named)
