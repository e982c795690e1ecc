"""Writes a command's result: to standard output, or to a file at one stroke."""

from __future__ import annotations

import os
import shutil
import stat
import sys
import tempfile
import time
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

import click

from lemmar.basics.errors import TreeError, UsageError
from lemmar.basics.text import visible
from lemmar.cli._streams import say
from lemmar.trees.opening import READ


def write(pieces: Iterable[str], target: Path | None) -> None:
    """Writes the *pieces* to *target*, whole or not at all, else to standard output as they come; a reader that has gone is no error."""
    if target is not None:
        write_file(pieces, target)
        return
    for piece in pieces:
        sys.stdout.write(piece)
    sys.stdout.flush()


def write_file(pieces: Iterable[str | bytes], target: Path) -> None:
    """Writes the *pieces*, texts as UTF-8, to a new file beside *target* and puts it in its place; through a link, or into what is no regular
    file, as a shell's ``>`` would.

    Raises:
        TreeError: it cannot be written.
        UsageError: the target was read for this result.
    """
    facts = _facts(target)
    if facts is not None and (facts.st_dev, facts.st_ino) in READ and not click.get_current_context().meta.get("lemmar.onto_input"):
        raise UsageError(f"{target} was read for this; choose another file, or say --onto-input to write over it")
    if target.is_symlink() or (facts is not None and not stat.S_ISREG(facts.st_mode)):
        try:
            with target.open("wb") as stream:
                stream.writelines(map(_bytes, pieces))
        except OSError as error:
            raise TreeError(f"{target} cannot be written: {error.strerror or error}; choose another file") from error
        return
    temporary = None
    try:
        with tempfile.NamedTemporaryFile("wb", dir=target.parent, prefix=f".{target.name}.", delete=False) as stream:
            temporary = stream.name
            stream.writelines(map(_bytes, pieces))
        os.chmod(temporary, 0o666 & ~_umask())
        os.replace(temporary, target)
    except OSError as error:
        if temporary is not None:
            Path(temporary).unlink(missing_ok=True)
        raise TreeError(f"{target} cannot be written: {error.strerror or error}; choose another file") from error


def replaced(path: Path, before: bytes, after: bytes) -> bool:
    """Puts *after* into the place of a file that holds *before*, whole or not at all; whether it did: not where the file holds something else.

    Raises:
        TreeError: it cannot be written.
    """
    real = path.resolve()
    temporary = None
    try:
        with tempfile.NamedTemporaryFile("wb", dir=real.parent, prefix=f".{real.name}.", delete=False) as stream:
            temporary = stream.name
            stream.write(after)
        os.chmod(temporary, stat.S_IMODE(real.stat().st_mode))
        if real.read_bytes() != before:
            Path(temporary).unlink()
            return False
        os.replace(temporary, real)
    except OSError as error:
        if temporary is not None:
            Path(temporary).unlink(missing_ok=True)
        raise TreeError(f"{path} cannot be written: {error.strerror or error}") from error
    return True


def _bytes(piece: str | bytes) -> bytes:
    return piece if isinstance(piece, bytes) else piece.encode("utf-8", "backslashreplace")


def _facts(target: Path) -> os.stat_result | None:
    try:
        return target.stat()
    except OSError:
        return None


def _umask() -> int:
    mask = os.umask(0)
    os.umask(mask)
    return mask


def remark(text: str, detail: bool = False) -> None:
    """A line on standard error that is no part of the result: none with ``-q``, a *detail* only with ``-v``."""
    meta = click.get_current_context().meta
    if meta.get("lemmar.verbose") or not (detail or meta.get("lemmar.quiet")):
        say("\n".join(map(visible, text.split("\n"))))


@contextmanager
def progress(after: float = 0.0) -> Iterator[Callable[[str], None]]:
    """A way to say how far long work is, from so many seconds on: one line of a terminal that is written over and gone at the end; lines with ``-v``
    where it may begin at once; else nothing.
    """
    live = is_watched()
    width = shutil.get_terminal_size().columns - 1
    said = time.monotonic() + after - _PAUSE
    first = said

    def tell(text: str) -> None:
        nonlocal said
        if not live:
            if not after:
                remark(text, detail=True)
        elif not after or time.monotonic() >= said + _PAUSE:
            said = time.monotonic()
            say(f"\r\033[K{visible(text)[:width]}", end="")

    try:
        yield tell
    finally:
        if live and said != first:
            say("\r\033[K", end="")


#: How long a line that shows progress stays as it is, in seconds.
_PAUSE = 0.1


def is_watched() -> bool:
    """Whether somebody sees a line that is written over."""
    meta = click.get_current_context().meta
    return sys.stderr.isatty() and not meta.get("lemmar.quiet") and not meta.get("lemmar.verbose")
