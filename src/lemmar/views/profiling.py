"""Where an audit's time went."""

from __future__ import annotations

from lemmar.basics.profiling import Spent
from lemmar.report import Table, View, drawn_table

_PHASES = {
    "begin": "begin and end",
    "remember": "look whether anything changed",
    "cache": "keep and fetch what is kept",
    "find": "find and open files",
    "read": "read files",
    "shapes": "take texts apart",
    "resolve": "resolve clients",
    "rules": "rules",
    "uncharted": "look for what no client has",
    "conclude": "conclude, look up places",
    "show": "show",
}


def view(spent: Spent) -> View:
    """The time of each phase, the longest of its parts first."""
    whole = sum(seconds for seconds, _ in spent.values()) or 1.0
    rows = []
    for phase, words in _PHASES.items():
        parts = sorted(((name, *spent[phase_of, name]) for phase_of, name in spent if phase_of == phase), key=lambda part: -part[1])
        for number, (name, seconds, times) in enumerate(parts):
            rows.append((words if not number else "", name, f"{seconds:.3f}", f"{seconds / whole:.0%}", f"{times:,}"))
    heads = [("phase", "left"), ("of", "left"), ("seconds", "right"), ("share", "right"), ("times", "right")]
    return View(Table("timing", tuple(name for name, _ in heads), rows), lambda _page: [drawn_table(heads, rows)])
