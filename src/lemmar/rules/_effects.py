"""The words of rules for what users see."""

from __future__ import annotations

from lemmar.basics.phrasing import clipped
from lemmar.resolve.world import Absence


def seen(absence: Absence, source_text: str | None) -> str:
    """What a user sees instead of a text that is not there."""
    if absence.origin == "foreign":
        shown = f": {clipped(source_text)!r}" if source_text else ""
        return f"users see the {absence.source!r} text{shown}"
    return {
        "key": "users see the raw key",
        "blank": "users see nothing there",
        "error": "the program fails or shows an error there",
    }.get(absence.origin, "users see another text")
