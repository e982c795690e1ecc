"""Counts that several outputs give."""

from __future__ import annotations

from lemmar.findings import Finding


def counts(findings: tuple[Finding, ...]) -> dict[str, int]:
    """How many findings there are of each severity, how many are waived, and how many were known before."""
    found = dict.fromkeys(("error", "warning", "note", "waived", "known"), 0)
    for finding in findings:
        found[standing(finding)] += 1
    return found


def standing(finding: Finding) -> str:
    """What a finding counts as: ``waived``, ``known``, or its severity."""
    return "waived" if finding.waiver is not None else "known" if finding.known else finding.severity
