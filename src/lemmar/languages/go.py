"""Go: variables, constants and functions; slices, maps and structures of literals; tags that a package names."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Node
from lemmar.languages._literals import computed, list_node, source_of, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "literal_element", "expression_list"})
    numbers = frozenset({"int_literal", "float_literal", "iota"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"nil"})
    texts = frozenset({"interpreted_string_literal", "raw_string_literal"})
    cases = frozenset({"expression_case"})
    comparisons = frozenset({"binary_expression"})
    bodies = SourceFile.bodies | {"statement_list"}

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Variables, constants, short assignments, functions and types."""
        for node in self.nodes(wanted):
            if node.type in ("var_spec", "const_spec"):
                names = node.children_by_field_name("name")
                value = node.child_by_field_name("value")
                values = self.parts(value) if value is not None else []
                yield from (Declaration(source_of(name), name, given) for name, given in zip(names, values, strict=False))
            elif node.type in ("short_var_declaration", "assignment_statement"):
                left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
                if left is not None and right is not None:
                    for name, given in zip(self.parts(left), self.parts(right), strict=False):
                        yield Declaration(source_of(name).rpartition(".")[2], name, given)
            elif node.type in ("function_declaration", "method_declaration"):
                own = node.child_by_field_name("name")
                if own is not None:
                    yield Declaration(source_of(own), own, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call."""
        for node in self.nodes(wanted):
            if node.type == "call_expression":
                yield Call(self.name_of(node), node, [("", argument) for argument in self.arguments(node)])

    def name_of(self, node: Syntax) -> str:
        """The dotted name of what is called."""
        function = node.child_by_field_name("function")
        name = source_of(function) if function is not None else ""
        return name if "(" not in name else name.rpartition(".")[2]

    def arguments(self, node: Syntax) -> list[Syntax]:
        """The arguments of a call."""
        given = node.child_by_field_name("arguments")
        return self.parts(given) if given is not None else []

    def read_interpreted_string_literal(self, node: Syntax, _depth: int) -> Node:
        return self.quoted(node)

    def read_raw_string_literal(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, self.text_of(node)[1:-1])

    def read_composite_literal(self, node: Syntax, depth: int) -> Node:
        body = node.child_by_field_name("body")
        return self.value(body, depth) if body is not None else computed(node)

    def read_literal_value(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        keyed = [(part.child_by_field_name("key"), part.child_by_field_name("value")) for part in parts if part.type == "keyed_element"]
        if keyed:
            bare = [
                (self.parts(key)[0] if self.parts(key) else key, value) for key, value in keyed if key is not None and value is not None
            ]
            return self.entries(node, bare, depth)
        return list_node(node, (self.value(part, depth) for part in parts))

    def read_call_expression(self, node: Syntax, depth: int) -> Node:
        return self.call_value(node, self.name_of(node), None, self.arguments(node), depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_selector_expression(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("field")
        return self.member(node.child_by_field_name("operand"), name, depth) if name is not None else computed(node)

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        if not any(child.type == "+" for child in node.children):
            return computed(node)
        return self.added(node, node.child_by_field_name("left"), node.child_by_field_name("right"), depth)

    def read_function_declaration(self, node: Syntax, depth: int) -> Node:
        """What a function returns, where that is one literal."""
        returned = [self.parts(child) for child in walk(node) if child.type == "return_statement"]
        return self.value(returned[0][0], depth) if len(returned) == 1 and returned[0] else computed(node)


LANGUAGES = (ProgrammingLanguage((".go",), "tree_sitter_go", _File),)
