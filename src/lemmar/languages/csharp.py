"""C#: fields, constants, properties and enumerations; arrays, lists, dictionaries and cultures made of literals."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import UNNAMED, Member, Node
from lemmar.languages import ProgrammingLanguage
from lemmar.languages._literals import computed, inside, list_node, map_node, source_of, split_text, text_node, walk
from lemmar.languages._sourcefile import MAX_DEPTH, Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_TYPES = frozenset({"class_declaration", "struct_declaration", "record_declaration", "interface_declaration"})
_ESCAPE = expression(r"\\(?:u([0-9a-fA-F]{4})|x([0-9a-fA-F]{1,4})|(.))", re.DOTALL)
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "0": "\0", "a": "\a", "b": "\b", "f": "\f", "v": "\v"}
_CULTURES = ("CultureInfo", "GetCultureInfo", "RegionInfo")
_COPIES = ("ToArray", "ToList", "AsReadOnly", "ToImmutableArray", "ToHashSet", "ToFrozenSet", "ToImmutableList")


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "constant_pattern", "cast_expression"})
    numbers = frozenset({"integer_literal", "real_literal"})
    booleans = frozenset({"boolean_literal"})
    nulls = frozenset({"null_literal"})
    texts = frozenset({"string_literal", "verbatim_string_literal", "raw_string_literal"})
    cases = frozenset({"switch_section", "switch_expression_arm"})
    comparisons = frozenset({"binary_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Fields, constants, properties, types, enumerations and methods; a type stands for its members."""
        for node in self.nodes(wanted):
            name = node.child_by_field_name("name")
            if name is None:
                continue
            if node.type in _TYPES or node.type in ("enum_declaration", "method_declaration", "local_function_statement"):
                yield Declaration(source_of(name), name, node)
            elif node.type in ("variable_declarator", "property_declaration"):
                value = _given(node)
                yield Declaration(source_of(name), name, value if value is not None else node)

    def values_of(self, name: str) -> list[Syntax]:
        """What each declaration of *name* is given; what is given nothing (a property with a body) is none."""
        return [value for value in super().values_of(name) if value.type not in ("variable_declarator", "property_declaration")]

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls of methods, and objects that are made."""
        for node in self.nodes(wanted):
            if node.type in ("invocation_expression", "object_creation_expression"):
                function = node.child_by_field_name("function") or node.child_by_field_name("type")
                if function is not None:
                    name = "".join(source_of(function).split())
                    given = [("", argument) for argument in _arguments(node.child_by_field_name("arguments"))]
                    yield Call(name if "(" not in name else name.rpartition(".")[2], node, given)

    def value(self, node: Syntax, depth: int = 0) -> Node:
        """What the expression *node* is worth, as far as literals say."""
        if node.type in _TYPES and depth <= MAX_DEPTH:
            return self.type_members(node, depth + 1)
        return super().value(node, depth)

    def catalog(self) -> list[Node]:
        """The maps that fields and properties are given."""
        values = [_given(node) for node in walk(self.root) if node.type in ("variable_declarator", "property_declaration")]
        return [node for value in values if value is not None and (node := self.value(value)).kind == "map"]

    # ------------------------------------------------------------------------------------------------------------ literals

    def read_string_literal(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, _ESCAPE.sub(_unescape, source_of(node)[1:-1]))

    def read_verbatim_string_literal(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, source_of(node)[2:-1].replace('""', '"'))

    def read_raw_string_literal(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, source_of(node).strip('"').strip())

    def read_character_literal(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, _ESCAPE.sub(_unescape, source_of(node)[1:-1]))

    def read_initializer_expression(self, node: Syntax, depth: int) -> Node:
        """``{ … }``: items, or pairs of a dictionary in either of its two forms."""
        children = [child for child in node.named_children if child.type != "comment"]
        pairs = [self.pair(child, depth) for child in children]
        members = [pair for pair in pairs if pair is not None]
        if members and len(members) == len(children):
            return map_node(node, members)
        return list_node(node, (self.value(child, depth) for child in children))

    def pair(self, node: Syntax, depth: int) -> Member | None:
        if node.type == "initializer_expression" and len(node.named_children) == 2:
            key, value = (self.value(child, depth) for child in node.named_children)
        elif node.type == "assignment_expression":
            left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
            if left is None or right is None:
                return None
            texts = [part for part in walk(left) if part.type == "string_literal"]
            named = [part for part in walk(left) if part.type == "member_access_expression"]
            key = self.value((texts or named)[0], depth) if texts or named else text_node(left, source_of(left))
            value = self.value(right, depth)
        else:
            return None
        return Member(UNNAMED if key.kind == "computed" else key.text, key.start, key.end, value)

    def read_array_creation_expression(self, node: Syntax, depth: int) -> Node:
        inner = next((child for child in node.named_children if child.type == "initializer_expression"), None)
        return self.value(inner, depth) if inner is not None else computed(node)

    read_implicit_array_creation_expression = read_array_creation_expression

    def read_collection_expression(self, node: Syntax, depth: int) -> Node:
        items: list[Node] = []
        for child in node.named_children:
            if child.type == "comment":
                continue
            if child.type == "collection_element" and child.named_children:
                child = child.named_children[0]
            if child.type == "spread_element":
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                items += inner.items if inner.kind == "list" else [inner if inner.kind == "computed" else computed(child)]
            else:
                items.append(self.value(child.named_children[0] if child.type == "expression_element" else child, depth))
        return list_node(node, items)

    def read_object_creation_expression(self, node: Syntax, depth: int) -> Node:
        inner = next((child for child in node.named_children if child.type == "initializer_expression"), None)
        arguments = node.child_by_field_name("arguments")
        made = node.child_by_field_name("type")
        name = source_of(made).rpartition(".")[2] if made is not None else ""
        if name in _CULTURES:
            return self.culture(node, arguments, depth)
        if inner is not None:
            return self.value(inner, depth)
        given = _arguments(arguments)
        return self.value(given[0], depth) if len(given) == 1 else computed(node)

    read_implicit_object_creation_expression = read_object_creation_expression

    def culture(self, node: Syntax, arguments: Syntax | None, depth: int) -> Node:
        given = _arguments(arguments)
        return self.value(given[0], depth) if given else computed(node)

    def read_invocation_expression(self, node: Syntax, depth: int) -> Node:
        function, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        if function is None:
            return computed(node)
        inner, name = function.child_by_field_name("expression"), function.child_by_field_name("name")
        method = source_of(name) if name is not None else source_of(function)
        given = _arguments(arguments)
        if method in _CULTURES:
            return self.culture(node, arguments, depth)
        if method == "Split" and inner is not None and given:
            return split_text(node, self.value(inner, depth), self.value(given[0], depth))
        if method in _COPIES and inner is not None:
            return self.value(inner, depth)
        return computed(node)

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        if left is None or right is None or not any(child.type == "+" for child in node.children):
            return computed(node)
        return self.added(node, left, right, depth)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_member_access_expression(self, node: Syntax, depth: int) -> Node:
        """A member: of a type in the same file its value, of an enumeration or elsewhere its last name."""
        whole, name = node.child_by_field_name("expression"), node.child_by_field_name("name")
        if whole is None or name is None:
            return computed(node)
        values = self.values_of(source_of(whole)) if whole.type == "identifier" else []
        if len(values) == 1 and values[0].type in _TYPES:
            found = inside([self.value(values[0], depth)], [source_of(name)])
            if found:
                return found[-1]
        return text_node(name, source_of(name))

    # --------------------------------------------------------------------------------------------------- types, enumerations

    def type_members(self, node: Syntax, depth: int) -> Node:
        body = node.child_by_field_name("body")
        members = []
        for child in walk(body, frozenset({"block", "arrow_expression_clause", *_TYPES})) if body is not None else ():
            name = child.child_by_field_name("name")
            value = _given(child) if child.type in ("variable_declarator", "property_declaration") else None
            if child.type == "enum_declaration" or (child.type in _TYPES and child.id != node.id):
                value = child
            if name is not None and value is not None:
                members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
        return map_node(node, members)

    def read_enum_declaration(self, node: Syntax, _depth: int) -> Node:
        body = node.child_by_field_name("body")
        members: list[Member] = []
        for child in body.named_children if body is not None else ():
            name = child.child_by_field_name("name")
            if child.type == "enum_member_declaration" and name is not None:
                value = child.child_by_field_name("value")
                held = Node("number", name.start_byte, name.end_byte, source_of(value) if value is not None else str(len(members)))
                members.append(Member(source_of(name), name.start_byte, name.end_byte, held))
        return map_node(node, members)


def _given(node: Syntax) -> Syntax | None:
    """The expression that a variable or property is given."""
    value = node.child_by_field_name("value")
    if value is None and node.type == "variable_declarator":
        rest = [child for child in node.named_children if child.type not in ("identifier", "comment", "bracketed_argument_list")]
        value = rest[-1] if rest else None
    if value is not None and value.type == "arrow_expression_clause":
        value = value.named_children[0] if value.named_children else None
    return value


def _arguments(arguments: Syntax | None) -> list[Syntax]:
    return (
        [child.named_children[-1] for child in arguments.named_children if child.type == "argument" and child.named_children]
        if arguments is not None
        else []
    )


def _unescape(match: re.Match[str]) -> str:
    code = match.group(1) or match.group(2)
    return chr(int(code, 16)) if code else _SHORT.get(match.group(3), match.group(3))


LANGUAGES = (ProgrammingLanguage((".cs",), "tree_sitter_c_sharp", _File),)
