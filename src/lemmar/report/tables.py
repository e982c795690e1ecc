"""Tables as JSON, CSV and Markdown. Cells are texts, numbers or None; what is hostile in a text is made harmless in each form."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

from lemmar.text import visible


class Table(NamedTuple):
    """A table of results. *name* is its schema's, *columns* the names of the fields; each row has as many cells."""

    name: str
    columns: tuple[str, ...]
    rows: Sequence[tuple[Any, ...]]


def as_json(table: Table) -> str:
    """``{"schema": "lemmar.NAME/1", "rows": [{…}]}``."""
    rows = [dict(zip(table.columns, row, strict=True)) for row in table.rows]
    return dump({"schema": f"lemmar.{table.name}/1", "rows": rows})


def dump(value: Any) -> str:
    """*value* as JSON text; a lone surrogate is replaced."""
    return json.dumps(value, ensure_ascii=False, indent=2).encode("utf-8", "replace").decode("utf-8") + "\n"


def as_csv(table: Table) -> str:
    """A header row, then a row each; a text that a spreadsheet would take for a formula gets an apostrophe before it."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(table.columns)
    writer.writerows([_inert(cell) for cell in row] for row in table.rows)
    return out.getvalue()


def _inert(cell: Any) -> Any:
    if isinstance(cell, (list, tuple)):
        cell = " ".join(str(item) for item in cell)
    if isinstance(cell, str):
        shown = "".join(sign if sign in "\n\t" else visible(sign) for sign in cell) if not cell.isprintable() else cell
        return f"'{shown}" if shown[:1] in ("=", "+", "-", "@", "\t") else shown
    return "" if cell is None else cell


def as_markdown(table: Table) -> str:
    """A table of GitHub-flavoured Markdown."""
    rows = [table.columns, tuple("---" for _ in table.columns), *table.rows]
    return "".join(f"| {' | '.join(_escaped(cell) for cell in row)} |\n" for row in rows)


def _escaped(cell: Any) -> str:
    if isinstance(cell, (list, tuple)):
        cell = ", ".join(str(item) for item in cell)
    text = "" if cell is None else visible(str(cell))
    for sign in "\\`*_[]<>|#":
        if sign in text and text != "---":
            text = text.replace(sign, f"\\{sign}")
    return text.replace("&", "&amp;")


FORMS: dict[str, Callable[[Table], str]] = {"json": as_json, "csv": as_csv, "markdown": as_markdown}
