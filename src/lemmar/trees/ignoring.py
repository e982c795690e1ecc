"""What is passed over when files are looked for: what git ignores, and folders of fetched packages.

Reads ``.gitignore`` files itself, so that a tree without git, or a machine without it, gives the same answer. A file that git
tracks is never ignored, whatever its patterns say; git is asked for that, and only where it matters.
"""

from __future__ import annotations

import os
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from lemmar.errors import IncompleteError
from lemmar.text import lines
from lemmar.trees.opening import regular_bytes

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec

#: Folders that package managers fill.
FETCHED = frozenset(
    {"node_modules", "bower_components", "vendor", "Pods", "Carthage", ".venv", "site-packages", ".gradle", ".dart_tool", "packages.lock"}
)


#: A larger file of patterns is not read.
_MOST = 2 * 1024 * 1024


class Ignoring:
    """Which paths under *root* git ignores."""

    def __init__(self, root: Path) -> None:
        self.root = root
        self._specs: dict[str, tuple[tuple[int, GitIgnoreSpec], ...]] = {}
        self._known: dict[tuple[str, bool], bool] = {}
        self.unread: list[str] = []

    def ignores(self, path: str, is_folder: bool) -> bool:
        """Whether git ignores *path*, whose parent folders it does not ignore, and tracks nothing there."""
        if not self._specs_for(path.rpartition("/")[0]):
            return False
        known = self._known.get((path, is_folder))
        if known is None:
            known = self._known[path, is_folder] = self._matches(path, is_folder) and not self._tracked(path, is_folder)
        return known

    def _matches(self, path: str, is_folder: bool) -> bool:
        for start, spec in self._specs_for(path.rpartition("/")[0]):  # the nearest .gitignore that has a say wins
            said = spec.check_file(path[start:] + ("/" if is_folder else "")).include
            if said is not None:
                return said
        return False

    def _specs_for(self, folder: str) -> tuple[tuple[int, GitIgnoreSpec], ...]:
        """What the folder and those above it say, the nearest first, each with where a path begins that is relative to it."""
        known = self._specs.get(folder)
        if known is None:
            said = self._lines(f"{folder}/.gitignore" if folder else ".gitignore")
            if not folder:
                said = self._lines(".git/info/exclude") + said
            known = self._specs_for(folder.rpartition("/")[0]) if folder else ()
            if said:
                from pathspec import GitIgnoreSpec

                known = ((len(folder) + bool(folder), GitIgnoreSpec.from_lines(said)), *known)
            self._specs[folder] = known
        return known

    def _lines(self, file: str) -> list[str]:
        try:
            text = regular_bytes(str(self.root / file), _MOST).decode("utf-8", "replace")
        except (FileNotFoundError, NotADirectoryError):
            return []
        except OSError as error:
            self.unread.append(f"the file {file} cannot be read: {error.strerror or error}")
            return []
        return [line for line in lines(text) if line.strip() and not line.startswith("#")]

    def _tracked(self, path: str, is_folder: bool) -> bool:
        return any(file.startswith(f"{path}/") for file in self._index) if is_folder else path in self._index

    @cached_property
    def _index(self) -> frozenset[str]:
        """The files that git tracks although its patterns ignore them, relative to the root."""
        if not any(os.path.exists(folder / ".git") for folder in (self.root, *self.root.parents)):
            return frozenset()
        import subprocess

        command = [
            "git",
            "--no-optional-locks",
            "-c",
            "core.fsmonitor=false",
            "-C",
            str(self.root),
            "ls-files",
            "-z",
            "-c",
            "-i",
            "--exclude-standard",
        ]
        try:
            done = subprocess.run(command, capture_output=True, check=True, timeout=60, stdin=subprocess.DEVNULL)
        except subprocess.TimeoutExpired:
            raise IncompleteError("git takes longer than a minute to list what it tracks; see whether its index is whole") from None
        except (OSError, subprocess.SubprocessError):
            return frozenset()
        return frozenset(done.stdout.decode("utf-8", "surrogateescape").split("\0"))
