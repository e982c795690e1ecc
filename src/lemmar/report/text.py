"""Text for people: a table or what a command draws instead; a verdict, its findings by cause."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.findings import Verdict
from lemmar.report._drawing import Drawn, Page, render
from lemmar.report._drawing import table as drawn_table
from lemmar.report._output import Filter, Output, View
from lemmar.report._verdict import parts


def table(view: View, page: Page) -> Iterator[str]:
    """What the view draws, else its table: numbers on the right."""
    return render(view.drawn(page) if view.drawn is not None else [_plain(view)], page)


def _plain(view: View) -> Drawn:
    rows = [tuple(" ".join(map(str, cell)) if isinstance(cell, (list, tuple)) else cell for cell in row) for row in view.table.rows]
    columns = list(zip(*rows, strict=True)) or [()] * len(view.table.columns)
    sides = ["right" if cells and all(isinstance(cell, int) for cell in cells) else "left" for cells in columns]
    return drawn_table(list(zip(view.table.columns, sides, strict=True)), rows)


def findings(verdict: Verdict, shown: Filter, page: Page) -> Iterator[str]:
    """First whether the release may ship, then what to mend, then the counts and the verdict."""
    return render(parts(verdict, shown), page)


OUTPUT = Output("text", table=table, findings=findings, streams=True)
