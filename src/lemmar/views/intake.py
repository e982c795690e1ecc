"""What became of the answers that came back: a line a file, and a step for each reason for which one was not taken."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from lemmar.basics.phrasing import clipped, counted
from lemmar.basics.text import visible
from lemmar.handoff.answers import FATES, Fate, File, Row, counts
from lemmar.trees import File as Path
from lemmar.work.changes import Step

_SAID: Mapping[Fate, str] = {
    "taken": "taken",
    "there": "there already",
    "same": "said twice",
    "open": "left open",
    "held": "not taken",
    "disagree": "in question",
    "unknown": "to no text of today",
    "waiting": "waiting for a file",
}


def facts(files: Sequence[File], rows: Sequence[Row], places: int) -> Iterator[str]:
    """For each file what became of its rows, all of which are counted; and into how many places the taken ones go."""
    for file in files:
        found = counts(row for row in rows if row.file is file)
        said = ", ".join(f"{found[fate]:,} {_SAID[fate]}" for fate in FATES if found[fate])
        yield f"{file.name} ({file.locale}): {counted(len(file.answers), 'row')}" + (f": {said}" if said else "")
        yield from (f"{file.name}: {words}" for words in file.faults)
    taken = {(row.file.locale, row.text.id) for row in rows if row.fate == "taken" and row.text is not None}
    if taken:
        yield f"{counted(len(taken), 'text')} {'goes' if len(taken) == 1 else 'go'} to {counted(places, 'place')}"


#: So many rows of one reason are told one by one.
_TOLD = 3


def steps(rows: Sequence[Row]) -> list[Step]:
    """What is not taken, the rows of one reason together."""
    groups: dict[str, list[Row]] = {}
    for row in rows:
        if row.fate in ("held", "disagree", "unknown", "waiting"):
            groups.setdefault(row.reason, []).append(row)
    found = []
    for reason, those in groups.items():
        for row in those[:_TOLD]:
            words = f"{_SAID[row.fate]}: {clipped(visible(row.answer.text))!r}: {reason}"
            found.append(Step(words, Path(row.file.name), row.answer.line))
        if len(those) > _TOLD:
            found.append(Step(f"{counted(len(those) - _TOLD, 'more row')} for the same reason: {reason}", Path(those[0].file.name)))
    return found


def records(rows: Sequence[Row]) -> Iterator[Mapping[str, Any]]:
    """Each row as a record."""
    for row in rows:
        yield {
            "kind": "answer",
            "file": row.file.name,
            "line": row.answer.line,
            "locale": row.file.locale,
            "id": row.text.id if row.text is not None else row.answer.id or None,
            "form": row.form or None,
            "fate": row.fate,
            "text": row.reason or None,
        }
