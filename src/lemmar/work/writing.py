"""Writes changes into a monorepo: all of them or none.

New contents are staged beside their files first. Then a journal says what is to be put where; what it says is done, or, where something fails, undone. A run
that is killed leaves the journal: the next start does what is left of it, or takes away what was only staged. Nothing is written through a link, out of
the monorepo, or over what has changed meanwhile.
"""

from __future__ import annotations

import os
import stat
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import NamedTuple

import msgspec

from lemmar.basics.errors import TreeError
from lemmar.charter.file import JOURNAL
from lemmar.trees import File

_NEW, _OLD = ".lemmar-new", ".lemmar-old"
#: A larger journal is none of Lemmar's.
_MOST = 64 * 1024 * 1024
#: How far a write is: it is staged, or done, or undone.
_STAGED, _READY, _BACK = b"-", b"+", b"<"


class _Entry(msgspec.Struct, frozen=True):
    """A file that is written: its path from the root; whether it is *made* (else it goes), and whether it was there before."""

    file: str
    made: bool
    was: bool


class _Journal(msgspec.Struct, frozen=True):
    """What is written. *folders* are new; *number* is the journal's own in its file system, which no repository that brings one along can know."""

    entries: list[_Entry]
    folders: list[str]
    number: int = 0


class Written(NamedTuple):
    """How many files were made or changed, and how many are gone."""

    made: int
    gone: int


def write(root: Path, before: Mapping[File, bytes | None], after: Mapping[File, bytes | None]) -> Written:
    """Lets each file of *after* hold what it says (None: it goes), where it holds what *before* says.

    Raises:
        TreeError: a file has changed meanwhile, lies behind a link or outside of the root, or something cannot be written. Then nothing is.
    """
    real = Path(os.path.realpath(root))
    for file in after:
        _check(real, file, before[file])
    folders = _new_folders(real, [file for file, data in after.items() if data is not None])
    entries = [_Entry(file, data is not None, before[file] is not None) for file, data in sorted(after.items())]
    with _Held(real) as journal:
        journal.say(_Journal(entries, folders))
        is_ready = False
        try:
            for folder in folders:
                (real / folder).mkdir()
            for file, data in after.items():
                _stage(real / file, before[file], data)
            for file in after:  # as late as can be
                _check(real, file, before[file])
            is_ready = True
            journal.set_state(_READY)
            for entry in entries:
                _move(real / entry.file, entry)
        except BaseException as error:  # an interrupt as well
            if is_ready:
                journal.set_state(_BACK)
                _put_back(real, entries)
            _unstage(real, entries, folders)
            if isinstance(error, OSError):
                raise TreeError(f"nothing was written: {error.filename or root}: {error.strerror or error}") from error
            raise
        try:
            _tidy(real, entries)
        except KeyboardInterrupt:  # all is done; only what was kept of the old contents is left
            _tidy(real, entries)
    return Written(sum(entry.made for entry in entries), sum(not entry.made for entry in entries))


def _check(root: Path, file: File, before: bytes | None) -> None:
    """Raises `TreeError` where *file* is not what *before* says, or may not be written."""
    path = root / file
    if os.path.realpath(path) != str(path) or ".." in file.split("/"):
        raise TreeError(f"nothing was written: {file} lies behind a link, or outside of the monorepo; edit it where it really lies")
    try:
        there: bytes | None = path.read_bytes()
    except FileNotFoundError:
        there = None
    except OSError as error:
        raise TreeError(f"nothing was written: {file} cannot be read: {error.strerror or error}") from error
    if there != before:
        how = "is there already" if before is None else "is gone" if there is None else "has changed"
        raise TreeError(f"nothing was written: {file} {how} meanwhile; run the command again")


def _new_folders(root: Path, files: Sequence[str]) -> list[str]:
    """The folders that are not there yet, the outer before the inner."""
    wanted = {"/".join(parts[:depth]) for file in files for parts in [file.split("/")] for depth in range(1, len(parts))}
    return sorted(folder for folder in wanted if not (root / folder).is_dir())


def _beside(path: Path, ending: str) -> Path:
    return path.with_name(f".{path.name}{ending}")


def _stage(path: Path, before: bytes | None, after: bytes | None) -> None:
    """Puts the new contents beside *path*, and a second name of the old ones."""
    if after is not None:
        staged = _beside(path, _NEW)
        staged.unlink(missing_ok=True)  # of a run that was killed
        descriptor = os.open(staged, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o666)
        with open(descriptor, "wb") as stream:
            stream.write(after)
            stream.flush()
            os.fsync(stream.fileno())
        if before is not None:
            os.chmod(staged, stat.S_IMODE(path.stat().st_mode))
    if before is not None:
        _beside(path, _OLD).unlink(missing_ok=True)
        os.link(path, _beside(path, _OLD))


def _move(path: Path, entry: _Entry) -> None:
    if entry.made:
        os.replace(_beside(path, _NEW), path)
    else:
        path.unlink()


def _put_back(root: Path, entries: Sequence[_Entry]) -> None:
    """Lets the files that were moved, of which all was staged, be what they were."""
    for entry in entries:
        path = root / entry.file
        is_moved = not _beside(path, _NEW).exists() if entry.made else not path.exists()
        with suppress(OSError):
            if is_moved and entry.was:
                os.replace(_beside(path, _OLD), path)
            elif is_moved:
                path.unlink(missing_ok=True)


def _unstage(root: Path, entries: Sequence[_Entry], folders: Sequence[str]) -> None:
    """Takes away what was staged beside files, and the new folders."""
    for entry in entries:
        for ending in (_NEW, _OLD):
            with suppress(OSError):
                _beside(root / entry.file, ending).unlink(missing_ok=True)
    for folder in reversed(folders):
        with suppress(OSError):
            (root / folder).rmdir()


def _tidy(root: Path, entries: Sequence[_Entry]) -> None:
    """Takes away what was kept of the old contents, and folders that nothing is left in."""
    for entry in entries:
        path = root / entry.file
        _beside(path, _OLD).unlink(missing_ok=True)
        folder = path.parent
        while not entry.made and folder != root:
            try:
                folder.rmdir()
            except OSError:
                break
            folder = folder.parent


class _Held:
    """The journal, which one process has at a time. Its first byte says how far the write is."""

    def __init__(self, root: Path) -> None:
        self._path = root / JOURNAL
        self._descriptor = -1
        self.stays = False  # what it says is still to be done

    def __enter__(self) -> _Held:
        while True:
            try:
                self._descriptor = os.open(self._path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW, 0o600)
            except OSError as error:
                raise TreeError(f"nothing was written: {self._path} cannot be made: {error.strerror or error}") from error
            if not _locked(self._descriptor):
                os.close(self._descriptor)
                raise TreeError("another lemmar is writing into this monorepo; run the command again when it is done")
            with suppress(OSError):
                if os.path.samestat(os.fstat(self._descriptor), os.stat(self._path)):
                    return self
            os.close(self._descriptor)  # another run has just ended

    def __exit__(self, *_: object) -> None:
        if not self.stays:
            self._path.unlink(missing_ok=True)
        os.close(self._descriptor)

    def say(self, journal: _Journal) -> None:
        """Writes down what is to be done, before anything is."""
        os.ftruncate(self._descriptor, 0)
        numbered = msgspec.structs.replace(journal, number=os.fstat(self._descriptor).st_ino)
        os.pwrite(self._descriptor, _STAGED + msgspec.json.encode(numbered), 0)
        os.fsync(self._descriptor)

    def set_state(self, state: bytes) -> None:
        """Says by one byte what is done from now on."""
        os.pwrite(self._descriptor, state, 0)
        os.fsync(self._descriptor)

    def read(self) -> tuple[_Journal | None, bytes]:
        """What was to be done (None where that was not yet written down), and how far it is.

        Raises:
            TreeError: it was not written here, but came with the files.
        """
        data = b""
        while len(data) < _MOST and (piece := os.pread(self._descriptor, _MOST, len(data))):
            data += piece
        try:
            journal = msgspec.json.decode(data[1:], type=_Journal)
        except msgspec.DecodeError:
            return None, _STAGED
        if journal.number != os.fstat(self._descriptor).st_ino or any(_leads_out(entry.file) for entry in journal.entries):
            raise TreeError(f"{self._path} was not left here by a write of lemmar's, but came with the files; look at it and delete it")
        return journal, data[:1]


def _leads_out(file: str) -> bool:
    return file.startswith("/") or not {"..", ".git"}.isdisjoint(file.split("/"))


def _locked(descriptor: int) -> bool:
    """Whether this process has the journal now; where a system has no locks, it has."""
    try:
        import fcntl
    except ImportError:
        return True
    try:
        fcntl.flock(descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return False
    return True


def recover(root: Path) -> str | None:
    """Finishes, or undoes, a write that was cut short; a sentence on which, None where there was none.

    Raises:
        TreeError: another run is writing just now, or it cannot be finished.
    """
    real = Path(os.path.realpath(root))
    if not os.path.lexists(real / JOURNAL):
        return None
    with _Held(real) as held:
        held.stays = True
        journal, state = held.read()
        held.stays = journal is not None
        if journal is None:
            return None  # nothing had begun
        if any(os.path.realpath((real / entry.file).parent) != str((real / entry.file).parent) for entry in journal.entries):
            raise TreeError(f"{real / JOURNAL} names files behind links, which no write of lemmar's does; look at it and delete it")
        if state != _READY:
            if state == _BACK:
                _put_back(real, journal.entries)
            _unstage(real, journal.entries, journal.folders)
            held.stays = False
            return "a write that was cut short has been undone: nothing of it is there"
        try:
            for entry in journal.entries:
                path = real / entry.file
                if entry.made and _beside(path, _NEW).exists():
                    os.replace(_beside(path, _NEW), path)
                elif not entry.made:
                    path.unlink(missing_ok=True)
            _tidy(real, journal.entries)
            held.stays = False
        except OSError as error:
            raise TreeError(f"a write was cut short and cannot be finished: {error.filename}: {error.strerror or error}") from error
    return "a write that was cut short has been finished: all of it is there"
