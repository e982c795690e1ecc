"""Source code as pieces inside one another, for rows that are to be edited: what stands beside each other in a list, an enumeration, a switch."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

from lemmar.basics.text import Characters
from lemmar.documents.rows import Nest
from lemmar.languages._sourcefile import SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

#: What ends the type of a node whose parts are of one kind, even where there is one only.
_ROWS = (
    "array",
    "list",
    "_list",
    "set",
    "tuple",
    "initializer_expression",
    "collection_literal",
    "array_creation_expression",
    "list_literal",
    "object",
    "dictionary",
    "hash",
    "table_constructor",
    "map_literal",
)
_OPENING, _CLOSING = ("[", "(", "{"), ("]", ")", "}")


def code_nest(file: SourceFile, source: bytes) -> Nest:
    """The pieces of *file*, whose code is *source*, by code points."""
    return _nest(file, file.root, Characters(source).offset)


def _nest(file: SourceFile, node: Syntax, at: Callable[[int], int]) -> Nest:
    if node.type == "union_type":
        return Nest(at(node.start_byte), at(node.end_byte), lambda: _united(file, node, at), node.type, "|", True)
    comma = any(child.type == "," for child in node.children)
    is_row = node.type.endswith(_ROWS) and node.type not in ("parameter_list", "argument_list", "statement_list")
    brackets = [child for child in node.children if child.type in (*_OPENING, *_CLOSING)]
    inside = (at(brackets[0].end_byte), at(brackets[-1].start_byte)) if len(brackets) > 1 else None
    sign = "," if comma or is_row else ""
    end = node.start_byte + len(
        file.source[node.start_byte - file.start : node.end_byte - file.start].rstrip()
    )  # some end on the next line
    return Nest(at(node.start_byte), at(end), lambda: _pieces(file, node, at, comma), node.type, sign, is_row, inside)


def _pieces(file: SourceFile, node: Syntax, at: Callable[[int], int], comma: bool) -> Sequence[Nest]:
    """The parts of *node*: with commas between them what stands between two of these is one, of however many nodes."""
    groups: list[list[Syntax]] = [[]]
    for child in node.children:
        if child.type in file.comments:
            continue
        if comma and child.type in (",", ";"):
            groups.append([])
        elif child.is_named:
            apart = not comma or (groups[-1] and file.text_of(child).startswith(";"))
            if apart and groups[-1]:
                groups.append([])
            groups[-1].append(child)
    found = []
    for group in groups:
        if len(group) == 1:
            found.append(_nest(file, group[0], at))
        elif group:
            found.append(_several(file, group, at))
    return found


def _united(file: SourceFile, node: Syntax, at: Callable[[int], int]) -> Sequence[Nest]:
    """The types of a union, which is a deep chain of unions of two."""
    found, stack = [], [node]
    while stack:
        part = stack.pop()
        if part.type == "union_type":
            stack.extend(reversed(part.named_children))
        elif part.type not in file.comments:
            found.append(_nest(file, part, at))
    return found


def _several(file: SourceFile, group: list[Syntax], at: Callable[[int], int]) -> Nest:
    return Nest(at(group[0].start_byte), at(group[-1].end_byte), lambda: [_nest(file, each, at) for each in group], group[0].type)
