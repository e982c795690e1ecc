"""Outputs: pure functions from results to text. One module an output; the registry lists this folder.

No clock, no host name, no absolute path: the same result gives the same bytes.
"""

from __future__ import annotations

from collections.abc import Iterable

from lemmar.basics.registry import Folder
from lemmar.report._basis import LEGEND, SIGNS
from lemmar.report._drawing import Drawn, Page, indented, joined, plain
from lemmar.report._drawing import table as drawn_table
from lemmar.report._output import Anew, Filter, Output, Table, View
from lemmar.report._shares import heat, percent

_FOLDER: Folder[Output] = Folder(__name__, __path__, "OUTPUT")
load = _FOLDER.load


def for_tables() -> tuple[str, ...]:
    """The names of the outputs that take a table, ``text`` first."""
    return _text_first(output.name for output in _FOLDER.all() if output.table is not None)


def for_findings() -> tuple[str, ...]:
    """The names of the outputs that take findings, ``text`` first."""
    return _text_first(output.name for output in _FOLDER.all() if output.findings is not None)


def _text_first(names: Iterable[str]) -> tuple[str, ...]:
    return tuple(sorted(names, key=lambda name: (name != "text", name)))


__all__ = [
    "LEGEND",
    "SIGNS",
    "Anew",
    "Drawn",
    "Filter",
    "Output",
    "Page",
    "Table",
    "View",
    "drawn_table",
    "for_findings",
    "for_tables",
    "heat",
    "indented",
    "joined",
    "load",
    "percent",
    "plain",
]
