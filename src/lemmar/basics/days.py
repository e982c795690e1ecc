"""The day that an audit is of."""

from __future__ import annotations

from datetime import UTC, date, datetime

from lemmar.basics.errors import UsageError


def day_of(today: str | None) -> str:
    """*today*, else the day in UTC, in ISO 8601. Raises `UsageError` where that is no date."""
    try:
        return (date.fromisoformat(today) if today is not None else datetime.now(UTC).date()).isoformat()
    except ValueError as error:
        raise UsageError(f"{today!r} is no date; write it as 2027-01-31") from error
