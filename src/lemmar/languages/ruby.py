"""Ruby: constants, assignments to settings, methods; arrays, words, symbols and hashes of literals."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.languages._literals import computed, list_node, map_node, source_of, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_statements", "pattern"})
    numbers = frozenset({"integer", "float"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"nil"})
    texts = frozenset({"string", "simple_symbol", "delimited_symbol", "bare_string", "bare_symbol"})
    cases = frozenset({"when"})
    comparisons = frozenset({"binary"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Constants, variables, settings that are assigned to, modules, classes and methods."""
        for node in self.nodes(wanted):
            if node.type in ("assignment", "operator_assignment"):
                left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
                if left is not None and right is not None:
                    yield Declaration(source_of(left).rpartition(".")[2].lstrip("@$"), left, right)
            elif node.type in ("module", "class", "method", "singleton_method"):
                name = node.child_by_field_name("name")
                if name is not None:
                    yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls with arguments; a keyword's name stands beside its value."""
        for node in self.nodes(wanted):
            if node.type == "call" and node.child_by_field_name("arguments") is not None:
                yield Call(self.name_of(node), node, self.arguments(node))

    def name_of(self, node: Syntax) -> str:
        """The dotted name of what is called."""
        receiver, method = node.child_by_field_name("receiver"), node.child_by_field_name("method")
        last = source_of(method) if method is not None else ""
        whole = source_of(receiver) if receiver is not None else ""
        return f"{whole}.{last}" if whole and "(" not in whole and "\n" not in whole and "[" not in whole else last

    def arguments(self, node: Syntax) -> list[tuple[str, Syntax]]:
        """The arguments of a call with their keywords."""
        given = node.child_by_field_name("arguments")
        found = []
        for argument in self.parts(given) if given is not None else ():
            key, value = argument.child_by_field_name("key"), argument.child_by_field_name("value")
            if argument.type == "pair" and key is not None and value is not None:
                found.append((source_of(key).strip(":"), value))
            else:
                found.append(("", argument))
        return found

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """Also those that a method compares with."""
        if node.type == "call":
            yield from self.compared(
                node, self.name_of(node), node.child_by_field_name("receiver"), [value for _, value in self.arguments(node)]
            )
        yield from super().literals_tested(node)

    def read_string(self, node: Syntax, _depth: int) -> Node:
        if any(child.type == "interpolation" for child in node.named_children):
            return computed(node)
        raw = self.text_of(node)
        if raw.startswith("%"):
            return text_node(node, raw[3:-1])
        return self.quoted(node) if raw.startswith('"') else text_node(node, raw[1:-1].replace("\\'", "'"))

    def read_simple_symbol(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, self.text_of(node).lstrip(":"))

    def read_delimited_symbol(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, self.text_of(node).lstrip(":").strip("\"'"))

    def read_bare_string(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, self.text_of(node))

    read_bare_symbol = read_bare_string

    def read_array(self, node: Syntax, depth: int) -> Node:
        return list_node(node, (self.value(part, depth) for part in self.parts(node)))

    read_string_array = read_symbol_array = read_array

    def read_hash(self, node: Syntax, depth: int) -> Node:
        pairs = [(part.child_by_field_name("key"), part.child_by_field_name("value")) for part in self.parts(node)]
        return self.entries(node, ((key, value) for key, value in pairs if key is not None and value is not None), depth)

    def read_call(self, node: Syntax, depth: int) -> Node:
        receiver = node.child_by_field_name("receiver")
        given = [value for _, value in self.arguments(node)]
        if self.name_of(node).rpartition(".")[2] in ("map", "to_sym", "to_s") and receiver is not None:
            return self.value(receiver, depth)
        return self.call_value(node, self.name_of(node), receiver, given, depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    read_constant = read_identifier

    def read_scope_resolution(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("name")
        return self.member(node.child_by_field_name("scope"), name, depth) if name is not None else computed(node)

    def read_binary(self, node: Syntax, depth: int) -> Node:
        if not any(child.type in ("+", "|") for child in node.children):
            return computed(node)
        return self.added(node, node.child_by_field_name("left"), node.child_by_field_name("right"), depth)

    def read_module(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node, frozenset({"method", "singleton_method"})):
            left, right = child.child_by_field_name("left"), child.child_by_field_name("right")
            if child.type == "assignment" and left is not None and right is not None:
                members.append(Member(source_of(left), left.start_byte, left.end_byte, self.value(right, depth)))
        return map_node(node, members)

    read_class = read_module

    def read_method(self, node: Syntax, depth: int) -> Node:
        """What a method gives, where its body is one literal."""
        body = node.child_by_field_name("body")
        inner = self.parts(body) if body is not None else []
        return self.value(inner[0], depth) if len(inner) == 1 and inner[0].type != "case" else computed(node)

    read_singleton_method = read_method


LANGUAGES = (ProgrammingLanguage((".rb", ".rake", ".ru"), "tree_sitter_ruby", _File),)
