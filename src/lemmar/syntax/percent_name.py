"""``%name%``: a name between two percent signs. A percentage (``50%-off``, ``100 % of``) and the octets of an address (``%D1%88``) are text.

No standard defines it; many programs replace such names themselves.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import by_signs

SYNTAX = by_signs(
    "percent-name",
    expression(r"%(?![0-9A-F]{2}%[0-9A-F]{2})([A-Za-z_][A-Za-z0-9_.-]*[A-Za-z0-9_])%(?![A-Za-z0-9]|\([A-Za-z])"),
    lambda name: f"%{name}%",
    ("%", "%"),
    strictness=5,
    rank=9,
    fewest=2,
)
