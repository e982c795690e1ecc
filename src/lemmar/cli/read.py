"""``lemmar read``: what Lemmar makes of any one catalog file."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any, NamedTuple

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.cli._patterns import Patterns
    from lemmar.formats import Defect

_COLUMNS = ("file", "locale", "part", "key", "context", "text", "forms", "line", "column", "source", "comment", "limit", "state")


class Seen(NamedTuple):
    """What was made of a file: its name as given, its format (None: not known), rows as in `_COLUMNS`, its defects, its locales."""

    file: str
    format: str | None
    rows: list[dict[str, Any]]
    defects: tuple[Defect, ...]
    locales: tuple[str, ...] = ()
    patterns: Patterns | None = None


@click.command(short_help="Show what Lemmar makes of any catalog file.")
@click.argument("files", nargs=-1, metavar="FILE...")
@click.option("--formats", "list_formats", is_flag=True, help="List the formats with what is read of each, and stop.")
@click.option("--as", "forced", metavar="FORMAT", help="Read the files in this format, whatever their names.")
@click.option("--layout", metavar="NAME", help="How locales are laid out in the files; default: the first that the format has.")
@click.option(
    "--fields", metavar="NAME=FIELD,…", help="Read lists of records: their fields 'key', 'text', and 'locale' or 'list' (a pointer)."
)
@click.option("--locale", "locales", multiple=True, metavar="TAG", help="Of files with several locales, only this one.")
@click.option("--key", "pattern", metavar="GLOB", help="Only keys that match.")
@click.option("--patterns", "apart", is_flag=True, help="Take each text apart: its placeholders, branches, markup, and where it breaks.")
@click.option("--syntax", metavar="NAME", help="The texts' syntax, for --patterns; default: as the texts show it.")
@_options.output("text", "jsonl", "json", "csv", "markdown")
@_options.loudness
def command(
    files: tuple[str, ...],
    list_formats: bool,
    forced: str | None,
    layout: str | None,
    fields: str | None,
    locales: tuple[str, ...],
    pattern: str | None,
    apart: bool,
    syntax: str | None,
    form: str,
    target: Path | None,
) -> int:
    """Show the entries and defects of each FILE, as a client's runtime would get them; of a folder, of every catalog in it. No charter
    is needed.

    Exits 0 when every file is whole, 1 when one has a defect.
    """
    from lemmar import formats
    from lemmar.charter.naming import nearest
    from lemmar.cli._writing import write
    from lemmar.errors import UsageError

    if forced is not None and forced not in formats.names():
        raise UsageError(f"there is no format {forced!r}{nearest(forced, formats.names())}")
    if list_formats:
        write(_formats(form, target), target)
        return Exit.CLEAR
    if not files:
        raise UsageError("no file was named; name one or more, or ask for --formats")
    if syntax is not None:
        from lemmar import syntax as syntaxes

        _options.check_known("syntax", (syntax,), syntaxes.names())
    how = _How(forced, "records" if fields else layout, _fields(fields), locales, pattern, apart or syntax is not None, syntax)
    seen = [_read(file, how) for named in files for file in _in_folder(named)]
    _check_locales(locales, seen)
    write(_written(seen, form, target), target)
    return Exit.HOLD if any(found.defects for found in seen) else Exit.CLEAR


def _in_folder(named: str) -> list[str]:
    """*named* itself; of a folder every file in it whose name and contents look like a catalog, what git ignores left out."""
    from lemmar import formats
    from lemmar.trees.folder import FolderTree

    if not Path(named).is_dir():
        return [named]
    tree = FolderTree(Path(named))
    found = []
    for match in tree.files("**"):
        try:
            data = tree.read(match.file)[1]
        except OSError:
            continue
        reader = formats.guess(match.file, data)
        if reader is not None and reader.name != "code" and reader.likely(data):
            found.append(f"{named.rstrip('/')}/{match.file}")
    return found or [named]


def _formats(form: str, target: Path | None) -> str:
    import sys

    from lemmar import formats
    from lemmar.report.tables import FORMS, Table

    rows = []
    for name in formats.names():
        found = formats.load(name)
        about = (sys.modules[found.read.__module__].__doc__ or "").strip().split("\n")[0].replace("``", "").replace("*", "")
        rows.append((name, " ".join(found.suffixes), " ".join(found.layouts), about))
    columns = ("format", "suffixes", "layouts", "read")
    if form in FORMS:
        return FORMS[form](Table("formats", columns, rows))
    from lemmar.cli._drawing import render, table

    return render([table([(column, "left") for column in columns], rows)], target)


class _How(NamedTuple):
    """How files are to be read: the format and layout that were asked for, if any, and what of it is to be shown."""

    format: str | None
    layout: str | None
    fields: dict[str, str]
    locales: tuple[str, ...]
    pattern: str | None
    apart: bool = False
    syntax: str | None = None


def _fields(text: str | None) -> dict[str, str]:
    from lemmar.errors import UsageError

    fields = {}
    for piece in (text or "").split(",") if text else ():
        name, equals, value = piece.strip().partition("=")
        if name not in ("key", "text", "locale", "list") or not equals or not value:
            raise UsageError(f"{piece!r} names no field; write such as --fields key=id,text=text,list=/entries")
        fields[name] = value
    return fields


def _check_locales(wanted: tuple[str, ...], seen: list[Seen]) -> None:
    """A locale that no file has was misspelt."""
    from lemmar.charter.naming import nearest
    from lemmar.errors import UsageError

    there = sorted({locale for found in seen for locale in found.locales})
    for locale in wanted:
        if there and not any(_same(locale, known) for known in there):
            raise UsageError(f"no file has the locale {locale!r}{nearest(locale, there)}")


def _same(wanted: str, label: str) -> bool:
    """Whether a column that is called *label* is the locale *wanted*, in whatever spelling."""
    from lemmar.tags import read_spelling

    if wanted == label:
        return True
    tags = [read_spelling(text, "auto") for text in (wanted, label)]
    return tags[0] is not None and tags[0] == tags[1]


def _read(file: str, how: _How) -> Seen:
    import errno

    from lemmar import formats
    from lemmar.errors import UsageError
    from lemmar.formats import Defect, ReadOptions
    from lemmar.inventory import plurals
    from lemmar.trees.folder import FolderTree

    path = Path(file)
    try:
        if path.is_dir():
            raise IsADirectoryError(errno.EISDIR, "it is a folder that holds no catalog")
        _, data = FolderTree(path.parent).read(path.name)  # type: ignore[arg-type]
    except OSError as error:
        return Seen(file, how.format, [], (Defect("unreadable", 1, 1, f"the file cannot be read: {error.strerror or error}", "file"),))
    reader = formats.load(how.format) if how.format else formats.guess(file, data)
    if reader is None:
        looks = formats.likely(data)
        hint = f"its contents look like {' or '.join(looks)}" if looks else "its contents look like none that is known"
        words = f"the format cannot be told from the name; {hint}; name one with --as ({', '.join(formats.names())})"
        return Seen(file, None, [], (Defect("unreadable", 1, 1, words, "file"),))
    if how.layout is not None and how.layout not in reader.layouts:
        raise UsageError(f"{reader.name} files have no layout {how.layout!r}; it can be {', '.join(reader.layouts)}")
    options = ReadOptions(layout=how.layout or reader.layouts[0], suffix=path.suffix.lower(), fields=how.fields)
    reading = reader.read(data, options)
    columns = reading.columns
    if not reader.own_plurals:
        spelled = plurals.spelled(column.keys for column in columns)
        columns = tuple(plurals.fold(column, spelled, column.label or _guessed(file)) for column in columns)
    sites = plurals.locate(reader, data, options, [(column.label, key) for column in columns for key in column.keys])
    labels = tuple(dict.fromkeys(column.label for column in columns if column.label))
    shown = [
        column for column in columns if column.label is None or not how.locales or any(_same(tag, column.label) for tag in how.locales)
    ]
    taken: Patterns | None = None
    if how.apart:
        from lemmar.cli._patterns import Patterns as TakesApart

        taken = TakesApart(columns, reader, how.syntax)
    rows = [row for column in shown for row in _rows(file, column, sites, how.pattern, taken)]
    return Seen(file, reader.name, rows, reading.defects, labels, taken)


def _rows(file: str, column: Any, sites: Any, pattern: str | None, taken: Patterns | None) -> Iterator[dict[str, Any]]:
    import fnmatch

    rare = column.rare
    locale = column.label or (_guessed(file) if column.label is None else None)
    for index, key in enumerate(column.keys):
        if pattern is not None and not fnmatch.fnmatchcase(key, pattern):
            continue
        site = sites.get((column.label, key))
        forms = rare.forms.get(index)
        yield {
            "file": file,
            "locale": locale,
            "part": column.part,
            "key": key,
            "context": rare.context.get(index),
            "text": None if forms else column.texts[index],
            "forms": forms,
            "line": site.line if site else 1,
            "column": site.column if site else 1,
            "source": rare.source.get(index),
            "comment": rare.comment.get(index),
            "limit": rare.limit.get(index),
            "state": _state(rare, index, column.texts[index]),
            **(taken.of(column, index) if taken is not None else {}),
        }


def _state(rare: Any, index: int, text: str | None) -> str | None:
    """``fixed``, else the state that the file gives it (such as ``fuzzy``), else ``untranslated`` where there is no text."""
    if rare.fixed.get(index):
        return "fixed"
    return rare.state.get(index) or ("untranslated" if text is None else None)


def _guessed(file: str) -> str | None:
    """The locale that the file's name or folder suggests: a guess, with which nothing is compared."""
    from lemmar.tags import looks_like_locale, read_spelling

    path = Path(file)
    folder = path.parent.name
    words = [path.stem, path.stem.rpartition(".")[2], path.stem.partition("_")[2], folder.removesuffix(".lproj")]
    words += [folder.partition("-")[2]] if folder.startswith("values-") else []
    for word in words:
        if word and looks_like_locale(word):
            tag = read_spelling(word, "auto") or read_spelling(word, "android")
            if tag is not None:
                return str(tag)
    return None


def _written(seen: list[Seen], form: str, target: Path | None) -> str:
    import json

    from lemmar.report.tables import FORMS, Table

    if form == "text":
        from lemmar.cli._drawing import render

        return render([part for found in seen for part in _draw(found)], target)
    if form == "jsonl":
        lines = [record for found in seen for record in (*_defects(found), *found.rows)]
        return "".join(json.dumps(_sound(line), ensure_ascii=False) + "\n" for line in lines)
    from lemmar.cli._patterns import COLUMNS

    more = COLUMNS if any(found.patterns for found in seen) else ()
    columns = (*_COLUMNS, *more, "defect", "message")
    records = [record for found in seen for record in (*_defects(found), *found.rows)]
    rows = [tuple(record.get(name) for name in columns) for record in map(_sound, records)]
    if form != "json":
        rows = [tuple(json.dumps(cell, ensure_ascii=False) if isinstance(cell, dict | list) else cell for cell in row) for row in rows]
    return FORMS[form](Table("read", columns, rows))


def _sound(record: dict[str, Any]) -> dict[str, Any]:
    r"""The record with what is no UTF-8 shown: bytes of a file's name as ``\xNN``, a lone surrogate as ``?``."""
    from lemmar.text import visible

    name = visible(record["file"]) if not record["file"].isprintable() else record["file"]
    held = {key: value for key, value in record.items() if key != "shape"}
    texts = {key: value.encode("utf-8", "replace").decode("utf-8") if isinstance(value, str) else value for key, value in held.items()}
    return {**texts, "file": name}


def _defects(found: Seen) -> Iterator[dict[str, Any]]:
    for defect in found.defects:
        yield {"file": found.file, "defect": defect.kind, "message": defect.detail, "line": defect.line, "column": defect.column}


def _draw(found: Seen) -> Iterable[Drawn]:
    from lemmar.cli._drawing import indented, joined, table

    number = len(found.rows)
    yield joined((found.file, "strong"), f"  {found.format or 'no known format'}, {number:,} entr{'y' if number == 1 else 'ies'}")
    for defect in found.defects:
        yield indented(joined((defect.kind, "error"), f"  {found.file}:{defect.line}:{defect.column}  {defect.detail}"), 2)
    several = len({row["locale"] for row in found.rows}) > 1
    if found.patterns is not None:
        from lemmar.cli._patterns import draw

        yield f"  taken apart as {found.patterns.evidence()}"
        yield ""
        yield from draw(found.rows, several)
    elif found.rows:
        columns = [("place", "right"), *([("locale", "left")] if several else []), ("key", "left"), ("text", "left"), ("comment", "left")]
        yield table(columns, [_cells(row, several) for row in found.rows])
    yield ""


def _cells(row: dict[str, Any], several: bool) -> list[Any]:
    from lemmar.cli._drawing import plain

    if row["forms"]:
        text: Any = plain(" | ".join(f"{name}: {form}" for name, form in row["forms"].items()))
    elif row["text"] is None:
        text = plain("(no text yet)", "faint")
    else:
        text = plain(row["text"]) if row["text"] else plain("(empty)", "faint")
    notes = [note for note in (row["comment"], f"at most {row['limit']}" if row["limit"] else None, row["state"]) if note]
    return [f"{row['line']}:{row['column']}", *([row["locale"]] if several else []), row["key"], text, "; ".join(notes)]
