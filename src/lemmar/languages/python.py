"""Python: assignments in modules and classes, enumerations, dictionaries, lists, tuples and sets of literals."""

from __future__ import annotations

import ast
from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import UNNAMED, Member, Node
from lemmar.documents.quoting import quoted
from lemmar.languages._literals import computed, joined, list_node, map_node, member, source_of, split_text, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import LOCALE_MAKERS, Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_WRAPPERS = frozenset({"frozenset", "set", "tuple", "list", "dict", "MappingProxyType", "_", "gettext_lazy"})


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression"})
    numbers = frozenset({"integer", "float"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"none"})
    cases = frozenset({"case_clause"})
    comparisons = frozenset({"comparison_operator"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Assignments, classes and functions."""
        for node in self.nodes(wanted):
            if node.type == "assignment":
                left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
                if left is not None and right is not None:
                    yield Declaration(source_of(left).rpartition(".")[2], left, right)
            elif node.type in ("class_definition", "function_definition"):
                name = node.child_by_field_name("name")
                if name is not None:
                    yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call, methods too."""
        for node in self.nodes(wanted):
            function, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
            if node.type == "call" and function is not None and arguments is not None:
                given = []
                for child in self.parts(arguments):
                    name, value = child.child_by_field_name("name"), child.child_by_field_name("value")
                    if child.type == "keyword_argument" and name is not None and value is not None:
                        given.append((source_of(name), value))
                    else:
                        given.append(("", child))
                yield Call(source_of(function), node, given)

    def catalog(self) -> list[Node]:
        """The maps that are assigned outside of functions and classes."""
        outer = walk(self.root, frozenset({"function_definition", "class_definition", "dictionary"}))
        values = [node.child_by_field_name("right") for node in outer if node.type == "assignment"]
        return [node for value in values if value is not None and (node := self.value(value)).kind == "map"]

    read_lambda = read_function_definition = SourceFile.returned

    def read_string(self, node: Syntax, _depth: int) -> Node:
        if any(child.type == "interpolation" for child in node.named_children):
            return computed(node)
        try:
            text = ast.literal_eval(source_of(node))
        except (ValueError, SyntaxError, MemoryError, RecursionError):
            return computed(node)
        if not isinstance(text, str):
            return computed(node)
        return Node("text", node.start_byte, node.end_byte, text)  # escapes for halves of a character stay halves in Python

    def read_concatenated_string(self, node: Syntax, depth: int) -> Node:
        return joined(node, [self.value(child, depth) for child in node.named_children if child.type != "comment"])

    def read_list(self, node: Syntax, depth: int) -> Node:
        items: list[Node] = []
        for child in node.named_children:
            if child.type == "list_splat":
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                items += inner.items if inner.kind == "list" else [inner if inner.kind == "computed" else computed(child)]
            elif child.type != "comment":
                items.append(self.value(child, depth))
        return list_node(node, items)

    read_tuple = read_set = read_expression_list = read_list

    def read_dictionary(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in node.named_children:
            if child.type == "pair":
                key, value = child.child_by_field_name("key"), child.child_by_field_name("value")
                if key is not None and value is not None:
                    members.append(member(key, self.value(key, depth), self.value(value, depth)))
            elif child.type == "dictionary_splat":
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                members += inner.members if inner.kind == "map" else [Member(UNNAMED, child.start_byte, child.end_byte, computed(child))]
        return map_node(node, members)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_attribute(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("attribute")
        return self.member(node.child_by_field_name("object"), name, depth) if name is not None else computed(node)

    def read_binary_operator(self, node: Syntax, depth: int) -> Node:
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        operator = node.child_by_field_name("operator")
        if left is None or right is None or operator is None or source_of(operator) not in ("+", "|"):
            return computed(node)
        first, second = self.value(left, depth), self.value(right, depth)
        if first.kind == second.kind == "list":
            return list_node(node, [*first.items, *second.items])
        if first.kind == second.kind == "map":
            return map_node(node, [*first.members, *second.members])
        return joined(node, [first, second])

    def read_call(self, node: Syntax, depth: int) -> Node:
        function, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        given = [child for child in arguments.named_children if child.type != "comment"] if arguments is not None else []
        if function is None:
            return computed(node)
        name = source_of(function).rpartition(".")[2]
        if name in _WRAPPERS and len(given) == 1:
            return self.value(given[0], depth)
        if name == "split" and function.type == "attribute" and given:
            inner = function.child_by_field_name("object")
            return split_text(node, self.value(inner, depth), self.value(given[0], depth)) if inner is not None else computed(node)
        if name in LOCALE_MAKERS and given:
            return self.locale_of(node, given, depth)
        return computed(node)

    def read_class_definition(self, node: Syntax, depth: int) -> Node:
        body = node.child_by_field_name("body")
        members = []
        for statement in body.named_children if body is not None else ():
            for child in statement.named_children if statement.type == "expression_statement" else ():
                left, right = child.child_by_field_name("left"), child.child_by_field_name("right")
                if child.type == "assignment" and left is not None and right is not None:
                    members.append(Member(source_of(left), left.start_byte, left.end_byte, self.value(right, depth)))
        return map_node(node, members)


def _quoted(text: str) -> str:
    """A literal; Python has no pairs of surrogates (language reference, section 2.4.1)."""
    return quoted(text, code=lambda sign: f"\\u{ord(sign):04x}" if ord(sign) < 0x10000 else f"\\U{ord(sign):08x}")


LANGUAGES = (
    ProgrammingLanguage((".py",), "tree_sitter_python", _File, catalogs=True, quoted=_quoted),
    ProgrammingLanguage((".pyi",), "tree_sitter_python", _File),
)
