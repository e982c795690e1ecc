"""``%name%``: a name between two percent signs. A percentage (``50%-off``, ``100 % of``) and the octets of an address (``%D1%88``) are text.

No standard defines it; many programs replace such names themselves.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(r"%(?![0-9A-F]{2}%[0-9A-F]{2})([A-Za-z_][A-Za-z0-9_.-]*[A-Za-z0-9_])%(?![A-Za-z0-9]|\([A-Za-z])")


def shape(text: str) -> Shape:
    """The names that *text* fills in."""
    return shape_of(_PLACEHOLDER.findall(text))


def _sure(text: str) -> bool:
    return "%" in text and _PLACEHOLDER.search(text) is not None


SYNTAX = Syntax(
    name="percent-name",
    shape=shape,
    written=lambda name, _kind: f"%{name}%",
    special="%",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=5,
    rank=9,
    fewest=2,
)
