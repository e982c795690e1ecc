"""Where an audit's time goes. Nothing else ever looks at these numbers."""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager

#: The seconds of processor time that a phase has taken for what is named, and how often.
Spent = Mapping[tuple[str, str], tuple[float, int]]


class Times:
    """The time that phases take. What runs inside another phase is counted there alone."""

    def __init__(self) -> None:
        self.spent: dict[tuple[str, str], tuple[float, int]] = {}
        self._inner = [0.0]

    @contextmanager
    def of(self, phase: str, name: str = "") -> Iterator[None]:
        """Counts the time inside as the *phase*'s for what is *named*."""
        start = time.process_time()
        self._inner.append(0.0)
        try:
            yield
        finally:
            whole = time.process_time() - start
            inner = self._inner.pop()
            self._inner[-1] += whole
            self._add(phase, name, whole - inner, 1)

    def take(self, spent: Spent) -> None:
        """Adds what was spent elsewhere."""
        for (phase, name), (seconds, number) in spent.items():
            self._add(phase, name, seconds, number)

    def _add(self, phase: str, name: str, seconds: float, number: int) -> None:
        before = self.spent.get((phase, name), (0.0, 0))
        self.spent[phase, name] = before[0] + seconds, before[1] + number
