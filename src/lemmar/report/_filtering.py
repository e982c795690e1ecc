"""Which findings people asked to see."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

from lemmar.basics.phrasing import is_named
from lemmar.findings import Finding, Verdict
from lemmar.report._output import Filter


def wanted(verdict: Verdict, shown: Filter) -> Iterator[Finding]:
    """The findings that were asked for, in the verdict's order."""
    return (finding for finding in verdict.findings if _asked(finding, shown))


def _asked(finding: Finding, shown: Filter) -> bool:
    return (
        _fits((finding.rule, finding.rule.partition(".")[0]), shown.rules)
        and _fits(finding.subject.clients, shown.clients)
        and _fits((finding.subject.locale or "",), shown.locales)
        and _fits(finding.owners, shown.owners)
        and (shown.files is None or any(place.file in shown.files for place in (finding.place, *finding.related) if place is not None))
    )


def _fits(names: Iterable[str], asked: Sequence[str]) -> bool:
    return not asked or any(is_named(name, asked) for name in names)
