"""Draws squares: rows, columns, and in each cell a few letters on a colour that only supports what they say."""

from __future__ import annotations

import io
import warnings
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, NamedTuple

from lemmar.basics.errors import UsageError
from lemmar.basics.text import visible

#: The background and the letters of each shade, which people who see few colours tell apart: from much red to much blue, by lightness as well.
_SHADES: Mapping[str, tuple[str, str]] = {
    "0": ("#7d2a1c", "#ffffff"),
    "1": ("#a9482f", "#ffffff"),
    "2": ("#cf7b52", "#1d2327"),
    "3": ("#e8b98d", "#1d2327"),
    "4": ("#f1dcc0", "#1d2327"),
    "5": ("#e6ecec", "#1d2327"),
    "6": ("#bcd7e2", "#1d2327"),
    "7": ("#7fb2cb", "#1d2327"),
    "none": ("#ffffff", "#59636b"),
}
_FORMS = (".svg", ".png")
#: Inches.
_HIGH, _LETTER, _MARGIN = 0.29, 0.085, 0.25
_SIZE = 9.0
_DOTS = 110


class Cell(NamedTuple):
    """What stands in a cell, and its shade: ``0`` to ``7``, or ``none``."""

    text: str
    shade: str = "none"


_INK = "#1d2327"


class Squares(NamedTuple):
    """A figure: its title, what stands on the left and above, the cells row by row, and a line below."""

    title: str
    rows: Sequence[str]
    columns: Sequence[str]
    cells: Sequence[Sequence[Cell]]
    legend: str


def is_figure(target: Path | None) -> bool:
    """Whether a figure is asked for, by the name of the file that is to be written."""
    return target is not None and target.suffix.lower() in _FORMS


def picture(squares: Squares, suffix: str) -> bytes:
    """The figure in the form of the *suffix*, ``.svg`` or ``.png``; the same each time.

    Raises:
        UsageError: the library that draws is not installed.
    """
    try:
        import matplotlib
    except ImportError as error:
        raise UsageError("a figure needs a library that is not installed; pip install 'lemmar[figures]'") from error
    settings: dict[Any, Any] = {"svg.hashsalt": "lemmar", "svg.fonttype": "none", "font.family": "sans-serif", "font.size": _SIZE}
    with matplotlib.rc_context(settings), warnings.catch_warnings():
        warnings.simplefilter("ignore")  # a letter that no font has is drawn as a box
        out = io.BytesIO()
        form = suffix.lower().removeprefix(".")
        nothing = {"Date": None, "Creator": "Lemmar"} if form == "svg" else {"Software": "Lemmar"}
        _drawn(squares).savefig(out, format=form, dpi=_DOTS, metadata=nothing)
    return out.getvalue()


def _drawn(squares: Squares) -> Any:
    from matplotlib.figure import Figure
    from matplotlib.patches import Rectangle

    left = max((len(visible(name)) for name in squares.rows), default=1) * _LETTER + _MARGIN
    widths = [
        max(len(visible(name)), *(len(row[number].text) for row in squares.cells), 3) * _LETTER + 0.2
        for number, name in enumerate(squares.columns)
    ]
    width = max(left + sum(widths) + _MARGIN, len(squares.title) * _LETTER * 1.5 + _MARGIN, len(squares.legend) * _LETTER * 0.8 + _MARGIN)
    height = _HIGH * (len(squares.rows) + 3.6)
    figure = Figure(figsize=(width, height), facecolor="white")
    axes = figure.add_axes((0, 0, 1, 1))
    axes.set_xlim(0, width)
    axes.set_ylim(height, 0)
    axes.axis("off")

    def write(x: float, y: float, text: str, **how: Any) -> None:
        settings: dict[str, Any] = {"va": "center", "color": _INK, "parse_math": False}
        axes.text(x, y, text, **(settings | how))

    write(_MARGIN / 2, _HIGH * 0.8, squares.title, fontsize=_SIZE + 4, fontweight="bold")
    starts = [left + sum(widths[:number]) for number in range(len(widths))]
    for start, across, name in zip(starts, widths, squares.columns, strict=True):
        write(start + across / 2, _HIGH * 1.9, visible(name), ha="center", fontweight="bold")
    for number, (name, cells) in enumerate(zip(squares.rows, squares.cells, strict=True)):
        top = _HIGH * (2.4 + number)
        write(left - 0.1, top + _HIGH / 2, visible(name), ha="right")
        for start, across, cell in zip(starts, widths, cells, strict=True):
            ground, letters = _SHADES[cell.shade]
            axes.add_patch(Rectangle((start, top), across, _HIGH, facecolor=ground, edgecolor="white", linewidth=1.2))
            write(start + across / 2, top + _HIGH / 2, visible(cell.text), ha="center", color=letters)
    write(_MARGIN / 2, height - _HIGH * 0.55, squares.legend, fontsize=_SIZE - 1, color="#59636b")
    return figure
