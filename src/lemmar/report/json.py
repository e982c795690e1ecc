"""JSON: a table as ``{"schema": "lemmar.NAME/1", "rows": [{…}]}``; a verdict as ``lemmar.audit/1``, whose schema is made from the types here and
shipped beside this file.

History: 1, the first form; `owners`, `known`, `since`, `gone`, then `assumed` and `basis` were added to it.
"""

from __future__ import annotations

from collections.abc import Iterator
from importlib import resources
from typing import Annotated, Any, Literal

import msgspec
from msgspec import Meta, Struct

from lemmar.basics.schemas import tidied
from lemmar.findings import Finding, Place, Verdict
from lemmar.report._cells import inert, json_of
from lemmar.report._counting import counts
from lemmar.report._drawing import Page
from lemmar.report._output import Filter, Output, View

Level = Literal["error", "warning", "note"]
Line = Annotated[int, Meta(ge=1)]


class PlaceOut(Struct):
    """Where something stands; 1-based, columns count code points."""

    file: str
    line: Line
    column: Line


class FindingOut(Struct):
    """One finding; what does not apply is null. *client* is the first of *clients*; *known* says whether it was there at the earlier audit that
    this one is held against; *drafted* has the places of the charter's unconfirmed tables that it rests on: if they are right, it is an error.
    """

    rule: str
    severity: Level
    client: str | None
    clients: list[str]
    locale: str | None
    part: str | None
    key: str | None
    request: str | None
    message: str
    effect: str
    remedy: str
    place: PlaceOut | None
    related: list[PlaceOut]
    fingerprint: str
    waiver: str | None
    owners: list[str]
    known: bool | None
    drafted: list[str]


class LocaleOut(Struct):
    """How many messages users of a locale see in which way."""

    messages: int
    own: int
    inherited: int
    foreign: int
    key: int
    blank: int
    error: int


class BasisOut(Struct):
    """How a fact of a client is known; *origin* is the claim's place, or the preset's name; *why* is the charter's reason for what nothing states."""

    fact: str
    known: Literal["stated", "charter", "preset", "drafted", "assumed"]
    value: str
    origin: str
    why: str


class ClientOut(Struct):
    """A client and what its users see, by locale of the roster; and how each of its facts is known."""

    name: str
    kind: str
    locales: dict[str, LocaleOut]
    basis: list[BasisOut]


class Counts(Struct):
    """Findings by severity, apart from those that a waiver accepts and those that were known before."""

    error: int
    warning: int
    note: int
    waived: int
    known: int


class AuditOut(Struct):
    """The whole audit. Where it is not *complete*, *unfinished* says in sentences what could not be looked at, and the verdict is never clear. *since*
    names the earlier audit that it is held against; *gone* says how many of its findings are not there any more. *assumed* has the facts that nothing
    states, each with the clients of which the verdict assumes it; *undecided* the places of drafted tables that are to be confirmed or corrected.
    """

    schema: Literal["lemmar.audit/1"]
    verdict: Literal["clear", "hold"]
    complete: bool
    unfinished: list[str]
    since: str | None
    gone: int
    assumed: dict[str, list[str]]
    undecided: list[str]
    counts: Counts
    clients: list[ClientOut]
    findings: list[FindingOut]


def table(view: View, _page: Page) -> Iterator[str]:
    """The rows as objects; a lone surrogate is replaced."""
    found = view.table
    yield f'{{\n  "schema": "lemmar.{found.name}/1",\n  "rows": ['
    before = "\n"
    for row in found.rows:
        lines = json_of(dict(zip(found.columns, row, strict=True)), indent=2)
        yield before + "    " + lines.replace("\n", "\n    ")
        before = ",\n"
    yield "]\n}\n" if before == "\n" else "\n  ]\n}\n"


def findings(verdict: Verdict, _shown: Filter, _page: Page) -> Iterator[str]:
    """The whole verdict, whatever people asked to see."""
    clients = [
        ClientOut(
            client.name,
            client.kind,
            {locale: LocaleOut(answer.messages, *answer) for locale, answer in client.answers.items()},
            [BasisOut(*each) for each in client.basis],
        )
        for client in verdict.clients
    ]
    out = AuditOut(
        "lemmar.audit/1",
        verdict.verdict,
        not verdict.not_checked,
        list(verdict.not_checked),
        verdict.since,
        verdict.gone,
        {fact: list(names) for fact, names in verdict.assumed.items()},
        list(verdict.to_confirm),
        Counts(**counts(verdict.findings)),
        clients,
        [],
    )
    head = _written(out)
    if not verdict.findings:
        yield head + "\n"
        return
    yield head.removesuffix("]\n}")
    before = "\n    "
    for finding in verdict.findings:  # one by one, as there may be hundreds of thousands
        yield before + _written(_finding(finding)).replace("\n", "\n    ")
        before = ",\n    "
    yield "\n  ]\n}\n"


def _written(out: Struct) -> str:
    return inert(msgspec.json.format(_encode(out), indent=2).decode("utf-8"))


def _encode(out: Struct) -> bytes:
    try:
        return msgspec.json.encode(out)
    except UnicodeEncodeError:  # a lone surrogate, from a broken text or the name of a file
        return msgspec.json.encode(_sound(msgspec.to_builtins(out)))


def _sound(value: Any) -> Any:
    if isinstance(value, str):
        return value.encode("utf-8", "replace").decode("utf-8")
    if isinstance(value, dict):
        return {_sound(key): _sound(item) for key, item in value.items()}
    return [_sound(item) for item in value] if isinstance(value, list) else value


def _finding(finding: Finding) -> FindingOut:
    subject = finding.subject
    return FindingOut(
        finding.rule,
        finding.severity,
        subject.clients[0] if subject.clients else None,
        list(subject.clients),
        subject.locale,
        subject.part,
        subject.key,
        subject.request,
        finding.message,
        finding.effect,
        finding.remedy,
        _place(finding.place) if finding.place else None,
        [_place(place) for place in finding.related],
        finding.fingerprint,
        finding.waiver,
        list(finding.owners),
        finding.known,
        list(finding.drafted),
    )


def _place(place: Place) -> PlaceOut:
    return PlaceOut(place.file, place.line, place.column)


def make_schema() -> dict[str, Any]:
    """The JSON Schema (draft 2020-12), made from the types."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "lemmar.audit/1", **tidied(msgspec.json.schema(AuditOut))}


def shipped_schema() -> str:
    """The schema as it is shipped."""
    return resources.files("lemmar.report").joinpath("audit.schema.json").read_text("utf-8")


OUTPUT = Output("json", table=table, findings=findings, streams=True)
