"""What a brief asks for: texts, words and characters, by locale, reason and client."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import NamedTuple

from lemmar.basics.phrasing import counted
from lemmar.handoff.brief import Brief, Count, counts
from lemmar.handoff.needs import REASONS
from lemmar.report import Drawn, Table, View, drawn_table, indented, plain
from lemmar.tags import Tag


class BriefResult(NamedTuple):
    """The briefs; the files that were written, each with what it holds; sentences on what could not be known."""

    made: Sequence[Brief]
    files: Sequence[str] = ()
    remarks: Sequence[str] = ()


def view(shown: BriefResult) -> View:
    """The counts as a table, and the files."""
    rows = counts(shown.made)
    table = Table("brief", Count._fields, [tuple(row._replace(reason=REASONS[row.reason])) for row in rows])
    return View(table, lambda _page: _drawn(shown, rows))


def _drawn(shown: BriefResult, rows: Sequence[Count]) -> Iterator[Drawn]:
    if not rows:
        yield "there is nothing to translate"
    else:
        heads = [("locale", "left"), ("client", "left"), *((name, "right") for name in REASONS.values())]
        heads += [("texts", "right"), ("words", "right"), ("characters", "right")]
        yield drawn_table(heads, list(_lines(rows)))
        yield ""
        yield plain("A text that several clients need is counted once, at the first of them.", "faint")
    for words in shown.remarks:
        yield ""
        yield indented(words, 0)
    if shown.files:
        yield ""
        yield from shown.files


def _lines(rows: Sequence[Count]) -> Iterator[list[Drawn]]:
    for locale in dict.fromkeys(row.locale for row in rows):
        those = [row for row in rows if row.locale == locale]
        clients = list(dict.fromkeys(row.client for row in those))
        for client in clients:
            yield _line(locale, client, [row for row in those if row.client == client])
        if len(clients) > 1:
            yield [plain(cell, "strong") if isinstance(cell, str) else cell for cell in _line(locale, "all", those)]


def _line(locale: Tag, client: str, rows: Sequence[Count]) -> list[Drawn]:
    numbers = [sum(row.texts for row in rows if row.reason == reason) for reason in REASONS]
    sums = [sum(row.texts for row in rows), sum(row.words for row in rows), sum(row.characters for row in rows)]
    return [locale, client, *(f"{number:,}" if number else "–" for number in numbers), *(f"{number:,}" for number in sums)]


def in_words(brief: Brief) -> str:
    """``38 texts``."""
    return counted(len(brief.asks), "text")
