"""Java: fields, constants, enumerations and methods; arrays, lists, sets and maps of literals; locales and their constants."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.languages._literals import computed, list_node, map_node, source_of, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_TYPES = frozenset({"class_declaration", "interface_declaration", "enum_declaration", "record_declaration"})
# What the platform calls its own locales, as it writes them.
_CONSTANTS = {
    "ENGLISH": "en",
    "FRENCH": "fr",
    "GERMAN": "de",
    "ITALIAN": "it",
    "JAPANESE": "ja",
    "KOREAN": "ko",
    "CHINESE": "zh",
    "SIMPLIFIED_CHINESE": "zh_CN",
    "TRADITIONAL_CHINESE": "zh_TW",
    "PRC": "zh_CN",
    "CHINA": "zh_CN",
    "TAIWAN": "zh_TW",
    "FRANCE": "fr_FR",
    "GERMANY": "de_DE",
    "ITALY": "it_IT",
    "JAPAN": "ja_JP",
    "KOREA": "ko_KR",
    "UK": "en_GB",
    "US": "en_US",
    "CANADA": "en_CA",
    "CANADA_FRENCH": "fr_CA",
}


def platform_locale(whole: str, name: str) -> str | None:
    """The locale that a constant such as ``Locale.GERMANY`` is."""
    return _CONSTANTS.get(name) if whole.rpartition(".")[2] == "Locale" else None


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "cast_expression"})
    numbers = frozenset({"decimal_integer_literal", "hex_integer_literal", "decimal_floating_point_literal"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"null_literal"})
    cases = frozenset({"switch_label"})
    comparisons = frozenset({"binary_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Fields, variables, types and methods; a type stands for its members."""
        for node in self.nodes(wanted):
            name, value = node.child_by_field_name("name"), node.child_by_field_name("value")
            if node.type == "variable_declarator" and name is not None and value is not None:
                yield Declaration(source_of(name), name, value)
            elif (node.type in _TYPES or node.type == "method_declaration") and name is not None:
                yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls of methods, and objects that are made."""
        for node in self.nodes(wanted):
            if node.type in ("method_invocation", "object_creation_expression"):
                yield Call(self.name_of(node), node, [("", argument) for argument in self.arguments(node)])

    def name_of(self, node: Syntax) -> str:
        """The dotted name of what is called or made."""
        whole = node.child_by_field_name("object")
        name = node.child_by_field_name("name") or node.child_by_field_name("type")
        last = source_of(name) if name is not None else ""
        return f"{source_of(whole)}.{last}" if whole is not None and "(" not in source_of(whole) else last

    def arguments(self, node: Syntax) -> list[Syntax]:
        """The arguments of a call."""
        given = node.child_by_field_name("arguments")
        return self.parts(given) if given is not None else []

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """Also those that ``equals`` compares with."""
        if node.type == "method_invocation":
            yield from self.compared(node, self.name_of(node), node.child_by_field_name("object"), self.arguments(node))
        yield from super().literals_tested(node)

    def read_string_literal(self, node: Syntax, _depth: int) -> Node:
        return self.quoted(node)

    def read_array_initializer(self, node: Syntax, depth: int) -> Node:
        return list_node(node, (self.value(part, depth) for part in self.parts(node)))

    def read_array_creation_expression(self, node: Syntax, depth: int) -> Node:
        inner = node.child_by_field_name("value")
        return self.value(inner, depth) if inner is not None else computed(node)

    def read_method_invocation(self, node: Syntax, depth: int) -> Node:
        return self.call_value(node, self.name_of(node), node.child_by_field_name("object"), self.arguments(node), depth)

    def read_object_creation_expression(self, node: Syntax, depth: int) -> Node:
        return self.call_value(node, self.name_of(node).partition("<")[0], None, self.arguments(node), depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_field_access(self, node: Syntax, depth: int) -> Node:
        whole, name = node.child_by_field_name("object"), node.child_by_field_name("field")
        if name is None:
            return computed(node)
        known = platform_locale(source_of(whole), source_of(name)) if whole is not None else None
        return text_node(name, known) if known else self.member(whole, name, depth)

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        if not any(child.type == "+" for child in node.children):
            return computed(node)
        return self.added(node, node.child_by_field_name("left"), node.child_by_field_name("right"), depth)

    def read_enum_declaration(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node):
            name = child.child_by_field_name("name") if child.type == "enum_constant" else None
            if name is not None:
                given = self.arguments(child)
                held = self.value(given[0], depth) if given else Node("number", name.start_byte, name.end_byte, str(len(members)))
                members.append(Member(source_of(name), name.start_byte, name.end_byte, held))
        return map_node(node, members)

    def read_class_declaration(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node, frozenset({"block", "method_declaration", "constructor_declaration"})):
            name, value = child.child_by_field_name("name"), child.child_by_field_name("value")
            if child.type == "variable_declarator" and name is not None and value is not None:
                members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
        return map_node(node, members)

    read_interface_declaration = read_record_declaration = read_class_declaration


LANGUAGES = (ProgrammingLanguage((".java",), "tree_sitter_java", _File),)
