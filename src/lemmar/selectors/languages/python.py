"""Python: assignments in modules and classes, enumerations, dictionaries, lists, tuples and sets of literals."""

from __future__ import annotations

import ast
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Member, Node
from lemmar.selectors.languages import MAX_DEPTH, ProgrammingLanguage
from lemmar.selectors.languages.literals import computed, inside, joined, list_node, map_node, source_of, split_text, text_node, walk

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

_WRAPPERS = frozenset({"frozenset", "set", "tuple", "list", "dict", "MappingProxyType", "_", "gettext_lazy"})


class _File:
    def __init__(self, root: Syntax) -> None:
        self.root = root

    def declared(self, path: list[str]) -> list[Node]:
        name, *rest = path
        return inside([self.value(syntax, 0) for syntax in self.values_of(name)], rest)

    def values_of(self, name: str) -> list[Syntax]:
        """What each assignment to *name* is given; a class stands for its members."""
        found = []
        for node in walk(self.root):
            if node.type == "assignment":
                left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
                if left is not None and right is not None and source_of(left) == name:
                    found.append(right)
            elif node.type == "class_definition":
                target = node.child_by_field_name("name")
                if target is not None and source_of(target) == name:
                    found.append(node)
        return found

    def value(self, node: Syntax, depth: int) -> Node:
        """What the expression *node* is worth, as far as literals say."""
        if depth > MAX_DEPTH:
            return computed(node, "it is nested or refers to itself too deeply")
        read = getattr(self, f"read_{node.type}", None)
        found: Node = read(node, depth + 1) if read is not None else computed(node)
        return found

    def read_string(self, node: Syntax, _depth: int) -> Node:
        if any(child.type == "interpolation" for child in node.named_children):
            return computed(node)
        try:
            text = ast.literal_eval(source_of(node))
        except (ValueError, SyntaxError, MemoryError, RecursionError):
            return computed(node)
        return text_node(node, text) if isinstance(text, str) else computed(node)

    def read_concatenated_string(self, node: Syntax, depth: int) -> Node:
        return joined(node, [self.value(child, depth) for child in node.named_children if child.type != "comment"])

    def read_integer(self, node: Syntax, _depth: int) -> Node:
        return Node("number", node.start_byte, node.end_byte, source_of(node))

    read_float = read_integer

    def read_none(self, node: Syntax, _depth: int) -> Node:
        return Node("null", node.start_byte, node.end_byte)

    def read_true(self, node: Syntax, _depth: int) -> Node:
        return Node("bool", node.start_byte, node.end_byte, node.type)

    read_false = read_true

    def read_parenthesized_expression(self, node: Syntax, depth: int) -> Node:
        return self.value(node.named_children[0], depth) if node.named_children else computed(node)

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
                    name = self.value(key, depth)
                    members.append(Member(name.text, key.start_byte, key.end_byte, self.value(value, depth)))
            elif child.type == "dictionary_splat":
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                members += inner.members if inner.kind == "map" else [Member("…", child.start_byte, child.end_byte, computed(child))]
        return map_node(node, members)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        """What a name stands for in the same file."""
        values = self.values_of(source_of(node))
        if len(values) != 1:
            why = "comes from another file or is computed" if not values else "is assigned more than once"
            return computed(node, f"{source_of(node)!r} {why}")
        found = self.value(values[0], depth)
        return found if found.kind != "computed" else computed(node, found.text)

    def read_attribute(self, node: Syntax, depth: int) -> Node:
        """A member: of a class in the same file its value, else it is read by its last name."""
        whole, name = node.child_by_field_name("object"), node.child_by_field_name("attribute")
        if whole is None or name is None:
            return computed(node)
        if whole.type == "identifier" and len(self.values_of(source_of(whole))) == 1:
            found = inside([self.value(whole, depth)], [source_of(name)])
            if found:
                return found[-1]
        return text_node(name, source_of(name))

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
        if name == "Locale" and given:
            parts = [self.value(part, depth) for part in given]
            if all(part.kind == "text" for part in parts):
                return Node("text", given[0].start_byte, given[-1].end_byte, "-".join(part.text for part in parts))
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


def _parser() -> Parser:
    import tree_sitter_python
    from tree_sitter import Language, Parser

    return Parser(Language(tree_sitter_python.language()))


def _declared(root: Syntax, path: list[str]) -> list[Node]:
    return _File(root).declared(path) if path != ["*"] else []


def _catalog(root: Syntax) -> list[Node]:
    file = _File(root)
    outer = walk(root, frozenset({"function_definition", "class_definition", "dictionary"}))
    values = [node.child_by_field_name("right") for node in outer if node.type == "assignment"]
    return [node for value in values if value is not None and (node := file.value(value, 0)).kind == "map"]


LANGUAGES = (ProgrammingLanguage((".py",), _parser, _declared, _catalog),)
