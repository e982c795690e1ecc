"""Braces: ``{name}``, ``{0}``, ``{0:N2}``, ``{name!r:>8}``, ``{}`` (numbered in their order); ``{{`` and ``}}`` stand for a brace. ``@:key`` refers on.

Source: Python's format strings and .NET's composite formatting, which agree in this. Argument names are ASCII.
"""

from __future__ import annotations

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import shape_of
from lemmar.syntax._shape import Fault, Piece, Shape, Syntax

_PLACEHOLDER = expression(
    r"\{\{|\}\}|@:\(?([A-Za-z_](?:[A-Za-z0-9_.-]*[A-Za-z0-9_])?)\)?"
    r"|\{[ ]*([A-Za-z_][A-Za-z0-9_-]*(?:[.][A-Za-z0-9_]+|\[[A-Za-z0-9_]+\])*|[0-9]{1,9})[ ]*(?:,\s*-?[0-9]+)?(?:![rsa])?(?::[^{}]*)?\}"
    r"|(\{)(?:![rsa])?(?::[^{}]*)?\}"
    r"|([{}])"
)


def shape(text: str) -> Shape:
    """The names and positions that *text* fills in. Braces that begin no placeholder are text if they are in pairs."""
    found = _PLACEHOLDER.findall(text)
    unnamed = (str(number) for number, _ in enumerate(brace for _, _, brace, _ in found if brace))
    names = [*(name or f"@:{key}" for key, name, _, _ in found if name or key), *unnamed]
    fault = _unpaired(text) if names and any(lone for *_, lone in found) else None
    return replace(shape_of(names), fault=fault) if fault else shape_of(names)


def _unpaired(text: str) -> Fault | None:
    """The first brace beside the placeholders that has no partner."""
    opened: list[int] = []
    for match in _PLACEHOLDER.finditer(text):
        if match.group(4) == "{":
            opened.append(match.start())
        elif match.group(4) and not opened:
            return Fault(match.start(), "this brace closes nothing; a brace that is text is written twice", mild=True)
        elif match.group(4):
            opened.pop()
    return Fault(opened[0], "this brace is never closed; a brace that is text is written twice", mild=True) if opened else None


def _pieces(text: str) -> list[Piece] | None:
    """The words and placeholders, those without a name numbered; none where a brace is text."""
    out, position, unnamed = [], 0, 0
    for match in _PLACEHOLDER.finditer(text):
        reference, name, brace, _ = match.groups()
        if not (reference or name or brace):
            return None
        named = f"@:{reference}" if reference else name or str(unnamed)
        unnamed += bool(brace)
        out += [Piece(text[position : match.start()]), Piece(match.group(), named)]
        position = match.end()
    return [each for each in (*out, Piece(text[position:])) if each.text]


def _moved(written: str, name: str) -> str:
    """With its number, where it has none."""
    return f"{{{name}{written[1:]}" if name.isdigit() and not written[1:2].isdigit() else written


def _sure(text: str) -> bool:
    return "{" in text and bool(shape(text).arguments)


SYNTAX = Syntax(
    name="brace",
    shape=shape,
    written=lambda name, _kind: name if name[0] == "@" else f"{{{name}}}",
    special="{@",
    placeholder=_PLACEHOLDER,
    pieces=_pieces,
    moved=_moved,
    sure=_sure,
    strictness=4,
    rank=7,
)
