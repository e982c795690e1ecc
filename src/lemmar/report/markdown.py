"""Markdown: a table as it is written on code forges."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from lemmar.report._cells import flat
from lemmar.report._drawing import Page
from lemmar.report._output import Output, View
from lemmar.text import visible


def table(view: View, _page: Page) -> Iterator[str]:
    """The rows, what has a meaning of its own in them escaped."""
    found = view.table
    for row in (found.columns, tuple("---" for _ in found.columns), *found.rows):
        yield f"| {' | '.join(_escaped(cell) for cell in row)} |\n"


def _escaped(cell: Any) -> str:
    cell = flat(cell, ", ")
    text = "" if cell is None else visible(str(cell))
    for sign in "\\`*_[]<>|#":
        if sign in text and text != "---":
            text = text.replace(sign, f"\\{sign}")
    return text.replace("&", "&amp;")


OUTPUT = Output("markdown", table=table, streams=True)
