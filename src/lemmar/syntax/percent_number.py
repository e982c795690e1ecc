"""``%1``, ``%L2``, ``%n``: numbered places, and the number that a text's forms go by. A sum such as ``100 %`` is text.

Source: the argument markers of the ``ts-xml`` format's own runtime. Two digits at most; what follows a number is text (``%1ms``), and
``%n`` ends where a word does.
"""

from __future__ import annotations

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = expression(r"%L?([1-9][0-9]?(?![0-9]*\$)|n(?![A-Za-z]))")


def shape(text: str) -> Shape:
    """The numbers that *text* fills in."""
    return shape_of(_PLACEHOLDER.findall(text))


SYNTAX = Syntax(name="percent-number", shape=shape, written=lambda name, _kind: f"%{name}", special="%", placeholder=_PLACEHOLDER)
