"""JUnit's XML, as build servers show tests: a suite a client, a case a locale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from xml.sax.saxutils import escape, quoteattr

from lemmar.basics.phrasing import counted
from lemmar.basics.text import visible
from lemmar.findings import Finding, Verdict, holds
from lemmar.report._counting import standing
from lemmar.report._drawing import Page
from lemmar.report._output import Filter, Output

#: The case of a client for what is of no locale of the roster, and the suite of what is of no client.
_WHOLE = "(the client)"
_CHARTER = "(the charter)"
_AUDIT = "(the audit)"


def findings(verdict: Verdict, _shown: Filter, _page: Page) -> Iterator[str]:
    """All findings, those of several clients in the suite of each. A case fails with what holds the release; one of which all is waived is skipped
    with the reasons; what is below the gate is its output. What could not be checked is a case with an error. No times are given.
    """
    names = [client.name for client in verdict.clients]
    by_case: dict[str, dict[str, list[Finding]]] = {name: {case: [] for case in (*verdict.locales, _WHOLE)} for name in names}
    for finding in verdict.findings:
        locale = finding.subject.locale
        case = locale if locale is not None and locale in verdict.locales else _WHOLE
        for name in finding.subject.clients or (_CHARTER,):
            by_case.setdefault(name, {_WHOLE: []}).setdefault(case, []).append(finding)
    by_case.setdefault(_CHARTER, {_WHOLE: []})
    suites = {name: _suite(name, cases, verdict.fail_on) for name, cases in by_case.items()}
    cases = sum(map(len, by_case.values())) + 1
    failures = sum(_fails(found, verdict.fail_on) for those in by_case.values() for found in those.values())
    yield '<?xml version="1.0" encoding="UTF-8"?>\n'
    yield f'<testsuites name="lemmar" tests="{cases}" failures="{failures}" errors="{int(bool(verdict.not_checked))}">\n'
    yield from _of_audit(verdict)
    for pieces in suites.values():
        yield from pieces
    yield "</testsuites>\n"


def _of_audit(verdict: Verdict) -> Iterator[str]:
    errors = int(bool(verdict.not_checked))
    yield f'  <testsuite name={_quoted(_AUDIT)} tests="1" failures="0" errors="{errors}" skipped="0">\n'
    yield f'    <testcase name="everything was looked at" classname={_quoted(_AUDIT)}'
    if not errors:
        yield "/>\n  </testsuite>\n"
        return
    words = f"{counted(len(verdict.not_checked), 'thing')} could not be checked"
    yield f'>\n      <error type="incomplete" message={_quoted(words)}>'
    yield _text("\n".join(map(visible, verdict.not_checked)))
    yield "</error>\n    </testcase>\n  </testsuite>\n"


def _suite(name: str, cases: dict[str, list[Finding]], fail_on: str) -> Iterator[str]:
    failures = sum(_fails(found, fail_on) for found in cases.values())
    skipped = sum(_is_skipped(found) for found in cases.values())
    yield f'  <testsuite name={_quoted(name)} tests="{len(cases)}" failures="{failures}" errors="0" skipped="{skipped}">\n'
    for case, found in cases.items():
        yield f"    <testcase name={_quoted(case)} classname={_quoted(name)}"
        yield ">\n" if found else "/>\n"
        if found:
            yield from _case(found, fail_on)
            yield "    </testcase>\n"
    yield "  </testsuite>\n"


def _case(found: Sequence[Finding], fail_on: str) -> Iterator[str]:
    held = [finding for finding in found if holds(finding, fail_on)]
    if held:
        rules = ", ".join(dict.fromkeys(finding.rule for finding in held))
        yield f"      <failure type={_quoted(rules)} message={_quoted(_holds(held))}>"
        for finding in held:
            yield _text(_lines(finding))
        yield "</failure>\n"
    elif _is_skipped(found):
        reasons = "; ".join(dict.fromkeys(visible(finding.waiver or "") for finding in found))
        yield f"      <skipped message={_quoted(f'waived: {reasons}')}/>\n"
    others = [finding for finding in found if not holds(finding, fail_on)]
    if others:
        yield "      <system-out>"
        for finding in others:
            yield _text(_lines(finding))
        yield "</system-out>\n"


def _holds(held: Sequence[Finding]) -> str:
    """What a case fails with: its first finding, and how many more there are."""
    more = f" (and {len(held) - 1:,} more)" if len(held) > 1 else ""
    return f"{visible(held[0].message)}{more}"


def _lines(finding: Finding) -> str:
    place = "(no place)" if finding.place is None else f"{visible(finding.place.file)}:{finding.place.line}:{finding.place.column}"
    words = f" (waived: {visible(finding.waiver)})" if finding.waiver is not None else ""
    effect = f"\n    {visible(finding.effect)}" if finding.effect else ""
    return f"{place}: {standing(finding)} {finding.rule}: {visible(finding.message)}{words}{effect}\n    → {visible(finding.remedy)}\n"


def _fails(found: Sequence[Finding], fail_on: str) -> bool:
    return any(holds(finding, fail_on) for finding in found)


def _is_skipped(found: Sequence[Finding]) -> bool:
    return bool(found) and all(finding.waiver is not None for finding in found)


def _quoted(text: str) -> str:
    return quoteattr(visible(text))


def _text(text: str) -> str:
    return escape(text)


OUTPUT = Output("junit", findings=findings, streams=True)
