"""The rules: a list, or the manual of one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.report import Drawn, Table, View, drawn_table, joined, plain
from lemmar.rules import Rule
from lemmar.rules._examples import EXAMPLES


def view(rules: Sequence[Rule], manual: bool) -> View:
    """*rules*, each in a line; with *manual* the first of them is explained."""
    table = Table(
        "rules", ("rule", "severity", "summary", "manual"), [(rule.name, rule.severity, rule.summary, rule.manual) for rule in rules]
    )
    return View(table, lambda _page: _explained(rules[0]) if manual else _listed(rules))


def _listed(rules: Sequence[Rule]) -> Iterator[Drawn]:
    rows = [(rule.name, plain(rule.severity, rule.severity), rule.summary) for rule in rules]
    yield drawn_table([("rule", "left"), ("severity", "left"), ("what it reports", "left")], rows)


def _explained(rule: Rule) -> Iterator[Drawn]:
    yield joined((rule.name, "strong"), "  ", (rule.severity, rule.severity))
    yield plain(rule.summary)
    yield ""
    for paragraph in rule.manual.split("\n\n"):
        yield from (" ".join(paragraph.split()), "")
    for words, example in zip(("fails: ", "passes: "), EXAMPLES.get(rule.name, ()), strict=False):
        yield words + example.words()
    if rule.name in EXAMPLES:
        yield ""
    if not rule.is_mended:
        yield plain("'lemmar mend' leaves this to a person", "faint")
    if rule.hides:
        yield plain("hides " + ", ".join(dict.fromkeys(other for hides in rule.hides for other in hides.rules)), "faint")
