"""What an expression that is not one literal may be: one of several, or a text whose beginning and end are fixed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import Node
from lemmar.languages._sourcefile import SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

#: So many alternatives and operands are looked at in one expression.
_MOST = 64
_CONDITIONS = frozenset({"ternary_expression", "conditional_expression", "conditional", "if_expression"})
_SUMS = frozenset({"binary_expression", "binary_operator", "binary", "additive_expression", "concatenation_expression"})
_EITHER = frozenset({"boolean_operator", "elvis_expression", "nil_coalescing_expression", "if_null_expression", "logical_or_expression"})
_OTHERWISE = frozenset({"||", "??", "?:", "or"})
_JOINS = frozenset({"+", ".", "..", "&", "~", "<>", "additive_operator"})
_WRAPPED = frozenset(
    {"parenthesized_expression", "as_expression", "non_null_expression", "satisfies_expression", "parenthesized_statements"}
)
_HOLE = expression(r"\$\{|\#\{|\\\(|\{|\$[A-Za-z_]|%(?!%)")
_AFTER_HOLE = expression(r"(?:[})]|\$[A-Za-z_]\w*+)([^{}$#\\()%]*+)\Z")
_QUOTES = "\"'`"


class KeyText(NamedTuple):
    """A text that an expression may be: all of it, or (where it is not *whole*) its beginning and its *end*."""

    text: str
    whole: bool = True
    end: str = ""


def asked(file: SourceFile, node: Syntax) -> Iterator[KeyText]:
    """All that the expression *node* may be, as far as literals say: of a condition each branch."""
    waiting, seen = [node], 0
    while waiting and seen < _MOST:
        each = waiting.pop()
        seen += 1
        inner = _choices(file, each)
        if inner is not None:
            waiting.extend(reversed(inner))
            continue
        value = file.value(each)
        if value.kind == "text" and not _is_name(file, value):
            yield KeyText(value.text)
        elif value.kind == "list" and value.items and all(item.kind == "text" for item in value.items):
            yield from (KeyText(item.text) for item in value.items[:_MOST])
        elif value.kind not in ("null", "number", "bool"):
            yield KeyText(_end_of(file, each, first=True), whole=False, end=_end_of(file, each, first=False))


def _is_name(file: SourceFile, value: Node) -> bool:
    """Whether a text is the name of a member that is declared elsewhere, and no literal."""
    return file.source[value.start - file.start : value.end - file.start] == value.text.encode("utf-8", "replace")


def _choices(file: SourceFile, node: Syntax) -> list[Syntax] | None:
    """The branches of a condition; None where *node* is none."""
    kind = node.type
    if kind in _WRAPPED:
        return file.parts(node)[:1]
    if kind in _CONDITIONS:
        condition = node.child_by_field_name("condition")
        parts = [part for part in file.parts(node) if part != condition]
        if condition is None and len(parts) == 3:
            is_postfix = any(child.type == "if" for child in node.children)  # A if CONDITION else B
            parts = [parts[0], parts[2]] if is_postfix else parts[1:]
        return parts
    if kind in (_SUMS | _EITHER) and len(node.children) == 3 and file.text_of(node.children[1]) in _OTHERWISE:
        return [node.children[0], node.children[2]]
    return None


def _end_of(file: SourceFile, node: Syntax, first: bool) -> str:
    """The text that *node* is sure to begin with, or to end with."""
    for _ in range(_MOST):
        if node.type in _WRAPPED and file.parts(node):
            node = file.parts(node)[0]
        elif node.type in _SUMS and len(node.children) == 3:
            operator = node.children[1]
            sign = file.text_of(operator).strip()
            if sign == "%" and first:
                break  # a text with holes, and what they are filled with
            if sign not in _JOINS:
                return ""
            node = node.children[0 if first else 2]
        else:
            break
    if node.type in _SUMS:
        node = node.children[0]
    value = file.value(node)
    if value.kind == "text" and not _is_name(file, value):
        return _HOLE.split(value.text, maxsplit=1)[0] if first else value.text
    raw = file.text_of(node)
    opening = raw.lstrip("fFrRbBuU$@")[:1]
    if opening not in _QUOTES or not opening or not raw.endswith(opening):
        return ""
    body = raw[raw.index(opening) + 1 : -1].strip(opening)
    if first:
        return _HOLE.split(body, maxsplit=1)[0]
    ended = _AFTER_HOLE.search(body)
    return ended[1] if ended is not None else ""
