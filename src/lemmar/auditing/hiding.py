"""One cause, one finding: what a rule declares to hide is taken out, in one pass over all that was found.

A finding hides only what is no more severe than itself; one that is waived still hides, one whose rule is off was never there.
A hidden finding hides too: what explains it explains what it explains.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from lemmar.auditing.problems import Raised
from lemmar.findings import SEVERITIES
from lemmar.rules import Problem

_Key = tuple[object, ...]


class _Cover(NamedTuple):
    """What one kind of hiding goes by: whose it is, the rules that it hides, the fields in which the subjects must agree."""

    hider: str
    name: str
    fields: tuple[str, ...]


def visible_problems(raised: list[Raised]) -> list[Raised]:
    """Those of *raised* that nothing more telling hides, in their order."""
    covers: dict[_Cover, dict[_Key, int]] = {}
    for item in raised:
        rank = SEVERITIES.index(item.severity)
        for hides in item.rule.hides:
            for values in _values(item.problem, hides.by):
                fields = tuple(name for name, value in zip(hides.by, values, strict=True) if value is not None)
                key = tuple(value for value in values if value is not None)
                for name in hides.rules:
                    ranks = covers.setdefault(_Cover(item.rule.name, name, fields), {})
                    ranks[key] = max(ranks.get(key, -1), rank)
    return [item for item in raised if not _hidden(item, covers)]


def _values(problem: Problem, fields: tuple[str, ...]) -> Iterator[_Key]:
    """The problem's values in *fields*, once for each client."""
    subject, spot = problem.subject, problem.spot
    known: dict[str, object] = {
        "locale": subject.locale,
        "part": subject.part,
        "key": subject.key,
        "branch": subject.key,
        "file": spot.file if spot else None,
        "cause": problem.cause,
        "origin": problem.origin,
        "catalog": problem.catalog,
        "entry": (spot.file, spot.line, spot.column) if spot else None,
    }
    for client in subject.clients or (None,):
        yield tuple(client if name == "client" else known[name] for name in fields)


def _hidden(item: Raised, covers: dict[_Cover, dict[_Key, int]]) -> bool:
    """Whether, for each of its clients, a finding of another rule that is at least as severe covers it."""
    rank = SEVERITIES.index(item.severity)
    names = (item.rule.name, item.rule.name.partition(".")[0] + ".*", "*")
    clients = item.problem.subject.clients or (None,)
    hidden: set[str | None] = set()
    for cover, ranks in covers.items():
        if cover.name in names and cover.hider != item.rule.name:
            for client, key in zip(clients, _values(item.problem, cover.fields), strict=True):
                if any(ranks.get(branch, -1) >= rank for branch in _branches(cover.fields, key)):
                    hidden.add(client)
    return len(hidden) == len(set(clients))


def _branches(fields: tuple[str, ...], key: _Key) -> Iterator[_Key]:
    """*key*, and where it goes by branch also with each of the branches that its own lies in."""
    yield key
    if "branch" in fields:
        index = fields.index("branch")
        name = str(key[index] or "")
        for end, sign in enumerate(name):
            if sign == ".":
                yield (*key[:index], name[:end], *key[index + 1 :])
