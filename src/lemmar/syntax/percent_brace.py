"""``%{name}``; ``%%{`` is text. A name may have dots and hyphens, and a format behind it as in ``%{price|money}`` or ``%<count>d``.

Source: Ruby's ``format`` (`Kernel#format`, references by name). Argument names are ASCII.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(r"%%|%\{\s*([A-Za-z_][A-Za-z0-9_.-]*)\s*(?:[,|:][^{}]*)?\}|%<([A-Za-z_][A-Za-z0-9_]*)>[-+0-9.#]*[a-zA-Z]")


def shape(text: str) -> Shape:
    """The names that *text* fills in. Signs that hold no name are text."""
    return shape_of(name for found in _PLACEHOLDER.findall(text) for name in found if name)


def _sure(text: str) -> bool:
    return "{" in text and bool(shape(text).arguments)


SYNTAX = Syntax(
    name="percent-brace",
    shape=shape,
    written=lambda name, _kind: f"%{{{name}}}",
    special="%",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=3,
    rank=2,
)
