"""``__name__``: a name between two pairs of low lines.

No standard defines it; many programs replace such names themselves. A single word in bold type, as light markup writes it, looks the same:
a catalog counts as one of this syntax where several of its texts have such names.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(r"(?<![A-Za-z0-9_])__([A-Za-z][A-Za-z0-9]*(?:_[A-Za-z0-9]+)*)__(?![A-Z0-9_])")


def shape(text: str) -> Shape:
    """The names that *text* fills in."""
    return shape_of(_PLACEHOLDER.findall(text))


def _sure(text: str) -> bool:
    return "__" in text and _PLACEHOLDER.search(text) is not None


SYNTAX = Syntax(
    name="underline-name",
    shape=shape,
    written=lambda name, _kind: f"__{name}__",
    special="_",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=5,
    rank=10,
    fewest=3,
)
