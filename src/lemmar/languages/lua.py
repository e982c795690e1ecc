"""Lua: local and global assignments, fields, functions; tables of literals; what a file returns."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Node
from lemmar.languages._literals import computed, list_node, source_of, text_node
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "expression_list"})
    numbers = frozenset({"number"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"nil"})
    texts = frozenset({"string"})
    comparisons = frozenset({"binary_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Assignments to names and fields, and functions."""
        for node in self.nodes(wanted):
            if node.type == "assignment_statement":
                parts = self.parts(node)
                names, values = (self.parts(parts[0]), self.parts(parts[-1])) if len(parts) > 1 else ([], [])
                for name, value in zip(names, values, strict=False):
                    yield Declaration(source_of(name).rpartition(".")[2], name, value)
            elif node.type == "function_declaration":
                found = node.child_by_field_name("name")
                if found is not None:
                    yield Declaration(source_of(found).replace(":", ".").rpartition(".")[2], found, node)

    def exported(self) -> list[Syntax]:
        """What the file itself returns."""
        returned = [node for node in self.root.named_children if node.type == "return_statement"]
        return [self.parts(part)[0] for node in returned for part in self.parts(node)[:1] if self.parts(part)]

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call."""
        for node in self.nodes(wanted):
            name, arguments = node.child_by_field_name("name"), node.child_by_field_name("arguments")
            if node.type == "function_call" and name is not None and arguments is not None:
                yield Call(source_of(name).replace(":", "."), node, [("", argument) for argument in self.parts(arguments)])

    def read_string(self, node: Syntax, _depth: int) -> Node:
        raw = self.text_of(node)
        if raw.startswith("["):
            inner = node.child_by_field_name("content")
            return text_node(node, source_of(inner).removeprefix("\n") if inner is not None else "")
        return self.quoted(node)

    def read_table_constructor(self, node: Syntax, depth: int) -> Node:
        fields = [part for part in self.parts(node) if part.type == "field"]
        pairs = [(part.child_by_field_name("name"), part.child_by_field_name("value")) for part in fields]
        if any(name is not None for name, _ in pairs):
            return self.entries(node, ((name, value) for name, value in pairs if name is not None and value is not None), depth)
        return list_node(node, (self.value(value, depth) for _, value in pairs if value is not None))

    def read_function_call(self, node: Syntax, depth: int) -> Node:
        name, arguments = node.child_by_field_name("name"), node.child_by_field_name("arguments")
        given = self.parts(arguments) if arguments is not None else []
        return self.call_value(node, source_of(name) if name is not None else "", None, given, depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_dot_index_expression(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("field")
        return self.member(node.child_by_field_name("table"), name, depth) if name is not None else computed(node)

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        if not any(child.type == ".." for child in node.children):
            return computed(node)
        return self.added(node, node.child_by_field_name("left"), node.child_by_field_name("right"), depth)


LANGUAGES = (ProgrammingLanguage((".lua",), "tree_sitter_lua", _File),)
