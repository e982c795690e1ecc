"""SARIF 2.1.0 (OASIS, static analysis results interchange format): a log that code forges and editors show beside the code."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import lru_cache
from typing import Any
from urllib.parse import quote

from lemmar import __version__
from lemmar.basics.text import visible
from lemmar.findings import Finding, Place, Replacement, Severity, Verdict
from lemmar.report._cells import json_of, quick_json_of
from lemmar.report._drawing import Page
from lemmar.report._output import Filter, Output
from lemmar.trees import File

_SCHEMA = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
#: More results than this are parted into a run a client, as many readers take no longer run.
MOST_OF_A_RUN = 20_000
_ROOT = "ROOT"


def findings(verdict: Verdict, shown: Filter, _page: Page) -> Iterator[str]:
    """All findings as results; one run, or of more than `MOST_OF_A_RUN` results one run a client, none left out."""
    from lemmar.rules import all_rules

    driver = _driver({rule.name: (rule.severity, rule.summary, rule.manual) for rule in all_rules().values()})
    numbers = {rule["id"]: number for number, rule in enumerate(driver["rules"])}
    yield f'{{\n"$schema": {json_of(_SCHEMA)},\n"version": "2.1.0",\n"runs": ['
    before = "\n"
    for name, found in _runs(verdict):
        yield before + "{\n" + ",\n".join(f"{json_of(key)}: {json_of(value)}" for key, value in _run(verdict, driver, name).items())
        yield ',\n"results": ['
        comma = "\n"
        for finding in found:
            fix = shown.fixes.get(finding.fingerprint)
            yield comma + quick_json_of(_result(finding, numbers) | (_fixes(fix) if fix else {}))
            comma = ",\n"
        yield "\n]\n}"
        before = ",\n"
    yield "\n]\n}\n"


def _runs(verdict: Verdict) -> Iterator[tuple[str, Iterable[Finding]]]:
    if len(verdict.findings) <= MOST_OF_A_RUN:
        yield "lemmar/all", verdict.findings
        return
    names = [client.name for client in verdict.clients]
    for name in [*names, None]:
        found = [finding for finding in verdict.findings if next(iter(finding.subject.clients), None) == name]
        if found:
            yield f"lemmar/{'charter' if name is None else 'client/' + quote(name, safe='')}", found


def _driver(rules: dict[str, tuple[Severity, str, str]]) -> dict[str, Any]:
    return {
        "name": "Lemmar",
        "semanticVersion": __version__,
        "rules": [
            {
                "id": name,
                "shortDescription": {"text": summary},
                "fullDescription": {"text": manual.split("\n\n")[0].replace("\n", " ")},
                "help": {"text": manual, "markdown": manual},
                "defaultConfiguration": {"level": severity},
            }
            for name, (severity, summary, manual) in rules.items()
        ],
    }


def _run(verdict: Verdict, driver: dict[str, Any], name: str) -> dict[str, Any]:
    return {
        "tool": {"driver": driver},
        "automationDetails": {"id": name},
        "columnKind": "unicodeCodePoints",
        "originalUriBaseIds": {_ROOT: {"description": {"text": "The folder of the charter, the monorepo's root."}}},
        "invocations": [
            {
                "executionSuccessful": not verdict.not_checked,
                "exitCode": verdict.exit_code,
                "toolExecutionNotifications": [{"level": "error", "message": {"text": visible(words)}} for words in verdict.not_checked],
            }
        ],
        "properties": {"verdict": verdict.word},
    }


def _result(finding: Finding, numbers: dict[str, int]) -> dict[str, Any]:
    subject = finding.subject
    words = (finding.message, finding.effect, f"→ {finding.remedy}" if finding.remedy else "")
    location: dict[str, Any] = _location(finding.place) if finding.place is not None else {}
    about = "/".join(piece for piece in (", ".join(subject.clients), subject.locale, subject.part, subject.key, subject.request) if piece)
    if about:
        location["logicalLocations"] = [{"fullyQualifiedName": visible(about), "kind": "resource"}]
    result: dict[str, Any] = {
        "ruleId": finding.rule,
        "ruleIndex": numbers[finding.rule],
        "level": finding.severity,
        "message": {"text": ". ".join(visible(piece) for piece in words if piece)},
        "locations": [location] if location else [],
        "partialFingerprints": {"lemmar/1": finding.fingerprint},
    }
    if finding.related:
        result["relatedLocations"] = [{"id": number, **_location(place)} for number, place in enumerate(finding.related, 1)]
    if finding.known is not None:
        result["baselineState"] = "unchanged" if finding.known else "new"
    if finding.waiver is not None:
        result["suppressions"] = [{"kind": "external", "status": "accepted", "justification": visible(finding.waiver)}]
    facts = {
        "clients": list(subject.clients),
        "locale": subject.locale,
        "part": subject.part,
        "key": subject.key,
        "request": subject.request,
    }
    result["properties"] = {name: fact for name, fact in {**facts, "owners": list(finding.owners)}.items() if fact}
    return result


def _fixes(fix: tuple[Replacement, ...]) -> dict[str, Any]:
    by_file: dict[File, list[Replacement]] = {}
    for each in fix:
        by_file.setdefault(each.file, []).append(each)
    changes = [
        {
            "artifactLocation": {"uri": _uri(file), "uriBaseId": _ROOT},
            "replacements": [
                {
                    "deletedRegion": {
                        "startLine": each.line,
                        "startColumn": each.column,
                        "endLine": each.end_line,
                        "endColumn": each.end_column,
                    },
                    "insertedContent": {"text": each.text},
                }
                for each in found
            ],
        }
        for file, found in by_file.items()
    ]
    return {"fixes": [{"description": {"text": "what 'lemmar mend' does"}, "artifactChanges": changes}]}


def _location(place: Place) -> dict[str, Any]:
    uri = _uri(place.file)
    region = {"startLine": place.line, "startColumn": place.column}
    return {"physicalLocation": {"artifactLocation": {"uri": uri, "uriBaseId": _ROOT}, "region": region}}


@lru_cache(maxsize=4096)
def _uri(file: File) -> str:
    return quote(file.encode("utf-8", "surrogateescape"), safe="/")


OUTPUT = Output("sarif", findings=findings, streams=True, mends=True)
