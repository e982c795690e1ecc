"""``header``: the locale columns of a sheet."""

from __future__ import annotations

from lemmar.documents.workbook import WorkbookError
from lemmar.formats import Defect
from lemmar.formats.sheet import header_cells
from lemmar.selectors._selection import Pick, Selection, Selector, Value


def select(data: bytes, pick: Pick) -> Selection:
    """The headers that name locales: all but those that the charter knows to be something else, else those that look so."""
    try:
        cells = header_cells(data, pick.suffix, pick.columns)
    except WorkbookError as error:
        return Selection((), (Defect("unreadable", 1, 1, str(error)),))
    values = tuple(Value(cell.text, cell.line, cell.column) for cell in cells)
    return Selection(values, () if values else (Defect("unreadable", 1, 1, "the sheet has no header row with locales"),))


SELECTOR = Selector("header", "the locale columns of a sheet.", select, flag=True)
