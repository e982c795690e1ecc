"""Waivers: which of them accepts what, and which accept nothing."""

from __future__ import annotations

import fnmatch
import re
from collections.abc import Iterator, Sequence

from lemmar.basics.expressions import expression
from lemmar.charter.types import WaiverEntry
from lemmar.rules import Problem
from lemmar.rules.waiver import is_expired

_LITERAL = expression(r"[^*?[]*+")


class Waiving:
    """The waivers of a charter that run *today* (ISO 8601), and which of them have accepted anything so far.

    They are kept by rule and by the letters that a key must begin with, so that few are looked at for each problem.
    """

    def __init__(self, waivers: Sequence[WaiverEntry], today: str) -> None:
        self._running = [(index, waiver) for index, waiver in enumerate(waivers) if not is_expired(waiver, today)]
        self._used: set[int] = set()
        self._by_start: dict[str, dict[str, list[tuple[int, WaiverEntry]]]] = {}
        for index, waiver in self._running:
            of_rule = self._by_start.setdefault(waiver.rule, {})
            of_rule.setdefault(_literal(waiver.key or ""), []).append((index, waiver))
        self._lengths = {rule: sorted({len(start) for start in starts}) for rule, starts in self._by_start.items()}
        self._patterns: dict[str, re.Pattern[str]] = {}

    def accepted(self, rule: str, problem: Problem) -> str | None:
        """The reason of the first waiver that accepts a rule's *problem*; None where none does."""
        fitting = sorted((index, waiver.reason) for index, waiver in self._candidates(rule, problem) if self._accepts(waiver, problem))
        self._used |= {index for index, _ in fitting}
        return fitting[0][1] if fitting else None

    def _candidates(self, rule: str, problem: Problem) -> Iterator[tuple[int, WaiverEntry]]:
        key = problem.subject.key or ""
        starts = self._by_start.get(rule, {})
        for length in self._lengths.get(rule, ()):
            if length > len(key):
                return
            yield from starts.get(key[:length], ())

    @property
    def idle(self) -> tuple[int, ...]:
        """The indexes of the waivers that have accepted nothing."""
        return tuple(index for index, _ in self._running if index not in self._used)

    def _accepts(self, waiver: WaiverEntry, problem: Problem) -> bool:
        subject, spot = problem.subject, problem.spot
        if waiver.client is not None and not any(self._fits(client, waiver.client) for client in subject.clients):
            return False
        facts = (
            (waiver.locale, subject.locale),
            (waiver.part, subject.part),
            (waiver.key, subject.key),
            (waiver.request, subject.request),
            (waiver.file, spot.file if spot else None),
        )
        return all(wanted is None or (value is not None and self._fits(value, wanted)) for wanted, value in facts)

    def _fits(self, value: str, pattern: str) -> bool:
        """As `fnmatch.fnmatchcase`, whose own memory is too small for many patterns."""
        if _literal(pattern) == pattern:
            return value == pattern
        if pattern not in self._patterns:
            self._patterns[pattern] = re.compile(fnmatch.translate(pattern))
        return self._patterns[pattern].match(value) is not None


def _literal(pattern: str) -> str:
    """What a text must begin with to fit *pattern*."""
    found = _LITERAL.match(pattern)
    return found[0] if found is not None else ""
