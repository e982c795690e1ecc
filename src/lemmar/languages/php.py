"""PHP: returned arrays, constants, static properties and variables; concatenation, heredocs and nowdocs."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import UNNAMED, Member, Node
from lemmar.documents.quoting import quoted
from lemmar.languages._literals import computed, joined, list_node, map_node, member, source_of, split_text, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._plain import PlainLiteral
from lemmar.languages._sourcefile import Call, Declaration, SourceFile

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_ESCAPE = expression(r"\\(?:u\{([0-9a-fA-F]{1,6})\}|x([0-9a-fA-F]{1,2})|([0-7]{1,3})|(.))", re.DOTALL)
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "v": "\v", "e": "\x1b", "f": "\f", "\\": "\\", "$": "$", '"': '"'}
_CALCULATED = frozenset(
    {"variable_name", "member_access_expression", "subscript_expression", "dynamic_variable_name", "function_call_expression"}
)


class _File(SourceFile):
    wrappers = frozenset({"parenthesized_expression", "argument"})
    numbers = frozenset({"integer", "float"})
    booleans = frozenset({"boolean"})
    nulls = frozenset({"null"})
    texts = frozenset({"string", "encapsed_string"})
    cases = frozenset({"case_statement", "match_conditional_expression"})
    comparisons = frozenset({"binary_expression"})

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Constants, properties, variables, types and functions; a type stands for its members."""
        for node in self.nodes(wanted):
            kind = node.type
            if kind == "const_element" and len(node.named_children) > 1:
                yield Declaration(source_of(node.named_children[0]), node.named_children[0], node.named_children[-1])
            elif kind in _NAMED:
                name = node.child_by_field_name("name")
                if name is not None:
                    yield Declaration(source_of(name), name, node)
            elif kind in ("property_element", "assignment_expression"):
                target = node.child_by_field_name("name") or node.child_by_field_name("left")
                value = node.child_by_field_name("default_value") or node.child_by_field_name("right")
                if target is not None and value is not None:
                    yield Declaration(source_of(target).rpartition("->")[2].lstrip("$"), target, value)

    def values_of(self, name: str) -> list[Syntax]:
        """What each declaration of *name*, with or without its ``$``, is given."""
        return super().values_of(name.lstrip("$"))

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls of functions and methods, and objects that are made."""
        for node in self.nodes(wanted):
            if node.type not in _CALLS:
                continue
            name = node.child_by_field_name("function") or node.child_by_field_name("name") or next(iter(self.parts(node)), None)
            arguments = node.child_by_field_name("arguments") or next((part for part in self.parts(node) if part.type == "arguments"), None)
            if name is not None and arguments is not None:
                given = []
                for child in self.parts(arguments):
                    label = child.child_by_field_name("name")
                    if child.named_children:
                        given.append((source_of(label) if label is not None else "", child.named_children[-1]))
                yield Call(source_of(name).rpartition("\\")[2], node, given)

    def exported(self) -> list[Syntax]:
        """What the file itself returns."""
        outer = walk(self.root, frozenset({"function_definition", "method_declaration", "anonymous_function", "arrow_function"}))
        return [node.named_children[0] for node in outer if node.type == "return_statement" and node.named_children]

    def forwarded(self) -> str | None:
        """``return require __DIR__ . "/x.php"``, or ``include``."""
        for value in self.exported():
            if value.type in ("require_expression", "require_once_expression", "include_expression", "include_once_expression"):
                texts = [node for node in walk(value) if node.type in self.texts]
                if len(texts) == 1:
                    return self.value(texts[0]).text.lstrip("/")
        return None

    def catalog(self) -> list[Node]:
        """What the file returns, else the maps that it assigns."""
        returned = [self.value(syntax) for syntax in self.exported()]
        if returned:
            arrays = (Node("map", node.start, node.end) if node.kind == "list" and not node.items else node for node in returned)
            return [node for node in arrays if node.kind in ("map", "computed")]  # an array without anything in it is either
        filled = self.filled()
        values = [node.child_by_field_name("right") for node in walk(self.root) if node.type == "assignment_expression"]
        maps = [node for value in values if value is not None and (node := self.value(value)).kind == "map"]
        if maps or filled.members:
            return [*maps, *([filled] if filled.members else [])]
        defined = [call.arguments for call in self.calls() if call.name == "define" and len(call.arguments) > 1]
        names = [(self.value(given[0][1]), self.value(given[1][1])) for given in defined]
        members = [Member(name.text, name.start, name.end, value) for name, value in names if name.kind == "text"]
        return [map_node(self.root, members)] if members else []

    def filled(self) -> Node:
        """The map that assignments to items of an array make: ``$texts['a']['b'] = 'x';``."""
        whole = Node("map", self.root.start_byte, self.root.end_byte)
        for node in walk(self.root):
            left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
            if node.type != "assignment_expression" or left is None or right is None or left.type != "subscript_expression":
                continue
            steps: list[Node] = []
            while left.type == "subscript_expression" and len(left.named_children) > 1:
                steps.insert(0, self.value(left.named_children[1]))
                left = left.named_children[0]
            if steps and all(step.kind in ("text", "number") for step in steps):
                _put(whole, steps, self.value(right))
        return whole

    read_arrow_function = read_anonymous_function = SourceFile.returned

    def read_string(self, node: Syntax, _depth: int) -> Node:
        return text_node(node, re.sub(r"\\([\\'])", r"\1", source_of(node)[1:-1]))

    def read_encapsed_string(self, node: Syntax, _depth: int) -> Node:
        if any(child.type in _CALCULATED for child in node.named_children):
            return computed(node)
        return text_node(node, _ESCAPE.sub(_unescape, source_of(node)[1:-1]))

    def read_heredoc(self, node: Syntax, _depth: int) -> Node:
        body = node.child_by_field_name("value")
        if body is None or any(child.type in _CALCULATED for child in walk(body)):
            return computed(node) if body is not None else text_node(node, "")
        return text_node(node, _ESCAPE.sub(_unescape, _without_margin(body, node)))

    def read_nowdoc(self, node: Syntax, _depth: int) -> Node:
        body = node.child_by_field_name("value")
        return text_node(node, _without_margin(body, node) if body is not None else "")

    def read_array_creation_expression(self, node: Syntax, depth: int) -> Node:
        entries = [child for child in node.named_children if child.type == "array_element_initializer"]
        parts = [[part for part in entry.named_children if part.type != "comment"] for entry in entries]
        if any(len(part) > 1 for part in parts):
            members = []
            for part in parts:
                if len(part) > 1:
                    members.append(member(part[0], self.value(part[0], depth), self.value(part[-1], depth)))
                elif part:
                    members.append(Member(UNNAMED, part[0].start_byte, part[0].end_byte, computed(part[0])))
            return map_node(node, members)
        return list_node(node, (self.value(part[0], depth) for part in parts if part))

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        if left is not None and right is not None and any(child.type == "+" for child in node.children):
            return self.merged(node, [left, right], depth)
        if left is None or right is None or not any(child.type == "." for child in node.children):
            return computed(node)
        return joined(node, [self.value(left, depth), self.value(right, depth)])

    def merged(self, node: Syntax, arrays: list[Syntax], depth: int) -> Node:
        """What arrays give together: the entries of those that are written out; that there are others is told."""
        members: list[Member] = []
        for array in arrays:
            value = self.value(array, depth)
            members += value.members if value.kind == "map" else [Member(UNNAMED, value.start, value.end, computed(array))]
        return map_node(node, members) if any(member.key != UNNAMED for member in members) else computed(node)

    def read_class_constant_access_expression(self, node: Syntax, depth: int) -> Node:
        """A member: of a class in the same file its value, else it is read by its last name."""
        names = node.named_children
        found = self.values_of(source_of(names[-1])) if names else []
        return self.value(found[0], depth) if len(found) == 1 else text_node(names[-1], source_of(names[-1])) if names else computed(node)

    def read_variable_name(self, node: Syntax, depth: int) -> Node:
        return self.named(node, depth)

    def read_function_call_expression(self, node: Syntax, depth: int) -> Node:
        name, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        given = [child.named_children[-1] for child in self.parts(arguments) if child.named_children] if arguments is not None else []
        if name is not None and source_of(name) == "explode" and len(given) > 1:
            return split_text(node, self.value(given[1], depth), self.value(given[0], depth))
        if name is not None and source_of(name).lstrip("\\").lower() in _MERGING:
            return self.merged(node, given, depth)
        return computed(node)

    def read_enum_declaration(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in walk(node):
            name, value = child.child_by_field_name("name"), child.child_by_field_name("value")
            if child.type == "enum_case" and name is not None:
                held = self.value(value, depth) if value is not None else Node("number", name.start_byte, name.end_byte, str(len(members)))
                members.append(Member(source_of(name), name.start_byte, name.end_byte, held))
        return map_node(node, members)

    def read_class_declaration(self, node: Syntax, depth: int) -> Node:
        members = []
        for child in walk(node):
            if child.type == "const_element" and len(child.named_children) > 1:
                name, value = child.named_children[0], child.named_children[-1]
                members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
            elif child.type == "property_element":
                target, given = child.child_by_field_name("name"), child.child_by_field_name("default_value")
                if target is not None and given is not None:
                    members.append(Member(source_of(target).lstrip("$"), target.start_byte, target.end_byte, self.value(given, depth)))
        return map_node(node, members)


_MERGING = frozenset(f"array_{name}{how}" for name in ("merge", "replace") for how in ("", "_recursive"))


def _put(whole: Node, steps: list[Node], value: Node) -> None:
    """Puts *value* into the map at the path of *steps*, making the maps on the way."""
    for step in steps[:-1]:
        below = next((member.node for member in reversed(whole.members) if member.key == step.text and member.node.kind == "map"), None)
        if below is None:
            below = Node("map", step.start, step.end)
            whole.members.append(Member(step.text, step.start, step.end, below))
        whole = below
    whole.members.append(Member(steps[-1].text, steps[-1].start, steps[-1].end, value))


def _unescape(match: re.Match[str]) -> str:
    point, hexadecimal, octal, short = match.groups()
    if point or hexadecimal:
        code = int(point or hexadecimal, 16)
        return chr(code) if code < 0x110000 else match.group()
    if octal:
        return chr(int(octal, 8) & 0xFF)
    return _SHORT.get(short, match.group())


def _without_margin(body: Syntax, node: Syntax) -> str:
    """The text of a heredoc without the margin that its closing word has (PHP 7.3 and later)."""
    end = node.child_by_field_name("end_tag")
    margin = end.start_point[1] if end is not None else 0
    text = source_of(body).removeprefix("\n")
    return re.sub(rf"^[ \t]{{0,{margin}}}", "", text, flags=re.MULTILINE) if margin else text


def _quoted(text: str) -> str:
    """In single quotes, where only these and backslashes need one; in double quotes where something cannot be printed."""
    if text.isprintable():
        return quoted(text, "'")
    return quoted(text, short={"\n": "\\n", "\t": "\\t", "\r": "\\r", "$": "\\$"}, code=lambda sign: f"\\u{{{ord(sign):x}}}")


_NAMED = frozenset(
    {"class_declaration", "enum_declaration", "interface_declaration", "trait_declaration", "function_definition", "method_declaration"}
)
_CALLS = frozenset(
    {"function_call_expression", "member_call_expression", "scoped_call_expression", "object_creation_expression", "nullsafe_member_call_expression"}
)  # fmt: skip
_PLAIN = PlainLiteral(
    expression(r"<\?php[ \t\r\n]++return[ \t\r\n]*+\["),
    "]",
    expression(
        r"(?:'([^'\\]++)'|\"([^\"\\$\n\r]++)\"())[ \t\r\n]*+=>[ \t\r\n]*+(?:(\[)|"
        r"(?:'((?:[^'\\]++|\\[\\'])*+)'|\"([^\"\\$\n\r]*+)\")[ \t\r\n]*+(?:,|(?=\])|\Z))"
        r"|(\])[ \t\r\n]*+(?:,|(?=\])|\Z)"
    ),
    {},
    ended=True,
)
LANGUAGES = (
    ProgrammingLanguage(
        (".php", ".inc", ".lang"),
        "tree_sitter_php",
        _File,
        catalogs=True,
        mostly="catalogs",
        dialect="language_php",
        quoted=_quoted,
        plain=_PLAIN,
    ),
)
