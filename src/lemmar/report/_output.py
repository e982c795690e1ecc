"""What an output is, and what it is given: a table with the way that people see it, or a verdict with its findings."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Set
from types import MappingProxyType
from typing import Any, Generic, NamedTuple, TypeVar

from lemmar.findings import Replacement, Verdict
from lemmar.report._drawing import Drawn, Page

_T = TypeVar("_T")
NOTHING: Mapping[str, tuple[Replacement, ...]] = MappingProxyType({})


class Anew(Generic[_T]):
    """Items that are made each time somebody goes over them, so that they are never all there at once."""

    def __init__(self, make: Callable[[], Iterator[_T]]) -> None:
        self._make = make

    def __iter__(self) -> Iterator[_T]:
        return self._make()


class Table(NamedTuple):
    """A table of results. *name* is its schema's, *columns* the names of the fields; each row has as many cells.

    Cells are texts, numbers, None, or lists and maps of such.
    """

    name: str
    columns: tuple[str, ...]
    rows: Iterable[tuple[Any, ...]]


class View(NamedTuple):
    """A result: its table for machines, and what people are shown instead of a plain table, if anything.

    *records* are the rows one by one where they are not all of one kind: each has the fields of its own kind only.
    """

    table: Table
    drawn: Callable[[Page], Iterable[Drawn]] | None = None
    records: Iterable[Mapping[str, Any]] | None = None


class Filter(NamedTuple):
    """Which findings people asked to see: of these rules or families, clients, locales, owners, ``*`` standing for any signs, in these *files* where
    any are named; every one, or the first of each rule; with their *fingerprints* or not. Outputs that a program reads have all findings
    whatever is asked.
    """

    rules: tuple[str, ...] = ()
    clients: tuple[str, ...] = ()
    everything: bool = False
    locales: tuple[str, ...] = ()
    owners: tuple[str, ...] = ()
    files: Set[str] | None = None
    fingerprints: bool = False
    #: What would mend a finding, by its fingerprint, where an output asks for it.
    fixes: Mapping[str, tuple[Replacement, ...]] = NOTHING


class Output(NamedTuple):
    """An output: what it makes of a table and of findings, as pieces of text; None where it does not take such.

    With *streams* the pieces may be written as they come; else only all of them are a document. One that *mends* carries fixes.
    """

    name: str
    table: Callable[[View, Page], Iterable[str]] | None = None
    findings: Callable[[Verdict, Filter, Page], Iterable[str]] | None = None
    streams: bool = False
    mends: bool = False
