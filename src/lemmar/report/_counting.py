"""Counts that several outputs give."""

from __future__ import annotations

from lemmar.findings import Finding


def counts(findings: tuple[Finding, ...]) -> dict[str, int]:
    """How many findings there are of each severity, and how many are waived."""
    found = {"error": 0, "warning": 0, "note": 0, "waived": 0}
    for finding in findings:
        found["waived" if finding.waiver is not None else finding.severity] += 1
    return found
