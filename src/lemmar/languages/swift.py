"""Swift: constants, properties, enumerations with raw values and functions; arrays, dictionaries and locales of literals."""

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
    wrappers = frozenset({"tuple_expression", "value_argument", "try_expression", "statements", "pattern"})
    numbers = frozenset({"integer_literal", "real_literal"})
    booleans = frozenset({"boolean_literal"})
    nulls = frozenset({"nil_literal"})
    texts = frozenset({"line_string_literal", "multi_line_string_literal"})
    cases = frozenset({"switch_entry"})
    comparisons = frozenset({"equality_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Constants, variables, properties, types and functions."""
        for node in self.nodes(wanted):
            name = node.child_by_field_name("name")
            if node.type == "property_declaration" and name is not None:
                value = node.child_by_field_name("value") or node.child_by_field_name("computed_value")
                if value is not None:
                    yield Declaration(source_of(name), name, value)
            elif node.type in ("class_declaration", "protocol_declaration", "function_declaration") and name is not None:
                yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call; an argument's label stands beside it."""
        for node in self.nodes(wanted):
            if node.type == "call_expression":
                yield Call(self.name_of(node), node, self.arguments(node))

    def name_of(self, node: Syntax) -> str:
        """The dotted name of what is called."""
        name = "".join(source_of(self.parts(node)[0]).split())
        return name if "(" not in name else name.rpartition(".")[2]

    def receiver(self, node: Syntax) -> Syntax | None:
        """What a method is called of."""
        called = self.parts(node)[0]
        return called.child_by_field_name("target") if called.type == "navigation_expression" else None

    def arguments(self, node: Syntax) -> list[tuple[str, Syntax]]:
        """The arguments of a call with their labels."""
        found = []
        for suffix in self.parts(node)[1:]:
            for given in self.parts(suffix) if suffix.type == "call_suffix" else ():
                for argument in self.parts(given) if given.type == "value_arguments" else ():
                    value, label = argument.child_by_field_name("value"), argument.child_by_field_name("name")
                    if value is not None:
                        found.append((source_of(label) if label is not None else "", value))
        return found

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """Also those that ``hasPrefix`` compares with."""
        if node.type == "call_expression":
            yield from self.compared(node, self.name_of(node), self.receiver(node), [value for _, value in self.arguments(node)])
        yield from super().literals_tested(node)

    def read_line_string_literal(self, node: Syntax, _depth: int) -> Node:
        if any(child.type.startswith("interpol") for child in node.named_children):
            return computed(node)
        return self.quoted(node)

    read_multi_line_string_literal = read_line_string_literal

    def read_array_literal(self, node: Syntax, depth: int) -> Node:
        return list_node(node, (self.value(part, depth) for part in self.parts(node)))

    def read_dictionary_literal(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        return self.entries(node, zip(parts[::2], parts[1::2], strict=False), depth)

    def read_computed_property(self, node: Syntax, depth: int) -> Node:
        returned = [child for child in walk(node) if child.type == "control_transfer_statement"]
        inner = returned[0].child_by_field_name("result") if len(returned) == 1 else None
        if inner is None and not returned:
            found = [part for child in self.parts(node) for part in self.parts(child)]
            inner = found[0] if len(found) == 1 else None
        return self.value(inner, depth) if inner is not None else computed(node)

    def read_call_expression(self, node: Syntax, depth: int) -> Node:
        given = [value for label, value in self.arguments(node)]
        return self.call_value(node, self.name_of(node), self.receiver(node), given, depth)

    def read_simple_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_navigation_expression(self, node: Syntax, depth: int) -> Node:
        whole, suffix = node.child_by_field_name("target"), node.child_by_field_name("suffix")
        name = suffix.child_by_field_name("suffix") if suffix is not None else None
        return self.member(whole, name, depth) if name is not None else computed(node)

    def read_prefix_expression(self, node: Syntax, _depth: int) -> Node:
        """``.german``: a member whose type is known from where it stands."""
        parts = self.parts(node)
        return text_node(parts[-1], source_of(parts[-1])) if parts and self.text_of(node).startswith(".") else computed(node)

    def read_additive_expression(self, node: Syntax, depth: int) -> Node:
        parts = self.parts(node)
        return self.added(node, parts[0], parts[-1], depth) if len(parts) == 2 else computed(node)

    def read_class_declaration(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node, frozenset({"function_declaration", "function_body"})):
            if child.type == "enum_entry":
                members += self.entry(child, len(members), depth)
            name = child.child_by_field_name("name")
            value = child.child_by_field_name("value") or child.child_by_field_name("computed_value")
            if child.type == "property_declaration" and name is not None and value is not None:
                members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
        return map_node(node, members)

    def entry(self, node: Syntax, first: int, depth: int) -> list[Member]:
        """The members of one ``case``; one without a raw value is its own name, as in an enumeration of texts."""
        found: list[Member] = []
        for index, child in enumerate(node.children):
            field = node.field_name_for_child(index)
            if field == "name":
                found.append(Member(source_of(child), child.start_byte, child.end_byte, text_node(child, source_of(child).strip("`"))))
            elif field == "raw_value" and found:
                found[-1] = found[-1]._replace(node=self.value(child, depth))
        return found


LANGUAGES = (ProgrammingLanguage((".swift",), "tree_sitter_swift", _File),)
