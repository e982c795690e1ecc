"""A git revision as a tree: what a checkout of it would hold, without one.

Contents are as git keeps them: what the attributes of a repository would have a checkout convert (line ends, filters) is not converted. Nothing is
ignored, since all of a revision is tracked.
"""

from __future__ import annotations

import errno
import os
from collections.abc import Iterable, Sequence
from pathlib import Path

from lemmar.cache import Cache, Nothing, key_of
from lemmar.trees.opening import MAX_BYTES
from lemmar.trees.repository import Repository
from lemmar.trees.sights import Sight, Sights, Since
from lemmar.trees.submodules import submodule_words
from lemmar.trees.tree import Digest, File, Match, digest_of
from lemmar.trees.walking import matches

#: So many links lead on to each other at the most, as on disk.
_MOST_LINKS = 40
_REVISION = "revision"


class RevisionTree:
    """The *folder* of a *repository* (empty: its top) at a *commit*. Which digest the contents of an object have is kept in *cache*.

    Raises:
        TreeError: there is no such folder at the commit.
    """

    def __init__(self, repository: Repository, commit: str, folder: str = "", cache: Cache | None = None) -> None:
        self._repository = repository
        self._cache = cache if cache is not None else Nothing()
        self.root = (repository.top or Path(os.path.realpath("."))) / folder
        self.name = repository.tree(commit, folder) or ""
        self._base = [step for step in folder.split("/") if step]
        self._objects: dict[str, tuple[str, str]] = {}
        self._folders: dict[str, dict[str, bool]] | None = None
        self._digests: dict[File, Digest] = {}
        self._targets: dict[str, str] = {}
        self._unlisted: dict[str, str] = {}

    @property
    def identity(self) -> tuple[str, ...]:
        """What tells this tree from others: what it holds."""
        return "revision", self.name

    def files(self, pattern: str, base: str = "") -> list[Match]:
        """The matches of *pattern*, as in a checkout. Raises `PatternError`."""
        return matches(self, pattern, base)

    def read(self, file: File) -> tuple[Digest, bytes]:
        """The file's digest and bytes. Raises `OSError` where there is no such file, or its contents are not in the clone."""
        try:
            data = self._repository.contents(self._regular(file), MAX_BYTES)
        except OSError as error:
            self._digests[file] = Digest(f"!{error.strerror or error}")
            raise
        digest = self._digests[file] = digest_of(data)
        self._cache.put("blob", self._key(file), digest.encode("ascii"))
        return digest, data

    def data(self, file: File) -> bytes:
        """The file's bytes. Raises `OSError` as `read` does."""
        return self.read(file)[1]

    def size(self, _file: File) -> int:
        """Nothing is known of sizes without reading contents."""
        return 0

    def digest(self, file: File) -> Digest:
        """The file's digest, without reading it where it is known; of one that cannot be read, the reason after a ``!``."""
        if file not in self._digests:
            try:
                kept = self._cache.get("blob", self._key(file))
                if kept is None:
                    return self.read(file)[0]
                self._digests[file] = Digest(kept.decode("ascii"))
            except OSError as error:
                self._digests[file] = Digest(f"!{error.strerror or error}")
        return self._digests[file]

    def _key(self, file: File) -> bytes:
        return key_of("blob", self._regular(file))

    @property
    def changing(self) -> tuple[File, ...]:
        """None: a revision stays what it is."""
        return ()

    def changed(self) -> tuple[str, ...]:
        """Nothing."""
        return ()

    def unread(self) -> Sequence[str]:
        """Sentences on the submodules in which files were looked for."""
        return tuple(self._unlisted.values())

    def is_file(self, path: str) -> bool:
        """Whether *path* is a regular file inside of the revision."""
        real = self._real(path)
        return real is not None and self._kind(real) == "file"

    def sights(self, _files: Iterable[File] | None = None) -> Sights:
        """What stands for all that a revision holds: its name."""
        return Sights({}, {}, {}, {}, Sight(f"{_REVISION} {self.name}", None))

    def since(self, earlier: Sights) -> Since:
        """What differs from the revision that was seen *earlier*; of any other tree nobody knows before asking."""
        if earlier == self.sights():
            return Since(frozenset(), False, False)
        what, _, name = (earlier.index.digest if earlier.index is not None else "").partition(" ")
        if what == _REVISION and name and not self._has_links():  # through a link a file has another name as well
            files = self._repository.rewritten(name, self.name)
            if files is not None:
                return Since(frozenset(map(File, files)), False, True)
        return Since(frozenset(), True, True)

    def _has_links(self) -> bool:
        self._by_folder()
        return any(kind == "link" for kind, _ in self._objects.values())

    # ----------------------------------------------------------------------------------------------------- what is walked

    def listing(self, folder: str) -> list[tuple[str, bool]]:
        """The regular files and folders in *folder*, sorted; links as what they lead to, where that is inside."""
        real = self._real(folder)
        entries = self._by_folder().get(real) if real is not None else None
        if entries is None:
            return []
        found = []
        for name, is_link in entries.items():
            path = f"{folder}/{name}" if folder else name
            inner = self._real(path) if is_link else f"{real}/{name}" if real else name
            if inner is None or (is_link and f"{real}/".startswith(f"{inner}/" if inner else "")):
                continue  # it leads out, nowhere, or to a folder that it lies in
            kind = self._kind(inner)
            if kind is not None:
                found.append((name, kind != "file"))
        return sorted(found)

    def ignores(self, _path: str, _is_folder: bool) -> bool:
        """Nothing that git tracks is ignored."""
        return False

    def leads_out(self, start: str) -> bool:
        """Whether the folder that a pattern starts from is a link that leads out of the root."""
        if self._real(start, strict=False) is not None:
            return False
        self._unlisted[start] = f"the folder {start} leads out of the monorepo and is not looked into"
        return True

    def entered(self, folder: str) -> None:
        """Notes that files were looked for in *folder*, where it is a submodule."""
        real = self._real(folder)
        if folder and real is not None and self._kind(real) == "submodule":
            self._unlisted[folder] = submodule_words(folder)

    # ------------------------------------------------------------------------------------------------------------- links

    def _by_folder(self) -> dict[str, dict[str, bool]]:
        """For each folder the names in it, and whether each is a link."""
        if self._folders is None:
            self._folders = {"": {}}
            for path, kind, name in self._repository.listing(self.name) if self.name else ():
                self._objects[path] = kind, name
                folder, _, last = path.rpartition("/")
                self._made(folder)[last] = kind == "link"
                if kind == "submodule":
                    self._folders[path] = {}
        return self._folders

    def _made(self, folder: str) -> dict[str, bool]:
        assert self._folders is not None
        found = self._folders.setdefault(folder, {})
        while folder:  # up to the first folder that is known in the one above it
            folder, _, name = folder.rpartition("/")
            above = self._folders.setdefault(folder, {})
            if name in above:
                break
            above[name] = False
        return found

    def _kind(self, real: str) -> str | None:
        """``file``, ``submodule`` or ``folder``; None where there is nothing."""
        folders = self._by_folder()
        kind, _ = self._objects.get(real, ("", ""))
        return kind if kind in ("file", "submodule") else "folder" if real in folders else None

    def _real(self, path: str, strict: bool = True) -> str | None:
        """Where *path* leads once all links are followed: None where that is outside of the root, a circle, or, if *strict*, nowhere."""
        folders = self._by_folder()
        left = [step for step in reversed(path.split("/")) if step not in ("", ".")]
        real, base = [*self._base], self._base
        followed = 0
        while left:
            step = left.pop()
            if step == "..":
                if not real:
                    return None
                real.pop()
                continue
            inside = real[: len(base)] == base
            here = "/".join((*real[len(base) :], step))
            kind, name = self._objects.get(here, ("", "")) if inside else ("", "")
            if kind != "link":
                real.append(step)
                continue
            followed += 1
            target = self._target(name)
            if followed > _MOST_LINKS or target.startswith("/"):
                return None
            left += [step for step in reversed(target.split("/")) if step not in ("", ".")]
        if real[: len(base)] != base:
            return None
        found = "/".join(real[len(base) :])
        return found if not strict or found in folders or found in self._objects else None

    def _target(self, name: str) -> str:
        if name not in self._targets:
            try:
                self._targets[name] = self._repository.contents(name, 1 << 16).decode("utf-8", "surrogateescape")
            except OSError:
                self._targets[name] = "/"  # it leads nowhere that is known
        return self._targets[name]

    def _regular(self, file: File) -> str:
        """The name of the object that holds the file. Raises `OSError`."""
        real = self._real(file)
        if real is None:
            raise FileNotFoundError(errno.ENOENT, os.strerror(errno.ENOENT))
        kind, name = self._objects.get(real, ("", ""))
        if kind != "file":
            raise OSError("it is not a regular file")
        return name
