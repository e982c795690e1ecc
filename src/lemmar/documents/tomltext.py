"""TOML with places, also where it is damaged: by a grammar that goes on after a fault. Source: TOML 1.0."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.basics.text import Characters
from lemmar.documents.grammars import MOST_BYTES, Patience, tree_of
from lemmar.documents.nodes import Fault, Member, Node

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

#: Values in values beyond this are not read; the strict reader says so.
_MAX_DEPTH = 120
_LONG_KEY = expression(rf"(?<![\w-])(?:[\w-]++[ \t]*+\.[ \t]*+){{{_MAX_DEPTH}}}")
_STRING = expression(r"\"(?:[^\"\\\n]|\\.)*+\"|'[^'\n]*+'")
_KINDS = {"integer": "number", "float": "number", "boolean": "bool", "string": "text"}


def scan(text: str) -> tuple[Node, list[Fault]]:
    """The document as a map and its faults in order."""
    root, faults = _Document(text).run()
    return root, faults or list(_strictly(text))


def _strictly(text: str) -> Iterator[Fault]:
    """What a strict reader still finds wrong in a text that the grammar takes, but for keys that are there twice."""
    long = _LONG_KEY.search(_STRING.sub("", text)) if _LONG_KEY.search(text) else None
    if long is not None:  # on which the strict reader would spend the square of its length
        yield Fault(text.find(long[0]), f"a key of more than {_MAX_DEPTH} parts")
        return
    try:
        tomllib.loads(text)
    except tomllib.TOMLDecodeError as error:
        words, _, place = str(error).partition(" (at ")
        line, column = (int(number) for number in re.findall(r"\d+", place)) if place.count(" ") == 3 else (0, 0)
        starts = [0, *(match.end() for match in re.finditer("\n", text))]
        offset = starts[line - 1] + column - 1 if 0 < line <= len(starts) else len(text)
        if "overwrite" not in words or text[: min(offset, len(text))].rstrip(" \t").endswith(("]", "[")) or _in_header(text, offset):
            yield Fault(min(offset, len(text)), words[:1].lower() + words[1:])
    except RecursionError:
        yield Fault(0, "nested too deeply to be read")
    except ValueError:  # Python's bound on digits
        yield Fault(0, "a number of thousands of digits stands in the file")


def _in_header(text: str, offset: int) -> bool:
    """Whether *offset* lies in or behind the header of a table."""
    start = text.rfind("\n", 0, max(offset - 1, 0)) + 1
    return text[start:offset].lstrip().startswith("[")


def _parser() -> Parser:
    import tree_sitter_toml
    from tree_sitter import Language, Parser

    return Parser(Language(tree_sitter_toml.language()))


class _Document:
    def __init__(self, text: str) -> None:
        self.source = text.encode("utf-8", "replace")
        self.at = Characters(self.source).offset
        self.known: dict[tuple[int, str], Node] = {}
        self.faults: list[Fault] = []
        self.root = Node("map", 0, len(text))

    def run(self) -> tuple[Node, list[Fault]]:
        tree = tree_of(_parser, self.source, Patience(len(self.source))) if len(self.source) <= MOST_BYTES else None
        if tree is None:
            self.faults.append(Fault(0, f"the file is too broken to be parsed, or larger than {MOST_BYTES // 2**20} MiB"))
            return self.root, self.faults
        for child in tree.root_node.children:
            self.top(child)
        self.faults.sort(key=lambda fault: fault.offset)
        return self.root, self.faults

    def words(self, node: Syntax) -> str:
        return (node.text or b"").decode("utf-8", "replace")

    def top(self, node: Syntax) -> None:
        if node.type == "pair":
            self.pair(node, self.root)
        elif node.type in ("table", "table_array_element"):
            parts = [child for child in node.named_children if child.type != "comment"]
            where = self.enter(parts[0], node.type != "table") if parts else self.root
            for child in node.children:
                if child.type == "pair":
                    self.pair(child, where)
                elif child.is_error or child.is_missing:
                    self.fault(child)
        elif node.is_error or node.is_missing:
            self.fault(node)

    def fault(self, node: Syntax) -> None:
        shown = " ".join(self.words(node).split())[:40]
        self.faults.append(Fault(self.at(node.start_byte), f"{shown!r} is not TOML" if shown else "something is missing here"))

    def enter(self, key: Syntax, new: bool) -> Node:
        """The map that a table's header names, made where it is not there."""
        steps = self.steps(key)
        node = self.root
        if len(steps) > _MAX_DEPTH:
            self.faults.append(Fault(steps[0][1], f"a key of more than {_MAX_DEPTH} parts"))
            steps = steps[:_MAX_DEPTH]
        for index, (name, start, end) in enumerate(steps):
            last = index == len(steps) - 1
            known = self.known.get((id(node), name))
            if known is not None and known.kind == "list" and known.items and not (last and new):
                known = known.items[-1]
            if known is None:
                known = Node("list" if last and new else "map", start, end)
                self.put(node, Member(name, start, end, known))
            if last and new and known.kind == "list":
                known.items.append(Node("map", start, end))
                known = known.items[-1]
            node = known
        return node

    def steps(self, key: Syntax) -> list[tuple[str, int, int]]:
        """The names of a key, dotted or not, with their places."""
        found, stack = [], [key]
        while stack:
            node = stack.pop()
            if node.type == "dotted_key":
                stack.extend(reversed(node.named_children))
            else:
                text = self.words(node)
                name = text if node.type == "bare_key" else self.string(text)
                found.append((name, self.at(node.start_byte), self.at(node.end_byte)))
        return found

    def string(self, raw: str) -> str:
        if raw[:3] not in ('"""', "'''") and len(raw) >= 2 and raw[0] == raw[-1] and (raw[0] == "'" or "\\" not in raw):
            return raw[1:-1]
        try:
            return str(tomllib.loads(f"x = {raw}")["x"])
        except (ValueError, KeyError, RecursionError):
            return raw.strip("\"'")

    def pair(self, node: Syntax, where: Node, depth: int = 0) -> None:
        parts = [child for child in node.named_children if child.type != "comment"]
        if len(parts) < 2:
            self.fault(node)
            return
        if any(child.is_error or child.is_missing for child in node.children):
            self.fault(next(child for child in node.children if child.is_error or child.is_missing))
        *above, (name, start, end) = self.steps(parts[0])
        if len(above) >= _MAX_DEPTH:
            self.faults.append(Fault(start, f"a key of more than {_MAX_DEPTH} parts"))
            return
        for step, first, last in above:
            known = self.known.get((id(where), step))
            if known is None or known.kind != "map":
                known = Node("map", first, last)
                self.put(where, Member(step, first, last, known))
            where = known
        self.put(where, Member(name, start, end, self.value(parts[1], depth)))

    def put(self, where: Node, member: Member) -> None:
        where.members.append(member)
        self.known[id(where), member.key] = member.node

    def value(self, node: Syntax, depth: int) -> Node:
        start, end = self.at(node.start_byte), self.at(node.end_byte)
        if node.type == "string":
            return Node("text", start, end, self.string(self.words(node)))
        if depth < _MAX_DEPTH and node.type == "array":
            items = [self.value(child, depth + 1) for child in node.named_children if child.type != "comment"]
            return Node("list", start, end, items=items)
        if depth < _MAX_DEPTH and node.type == "inline_table":
            table = Node("map", start, end)
            for child in node.named_children:
                if child.type == "pair":
                    self.pair(child, table, depth + 1)
            return table
        return Node(_KINDS.get(node.type, "text"), start, end, self.words(node))
