"""``header``: the locale columns of a sheet."""

from __future__ import annotations

from lemmar.documents.sheet import cells, find_delimiter
from lemmar.documents.workbook import WorkbookError, is_workbook, read_workbook
from lemmar.formats import Defect
from lemmar.selectors._selection import Pick, Selection, Selector, Value
from lemmar.tags import looks_like_locale
from lemmar.text import Lines, decode

#: Among how many rows the header is looked for.
HEAD_ROWS = 20


def select(data: bytes, pick: Pick) -> Selection:
    """The headers that name locales: all but those known to be something else; where nothing is known, those that look so.

    Titles may stand above the header: it is the first row with all known headers, else the first with the most locales.
    """
    try:
        rows = _workbook(data) if is_workbook(data) else _text(data, pick.suffix)
    except WorkbookError as error:
        return Selection((), (Defect("unreadable", 1, 1, str(error)),))
    row = _header(rows, pick.passed_over or ())
    values = tuple(
        value
        for index, value in enumerate(row)
        if value.text
        and (value.text not in pick.passed_over and index > 0 if pick.passed_over is not None else looks_like_locale(value.text))
    )
    return Selection(values, () if row else (Defect("unreadable", 1, 1, "the sheet is empty"),))


def _header(rows: list[list[Value]], known: tuple[str, ...]) -> list[Value]:
    if known:
        full = [row for row in rows if set(known) <= {value.text for value in row}]
        if full:
            return full[0]
    return max(rows, key=lambda row: sum(looks_like_locale(value.text) for value in row), default=[])


def _text(data: bytes, suffix: str) -> list[list[Value]]:
    text = decode(data).text
    rows: dict[int, list[tuple[int, int]]] = {}
    for cell in cells(text, find_delimiter(text, suffix)):
        rows.setdefault(cell.row, []).append((cell.start, cell.end))
        if len(rows) > 4 * HEAD_ROWS:
            break
    lines = Lines(text)
    found = [[Value(_plain(text[start:end]), *lines.place(start)) for start, end in row] for row in rows.values()]
    return [row for row in found if any(value.text for value in row)][:HEAD_ROWS]


def _plain(raw: str) -> str:
    return (raw[1:-1].replace('""', '"') if len(raw) > 1 and raw[0] == raw[-1] == '"' else raw).strip()


def _workbook(data: bytes) -> list[list[Value]]:
    leaves = [leaf for leaf in read_workbook(data) if leaf.rows]
    return [
        [Value(cell.strip(), row.line, index + 1) for index, cell in enumerate(row.cells)]
        for leaf in leaves
        for row in leaf.rows[:HEAD_ROWS]
    ]


SELECTOR = Selector("header", 2, select, lambda _pick: None)
