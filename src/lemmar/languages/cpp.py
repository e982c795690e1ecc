"""C++ and C, and Objective-C: variables, fields, enumerations and functions; lists and dictionaries of literals, messages."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.languages._literals import computed, joined, list_node, map_node, source_of, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "cast_expression"})
    numbers = frozenset({"number_literal"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"null"})
    texts = frozenset({"string_literal", "raw_string_literal", "concatenated_string"})
    cases = frozenset({"case_statement"})
    comparisons = frozenset({"binary_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Variables, fields, types, enumerations and functions."""
        for node in self.nodes(wanted):
            kind = node.type
            if kind in ("init_declarator", "field_declaration"):
                name = _declared_name(node.child_by_field_name("declarator"))
                value = node.child_by_field_name("value") or node.child_by_field_name("default_value")
                if name is not None and value is not None:
                    yield Declaration(source_of(name), name, value)
            elif kind in ("enum_specifier", "class_specifier", "struct_specifier", "namespace_definition"):
                name = node.child_by_field_name("name")
                if name is not None and node.child_by_field_name("body") is not None:
                    yield Declaration(source_of(name), name, node)
            elif kind == "function_definition":
                name = _declared_name(node.child_by_field_name("declarator"))
                if name is not None:
                    yield Declaration(source_of(name).rpartition("::")[2], name, node)
            elif kind == "method_definition":
                name = next((part for part in self.parts(node) if part.type == "identifier"), None)
                if name is not None:
                    yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls of functions and methods, and messages."""
        for node in self.nodes(wanted):
            if node.type == "call_expression":
                yield Call(self.name_of(node), node, [("", argument) for argument in self.arguments(node)])
            elif node.type == "message_expression":
                name, given = self.message(node)
                yield Call(name, node, given)

    def name_of(self, node: Syntax) -> str:
        """The dotted name of what is called."""
        function = node.child_by_field_name("function")
        name = "".join(source_of(function).split()).replace("::", ".").replace("->", ".") if function is not None else ""
        return name if "(" not in name else name.rpartition(".")[2]

    def arguments(self, node: Syntax) -> list[Syntax]:
        """The arguments of a call."""
        given = node.child_by_field_name("arguments")
        return self.parts(given) if given is not None else []

    def message(self, node: Syntax) -> tuple[str, list[tuple[str, Syntax]]]:
        """The name of a message, receiver and first part, and its arguments with the part each stands behind."""
        receiver = node.child_by_field_name("receiver")
        label, names, given = "", [], []
        for index, child in enumerate(node.children):
            if node.field_name_for_child(index) == "method":
                label = source_of(child)
                names.append(label)
            elif child.is_named and child.type not in self.comments and node.field_name_for_child(index) != "receiver":
                given.append((label, child))
        whole = source_of(receiver) if receiver is not None else ""
        return f"{whole}.{names[0]}" if names and whole.isidentifier() else (names or [""])[0], given

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """Also those that a message or function compares with."""
        if node.type == "message_expression":
            name, given = self.message(node)
            yield from self.compared(node, name, node.child_by_field_name("receiver"), [value for _, value in given])
        yield from super().literals_tested(node)

    def read_string_literal(self, node: Syntax, _depth: int) -> Node:
        return self.quoted(node, "@LuU8")

    def read_raw_string_literal(self, node: Syntax, _depth: int) -> Node:
        inner = next((part for part in node.named_children if part.type == "raw_string_content"), None)
        return text_node(node, source_of(inner) if inner is not None else "")

    def read_concatenated_string(self, node: Syntax, depth: int) -> Node:
        return joined(node, [self.value(part, depth) for part in self.parts(node)])

    def read_at_expression(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        return self.value(parts[0], depth) if parts else computed(node)

    def read_initializer_list(self, node: Syntax, depth: int) -> Node:
        """``{ … }``: items; pairs of texts are a map; one list in another of its own kind is that list."""
        items = [self.value(part, depth) for part in self.parts(node)]
        if len(items) == 1 and items[0].kind in ("list", "map") and self.parts(node)[0].type == "initializer_list":
            inner = self.parts(self.parts(node)[0])
            if inner and inner[0].type == "initializer_list":
                return items[0]
        if items and all(item.kind == "list" and len(item.items) == 2 and item.items[0].kind == "text" for item in items):
            return map_node(node, (Member(item.items[0].text, item.items[0].start, item.items[0].end, item.items[1]) for item in items))
        return list_node(node, [item for item in items if item.kind != "null"])

    def read_compound_literal_expression(self, node: Syntax, depth: int) -> Node:
        inner = node.child_by_field_name("value")
        return self.value(inner, depth) if inner is not None else computed(node)

    def read_array_literal(self, node: Syntax, depth: int) -> Node:
        return list_node(node, (self.value(part, depth) for part in self.parts(node)))

    def read_dictionary_literal(self, node: Syntax, depth: int) -> Node:
        pairs = [self.parts(part) for part in self.parts(node)]
        return self.entries(node, ((pair[0], pair[1]) for pair in pairs if len(pair) == 2), depth)

    def read_call_expression(self, node: Syntax, depth: int) -> Node:
        return self.call_value(node, self.name_of(node), None, self.arguments(node), depth)

    def read_message_expression(self, node: Syntax, depth: int) -> Node:
        name, given = self.message(node)
        return self.call_value(node, name, node.child_by_field_name("receiver"), [value for _, value in given], depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        if source_of(node) in ("nil", "NULL"):
            return Node("null", node.start_byte, node.end_byte)
        return self.named(node, depth)

    def read_qualified_identifier(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("name")
        return self.member(node.child_by_field_name("scope"), name, depth) if name is not None else computed(node)

    def read_field_expression(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("field")
        return self.member(node.child_by_field_name("argument"), name, depth) if name is not None else computed(node)

    def read_enum_specifier(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node):
            name, value = child.child_by_field_name("name"), child.child_by_field_name("value")
            if child.type == "enumerator" and name is not None:
                held = self.value(value, depth) if value is not None else Node("number", name.start_byte, name.end_byte, str(len(members)))
                members.append(Member(source_of(name), name.start_byte, name.end_byte, held))
        return map_node(node, members)

    def read_class_specifier(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node, frozenset({"compound_statement"})):
            if child.type in ("init_declarator", "field_declaration"):
                name = _declared_name(child.child_by_field_name("declarator"))
                value = child.child_by_field_name("value") or child.child_by_field_name("default_value")
                if name is not None and value is not None:
                    members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
        return map_node(node, members)

    read_struct_specifier = read_namespace_definition = read_class_specifier

    def read_function_definition(self, node: Syntax, depth: int) -> Node:
        """What a function returns, where that is one literal."""
        returned = [self.parts(child) for child in walk(node) if child.type == "return_statement"]
        return self.value(returned[0][0], depth) if len(returned) == 1 and returned[0] else computed(node)

    read_method_definition = read_function_definition


def _declared_name(declarator: Syntax | None) -> Syntax | None:
    """The name inside of pointers, arrays and parameters."""
    while declarator is not None and declarator.type not in ("identifier", "field_identifier", "qualified_identifier", "type_identifier"):
        declarator = declarator.child_by_field_name("declarator") or next(
            (child for child in declarator.named_children if child.type in ("identifier", "field_identifier")), None
        )
    return declarator


LANGUAGES = (
    ProgrammingLanguage((".cpp", ".cc", ".cxx", ".hpp", ".hh", ".hxx", ".h", ".c", ".ino"), "tree_sitter_cpp", _File),
    ProgrammingLanguage((".m", ".mm"), "tree_sitter_objc", _File),
)
