"""Placeholders in a form that no known syntax has: seen in the source's texts, as an expression that a charter can hold."""

from __future__ import annotations

import re
from collections.abc import Iterable

from lemmar.survey.draft import DraftSyntax
from lemmar.syntax import seen_syntax

#: Names, and the expressions that find placeholders: each is a sign on both sides of a word, or a number in signs.
_FORMS = {
    "hash": r"#(?P<name>[A-Za-z_][A-Za-z0-9_]*)#",
    "dollar-word": r"\$(?P<name>[A-Za-z_][A-Za-z0-9_]*)\$",
    "at-word": r"@(?P<name>[A-Za-z_][A-Za-z0-9_]*)@",
    "caret": r"\^(?P<name>[A-Za-z0-9_]+)\^",
    "angle-number": r"<(?P<name>[0-9]+)>",
    "bracket": r"\[(?P<name>[a-z_][A-Za-z0-9_]*)\]",
    "double-bracket": r"\[\[(?P<name>[A-Za-z_][A-Za-z0-9_.]*)\]\]",
    "dollar-number": r"\$(?P<name>[0-9])(?![0-9.,])",
    "backslash-number": r"\\(?P<name>[0-9])",
}
#: In at least so many texts, and more than any known syntax is seen in.
_FEWEST = 3


def unknown_form(texts: Iterable[str]) -> DraftSyntax | None:
    """The form that most placeholders of a source's *texts* have, if no known syntax has it."""
    held = list(texts)
    known = seen_syntax(held)
    best: DraftSyntax | None = None
    most = max(_FEWEST - 1, known.texts)
    for name, expression in _FORMS.items():
        form = re.compile(expression)
        having = [text for text in held if form.search(text) and not _is_markup(name, text)]
        if len(having) > most and (
            name != "bracket" or len({match["name"] for text in having for match in form.finditer(text)}) < len(having)
        ):
            most = len(having)
            best = DraftSyntax(name, expression, tuple(sorted(having, key=len)[:2]))
    return best


def _is_markup(name: str, text: str) -> bool:
    """Whether numbers in angle brackets are elements that are closed again, which the markup is compared by."""
    return name == "angle-number" and bool(re.search(r"</[0-9]+>", text))
