"""Braces: ``{name}``, ``{0}``, ``{0:N2}``, ``{name!r:>8}``; ``{{`` and ``}}`` stand for one brace each.

Source: Python's format strings and .NET's composite formatting, which agree in this. Argument names are ASCII.
"""

from __future__ import annotations

import re

from lemmar.model import Shape, Syntax

_PLACEHOLDER = re.compile(
    r"\{\{|\}\}|\{([A-Za-z_][A-Za-z0-9_]*(?:[.][A-Za-z0-9_]+|\[[A-Za-z0-9_]+\])*|[0-9]{1,9})(?:,\s*-?[0-9]+)?(?:![rsa])?(?::[^{}]*)?\}"
)


def shape(text: str) -> Shape:
    """The names and positions that *text* fills in. A brace that begins no placeholder is text."""
    found = {match.group(1) for match in _PLACEHOLDER.finditer(text) if match.group(1)}
    return Shape(tuple((name, "") for name in sorted(found)))


SYNTAX = Syntax("brace", 1, "{", shape, _PLACEHOLDER)
