"""What changes to a monorepo would do: what they mean, each change as a unified diff, what is left for a person, what the audit says afterwards."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from lemmar.basics.phrasing import counted, listed
from lemmar.basics.text import visible
from lemmar.report import Drawn, Page, Table, View, indented, joined, plain
from lemmar.tags import Tag
from lemmar.work.changes import Change, Step, difference
from lemmar.work.enrolling import Moved
from lemmar.work.places import Outcome

_COLUMNS = (
    *("kind", "file", "line", "moved", "change", "diff", "client", "request", "before", "after", "messages", "words", "text"),
    *("locale", "id", "form", "fate"),
)
#: New files of so few lines are much alike; of them so many are shown.
_SMALL, _SMALL_SHOWN = 6, 12
#: So many lines of a file's diff are shown where not all are asked for.
_SHOWN = 14
#: A longer line, in lines of the window, is cut.
_LINES = 4
#: In a pipe a line counts so many columns.
_WIDEST = 200


class ChangesResult(NamedTuple):
    """What is shown: a title, sentences on what it means, how much there is to translate by client, whose users land elsewhere, the changes, the steps, and
    what the audit says; *everything* of each diff, or its beginning; *answers* are records of what became of each answer that came back.
    """

    title: str
    facts: Sequence[str]
    changes: Sequence[Change]
    steps: Sequence[Step] = ()
    outcome: Outcome | None = None
    moved: Sequence[Moved] = ()
    work: Iterable[tuple[str, int, int]] = ()
    everything: bool = False
    answers: Sequence[Mapping[str, Any]] = ()


def view(shown: ChangesResult) -> View:
    """The changes, as people see them and as records."""
    records = list(_records(shown))
    rows = [tuple(record.get(column) for column in _COLUMNS) for record in records]
    return View(Table("changes", _COLUMNS, rows), lambda page: _drawn(shown, page), records)


def _records(shown: ChangesResult) -> Iterator[Mapping[str, Any]]:
    for client, messages, words in shown.work:
        yield {"kind": "work", "client": client, "messages": messages, "words": words}
    for each in shown.moved:
        yield {"kind": "landing", "client": each.client, "request": each.request, "before": each.before, "after": each.after}
    yield from shown.answers
    for change in shown.changes:
        yield {"kind": "file", "file": change.file, "moved": change.moved, "change": _what(change), "diff": "\n".join(difference(change))}
    for step in shown.steps:
        yield {"kind": "step", "file": step.file, "line": step.line, "text": step.words}
    if shown.outcome is not None:
        yield {"kind": "audit", "text": shown.outcome.verdict.word}


def _what(change: Change) -> str:
    if change.before is None:
        return "new"
    return "gone" if change.after is None else "moved" if change.moved is not None else "changed"


def _drawn(shown: ChangesResult, page: Page) -> Iterator[Drawn]:
    yield plain(shown.title, "strong")
    for words in shown.facts:
        yield indented(words, 2)
    if shown.moved:
        yield ""
        yield plain("users who will get another locale:", "strong")
        for words in landings(shown.moved):
            yield indented(words, 2)
    if shown.answers:  # what is wrong with them is what matters; the rest went well
        yield from _steps(shown.steps)
    yield from _changes(shown, page)
    if not shown.answers:
        yield from _steps(shown.steps)
    if shown.outcome is not None:
        yield ""
        yield from _said(shown.outcome)


def _changes(shown: ChangesResult, page: Page) -> Iterator[Drawn]:
    small = [change for change in shown.changes if change.before is None and len(difference(change)) <= _SMALL]
    passed = set() if shown.everything else {change.file for change in small[_SMALL_SHOWN:]}
    for change in shown.changes:
        if change.file not in passed:
            yield ""
            yield from _difference(change, page, shown.everything)
    if passed:
        yield ""
        yield plain(f"({counted(len(passed), 'more new file')} without texts, the last {small[-1].file}; --all shows them)", "faint")


def _steps(steps: Sequence[Step]) -> Iterator[Drawn]:
    if steps:
        yield ""
        yield plain("left for a person:", "strong")
        for number, step in enumerate(steps, start=1):
            if step.place:
                yield joined(f"{number:>3}. ", (step.place, "underline"))
                yield indented(step.words, 5)
            else:
                yield joined(f"{number:>3}. ", step.words)


def landings(moved: Sequence[Moved]) -> Iterator[str]:
    """One sentence for each request and how its landing changes, with the clients."""
    every = len({each.client for each in moved})
    groups: dict[tuple[str, Tag, Tag], list[str]] = {}
    for each in moved:
        groups.setdefault((each.request, each.before, each.after), []).append(each.client)
    for (request, before, after), clients in groups.items():
        where = f"in all {every} clients that change" if len(clients) == every > 1 else f"in {', '.join(clients)}"
        change = f"still {after}" if before == after else f"{after} instead of {before}"
        yield f"{request}: {change} {where}"


def _difference(change: Change, page: Page, everything: bool) -> Iterator[Drawn]:
    found = difference(change)
    yield plain(found[0], "strong")
    yield plain(found[1], "strong")
    body = found[2:]
    shown = body if everything or len(body) <= _SHOWN + 2 else body[:_SHOWN]
    for line in shown:
        style = "added" if line.startswith("+") else "removed" if line.startswith("-") else "note" if line.startswith("@@") else ""
        text = visible(line.replace("\t", " "))
        most = _LINES * min(page.width, _WIDEST)
        yield plain(text if everything or len(text) < most else f"{text[: most - 2]}…", style)
    if len(shown) < len(body):
        yield plain(f"({counted(len(body) - len(shown), 'more line')}; --all shows them)", "faint")


def _said(outcome: Outcome) -> Iterator[Drawn]:
    verdict = outcome.verdict
    words = []
    if outcome.purpose:
        locales = dict.fromkeys(finding.subject.locale for finding in outcome.purpose)
        words.append(f"{counted(len(outcome.purpose), 'finding')} on texts of {listed(locales)} that are not written yet")
    if outcome.new:
        words.append(f"{counted(len(outcome.new), 'new finding')} (above)")
    if outcome.gone:
        words.append(f"{counted(outcome.gone, 'finding')} fewer than before")
    yield plain(f"after these changes the audit says {verdict.word}{', with ' if words else ''}{', '.join(words)}")


def mended_facts(counts: Mapping[str, tuple[int, int]]) -> list[str]:
    """How many findings of each rule there were, and how many are left."""
    return [f"{rule}: {before:,}, then {after:,}" for rule, (before, after) in counts.items() if before or after]
