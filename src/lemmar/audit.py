"""The pipeline: charter → inventory → resolution → findings → hiding and waivers → places → verdict."""

from __future__ import annotations

import fnmatch
import hashlib
from collections import defaultdict
from collections.abc import Iterable, Sequence
from datetime import date
from pathlib import Path
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar import charter as charters
from lemmar import rules
from lemmar.charter.reading import ReadCharter
from lemmar.errors import UsageError
from lemmar.findings import Finding, Place, Verdict
from lemmar.hiding import visible_problems
from lemmar.inventory import gather, plurals
from lemmar.inventory.contents import Catalog, Spot
from lemmar.resolve import resolve
from lemmar.resolve.world import World
from lemmar.rules import SEVERITIES, Problem, Rule, Severity
from lemmar.rules.waiver import is_expired
from lemmar.survey import uncharted
from lemmar.trees import File
from lemmar.trees.folder import FolderTree


class Told(NamedTuple):
    """A problem on its way to a finding: its rule, its severity, the reason of the waiver that accepts it."""

    rule: Rule
    severity: Severity
    problem: Problem
    waiver: str | None = None


def read_charter(path: Path | None) -> ReadCharter:
    """The charter at *path*, else the one found upward from the current folder. Raises `CharterError`, `TreeError`."""
    return charters.read(path or charters.find(Path.cwd()), tuple(rules.all_rules()))


def survey_world(read: ReadCharter, today: str | None = None) -> World:
    """All that the rules may see, gathered and resolved. *today* is an ISO 8601 date, by default the day in UTC."""
    tree = FolderTree(read.root)
    inventory = gather(read.charter, tree)
    clients = resolve(read.charter, inventory)
    unknown = uncharted(read.charter, tree, clients)
    return World(read.charter, File(read.file), read.lines, clients, inventory.shapes, today or _today(), uncharted=unknown)


def _today() -> str:
    from datetime import UTC, datetime

    return datetime.now(UTC).date().isoformat()


def audit(read: ReadCharter, today: str | None = None) -> Verdict:
    """Holds the monorepo of a charter against every rule.

    Raises:
        UsageError: no pattern of the charter matches a file, so that there is nothing to audit; *today* is no date.
    """
    if today is not None:
        try:
            date.fromisoformat(today)
        except ValueError as error:
            raise UsageError(f"{today!r} is no date; write it as 2027-01-31") from error
    world = survey_world(read, today)
    patterns = [pattern for client in world.clients for pattern in client.patterns]
    if not any(pattern.matches for pattern in patterns):
        raise UsageError(f"no pattern in {read.file} matches any file, so there is nothing to audit; correct the 'files' of its catalogs")
    known = rules.all_rules()
    told = _shared([found for each in known.values() if not each.late for found in _run(each, world)])
    told = visible_problems(told)
    told, used = _waive(told, world)
    waivers = world.charter.waiver
    idle = tuple(index for index, waiver in enumerate(waivers) if index not in used and not is_expired(waiver, world.today))
    world = replace(world, idle=idle)
    told += [found for each in known.values() if each.late for found in _run(each, world)]
    findings = _findings(told, world, FolderTree(read.root))
    return Verdict(_holds(findings, world.charter.gate.fail_on), True, findings, world)


def _run(each: Rule, world: World) -> Iterable[Told]:
    level = world.charter.gate.severity.get(each.name, each.severity)
    if level == "off":
        return []
    changed = level != each.severity
    return [Told(each, level if changed else problem.severity or level, problem) for problem in each.check(world)]


def _shared(told: list[Told]) -> list[Told]:
    """One finding for the same fault of the same file, with all clients that share the file."""
    merged: dict[object, Told] = {}
    for item in told:
        problem = item.problem
        key: tuple[object, ...] = (item.rule.name, replace(problem.subject, clients=()), problem.spot, problem.detail)
        if problem.spot is None or problem.spot.file.endswith(charters.FILE_NAME):
            key = (*key, problem.subject.clients)
        known = merged.get(key)
        if known is None:
            merged[key] = item
        else:
            clients = tuple(dict.fromkeys((*known.problem.subject.clients, *problem.subject.clients)))
            merged[key] = known._replace(problem=replace(known.problem, subject=replace(known.problem.subject, clients=clients)))
    return list(merged.values())


def _waive(told: list[Told], world: World) -> tuple[list[Told], set[int]]:
    """The problems with the first waiver that accepts each, and the indexes of the waivers that accept any."""
    running = [(index, waiver) for index, waiver in enumerate(world.charter.waiver) if not is_expired(waiver, world.today)]
    used: set[int] = set()
    found = []
    for item in told:
        fitting = [(index, waiver) for index, waiver in running if _accepts(waiver, item)]
        used |= {index for index, _ in fitting}
        found.append(item._replace(waiver=fitting[0][1].reason) if fitting else item)
    return found, used


def _accepts(waiver: Any, item: Told) -> bool:
    if waiver.rule != item.rule.name:
        return False
    subject, spot = item.problem.subject, item.problem.spot
    if waiver.client is not None and not any(fnmatch.fnmatchcase(client, waiver.client) for client in subject.clients):
        return False
    facts = (("locale", subject.locale), ("part", subject.part), ("key", subject.key), ("file", spot.file if spot else None))
    return all(
        getattr(waiver, name) is None or (value is not None and fnmatch.fnmatchcase(value, getattr(waiver, name))) for name, value in facts
    )


def _findings(told: Sequence[Told], world: World, tree: FolderTree) -> tuple[Finding, ...]:
    spots = [spot for item in told for spot in (item.problem.spot, *item.problem.related) if spot is not None]
    places = _places(dict.fromkeys(spots), world, tree)
    found = [
        Finding(
            item.rule.name,
            item.severity,
            item.problem.subject,
            item.problem.text,
            item.problem.effect,
            item.problem.remedy,
            places[item.problem.spot] if item.problem.spot else None,
            tuple(places[spot] for spot in item.problem.related),
            _fingerprint(item),
            item.waiver,
        )
        for item in told
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


def _fingerprint(item: Told) -> str:
    """Tells the finding again after unrelated edits: what it is about, never lines or columns."""
    subject, spot = item.problem.subject, item.problem.spot
    pieces = (
        item.rule.name,
        *subject.clients,
        subject.locale,
        subject.part,
        subject.key,
        subject.request,
        item.problem.detail,
        spot.file if spot else None,
    )
    digest = hashlib.blake2b(digest_size=12)
    for piece in pieces:
        digest.update(b"-" if piece is None else b"+" + piece.encode("utf-8", "surrogatepass") + b"\0")
    return digest.hexdigest()


def _holds(findings: Iterable[Finding], fail_on: str) -> bool:
    if fail_on == "never":
        return False
    least = SEVERITIES.index(fail_on)
    return any(finding.waiver is None and SEVERITIES.index(finding.severity) >= least for finding in findings)


# ------------------------------------------------------------------------------------------------------------------- places


def _places(spots: Iterable[Spot], world: World, tree: FolderTree) -> dict[Spot, Place]:
    """The place of each spot; each file is read and searched once."""
    found: dict[Spot, Place] = {}
    wanted: dict[str, list[Spot]] = defaultdict(list)
    for spot in spots:
        if (spot.key is None and spot.mark is None) or spot.line:
            found[spot] = Place(spot.file, max(spot.line, 1), max(spot.column, 1))
        else:
            wanted[spot.file].append(spot)
    read_as = {catalog.file: catalog for client in world.clients for catalog in client.catalogs} if wanted else {}
    for file, those in wanted.items():
        found.update(_places_in(File(file), those, read_as[File(file)], tree))
    return found


def _places_in(file: File, spots: list[Spot], read_as: Catalog, tree: FolderTree) -> dict[Spot, Place]:
    start = dict.fromkeys(spots, Place(file, 1, 1))
    try:
        digest, data = tree.read(file)
    except OSError:
        return start
    if any(spot.digest not in (digest, None) for spot in spots):
        return start  # the file changed while it was audited: its old places would be wrong
    form = read_as.form
    sites = plurals.locate(form, data, read_as.options, [(spot.label, spot.key or "") for spot in spots])
    for spot in spots:
        place = form.locate_mark(data, spot.mark) if spot.mark is not None else None
        if place is not None:
            start[spot] = Place(file, *place)
            continue
        site = sites.get((spot.label, spot.key or ""))
        if site is not None:
            line, column = _end_of(data, site.entry[1]) if spot.gap and site.entry[1] else (site.line, site.column)
            start[spot] = Place(file, line, column)
    return start


def _end_of(data: bytes, offset: int) -> tuple[int, int]:
    """1-based line and column of the byte *offset*."""
    from lemmar.text import Lines, decode

    whole = decode(data)
    before = data[whole.mark : offset].decode(whole.encoding, "replace")
    return Lines(before).place(len(before))
