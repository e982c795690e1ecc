"""The errors that end a run. What is wrong in a client's files is never one of these: it is a finding.

LemmarError
├── CharterError   the charter cannot be used; carries every mistake found in it
├── TreeError      a file, folder or revision that the command was given cannot be read
├── UsageError     what was asked does not go together
│   └── GateError  the charter has no gate of that name
├── OutputError    the result could not be written where it was to go
└── IncompleteError part of the monorepo could not be examined on this machine: time ran out, or a library is missing
"""

from __future__ import annotations

from typing import NamedTuple


class Mistake(NamedTuple):
    """One mistake in a charter. *line* is 1-based, 0 where it concerns the file as a whole; *file* is the included one that it stands in."""

    line: int
    text: str
    file: str | None = None


class LemmarError(Exception):
    """One plain sentence that says what is wrong and what to do next."""


class CharterError(LemmarError):
    """A charter that cannot be used, with all its mistakes in the order of their lines."""

    def __init__(self, file: str, mistakes: tuple[Mistake, ...]) -> None:
        super().__init__(file, mistakes)
        self.file = file
        self.mistakes = mistakes

    def __str__(self) -> str:
        places = [(m.file or self.file) + (f":{m.line}" if m.line else "") for m in self.mistakes]
        lines = [f"{place}: {m.text}" for place, m in zip(places, self.mistakes, strict=True)]
        several = f"{self.file} has {len(lines)} mistakes; correct them, and run the command again"
        return "\n".join([*lines, several] if len(lines) > 1 else lines)


class TreeError(LemmarError):
    """A file or folder that the command was given cannot be read."""


class UsageError(LemmarError):
    """What was asked does not go together."""


class GateError(UsageError):
    """The charter has no gate of the name that was asked for."""


class OutputError(LemmarError):
    """The result could not be written where it was to go."""


class IncompleteError(LemmarError):
    """Something could not be looked at whole on this machine, and would be on another: nothing may be concluded from what was seen of it."""
