"""JavaScript and TypeScript (also with markup): constants, objects, classes, enumerations, unions of literal types."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.documents.grammars import Patience, tree_of
from lemmar.documents.nodes import UNNAMED, Member, Node
from lemmar.languages._literals import computed, list_node, map_node, source_of, split_text, text_node, walk
from lemmar.languages._parsing import ProgrammingLanguage
from lemmar.languages._plain import PlainLiteral
from lemmar.languages._sourcefile import LOCALE_MAKERS, Call, Declaration, SourceFile, outermost

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_ESCAPES = {"n": "\n", "t": "\t", "r": "\r", "b": "\b", "f": "\f", "v": "\v", "0": "\0", "\n": ""}


def _describes(node: Syntax) -> bool:
    """Whether an object says how a property is to be: what ``Object.defineProperty`` is given."""
    call = node.parent.parent if node.parent is not None else None
    function = call.child_by_field_name("function") if call is not None and call.type == "call_expression" else None
    return function is not None and source_of(function).endswith(("defineProperty", "defineProperties"))


class _File(SourceFile):
    wrappers = frozenset({"as_expression", "satisfies_expression", "parenthesized_expression", "non_null_expression", "await_expression"})
    numbers = frozenset({"number"})
    booleans = frozenset({"true", "false"})
    nulls = frozenset({"null", "undefined"})
    texts = frozenset({"string", "template_string"})
    cases = frozenset({"switch_case"})
    comparisons = frozenset({"binary_expression"})

    # -------------------------------------------------------------------------------------------------------- declarations

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Variables, assignments, fields, properties of objects, types, enumerations and functions."""
        for node in self.nodes(wanted):
            kind = node.type
            name = node.child_by_field_name("name")
            if kind in ("variable_declarator", "type_alias_declaration"):
                value = node.child_by_field_name("value")
                if name is not None and value is not None:
                    yield Declaration(source_of(name), name, value)
            elif kind == "assignment_expression":
                left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
                target = left.child_by_field_name("property") if left is not None and left.type == "member_expression" else left
                if target is not None and right is not None and not (right.type == "identifier" and source_of(right) == source_of(target)):
                    yield Declaration(source_of(target), target, right)
            elif kind in _NAMED and name is not None:
                yield Declaration(source_of(name), name, node)

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Calls of functions and methods, and objects that are made."""
        for node in self.nodes(wanted):
            if node.type in ("call_expression", "new_expression"):
                function = node.child_by_field_name("function") or node.child_by_field_name("constructor")
                arguments = node.child_by_field_name("arguments")
                if function is not None and arguments is not None:
                    yield Call(_name_called(function), node, [("", child) for child in self.parts(arguments)])

    @cached_property
    def added_later(self) -> dict[str, list[tuple[Syntax, Syntax]]]:
        """What is put into a named object after it was declared: ``name.key = value``, key and value for each name."""
        found: dict[str, list[tuple[Syntax, Syntax]]] = {}
        for node in walk(self.root, _CLOSED):
            left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
            if node.type == "assignment_expression" and left is not None and right is not None and left.type == "member_expression":
                whole, key = left.child_by_field_name("object"), left.child_by_field_name("property")
                if whole is not None and key is not None and whole.type == "identifier":
                    found.setdefault(source_of(whole), []).append((key, right))
        return found

    def catalog(self) -> list[Node]:
        """What the file exports, else the maps that it assigns, else those that it gives to calls, else those inside its functions."""
        exported = [self.value(syntax) for syntax in self.exported()]
        maps = [node for node in exported if node.kind == "map"]
        if maps:
            return [node for node in exported if node.kind in ("map", "computed")]
        named = self.named_exports()
        if any(member.node.kind == "text" for member in named) and all(member.node.kind != "map" for member in named):
            return [map_node(self.root, named)]
        outer = list(walk(self.root, frozenset({"function_declaration", "arrow_function", "class_declaration", "object"})))
        values = [node.child_by_field_name("value") or node.child_by_field_name("right") for node in outer if node.type in _ASSIGNING]
        assigned = [self.value(value) for value in values if value is not None]
        maps = [node for node in assigned if node.kind == "map" and node.members]
        if maps:
            return outermost(maps)
        calls = [node.child_by_field_name("arguments") for node in outer if node.type == "call_expression"]
        given = [self.value(child) for arguments in calls if arguments is not None for child in arguments.named_children]
        maps = [node for node in given if node.kind == "map" and node.members]
        if maps:
            return maps
        inner = [self.value(node) for node in walk(self.root, frozenset({"object"})) if node.type == "object" and not _describes(node)]
        found = outermost([node for node in inner if node.members]) or [node for node in exported if node.kind == "computed"]
        empty = [node for node in assigned if node.kind == "map"]
        return found or (empty if len(empty) == 1 else [])  # a catalog that has no texts yet

    def exported(self) -> list[Syntax]:
        found = []
        for node in walk(self.root, _CLOSED):
            if node.type == "export_statement" and any(child.type == "default" for child in node.children):
                value = node.child_by_field_name("value") or node.child_by_field_name("declaration")
                found += [value] if value is not None else []
            elif node.type == "assignment_expression":
                left = node.child_by_field_name("left")
                right = node.child_by_field_name("right")
                if left is not None and right is not None and source_of(left).replace(" ", "") in ("module.exports", "exports.default"):
                    found.append(right)
        return found

    def named_exports(self) -> list[Member]:
        """What is exported by a name: ``export const x = …``, ``exports.x = …``, ``Object.defineProperty(exports, "x", …)``."""
        found: list[Member] = []
        pairs: list[tuple[Syntax | None, Syntax | None]]
        for node in walk(self.root, _CLOSED):
            if node.type == "export_statement" and (declared := node.child_by_field_name("declaration")) is not None:
                each = [declared] if declared.type == "function_declaration" else declared.named_children
                pairs = [(part.child_by_field_name("name"), part.child_by_field_name("value") or part) for part in each]
            elif node.type == "assignment_expression" and (left := node.child_by_field_name("left")) is not None:
                whole = source_of(left).rpartition(".")[0] in ("exports", "module.exports")
                pairs = [(left.child_by_field_name("property"), node.child_by_field_name("right"))] if whole else []
            else:
                pairs = self._defined(node)
            found += [
                Member(source_of(name).strip("\"'"), name.start_byte, name.end_byte, self.value(value))
                for name, value in pairs
                if name is not None and value is not None
            ]
        return [member for member in found if member.node.kind not in ("bool", "null", "number")]

    def _defined(self, node: Syntax) -> list[tuple[Syntax | None, Syntax | None]]:
        """The name and the value, or the getter, that ``Object.defineProperty`` gives to what is exported."""
        function, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        if function is None or arguments is None or source_of(function) != "Object.defineProperty":
            return []
        given = self.parts(arguments)
        if len(given) != 3 or source_of(given[0]) not in ("exports", "module.exports") or given[2].type != "object":
            return []
        described = {
            source_of(name): part
            for part in given[2].named_children
            for name in [part.child_by_field_name("key") or part.child_by_field_name("name")]
            if name is not None
        }
        how = described.get("value") or described.get("get")
        return [(given[1], (how.child_by_field_name("value") or how) if how is not None else None)]

    def forwarded(self) -> str | None:
        """``export { default } from "./x"``, ``export * from "./x"``, ``import x from "./x"; export default x``,
        ``module.exports = require("./x")``.
        """
        for node in self.root.named_children:
            source = node.child_by_field_name("source") if node.type == "export_statement" else None
            if source is not None:
                return self.value(source).text
        for value in self.exported():
            imported = self._imported(source_of(value)) if value.type == "identifier" else None
            if imported is not None:
                return imported
            arguments = value.child_by_field_name("arguments") if value.type == "call_expression" else None
            named = self.parts(arguments) if arguments is not None and source_of(value).startswith("require") else []
            if len(named) == 1 and named[0].type in self.texts:
                return self.value(named[0]).text
        return None

    def _imported(self, name: str) -> str | None:
        """The path of the file whose default is imported as *name*."""
        for node in self.root.named_children:
            source = node.child_by_field_name("source") if node.type == "import_statement" else None
            clause = next((child for child in node.named_children if child.type == "import_clause"), None) if source is not None else None
            if source is not None and clause is not None and any(source_of(child) == name for child in clause.named_children):
                return self.value(source).text
        return None

    # ------------------------------------------------------------------------------------------------------------ literals

    def read_type_assertion(self, node: Syntax, depth: int) -> Node:
        inner = self.parts(node)
        return self.value(inner[-1], depth) if inner else computed(node)

    def read_string(self, node: Syntax, _depth: int) -> Node:
        raw = self.text_of(node)
        return text_node(node, raw[1:-1] if "\\" not in raw else "".join(map(_piece, node.named_children)))

    def read_template_string(self, node: Syntax, depth: int) -> Node:
        if any(child.type == "template_substitution" for child in node.named_children):
            return computed(node)
        return self.read_string(node, depth)

    def read_array(self, node: Syntax, depth: int) -> Node:
        items: list[Node] = []
        for child in node.named_children:
            if child.type == "spread_element":
                items += self.spread(child, depth)
            elif child.type != "comment":
                items.append(self.value(child, depth))
        return list_node(node, items)

    def spread(self, node: Syntax, depth: int) -> list[Node]:
        inner = self.value(node.named_children[0], depth) if node.named_children else computed(node)
        if inner.kind == "list":
            return inner.items
        return [inner if inner.kind == "computed" else computed(node)]

    def read_object(self, node: Syntax, depth: int) -> Node:
        members: list[Member] = []
        for child in node.named_children:
            if child.type == "pair":
                key, value = child.child_by_field_name("key"), child.child_by_field_name("value")
                if key is not None and value is not None:
                    members.append(Member(self.key(key, depth), key.start_byte, key.end_byte, self.value(value, depth)))
            elif child.type == "shorthand_property_identifier":
                members.append(Member(source_of(child), child.start_byte, child.end_byte, self.read_identifier(child, depth)))
            elif child.type == "spread_element":
                inner = self.value(child.named_children[0], depth) if child.named_children else computed(child)
                members += inner.members if inner.kind == "map" else [Member(UNNAMED, child.start_byte, child.end_byte, computed(child))]
            elif child.type == "method_definition":
                name = child.child_by_field_name("name")
                if name is not None:
                    members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(child, depth)))
        return map_node(node, members)

    read_arrow_function = read_function_expression = read_function_declaration = read_method_definition = SourceFile.returned

    def key(self, node: Syntax, depth: int) -> str:
        if node.type == "computed_property_name":
            inner = self.value(node.named_children[0], depth) if node.named_children else computed(node)
            return inner.text if inner.kind in ("text", "number") else UNNAMED
        return self.read_string(node, depth).text if node.type == "string" else self.text_of(node)

    def read_identifier(self, node: Syntax, depth: int) -> Node:
        found = self.named(node, depth)
        later = self.added_later.get(source_of(node), ()) if found.kind == "map" else ()
        if not later:
            return found
        more = [Member(source_of(key), key.start_byte, key.end_byte, self.value(value, depth)) for key, value in later]
        given = {member.key for member in more}
        return Node("map", found.start, found.end, members=[*(each for each in found.members if each.key not in given), *more])

    def read_member_expression(self, node: Syntax, depth: int) -> Node:
        name = node.child_by_field_name("property")
        return self.member(node.child_by_field_name("object"), name, depth) if name is not None else computed(node)

    def read_binary_expression(self, node: Syntax, depth: int) -> Node:
        left, right = node.child_by_field_name("left"), node.child_by_field_name("right")
        operator = node.child_by_field_name("operator")
        if left is None or right is None or operator is None or source_of(operator) != "+":
            return computed(node)
        return self.added(node, left, right, depth)

    def read_call_expression(self, node: Syntax, depth: int) -> Node:
        function, arguments = node.child_by_field_name("function"), node.child_by_field_name("arguments")
        given = [child for child in arguments.named_children if child.type != "comment"] if arguments is not None else []
        name = source_of(function) if function is not None else ""
        if name in ("Object.freeze", "Object.seal", "Array.from", "readonly") and given:
            return self.value(given[0], depth)
        if name in ("Object.keys", "Object.values", "Object.entries") and given:
            return self.object_call(node, name, self.value(given[0], depth))
        if function is not None and function.type == "member_expression":
            inner, method = function.child_by_field_name("object"), function.child_by_field_name("property")
            if inner is not None and method is not None and source_of(method) == "split" and given:
                return split_text(node, self.value(inner, depth), self.value(given[0], depth))
            if inner is not None and method is not None and source_of(method) == "concat" and given:
                parts = [self.value(part, depth) for part in (inner, *given)]
                if all(part.kind == "list" for part in parts):
                    return list_node(node, (item for part in parts for item in part.items))
        return computed(node)

    def object_call(self, node: Syntax, name: str, of: Node) -> Node:
        if of.kind != "map":
            return of if of.kind == "computed" else computed(node)
        keys = [Node("text", member.start, member.end, member.key) for member in of.members]
        if name == "Object.keys":
            return list_node(node, keys)
        values = [member.node for member in of.members]
        if name == "Object.values":
            return list_node(node, values)
        return list_node(node, (list_node(node, pair) for pair in zip(keys, values, strict=True)))

    def read_new_expression(self, node: Syntax, depth: int) -> Node:
        made, arguments = node.child_by_field_name("constructor"), node.child_by_field_name("arguments")
        given = [child for child in arguments.named_children if child.type != "comment"] if arguments is not None else []
        name = source_of(made).rpartition(".")[2] if made is not None else ""
        if name == "Set" and given:
            return self.value(given[0], depth)
        if name == "Map" and given:
            pairs = self.value(given[0], depth)
            if pairs.kind == "list" and all(pair.kind == "list" and len(pair.items) == 2 for pair in pairs.items):
                return map_node(
                    node, (Member(pair.items[0].text, pair.items[0].start, pair.items[0].end, pair.items[1]) for pair in pairs.items)
                )
        if name in LOCALE_MAKERS and given:
            return self.locale_of(node, given, depth)
        return computed(node)

    # -------------------------------------------------------------------------------------------- classes, enumerations, types

    def read_class_declaration(self, node: Syntax, depth: int) -> Node:
        body = node.child_by_field_name("body")
        members = []
        for child in body.named_children if body is not None else ():
            name = child.child_by_field_name("name") or child.child_by_field_name("property")
            value = child.child_by_field_name("value")
            if child.type in ("field_definition", "public_field_definition") and name is not None and value is not None:
                members.append(Member(source_of(name), name.start_byte, name.end_byte, self.value(value, depth)))
        return map_node(node, members)

    read_class = read_abstract_class_declaration = read_class_declaration

    def read_enum_declaration(self, node: Syntax, depth: int) -> Node:
        body = node.child_by_field_name("body")
        members: list[Member] = []
        for child in body.named_children if body is not None else ():
            name = child.child_by_field_name("name") if child.type == "enum_assignment" else child
            value = child.child_by_field_name("value")
            if child.type != "comment" and name is not None:
                held = (
                    self.value(value, depth) if value is not None else Node("number", child.start_byte, child.end_byte, str(len(members)))
                )
                members.append(Member(self.key(name, depth), name.start_byte, name.end_byte, held))
        return map_node(node, members)

    def read_union_type(self, node: Syntax, depth: int) -> Node:
        items: list[Node] = []
        stack = [node]
        while stack:  # a union of many types is a deep chain of unions of two
            part = stack.pop()
            if part.type == "union_type":
                stack.extend(reversed(part.named_children))
            elif part.type != "comment":
                items.append(self.value(part, depth))
        return list_node(node, items)

    def read_literal_type(self, node: Syntax, depth: int) -> Node:
        return self.value(node.named_children[0], depth) if node.named_children else computed(node)


def _piece(node: Syntax) -> str:
    text = source_of(node)
    if node.type != "escape_sequence":
        return text
    body = text[1:]
    if body[:1] in "ux" and len(body) > 1:
        try:
            return chr(int(body[1:].strip("{}"), 16))
        except (ValueError, OverflowError):
            return text
    return _ESCAPES.get(body, body)


def _name_called(function: Syntax) -> str:
    """The function's dotted name; of one that another call gives only the last name."""
    name = "".join(source_of(function).replace("?.", ".").split())
    return name if "(" not in name else name.rpartition(".")[2]


_NAMED = frozenset(
    {
        *("class_declaration", "class", "enum_declaration", "abstract_class_declaration"),
        *("function_declaration", "method_definition", "generator_function_declaration"),
    }
)


def script_file(source: bytes) -> SourceFile:
    """The script in *source*, such as that of a page; nothing where it is too broken to be parsed. Raises `IncompleteError`."""
    language = LANGUAGES[0]
    tree = tree_of(language.parser, source, Patience(len(source)))
    return _File(tree.root_node, source) if tree is not None else _File(language.parser().parse(b"").root_node, b"")


_CLOSED = frozenset({"object", "array", "string", "template_string", "function_declaration", "class_body", "arguments"})
_ASSIGNING = frozenset({"variable_declarator", "assignment_expression"})
_KEY = r"(?:([A-Za-z_$][A-Za-z0-9_$]*+)|\"([^\"\\\n\r]++)\"|'([^'\\\n\r]++)')[ \t\r\n]*+:[ \t\r\n]*+"
_PLAIN = PlainLiteral(
    expression(r"[ \t\r\n]*+(?:export[ ]default|module\.exports[ ]=)[ \t\r\n]*+\{"),
    "}",
    expression(
        _KEY + r"(?:(\{)|"
        r"(?:\"((?:[^\"\\\n\r]++|\\[\\\"'nt/])*+)\"|'((?:[^'\\\n\r]++|\\[\\\"'nt/])*+)')[ \t\r\n]*+(?:,|(?=\})|\Z))"
        r"|(\})[ \t\r\n]*+(?:,|(?=\})|\Z)"
    ),
    {"n": "\n", "t": "\t"},
)
LANGUAGES = (
    ProgrammingLanguage((".js", ".mjs", ".cjs"), "tree_sitter_javascript", _File, catalogs=True, plain=_PLAIN),
    ProgrammingLanguage((".jsx",), "tree_sitter_javascript", _File),
    ProgrammingLanguage(
        (".ts", ".mts", ".cts"), "tree_sitter_typescript", _File, catalogs=True, dialect="language_typescript", plain=_PLAIN
    ),
    ProgrammingLanguage((".tsx",), "tree_sitter_typescript", _File, catalogs=True, dialect="language_tsx"),
)
