"""What is reported: findings at their places, and the verdict. Plain values."""

from __future__ import annotations

from typing import NamedTuple

from msgspec import Struct

from lemmar.resolve.world import World
from lemmar.rules import Severity, Subject
from lemmar.trees import File


class Place(NamedTuple):
    """Where a reader of a finding is sent. *line* and *column* are 1-based; a column counts code points."""

    file: File
    line: int
    column: int


class Finding(Struct, frozen=True):
    """What is reported. *waiver* is the reason of the waiver that accepts it, or None."""

    rule: str
    severity: Severity
    subject: Subject
    message: str
    effect: str
    remedy: str
    place: Place | None
    related: tuple[Place, ...]
    fingerprint: str
    waiver: str | None


class Verdict(Struct, frozen=True):
    """The answer to "may we ship?": the findings in their final order, and the clients they were computed from.

    *hold* says whether the gate holds the release. *unfinished* are sentences on what could not be looked at: with any, the release is not clear.
    """

    hold: bool
    findings: tuple[Finding, ...]
    world: World
    unfinished: tuple[str, ...] = ()

    @property
    def word(self) -> str:
        """``clear``, ``hold``, or ``incomplete`` where not everything could be looked at and nothing holds the release."""
        return "hold" if self.hold else "incomplete" if self.unfinished else "clear"
