"""The waiver family: are the exceptions that the team has granted still true?"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.charter.types import WaiverEntry
from lemmar.findings import Subject
from lemmar.resolve.outlines import Overview
from lemmar.resolve.spots import charter_spot
from lemmar.rules import Problem, rule

_NARROWS = ("client", "locale", "part", "key", "file")


def is_expired(waiver: WaiverEntry, today: str) -> bool:
    """Whether the waiver's last day lies before *today* (ISO 8601)."""
    return waiver.until.isoformat() < today


def _shown(waiver: WaiverEntry) -> str:
    narrowed = ", ".join(f"{name} {getattr(waiver, name)!r}" for name in _NARROWS if getattr(waiver, name) is not None)
    return f"the waiver of {waiver.rule}" + (f" for {narrowed}" if narrowed else "")


def _detail(waiver: WaiverEntry) -> str:
    """What tells a waiver from the others, wherever it stands in the charter."""
    return "\0".join([waiver.rule, *(getattr(waiver, name) or "" for name in _NARROWS), waiver.reason])


@rule("waiver.expired", "error", "A waiver's last day has passed.", of="end")
def expired(seen: Overview) -> Iterator[Problem]:
    """Once a waiver's last day has passed, the findings it covered count again.

    Reported once for each such waiver, at its place in the charter. To fix: fix what it covered and remove it, or agree on another day.
    """
    for index, waiver in enumerate(seen.charter.waiver):
        if is_expired(waiver, seen.today):
            yield Problem(
                Subject(),
                f"{_shown(waiver)} ended on {waiver.until.isoformat()}",
                charter_spot(seen, "waiver", index),
                "the findings it covered count again",
                f"fix it ({waiver.reason}), or agree on another day",
                detail=_detail(waiver),
            )


@rule("waiver.idle", "warning", "A waiver matches no finding.", of="end")
def idle(seen: Overview) -> Iterator[Problem]:
    """What it covered has been fixed, or it never matched; either way it may hide a new fault tomorrow.

    Reported once for each waiver that is still running and matches nothing. To fix: remove it, or correct what it names.
    """
    for index in seen.idle:
        waiver = seen.charter.waiver[index]
        yield Problem(
            Subject(),
            f"{_shown(waiver)} matches no finding",
            charter_spot(seen, "waiver", index),
            "it may silently accept a new fault",
            "remove it, or correct what it names",
            detail=_detail(waiver),
        )
