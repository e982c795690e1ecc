"""What the readers of all programming languages share: making nodes, walking a syntax tree, reaching inside a literal."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import TYPE_CHECKING

from lemmar.basics.text import Characters, paired
from lemmar.documents.nodes import UNNAMED, Member, Node

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax


def source_of(syntax: Syntax) -> str:
    """The source code that *syntax* covers."""
    return (syntax.text or b"").decode("utf-8", "replace")


def walk(root: Syntax, stop: frozenset[str] = frozenset()) -> Iterator[Syntax]:
    """*root* and all below it in source order, without recursion; nothing below nodes of the types in *stop*."""
    stack = [root]
    while stack:
        node = stack.pop()
        yield node
        if node.type not in stop:
            stack.extend(reversed(node.named_children))


def first_error(root: Syntax) -> Syntax:
    """The first node at which a tree with errors goes wrong: one that is missing or that the grammar has no place for."""
    node = root
    while True:
        if node.is_missing or node.type == "ERROR":
            return node
        below = next((child for child in node.children if child.has_error or child.is_missing), None)
        if below is None:
            return node
        node = below


def text_node(syntax: Syntax, text: str) -> Node:
    """A text that stands at *syntax*; escapes for both halves of a character are that character."""
    return Node("text", syntax.start_byte, syntax.end_byte, paired(text))


def list_node(syntax: Syntax, items: Iterable[Node]) -> Node:
    """A list that stands at *syntax*."""
    return Node("list", syntax.start_byte, syntax.end_byte, items=list(items))


def map_node(syntax: Syntax, members: Iterable[Member]) -> Node:
    """A map that stands at *syntax*."""
    return Node("map", syntax.start_byte, syntax.end_byte, members=list(members))


def member(at: Syntax, key: Node, value: Node) -> Member:
    """An entry of a map whose key stands at *at*; one that is computed has no name, which `UNNAMED` says."""
    return Member(UNNAMED if key.kind == "computed" else key.text, at.start_byte, at.end_byte, value)


def computed(syntax: Syntax, why: str = "") -> Node:
    """What cannot be read without running it."""
    shown = " ".join(source_of(syntax).split())
    shown = shown if len(shown) <= 60 else f"{shown[:57]}…"
    return Node("computed", syntax.start_byte, syntax.end_byte, why or f"{shown!r} is computed, which is only known when the program runs")


def joined(syntax: Syntax, parts: list[Node]) -> Node:
    """The text that concatenated literals make."""
    bad = next((part for part in parts if part.kind not in ("text", "number")), None)
    return (
        bad
        if bad is not None and bad.kind == "computed"
        else computed(syntax)
        if bad
        else text_node(syntax, "".join(part.text for part in parts))
    )


def split_text(syntax: Syntax, text: Node, separator: Node | None) -> Node:
    """The list that splitting a literal text makes."""
    if text.kind != "text" or separator is None or separator.kind != "text":
        return computed(syntax)
    pieces = text.text.split(separator.text) if separator.text else list(text.text)
    return list_node(syntax, (Node("text", text.start, text.end, piece.strip()) for piece in pieces))


def inside(nodes: list[Node], names: list[str]) -> list[Node]:
    """What the members *names*, one inside the other, of *nodes* hold."""
    for name in names:
        nodes = [member.node for node in nodes if node.kind == "map" for member in node.members if member.key == name]
    return nodes


def in_characters(nodes: list[Node], source: bytes) -> list[Node]:
    """The nodes with offsets in characters, which the parser gives in bytes."""
    if source.isascii():
        return nodes
    at = Characters(source)
    return [_in_characters(node, at) for node in nodes]


def _in_characters(node: Node, at: Characters) -> Node:
    members = [
        member._replace(start=at.offset(member.start), end=at.offset(member.end), node=_in_characters(member.node, at))
        for member in node.members
    ]
    return Node(
        node.kind, at.offset(node.start), at.offset(node.end), node.text, members, [_in_characters(item, at) for item in node.items]
    )
