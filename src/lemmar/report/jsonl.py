"""JSON lines: an object for each row of a table."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.report._cells import json_of
from lemmar.report._drawing import Page
from lemmar.report._output import Output, View


def table(view: View, _page: Page) -> Iterator[str]:
    """The rows; a lone surrogate is replaced."""
    rows = (dict(zip(view.table.columns, row, strict=True)) for row in view.table.rows)
    for record in view.records if view.records is not None else rows:
        yield json_of(record) + "\n"


OUTPUT = Output("jsonl", table=table, streams=True)
