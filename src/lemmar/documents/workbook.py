"""Workbooks (ECMA-376, ``.xlsx``): the cells of each sheet as texts, read by a general library, within bounds.

A formula is the value that was last computed for it; nothing is computed here, and no link out of the file is followed.
"""

from __future__ import annotations

import io
import warnings
import zipfile
from typing import Any, NamedTuple

from lemmar.basics.errors import IncompleteError

#: What a workbook may hold once it is unpacked: bytes, and cells up to the widest row.
MAX_UNPACKED = 96 * 1024 * 1024
MAX_CELLS = 4_000_000
_MAGIC = b"PK\x03\x04"


class WorkbookError(ValueError):
    """The file is no workbook that can be read; the message says why."""


class LeafRow(NamedTuple):
    """A row of a sheet: its 1-based number and the texts of its cells."""

    number: int
    texts: list[str]


class Leaf(NamedTuple):
    """One sheet of a workbook: its title and its rows, blank ones left out and blank cells at their ends too."""

    title: str
    rows: list[LeafRow]


def is_workbook(data: bytes) -> bool:
    """Whether *data* is an archive, as every workbook is."""
    return data.startswith(_MAGIC)


def read_workbook(data: bytes) -> list[Leaf]:
    """The sheets of a workbook in their order.

    Raises:
        WorkbookError: it is none, is damaged, or holds more than is read.
        IncompleteError: the library that reads workbooks is not installed.
    """
    _check_archive(data)
    try:
        import openpyxl
    except ImportError:
        raise IncompleteError("a workbook (.xlsx) is read with the extra 'sheets'; install it with: pip install 'lemmar[sheets]'") from None

    leaves = []
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # of styles and extensions that are not read
            book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True, keep_links=False)
            try:
                for sheet in book.worksheets:
                    leaves.append(Leaf(sheet.title, _rows(sheet)))
            finally:
                book.close()
    except WorkbookError:
        raise
    except Exception as error:  # the library lets through whatever its parts raise
        why = str(error).split("\n")[0][:120] or type(error).__name__
        raise WorkbookError(f"the workbook is damaged: {why}") from None
    return leaves


def open_workbook(data: bytes) -> Any:
    """A workbook to be changed, formulas and styles kept. Raises `WorkbookError`, `IncompleteError`."""
    read_workbook(data)
    import openpyxl

    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        return openpyxl.load_workbook(io.BytesIO(data))


def saved_workbook(book: Any) -> bytes:
    """Its bytes."""
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def _rows(sheet: Any) -> list[LeafRow]:
    rows = []
    seen = 0
    for number, cells in enumerate(sheet.iter_rows(values_only=True), start=1):
        seen += len(cells) + 1
        if seen > MAX_CELLS:
            raise WorkbookError(f"the sheet {sheet.title!r} has more than {MAX_CELLS:,} cells, which are not read")
        texts = [_text(cell) for cell in cells]
        while texts and not texts[-1]:
            texts.pop()
        if texts:
            rows.append(LeafRow(number, texts))
    return rows


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "TRUE" if value else "FALSE"
    if isinstance(value, float) and value.is_integer() and abs(value) < 1e15:
        return str(int(value))
    return value if isinstance(value, str) else str(value)


def _check_archive(data: bytes) -> None:
    """Refuses what would unpack to too much, and parts with a document type, which no workbook has."""
    if data.startswith(b"\xd0\xcf\x11\xe0"):
        raise WorkbookError("a workbook of the old binary form or with a password; save it as .xlsx without one")
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            parts = archive.infolist()
            if sum(part.file_size for part in parts) > MAX_UNPACKED or len(parts) > 10_000:
                raise WorkbookError(f"the workbook unpacks to more than {MAX_UNPACKED // 2**20} MiB, which is not read")
            if any(part.flag_bits & 1 for part in parts):
                raise WorkbookError("the workbook is encrypted; save it without a password")
            for part in parts:
                if part.filename.lower().endswith((".xml", ".rels")):
                    with archive.open(part) as stream:
                        head = stream.read(4096)
                    if b"<!DOCTYPE" in head or b"<!ENTITY" in head or b"<\0!\0" in head or b"\0<\0!" in head:
                        raise WorkbookError(f"its part {part.filename!r} declares entities, which are not read")
    except (zipfile.BadZipFile, NotImplementedError, OSError, EOFError, ValueError, RuntimeError) as error:
        if isinstance(error, WorkbookError):
            raise
        raise WorkbookError(f"the archive is damaged: {error}") from None
    except Exception as error:  # zlib.error and the like
        raise WorkbookError(f"the archive is damaged: {error}") from None
