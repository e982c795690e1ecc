"""A tree with changes that are not written yet: what it would be once they were."""

from __future__ import annotations

import errno
import os
from collections.abc import Mapping, Sequence
from functools import cached_property
from typing import Protocol

from lemmar.trees.tree import Digest, File, Match, Tree, digest_of
from lemmar.trees.walking import Walked, matches


class Walkable(Tree, Walked, Protocol):
    """A tree that is walked folder by folder."""


class OverlayTree:
    """The files of *below*, those of *changes* in their place: None where one is gone."""

    def __init__(self, below: Walkable, changes: Mapping[File, bytes | None]) -> None:
        self._below = below
        self._changes = dict(changes)

    @cached_property
    def _in_folder(self) -> dict[str, dict[str, bool | None]]:
        """For each folder the names in it that the changes bring (whether it is a folder) or take away (None)."""
        found: dict[str, dict[str, bool | None]] = {}
        for file, data in self._changes.items():
            folder, _, name = file.rpartition("/")
            found.setdefault(folder, {})[name] = False if data is not None else None
            while folder and data is not None:
                folder, _, name = folder.rpartition("/")
                found.setdefault(folder, {}).setdefault(name, True)
        return found

    def files(self, pattern: str, base: str = "") -> list[Match]:
        """The matches of *pattern*, as on disk. Raises `PatternError`."""
        return matches(self, pattern, base)

    def read(self, file: File) -> tuple[Digest, bytes]:
        """The file's digest and bytes. Raises `OSError`."""
        if file not in self._changes:
            return self._below.read(file)
        data = self._changes[file]
        if data is None:
            raise FileNotFoundError(errno.ENOENT, os.strerror(errno.ENOENT), file)
        return digest_of(data), data

    def data(self, file: File) -> bytes:
        """The file's bytes. Raises `OSError`."""
        return self.read(file)[1]

    def digest(self, file: File) -> Digest:
        """The file's digest; of one that cannot be read, the reason after a ``!``."""
        if file not in self._changes:
            return self._below.digest(file)
        data = self._changes[file]
        return digest_of(data) if data is not None else Digest(f"!{os.strerror(errno.ENOENT)}")

    def unread(self) -> Sequence[str]:
        """As of the tree below."""
        return self._below.unread()

    def changed(self) -> Sequence[str]:
        """As of the tree below."""
        return self._below.changed()

    def is_file(self, path: str) -> bool:
        """Whether *path* is a regular file inside the tree."""
        if path in self._changes:
            return self._changes[File(path)] is not None
        return self._below.is_file(path)

    def listing(self, folder: str) -> list[tuple[str, bool]]:
        """The files and folders in *folder*, sorted."""
        changed = self._in_folder.get(folder, {})
        there = self._below.listing(folder) if folder not in self._new_folders else []
        kept = [entry for entry in there if entry[0] not in changed or changed[entry[0]] is True]
        names = {name for name, _ in kept}
        return sorted([*kept, *((name, kind) for name, kind in changed.items() if kind is not None and name not in names)])

    @cached_property
    def _new_folders(self) -> frozenset[str]:
        """The folders that only the changes bring."""
        found = set()
        for folder, names in self._in_folder.items():
            there = {name for name, is_folder in self._below.listing(folder) if is_folder} if folder not in found else set()
            for name, is_folder in names.items():
                if is_folder and name not in there:
                    found.add(f"{folder}/{name}" if folder else name)
        return frozenset(found)

    def ignores(self, path: str, is_folder: bool) -> bool:
        """Whether git ignores *path*."""
        return self._below.ignores(path, is_folder)

    def leads_out(self, start: str) -> bool:
        """Whether the folder that a pattern starts from is not inside the tree."""
        return start not in self._new_folders and self._below.leads_out(start)

    def entered(self, folder: str) -> None:
        """Nothing is noted of a folder that only the changes bring."""
        if folder not in self._new_folders:
            self._below.entered(folder)
