"""What rests on tables of the charter that the survey has drafted and nobody has confirmed: it holds no release up by itself."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from msgspec.structs import replace

from lemmar.auditing.problems import Raised
from lemmar.charter.lines import KeyLines, Path
from lemmar.charter.types import Charter, ClientEntry
from lemmar.rules import Problem
from lemmar.trees.patterns import matcher

#: What the rules of a family look at; of claims by what these state, where the problem does not stand in the claim itself.
_STATED = {"roster": ("supported",), "chain": ("supported", "default", "chain")}
_OF_CATALOGS = ("message", "catalog", "tag", "font")
_OF_USAGES = ("key", "text")


class _Table(NamedTuple):
    """A table that is not confirmed: its path in the charter, what it is called, and how sure the survey was."""

    path: Path
    word: str
    sure: float


class Drafted:
    """The tables of a charter that nobody has confirmed, and the problems that are only true if one of them is right."""

    def __init__(self, charter: Charter, lines: KeyLines, name: str) -> None:
        self._charter, self._lines, self._name = charter, lines, name
        self._matchers: dict[tuple[int, int], Callable[[str], bool]] = {}
        self._clients = {client.name: (number, client) for number, client in enumerate(charter.client)}
        self._any = any(_drafted(client) for client in charter.client) or any(entry.sure is not None for entry in charter.catalog)

    def graded(self, raised: Sequence[Raised]) -> list[Raised]:
        """All that was *raised*; an error that rests on such a table is a warning that says so."""
        return [self._graded(item) for item in raised] if self._any else list(raised)

    def _graded(self, item: Raised) -> Raised:
        if item.severity != "error":
            return item
        by_client = [self._tables(item, name) for name in item.problem.subject.clients]
        if not by_client or not all(by_client):
            return item
        tables = list(dict.fromkeys(table for those in by_client for table in those))
        least = min(tables, key=lambda table: table.sure)
        text = f"{item.problem.text}; if this {least.word} is right (drafted, {least.sure:.0%} sure)"
        return item._replace(
            severity="warning", problem=replace(item.problem, text=text), drafted=tuple(self._place(table.path) for table in tables)
        )

    def _place(self, path: Path) -> str:
        return f"{self._lines.file(path) or self._name}:{self._lines.nearest(path)}"

    def _tables(self, item: Raised, name: str) -> list[_Table]:
        """The unconfirmed tables that a problem of one client rests on."""
        if name not in self._clients:
            return []
        number, client = self._clients[name]
        found = [_Table(("client", number), "client", client.sure)] if client.sure is not None else []
        family = item.rule.name.partition(".")[0]
        if family in _OF_CATALOGS:
            found += self._of_catalog(number, client, item.problem)
        stated, file = _STATED.get(family, ()), item.problem.spot.file if item.problem.spot is not None else ""
        for index, claim in enumerate(client.claim):
            is_there = claim.file is not None and file == _below(client, claim.file)
            if claim.sure is not None and (is_there or claim.states in stated):
                found.append(_Table(("client", number, "claim", index), "claim", claim.sure))
        if family in _OF_USAGES:
            usages = ((index, usage.sure) for index, usage in enumerate(client.usage))
            found += [_Table(("client", number, "usage", index), "usage", sure) for index, sure in usages if sure is not None]
        return found

    def _of_catalog(self, number: int, client: ClientEntry, problem: Problem) -> Iterator[_Table]:
        shared = len(self._charter.catalog)
        if problem.catalog is not None and problem.catalog < shared:
            entry, path = self._charter.catalog[problem.catalog], ("catalog", problem.catalog)
            if entry.sure is not None:
                yield _Table(path, "catalog", entry.sure)
            return
        for index, entry in enumerate(client.catalog):
            if entry.sure is not None and (
                index + shared == problem.catalog if problem.catalog is not None else self._matches((number, index), client, problem)
            ):
                yield _Table(("client", number, "catalog", index), "catalog", entry.sure)

    def _matches(self, place: tuple[int, int], client: ClientEntry, problem: Problem) -> bool:
        """Whether the problem stands in a file of the catalog at that *place*."""
        if place not in self._matchers:
            self._matchers[place] = matcher(client.catalog[place[1]].files, "" if client.root == "." else client.root)
        return problem.spot is not None and self._matchers[place](problem.spot.file)


def _drafted(client: ClientEntry) -> bool:
    tables = (
        client.sure,
        *(each.sure for each in client.catalog),
        *(each.sure for each in client.claim),
        *(each.sure for each in client.usage),
    )
    return any(sure is not None for sure in tables)


def _below(client: ClientEntry, path: str) -> str:
    return path if client.root in ("", ".") else f"{client.root}/{path}"
