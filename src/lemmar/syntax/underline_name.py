"""``__name__``: a name between two pairs of low lines.

No standard defines it; many programs replace such names themselves. A single word in bold type, as light markup writes it, looks the same:
a catalog counts as one of this syntax where several of its texts have such names.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import by_signs

SYNTAX = by_signs(
    "underline-name",
    expression(r"(?<![A-Za-z0-9_])__([A-Za-z][A-Za-z0-9]*(?:_[A-Za-z0-9]+)*)__(?![A-Z0-9_])"),
    lambda name: f"__{name}__",
    ("_", "__"),
    strictness=5,
    rank=10,
    fewest=3,
)
