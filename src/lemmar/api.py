"""What a Python program calls: the gate as one function."""

from __future__ import annotations

from pathlib import Path

from lemmar.auditing.pipeline import fresh_verdict
from lemmar.basics.errors import LemmarError
from lemmar.charter.origins import origin
from lemmar.charter.reading import parsed
from lemmar.findings import Verdict
from lemmar.rules import all_rules

__all__ = ["LemmarError", "audit"]


def audit(charter: str | Path | None = None, *, at: str | None = None, gate: str | None = None, today: str | None = None) -> Verdict:
    """Checks the monorepo of a *charter*, as ``lemmar audit`` does, and keeps nothing.

    *charter* is a path or ``REVISION:PATH``, by default the ``lemmar.toml`` here or in the nearest folder above; *at* is a git revision that is
    looked at instead of the files on disk, *gate* one of the charter's gates, *today* an ISO 8601 date, by default the day in UTC.

    Raises:
        TreeError: the charter, the revision or the repository is not there.
        CharterError: the charter has mistakes.
        UsageError: what was asked does not go together.
        IncompleteError: nothing could be audited.
    """
    where = origin(None if charter is None else Path(charter), at, Path.cwd())
    read = parsed(where.file._replace(gate=gate), tuple(all_rules()))
    return fresh_verdict(read, where.tree(), today)
