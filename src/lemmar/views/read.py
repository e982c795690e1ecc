"""What Lemmar makes of catalog files: their entries and defects, or each text taken apart; the list of formats."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any

from lemmar import formats
from lemmar.basics.phrasing import counted
from lemmar.basics.text import visible
from lemmar.inventory.files import FileEntry, SeenFile
from lemmar.report import Anew, Drawn, Table, View, drawn_table, indented, joined, plain
from lemmar.views import patterns

_COLUMNS = ("file", "locale", "part", "key", "context", "text", "forms", "line", "column", "source", "comment", "limit", "state")
_DEFECT = ("defect", "message")


def view(seen: Sequence[SeenFile], passed: Sequence[Mapping[str, int]] = ()) -> View:
    """The defects and entries of files, and how many others were *passed* over, by the reason."""
    more = patterns.COLUMNS if any(found.syntax for found in seen) else ()
    columns = (*_COLUMNS, *more, *_DEFECT)

    def each() -> Iterator[dict[str, Any]]:
        for found in seen:
            yield from _defects(found)
            yield from (_record(found, entry) for entry in found.entries)

    records = Anew(each)
    rows = Anew(lambda: (tuple(record.get(name) for name in columns) for record in records))
    return View(Table("read", columns, rows), lambda _page: _draw_all(seen, passed), records)


def view_formats() -> View:
    """The formats, and what is read of each."""
    rows = []
    for form in formats.every():
        about = form.manual.split("\n")[0].replace("``", "").replace("*", "")
        rows.append((form.name, " ".join(form.suffixes), " ".join(form.layouts), about))
    return View(Table("formats", ("format", "suffixes", "layouts", "read"), rows))


def _name(file: str) -> str:
    r"""The file's name, bytes of it that are no UTF-8 shown as ``\xNN``."""
    return file if file.isprintable() else visible(file)


def _record(found: SeenFile, entry: FileEntry) -> dict[str, Any]:
    rare, index, site = entry.column.rare, entry.at, entry.site
    return {
        "file": _name(found.file),
        "locale": entry.locale,
        "part": entry.column.part,
        "key": entry.key,
        "context": rare.context.get(index),
        "text": None if entry.forms else entry.text,
        "forms": entry.forms,
        "line": site.line if site else 1,
        "column": site.column if site else 1,
        "source": rare.source.get(index),
        "comment": rare.comment.get(index),
        "limit": rare.limit.get(index),
        "state": entry.state,
        **(patterns.record(entry.shape, found.syntax) if entry.shape is not None and found.syntax is not None else {}),
    }


def _defects(found: SeenFile) -> Iterator[dict[str, Any]]:
    for defect in found.defects:
        place = {"line": defect.line, "column": defect.column}
        yield {"file": _name(found.file), "defect": defect.kind, "message": defect.detail, **place}


def _draw_all(seen: Sequence[SeenFile], passed: Sequence[Mapping[str, int]]) -> Iterator[Drawn]:
    for found in seen:
        yield from _draw(found)
    for reasons in passed:
        for reason, number in reasons.items():
            yield plain(f"passed over: {counted(number, 'file')}: {reason}", "faint")


def _draw(found: SeenFile) -> Iterable[Drawn]:
    form = found.format.name if found.format is not None else "no known format"
    what = f"hands on the texts of {found.forwards!r}" if found.forwards else counted(len(found.entries), "entry", "entries")
    yield joined((found.file, "strong"), f"  {form}, {what}")
    for defect in found.defects:
        yield indented(joined((defect.kind, "error"), f"  {found.file}:{defect.line}:{defect.column}  {defect.detail}"), 2)
    several = len({entry.locale for entry in found.entries}) > 1
    if found.syntax is not None:
        yield f"  taken apart as {patterns.describe(found.syntax)}"
        yield ""
        yield from patterns.draw(found.entries, several)
    elif found.entries:
        columns = [("place", "right"), *([("locale", "left")] if several else []), ("key", "left"), ("text", "left"), ("comment", "left")]
        yield drawn_table(columns, [_cells(entry, several) for entry in found.entries])
    yield ""


def _cells(entry: FileEntry, several: bool) -> list[Any]:
    if entry.forms:
        text: Any = plain(" | ".join(f"{name}: {form}" for name, form in entry.forms.items()))
    elif entry.text is None:
        text = plain("(no text yet)", "faint")
    else:
        text = plain(entry.text) if entry.text else plain("(empty)", "faint")
    comment, limit = entry.column.rare.comment.get(entry.at), entry.column.rare.limit.get(entry.at)
    notes = [note for note in (comment, f"at most {limit}" if limit else None, entry.state) if note]
    return [patterns.place(entry), *([entry.locale] if several else []), entry.key, text, "; ".join(notes)]
