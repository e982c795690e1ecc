"""Markdown: a table as it is written on code forges; a verdict as a comment on a merge request."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator
from itertools import groupby
from typing import Any

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import counted
from lemmar.basics.text import visible
from lemmar.findings import SEVERITIES, Finding, Outcome, Verdict
from lemmar.report._cells import flat
from lemmar.report._counting import counts, standing
from lemmar.report._drawing import Page
from lemmar.report._filtering import wanted
from lemmar.report._output import Filter, Output, View
from lemmar.report._shares import share
from lemmar.report._verdict import Entry, entries, others

#: A comment has at most so many characters; forges cut what is longer, or refuse it.
MOST = 60_000
#: What the last line needs, in which what is left out is counted.
_RESERVE = 4_000
#: The share of the page that the grid may take.
_GRID = MOST // 4
_OF_EACH = 3
_FOLDED = "\n</details>\n"
#: What has a meaning in Markdown, or makes a forge tell people or link things.
_ESCAPED = {sign: f"\\{sign}" for sign in "\\`*_[]<>|~$"} | {"&": "&amp;", "@": "&#64;", "#": "&#35;"}
_SIGNS = str.maketrans(_ESCAPED)


def table(view: View, _page: Page) -> Iterator[str]:
    """The rows, what has a meaning of its own in them escaped."""
    found = view.table
    yield _row(found.columns)
    yield f"| {' | '.join('---' for _ in found.columns)} |\n"
    for row in found.rows:
        yield _row(row)


def findings(verdict: Verdict, shown: Filter, _page: Page) -> Iterator[str]:
    """The verdict, the counts, the grid, the first findings of each rule, the rest folded: at most `MOST` characters, what is left out counted."""
    head = "".join(_head(verdict))
    room = MOST - _RESERVE - len(head)
    yield head
    numbers = Counter(_kind(finding) for finding in wanted(verdict, shown) if standing(finding) == finding.severity)
    found = entries(finding for finding in wanted(verdict, shown) if standing(finding) == finding.severity)
    left: dict[str, int] = {}
    for (rule, severity), those in groupby(found, lambda entry: _kind(entry.first)):
        title = f"\n### {severity}: {_text(rule)} ({numbers[rule, severity]:,})\n\n"
        room -= len(title)
        written, folded, rest = [], False, numbers[rule, severity]
        for number, entry in enumerate(those):
            piece = _entry(entry)
            fold = "\n<details><summary>more</summary>\n\n" if number >= _OF_EACH and not folded else ""
            if room < len(piece) + len(fold) + len(_FOLDED):
                break
            folded = folded or bool(fold)
            written.append(fold + piece)
            rest -= len(entry.findings)
            room -= len(fold) + len(piece)
        if written:
            yield title + "".join(written) + (_FOLDED if folded else "")
            room -= len(_FOLDED) * folded
        if rest:
            left[rule] = left.get(rule, 0) + rest
    if left:
        words = ", ".join(f"{number:,} of {_text(rule)}" for rule, number in left.items())
        yield f"\nLeft out for want of room: {counted(sum(left.values()), 'finding')}: {words}. `lemmar audit --all` shows every one.\n"


def _head(verdict: Verdict) -> Iterator[str]:
    found = counts(verdict.findings)
    words = [counted(found[name], name) for name in reversed(SEVERITIES)]
    words += [f"{found[name]:,} {name}" for name in ("waived", "known") if found[name]]
    alone = f" ({_text(', '.join(client.name for client in verdict.clients[:8]))} alone)" if verdict.alone else ""
    yield f"## Lemmar: {verdict.word}{alone}\n\n{', '.join(words)}"
    if verdict.since is not None:
        yield f"; {verdict.gone:,} gone since {_text(verdict.since)}"
    yield "\n"
    if verdict.assuming:
        yield f"\nassuming {verdict.assuming}\n"
    for words_of in verdict.not_checked[:20]:
        yield f"\n- not checked: {_text(words_of)}"
    if len(verdict.not_checked) > 20:
        yield f"\n- {len(verdict.not_checked) - 20:,} more could not be checked"
    yield "\n" if verdict.not_checked else ""
    whole = "".join(_grid(verdict, verdict.clients, verdict.locales))
    if len(whole) <= _GRID:
        yield whole
        return
    lacking = [client for client in verdict.clients if not all(answer.is_complete for answer in client.answers.values())]
    some = "".join(_grid(verdict, lacking, verdict.locales))
    complete = len(verdict.clients) - len(lacking)
    yield some if len(some) <= _GRID else f"\n{counted(len(lacking), 'client')} not complete in every locale\n"
    yield f"\n{counted(complete, 'client')} complete in every locale\n" if complete else ""


def _grid(verdict: Verdict, clients: tuple[Outcome, ...] | list[Outcome], locales: tuple[Any, ...]) -> Iterator[str]:
    yield "\n" + _row(("complete", *locales))
    yield f"| --- | {' | '.join('---:' for _ in locales)} |\n"
    for client in clients:
        yield _row((client.name, *(share(client, locale) for locale in locales)))


def _kind(finding: Finding) -> tuple[str, str]:
    return finding.rule, finding.severity


def _entry(entry: Entry) -> str:
    first = entry.first
    words = [
        f"- **{_text(_place(first))}**",
        *([f" ({_text(', '.join((*first.subject.clients, *first.owners)))})"] if first.subject.clients or first.owners else []),
    ]
    words += [f": {_text(first.message + others(entry))}"]
    words += [f". {_text(first.effect)}" if first.effect else "", f" → {_text(first.remedy)}\n"]
    return "".join(words)


def _place(finding: Finding) -> str:
    return "(no place)" if finding.place is None else f"{finding.place.file}:{finding.place.line}:{finding.place.column}"


def _row(cells: tuple[Any, ...]) -> str:
    return f"| {' | '.join(_text(cell) for cell in cells)} |\n"


def _text(cell: Any) -> str:
    """A cell that says nothing but itself: no format, no link, no mention of anybody."""
    cell = flat(cell, ", ")
    text = "" if cell is None else visible(str(cell)).translate(_SIGNS)
    if "://" in text or "www." in text.lower():
        text = _ADDRESS.sub(lambda match: match[0].replace(":", "&#58;").replace(".", "&#46;"), text)
    return text


_ADDRESS = expression(r"://|www\.", re.IGNORECASE)

OUTPUT = Output("markdown", table=table, findings=findings, streams=True)
