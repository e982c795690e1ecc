"""Sheets of texts: a row a key, a column a locale (CSV, TSV, XLSX).

Sources: RFC 4180 for commas and quotes, ECMA-376 for workbooks, of which each sheet with a header is read. The delimiter is found from
the contents, the header among the first rows: titles may stand above it. A cell that is empty is a text that is not there yet. Without
a charter, the first column holds the keys and columns that are no locales are not texts.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar.documents.sheet import Row, cells, find_delimiter, read_rows
from lemmar.documents.workbook import WorkbookError, is_workbook, read_workbook
from lemmar.formats._entries import decoded, in_order, repeated
from lemmar.formats._reading import NOTHING, Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.tags import looks_like_locale
from lemmar.text import Bytes, Lines, decode

_DESCRIPTIONS = ("description", "descriptions", "notes", "note", "comment", "comments", "context")
_KEYS = ("key", "keys", "id", "ids", "identifier", "name", "string id", "code")
#: Among how many rows the header is looked for.
HEAD_ROWS = 20
_LIMITS = ("limit", "max", "maximum", "length", "max length")


class Header(NamedTuple):
    """What each column of a sheet is: the index of the keys, of the descriptions and limits (-1: none), and the locales."""

    key: int
    description: int
    limit: int
    locales: tuple[tuple[str, int], ...]


def header_of(row: Sequence[str], options: ReadOptions) -> Header | str:
    """What the columns are, by the charter's names or by their own; a sentence where the charter's are not there."""
    names = [cell.strip() for cell in row]
    if not names:
        return "a header row is wanted"
    roles: dict[str, int] = {}
    for role in ("key", "description", "limit"):
        wanted = options.columns.get(role)
        if wanted is None:
            continue
        if wanted not in names:
            return f"no column is headed {wanted!r}"
        roles[role] = names.index(wanted)
    key = roles.get("key", _key_column(names))
    taken = {key, *roles.values()}
    if not options.columns:
        for role, words in (("description", _DESCRIPTIONS), ("limit", _LIMITS)):
            index = next((index for index, name in enumerate(names) if name.lower() in words and index not in taken), -1)
            if index >= 0:
                roles[role] = index
                taken.add(index)
    ignored = set(options.columns.get("ignore", ()))
    locales = [(name, index) for index, name in enumerate(names) if index not in taken and name not in ignored and name]
    if not options.columns:
        locales = [(name, index) for name, index in locales if looks_like_locale(name)]
    return Header(key, roles.get("description", -1), roles.get("limit", -1), tuple(locales))


def _key_column(names: list[str]) -> int:
    """The first column; where that is headed by a locale and another is headed as keys are, that one."""
    if names and looks_like_locale(names[0]):
        return next((index for index, name in enumerate(names) if name.lower() in _KEYS), 0)
    return 0


def find_header(rows: Sequence[Sequence[str]], options: ReadOptions) -> tuple[int, Header | str]:
    """The index of the header row among the first of *rows* (titles and notes may stand above it), and what its columns are.

    It is the first row with the headers that the charter names, else the first with the most locales.
    """
    best: tuple[int, Header | str] = (0, "the file is empty: a header row is wanted")
    for index, row in enumerate(rows[:HEAD_ROWS]):
        header = header_of(row, options)
        if index == 0:
            best = (index, header)
        if isinstance(header, str):
            continue
        if options.columns.get("key"):
            return index, header
        if isinstance(best[1], str) or _locales(header) > _locales(best[1]):
            best = (index, header)
    return best


def header_names(data: bytes, suffix: str) -> dict[str, Any]:
    """What the headers of a sheet that are no locales are named, by what a charter's ``columns`` calls them."""
    try:
        rows = [row.cells for leaf in read_workbook(data) for row in leaf.rows] if is_workbook(data) else []
    except WorkbookError:
        return {}
    if not rows:
        text = decode(data).text
        rows = [row.cells for row in read_rows(text, find_delimiter(text, suffix)).rows[:HEAD_ROWS]]
    top, header = find_header(rows[:HEAD_ROWS], ReadOptions(layout="columns", suffix=suffix))
    if isinstance(header, str):
        return {}
    names = [cell.strip() for cell in rows[top]]
    found: dict[str, Any] = {"key": names[header.key]} if names[header.key] else {}
    for role, index in (("description", header.description), ("limit", header.limit)):
        if index >= 0:
            found[role] = names[index]
    known = {header.key, header.description, header.limit, *(index for _, index in header.locales)}
    others = [name for index, name in enumerate(names) if index not in known and name]
    return found | ({"ignore": others} if others else {}) if "key" in found else {}


def _locales(header: Header) -> int:
    return sum(looks_like_locale(name) for name, _ in header.locales)


def read(data: bytes, options: ReadOptions) -> Reading:
    """A column for each locale of the sheet, and every defect; of a workbook with several sheets each is a part."""
    if is_workbook(data) or options.suffix == ".xlsx":
        return _workbook(data, options)
    text, defects = decoded(data, options)
    if "\0" in text.text:
        return Reading((), (Defect("unreadable", 1, 1, "a binary file, not a sheet", "file"),), text.encoding)
    plain = _plain_sheet(text.text, find_delimiter(text.text, options.suffix), options)
    if plain is not None:
        return Reading(plain, in_order(defects), text.encoding)
    sheet = read_rows(text.text, find_delimiter(text.text, options.suffix))
    if not sheet.rows:
        return Reading((), (*defects, Defect("unreadable", 1, 1, "the file is empty: a header row is wanted", "file")), text.encoding)
    top, header = find_header([row.cells for row in sheet.rows[:HEAD_ROWS]], options)
    if isinstance(header, str):
        return Reading((), (*defects, Defect("unreadable", sheet.rows[0].line, 1, header, "file")), text.encoding)
    defects += [Defect("damaged", line, 1, "a quote opens in this row that is never closed", "rest") for line in sheet.unclosed]
    columns = _columns(sheet.rows[top:], header, defects, set(sheet.unclosed))
    return Reading(columns, in_order(defects), text.encoding)


def _workbook(data: bytes, options: ReadOptions) -> Reading:
    """The sheets that have a header; of one alone the title is no part."""
    try:
        leaves = read_workbook(data)
    except WorkbookError as error:
        return Reading((), (Defect("unreadable", 1, 1, str(error), "file"),))
    found = [(leaf, *find_header([row.cells for row in leaf.rows[:HEAD_ROWS]], options)) for leaf in leaves if leaf.rows]
    tables = [(leaf, top, header) for leaf, top, header in found if not isinstance(header, str) and header.locales]
    if not tables:
        words = next((header for _, _, header in found if isinstance(header, str)), "no sheet has a header row with locales")
        return Reading((), (Defect("unreadable", 1, 1, words, "file"),))
    defects: list[Defect] = []
    columns: list[Column] = []
    for leaf, top, header in tables:
        width = len(leaf.rows[top].cells)
        rows = [row if len(row.cells) >= width else Row(row.line, row.cells + [""] * (width - len(row.cells))) for row in leaf.rows[top:]]
        part = leaf.title if len(tables) > 1 else None
        columns += [replace(column, part=part) for column in _columns(rows, header, defects, set())]
    return Reading(tuple(columns), in_order(defects))


def _plain_sheet(text: str, delimiter: str, options: ReadOptions) -> tuple[Column, ...] | None:
    """The columns of a sheet whose rows are all as wide as its header and whose keys are there once, which most are; else None."""
    if "\r" in text or text.count('"') % 2:
        return None
    csv.field_size_limit(2**31 - 1)
    table = list(csv.reader(io.StringIO(text, newline="\n"), delimiter=delimiter))
    if not table:
        return None
    if len(table) != text.count("\n") or any("\n" in cell for cell in table[-1]):  # cells of several lines, or quotes that stand wrongly
        try:
            table = list(csv.reader(io.StringIO(text, newline="\n"), delimiter=delimiter, strict=True))
        except csv.Error:
            return None
    first = table.pop(0)
    if not table or set(map(len, table)) != {len(first)}:
        return None
    top, header = find_header([first, *table[: HEAD_ROWS - 1]], options)
    if top or isinstance(header, str):
        return None
    keys = Keys([row[header.key] for row in table])
    if len(keys.all) != len(keys) or "" in keys.all or tuple(map(str.strip, keys)) != keys:
        return None
    rare: dict[str, dict[int, Any]] = {}
    if header.description >= 0:
        rare["comment"] = {index: cell.strip() for index, cell in enumerate([row[header.description] for row in table]) if cell.strip()}
    if header.limit >= 0:
        limits = ((index, cell.strip()) for index, cell in enumerate([row[header.limit] for row in table]))
        rare["limit"] = {index: int(cell) for index, cell in limits if re.fullmatch("[0-9]{1,9}", cell)}
    rare = {kind: values for kind, values in rare.items() if values}
    return tuple(Column(label, keys, _texts(tuple([row[index] for row in table])), rare or NOTHING) for label, index in header.locales)


def _columns(rows: list[Row], header: Header, defects: list[Defect], broken: set[int]) -> tuple[Column, ...]:
    """The columns of *rows*, of which the first is the header; the lines *broken* have been told already."""
    width = len(rows[0].cells)
    first: dict[str, Row] = {}
    kept: dict[str, list[str]] = {}
    for row in rows[1:]:
        key = row.cells[header.key].strip() if header.key < len(row.cells) else ""
        if len(row.cells) != width and row.line not in broken:
            words = f"{len(row.cells)} cells where the header has {width}"
            words = f"the row of {key!r} has {words}" if key else f"a row has {words}"
            defects.append(Defect("ragged-row", row.line, 1, words, "key", None, key or None))
        if not key:
            if any(cell.strip() for cell in row.cells) and len(row.cells) == width:
                defects.append(Defect("damaged", row.line, header.key + 1, "a row with texts and no key", "key"))
            continue
        padded = row.cells if len(row.cells) == width else row.cells + [""] * (width - len(row.cells))
        if key in kept:
            defects.append(repeated(key, first[key].line, row.line, 1, first[key].cells == row.cells))
        first.setdefault(key, row)
        kept[key] = padded
    keys = Keys(kept)
    rare: dict[str, dict[int, Any]] = {}
    if header.description >= 0:
        rare["comment"] = {
            index: row[header.description].strip() for index, row in enumerate(kept.values()) if row[header.description].strip()
        }
    if header.limit >= 0:
        limits = ((index, re.fullmatch(r"\s*([0-9]{1,9})\s*", row[header.limit])) for index, row in enumerate(kept.values()))
        rare["limit"] = {index: int(match.group(1)) for index, match in limits if match}
    rare = {kind: values for kind, values in rare.items() if values}
    cells_by_column = list(zip(*kept.values(), strict=False)) or [()] * width
    return tuple(Column(label, keys, _texts(cells_by_column[index]), rare or NOTHING) for label, index in header.locales)


def _texts(column: tuple[str, ...]) -> tuple[str | None, ...]:
    return tuple([cell or None for cell in column]) if "" in column else column


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted cell: the place is that of the locale's cell, the entry its row. Without a label, the key's cell.

    In a workbook a place is row and column of the cell, and there are no spans.
    """
    if is_workbook(data):
        return _locate_in_workbook(data, options, set(wanted))
    text = decode(data, options.encoding)
    lines, offsets = Lines(text.text), Bytes(text)
    delimiter = find_delimiter(text.text, options.suffix)
    rows: dict[int, list[tuple[int, int]]] = {}
    for cell in cells(text.text, delimiter):
        rows.setdefault(cell.row, []).append((cell.start, cell.end))
    plain = [[_cell_text(text.text[start:end]) for start, end in row] for row in rows.values()]
    shown = [index for index, row in enumerate(plain) if any(cell.strip() for cell in row)]
    top, header = find_header([plain[index] for index in shown[:HEAD_ROWS]], options)
    if isinstance(header, str):
        return {}
    looked_for = set(wanted)
    found: dict[tuple[str | None, str], Site] = {}
    for index in shown[top + 1 :]:
        row = rows[index]
        key = plain[index][header.key].strip() if header.key < len(row) else ""
        for name, column in _columns_by_label(header).items():
            if (name, key) in looked_for:
                start, end = row[min(column, len(row) - 1)]
                entry = offsets.span(row[0][0], row[-1][1])
                key_span = offsets.span(*row[header.key])
                found[name, key] = Site(*lines.place(start), key_span, offsets.span(start, end), entry)
    return found


def _columns_by_label(header: Header) -> dict[str | None, int]:
    columns: dict[str | None, int] = {None: header.key}
    for label, index in header.locales:
        columns.setdefault(label, index)
    return columns


def _locate_in_workbook(data: bytes, options: ReadOptions, wanted: set[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    try:
        leaves = read_workbook(data)
    except WorkbookError:
        return {}
    found: dict[tuple[str | None, str], Site] = {}
    for leaf in leaves:
        top, header = find_header([row.cells for row in leaf.rows[:HEAD_ROWS]], options)
        if isinstance(header, str):
            continue
        columns = _columns_by_label(header)
        here: dict[tuple[str | None, str], Site] = {}
        for row in leaf.rows[top + 1 :]:
            key = row.cells[header.key].strip() if header.key < len(row.cells) else ""
            for name, column in columns.items():
                if (name, key) in wanted:
                    here[name, key] = Site(row.line, column + 1, (0, 0), None, (0, 0))
        found = here | found
    return found


def _cell_text(raw: str) -> str:
    return raw[1:-1].replace('""', '"') if len(raw) > 1 and raw[0] == raw[-1] == '"' else raw


def likely(data: bytes) -> bool:
    """Whether the contents look like rows of several cells, with a locale among the headers."""
    if is_workbook(data):
        return b"xl/" in data
    text = decode(data[:8192]).text
    if "\0" in text or not text.strip() or text.lstrip()[:1] in "{[<":
        return False
    sheet = read_rows(text, find_delimiter(text))
    top, header = find_header([row.cells for row in sheet.rows], ReadOptions())
    return not isinstance(header, str) and len(sheet.rows[top].cells) > 1 and bool(header.locales)


FORMAT = Format("sheet", (".csv", ".tsv", ".xlsx"), 2, ("columns",), read, locate, likely)
