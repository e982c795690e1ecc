"""Waivers: which of them accepts what, and which accept nothing."""

from __future__ import annotations

import fnmatch
from collections.abc import Sequence

from lemmar.charter import WaiverEntry
from lemmar.rules import Problem
from lemmar.rules.waiver import is_expired


class Waiving:
    """The waivers of a charter that run *today* (ISO 8601), and which of them have accepted anything so far."""

    def __init__(self, waivers: Sequence[WaiverEntry], today: str) -> None:
        self._running = [(index, waiver) for index, waiver in enumerate(waivers) if not is_expired(waiver, today)]
        self._used: set[int] = set()

    def accepted(self, rule: str, problem: Problem) -> str | None:
        """The reason of the first waiver that accepts a rule's *problem*; None where none does."""
        fitting = [(index, waiver) for index, waiver in self._running if _accepts(waiver, rule, problem)]
        self._used |= {index for index, _ in fitting}
        return fitting[0][1].reason if fitting else None

    @property
    def idle(self) -> tuple[int, ...]:
        """The indexes of the waivers that have accepted nothing."""
        return tuple(index for index, _ in self._running if index not in self._used)


def _accepts(waiver: WaiverEntry, rule: str, problem: Problem) -> bool:
    if waiver.rule != rule:
        return False
    subject, spot = problem.subject, problem.spot
    if waiver.client is not None and not any(fnmatch.fnmatchcase(client, waiver.client) for client in subject.clients):
        return False
    facts = (
        (waiver.locale, subject.locale),
        (waiver.part, subject.part),
        (waiver.key, subject.key),
        (waiver.file, spot.file if spot else None),
    )
    return all(wanted is None or (value is not None and fnmatch.fnmatchcase(value, wanted)) for wanted, value in facts)
