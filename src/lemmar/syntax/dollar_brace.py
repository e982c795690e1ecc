"""``${name}``, ``${person.name}``, ``$name`` not: a sum of money is no placeholder. ``$${`` is text.

Source: POSIX parameter expansion and ECMAScript template literals, which agree in this. Argument names are ASCII.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(r"\$\$|\$\{\s*([A-Za-z_][A-Za-z0-9_.$-]*|[0-9]{1,9})\s*(?:[,|:][^{}]*)?\}")


def shape(text: str) -> Shape:
    """The names that *text* fills in. Signs that hold no name are text."""
    return shape_of(name for name in _PLACEHOLDER.findall(text) if name)


def _sure(text: str) -> bool:
    return "{" in text and bool(shape(text).arguments)


SYNTAX = Syntax(
    name="dollar-brace",
    shape=shape,
    written=lambda name, _kind: f"${{{name}}}",
    special="$",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=3,
    rank=3,
)
