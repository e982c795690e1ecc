"""``lemmar rules``: every rule, and the manual of one."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn


@click.command(short_help="List the rules, or explain one.")
@click.argument("name", required=False)
@_options.output(*_options.TABLES)
@_options.loudness
def command(name: str | None, form: str, target: Path | None) -> int:
    """List every rule with its severity; with NAME, explain that rule, or list those of a family."""
    from lemmar.charter.naming import nearest
    from lemmar.cli._drawing import joined, plain, render, table
    from lemmar.cli._writing import write
    from lemmar.errors import UsageError
    from lemmar.report.tables import FORMS, Table
    from lemmar.rules import all_rules
    from lemmar.rules._examples import EXAMPLES

    known = all_rules()
    wanted = [rule for rule in known.values() if name in (None, rule.name, rule.name.partition(".")[0])]
    if not wanted:
        raise UsageError(f"there is no rule {name!r}{nearest(name or '', known)}")
    if form != "text":
        rows = [(rule.name, rule.severity, rule.summary, rule.manual) for rule in wanted]
        write(FORMS[form](Table("rules", ("rule", "severity", "summary", "manual"), rows)), target)
    elif name in known:
        rule = known[name]
        parts: list[Drawn] = [
            joined((rule.name, "strong"), "  ", (rule.severity, rule.severity)),
            plain(rule.summary),
            "",
            *_paragraphs(rule.manual),
        ]
        for words, example in zip(("fails: ", "passes: "), EXAMPLES.get(rule.name, ()), strict=False):
            parts.append(words + example.words())
        if rule.name in EXAMPLES:
            parts.append("")
        if rule.hides:
            parts.append(plain("hides " + ", ".join(dict.fromkeys(other for hides in rule.hides for other in hides.rules)), "faint"))
        write(render(parts, target), target)
    else:
        drawn = [(rule.name, plain(rule.severity, rule.severity), rule.summary) for rule in wanted]
        write(render([table([("rule", "left"), ("severity", "left"), ("what it reports", "left")], drawn)], target), target)
    return Exit.CLEAR


def _paragraphs(manual: str) -> list[str]:
    return [part for paragraph in manual.split("\n\n") for part in (" ".join(paragraph.split()), "")]
