"""The pipeline: charter → inventory → resolution → findings → hiding and waivers → places → verdict."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime

from msgspec.structs import replace

from lemmar import rules
from lemmar.charter.reading import ReadCharter
from lemmar.errors import IncompleteError, UsageError
from lemmar.findings import Finding, Verdict
from lemmar.hiding import visible_problems
from lemmar.inventory import gather
from lemmar.places import places_of
from lemmar.raised import Raised, gathered, shared
from lemmar.resolve import resolve
from lemmar.resolve.world import World
from lemmar.rules import SEVERITIES, Rule
from lemmar.survey import uncharted
from lemmar.trees import File, Tree
from lemmar.waivers import Waiving
from lemmar.words import is_named


def world_of_charter(read: ReadCharter, tree: Tree, today: str | None = None) -> World:
    """All that the rules may see, gathered from *tree* and resolved. *today* is an ISO 8601 date, by default the day in UTC."""
    inventory = gather(read.charter, tree)
    clients = resolve(read.charter, inventory)
    beyond = uncharted(read.charter, tree, clients)
    unfinished = tuple(dict.fromkeys((*inventory.unfinished, *beyond.unfinished, *tree.unread())))
    day = today or datetime.now(UTC).date().isoformat()
    return World(read.charter, File(read.file), read.lines, clients, inventory.shapes, day, uncharted=beyond.folders, unfinished=unfinished)


def audit(read: ReadCharter, tree: Tree, today: str | None = None) -> Verdict:
    """Checks the monorepo that *tree* is against its charter, by every rule.

    Raises:
        UsageError: no pattern of the charter matches a file, so that there is nothing to audit; *today* is no date.
    """
    if today is not None:
        try:
            date.fromisoformat(today)
        except ValueError as error:
            raise UsageError(f"{today!r} is no date; write it as 2027-01-31") from error
    world = world_of_charter(read, tree, today)
    patterns = [pattern for client in world.clients for pattern in client.patterns]
    if not any(pattern.matches or pattern.built for pattern in patterns):
        if world.unfinished:
            raise IncompleteError(f"nothing could be audited: {'; '.join(world.unfinished)}")
        raise UsageError(f"no pattern in {read.file} matches any file, so there is nothing to audit; correct the 'files' of its catalogs")
    known = rules.all_rules()
    raised = shared([found for each in known.values() if not each.late for found in _run(each, world)])
    waiving = Waiving(world.charter.waiver, world.today)
    raised = gathered([item._replace(waiver=waiving.accepted(item.rule.name, item.problem)) for item in visible_problems(raised)])
    world = replace(world, idle=waiving.idle)
    raised += [found for each in known.values() if each.late for found in _run(each, world)]
    findings = _findings(raised, world, tree)
    unbuilt = [
        f"{pattern.files} of {', '.join(pattern.clients)} is not built" for pattern in patterns if pattern.built and not pattern.matches
    ]
    return Verdict(
        _holds(findings, world.charter.gate.fail_on), findings, world, (*world.unfinished, *tree.changed(), *dict.fromkeys(unbuilt))
    )


def _run(each: Rule, world: World) -> Iterable[Raised]:
    level = world.charter.gate.severity.get(each.name, each.severity)
    if level == "off":
        return []
    changed = level != each.severity
    return [Raised(each, level if changed else problem.severity or level, problem) for problem in each.check(world)]


def _findings(raised: Sequence[Raised], world: World, tree: Tree) -> tuple[Finding, ...]:
    spots = [spot for item in raised for spot in (item.problem.spot, *item.problem.related) if spot is not None]
    places = places_of(dict.fromkeys(spots), world, tree)
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
            _fingerprint(item, world),
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


def _fingerprint(item: Raised, world: World) -> str:
    """Tells the finding again after unrelated edits: what it is about, never lines, columns, or where a client's folder lies."""
    subject, spot = item.problem.subject, item.problem.spot
    roots = [client for client in world.clients if client.name in subject.clients]
    file = None if spot is None else "" if spot.in_charter else roots[0].below(spot.file) if roots else spot.file
    pieces = (item.rule.name, *subject.clients, subject.locale, subject.part, subject.key, subject.request, item.problem.detail, file)
    digest = hashlib.blake2b(digest_size=12)
    for piece in pieces:
        digest.update(b"-" if piece is None else b"+" + piece.encode("utf-8", "surrogatepass") + b"\0")
    return digest.hexdigest()


def of_clients(verdict: Verdict, names: Sequence[str]) -> Verdict:
    """The verdict on these clients alone, where ``*`` in a name matches: what concerns none of them is left out; what is of no client counts."""
    clients = tuple(client for client in verdict.world.clients if is_named(client.name, names))
    own = {client.name for client in clients}
    findings = tuple(finding for finding in verdict.findings if not finding.subject.clients or own & set(finding.subject.clients))
    hold = _holds(findings, verdict.world.charter.gate.fail_on)
    return replace(verdict, hold=hold, findings=findings, world=replace(verdict.world, clients=clients))


def _holds(findings: Iterable[Finding], fail_on: str) -> bool:
    if fail_on == "never":
        return False
    least = SEVERITIES.index(fail_on)
    return any(finding.waiver is None and SEVERITIES.index(finding.severity) >= least for finding in findings)
