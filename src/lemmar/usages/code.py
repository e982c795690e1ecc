"""Source code that a grammar parses: calls, brackets, members."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from contextlib import suppress
from functools import cache
from itertools import islice
from typing import TYPE_CHECKING, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import UNNAMED, PointerError, point
from lemmar.languages import Call, KeyText, SourceFile
from lemmar.languages import asked as texts_of
from lemmar.usages._types import Use, Way, Ways

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

#: So many levels above a name its call stands, at the most; above a call what it is given to.
_AROUND = 8
#: A function is looked for so many levels around a call.
_DEEPEST = 100
#: So many places of one name are looked at in a file.
_MOST = 5_000
_WORD = expression(rb"[A-Za-z_]\w*")


class Scope(NamedTuple):
    """A call around whose argument holds for all calls inside of a function: from *start* to *end*, for those of the names *bound*; *text* is
    None where nobody knows it.
    """

    start: int
    end: int
    at: int
    text: str | None
    bound: frozenset[str]


def uses(file: SourceFile, source: bytes, ways: Ways) -> Iterator[tuple[int, Use]]:
    """What a parsed file asks for, each with its byte in the file."""
    for number, way in enumerate(ways):
        around = {name: _scopes(file, name) for name in dict.fromkeys((way.scope, way.under)) if name}
        names = [name for name in way.calls if not name.endswith("[]")]
        bound = {name for scopes in around.values() for scope in scopes if len(scope.bound) == 1 for name in scope.bound}
        for name in dict.fromkeys([*names, *sorted(bound)]):
            for call in calls(file, name):
                yield from asked_by(file, number, way, call, around)
        for name in way.calls:
            if name.endswith("[]"):
                yield from _in_brackets(file, number, way, name[:-2])
        for pattern in way.members:
            yield from _members(file, source, number, pattern)


def calls(file: SourceFile, name: str) -> Iterator[Call]:
    """Every call of the function *name*, which may be written with more in front."""
    last, tail = name.rpartition(".")[2], f".{name}"
    if last.encode() not in file.source:
        return
    for call in file.calls(last):
        if call.name == name or call.name.endswith(tail):
            yield call


def argument_of(call: Call, which: int | str | None) -> Syntax | None:
    """The argument of a call by its place or its name; None where there is none."""
    if isinstance(which, int):
        return call.arguments[which][1] if which < len(call.arguments) else None
    return next((node for label, node in call.arguments if label == which), None) if which is not None else None


def asked_by(file: SourceFile, number: int, way: Way, call: Call, around: Mapping[str, list[Scope]]) -> Iterator[tuple[int, Use]]:
    """What one call asks for, each with its byte in the file; *around* are the calls around by their names."""
    node = argument_of(call, way.argument)
    if node is None:
        return
    name = call.name.partition(".")[0]
    part, under = way.part, ""
    if way.scope:
        found = _scope(around[way.scope], call.at, name)
        part = found.text if found is not None and found.text else part
    if way.part_argument is not None:
        given = argument_of(call, way.part_argument)
        part = file.value(given).text if given is not None and file.value(given).kind == "text" else None
    known = True
    if way.under:
        found = _scope(around[way.under], call.at, name)
        known = found is None or found.text is not None
        under = f"{found.text}." if found is not None and found.text else ""
    context = argument_of(call, way.context)
    if context is not None:
        value = file.value(context)
        known, under = known and value.kind == "text", f"{value.text}\x04{under}"
    names, count = _given(file, way, call)
    for at, each in _pointed(file, node, way.pointer):
        text = each.text
        in_part = part
        if way.separator and way.separator in text:
            in_part, _, text = text.partition(way.separator)
        if not known:
            use = Use(number, "", *file.place_of(at), True, each.end or (text if each.whole else ""), in_part, names, count)
        else:
            use = Use(number, f"{under}{text}", *file.place_of(at), not each.whole, each.end, in_part, names, count)
        yield at, use


def _pointed(file: SourceFile, node: Syntax, pointer: str | None) -> Iterator[tuple[int, KeyText]]:
    """What an argument may be, or what stands at *pointer* in it, each with its byte in the file."""
    if pointer is None:
        yield from ((node.start_byte, each) for each in texts_of(file, node))
        return
    with suppress(PointerError):
        for found in point(file.value(node), pointer):
            if found.kind in ("text", "computed"):
                yield found.start, KeyText(found.text if found.kind == "text" else "", found.kind == "text")


def _given(file: SourceFile, way: Way, call: Call) -> tuple[tuple[str, ...] | None, int]:
    """The names of the values that a call gives, and how many it gives in order; None and -1 where nobody knows."""
    place = next((index for index, (_, node) in enumerate(call.arguments) if node == argument_of(call, way.argument)), 0)
    after = call.arguments[place + 1 :]
    if any("spread" in node.type or "splat" in node.type for _, node in after):
        return None, -1
    if way.values == "*":
        return None, len(after)
    labels = tuple(label for label, _ in after if label)
    node = argument_of(call, way.values) if way.values is not None else next((node for label, node in after if not label), None)
    if node is None:
        return (labels, -1) if labels or way.values is not None else (None, -1)
    if way.values is None and not _MAP.match(file.source, node.start_byte - file.start):
        return None, -1
    names = _names_in(file, node)
    return (None, -1) if names is None else ((*names, *labels), -1)


def _names_in(file: SourceFile, node: Syntax) -> list[str] | None:
    """The keys of a literal map; None where not all of them are there."""
    found = []
    for child in file.parts(node) if node.type in _MAPS else ():
        key = child.child_by_field_name("key") or child.child_by_field_name("name")
        if key is None and not child.type.startswith("shorthand"):
            break  # a spread, or another form
        if key is not None and "computed" in key.type:
            return None
        found.append(file.text_of(key if key is not None else child).strip("\"':"))
    else:
        if node.type in _MAPS:
            return found
    value = file.value(node)
    named = [member.key for member in value.members]
    unsure = value.kind != "map" or UNNAMED in named or any("spread" in each.type or "splat" in each.type for each in node.named_children)
    return None if unsure else named


#: Types of nodes that are maps of keys and values.
_MAPS = frozenset({"object", "dictionary", "hash", "table_constructor"})
#: What a literal map begins with.
_MAP = expression(rb"[{\[]|array\(|new\b|(?:\w*[mM]apOf|dict|Map|map)\b|%")


# ------------------------------------------------------------------------------------------------------------------ scopes


def _scopes(file: SourceFile, name: str) -> list[Scope]:
    found = []
    for call in calls(file, name):
        inner = _function_around(call.at)
        node = argument_of(call, 0)
        value = file.value(node) if node is not None else None
        text = "" if value is None or value.kind == "null" else value.text if value.kind == "text" else None
        if value is not None and value.kind == "list" and len(value.items) == 1 and value.items[0].kind == "text":
            text = value.items[0].text
        found.append(Scope(inner.start_byte, inner.end_byte, call.at.start_byte, text, _bound(file, call.at)))
    return found


def _function_around(node: Syntax) -> Syntax:
    """The function that *node* stands in, else the whole file."""
    around = node
    for _ in range(_DEEPEST):
        above = around.parent
        if above is None:
            break
        around = above
        if any(word in around.type for word in ("function", "method", "lambda", "closure", "class_body")) and "call" not in around.type:
            return around
    return around


def _bound(file: SourceFile, node: Syntax) -> frozenset[str]:
    """The names that what *node* gives is kept under."""
    for _ in range(_AROUND):
        above = node.parent
        if above is None:
            break
        node = above
        if (
            "declarator" in node.type
            or "assignment" in node.type
            or "property_declaration" in node.type
            or node.type == "variable_declaration"
        ):
            left = file.text_of(node).partition("=")[0]
            return frozenset(word.decode() for word in _WORD.findall(left.encode()) if word not in _KEYWORDS)
        if any(word in node.type for word in ("statement", "function", "block")):
            break
    return frozenset()


_KEYWORDS = frozenset({b"const", b"let", b"var", b"val", b"final", b"auto", b"local"})


def _scope(scopes: list[Scope], node: Syntax, name: str) -> Scope | None:
    """The innermost of *scopes* that a call of *name* at *node* is in; the one whose name it is called by before all others."""
    around = [each for each in scopes if each.start <= node.start_byte < each.end and each.at != node.start_byte]
    named = [each for each in around if name in each.bound] or [each for each in around if not each.bound]
    several = [each for each in named if each.at < node.start_byte] or named
    return max(several, key=lambda each: (each.start, each.at), default=None)


# -------------------------------------------------------------------------------------------------------- brackets, members


def _in_brackets(file: SourceFile, number: int, way: Way, name: str) -> Iterator[tuple[int, Use]]:
    for match in islice(_before_bracket(name).finditer(file.source), _MOST):
        node = file.root.descendant_for_byte_range(match.end() + file.start, match.end() + file.start)
        if node is None or _is_aside(file, node):
            continue
        start = node.start_byte
        for _ in range(_AROUND):
            above = node.parent
            if above is None or above.start_byte != start or "argument" in above.type:
                break
            node = above
        for each in texts_of(file, node) if start == match.end() + file.start else ():
            yield start, Use(number, each.text, *file.place_of(node.start_byte), not each.whole, each.end, way.part)


def _members(file: SourceFile, source: bytes, number: int, pattern: str) -> Iterator[tuple[int, Use]]:
    if fixed_name(pattern).encode() not in source:
        return
    for match in islice(member_expression(pattern).finditer(source), _MOST):
        at = match.start("key")
        node = file.root.descendant_for_byte_range(at, at)
        if node is None or _is_aside(file, node):
            continue
        yield at, Use(number, match["key"].decode("utf-8", "replace"), *file.place_of(at))


def fixed_name(pattern: str) -> str:
    """A name that code has wherever a member of *pattern* is asked for."""
    names = _NAME.findall(pattern.partition("{key}")[0])
    return max(names, key=len, default="")


_NAME = expression(r"[A-Za-z_$][\w$]*+")


def _is_aside(file: SourceFile, node: Syntax) -> bool:
    """Whether *node* is a comment or a text."""
    around = (node.type, node.parent.type if node.parent is not None and node.type.startswith("string_") else "")
    return any(kind in file.comments or "comment" in kind or kind in file.texts for kind in around)


@cache
def _before_bracket(name: str) -> re.Pattern[bytes]:
    return expression(rb"(?<![\w$])" + expression_of(name) + rb"\s{0,9}(?:\?\.)?\[\s{0,9}")


@cache
def member_expression(pattern: str) -> re.Pattern[bytes]:
    """What finds ``Words.{key}``: names joined by dots, ``::`` or ``->``; signs that only say that there is a value are passed over."""
    before, _, after = pattern.partition("{key}")
    tail = expression_of(after) + rb"(?![\w$])" if after else b""
    return expression(rb"(?<![\w$.])" + expression_of(before) + rb"(?P<key>[A-Za-z_]\w{0,99}(?:\.[A-Za-z_]\w{0,99}){0,9})" + tail)


def expression_of(name: str) -> bytes:
    """An expression for code that is written like *name*, with blanks and ``?``, ``!`` between its pieces."""
    pieces = _PIECES.findall(name)
    return rb"".join(
        (rb"\s{0,9}[?!]{0,2}" if piece in _JOINTS else b"") + re.escape(piece.encode()) + (rb"\s{0,9}" if piece in _JOINTS else b"")
        for piece in pieces
    )


_PIECES = expression(r"[\w$]+|::|->|.")
_JOINTS = frozenset({".", "::", "->"})
