"""Doubled braces: ``{{name}}``, ``{{ person.name }}``, ``{{count, number}}``, ``{{name | upper}}``.

Blanks inside count for nothing; what follows a comma or a bar says how the value is shown. Argument names are ASCII.
"""

from __future__ import annotations

import re

from lemmar.model import Shape, Syntax

_PLACEHOLDER = re.compile(r"\{\{-?\s*+([A-Za-z_$@][A-Za-z0-9_.$@-]*|[0-9]{1,9})\s*+(?:[,|][^{}]*)?\}\}")


def shape(text: str) -> Shape:
    """The names that *text* fills in. Braces that hold no name are text."""
    found = set(_PLACEHOLDER.findall(text))
    return Shape(tuple((name, "") for name in sorted(found)))


SYNTAX = Syntax("double-brace", 1, "{", shape, _PLACEHOLDER)
