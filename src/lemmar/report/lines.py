"""A line for each finding, as editors and line tools read it: ``FILE:LINE:COLUMN: severity rule: message``."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.text import visible
from lemmar.findings import Finding, Verdict
from lemmar.report._counting import standing
from lemmar.report._drawing import Page
from lemmar.report._filtering import wanted
from lemmar.report._output import Filter, Output

#: A line that begins so would be a command to a log, or an option to a tool that is given it.
_ODD = ("#", ":", "-", "!")


def findings(verdict: Verdict, shown: Filter, _page: Page) -> Iterator[str]:
    """The findings that were asked for; of one that is waived, or was known before, that stands where its severity would. What could not be checked
    comes first, without a place.
    """
    for words in verdict.not_checked:
        yield f"not checked: {visible(words)}\n"
    for finding in wanted(verdict, shown):
        yield f"{_place(finding)}: {standing(finding)} {finding.rule}: {visible(finding.message)}\n"


def _place(finding: Finding) -> str:
    if finding.place is None:
        return "(no place)"
    file, line, column = finding.place
    shown = visible(file)
    return f"{'./' if shown.startswith(_ODD) else ''}{shown}:{line}:{column}"


OUTPUT = Output("lines", findings=findings, streams=True)
