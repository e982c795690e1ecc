"""``${name}``, ``${person.name}``, ``$name`` not: a sum of money is no placeholder. ``$${`` is text.

Source: POSIX parameter expansion and ECMAScript template literals, which agree in this. Argument names are ASCII.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import by_signs

SYNTAX = by_signs(
    "dollar-brace",
    expression(r"\$\$|\$\{\s*([A-Za-z_][A-Za-z0-9_.$-]*|[0-9]{1,9})\s*(?:[,|:][^{}]*)?\}"),
    lambda name: f"${{{name}}}",
    ("$", "{"),
    strictness=3,
    rank=3,
)
