"""GDScript: constants, variables, enumerations and functions; arrays and dictionaries of literals."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.languages._literals import computed, list_node, map_node, source_of, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "expression_statement"})
    numbers = frozenset({"integer", "float"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"null"})
    texts = frozenset({"string", "string_name"})
    cases = frozenset({"pattern_section"})
    comparisons = frozenset({"binary_operator"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Constants, variables, enumerations, classes and functions."""
        for node in self.nodes(wanted):
            name, value = node.child_by_field_name("name"), node.child_by_field_name("value")
            if node.type in ("const_statement", "variable_statement", "export_variable_statement", "onready_variable_statement"):
                if name is not None and value is not None:
                    yield Declaration(source_of(name), name, value)
            elif node.type in ("enum_definition", "function_definition", "class_definition") and name is not None:
                yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call."""
        for node in self.nodes(wanted):
            arguments = node.child_by_field_name("arguments")
            if node.type in ("call", "attribute_call") and arguments is not None:
                yield Call(source_of(self.parts(node)[0]), node, [("", argument) for argument in self.parts(arguments)])

    def read_string(self, node: Syntax, _depth: int) -> Node:
        return self.quoted(node, "&^r")

    read_string_name = read_string

    def read_array(self, node: Syntax, depth: int) -> Node:
        return list_node(node, (self.value(part, depth) for part in self.parts(node)))

    def read_dictionary(self, node: Syntax, depth: int) -> Node:
        pairs = [(part.child_by_field_name("left"), part.child_by_field_name("value")) for part in self.parts(node)]
        return self.entries(node, ((key, value) for key, value in pairs if key is not None and value is not None), depth)

    def read_call(self, node: Syntax, depth: int) -> Node:
        arguments = node.child_by_field_name("arguments")
        given = self.parts(arguments) if arguments is not None else []
        return self.call_value(node, source_of(self.parts(node)[0]), None, given, depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_attribute(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        if parts[-1].type == "attribute_call":
            return computed(node)
        return self.member(parts[0], parts[-1], depth)

    def read_binary_operator(self, node: Syntax, depth: int) -> Node:
        if not any(child.type == "+" for child in node.children):
            return computed(node)
        return self.added(node, node.child_by_field_name("left"), node.child_by_field_name("right"), depth)

    def read_enum_definition(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node):
            left, right = child.child_by_field_name("left"), child.child_by_field_name("right")
            if child.type == "enumerator" and left is not None:
                held = self.value(right, depth) if right is not None else Node("number", left.start_byte, left.end_byte, str(len(members)))
                members.append(Member(source_of(left), left.start_byte, left.end_byte, held))
        return map_node(node, members)


LANGUAGES = (ProgrammingLanguage((".gd",), "tree_sitter_gdscript", _File),)
