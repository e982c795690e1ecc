"""CSV (RFC 4180): a header row, then a row each."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator
from typing import Any

from lemmar.report._cells import flat
from lemmar.report._drawing import Page
from lemmar.report._output import Output, View
from lemmar.text import visible


def table(view: View, _page: Page) -> Iterator[str]:
    """The rows; a text that a spreadsheet would take for a formula gets an apostrophe before it."""
    for row in (view.table.columns, *view.table.rows):
        out = io.StringIO()
        csv.writer(out, lineterminator="\n").writerow([_inert(cell) for cell in row])
        yield out.getvalue()


def _inert(cell: Any) -> Any:
    cell = flat(cell, " ")
    if isinstance(cell, str):
        shown = "".join(sign if sign in "\n\t" else visible(sign) for sign in cell) if not cell.isprintable() else cell
        return f"'{shown}" if shown[:1] in ("=", "+", "-", "@", "\t") else shown
    return "" if cell is None else cell


OUTPUT = Output("csv", table=table, streams=True)
