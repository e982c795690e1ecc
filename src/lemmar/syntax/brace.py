"""Braces: ``{name}``, ``{0}``, ``{0:N2}``, ``{name!r:>8}``, ``{}`` (numbered in their order); ``{{`` and ``}}`` stand for a brace. ``@:key`` refers on.

Source: Python's format strings and .NET's composite formatting, which agree in this. Argument names are ASCII.
"""

from __future__ import annotations

import re

from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Shape, Syntax

_PLACEHOLDER = re.compile(
    r"\{\{|\}\}|@:\(?([A-Za-z_](?:[A-Za-z0-9_.-]*[A-Za-z0-9_])?)\)?"
    r"|\{[ ]*([A-Za-z_][A-Za-z0-9_-]*(?:[.][A-Za-z0-9_]+|\[[A-Za-z0-9_]+\])*|[0-9]{1,9})[ ]*(?:,\s*-?[0-9]+)?(?:![rsa])?(?::[^{}]*)?\}"
    r"|(\{)(?:![rsa])?(?::[^{}]*)?\}"
)


def shape(text: str) -> Shape:
    """The names and positions that *text* fills in. A brace that begins no placeholder is text."""
    found = _PLACEHOLDER.findall(text)
    unnamed = (str(number) for number, _ in enumerate(brace for _, _, brace in found if brace))
    return shape_of([*(name or f"@:{key}" for key, name, _ in found if name or key), *unnamed])


def _sure(text: str) -> bool:
    return "{" in text and bool(shape(text).arguments)


SYNTAX = Syntax(
    name="brace",
    shape=shape,
    written=lambda name, _kind: name if name[0] == "@" else f"{{{name}}}",
    special="{@",
    placeholder=_PLACEHOLDER,
    sure=_sure,
    strictness=4,
    rank=7,
)
