"""Standard streams that may be closed, full, or have nobody at their other end."""

from __future__ import annotations

import codecs
import errno
import io
import os
import sys
from contextlib import suppress

from lemmar.basics.errors import OutputError

#: What the drawings are of, for streams whose encoding has none of it; any other character is an escape there.
_PLAIN = {"─": "-", "→": "->", "…": "...", "–": "-", "’": "'", "·": "."}
#: How streams write what their encoding lacks.
ERRORS = "lemmar.plain"


def _plainly(error: UnicodeError) -> tuple[str, int]:
    if not isinstance(error, UnicodeEncodeError):
        raise error
    piece = error.object[error.start : error.end]
    return "".join(_PLAIN.get(sign) or sign.encode("ascii", "backslashreplace").decode("ascii") for sign in piece), error.end


codecs.register_error(ERRORS, _plainly)


class _Output(io.TextIOWrapper):
    """Standard output: a reader that has gone is no error, and what cannot be written is one of its own kind."""

    def write(self, text: str) -> int:
        try:
            return super().write(text)
        except OSError as error:
            self._failed(error)
            return len(text)

    def flush(self) -> None:
        try:
            super().flush()
        except OSError as error:
            self._failed(error)

    def _failed(self, error: OSError) -> None:
        with suppress(OSError):  # what is left in the buffer goes nowhere
            os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        if not isinstance(error, BrokenPipeError):
            why = "standard output is closed" if error.errno == errno.EBADF else error.strerror or error
            raise OutputError(f"the output could not be written: {why}") from error


def prepare() -> None:
    """Gives each standard stream that is closed a place that takes nothing, so that no file is opened in its stead, and makes all of them fit
    for any text.
    """
    for number in (0, 1, 2):
        try:
            os.fstat(number)
        except OSError:
            os.open(os.devnull, os.O_WRONLY if number == 2 else os.O_RDONLY)  # what is written to standard output then fails
    if sys.stderr is None:
        sys.stderr = open(2, "w", encoding="utf-8", closefd=False)  # noqa: SIM115
    if hasattr(sys.stderr, "reconfigure"):
        sys.stderr.reconfigure(errors=ERRORS)
    terminal = os.isatty(1)
    encoding = sys.stdout.encoding if sys.stdout is not None else "utf-8"
    if sys.stdout is None or isinstance(sys.stdout, io.TextIOWrapper):
        buffer = open(1, "wb", closefd=False)  # noqa: SIM115
        sys.stdout = _Output(buffer, encoding=encoding, errors=ERRORS, line_buffering=terminal, newline="\n")


def say(text: str, end: str = "\n") -> None:
    """A line on standard error, if anybody hears it."""
    with suppress(OSError, ValueError):
        print(text, end=end, file=sys.stderr, flush=True)
