"""Sheets of texts: a row a key, a column a locale (CSV, TSV).

Source: RFC 4180 for commas and quotes; the delimiter is found from the header. A cell that is empty is a text that is not
there yet. Without a charter, the first column holds the keys and columns that are no locales are not texts.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from typing import Any, NamedTuple

from lemmar.documents.sheet import Row, cells, find_delimiter, read_rows
from lemmar.formats.building import decoded, in_order, repeated
from lemmar.model import NOTHING, Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.tags import looks_like_locale
from lemmar.text import Bytes, Lines, decode

_DESCRIPTIONS = ("description", "descriptions", "notes", "note", "comment", "comments", "context")
_LIMITS = ("limit", "max", "maximum", "length", "max length")


class Header(NamedTuple):
    """What each column of a sheet is: the index of the keys, of the descriptions and limits (-1: none), and the locales."""

    key: int
    description: int
    limit: int
    locales: tuple[tuple[str, int], ...]


def header_of(row: list[str], options: ReadOptions) -> Header | str:
    """What the columns are, by the charter's names or by their own; a sentence where the charter's are not there."""
    names = [cell.strip() for cell in row]
    roles: dict[str, int] = {}
    for role in ("key", "description", "limit"):
        wanted = options.columns.get(role)
        if wanted is None:
            continue
        if wanted not in names:
            return f"no column is headed {wanted!r}"
        roles[role] = names.index(wanted)
    key = roles.get("key", 0)
    taken = {key, *roles.values()}
    if not options.columns:
        for role, words in (("description", _DESCRIPTIONS), ("limit", _LIMITS)):
            index = next((index for index, name in enumerate(names) if name.lower() in words and index not in taken), -1)
            if index >= 0:
                roles[role] = index
                taken.add(index)
    ignored = set(options.columns.get("ignore", ()))
    locales = [(name, index) for index, name in enumerate(names) if index not in taken and name not in ignored]
    if not options.columns:
        locales = [(name, index) for name, index in locales if looks_like_locale(name)]
    return Header(key, roles.get("description", -1), roles.get("limit", -1), tuple(locales))


def read(data: bytes, options: ReadOptions) -> Reading:
    """A column for each locale of the sheet, and every defect."""
    text, defects = decoded(data, options)
    if "\0" in text.text:
        return Reading((), (Defect("unreadable", 1, 1, "a binary file, not a sheet", "file"),), text.encoding)
    plain = _plain_sheet(text.text, find_delimiter(text.text, options.suffix), options)
    if plain is not None:
        return Reading(plain, in_order(defects), text.encoding)
    sheet = read_rows(text.text, find_delimiter(text.text, options.suffix))
    if not sheet.rows:
        return Reading((), (*defects, Defect("unreadable", 1, 1, "the file is empty: a header row is wanted", "file")), text.encoding)
    header = header_of(sheet.rows[0].cells, options)
    if isinstance(header, str):
        return Reading((), (*defects, Defect("unreadable", sheet.rows[0].line, 1, header, "file")), text.encoding)
    defects += [Defect("damaged", line, 1, "a quote opens in this row that is never closed", "rest") for line in sheet.unclosed]
    columns = _columns(sheet.rows, header, defects, set(sheet.unclosed))
    return Reading(columns, in_order(defects), text.encoding)


def _plain_sheet(text: str, delimiter: str, options: ReadOptions) -> tuple[Column, ...] | None:
    """The columns of a sheet whose rows are all as wide as its header and whose keys are there once, which most are; else None."""
    if "\r" in text or text.count('"') % 2:
        return None
    csv.field_size_limit(2**31 - 1)
    try:
        first, *table = list(csv.reader(io.StringIO(text, newline="\n"), delimiter=delimiter, strict=True)) or [[]]
    except csv.Error:  # a quote that nothing closes
        return None
    if not table or set(map(len, table)) != {len(first)}:
        return None
    header = header_of(first, options)
    if isinstance(header, str):
        return None
    by_column = list(zip(*table, strict=True))
    keys = Keys(by_column[header.key])
    if len(keys.all) != len(keys) or "" in keys.all or any(map(str.isspace, keys)) or tuple(map(str.strip, keys)) != keys:
        return None
    rare: dict[str, dict[int, Any]] = {}
    if header.description >= 0:
        rare["comment"] = {index: cell.strip() for index, cell in enumerate(by_column[header.description]) if cell.strip()}
    if header.limit >= 0:
        limits = ((index, cell.strip()) for index, cell in enumerate(by_column[header.limit]))
        rare["limit"] = {index: int(cell) for index, cell in limits if re.fullmatch("[0-9]{1,9}", cell)}
    rare = {kind: values for kind, values in rare.items() if values}
    return tuple(Column(label, keys, _texts(by_column[index]), rare or NOTHING) for label, index in header.locales)


def _columns(rows: list[Row], header: Header, defects: list[Defect], broken: set[int]) -> tuple[Column, ...]:
    width = len(rows[0].cells)
    first: dict[str, Row] = {}
    kept: dict[str, list[str]] = {}
    for row in rows[1:]:
        key = row.cells[header.key].strip() if header.key < len(row.cells) else ""
        if len(row.cells) != width and row.line not in broken:
            words = f"{len(row.cells)} cells where the header has {width}"
            defects.append(
                Defect(
                    "ragged-row", row.line, 1, f"the row of {key!r} has {words}" if key else f"a row has {words}", "key", None, key or None
                )
            )
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
    """The site of each wanted cell: the place is that of the locale's cell, the entry its row. Without a label, the key's cell."""
    text = decode(data, options.encoding)
    lines, offsets = Lines(text.text), Bytes(text)
    delimiter = find_delimiter(text.text, options.suffix)
    rows: dict[int, list[tuple[int, int]]] = {}
    for cell in cells(text.text, delimiter):
        rows.setdefault(cell.row, []).append((cell.start, cell.end))
    plain = [[_cell_text(text.text[start:end]) for start, end in row] for row in rows.values()]
    shown = [index for index, row in enumerate(plain) if any(cell.strip() for cell in row)]
    header = header_of(plain[shown[0]], options) if shown else ""
    if isinstance(header, str):
        return {}
    columns: dict[str | None, int] = {None: header.key}
    for label, index in header.locales:
        columns.setdefault(label, index)
    looked_for = set(wanted)
    found: dict[tuple[str | None, str], Site] = {}
    for index in shown[1:]:
        row = rows[index]
        key = plain[index][header.key].strip() if header.key < len(row) else ""
        for name, column in columns.items():
            if (name, key) in looked_for:
                start, end = row[min(column, len(row) - 1)]
                entry = offsets.span(row[0][0], row[-1][1])
                found[name, key] = Site(*lines.place(start), offsets.span(*row[header.key]), offsets.span(start, end), entry)
    return found


def _cell_text(raw: str) -> str:
    return raw[1:-1].replace('""', '"') if len(raw) > 1 and raw[0] == raw[-1] == '"' else raw


def likely(data: bytes) -> bool:
    """Whether the contents look like rows of several cells, with a locale among the headers."""
    text = decode(data[:8192]).text
    if "\0" in text or not text.strip() or text.lstrip()[:1] in "{[<":
        return False
    sheet = read_rows(text, find_delimiter(text))
    header = header_of(sheet.rows[0].cells, ReadOptions())
    return not isinstance(header, str) and len(sheet.rows[0].cells) > 1 and bool(header.locales)


FORMAT = Format("sheet", (".csv", ".tsv"), 1, ("columns",), read, locate, likely)
