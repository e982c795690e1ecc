"""TOML with places, also where it is damaged: by a grammar that goes on after a fault. Source: TOML 1.0."""

from __future__ import annotations

import tomllib
from typing import TYPE_CHECKING

from lemmar.documents.nodes import Fault, Member, Node

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

_KINDS = {"integer": "number", "float": "number", "boolean": "bool", "string": "text"}


def scan(text: str) -> tuple[Node, list[Fault]]:
    """The document as a map and its faults in order."""
    return _Document(text).run()


class _Document:
    def __init__(self, text: str) -> None:
        self.source = text.encode("utf-8", "replace")
        self.ascii = self.source.isascii()
        self.faults: list[Fault] = []
        self.root = Node("map", 0, len(text))

    def run(self) -> tuple[Node, list[Fault]]:
        import tree_sitter_toml
        from tree_sitter import Language, Parser

        tree = Parser(Language(tree_sitter_toml.language())).parse(self.source).root_node
        for child in tree.children:
            self.top(child)
        self.faults.sort(key=lambda fault: fault.offset)
        return self.root, self.faults

    def at(self, byte: int) -> int:
        """The code point at a byte offset."""
        return byte if self.ascii else len(self.source[:byte].decode("utf-8", "replace"))

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
        for index, (name, start, end) in enumerate(steps):
            last = index == len(steps) - 1
            known = next((member.node for member in reversed(node.members) if member.key == name), None)
            if known is not None and known.kind == "list" and known.items and not (last and new):
                known = known.items[-1]
            if known is None:
                known = Node("list" if last and new else "map", start, end)
                node.members.append(Member(name, start, end, known))
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
        try:
            return str(tomllib.loads(f"x = {raw}")["x"])
        except (tomllib.TOMLDecodeError, KeyError, RecursionError):
            return raw.strip("\"'")

    def pair(self, node: Syntax, where: Node) -> None:
        parts = [child for child in node.named_children if child.type != "comment"]
        if len(parts) < 2:
            self.fault(node)
            return
        if any(child.is_error or child.is_missing for child in node.children):
            self.fault(next(child for child in node.children if child.is_error or child.is_missing))
        *above, (name, start, end) = self.steps(parts[0])
        for step, first, last in above:
            known = next((member.node for member in where.members if member.key == step and member.node.kind == "map"), None)
            if known is None:
                known = Node("map", first, last)
                where.members.append(Member(step, first, last, known))
            where = known
        where.members.append(Member(name, start, end, self.value(parts[1], 0)))

    def value(self, node: Syntax, depth: int) -> Node:
        start, end = self.at(node.start_byte), self.at(node.end_byte)
        if node.type == "string":
            return Node("text", start, end, self.string(self.words(node)))
        if depth < 64 and node.type == "array":
            items = [self.value(child, depth + 1) for child in node.named_children if child.type != "comment"]
            return Node("list", start, end, items=items)
        if depth < 64 and node.type == "inline_table":
            table = Node("map", start, end)
            for child in node.named_children:
                if child.type == "pair":
                    self.pair(child, table)
            return table
        return Node(_KINDS.get(node.type, "text"), start, end, self.words(node))
