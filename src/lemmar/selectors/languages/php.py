"""PHP: returned arrays, constants, static properties and variables; concatenation, heredocs and nowdocs."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.selectors.languages import MAX_DEPTH, ProgrammingLanguage
from lemmar.selectors.languages.literals import computed, inside, joined, list_node, map_node, source_of, text_node, walk

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

_ESCAPE = re.compile(r"\\(?:u\{([0-9a-fA-F]{1,6})\}|x([0-9a-fA-F]{1,2})|([0-7]{1,3})|(.))", re.DOTALL)
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "v": "\v", "e": "\x1b", "f": "\f", "\\": "\\", "$": "$", '"': '"'}
_CALCULATED = frozenset(
    {"variable_name", "member_access_expression", "subscript_expression", "dynamic_variable_name", "function_call_expression"}
)


class _File:
    def __init__(self, root: Syntax) -> None:
        self.root = root

    def declared(self, path: list[str]) -> list[Node]:
        name, *rest = path
        found = self.returned() if name == "*" else self.values_of(name)
        return inside([self.value(syntax, 0) for syntax in found], rest)

    def returned(self) -> list[Syntax]:
        """What the file itself returns."""
        outer = walk(self.root, frozenset({"function_definition", "method_declaration", "anonymous_function", "arrow_function"}))
        return [node.named_children[0] for node in outer if node.type == "return_statement" and node.named_children]

    def values_of(self, name: str) -> list[Syntax]:
        """What each constant, property or variable of *name* is given; a class stands for its members."""
        found = []
        for node in walk(self.root):
            if node.type == "const_element" and len(node.named_children) > 1 and source_of(node.named_children[0]) == name:
                found.append(node.named_children[-1])
            elif node.type in ("class_declaration", "enum_declaration"):
                target = node.child_by_field_name("name")
                found += [node] if target is not None and source_of(target) == name else []
            elif node.type in ("property_element", "assignment_expression"):
                target = node.child_by_field_name("name") or node.child_by_field_name("left")
                value = node.child_by_field_name("default_value") or node.child_by_field_name("right")
                if target is not None and value is not None and source_of(target).lstrip("$") == name.lstrip("$"):
                    found.append(value)
        return found

    def value(self, node: Syntax, depth: int) -> Node:
        """What the expression *node* is worth, as far as literals say."""
        if depth > MAX_DEPTH:
            return computed(node, "it is nested or refers to itself too deeply")
        read = getattr(self, f"read_{node.type}", None)
        found: Node = read(node, depth + 1) if read is not None else computed(node)
        return found

    def read_string(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, re.sub(r"\\([\\'])", r"\1", source_of(node)[1:-1]))

    def read_encapsed_string(self, node: Syntax, _depth: int) -> Node:
        if any(child.type in _CALCULATED for child in node.named_children):
            return computed(node)
        return text_node(node, _ESCAPE.sub(_unescape, source_of(node)[1:-1]))

    def read_heredoc(self, node: Syntax, _depth: int) -> Node:
        body = node.child_by_field_name("value")
        if body is None or any(child.type in _CALCULATED for child in walk(body)):
            return computed(node) if body is not None else text_node(node, "")
        return text_node(node, _ESCAPE.sub(_unescape, _without_margin(body, node)))

    def read_nowdoc(self, node: Syntax, _depth: int) -> Node:
        body = node.child_by_field_name("value")
        return text_node(node, _without_margin(body, node) if body is not None else "")

    def read_integer(self, node: Syntax, _depth: int) -> Node:
        return Node("number", node.start_byte, node.end_byte, source_of(node))

    read_float = read_integer

    def read_boolean(self, node: Syntax, _depth: int) -> Node:
        return Node("bool", node.start_byte, node.end_byte, source_of(node).lower())

    def read_null(self, node: Syntax, _depth: int) -> Node:
        return Node("null", node.start_byte, node.end_byte)

    def read_parenthesized_expression(self, node: Syntax, depth: int) -> Node:
        return self.value(node.named_children[0], depth) if node.named_children else computed(node)

    def read_array_creation_expression(self, node: Syntax, depth: int) -> Node:
        entries = [child for child in node.named_children if child.type == "array_element_initializer"]
        parts = [[part for part in entry.named_children if part.type != "comment"] for entry in entries]
        if any(len(part) > 1 for part in parts):
            members = []
            for part in parts:
                if len(part) > 1:
                    key = self.value(part[0], depth)
                    members.append(Member(key.text, part[0].start_byte, part[0].end_byte, self.value(part[-1], depth)))
                elif part:
                    members.append(Member("…", part[0].start_byte, part[0].end_byte, computed(part[0])))
            return map_node(node, members)
        return list_node(node, (self.value(part[0], depth) for part in parts if part))

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        if left is None or right is None or not any(child.type == "." for child in node.children):
            return computed(node)
        return joined(node, [self.value(left, depth), self.value(right, depth)])

    def read_class_constant_access_expression(self, node: Syntax, depth: int) -> Node:
        """A member: of a class in the same file its value, else it is read by its last name."""
        names = node.named_children
        found = self.values_of(source_of(names[-1])) if names else []
        return self.value(found[0], depth) if len(found) == 1 else text_node(names[-1], source_of(names[-1])) if names else computed(node)

    def read_class_declaration(self, node: Syntax, depth: int) -> Node:
        members = []
        for child in walk(node):
            if child.type == "const_element" and len(child.named_children) > 1:
                name, value = child.named_children[0], child.named_children[-1]
                members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
            elif child.type == "property_element":
                target, given = child.child_by_field_name("name"), child.child_by_field_name("default_value")
                if target is not None and given is not None:
                    members.append(Member(source_of(target).lstrip("$"), target.start_byte, target.end_byte, self.value(given, depth)))
        return map_node(node, members)


def _unescape(match: re.Match[str]) -> str:
    point, hexadecimal, octal, short = match.groups()
    if point or hexadecimal:
        code = int(point or hexadecimal, 16)
        return chr(code) if code < 0x110000 else match.group()
    if octal:
        return chr(int(octal, 8) & 0xFF)
    return _SHORT.get(short, match.group())


def _without_margin(body: Syntax, node: Syntax) -> str:
    """The text of a heredoc without the margin that its closing word has (PHP 7.3 and later)."""
    end = node.child_by_field_name("end_tag")
    margin = end.start_point[1] if end is not None else 0
    text = source_of(body).removeprefix("\n")
    return re.sub(rf"^[ \t]{{0,{margin}}}", "", text, flags=re.MULTILINE) if margin else text


def _parser() -> Parser:
    import tree_sitter_php
    from tree_sitter import Language, Parser

    return Parser(Language(tree_sitter_php.language_php()))


def _declared(root: Syntax, path: list[str]) -> list[Node]:
    return _File(root).declared(path)


def _catalog(root: Syntax) -> list[Node]:
    file = _File(root)
    returned = [file.value(syntax, 0) for syntax in file.returned()]
    if returned:
        return [node for node in returned if node.kind in ("map", "computed")]
    values = [node.child_by_field_name("right") for node in walk(root) if node.type == "assignment_expression"]
    return [node for value in values if value is not None and (node := file.value(value, 0)).kind == "map"]


LANGUAGES = (ProgrammingLanguage((".php",), _parser, _declared, _catalog),)
