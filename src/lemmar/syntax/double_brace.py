"""Doubled braces: ``{{name}}``, ``{{ person.name }}``, ``{{count, number}}``, ``{{name | upper}}``.

Blanks inside count for nothing; what follows a comma or a bar says how the value is shown. ``$t(key)`` refers to another message. Argument names are ASCII.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(
    r"\{\{-?\s*+([A-Za-z_$@][A-Za-z0-9_.$@-]*|[0-9]{1,9})\s*+(?:[,|][^{}]*)?\}\}|\$t\(\s*+([^(){},\s][^(){},]{0,200})(?:,[^()]*)?\)"
)


def shape(text: str) -> Shape:
    """The names that *text* fills in. Braces that hold no name are text."""
    return shape_of(name or f"$t({key.strip()})" for name, key in _PLACEHOLDER.findall(text))


def _sure(text: str) -> bool:
    return "{" in text and bool(shape(text).arguments)


# `{{name}}` also holds `{name}`: of two that fit equally well this is the one.
SYNTAX = Syntax(
    name="double-brace",
    shape=shape,
    written=lambda name, _kind: name if name[0] == "$" else f"{{{{{name}}}}}",
    special="{$",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=3,
    rank=1,
)
