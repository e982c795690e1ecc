"""What the cache holds: how many of each kind, how large, and where it lies."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.cache import Store
from lemmar.report import Drawn, Table, View, drawn_table, plain

_WORDS = {
    "audit": "folders that were audited, with the verdict",
    "last": "charters, each with the folder that was audited last",
    "answer": "judgements, client by client",
    "told": "texts of clients, to be compared with those of others",
    "answers": "questions, each with its judgements",
    "reading": "files, as they were read",
    "keys": "rows of keys that files have",
    "blob": "contents of git revisions, each with its digest",
}


def view(store: Store) -> View:
    """What *store* holds."""
    order = list(_WORDS)
    kinds = sorted(store.kinds(), key=lambda kind: order.index(kind.name) if kind.name in order else len(order))
    rows = [(kind.name, kind.number, kind.size, _WORDS.get(kind.name, "")) for kind in kinds]
    return View(Table("cache", ("kind", "number", "bytes", "what"), rows), lambda _page: _draw(store, rows))


def _draw(store: Store, rows: list[tuple[str, int, int, str]]) -> Iterator[Drawn]:
    size = store.size()
    if not size:
        yield plain(f"nothing is kept in {store.file.parent}")
        return
    yield plain(f"{sized(size)} in {store.file.parent}", "strong")
    yield ""
    heads = [("number", "right"), ("size", "right"), ("what", "left")]
    yield drawn_table(heads, [(f"{number:,}", sized(length), what or name) for name, number, length, what in rows])
    yield ""
    yield plain("'lemmar cache --clear' removes it; a verdict is the same without, only later", "faint")


def sized(number: int) -> str:
    """A number of bytes as people read it."""
    for unit in ("bytes", "KiB", "MiB"):
        if number < 1024 or unit == "MiB":
            return f"{number:,.0f} {unit}"
        number = number // 1024 if number >= 10 * 1024 else round(number / 1024)
    raise AssertionError
