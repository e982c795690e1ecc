"""The pipeline: charter → inventory → resolution → findings → hiding and waivers → places → verdict."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import date
from typing import NamedTuple, cast

from msgspec.structs import replace

from lemmar import rules
from lemmar.auditing.drafted import Drafted
from lemmar.auditing.hiding import visible_problems
from lemmar.auditing.judging import Judge, Judged, Judging, level_of
from lemmar.auditing.owners import Owners, ownership
from lemmar.auditing.places import is_looked_up, places_of
from lemmar.auditing.problems import Raised, gathered, shared
from lemmar.auditing.waivers import Waiving
from lemmar.basics.days import day_of
from lemmar.basics.errors import IncompleteError, UsageError
from lemmar.charter.reading import ReadCharter
from lemmar.charter.types import Charter, WaiverEntry
from lemmar.findings import SEVERITIES, Finding, Place, Severity, Verdict, holds
from lemmar.formats import NOTHING
from lemmar.inventory import gather
from lemmar.inventory.contents import Spot
from lemmar.inventory.readings import Readings
from lemmar.resolve import resolve
from lemmar.resolve.outlines import Beyond, Matched, Outline, Overview
from lemmar.resolve.world import World
from lemmar.rules import Problem, Rule
from lemmar.trees import File, Tree


def world_of_charter(read: ReadCharter, tree: Tree) -> World:
    """All clients of a charter, gathered from *tree* and resolved, for those who look at one or several of them."""
    inventory = gather(read.charter, tree)
    clients = resolve(read.charter, inventory)
    unfinished = tuple(dict.fromkeys((*inventory.unfinished, *tree.unread())))
    return World(read.charter, File(read.file), read.lines, clients, inventory.shapes, unfinished)


def fresh_verdict(read: ReadCharter, tree: Tree, today: str | None = None) -> Verdict:
    """Checks the monorepo that *tree* is against its charter, by every rule. *today* is an ISO 8601 date, by default the day in UTC.

    Raises:
        UsageError: no pattern of the charter matches a file, so that there is nothing to audit; *today* is no date.
    """
    return world_and_verdict(read, tree, today, Readings(keeps=False)).verdict


class WorldAndVerdict(NamedTuple):
    """A monorepo that was looked at: its world, and the verdict on it."""

    world: World
    verdict: Verdict


def world_and_verdict(read: ReadCharter, tree: Tree, today: str | None, readings: Readings, is_placed: bool = True) -> WorldAndVerdict:
    """The world and the verdict, made in one go; *readings* are those of files that were read already. Unless it *is_placed*, each finding is at the
    beginning of its file, since looking its line up can cost more than finding it.

    Raises:
        UsageError, IncompleteError: as `fresh_verdict`.
    """
    from lemmar.survey.uncharted import uncharted  # which an audit that remembers does not need

    judge = Judge(read, tree, readings)
    every = [judge.seen(index) for index in range(len(read.charter.client))]
    judgings = [judging for judging, _ in every]
    held = held_by(each.judged for each in judgings)
    unfinished = tuple(dict.fromkeys((*(words for each in judgings for words in each.judged.unfinished), *tree.unread())))
    world = World(read.charter, File(read.file), read.lines, tuple(client for _, client in every), judge.shapes, unfinished)
    owners = Owners(ownership(tree), read.charter)
    places: Mapping[Spot, Place] = NOTHING if is_placed else _Beginnings()
    return WorldAndVerdict(
        world, conclude(read, tree, judgings, uncharted(read.charter, tree, held), owners, day_of(today), places).verdict
    )


class _Beginnings(dict[Spot, Place]):
    """The beginning of its file for every spot."""

    def __contains__(self, spot: object) -> bool:
        return isinstance(spot, Spot)

    def __missing__(self, spot: Spot) -> Place:
        return Place(spot.file, max(spot.line, 1), max(spot.column, 1))


def held_by(judged: Iterable[Judged]) -> frozenset[File]:
    """All files that some client holds."""
    return frozenset().union(*(each.outline.held for each in judged))


class Concluded(NamedTuple):
    """A verdict, and the places that were looked up for it."""

    verdict: Verdict
    places: Mapping[Spot, Place]


def conclude(
    read: ReadCharter,
    tree: Tree,
    judgings: Sequence[Judging],
    beyond: Beyond,
    owners: Owners,
    day: str,
    places: Mapping[Spot, Place] = NOTHING,
) -> Concluded:
    """The verdict on the clients of a charter, which have been judged, in its order; *beyond* is what no client has, *owners* know whose a file is,
    and of *places* it is known already where they are.
    """
    judged = [each.judged for each in judgings]
    charter, outlines = read.charter, tuple(each.outline for each in judged)
    late = [words for each in judged for words in each.unfinished]
    unfinished = tuple(dict.fromkeys((*late, *beyond.unfinished, *tree.unread())))
    patterns = [pattern for outline in outlines for pattern in outline.patterns]
    if not any(pattern.matches or pattern.built for pattern in patterns):
        if unfinished:
            raise IncompleteError(f"nothing could be audited: {'; '.join(unfinished)}")
        raise UsageError(_nothing(read, patterns))
    told = [each.told for each in judgings]
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
    raised = Drafted(charter, read.lines, read.file).graded(raised)
    read_as = [how for each in judged for how in each.read_as]
    spots = dict.fromkeys(spot for item in raised for spot in (item.problem.spot, *item.problem.related) if spot is not None)
    known_places = {spot: places[spot] for spot in spots if spot in places}
    found_places = known_places | places_of((spot for spot in spots if spot not in known_places), read_as, tree)
    findings = _findings(raised, outlines, found_places, owners)
    unbuilt = [
        f"{pattern.files} of {', '.join(pattern.clients)} is not built" for pattern in patterns if pattern.built and not pattern.matches
    ]
    fail_on = charter.gate.fail_on
    verdict = Verdict(
        any(holds(finding, fail_on) for finding in findings),
        findings,
        tuple(outline.outcome for outline in outlines),
        charter.locales,
        fail_on,
        _days(charter.waiver, day),
        (*unfinished, *tree.changed(), *dict.fromkeys(unbuilt), *_opaque(findings)),
        bool(unfinished),
    )
    return Concluded(verdict, {spot: place for spot, place in found_places.items() if is_looked_up(spot)})


def _nothing(read: ReadCharter, patterns: Sequence[Matched]) -> str:
    gone = next((f" ({pattern.files!r}{pattern.now})" for pattern in patterns if pattern.now), "")
    return f"no pattern in {read.file} matches any file{gone}, so there is nothing to audit; correct the 'files' of its catalogs"


def _opaque(findings: Sequence[Finding]) -> Iterator[str]:
    """What could not be read whole, unless that is accepted."""
    for finding in findings:
        if finding.rule == "catalog.opaque" and finding.waiver is None:
            yield f"{finding.place.file if finding.place is not None else 'a catalog'} could not be read whole"


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


def _findings(raised: Sequence[Raised], outlines: Sequence[Outline], places: Mapping[Spot, Place], owners: Owners) -> tuple[Finding, ...]:
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
            owners.of(item.problem.subject, places[item.problem.spot] if item.problem.spot else None),
            drafted=item.drafted,
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
_RANK = {
    family: rank for rank, family in enumerate(("tag", "roster", "chain", "catalog", "message", "key", "text", "asset", "font", "waiver"))
}


def _shown(words: str) -> str:
    """A sentence as people read it: between a context and its message stands a sign that can be seen."""
    return words.replace("\\x04", " › ") if "\\x04" in words else words


def _fingerprint(item: Raised, roots: Mapping[str, Outline]) -> str:
    """Tells the finding again after unrelated edits: what it is about, never lines, columns, or where a client's folder lies."""
    subject, spot = item.problem.subject, item.problem.spot
    alone = subject.clients[0] if len(subject.clients) == 1 else None
    first = roots.get(alone) if alone is not None else next((outline for name, outline in roots.items() if name in subject.clients), None)
    file = None if spot is None else "" if spot.in_charter else first.below(spot.file) if first is not None else spot.file
    pieces = (item.rule.name, *subject.clients, subject.locale, subject.part, subject.key, subject.request, item.problem.detail, file)
    digest = hashlib.blake2b(digest_size=12)
    for piece in pieces:
        digest.update(b"-" if piece is None else b"+" + piece.encode("utf-8", "surrogatepass") + b"\0")
    return digest.hexdigest()
