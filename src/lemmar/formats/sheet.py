"""Sheets of texts: a row a key, a column a locale (CSV, TSV, XLSX).

Sources: RFC 4180 for commas and quotes, ECMA-376 for workbooks, of which each sheet with a header is read. The delimiter is found from
the contents, the header among the first rows: titles may stand above it. A cell that is empty is a text that is not there yet. Without
a charter, the first column holds the keys and columns that are no locales are not texts.
"""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Collection, Iterator, Mapping, Sequence
from itertools import islice
from typing import Any, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents.sheet import LINE_END, Cell, Row, find_delimiter, rows
from lemmar.documents.splicing import EditError, Splice
from lemmar.documents.workbook import WorkbookError, is_workbook, open_workbook, read_workbook, saved_workbook
from lemmar.formats._editing import Edits, Model, NewEntry, Where, after_each
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Hints, Reads, Writes
from lemmar.formats._reading import NONE_RARE, NOTHING, Column, Keys, Rare, Reading, ReadOptions
from lemmar.tags import looks_like_locale

_DESCRIPTIONS = ("description", "descriptions", "notes", "note", "comment", "comments", "context")
_KEYS = ("key", "keys", "id", "ids", "identifier", "name", "string id", "code")
_EITHER = ("id", "no")
#: Among how many rows the header is looked for.
HEAD_ROWS = 20
#: The columns of a sheet that is read, at the most: far more than there are locales.
MAX_COLUMNS = 2_000
_LIMITS = ("limit", "max", "maximum", "length", "max length")


class Header(NamedTuple):
    """What each column of a sheet is: the index of the keys, of the descriptions and limits (-1: none), and the locales."""

    key: int
    description: int
    limit: int
    locales: tuple[tuple[str, int], ...]

    @property
    def numbered(self) -> list[tuple[int, str, int]]:
        """The locales, each with how many before it have the same header."""
        seen: Counter[str] = Counter()
        found = []
        for name, index in self.locales:
            found.append((seen[name], name, index))
            seen[name] += 1
        return found


def header_of(row: Sequence[str], options: ReadOptions) -> Header | str:
    """What the columns are, by the charter's names or by their own; a sentence where the charter's are not there."""
    names = [cell.strip() for cell in row]
    if not names:
        return "a header row is wanted"
    if len(names) > MAX_COLUMNS:
        return f"the row has {len(names):,} cells; of sheets with more than {MAX_COLUMNS:,} columns nothing is read"
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
        sure = [(name, index) for name, index in locales if looks_like_locale(name)]
        # `id` and `no` are Indonesian and Norwegian beside other locales, where the keys have a column of another name
        known = set(sure)
        locales = [each for each in locales if each in known or (len(sure) > 1 and each[0] in _EITHER)]
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


class HeadCell(NamedTuple):
    """A cell among the first rows of a sheet: its text and its place, a 1-based line and column."""

    text: str
    line: int
    column: int


def head_rows(data: bytes, suffix: str) -> list[list[HeadCell]]:
    """The first rows of a sheet, of each sheet of a workbook, blank ones left out. Raises `WorkbookError`."""
    if is_workbook(data):
        leaves = [leaf for leaf in read_workbook(data) if leaf.rows]
        rows_of_all = (row for leaf in leaves for row in leaf.rows[:HEAD_ROWS])
        return [[HeadCell(text.strip(), row.number, at) for at, text in enumerate(row.texts, start=1)] for row in rows_of_all]
    text = decode(data).text
    lines = Lines(text)
    first = islice(rows(text, find_delimiter(text, suffix)), HEAD_ROWS)
    return [[HeadCell(cell.text.strip(), *lines.place(cell.start)) for cell in row.cells] for row in first]


def header_cells(data: bytes, suffix: str, columns: Mapping[str, Any] = NOTHING) -> list[HeadCell]:
    """The headers that name locales; *columns* are those that a charter knows to be something else. Raises `WorkbookError`."""
    table = head_rows(data, suffix)
    top, header = find_header([[cell.text for cell in row] for row in table], ReadOptions(columns=columns))
    return [] if isinstance(header, str) else [table[top][index] for _, index in header.locales]


def header_names(data: bytes, suffix: str) -> dict[str, Any]:
    """What the headers of a sheet that are no locales are named, by what a charter's ``columns`` calls them."""
    try:
        table = [[cell.text for cell in row] for row in head_rows(data, suffix)]
    except WorkbookError:
        return {}
    top, header = find_header(table, ReadOptions())
    if isinstance(header, str):
        return {}
    names = table[top]
    found: dict[str, Any] = {"key": names[header.key]} if names[header.key] else {}
    for role, index in (("description", header.description), ("limit", header.limit)):
        if index >= 0:
            found[role] = names[index]
    known = {header.key, header.description, header.limit, *(index for _, index in header.locales)}
    others = [name for index, name in enumerate(names) if index not in known and name]
    return found | ({"ignore": others} if others else {}) if "key" in found else {}


def _locales(header: Header) -> int:
    return sum(looks_like_locale(name) for name, _ in header.locales)


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The short way through a sheet whose rows are all as wide as its header and whose keys are there once, which most are."""
    if is_workbook(data) or options.suffix == ".xlsx":
        return None
    text = decode(data, options.encoding)
    if text.fault is not None or (options.encoding and text.mark) or "\0" in text.text:
        return None
    columns = _plain_sheet(text.text, find_delimiter(text.text, options.suffix), options)
    return Reading(columns) if columns is not None else None


def entries(walk: Walk) -> Iterator[Entry]:
    """A cell for each key and locale, row by row; of a workbook with several sheets each is a part."""
    walk.tells_repeats = True
    if is_workbook(walk.data) or walk.options.suffix == ".xlsx":
        yield from _of_workbook(walk)
        return
    if "\0" in walk.text:
        walk.nothing("a binary file, not a sheet")
        return
    table = list(rows(walk.text, find_delimiter(walk.text, walk.options.suffix)))
    top, header = find_header([row.texts for row in table[:HEAD_ROWS]], walk.options)
    if isinstance(header, str):
        line = walk.lines.place(table[0].start)[0] if table else 1
        walk.defect_at("unreadable", line, 1, header, "file")
        return
    for nth, label, index in header.numbered:
        walk.column(label, at=walk.lines.place(table[top].cells[index].start), nth=nth)
    whole = [_Row(walk.lines.place(row.start)[0], row.texts, row.cells) for row in table[top:]]
    yield from _of_rows(walk, whole, header)


def _of_workbook(walk: Walk) -> Iterator[Entry]:
    """The cells of the sheets that have a header; of one alone the title is no part."""
    try:
        leaves = read_workbook(walk.data)
    except WorkbookError as error:
        walk.defect_at("unreadable", 1, 1, str(error), "file")
        return
    found = [(leaf, *find_header([row.texts for row in leaf.rows[:HEAD_ROWS]], walk.options)) for leaf in leaves if leaf.rows]
    tables = [(leaf, top, header) for leaf, top, header in found if not isinstance(header, str) and header.locales]
    if not tables:
        words = next((header for _, _, header in found if isinstance(header, str)), "no sheet has a header row with locales")
        walk.defect_at("unreadable", 1, 1, words, "file")
    for leaf, top, header in tables:
        part = leaf.title if len(tables) > 1 else None
        width = len(leaf.rows[top].texts)
        for nth, label, index in header.numbered:
            walk.column(label, part, at=(leaf.rows[top].number, index + 1), nth=nth)
        whole = [_Row(row.number, row.texts + [""] * (width - len(row.texts))) for row in leaf.rows[top:]]
        yield from (entry._replace(part=part) for entry in _of_rows(walk, whole, header))


class _Row(NamedTuple):
    """A row on its line; *cells* have places in a text, and are empty in a workbook."""

    line: int
    texts: list[str]
    cells: Sequence[Cell] = ()


def _of_rows(walk: Walk, table: list[_Row], header: Header) -> Iterator[Entry]:
    """The entries of a table, of which the first row is the header."""
    width = len(table[0].texts)
    first: dict[str, _Row] = {}
    for row in table:
        if not all(cell.closed for cell in row.cells):
            walk.defect_at("damaged", row.line, 1, "a quote opens in this row that is never closed", "rest")
        elif any(_goes_on(walk.text[cell.start : cell.end]) for cell in row.cells):
            words = "the quotes in this row do not match: a cell of several lines goes on after its last quote"
            walk.defect_at("damaged", row.line, 1, words, "rest")
    numbered = header.numbered
    for row in table[1:]:
        key = row.texts[header.key].strip() if header.key < len(row.texts) else ""
        if len(row.texts) != width and all(cell.closed for cell in row.cells):
            words = f"{len(row.texts)} cells where the header has {width}"
            words = f"the row of {key!r} has {words}" if key else f"a row has {words}"
            lines = max(map(_lines, row.texts))
            if len(row.texts) > width and lines > 1:  # rows that a wrong quote has swallowed
                words = f"{words}, one of {lines} lines: its quotes do not match"
                walk.defect_at("damaged", row.line, 1, words, "rest", key or None)
            else:
                walk.defect_at("ragged-row", row.line, 1, words, "key", key or None)
        if not key:
            if any(cell.strip() for cell in row.texts) and len(row.texts) == width:
                walk.defect_at("damaged", row.line, header.key + 1, "a row with texts and no key", "key")
            continue
        if key in first:
            walk.again(key, first[key].line, (row.line, 1), first[key].texts == row.texts)
        first.setdefault(key, row)
        padded = row.texts + [""] * (width - len(row.texts))
        for nth, label, index in numbered:
            yield _cell(row, key, padded, label, index, header)._replace(nth=nth)


def _cell(row: _Row, key: str, texts: list[str], label: str, index: int, header: Header) -> Entry:
    rare: dict[str, Any] = {}
    if header.description >= 0:
        rare["comment"] = texts[header.description].strip()
    if header.limit >= 0 and (limit := _LIMIT.fullmatch(texts[header.limit])):
        rare["limit"] = int(limit.group(1))
    if not row.cells:
        return Entry(key, texts[index] or None, label=label, rare=rare, at=(row.line, index + 1))
    cell, name = row.cells[min(index, len(row.cells) - 1)], row.cells[header.key]
    whole = (row.cells[0].start, row.cells[-1].end)
    return Entry(key, texts[index] or None, cell.start, (name.start, name.end), (cell.start, cell.end), whole, label, rare=rare)


def _goes_on(written: str) -> bool:
    return written[:1] == '"' and written[-1:] != '"' and _lines(written) > 1


def _lines(text: str) -> int:
    return len(LINE_END.findall(text)) + 1


_LIMIT = expression(r"\s*([0-9]{1,9})\s*")


def _plain_sheet(text: str, delimiter: str, options: ReadOptions) -> tuple[Column, ...] | None:
    """The columns of a sheet whose rows are all as wide as its header and whose keys are there once, which most are; else None."""
    if "\r" in text or text.count('"') % 2:
        return None
    csv.field_size_limit(2**31 - 1)
    try:  # which takes no quotes that stand wrongly or are never closed
        table = list(csv.reader(io.StringIO(text, newline="\n"), delimiter=delimiter, strict=True))
    except csv.Error:
        return None
    if not table:
        return None
    first = table.pop(0)
    if not table or set(map(len, table)) != {len(first)}:
        return None
    top, header = find_header([first, *table[: HEAD_ROWS - 1]], options)
    if top or isinstance(header, str):
        return None
    head = next(rows(text, delimiter), None)
    if head is None or len(head.cells) != len(first):
        return None
    heads = head.cells
    lines = Lines(text[: heads[-1].end])
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
    held = Rare(**rare) if rare else NONE_RARE
    return tuple(
        Column(label, keys, _texts(tuple([row[index] for row in table])), held, at=lines.place(heads[index].start))
        for label, index in header.locales
    )


def _texts(column: tuple[str, ...]) -> tuple[str | None, ...]:
    return tuple([cell or None for cell in column]) if "" in column else column


def likely(data: bytes) -> bool:
    """Whether the contents look like rows of several cells, with a locale among the headers."""
    if is_workbook(data):
        return b"xl/" in data
    text = decode(data[:8192]).text
    if "\0" in text or not text.strip() or text.lstrip()[:1] in "{[<":
        return False
    table = [row.texts for row in islice(rows(text, find_delimiter(text)), HEAD_ROWS)]
    top, header = find_header(table, ReadOptions())
    return not isinstance(header, str) and len(table[top]) > 1 and bool(header.locales)


def encode(text: str, hole: Hole) -> str:
    """A cell (RFC 4180). Raises `ValueError` for an empty text, which is none in such files, and for U+0000."""
    if not text or "\0" in text:
        raise ValueError("a sheet cannot hold an empty text" if not text else "a sheet cannot hold U+0000")
    delimiter = find_delimiter(hole.document, hole.options.suffix)
    quoted = hole.before[:1] == '"' or any(sign in text for sign in (delimiter, '"', "\n", "\r"))
    return '"' + text.replace('"', '""') + '"' if quoted else text


class _Table(NamedTuple):
    """A sheet of text: its rows from the header on, and what its columns are."""

    rows: list[Row]
    header: Header
    delimiter: str


def _table(text: str, options: ReadOptions) -> _Table:
    """The sheet. Raises `EditError` where a row is not as wide as the header."""
    delimiter = find_delimiter(text, options.suffix)
    every = list(rows(text, delimiter))
    top, header = find_header([row.texts for row in every[:HEAD_ROWS]], options)
    lines = Lines(text)
    if isinstance(header, str):
        raise EditError(header)
    width = len(every[top].cells)
    for row in every[top:]:
        if len(row.cells) != width or not all(cell.closed for cell in row.cells):
            raise EditError(f"a row has {len(row.cells)} cells where the header has {width}", *lines.place(row.start))
    return _Table(every[top:], header, delimiter)


def _take_in(model: Model) -> list[Splice]:
    """One more column, behind the last of a locale."""
    text = model.text
    table = _table(text, model.options)
    last = max(index for _, index in table.header.locales)
    found = []
    for number, row in enumerate(table.rows):
        cell = row.cells[last]
        quoted = all(text[each.start : each.start + 1] == '"' for each in row.cells)
        words = model.written if not number else ""
        found.append(Splice(cell.end, cell.end, table.delimiter + (f'"{words}"' if quoted else words)))
    return found


def _leave_out(text: str, options: ReadOptions, label: str) -> list[Splice]:
    """The sheet without the column of that header."""
    table = _table(text, options)
    index = next((index for name, index in table.header.locales if name == label), None)
    if index is None:
        return []
    return [
        Splice(row.cells[index - 1].end, row.cells[index].end, "") if index else Splice(row.cells[0].start, row.cells[1].start, "")
        for row in table.rows
    ]


def _rename(text: str, options: ReadOptions, label: str, new: str) -> list[Splice]:
    """The sheet with another header in the place of one."""
    table = _table(text, options)
    cells = [table.rows[0].cells[index] for name, index in table.header.locales if name == label]
    return [Splice(cell.start, cell.end, f'"{new}"' if text[cell.start : cell.start + 1] == '"' else new) for cell in cells]


def _remove(text: str, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
    """The cells of one locale emptied; a row in which no text is left goes whole. Of repeated rows all but the last."""
    table = _table(text, where.options)
    column = next((index for name, index in table.header.locales if name == where.label), -1)
    rows_of: dict[str, list[Row]] = {}
    for row in table.rows[1:]:
        rows_of.setdefault(row.cells[table.header.key].text.strip(), []).append(row)
    found = []
    for key in keys:
        if key not in rows_of:
            raise EditError(f"there is no row {key!r}")
        for row in rows_of[key][: -1 if repeats else None]:
            left = any(row.cells[index].text for _, index in table.header.locales if index != column)
            if repeats or not left:
                start, end = row.cells[0].start, row.cells[-1].end
                ended = LINE_END.match(text, end)
                found.append(Splice(start, ended.end() if ended else end, ""))
            elif column >= 0:
                found.append(Splice(row.cells[column].start, row.cells[column].end, ""))
    return found


def _add(text: str, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
    """A row for each new key, with its text in the one locale and nothing in the others."""
    table = _table(text, where.options)
    column = next((index for name, index in table.header.locales if name == where.label), None)
    if column is None:
        raise EditError(f"the sheet has no column {where.label!r}")
    end = next((match.group() for match in [LINE_END.search(text)] if match), "\n")
    keys = [row.cells[table.header.key].text.strip() for row in table.rows[1:]]
    found = []
    for after, those in after_each(keys, [new.key for new in news], where.order).items():
        lines = []
        for new in [new for new in news if new.key in those]:
            cells = [""] * len(table.rows[0].cells)
            cells[table.header.key], cells[column] = _written_cell(new.key, table.delimiter), _written_cell(new.text, table.delimiter)
            if table.header.description >= 0 and new.comment:
                cells[table.header.description] = _written_cell(new.comment, table.delimiter)
            lines.append(table.delimiter.join(cells))
        at = table.rows[after + 1].cells[-1].end
        found.append(Splice(at, at, "".join(end + line for line in lines)))
    return found


def _written_cell(words: str, delimiter: str) -> str:
    return '"' + words.replace('"', '""') + '"' if any(sign in words for sign in (delimiter, '"', "\n", "\r")) else words


def _no_blank(_model: Model) -> str:
    raise EditError("a sheet holds its locales as columns")


def edited_workbook(data: bytes, options: ReadOptions, label: str | None, new: str | None) -> bytes:
    """A workbook with a column headed *new* behind the last locale's where *label* is None, without the column *label* where *new* is None, else with the
    one called the other. What the general library does not know of it is lost.

    Raises:
        EditError: no sheet has such a column.
        IncompleteError: the library that reads workbooks is not installed.
    """
    leaves = {
        leaf.title: find_header([row.texts for row in leaf.rows[:HEAD_ROWS]], options) + (leaf,)
        for leaf in read_workbook(data)
        if leaf.rows
    }
    book, done = open_workbook(data), False
    for title, (top, header, leaf) in leaves.items():
        if isinstance(header, str) or not header.locales:
            continue
        sheet, line = book[title], leaf.rows[top].number
        if label is None:
            last = max(index for _, index in header.locales) + 1
            sheet.insert_cols(last + 1)
            sheet.cell(line, last + 1).value = new
            done = True
            continue
        for index in sorted((index for name, index in header.locales if name == label), reverse=True):
            if new is None:
                sheet.delete_cols(index + 1)
            else:
                sheet.cell(line, index + 1).value = new
            done = True
    if not done:
        raise EditError(f"no sheet of the workbook has a column {label or ''!r}".replace(" ''", " of a locale"))
    return saved_workbook(book)


FORMAT = Format(
    name="sheet",
    suffixes=(".csv", ".tsv", ".xlsx"),
    layouts=("columns",),
    reads=Reads(
        entries=entries,
        quick=quick,
        takes_wide="marked",
    ),
    writes=Writes(
        encode=encode,
        edits=Edits(_no_blank, _take_in, _leave_out, _rename, remove=_remove, add=_add),
    ),
    hints=Hints(
        likely=likely,
        kind="game",
    ),
)
