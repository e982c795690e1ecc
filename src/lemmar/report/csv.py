"""CSV (RFC 4180): a header row, then a row each."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator
from typing import Any

from lemmar.basics.text import visible
from lemmar.findings import Finding, Verdict
from lemmar.report._cells import flat
from lemmar.report._drawing import Page
from lemmar.report._output import Filter, Output, View

#: What a row of a finding has. New columns are added at the end only.
_COLUMNS = (
    *("severity", "rule", "clients", "locale", "part", "key", "request", "file", "line", "column", "message", "effect", "remedy"),
    *("fingerprint", "waiver", "owners", "known"),
)


def table(view: View, _page: Page) -> Iterator[str]:
    """The rows; a text that a spreadsheet would take for a formula gets an apostrophe before it."""
    return _written((view.table.columns, *view.table.rows))


def findings(verdict: Verdict, _shown: Filter, _page: Page) -> Iterator[str]:
    """All findings, a row each; several clients or owners are parted by commas. What could not be checked is a row without a rule."""
    yield from _written([_COLUMNS])
    message = _COLUMNS.index("message")
    yield from _written(
        ("incomplete", *[None] * (message - 1), words, *[None] * (len(_COLUMNS) - message - 1)) for words in verdict.not_checked
    )
    yield from _written(map(_row, verdict.findings))


def _row(finding: Finding) -> tuple[Any, ...]:
    subject, place = finding.subject, finding.place or (None, None, None)
    return (
        *(finding.severity, finding.rule, ", ".join(subject.clients), subject.locale, subject.part, subject.key, subject.request),
        *(*place, finding.message, finding.effect, finding.remedy, finding.fingerprint, finding.waiver, ", ".join(finding.owners)),
        None if finding.known is None else "yes" if finding.known else "no",
    )


def _written(rows: Iterable[tuple[Any, ...]]) -> Iterator[str]:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for row in rows:
        writer.writerow([_inert(cell) for cell in row])
        yield out.getvalue()
        out.seek(0)
        out.truncate()


def _inert(cell: Any) -> Any:
    cell = flat(cell, " ")
    if isinstance(cell, str):
        shown = "".join(sign if sign in "\n\t" else visible(sign) for sign in cell) if not cell.isprintable() else cell
        return f"'{shown}" if shown[:1] in ("=", "+", "-", "@", "\t") else shown
    return "" if cell is None else cell


OUTPUT = Output("csv", table=table, findings=findings, streams=True)
