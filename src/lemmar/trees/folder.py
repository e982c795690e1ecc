"""A folder as a tree: what lies under a monorepo's root on disk.

Only regular files match, links only where they stay inside the root. What git ignores and folders of fetched packages are
passed over, unless the pattern names them.
"""

from __future__ import annotations

import os
import re
import stat
from contextlib import suppress
from pathlib import Path

from lemmar.trees import Digest, File, Match, digest_of
from lemmar.trees.ignoring import FETCHED, Ignoring
from lemmar.trees.opening import Facts, facts_of, regular_file
from lemmar.trees.patterns import compile_pattern, from_root, match_path

#: Folders deeper than this below a pattern's base are not walked.
_MAX_DEPTH = 64
_CHANGED_SHOWN = 10


class FolderTree:
    """The files under *root*. Listings are kept: a folder is read once however many patterns pass through it."""

    def __init__(self, root: Path) -> None:
        self.root = Path(os.path.realpath(root))
        self._prefix = f"{self.root}/"
        self._listings: dict[str, list[tuple[str, bool]]] = {}
        self._unlisted: dict[str, str] = {}
        self._ignoring = Ignoring(self.root)
        self._seen: dict[File, Facts] = {}
        self._changed: dict[File, None] = {}

    def files(self, pattern: str, base: str = "") -> list[Match]:
        """The matches of *pattern* relative to the folder *base*, with files from the root, sorted by file.

        A file that can be read in several ways comes once for each, those with a locale first.

        Raises:
            PatternError: the pattern cannot be read or leads out of the root.
        """
        ways = compile_pattern(pattern)
        start, ways = from_root(base, ways)
        found: dict[str, None] = {}
        if start and not self._inside(start):
            self._unlisted[start] = f"the folder {start} leads out of the monorepo and is not looked into"
            return []
        for way in ways:
            self._walk(start, way.steps, "", found, 0, ())
        prefix = f"{start}/" if start else ""
        if not any(way.has_fields for way in ways):
            return [Match(File(prefix + path), None, None) for path in sorted(found)]
        return [match._replace(file=File(prefix + path)) for path in sorted(found) for match in match_path(ways, path)]

    def read(self, file: File) -> tuple[Digest, bytes]:
        """The file's digest and bytes. Raises `OSError` where it is no regular file or cannot be read or is too large."""
        data = self.data(file)
        return digest_of(data), data

    def data(self, file: File) -> bytes:
        """The file's bytes. Raises `OSError` as `read` does."""
        data, facts = regular_file(f"{self._prefix}{file}")
        if self._seen.setdefault(file, facts) != facts:
            self._changed[file] = None
        return data

    def unread(self) -> tuple[str, ...]:
        """Sentences on the folders that were to be listed, and the ignore files that were to be read, and could not be."""
        return (*self._unlisted.values(), *self._ignoring.unread)

    def changed(self) -> tuple[str, ...]:
        """Sentences on the files that are not any more what was read of them."""
        for file, facts in self._seen.items():
            try:
                if facts_of(os.stat(f"{self._prefix}{file}")) != facts:
                    self._changed[file] = None
            except OSError:
                self._changed[file] = None
        changed = sorted(self._changed)
        words = [f"the file {file} changed while this ran; run it again" for file in changed[:_CHANGED_SHOWN]]
        more = [f"{len(changed) - _CHANGED_SHOWN} more files changed while this ran"] if len(changed) > _CHANGED_SHOWN else []
        return (*words, *more)

    def is_file(self, path: str) -> bool:
        """Whether *path* is a regular file inside the root."""
        try:
            return stat.S_ISREG(os.stat(self.root / path).st_mode) and self._inside(path)
        except PermissionError:  # whoever reads it is told why it cannot
            return True
        except (OSError, ValueError):
            return False

    def _inside(self, path: str) -> bool:
        real = os.path.realpath(self.root / path)
        return real == str(self.root) or real.startswith(str(self.root).rstrip(os.sep) + os.sep)

    def _walk(
        self,
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
        folder = "/".join(part for part in (start, below) if part)
        if step is None:
            self._walk(start, rest, below, found, depth, named)
        for name, is_folder in self._listing(folder):
            if isinstance(step, str):
                if name != step:
                    continue
            elif step is not None and not step.match(name):
                continue
            path = f"{folder}/{name}" if folder else name
            literal = isinstance(step, str)
            if not literal and (name in FETCHED or name == ".git") and is_folder:
                continue
            if not literal and not self._under_named(path, named) and self._ignoring.ignores(path, is_folder):
                continue
            here = f"{below}/{name}" if below else name
            passed = (*named, path) if literal else named
            if step is None:
                if is_folder:
                    self._walk(start, steps, here, found, depth + 1, passed)
                elif not rest:
                    found[here] = None
            elif rest and is_folder:
                self._walk(start, rest, here, found, depth + 1, passed)
            elif not rest and not is_folder:
                found[here] = None

    def _under_named(self, path: str, named: tuple[str, ...]) -> bool:
        """Whether an ignored folder that *path* lies in was named by the pattern itself."""
        return any(path.startswith(f"{folder}/") and self._ignoring.ignores(folder, True) for folder in named)

    def _listing(self, folder: str) -> list[tuple[str, bool]]:
        """The regular files and folders in *folder*, sorted: names, and whether each is a folder."""
        known = self._listings.get(folder)
        if known is not None:
            return known
        listing = []
        try:
            with os.scandir(self.root / folder) as entries:
                for entry in entries:
                    with suppress(OSError):  # a link to itself is neither a file nor a folder
                        path = f"{folder}/{entry.name}" if folder else entry.name
                        sound = not entry.is_symlink() or self._link_is_sound(path)
                        if sound and (entry.is_dir() or entry.is_file()):
                            listing.append((entry.name, entry.is_dir()))
        except OSError as error:
            if not folder or not isinstance(error, (FileNotFoundError, NotADirectoryError)) or self._was_listed(folder):
                self._unlisted[folder] = f"the folder {folder or '.'} cannot be listed: {error.strerror or error}"
        self._listings[folder] = sorted(listing)
        return self._listings[folder]

    def _was_listed(self, folder: str) -> bool:
        """Whether the folder was there when the one around it was listed."""
        above, _, name = folder.rpartition("/")
        return (name, True) in self._listings.get(above, ())

    def _link_is_sound(self, path: str) -> bool:
        """Whether a link stays inside the root and does not lead to a folder that it lies in."""
        real = os.path.realpath(self.root / path)
        here = os.path.realpath(self.root / path.rpartition("/")[0])
        return self._inside(path) and not (here + os.sep).startswith(real + os.sep)
