"""Dart: constants, fields and getters; lists, sets and maps of literals; enumerations; adjacent and raw texts.

Its grammar writes an expression as a row of siblings: a first part and the selectors that follow it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import UNNAMED, Member, Node
from lemmar.documents.quoting import quoted
from lemmar.languages._literals import computed, list_node, map_node, member, source_of, split_text, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import LOCALE_MAKERS, Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_GIVEN = frozenset({"static_final_declaration", "initialized_identifier", "initialized_variable_definition"})
_TYPES = frozenset({"class_definition", "enum_declaration", "mixin_declaration", "extension_declaration"})
_SELECTORS = frozenset({"selector", "unconditional_assignable_selector", "argument_part"})
_LEFT_OUT = frozenset({"const_builtin", "final_builtin", "type_arguments", "type_identifier", "comment", "documentation_comment"})
_ESCAPE = expression(r"\\(?:u\{([0-9a-fA-F]{1,6})\}|u([0-9a-fA-F]{4})|x([0-9a-fA-F]{2})|(.))", re.DOTALL)
_SHORT = {"n": "\n", "r": "\r", "t": "\t", "b": "\b", "f": "\f", "v": "\v"}


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "argument", "constant_pattern"})
    numbers = frozenset({"decimal_integer_literal", "hex_integer_literal", "decimal_floating_point_literal"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"null_literal"})
    cases = frozenset({"switch_statement_case", "switch_expression_case"})
    comments = SourceFile.comments | {"case_builtin", "documentation_comment"}

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Variables, fields, getters, functions, types and enumerations."""
        for node in self.nodes(wanted):
            kind = node.type
            if kind in _GIVEN:
                children = [child for child in node.named_children if child.type not in _LEFT_OUT]
                if len(children) > 1 and children[0].type == "identifier":
                    yield Declaration(source_of(children[0]), children[0], children[1])
            elif kind in _TYPES:
                name = node.child_by_field_name("name")
                if name is not None:
                    yield Declaration(source_of(name), name, node)
            elif kind in ("function_signature", "getter_signature"):
                name, body = node.child_by_field_name("name"), _body_of(node)
                if name is not None and body is not None:
                    yield Declaration(source_of(name), name, body)
            elif kind == "assignment_expression":
                left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
                if left is not None and right is not None:
                    yield Declaration(source_of(left).rpartition(".")[2], left, right)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls by name, and objects that are made."""
        for node in walk(self.root):  # what is called stands beside its name, not around it
            if node.type in ("const_object_expression", "new_expression"):
                made = next((child for child in node.named_children if child.type == "type_identifier"), None)
                yield Call(source_of(made) if made is not None else "", node, _arguments(node))
            elif node.type == "identifier" and node.next_named_sibling is not None and node.next_named_sibling.type in _SELECTORS:
                name, given = _chain(node)
                if given is not None:
                    yield Call(name, node, _arguments(given))

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """Also those beside ``==``, which has a node of its own here."""
        if node.type == "equality_expression":
            sides = [part for part in self.parts(node) if part.type != "equality_operator"]
            literal = [side for side in sides if side.type in self.texts]
            yield from literal if len(literal) == 1 < len(sides) else ()
        yield from super().literals_tested(node)

    def read_string_literal(self, node: Syntax, _depth: int) -> Node:
        if any(child.type == "template_substitution" for child in node.named_children):
            return computed(node)
        pieces = _pieces(source_of(node))
        return text_node(node, "".join(pieces)) if pieces is not None else computed(node)

    def read_list_literal(self, node: Syntax, depth: int) -> Node:
        return list_node(node, self.items(node, depth))

    def items(self, node: Syntax, depth: int) -> list[Node]:
        """The values of a row of siblings in which selectors follow what they select from."""
        items: list[Node] = []
        for child in node.named_children:
            if child.type in _LEFT_OUT or child.type in _SELECTORS:
                continue
            if child.type == "spread_element":
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                items += inner.items if inner.kind == "list" else [inner if inner.kind == "computed" else computed(child)]
            else:
                items.append(self.value(child, depth))
        return items

    def read_set_or_map_literal(self, node: Syntax, depth: int) -> Node:
        pairs = [child for child in node.named_children if child.type in ("pair", "spread_element")]
        if not pairs:
            items = list(self.items(node, depth))
            return list_node(node, items) if items else map_node(node, ())  # ``{}`` is a map
        members: list[Member] = []
        for child in pairs:
            if child.type == "pair":
                key, value = child.child_by_field_name("key"), child.child_by_field_name("value")
                if key is not None and value is not None:
                    members.append(member(key, self.value(key, depth), self.value(value, depth)))
            else:
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                members += inner.members if inner.kind == "map" else [Member(UNNAMED, child.start_byte, child.end_byte, computed(child))]
        if not members and len(pairs) == len(node.named_children):
            return list_node(node, self.items(node, depth))
        return map_node(node, members)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        """A name, with the selectors that follow it: a call, a member, or what the name stands for."""
        after = node.next_named_sibling
        if after is None or after.type not in _SELECTORS:
            return self.named(node, depth)
        name, given = _chain(node)
        last = name.rpartition(".")[2]
        if given is None:
            at = [child for child in walk(after) if child.type == "identifier"]
            return self.member(node, at[-1], depth) if at else computed(node)
        if name.partition(".")[0] in LOCALE_MAKERS or last in LOCALE_MAKERS:
            return self.locale_of(node, [argument for _, argument in _arguments(given)], depth)
        if last == "split" and name.count(".") == 1:
            arguments = _arguments(given)
            return split_text(node, self.named(node, depth), self.value(arguments[0][1], depth) if arguments else None)
        return computed(node)

    def read_const_object_expression(self, node: Syntax, depth: int) -> Node:
        made = next((child for child in node.named_children if child.type == "type_identifier"), None)
        if made is not None and source_of(made) in LOCALE_MAKERS:
            return self.locale_of(node, [argument for _, argument in _arguments(node)], depth)
        return computed(node)

    read_new_expression = read_const_object_expression

    def read_additive_expression(self, node: Syntax, depth: int) -> Node:
        parts = [child for child in self.parts(node) if child.type != "additive_operator"]
        return self.added(node, parts[0], parts[1], depth) if len(parts) == 2 else computed(node)

    def read_function_body(self, node: Syntax, depth: int) -> Node:
        """What a getter or function returns, where that is one expression or one returned literal."""
        returned = [child for child in walk(node) if child.type == "return_statement"]
        inner = self.parts(returned[0]) if len(returned) == 1 else self.parts(node) if not returned else []
        return self.value(inner[0], depth) if inner and inner[0].type != "block" else computed(node)

    def read_class_definition(self, node: Syntax, depth: int) -> Node:
        members = []
        for child in walk(node.child_by_field_name("body") or node, frozenset({"function_body"})):
            if child.type in _GIVEN:
                parts = [part for part in child.named_children if part.type not in _LEFT_OUT]
                if len(parts) > 1:
                    members.append(Member(source_of(parts[0]), parts[0].start_byte, parts[0].end_byte, self.value(parts[1], depth)))
        return map_node(node, members)

    def read_enum_declaration(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node):
            name = child.child_by_field_name("name") if child.type == "enum_constant" else None
            if name is not None:
                given = _arguments(child)
                held = self.value(given[0][1], depth) if given else Node("number", child.start_byte, child.end_byte, str(len(members)))
                members.append(Member(source_of(name), name.start_byte, name.end_byte, held))
        return map_node(node, members)


def _body_of(signature: Syntax) -> Syntax | None:
    """The body that follows a signature, which may be wrapped in a method's."""
    after = signature.next_named_sibling or (signature.parent.next_named_sibling if signature.parent is not None else None)
    return after if after is not None and after.type == "function_body" else None


def _chain(first: Syntax) -> tuple[str, Syntax | None]:
    """The dotted name that begins at *first*, and the selector with its arguments, if it is called."""
    name, node = source_of(first), first.next_named_sibling
    while node is not None and node.type in _SELECTORS:
        if any(child.type == "arguments" for child in walk(node)):
            return name, node
        name += "." + source_of(node).lstrip(".?!")
        node = node.next_named_sibling
    return name, None


def _arguments(node: Syntax) -> list[tuple[str, Syntax]]:
    whole = next((child for child in walk(node) if child.type == "arguments"), None)
    found: list[tuple[str, Syntax]] = []
    for child in whole.named_children if whole is not None else ():
        if child.type == "argument" and child.named_children:
            found.append(("", child.named_children[0]))
        elif child.type == "named_argument" and len(child.named_children) > 1:
            found.append((source_of(child.named_children[0]).rstrip(": "), child.named_children[1]))
    return found


def _pieces(raw: str) -> list[str] | None:
    """The texts of adjacent literals, which are one."""
    pieces: list[str] = []
    position = 0
    while position < len(raw):
        start = re.compile(r"\s*(r?)('''|\"\"\"|'|\")").match(raw, position)
        if start is None:
            return pieces if not raw[position:].strip() else None
        quote = start.group(2)
        body = re.compile(rf"(?:[^\\]|\\.)*?(?={quote})" if not start.group(1) else rf".*?(?={quote})", re.DOTALL).match(raw, start.end())
        if body is None:
            return None
        text = body.group()
        if len(quote) == 3:
            text = re.sub(r"\A[ \t]*(?:\r\n|\n|\r)", "", text)
        pieces.append(text if start.group(1) else _ESCAPE.sub(_unescape, text))
        position = body.end() + len(quote)
    return pieces


def _unescape(match: re.Match[str]) -> str:
    code = match.group(1) or match.group(2) or match.group(3)
    if code:
        return chr(int(code, 16)) if int(code, 16) < 0x110000 else match.group()
    return _SHORT.get(match.group(4), match.group(4))


def _quoted(text: str) -> str:
    short = {"\n": "\\n", "\t": "\\t", "\r": "\\r", "$": "\\$"}
    return quoted(text, short=short, code=lambda sign: f"\\u{{{ord(sign):x}}}")


LANGUAGES = (ProgrammingLanguage((".dart",), "tree_sitter_dart", _File, catalogs=True, quoted=_quoted, mostly="catalogs"),)
