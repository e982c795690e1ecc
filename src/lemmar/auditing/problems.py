"""Problems on their way to findings, and which of them are one: those of a file that clients share, those of many files with one fault."""

from __future__ import annotations

from typing import NamedTuple

from msgspec.structs import replace

from lemmar.basics.phrasing import counted
from lemmar.findings import Severity
from lemmar.rules import Problem, Rule


class Raised(NamedTuple):
    """A problem on its way to a finding: its rule, its severity, the reason of the waiver that accepts it, the unconfirmed tables that it rests on."""

    rule: Rule
    severity: Severity
    problem: Problem
    waiver: str | None = None
    drafted: tuple[str, ...] = ()


def shared(raised: list[Raised]) -> list[Raised]:
    """One finding for the same fault of the same file, with all clients that share the file."""
    merged: dict[object, Raised] = {}
    for item in raised:
        problem = item.problem
        key: tuple[object, ...] = (item.rule.name, replace(problem.subject, clients=()), problem.spot, problem.detail)
        if problem.spot is None or problem.spot.in_charter:
            key = (*key, problem.subject.clients)
        known = merged.get(key)
        if known is None:
            merged[key] = item
        else:
            clients = tuple(dict.fromkeys((*known.problem.subject.clients, *problem.subject.clients)))
            merged[key] = known._replace(problem=replace(known.problem, subject=replace(known.problem.subject, clients=clients)))
    return list(merged.values())


#: So many whole files with one fault in one client and locale are one finding.
_MANY_FILES = 3


def gathered(raised: list[Raised]) -> list[Raised]:
    """One finding, at the first, for many files of one client and locale that have the same fault as a whole."""
    groups: dict[object, list[Raised]] = {}
    for item in raised:
        subject, gather = item.problem.subject, item.problem.gather
        key = (item.rule.name, item.severity, item.waiver, subject.clients, subject.locale, gather) if gather else id(item)
        groups.setdefault(key, []).append(item)
    return [found for those in groups.values() for found in (those if len(those) < _MANY_FILES else [_of_files(those)])]


def _of_files(those: list[Raised]) -> Raised:
    problem = those[0].problem
    spots = tuple(item.problem.spot for item in those[1:4] if item.problem.spot is not None)
    text = f"{problem.text}; so it is in {counted(len(those) - 1, 'more file')}"
    subject = replace(problem.subject, part=None)
    return those[0]._replace(problem=replace(problem, text=text, subject=subject, related=(*problem.related, *spots)))
