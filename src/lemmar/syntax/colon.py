"""``:name``: a colon and a name, in the case in which the value is to be shown (``:Name``, ``:NAME``). Times and addresses are text, and so is a role of
reStructuredText (``:bug:`` before a backtick).

Source: named parameters of ISO SQL, as PHP's libraries use them in texts. Argument names are ASCII; case does not tell two apart.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(r"(?<![A-Za-z0-9_:/.]):([A-Za-z][A-Za-z0-9_]*+)(?!:(?:[A-Za-z0-9_/]| ?`))")


def shape(text: str) -> Shape:
    """The names that *text* fills in, in small letters."""
    return shape_of(name.lower() for name in _PLACEHOLDER.findall(text))


def _sure(text: str) -> bool:
    return ":" in text and bool(shape(text).arguments)


SYNTAX = Syntax(
    name="colon",
    shape=shape,
    written=lambda name, _kind: f":{name}",
    special=":",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=5,
    rank=8,
)
