"""A parsed file of source code: its declarations, calls and comparisons, and what its literals are worth. Each language fills this in."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property
from itertools import islice
from typing import TYPE_CHECKING, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import UNNAMED, Member, Node
from lemmar.languages._literals import computed, inside, joined, source_of, split_text, text_node, walk

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


#: Literals nested or resolved deeper than this are called computed.
MAX_DEPTH = 40
#: How many levels above a name the declaration or call stands that it belongs to, at the most.
_AROUND = 8
#: Names looked for one by one; beyond, the whole file is gone over once for all of them.
_FEW = 20
#: Places of one name looked at alone, in a file of so many bytes at the most; beyond, and of more in a larger one, the whole file is gone over.
_PLACES, _SMALL = 400, 200_000


_LINE_END = expression(rb"\n")
#: What these types of syntax nodes hold is no text for people.
_NO_TEXTS = ("import", "require", "include", "directive", "annotation", "decorator", "throw")


class Declaration(NamedTuple):
    """A name that is declared, where, and what it is given; a type, enumeration or function stands for what is in it."""

    name: str
    at: Syntax
    value: Syntax


class Call(NamedTuple):
    """A call: the function's name as written, and its arguments; a named one's name stands beside it, else an empty text."""

    name: str
    at: Syntax
    arguments: list[tuple[str, Syntax]]


class SourceFile:
    """One file. A subclass gives `declarations` and `calls`, and a method ``read_TYPE`` for each type of syntax node that is a value.

    *wrappers* are types whose only child is the value, *numbers*, *booleans* and *nulls* those of such literals, *cases* those of a
    branch that a value is compared with (whose literals stand before its body), *comparisons* those of a comparison by an operator.
    """

    wrappers: frozenset[str] = frozenset()
    numbers: frozenset[str] = frozenset()
    booleans: frozenset[str] = frozenset()
    nulls: frozenset[str] = frozenset()
    comments: frozenset[str] = frozenset({"comment", "line_comment", "block_comment", "multiline_comment"})
    texts: frozenset[str] = frozenset({"string", "string_literal"})
    cases: frozenset[str] = frozenset()
    comparisons: frozenset[str] = frozenset()
    equal: frozenset[str] = frozenset({"==", "===", "eq"})
    equal_methods: frozenset[str] = frozenset({"equals", "equalsIgnoreCase", "isEqualToString", "equals?", "startsWith", "hasPrefix"})

    def __init__(self, root: Syntax, source: bytes) -> None:
        """*source* is the whole file's, of which *root* may leave out blanks at the beginning."""
        self.root = root
        self.source = source[root.start_byte : root.end_byte]
        self.start = root.start_byte
        self._known: dict[str, list[Declaration]] = {}

    def text_of(self, node: Syntax) -> str:
        """The source code that *node* covers; cheaper than asking the node."""
        return self.source[node.start_byte - self.start : node.end_byte - self.start].decode("utf-8", "replace")

    def place_of(self, byte: int) -> tuple[int, int]:
        """Line and column of a *byte* of the file, both from 1, the column in characters."""
        start = byte - self.start
        line = bisect_right(self._line_starts, start)
        first = self._line_starts[line - 1]
        return self.root.start_point[0] + line, len(self.source[first:start].decode("utf-8", "replace")) + 1

    @cached_property
    def _line_starts(self) -> list[int]:
        return [0, *(match.end() for match in _LINE_END.finditer(self.source))]

    # ------------------------------------------------------------------------------------------------ what a language gives

    def declarations(self, wanted: str | None = None) -> Iterator[Declaration]:
        """Every declaration of the file, the outer before the inner; with *wanted* those of that name at least."""
        raise NotImplementedError

    def calls(self, wanted: str | None = None) -> Iterator[Call]:
        """Every call of the file, in its order; with *wanted* those of that function at least."""
        return iter(())

    def exported(self) -> list[Syntax]:
        """What the file itself exports or returns."""
        return []

    def forwarded(self) -> str | None:
        """The path of another file whose value this one hands on as its own, as it is written; None where it does not."""
        return None

    def catalog(self) -> list[Node]:
        """The maps that a file which is a catalog holds: what it assigns, else what it gives to calls."""
        exported = [self.value(syntax) for syntax in self.exported()]
        if exported:
            return [node for node in exported if node.kind in ("map", "computed")]
        declared = [node for found in self.declarations() if (node := self.value(found.value)).kind == "map"]
        maps = [node for node in declared if node.members]
        if maps:
            return outermost(maps)
        given = [self.value(argument) for call in self.calls() for _, argument in call.arguments]
        found = outermost([node for node in given if node.kind == "map" and node.members])
        return found or (declared if len(declared) == 1 else [])  # one that has no texts yet

    # ------------------------------------------------------------------------------------------------------- what all share

    def beside(self, read: Sequence[tuple[int, int]]) -> Iterator[Syntax]:
        """The literal texts and comments outside of what was *read*, spans of bytes in order that do not overlap; none of imports, nor what stands as a
        statement by itself.
        """
        starts = [start for start, _ in read]
        stack = [self.root]
        while stack:
            node = stack.pop()
            place = bisect_right(starts, node.start_byte) - 1
            if place >= 0 and node.end_byte <= read[place][1]:
                continue
            if node.type in self.texts or node.type in self.comments:
                yield node
            elif not any(word in node.type for word in _NO_TEXTS) and not self._is_import(node):
                stack.extend(reversed(node.named_children) if not self._is_remark(node) else ())

    def _is_remark(self, node: Syntax) -> bool:
        """Whether a statement is a text and nothing else: a directive, or the words on a function."""
        return node.type == "expression_statement" and len(node.named_children) == 1 and node.named_children[0].type in self.texts

    def _is_import(self, node: Syntax) -> bool:
        """Whether a call, or an export, names another file."""
        return node.type.startswith(("call", "export", "function_call")) and (
            node.child_by_field_name("source") is not None
            or self.source.startswith((b"require", b"include", b"import"), node.start_byte - self.start)
        )

    def nodes(self, name: str | None) -> Iterable[Syntax]:
        """All nodes in source order; where a *name* is looked for, at least those around each place where it is written, which are few."""
        if name is None:
            return walk(self.root)
        written = re.finditer(rb"(?<![\w])" + re.escape(name.encode()) + rb"(?![\w])", self.source)
        most = _PLACES if len(self.source) <= _SMALL else _FEW
        places = [match.span() for match in islice(written, most + 1)]
        if len(places) > most:
            return walk(self.root)
        found: dict[int, Syntax] = {}
        for start, end in places:
            node = self.root.descendant_for_byte_range(start + self.start, end + self.start)
            for _ in range(_AROUND):
                if node is None or node.id in found:
                    break
                found[node.id] = node
                node = node.parent
        return sorted(found.values(), key=lambda node: (node.start_byte, -node.end_byte))

    def values_of(self, name: str) -> list[Syntax]:
        """What each declaration of *name* is given."""
        return [each.value for each in self.declarations_of(name)]

    def declarations_of(self, name: str) -> list[Declaration]:
        """The declarations of *name*."""
        if name not in self._known and len(self._known) < _FEW:
            self._known[name] = [each for each in self.declarations(name) if each.name == name]
        elif name not in self._known:
            return self._all_declared.get(name, [])
        return self._known[name]

    @cached_property
    def _all_declared(self) -> dict[str, list[Declaration]]:
        """Every declaration by its name: where many are asked for, the file is gone over once for all of them."""
        found: dict[str, list[Declaration]] = {}
        for each in self.declarations():
            found.setdefault(each.name, []).append(each)
        return found

    def declared(self, path: list[str]) -> list[Node]:
        """What the declarations at a path of names hold; names after the first reach inside, ``*`` is what the file exports."""
        name, *rest = path
        return inside([self.value(syntax) for syntax in (self.exported() if name == "*" else self.values_of(name))], rest)

    def called(self, name: str) -> list[list[tuple[str, Node]]]:
        """The arguments of every call of the function *name*, which may be written with more in front (``app.setup``)."""
        tail = f".{name}"
        return [
            [(label, self.value(argument)) for label, argument in call.arguments]
            for call in self.calls(name.rpartition(".")[2])
            if call.name == name or call.name.endswith(tail)
        ]

    def tested(self, path: list[str]) -> list[Node] | None:
        """The literals that a declared function or expression compares with, in order; None where the name is not declared."""
        name = path[-1]
        found = [each for each in self.declarations_of(name) if len(path) == 1 or self._is_inside(each.value, path[-2])]
        if not found:
            return None
        return [node for each in found for node in self._tested(each.value)]

    def _is_inside(self, syntax: Syntax, name: str) -> bool:
        return any(
            each.value.start_byte <= syntax.start_byte and syntax.end_byte <= each.value.end_byte for each in self.declarations_of(name)
        )

    def _tested(self, whole: Syntax) -> Iterator[Node]:
        seen: set[int] = set()
        for node in walk(whole):
            for literal in self.literals_tested(node):
                if literal.id not in seen:
                    seen.add(literal.id)
                    yield self.value(literal)

    def literals_tested(self, node: Syntax) -> Iterator[Syntax]:
        """The literals that *node* itself compares with: of a case those before its body, of a comparison the one side."""
        if node.type in self.cases:
            for child in node.children:
                if child.type in ("=>", "->", ":"):
                    break  # what follows is the case's body
                if not child.is_named or child.type in self.comments:
                    continue
                found = self._plain(child)
                if found is None:
                    break
                yield from found
        elif node.type in self.comparisons and any(not child.is_named and child.type in self.equal for child in node.children):
            sides = [child for child in node.named_children if child.type not in self.comments]
            literal = [side for side in sides if side.type in self.texts]
            yield from literal if len(literal) == 1 < len(sides) else ()

    def _plain(self, node: Syntax) -> list[Syntax] | None:
        """The literal texts that a case's label is made of; None where *node* is something else, such as the case's body."""
        if node.type in self.texts:
            return [node]
        inner = [child for child in node.named_children if child.type not in self.comments]
        if not inner or node.type in self.bodies:
            return None
        found = [self._plain(child) for child in inner]
        return None if any(each is None for each in found) else [text for each in found for text in each or ()]

    bodies: frozenset[str] = frozenset(
        {
            "block",
            "statements",
            "statement_block",
            "compound_statement",
            "expression_statement",
            "return_statement",
            "control_structure_body",
            "body",
            "then",
        }
    )

    def value(self, node: Syntax, depth: int = 0) -> Node:
        """What the expression *node* is worth, as far as literals say."""
        if depth > MAX_DEPTH:
            return computed(node, "it is nested or refers to itself too deeply")
        kind = node.type
        read = getattr(self, f"read_{kind}", None)
        if read is not None:
            found: Node = read(node, depth + 1)
            return found
        if kind in self.wrappers:
            inner = self.parts(node)
            return self.value(inner[0], depth + 1) if inner else computed(node)
        if kind in self.numbers:
            return Node("number", node.start_byte, node.end_byte, source_of(node))
        if kind in self.booleans:
            return Node("bool", node.start_byte, node.end_byte, source_of(node).lower())
        if kind in self.nulls:
            return Node("null", node.start_byte, node.end_byte)
        return computed(node)

    def returned(self, node: Syntax, depth: int) -> Node:
        """What a function gives that does nothing else."""
        body = node.child_by_field_name("body")
        if body is not None and body.type in self.bodies:
            inner = [part for part in self.parts(body) if not self._is_remark(part)]
            body = next(iter(self.parts(inner[0])), None) if len(inner) == 1 and inner[0].type == "return_statement" else None
        found = self.value(body, depth) if body is not None else computed(node)
        return found if found.kind in ("text", "list", "map") else computed(node)

    def parts(self, node: Syntax) -> list[Syntax]:
        """The named children of *node* without comments."""
        return [child for child in node.named_children if child.type not in self.comments]

    def named(self, node: Syntax, depth: int) -> Node:
        """What a name stands for in the same file."""
        name = source_of(node)
        values = self.values_of(name)
        if len(values) != 1:
            why = "comes from another file or is computed" if not values else "is declared more than once"
            return computed(node, f"{name!r} {why}")
        found = self.value(values[0], depth)
        return found if found.kind != "computed" else computed(node, found.text)

    def member(self, whole: Syntax | None, name: Syntax, depth: int) -> Node:
        """A member such as ``Language.German``: of a type or map in the same file its value, else it is read by its last name."""
        if whole is not None and whole.child_count == 0 and len(self.values_of(source_of(whole))) == 1:
            found = inside([self.named(whole, depth)], [source_of(name)])
            if found and found[-1].kind in ("text", "list", "map", "computed"):
                return found[-1]
        return text_node(name, source_of(name))

    def added(self, node: Syntax, left: Syntax | None, right: Syntax | None, depth: int) -> Node:
        """What ``+`` makes of two literals: texts are joined, lists too."""
        if left is None or right is None:
            return computed(node)
        first, second = self.value(left, depth), self.value(right, depth)
        if first.kind == second.kind == "list":
            return Node("list", node.start_byte, node.end_byte, items=[*first.items, *second.items])
        if first.kind == second.kind == "map":
            return Node("map", node.start_byte, node.end_byte, members=[*first.members, *second.members])
        return joined(node, [first, second])

    def locale_of(self, node: Syntax, arguments: Iterable[Syntax], depth: int) -> Node:
        """The locale that a call such as ``Locale("de", "AT")`` makes of its literal arguments."""
        parts = [self.value(argument, depth) for argument in arguments]
        if not parts or any(part.kind not in ("text", "null") for part in parts):
            return next((part for part in parts if part.kind == "computed"), computed(node))
        whole = [part for part in parts if part.text]
        if not whole:
            return computed(node)
        return Node("text", whole[0].start, whole[-1].end, "-".join(part.text for part in whole))

    # ---------------------------------------------------------------------------------------- what most languages write alike

    def quoted(self, node: Syntax, prefixes: str = "") -> Node:
        """The text of a literal between one or three quotes, with the escapes that most languages share."""
        raw = self.text_of(node).lstrip(prefixes)
        size = 3 if raw[:3] in ('"""', "'''") and len(raw) >= 6 else 1
        body = raw[size:-size] if len(raw) >= 2 * size else ""
        return text_node(node, ESCAPE.sub(_unescape, body) if "\\" in body else body)

    def call_value(self, node: Syntax, name: str, receiver: Syntax | None, arguments: Sequence[Syntax], depth: int) -> Node:
        """What a call is worth whose meaning is known in every language: lists, maps, locales, copies, texts split."""
        last = name.rpartition(".")[2]
        maker = name.split(".")[-2] if "." in name else ""
        if last in LOCALE_MAKERS or (maker in LOCALE_MAKERS and last in ("of", "new", "init", "forLanguageTag", "create")):
            return self.locale_of(node, arguments, depth)
        if last in PAIR_MAKERS or (last == "of" and maker.endswith("Map")):
            return self._paired(node, arguments, depth)
        if last in LIST_MAKERS:
            items = [self.value(argument, depth) for argument in arguments]
            if len(items) == 1 and items[0].kind == "list":
                return items[0]
            return Node("list", node.start_byte, node.end_byte, items=[item for item in items if item.kind != "null"])
        if last == "split" and receiver is not None and arguments:
            return split_text(node, self.value(receiver, depth), self.value(arguments[0], depth))
        if last in COPIES:
            if len(arguments) == 1:
                return self.value(arguments[0], depth)
            if not arguments and receiver is not None:
                return self.value(receiver, depth)
        return computed(node)

    def _paired(self, node: Syntax, arguments: Sequence[Syntax], depth: int) -> Node:
        """A map of keys and values that follow each other, or of pairs."""
        items = [self.value(argument, depth) for argument in arguments]
        members: list[Member] = []
        if all(item.kind == "list" and len(item.items) == 2 for item in items):
            pairs = [(item.items[0], item.items[1]) for item in items]
        elif len(items) % 2 == 0:
            pairs = list(zip(items[::2], items[1::2], strict=True))
        else:
            return computed(node)
        for key, value in pairs:
            members.append(Member(key.text if key.kind != "computed" else UNNAMED, key.start, key.end, value))
        return Node("map", node.start_byte, node.end_byte, members=members)

    def entries(self, node: Syntax, pairs: Iterable[tuple[Syntax, Syntax]], depth: int) -> Node:
        """A map of pairs of syntax nodes; a bare name as a key is itself."""
        members = []
        for key, value in pairs:
            name = self.value(key, depth) if key.type in self.texts else None
            text = name.text if name is not None and name.kind == "text" else self.text_of(key).strip(":\"'")
            members.append(Member(text, key.start_byte, key.end_byte, self.value(value, depth)))
        return Node("map", node.start_byte, node.end_byte, members=members)

    def compared(self, node: Syntax, name: str, receiver: Syntax | None, arguments: Sequence[Syntax]) -> Iterator[Syntax]:
        """The literals that a call such as ``text.equals("de")`` compares with."""
        if name.rpartition(".")[2] in self.equal_methods:
            sides = [*([receiver] if receiver is not None else []), *arguments]
            literal = [side for side in sides if side.type in self.texts]
            yield from literal if len(literal) == 1 else ()


ESCAPE = expression(r"\\(?:u\{([0-9a-fA-F]{1,6})\}|u([0-9a-fA-F]{4})|U([0-9a-fA-F]{8})|x([0-9a-fA-F]{2})|([0-7]{1,3})|(.))", re.DOTALL)
_SHORT = {"n": "\n", "r": "\r", "t": "\t", "b": "\b", "f": "\f", "v": "\v", "a": "\a", "e": "\x1b", "s": " ", "\n": ""}


def _unescape(match: re.Match[str]) -> str:
    code = next((group for group in match.groups()[:4] if group), None)
    if code is not None:
        return chr(int(code, 16)) if int(code, 16) < 0x110000 else match.group()
    if match.group(5):
        return chr(int(match.group(5), 8))
    return _SHORT.get(match.group(6), match.group(6))


#: Functions that make a list of their arguments, a map of pairs, or give back what they are given.
LIST_MAKERS = frozenset(
    {
        *("listOf", "mutableListOf", "arrayListOf", "arrayOf", "setOf", "mutableSetOf", "hashSetOf", "linkedSetOf", "listOfNotNull"),
        *("of", "asList", "arrayWithObjects", "setWithObjects", "orderedSetWithObjects", "Array", "PackedStringArray", "make_array"),
    }
)
PAIR_MAKERS = frozenset({"mapOf", "mutableMapOf", "hashMapOf", "linkedMapOf", "sortedMapOf", "ofEntries"})
COPIES = frozenset(
    {
        *("freeze", "dup", "to_a", "to_set", "deep_freeze", "toList", "toSet", "toTypedArray", "toArray", "toMutableList", "toMap"),
        *("unmodifiableList", "unmodifiableSet", "unmodifiableMap", "copyOf", "Set", "OrderedSet", "HashSet", "ArrayList", "LinkedHashSet"),
        *("TreeSet", "MustParse", "Make", "Parse", "StringName", "tr", "NSLocalizedString", "lowercased", "stream", "asSequence", "vector"),
    }
)
#: The names of functions and types that make a locale of a text or of its pieces.
LOCALE_MAKERS = frozenset(
    {"Locale", "ULocale", "CultureInfo", "GetCultureInfo", "RegionInfo", "NSLocale", "QLocale", "forLanguageTag", "fromSubtags", "LocaleOf"}
)


def outermost(maps: list[Node]) -> list[Node]:
    """Those of *maps* that stand inside no other, nor are named by one as part of it."""
    named = {(inner.start, inner.end) for node in maps for inner in _inside_of(node)}
    found: list[Node] = []
    for node in maps:
        if (node.start, node.end) not in named and not any(other.start <= node.start and node.end <= other.end for other in found):
            found.append(node)
    return found


def _inside_of(node: Node) -> Iterator[Node]:
    """The maps that are values inside of *node*."""
    stack = [member.node for member in node.members]
    while stack:
        inner = stack.pop()
        if inner.kind == "map":
            yield inner
            stack += [member.node for member in inner.members]
