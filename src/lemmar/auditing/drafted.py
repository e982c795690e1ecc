"""What rests on tables of the charter that the survey has drafted and nobody has confirmed: it holds no release up by itself."""

from __future__ import annotations

import posixpath
from collections.abc import Callable, Iterator, Sequence

from msgspec.structs import replace

from lemmar.auditing.problems import Raised
from lemmar.charter.lines import KeyLines
from lemmar.charter.types import Charter
from lemmar.charter.unconfirmed import Unconfirmed, unconfirmed
from lemmar.inventory.gathering import base_of
from lemmar.rules import Problem
from lemmar.trees.patterns import matcher

#: What the rules of a family look at; of claims by what these state, where the problem does not stand in the claim itself.
_STATED = {"roster": ("supported",), "chain": ("supported", "default", "chain")}
_OF_CATALOGS = ("message", "catalog", "tag", "font")
_OF_USAGES = ("key", "text")


class Drafted:
    """The tables of a charter that nobody has confirmed, and the problems that are only true if one of them is right."""

    def __init__(self, charter: Charter, lines: KeyLines, name: str) -> None:
        self._charter, self._lines, self._name = charter, lines, name
        self._matchers: dict[Unconfirmed, Callable[[str], bool]] = {}
        self._shared: dict[int, Unconfirmed] = {}
        self._own: dict[str, list[Unconfirmed]] = {}
        for table in unconfirmed(charter):
            number = int(table.path[1])
            if table.path[0] == "catalog":
                self._shared[number] = table
            else:
                self._own.setdefault(charter.client[number].name, []).append(table)

    def graded(self, raised: Sequence[Raised]) -> list[Raised]:
        """All that was *raised*; an error that rests on such a table is a warning that says so."""
        return [self._graded(item) for item in raised] if self._own or self._shared else list(raised)

    def _graded(self, item: Raised) -> Raised:
        if item.severity != "error":
            return item
        by_client = [list(self._tables(item, name)) for name in item.problem.subject.clients]
        if not by_client or not all(by_client):
            return item
        tables = list(dict.fromkeys(table for those in by_client for table in those))
        least = min(tables, key=lambda table: table.sure)
        text = f"{item.problem.text}; if this {least.word} is right (drafted, {least.sure:.0%} sure)"
        places = dict.fromkeys(table.place(self._charter, self._lines, self._name) for table in tables)
        return item._replace(severity="warning", problem=replace(item.problem, text=text), drafted=tuple(places))

    def _tables(self, item: Raised, name: str) -> Iterator[Unconfirmed]:
        """The unconfirmed tables that a problem of one client rests on."""
        family, problem = item.rule.name.partition(".")[0], item.problem
        if family in _OF_CATALOGS and problem.catalog in self._shared:
            yield self._shared[problem.catalog]
        yield from (table for table in self._own.get(name, ()) if self._rests_on(table, family, problem))

    def _rests_on(self, table: Unconfirmed, family: str, problem: Problem) -> bool:
        client, index = self._charter.client[int(table.path[1])], int(table.path[-1])
        file = problem.spot.file if problem.spot is not None else ""
        if table.word == "catalog" and problem.catalog is not None:
            return family in _OF_CATALOGS and problem.catalog == len(self._charter.catalog) + index
        if table.word == "catalog":
            if table not in self._matchers:
                self._matchers[table] = matcher(client.catalog[index].files, base_of(client))
            return family in _OF_CATALOGS and self._matchers[table](file)
        if table.word == "claim":
            claim = client.claim[index]
            return claim.states in _STATED.get(family, ()) or (
                claim.file is not None and file == posixpath.join(base_of(client), claim.file)
            )
        return table.word == "client" or family in _OF_USAGES
