"""The pipeline: charter → inventory → resolution → findings → hiding and waivers → places → verdict."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import UTC, date, datetime
from typing import cast

from msgspec.structs import replace

from lemmar import rules
from lemmar.charter import Charter, WaiverEntry
from lemmar.charter.reading import ReadCharter
from lemmar.errors import IncompleteError, UsageError
from lemmar.findings import SEVERITIES, Finding, Severity, Verdict, holds
from lemmar.hiding import visible_problems
from lemmar.inventory import gather
from lemmar.judging import Judge, Judged, level_of
from lemmar.places import ReadAs, places_of
from lemmar.raised import Raised, gathered, shared
from lemmar.resolve import resolve
from lemmar.resolve.outlines import Outline, Overview
from lemmar.resolve.world import World
from lemmar.rules import Problem, Rule
from lemmar.survey import uncharted
from lemmar.trees import File, Tree
from lemmar.waivers import Waiving
from lemmar.words import is_named


def world_of_charter(read: ReadCharter, tree: Tree) -> World:
    """All clients of a charter, gathered from *tree* and resolved, for those who look at one or several of them."""
    inventory = gather(read.charter, tree)
    clients = resolve(read.charter, inventory)
    unfinished = tuple(dict.fromkeys((*inventory.unfinished, *tree.unread())))
    return World(read.charter, File(read.file), read.lines, clients, inventory.shapes, unfinished)


def audit(read: ReadCharter, tree: Tree, today: str | None = None) -> Verdict:
    """Checks the monorepo that *tree* is against its charter, by every rule. *today* is an ISO 8601 date, by default the day in UTC.

    Raises:
        UsageError: no pattern of the charter matches a file, so that there is nothing to audit; *today* is no date.
    """
    day = day_of(today)
    judge = Judge(read, tree)
    return concluded(read, tree, [judge.judge(index) for index in range(len(read.charter.client))], day)


def day_of(today: str | None) -> str:
    """The day that an audit is of, in ISO 8601: *today*, else the day in UTC. Raises `UsageError` where that is no date."""
    try:
        return (date.fromisoformat(today) if today is not None else datetime.now(UTC).date()).isoformat()
    except ValueError as error:
        raise UsageError(f"{today!r} is no date; write it as 2027-01-31") from error


def concluded(read: ReadCharter, tree: Tree, judged: Sequence[Judged], day: str) -> Verdict:
    """The verdict on the clients of a charter, which have been *judged*, in its order."""
    charter, outlines = read.charter, tuple(each.outline for each in judged)
    beyond = uncharted(charter, tree, frozenset().union(*(outline.held for outline in outlines)))
    late = [words for each in judged for words in each.unfinished]
    unfinished = tuple(dict.fromkeys((*late, *beyond.unfinished, *tree.unread())))
    patterns = [pattern for outline in outlines for pattern in outline.patterns]
    if not any(pattern.matches or pattern.built for pattern in patterns):
        if unfinished:
            raise IncompleteError(f"nothing could be audited: {'; '.join(unfinished)}")
        raise UsageError(f"no pattern in {read.file} matches any file, so there is nothing to audit; correct the 'files' of its catalogs")
    told = [each.told for each in judged]
    seen = Overview(charter, File(read.file), read.lines, outlines, told, beyond.folders, day)
    found = [dict(each.problems) for each in judged]
    known = rules.all_rules()
    raised: list[Raised] = []
    for rule in known.values():
        if rule.of == "client":
            raised += [item for each in found for item in _raised(rule, each.get(rule.name, ()), charter)]
        elif rule.of == "all":
            raised += _raised(rule, rule.check(seen), charter)
    waiving = Waiving(charter.waiver, day)
    raised = gathered([item._replace(waiver=waiving.accepted(item.rule.name, item.problem)) for item in visible_problems(shared(raised))])
    seen = replace(seen, idle=waiving.idle)
    raised += [item for rule in known.values() if rule.of == "end" for item in _raised(rule, rule.check(seen), charter)]
    read_as = [how for each in judged for how in each.read_as]
    findings = _findings(raised, outlines, read_as, tree)
    unbuilt = [
        f"{pattern.files} of {', '.join(pattern.clients)} is not built" for pattern in patterns if pattern.built and not pattern.matches
    ]
    fail_on = charter.gate.fail_on
    return Verdict(
        any(holds(finding, fail_on) for finding in findings),
        findings,
        tuple(outline.outcome for outline in outlines),
        charter.locales,
        fail_on,
        _days(charter.waiver, day),
        (*unfinished, *tree.changed(), *dict.fromkeys(unbuilt)),
        bool(unfinished),
    )


def _days(waivers: Sequence[WaiverEntry], day: str) -> dict[str, int]:
    """How many days each reason holds yet, *day* among them: of several waivers for one the longest."""
    days: dict[str, int] = {}
    for waiver in waivers:
        days[waiver.reason] = max(days.get(waiver.reason, 1), (waiver.until - date.fromisoformat(day)).days + 1)
    return days


def _raised(rule: Rule, problems: Iterable[Problem], charter: Charter) -> Iterator[Raised]:
    level = level_of(charter, rule)
    for problem in problems if level != "off" else ():
        grade = level if level != rule.severity else problem.severity or level
        yield Raised(rule, cast(Severity, grade), problem)


def _findings(raised: Sequence[Raised], outlines: Sequence[Outline], read_as: Iterable[ReadAs], tree: Tree) -> tuple[Finding, ...]:
    spots = [spot for item in raised for spot in (item.problem.spot, *item.problem.related) if spot is not None]
    places = places_of(dict.fromkeys(spots), read_as, tree)
    roots = {outline.name: outline for outline in outlines}
    found = [
        Finding(
            item.rule.name,
            item.severity,
            item.problem.subject,
            _shown(item.problem.text),
            _shown(item.problem.effect),
            _shown(item.problem.remedy),
            places[item.problem.spot] if item.problem.spot else None,
            tuple(places[spot] for spot in item.problem.related),
            _fingerprint(item, roots),
            item.waiver,
        )
        for item in raised
    ]
    return tuple(sorted(found, key=_order))


def _order(finding: Finding) -> tuple[object, ...]:
    subject, place = finding.subject, finding.place
    return (
        finding.waiver is not None,
        -SEVERITIES.index(finding.severity),
        _RANK.get(finding.rule.partition(".")[0], len(_RANK)),
        finding.rule,
        subject.clients,
        subject.locale or "",
        subject.part or "",
        place or ("", 0, 0),
        subject.key or "",
        finding.fingerprint,
    )


#: What is to be mended first stands first: causes before what comes of them.
_RANK = {family: rank for rank, family in enumerate(("tag", "roster", "chain", "catalog", "message", "waiver"))}


def _shown(words: str) -> str:
    """A sentence as people read it: between a context and its message stands a sign that can be seen."""
    return words.replace("\\x04", " › ") if "\\x04" in words else words


def _fingerprint(item: Raised, roots: Mapping[str, Outline]) -> str:
    """Tells the finding again after unrelated edits: what it is about, never lines, columns, or where a client's folder lies."""
    subject, spot = item.problem.subject, item.problem.spot
    first = next((outline for name, outline in roots.items() if name in subject.clients), None)
    file = None if spot is None else "" if spot.in_charter else first.below(spot.file) if first is not None else spot.file
    pieces = (item.rule.name, *subject.clients, subject.locale, subject.part, subject.key, subject.request, item.problem.detail, file)
    digest = hashlib.blake2b(digest_size=12)
    for piece in pieces:
        digest.update(b"-" if piece is None else b"+" + piece.encode("utf-8", "surrogatepass") + b"\0")
    return digest.hexdigest()


def of_clients(verdict: Verdict, names: Sequence[str]) -> Verdict:
    """The verdict on these clients alone, where ``*`` in a name matches: what concerns none of them is left out; what is of no client counts."""
    clients = tuple(client for client in verdict.clients if is_named(client.name, names))
    own = {client.name for client in clients}
    findings = tuple(finding for finding in verdict.findings if not finding.subject.clients or own & set(finding.subject.clients))
    return replace(verdict, hold=any(holds(finding, verdict.fail_on) for finding in findings), findings=findings, clients=clients)
