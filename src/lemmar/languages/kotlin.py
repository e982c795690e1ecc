"""Kotlin: properties, objects, enumerations and functions; lists, sets and maps that functions make of literals; locales."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.languages._literals import computed, list_node, map_node, source_of, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile
from lemmar.languages.java import platform_locale

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "value_argument"})
    numbers = frozenset({"number_literal"})
    cases = frozenset({"when_entry"})
    comparisons = frozenset({"binary_expression", "infix_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Properties, objects, classes, enumerations and functions."""
        for node in self.nodes(wanted):
            parts = self.parts(node)
            if node.type == "property_declaration":
                at = next((index for index, part in enumerate(parts) if part.type == "variable_declaration"), None)
                if at is not None and len(parts) > at + 1:
                    name = self.parts(parts[at])[0]
                    getter = parts[at + 1]
                    yield Declaration(source_of(name), name, getter)
            elif node.type in ("class_declaration", "object_declaration", "function_declaration"):
                own = node.child_by_field_name("name") or next((part for part in parts if part.type.endswith("identifier")), None)
                if own is not None:
                    yield Declaration(source_of(own), own, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call; a named argument's name stands beside it."""
        for node in self.nodes(wanted):
            if node.type == "call_expression":
                yield Call(self.name_of(node), node, self.arguments(node))

    def name_of(self, node: Syntax) -> str:
        """The dotted name of what is called."""
        name = source_of(self.parts(node)[0])
        return name if "(" not in name else name.rpartition(".")[2]

    def receiver(self, node: Syntax) -> Syntax | None:
        """What a method is called of."""
        called = self.parts(node)[0]
        return self.parts(called)[0] if called.type == "navigation_expression" else None

    def arguments(self, node: Syntax) -> list[tuple[str, Syntax]]:
        """The arguments of a call with their names."""
        given = next((part for part in self.parts(node) if part.type == "value_arguments"), None)
        found = []
        for argument in self.parts(given) if given is not None else ():
            inner = self.parts(argument)
            named = len(inner) > 1 and any(child.type == "=" for child in argument.children)
            if inner:
                found.append((source_of(inner[0]) if named else "", inner[-1]))
        return found

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """Also those that ``equals`` compares with."""
        if node.type == "call_expression":
            yield from self.compared(node, self.name_of(node), self.receiver(node), [value for _, value in self.arguments(node)])
        yield from super().literals_tested(node)

    def read_string_literal(self, node: Syntax, _depth: int) -> Node:
        if "$" in self.text_of(node):
            return computed(node)
        return self.quoted(node)

    read_multiline_string_literal = read_string_literal

    def read_call_expression(self, node: Syntax, depth: int) -> Node:
        return self.call_value(node, self.name_of(node), self.receiver(node), [value for _, value in self.arguments(node)], depth)

    def read_infix_expression(self, node: Syntax, depth: int) -> Node:
        """``"en" to "English"``: a pair."""
        parts = self.parts(node)
        if len(parts) == 3 and source_of(parts[1]) == "to":
            return list_node(node, [self.value(parts[0], depth), self.value(parts[2], depth)])
        return computed(node)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        name = source_of(node)
        if name in ("true", "false"):  # words of the language, which the grammar takes for names
            return Node("bool", node.start_byte, node.end_byte, name)
        return Node("null", node.start_byte, node.end_byte) if name == "null" else self.named(node, depth)

    def read_navigation_expression(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        known = platform_locale(source_of(parts[0]), source_of(parts[-1]))
        return text_node(parts[-1], known) if known else self.member(parts[0], parts[-1], depth)

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        if len(parts) != 2 or not any(child.type == "+" for child in node.children):
            return computed(node)
        return self.added(node, parts[0], parts[1], depth)

    def read_class_declaration(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node, frozenset({"function_declaration", "function_body"})):
            parts = self.parts(child)
            if child.type == "enum_entry" and parts:
                name = next((part for part in parts if part.type == "identifier"), parts[0])
                given = self.arguments(child)
                held = self.value(given[0][1], depth) if given else Node("number", name.start_byte, name.end_byte, str(len(members)))
                members.append(Member(source_of(name), name.start_byte, name.end_byte, held))
            elif child.type == "property_declaration":
                at = next((index for index, part in enumerate(parts) if part.type == "variable_declaration"), None)
                if at is not None and len(parts) > at + 1:
                    name = self.parts(parts[at])[0]
                    members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(parts[at + 1], depth)))
        return map_node(node, members)

    read_object_declaration = read_companion_object = read_class_declaration


LANGUAGES = (ProgrammingLanguage((".kt", ".kts"), "tree_sitter_kotlin", _File),)
