"""Where each key of a TOML document stands: from key path to line."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cached_property
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from tree_sitter import Node

#: A key path: names of tables and keys, and indexes of arrays of tables.
Path = tuple[str | int, ...]


class KeyLines(Mapping[Path, int]):
    """The 1-based line of every table and key of a TOML document, looked for when the first is asked for."""

    def __init__(self, data: bytes) -> None:
        self._data = data

    @cached_property
    def _lines(self) -> dict[Path, int]:
        return key_lines(self._data)

    def __getitem__(self, path: Path) -> int:
        return self._lines[path]

    def __iter__(self) -> Iterator[Path]:
        return iter(self._lines)

    def __len__(self) -> int:
        return len(self._lines)

    def nearest(self, path: Path) -> int:
        """The line of *path*, or of the nearest table around it."""
        return next(self._lines[path[:depth]] for depth in range(len(path), -1, -1) if path[:depth] in self._lines)


def key_lines(data: bytes) -> dict[Path, int]:
    """The 1-based line of every table and key in *data*, by its path."""
    import tree_sitter_toml
    from tree_sitter import Language, Parser

    root = Parser(Language(tree_sitter_toml.language())).parse(data).root_node
    found: dict[Path, int] = {(): 1}
    counts: dict[Path, int] = {}
    for child in root.named_children:
        if child.type == "pair":
            _pair(child, (), found)
        elif child.type in ("table", "table_array_element"):
            path = _resolve(_names(child.named_children[0]), counts, child.type == "table_array_element")
            found.setdefault(path, child.start_point[0] + 1)
            for pair in child.named_children[1:]:
                if pair.type == "pair":
                    _pair(pair, path, found)
    return found


def _resolve(names: list[str], counts: dict[Path, int], new: bool) -> Path:
    """The path of a table header: each array of tables on the way stands for its newest element."""
    path: Path = ()
    for index, name in enumerate(names):
        path = (*path, name)
        if new and index == len(names) - 1:
            counts[path] = counts.get(path, -1) + 1
        if path in counts:
            path = (*path, counts[path])
    return path


def _pair(pair: Node, path: Path, found: dict[Path, int]) -> None:
    names = _names(pair.named_children[0])
    here = (*path, *names)
    for depth in range(len(path) + 1, len(here) + 1):
        found.setdefault(here[:depth], pair.start_point[0] + 1)
    if len(pair.named_children) > 1:
        _value(pair.named_children[1], here, found)


def _value(value: Node, path: Path, found: dict[Path, int]) -> None:
    if value.type == "inline_table":
        for pair in value.named_children:
            if pair.type == "pair":
                _pair(pair, path, found)
    elif value.type == "array":
        items = [item for item in value.named_children if item.type != "comment"]
        for index, item in enumerate(items):
            found[*path, index] = item.start_point[0] + 1
            _value(item, (*path, index), found)


def _names(node: Node) -> list[str]:
    """The names of a key, dotted or not."""
    if node.type == "dotted_key":
        return [name for child in node.named_children for name in _names(child)]
    text = (node.text or b"").decode("utf-8", "replace")
    if node.type != "quoted_key":
        return [text]
    if text.startswith("'"):
        return [text[1:-1]]
    import tomllib

    try:
        return list(tomllib.loads(f"{text} = 1"))
    except tomllib.TOMLDecodeError:
        return [text[1:-1]]
