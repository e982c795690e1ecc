"""The cache's file: an SQLite database of digests and what was made of what they stand for.

Every value is held with a digest of its own, so that a damaged one is none. Whatever goes wrong with the file, what is asked for is made anew:
the cache then says so once and is set aside, or done without.
"""

from __future__ import annotations

import hashlib
import os
import stat
import sys
import time
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple, Protocol, TypeVar

if TYPE_CHECKING:
    import sqlite3

_T = TypeVar("_T")
#: Changes when the file's tables do.
_VERSION = 1
_NAME = f"lemmar-{_VERSION}.sqlite"
#: What is larger is not kept.
_MOST_OF_ONE = 128 * 1024 * 1024
#: Above so many bytes what was not used for longest goes, and with it what nobody has used for so many days.
MOST = 2 * 1024**3
_MOST_DAYS = 60
_DAY = 86_400
#: How long one run waits for another that writes, in seconds.
_PATIENCE = 2.0


class Kind(NamedTuple):
    """A kind of what is kept, how many there are, and how many bytes."""

    name: str
    number: int
    size: int


class Cache(Protocol):
    """What a run keeps for the next one. A *key* is what it is found by: a digest of all that it depends on."""

    def get(self, kind: str, key: bytes) -> bytes | None:
        """What was kept under *key*; None where nothing was."""

    def has(self, kind: str, key: bytes) -> bool:
        """Whether something was kept under *key*, damaged or not."""

    def put(self, kind: str, key: bytes, value: bytes) -> None:
        """Keeps *value* under *key*."""

    def close(self) -> None:
        """Writes what is still to be written."""


class Nothing:
    """A cache that keeps nothing."""

    def get(self, _kind: str, _key: bytes) -> bytes | None:
        """Nothing."""
        return None

    def has(self, _kind: str, _key: bytes) -> bool:
        """No."""
        return False

    def put(self, _kind: str, _key: bytes, _value: bytes) -> None:
        """Keeps nothing."""

    def close(self) -> None:
        """Does nothing."""


def default_folder() -> Path:
    """The folder for such files of the user who runs this, by the system's conventions."""
    if sys.platform == "darwin":
        return Path.home() / "Library" / "Caches" / "lemmar"
    named = os.environ.get("LOCALAPPDATA" if sys.platform == "win32" else "XDG_CACHE_HOME", "")
    return (Path(named) if os.path.isabs(named) else Path.home() / ".cache") / "lemmar"


class Store:
    """The cache in *folder*, which is made where there is none, for this user alone. *tell* is given a sentence where something is wrong with it."""

    def __init__(self, folder: Path, tell: Callable[[str], None] = lambda _words: None) -> None:
        self.file = folder / _NAME
        self._tell = tell
        self._new: dict[tuple[str, bytes], bytes] = {}
        self._used: set[bytes] = set()
        self._base: sqlite3.Connection | None = None
        self._today = int(time.time()) // _DAY
        self._opened = False

    # ------------------------------------------------------------------------------------------------------------- one run

    def get(self, kind: str, key: bytes) -> bytes | None:
        """What was kept under *key*; None where nothing was, or it is damaged."""
        known = self._new.get((kind, key))
        if known is not None:
            return known
        rows = self._ask("SELECT value, used FROM kept WHERE key = ? AND kind = ?", (key, kind))
        for value, used in rows:
            if isinstance(value, bytes) and _sealed(key, value[16:]) == value[:16]:
                if used != self._today:
                    self._used.add(key)
                return bytes(value[16:])
            self._tell(f"a part of the cache {self.file} is damaged and was read anew")
        return None

    def has(self, kind: str, key: bytes) -> bool:
        """Whether something was kept under *key*, damaged or not."""
        if (kind, key) in self._new:
            return True
        rows = self._ask("SELECT used FROM kept WHERE key = ? AND kind = ?", (key, kind))
        if rows and rows[0][0] != self._today:
            self._used.add(key)
        return bool(rows)

    def put(self, kind: str, key: bytes, value: bytes) -> None:
        """Keeps *value* under *key* from the end of this run on."""
        if len(value) <= _MOST_OF_ONE:
            self._new[kind, key] = value

    def flush(self) -> None:
        """Writes what is to be kept, all of it or nothing."""
        new, used = self._new, self._used
        self._new, self._used = {}, set()
        if not new and not used:
            return
        rows = [(key, kind, _sealed(key, value) + value, self._today) for (kind, key), value in new.items()]

        def write(base: sqlite3.Connection) -> None:
            with base:
                base.execute("BEGIN IMMEDIATE")
                base.executemany("INSERT OR REPLACE INTO kept (key, kind, value, used) VALUES (?, ?, ?, ?)", rows)
                base.executemany("UPDATE kept SET used = ? WHERE key = ?", ((self._today, key) for key in used))
                self._evict(base)

        self._do(write)

    def close(self) -> None:
        """Writes what is to be kept, and closes the file."""
        self.flush()
        if self._base is not None:
            with suppress(Exception):
                self._base.close()
        self._base, self._opened = None, False

    def _evict(self, base: sqlite3.Connection) -> None:
        """Takes out what is old, once a day, and where the file is too large what was not used for longest."""
        if base.execute("PRAGMA user_version").fetchone()[0] != self._today:
            base.execute("DELETE FROM kept WHERE used < ?", (self._today - _MOST_DAYS,))
            base.execute(f"PRAGMA user_version = {self._today:d}")
        pages, free, size = (base.execute(f"PRAGMA {name}").fetchone()[0] for name in ("page_count", "freelist_count", "page_size"))
        over = (pages - free) * size - MOST
        if over > 0:
            gone = 0
            for number, length in base.execute("SELECT rowid, length(value) FROM kept ORDER BY used, rowid").fetchall():
                base.execute("DELETE FROM kept WHERE rowid = ?", (number,))
                gone += length
                if gone > over + MOST // 4:
                    break

    # --------------------------------------------------------------------------------------------------------- as a whole

    def kinds(self) -> list[Kind]:
        """What is kept, by kind."""
        if not self._files():
            return []
        return [Kind(*row) for row in self._ask("SELECT kind, count(*), sum(length(value)) FROM kept GROUP BY kind ORDER BY kind", ())]

    def size(self) -> int:
        """The bytes that the cache takes on the disk."""
        return sum(file.stat().st_size for file in self._files())

    def clear(self) -> None:
        """Removes all that is kept. Raises `OSError` where a file cannot be removed."""
        self.close()
        for file in self._files():
            file.unlink(missing_ok=True)

    def _files(self) -> list[Path]:
        folder = self.file.parent
        return [file for file in folder.glob("lemmar-*.sqlite*") if file.is_file()] if folder.is_dir() else []

    # --------------------------------------------------------------------------------------------------------- the file

    def _ask(self, question: str, values: tuple[object, ...]) -> list[tuple[Any, ...]]:
        return self._do(lambda base: base.execute(question, values).fetchall()) or []

    def _do(self, what: Callable[[sqlite3.Connection], _T]) -> _T | None:
        """What comes of asking the database; None where it cannot be asked."""
        import sqlite3

        base = self._open()
        if base is None:
            return None
        try:
            return what(base)
        except sqlite3.DatabaseError as error:
            self._base = None
            with suppress(Exception):
                base.close()
            if _is_damage(error):
                self._set_aside()
            else:
                self._tell(f"the cache {self.file} cannot be used ({error}); this run does without it")
            return None

    def _open(self) -> sqlite3.Connection | None:
        if self._opened:
            return self._base
        self._opened = True
        import sqlite3

        folder = self.file.parent
        try:
            folder.mkdir(mode=0o700, parents=True, exist_ok=True)
            if not _is_ours(folder) or (self.file.exists() and not _is_ours(self.file)):
                self._tell(f"the cache folder {folder} belongs to somebody else, or others may write to it; this run does without it")
                return None
            self._base = self._connected()
        except sqlite3.DatabaseError as error:
            if _is_damage(error):
                self._set_aside()
                with suppress(sqlite3.Error, OSError):
                    self._base = self._connected()
            else:
                self._tell(f"the cache {self.file} cannot be used ({error}); this run does without it")
        except OSError as error:
            self._tell(f"the cache folder {folder} cannot be used ({error.strerror or error}); this run does without it")
        return self._base

    def _connected(self) -> sqlite3.Connection:
        import sqlite3

        if not self.file.exists():
            os.close(os.open(self.file, os.O_CREAT | os.O_RDWR, 0o600))
        base = sqlite3.connect(self.file, timeout=_PATIENCE, isolation_level=None)
        base.execute("PRAGMA journal_mode = WAL")  # where that cannot be, the journal stays what it is
        base.execute("PRAGMA synchronous = NORMAL")
        base.execute(
            "CREATE TABLE IF NOT EXISTS kept (key BLOB PRIMARY KEY, kind TEXT NOT NULL, value BLOB NOT NULL, used INTEGER NOT NULL)"
        )
        return base

    def _set_aside(self) -> None:
        self._tell(f"the cache {self.file} was damaged and is begun anew")
        for file in self._files():
            with suppress(OSError):
                file.unlink()


def _is_damage(error: Exception) -> bool:
    words = str(error)
    return any(sign in words for sign in ("malformed", "not a database", "corrupt", "no such column", "no column", "datatype mismatch"))


def _is_ours(path: Path) -> bool:
    """Whether nobody else may write to the folder or file, so that nobody else's results are taken for ours."""
    if not hasattr(os, "getuid"):
        return True
    facts = path.stat()
    return facts.st_uid == os.getuid() and not stat.S_IMODE(facts.st_mode) & 0o022


def _sealed(key: bytes, value: bytes) -> bytes:
    return hashlib.blake2b(value, digest_size=16, key=key).digest()


def key_of(*pieces: bytes | str) -> bytes:
    """The key of what depends on all of *pieces*."""
    digest = hashlib.blake2b(digest_size=16)
    for piece in pieces:
        data = piece.encode("utf-8", "surrogatepass") if isinstance(piece, str) else piece
        digest.update(len(data).to_bytes(8, "little") + data)
    return digest.digest()
