"""Where a charter and the tree that it speaks of come from: folders of this machine, or revisions of a git repository, of each one."""

from __future__ import annotations

import os
import posixpath
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from lemmar.basics.errors import TreeError, UsageError
from lemmar.charter.file import FILE_NAME, MOST, CharterFile, Included, find, load

if TYPE_CHECKING:
    from lemmar.cache import Cache
    from lemmar.trees.known import KnownTree
    from lemmar.trees.overlay import Walkable
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

    def walked(self) -> Walkable:
        """The tree as one that is walked folder by folder, so that changes can be laid over it. Raises `TreeError`."""
        if self.at is None:
            from lemmar.trees.folder import FolderTree

            return FolderTree(self.file.root)
        from lemmar.trees.revision import RevisionTree

        return RevisionTree(*self.at)


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
        from lemmar.trees.folder import FolderTree

        file = load(charter or find(start))
        return Origin(with_included(file, lambda: FolderTree(file.root)))
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


def charter_at(at: AtCommit, name: str) -> CharterFile | None:
    """The charter of that name at a commit; None where there is none. Raises `TreeError` where it cannot be read."""
    path = f"{at.folder}/{name}" if at.folder else name
    data = _blob(at.repository, at.commit, path)
    return None if data is None else _at(at.repository, at.commit, path, data).file


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
    there = _at(repository, repository.commit(revision), path, data)  # what it includes comes from there as well
    if at is not None:
        return there._replace(at=AtCommit(repository, repository.commit(at), posixpath.dirname(path)))
    if repository.top is None:
        raise UsageError("a bare repository has no files of its own to look at; say which revision with --at")
    return there._replace(at=None)


def _at(repository: Repository, commit: str, path: str, data: bytes) -> Origin:
    folder = posixpath.dirname(path)
    top = Path(os.path.realpath(repository.top or "."))
    file = CharterFile(top / folder, posixpath.basename(path), data, on_disk=False)
    at = AtCommit(repository, commit, folder)
    return Origin(with_included(file, lambda: Origin(file, at).tree()), at)


def with_included(file: CharterFile, tree: Callable[[], KnownTree]) -> CharterFile:
    """The charter with the files that it includes, of the *tree* that it comes from. Raises `TreeError` where one cannot be read."""
    if b"include" not in file.data:
        return file
    import tomllib

    from lemmar.trees.patterns import PatternError

    try:
        patterns = tomllib.loads(file.data.decode("utf-8-sig").replace("\r\n", "\n")).get("charter", {}).get("include", [])
    except (ValueError, RecursionError, AttributeError):
        return file  # whoever reads it says what is wrong
    found: dict[str, bytes] = {}
    from_tree = tree()
    for pattern in patterns if isinstance(patterns, list) else []:
        try:
            names = [match.file for match in from_tree.files(pattern, "") if match.file != file.name]
        except (PatternError, TypeError):
            continue
        for name in names:
            try:
                found[name] = from_tree.data(name)
                if len(found[name]) > MOST:
                    raise OSError(f"it is larger than {MOST // 2**20} MiB")
            except OSError as error:
                raise TreeError(f"the file {name}, which {file.name} includes, cannot be read: {error.strerror or error}") from error
    return file._replace(included=tuple(Included(name, data) for name, data in sorted(found.items())))


def _repository(folder: Path) -> Repository:
    from lemmar.trees.repository import Repository

    return Repository(folder)


def _blob(repository: Repository, commit: str, path: str) -> bytes | None:
    found = repository.blob(commit, path)
    try:
        return None if found is None else repository.contents(found, MOST)
    except OSError as error:
        raise TreeError(f"the charter {path} of the revision cannot be read: {error.strerror or error}") from error
