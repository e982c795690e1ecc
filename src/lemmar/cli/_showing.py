"""What commands share around their work: where they run, the names that they are given, and showing a result."""

from __future__ import annotations

import os
import shutil
import sys
from collections.abc import Iterable
from pathlib import Path

from lemmar import report
from lemmar.basics.errors import TreeError, UsageError
from lemmar.basics.phrasing import nearest
from lemmar.cli._writing import write
from lemmar.findings import Verdict
from lemmar.report import Filter, Page, View


def here() -> Path:
    """The current folder. Raises `TreeError` where it is gone."""
    try:
        return Path.cwd()
    except OSError as error:
        raise TreeError("the current folder is not there any more; go to another one") from error


def check_known(what: str, named: Iterable[str], known: Iterable[str]) -> None:
    """Refuses the first of the *named* that is not *known*. Raises `UsageError`, which says *what* it should be."""
    among = list(known)
    for name in named:
        if name not in among:
            raise UsageError(f"there is no {what} {name!r}{nearest(name, among)}")


#: The width of a page on which nothing wraps.
_ENDLESS = 1_000_000


def page_for(target: Path | None) -> Page:
    """The page that a result is drawn on: colour on a terminal, unless NO_COLOR, or where FORCE_COLOR is set; as wide as the window.

    In a pipe or a file nothing wraps, unless COLUMNS says how wide it is.
    """
    terminal = target is None and sys.stdout.isatty()
    colour = bool(os.environ.get("FORCE_COLOR")) or (terminal and os.environ.get("TERM") != "dumb")
    wide = os.environ.get("COLUMNS", "").isdigit() or sys.stdout.isatty()
    width = max(40, shutil.get_terminal_size((Page().width, 40)).columns) if wide else _ENDLESS
    return Page(colour and not os.environ.get("NO_COLOR"), width)


def show(view: View, form: str, target: Path | None) -> None:
    """Writes a table in the output *form*."""
    output = report.load(form)
    assert output.table is not None
    pieces = output.table(view, page_for(target))
    write(pieces if output.streams else ["".join(pieces)], target)


def as_text(view: View) -> str:
    """A table as people see it, without colours."""
    table = report.load("text").table
    assert table is not None
    return "".join(table(view, Page()))


def show_findings(verdict: Verdict, shown: Filter, form: str, target: Path | None) -> None:
    """Writes a verdict in the output *form*."""
    output = report.load(form)
    assert output.findings is not None
    pieces = output.findings(verdict, shown, page_for(target))
    write(pieces if output.streams else ["".join(pieces)], target)
