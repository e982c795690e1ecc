"""``lemmar read``: what Lemmar makes of any one catalog file."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show how Lemmar reads any catalog file.")
@click.argument("files", nargs=-1, metavar="FILE...")
@click.option("--formats", "list_formats", is_flag=True, help="List the formats and what is read of each, and exit.")
@click.option("--as", "forced", metavar="FORMAT", help="Read the files in this format, whatever their names.")
@click.option("--layout", metavar="NAME", help="How locales are laid out in the files; default: the format's first layout.")
@click.option(
    "--fields", metavar="NAME=FIELD,…", help="Read lists of records: their fields 'key', 'text', and 'locale' or 'list' (a pointer)."
)
@click.option("--locale", "locales", multiple=True, metavar="TAG", help="Only this locale, in files with several.")
@click.option("--key", "pattern", metavar="GLOB", help="Only keys that match.")
@click.option("--patterns", "apart", is_flag=True, help="Analyse each text: its placeholders, branches, markup, and where it is broken.")
@click.option("--syntax", metavar="NAME", help="The syntax of the texts, for --patterns; default: as recognised.")
@_options.output_of_tables
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
    """Show what a program would load from each FILE, and what is wrong with it; if FILE is a folder, for every catalog in it.
    No charter is needed.

    Exits 0 if every file is whole, 1 if one has a defect, 3 if one could not be checked completely.
    """
    from lemmar import formats
    from lemmar import syntax as syntaxes
    from lemmar.cli._showing import check_known, show
    from lemmar.cli._writing import remark
    from lemmar.inventory.files import How, catalogs_in, check_locales, read_file
    from lemmar.views import read as views

    check_known("format", (forced,) if forced is not None else (), formats.names())
    check_known("syntax", (syntax,) if syntax is not None else (), syntaxes.names())
    if list_formats:
        show(views.view_formats(), form, target)
        return Exit.CLEAR
    if not all(files) or not files:
        raise UsageError("no file was named; name one or more, or ask for --formats")
    how = How(forced, "records" if fields else layout, _fields(fields), locales, pattern, apart or syntax is not None, syntax)
    folders = [catalogs_in(named) for named in files]
    seen = [read_file(file, how) for folder in folders for file in folder.files]
    check_locales(locales, seen)
    show(views.view(seen, [folder.passed for folder in folders]), form, target)
    unread = [words for folder in folders for words in folder.unread]
    for words in unread:
        remark(f"not checked: {words}")
    if unread or not all(found.complete for found in seen):
        return Exit.INCOMPLETE
    return Exit.HOLD if any(found.defects for found in seen) else Exit.CLEAR


def _fields(text: str | None) -> dict[str, str]:

    fields = {}
    for piece in (text or "").split(",") if text else ():
        name, equals, value = piece.strip().partition("=")
        if name not in ("key", "text", "locale", "list") or not equals or not value:
            raise UsageError(f"{piece!r} names no field; write such as --fields key=id,text=text,list=/entries")
        fields[name] = value
    return fields
