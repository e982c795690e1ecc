"""``:name``: a colon and a name, in the case in which the value is to be shown (``:Name``, ``:NAME``). Times and addresses are text, and so is a role of
reStructuredText (``:bug:`` before a backtick).

Source: named parameters of ISO SQL, as PHP's libraries use them in texts. Argument names are ASCII; case does not tell two apart.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import by_signs

SYNTAX = by_signs(
    "colon",
    expression(r"(?<![A-Za-z0-9_:/.]):([A-Za-z][A-Za-z0-9_]*+)(?!:(?:[A-Za-z0-9_/]| ?`))"),
    lambda name: f":{name}",
    (":", ":"),
    strictness=5,
    rank=8,
    folds=True,
)
