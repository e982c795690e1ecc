"""``%{name}``; ``%%{`` is text. A name may have dots and hyphens, and a format behind it as in ``%{price|money}`` or ``%<count>d``.

Source: Ruby's ``format`` (`Kernel#format`, references by name). Argument names are ASCII.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import by_signs

SYNTAX = by_signs(
    "percent-brace",
    expression(r"%%|%\{\s*([A-Za-z_][A-Za-z0-9_.-]*)\s*(?:[,|:][^{}]*)?\}|%<([A-Za-z_][A-Za-z0-9_]*)>[-+0-9.#]*[a-zA-Z]"),
    lambda name: f"%{{{name}}}",
    ("%", "{"),
    strictness=3,
    rank=2,
)
