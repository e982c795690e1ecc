"""Where a charter and the tree that it speaks of come from: folders of this machine, or revisions of a git repository, of each one."""

from __future__ import annotations

import os
import posixpath
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from lemmar.charterfile import FILE_NAME, MOST, CharterFile, find, load
from lemmar.errors import TreeError, UsageError

if TYPE_CHECKING:
    from lemmar.cache import Cache
    from lemmar.trees import KnownTree
    from lemmar.trees.repository import Repository


class AtCommit(NamedTuple):
    """A folder at a commit: its repository, the commit's name, and the folder from the repository's top (empty: that itself)."""

    repository: Repository
    commit: str
    folder: str


class Origin(NamedTuple):
    """A charter, and where its tree is: at a commit, else the charter's folder on disk."""

    file: CharterFile
    at: AtCommit | None = None

    def tree(self, cache: Cache | None = None) -> KnownTree:
        """The tree; of a revision the digests of contents are kept in *cache*. Raises `TreeError`."""
        if self.at is None:
            from lemmar.trees.folder import FolderTree

            return FolderTree(self.file.root)
        from lemmar.trees.revision import RevisionTree

        return RevisionTree(*self.at, cache)


def origin(charter: Path | None, at: str | None, start: Path) -> Origin:
    """The charter that *charter* names (a path, or ``REVISION:PATH``), else the one found from the folder *start* upward; and the tree that it speaks
    of: the revision *at*, else what is on disk.

    Raises:
        TreeError: there is no such charter, revision or repository.
        UsageError: a bare repository has nothing on disk.
    """
    if charter is not None and not os.path.lexists(charter) and ":" in str(charter):
        return _elsewhere(str(charter), at, start)
    if at is None:
        return Origin(load(charter or find(start)))
    repository = _repository(start if charter is None else (start / charter).parent)
    commit = repository.commit(at)
    if charter is not None:
        paths = [posixpath.join(repository.prefix, charter.name)]
    else:
        above = repository.prefix.split("/") if repository.prefix else []
        paths = ["/".join((*above[:number], FILE_NAME)) for number in range(len(above), -1, -1)]
    for path in paths:
        data = _blob(repository, commit, path)
        if data is not None:
            return _at(repository, commit, path, data)
    raise TreeError(f"there is no {posixpath.basename(paths[0])} in {at!r}; name one of another revision with --charter REVISION:PATH")


def folder_at(folder: Path, revision: str) -> KnownTree:
    """The *folder* as it is in a *revision*. Raises `TreeError`."""
    from lemmar.trees.revision import RevisionTree

    repository = _repository(folder)
    return RevisionTree(repository, repository.commit(revision), repository.prefix)


def _elsewhere(named: str, at: str | None, start: Path) -> Origin:
    """The charter that a revision has, for another one or for what is on disk."""
    revision, _, path = named.partition(":")
    repository = _repository(start)
    base = repository.prefix if path.startswith(("./", "../")) else ""
    path = posixpath.normpath(posixpath.join(base, path))
    if path.startswith("../"):
        raise UsageError(f"{named} leads out of the repository; write REVISION:PATH with a path inside of it")
    data = _blob(repository, repository.commit(revision), path)
    if data is None:
        raise TreeError(f"there is no file {path!r} in {revision!r}; write REVISION:PATH with the path from the repository's top")
    if at is not None:
        return _at(repository, repository.commit(at), path, data)
    top = repository.top
    if top is None:
        raise UsageError("a bare repository has no files of its own to look at; say which revision with --at")
    return Origin(CharterFile(Path(os.path.realpath(top)) / posixpath.dirname(path), posixpath.basename(path), data))


def _at(repository: Repository, commit: str, path: str, data: bytes) -> Origin:
    folder = posixpath.dirname(path)
    top = repository.top or Path(os.path.realpath("."))
    return Origin(CharterFile(top / folder, posixpath.basename(path), data), AtCommit(repository, commit, folder))


def _repository(folder: Path) -> Repository:
    from lemmar.trees.repository import Repository

    return Repository(folder)


def _blob(repository: Repository, commit: str, path: str) -> bytes | None:
    found = repository.blob(commit, path)
    try:
        return None if found is None else repository.contents(found, MOST)
    except OSError as error:
        raise TreeError(f"the charter {path} of the revision cannot be read: {error.strerror or error}") from error
