"""XLSX (ECMA-376), by a general library: a frozen head, widths, the source protected, a choice for the state, and a sheet that says how to fill it in."""

from __future__ import annotations

import io
from typing import Any

from lemmar.basics.errors import IncompleteError
from lemmar.basics.text import visible
from lemmar.documents.workbook import WorkbookError, is_workbook, read_workbook
from lemmar.handoff.forms._cells import COLUMNS, OPEN, cells, headings, read_rows, used_columns
from lemmar.handoff.forms._form import STATES, Expected, Form, Package, Returned

_HEAD, _FILL, _SENT_BACK = "FF33475B", "FFFFF8E1", "FFFBE3E0"
_MOST = 32_767  # characters of a cell, by the format's own bound


def write(package: Package) -> bytes:
    """A workbook with the texts and the notes. Raises `IncompleteError` where the library is not installed."""
    try:
        import openpyxl
    except ImportError:
        raise IncompleteError(
            "a workbook (.xlsx) is written with the extra 'sheets'; install it with: pip install 'lemmar[sheets]'"
        ) from None
    import datetime

    book = openpyxl.Workbook()
    book.properties.creator = "lemmar"
    book.properties.created = book.properties.modified = datetime.datetime(2000, 1, 1)  # the same brief gives the same bytes
    _texts(book.active, package)
    _notes(book.create_sheet("notes"), package)
    return _bytes(book)


def _bytes(book: Any) -> bytes:
    """The archive, its members dated alike."""
    import zipfile

    stream, out = io.BytesIO(), io.BytesIO()
    book.save(stream)
    with zipfile.ZipFile(stream) as made, zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in made.namelist():
            archive.writestr(zipfile.ZipInfo(name), _undated(name, made.read(name)), zipfile.ZIP_DEFLATED)
    return out.getvalue()


def _undated(name: str, data: bytes) -> bytes:
    import re

    return (
        re.sub(rb"(<dcterms:(?:created|modified)[^>]*>)[^<]*", rb"\g<1>2000-01-01T00:00:00Z", data) if name == "docProps/core.xml" else data
    )


def _texts(sheet: Any, package: Package) -> None:
    from openpyxl.styles import Alignment, Font, PatternFill, Protection
    from openpyxl.utils import get_column_letter
    from openpyxl.worksheet.datavalidation import DataValidation

    sheet.title = "texts"
    rows, heads = list(map(cells, package.lines)), headings(package)
    columns = used_columns(rows)
    widths = {name: width for name, _, width in COLUMNS}
    sheet.append([heads[name] for name in columns])
    for cell in sheet[1]:
        cell.font = Font(bold=True, color="FFFFFFFF")
        cell.fill = PatternFill("solid", start_color=_HEAD)
        cell.alignment = Alignment(vertical="top", wrap_text=True)
    right = "right-to-left" if _is_rtl(package) else ""
    for number, held in enumerate(rows, start=2):
        for place, name in enumerate(columns, start=1):
            cell = sheet.cell(number, place)
            cell.value, cell.data_type = _cell(held[name]), "s"  # a text, whatever it begins with
            cell.number_format = "@"
            cell.alignment = Alignment(vertical="top", wrap_text=True, readingOrder=2 if right and name == "text" else 0)
            if name in OPEN:
                cell.protection = Protection(locked=False)
                cell.fill = PatternFill("solid", start_color=_FILL)
            elif name == "reason" and held[name]:
                cell.fill = PatternFill("solid", start_color=_SENT_BACK)
    for place, name in enumerate(columns, start=1):
        sheet.column_dimensions[get_column_letter(place)].width = widths[name]
    after = columns.index("text") + 1 if "text" in columns else 1
    sheet.freeze_panes = f"{get_column_letter(min(after, 4))}2"
    choices = DataValidation(type="list", formula1=f'"{",".join(STATES)}"', allow_blank=True, showErrorMessage=True)
    choices.errorTitle, choices.error = "state", f"one of {', '.join(STATES)}, or nothing"
    sheet.add_data_validation(choices)
    letter = get_column_letter(columns.index("state") + 1)
    choices.add(f"{letter}2:{letter}{max(len(package.lines) + 1, 2)}")
    sheet.auto_filter.ref = f"A1:{get_column_letter(len(columns))}{len(package.lines) + 1}"
    sheet.protection.sheet = True  # without a password: it keeps from mistakes, not from people
    for name in ("formatColumns", "formatRows", "sort", "autoFilter"):
        setattr(sheet.protection, name, False)  # which are allowed


def _is_rtl(package: Package) -> bool:
    from lemmar.tags import LanguageTag, direction

    return direction(LanguageTag.parse(package.locale)) == "rtl"


def _cell(text: str) -> str:
    from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE

    shown = text if len(text) <= _MOST else f"{text[: _MOST - 1]}…"
    return ILLEGAL_CHARACTERS_RE.sub(lambda match: visible(match.group()), shown)


def _notes(sheet: Any, package: Package) -> None:
    from openpyxl.styles import Alignment, Font

    rows = [
        (f"{len(package.lines):,} texts from {package.source_name} into {package.locale_name}", ""),
        ("", ""),
        (f"column {package.locale_name!r}", "Write the translation here. What you leave empty is asked for again."),
        (
            "column 'state'",
            "translated: done. reviewed: somebody has looked at it. final: it stays as it is, even if it is the same as the source.",
        ),
        ("column 'remark'", "Anything that we should know: a question, a mistake in the source."),
        ("{name}", "Is filled in by the program. Keep it as it is written; put it where your sentence needs it."),
        ("<b>…</b>", "Marks words. Keep both ends, around the words that mean the same."),
        ("column 'form'", "For languages with several plurals: write each form for the numbers that are named beside it."),
        ("column 'at most'", "So many characters fit on the screen."),
        ("column 'text id'", "By it we find the text again. Rows may be sorted, left out or moved."),
    ]
    for row in rows:
        sheet.append(row)
    sheet["A1"].font = Font(bold=True, size=13)
    for number in range(3, len(rows) + 1):
        sheet.cell(number, 1).font = Font(bold=True)
        for place in (1, 2):
            cell = sheet.cell(number, place)
            cell.data_type = "s"
            cell.alignment = Alignment(vertical="top", wrap_text=True)
    sheet.column_dimensions["A"].width = 34
    sheet.column_dimensions["B"].width = 80


def read(data: bytes, expected: Expected) -> Returned:
    """The rows of the first sheet that has translations; a sheet of notes has none."""
    try:
        leaves = read_workbook(data)
    except WorkbookError as error:
        return Returned(None, (), (str(error),))
    every = [read_rows([(row.number, row.texts) for row in leaf.rows], expected) for leaf in leaves if leaf.rows]
    filled = [found for found in every if found.answers]
    if not filled:
        return next(iter(every), Returned(None, (), ("it has no rows",)))
    return max(filled, key=lambda found: len(found.answers))


FORM = Form(
    name="xlsx",
    suffix=".xlsx",
    write=write,
    read=read,
    likely=lambda _name, data: is_workbook(data),
)
