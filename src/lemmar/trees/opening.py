"""Opens files that anything may stand behind: never waits on one that is no regular file, never reads one that is too large."""

from __future__ import annotations

import os
import stat
from typing import NamedTuple

#: A larger file is not read; no catalog comes near it.
MAX_BYTES = 256 * 1024 * 1024
_READING = os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0) | getattr(os, "O_NOCTTY", 0)


#: Every file that was read since it was last cleared, by device and number: what a result must not be written over unasked.
READ: set[tuple[int, int]] = set()


class Facts(NamedTuple):
    """By which it shows that a file or folder is another one than before: its number, its size in bytes, when it was written, and when anything
    of it was changed (ns).
    """

    number: int
    size: int
    written: int
    changed: int


def facts_of(found: os.stat_result) -> Facts:
    """What is to be kept of a file's facts."""
    return Facts(found.st_ino, found.st_size, found.st_mtime_ns, found.st_ctime_ns)


def regular_bytes(path: str, most: int = MAX_BYTES) -> bytes:
    """The bytes of the regular file at *path*. Raises `OSError` where it is none, cannot be read, or is larger than *most* bytes."""
    return regular_file(path, most)[0]


def regular_file(path: str, most: int = MAX_BYTES) -> tuple[bytes, Facts]:
    """The same, with the file's facts before it was read."""
    if not stat.S_ISREG(os.stat(path).st_mode):  # a device may do something when it is opened
        raise OSError("it is not a regular file")
    descriptor = os.open(path, _READING)
    try:
        facts = os.fstat(descriptor)  # another file may stand there by now
        if not stat.S_ISREG(facts.st_mode):
            raise OSError("it is not a regular file")
        if facts.st_size > most:
            raise OSError(f"it is larger than {most // 2**20} MiB")
        READ.add((facts.st_dev, facts.st_ino))
        data = os.read(descriptor, facts.st_size + 1)
        return data if len(data) == facts.st_size else _to_the_end(descriptor, data, most), facts_of(facts)
    finally:
        os.close(descriptor)


def _to_the_end(descriptor: int, first: bytes, most: int) -> bytes:
    """The bytes of a file that grows, shrinks or comes in pieces while it is read."""
    data = bytearray(first)
    while more := os.read(descriptor, 1 << 20):
        data += more
        if len(data) > most:
            raise OSError(f"it is larger than {most // 2**20} MiB")
    return bytes(data)
