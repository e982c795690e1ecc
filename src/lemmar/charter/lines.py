"""Where each key of a TOML document stands: from key path to line."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property

from lemmar.basics.text import Lines
from lemmar.documents import tomltext
from lemmar.documents.nodes import Node

#: A key path: names of tables and keys, and indexes of arrays.
Path = tuple[str | int, ...]


class KeyLines(Mapping[Path, int]):
    """The 1-based line of every table and key of a charter, looked for when the first is asked for. What *included* files hold stands in these: each
    has its name, its bytes, and the index of its first client.
    """

    def __init__(self, data: bytes, included: Sequence[tuple[str, bytes, int]] = ()) -> None:
        self._data = data
        self._included = included

    @cached_property
    def _lines(self) -> dict[Path, int]:
        found = key_lines(self._data)
        for _, data, first in self._included:
            for path, line in key_lines(data).items():
                if path[:1] == ("client",) and len(path) > 1 and isinstance(path[1], int):
                    found["client", first + path[1], *path[2:]] = line
        return found

    def file(self, path: Path) -> str | None:
        """The included file that *path* stands in; None of what stands in the charter's own."""
        if path[:1] != ("client",) or len(path) < 2:
            return None
        holders = [name for name, _, first in self._included if isinstance(path[1], int) and first <= path[1]]
        return holders[-1] if holders else None

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
    """The 1-based line of every table, key and item in *data*, by its path."""
    text = data.decode("utf-8", "replace")
    root, _ = tomltext.scan(text)
    lines = Lines(text)
    found: dict[Path, int] = {(): 1}
    waiting: list[tuple[Path, Node]] = [((), root)]
    while waiting:
        path, node = waiting.pop()
        inner: list[tuple[str | int, int, Node]] = [(member.key, member.start, member.node) for member in node.members]
        inner += [(index, item.start, item) for index, item in enumerate(node.items)]
        for name, start, child in inner:
            found.setdefault((*path, name), lines.place(start)[0])
            waiting.append(((*path, name), child))
    return found
