"""Draws results in a terminal: colour only there, never the only signal; as wide as the window; hostile text made visible."""

from __future__ import annotations

import io
import os
import shutil
import sys
from collections.abc import Iterable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from lemmar.text import visible

if TYPE_CHECKING:
    from rich.console import RenderableType
    from rich.text import Text

#: Where the output is no terminal and nothing says how wide it is.
_WIDTH = 100
STYLES = {
    "error": "bold red",
    "warning": "yellow",
    "note": "cyan",
    "clear": "bold green",
    "hold": "bold red",
    "faint": "dim",
    "strong": "bold",
}


def colourful(target: Path | None) -> bool:
    """Whether the output may have colour: a terminal, unless NO_COLOR; anything, where FORCE_COLOR is set."""
    if os.environ.get("NO_COLOR"):
        return False
    return bool(os.environ.get("FORCE_COLOR")) or (target is None and sys.stdout.isatty() and os.environ.get("TERM") != "dumb")


def width() -> int:
    """How many columns there are to fill."""
    if os.environ.get("COLUMNS", "").isdigit() or sys.stdout.isatty():
        return max(40, shutil.get_terminal_size((_WIDTH, 40)).columns)
    return _WIDTH


def render(parts: Iterable[RenderableType], target: Path | None) -> str:
    """*parts* one below the other, as text."""
    from rich.console import Console

    out = io.StringIO()
    colour = colourful(target)
    plain_text = {"highlight": False, "markup": False, "emoji": False, "legacy_windows": False}
    system: Any = "standard" if colour else None
    console = Console(file=out, width=width(), force_terminal=colour, color_system=system, no_color=not colour, **plain_text)  # type: ignore[arg-type]
    for part in parts:
        console.print(part, soft_wrap=False)
    return "\n".join(line.rstrip() for line in out.getvalue().split("\n"))


def plain(text: Any, style: str = "") -> Text:
    """One line of text that says what it is, whatever is in it."""
    from rich.text import Text

    return Text(visible(str(text)), STYLES.get(style, style))


def joined(*pieces: tuple[str, str] | str) -> Text:
    """Pieces on one line, each with a style or without."""
    from rich.text import Text

    line = Text()
    for piece in pieces:
        words, style = (piece, "") if isinstance(piece, str) else piece
        line.append(visible(words), STYLES.get(style, style))
    return line


def indented(text: Any, by: int) -> RenderableType:
    """*text* with a margin on its left, also where it wraps."""
    from rich.padding import Padding

    return Padding(text if not isinstance(text, str) else plain(text), (0, 0, 0, by))


def table(columns: Sequence[tuple[str, str]], rows: Iterable[Sequence[Any]]) -> RenderableType:
    """A table; each column has a title and ``left`` or ``right``. Cells are texts, numbers, None, or drawn already."""
    from rich import box
    from rich.table import Table

    drawn = Table(box=box.SIMPLE_HEAD, pad_edge=False, show_edge=False, header_style="bold", padding=(0, 2, 0, 0))
    for title, side in columns:
        drawn.add_column(title, justify="right" if side == "right" else "left", overflow="fold")
    for row in rows:
        drawn.add_row(
            *[cell if not isinstance(cell, (str, int, float, type(None))) else plain("" if cell is None else cell) for cell in row]
        )
    return drawn
