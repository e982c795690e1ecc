"""Confirms tables that the survey has drafted: takes the line out that says how sure it was, and leaves every other byte."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import msgspec

from lemmar.basics.errors import UsageError
from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import listed, nearest
from lemmar.charter.file import CharterFile
from lemmar.charter.lines import KeyLines, Path
from lemmar.charter.reading import parse
from lemmar.charter.types import Charter

_LINE = expression(rb"[ \t]*sure[ \t]*=[ \t]*[0-9.]+[ \t]*(?:#[^\r\n]*)?(?:\r?\n|\Z)")


def confirmed(file: CharterFile, names: Sequence[str]) -> dict[str, bytes]:
    """The charter's files without the sureness of the tables that *names* name, each a client, with all its tables, or a place (``lemmar.toml:28``); by name,
    those only that change.

    Raises:
        CharterError: the charter has mistakes.
        UsageError: a name names nothing that is to be confirmed, or what says it shares its line with something else.
    """
    charter, lines = parse(file.data, file.name, (), file.included)
    drafted = {path: place for path in _drafted(charter) for place in [_place(lines, path, file.name)] if (*path, "sure") in lines}
    chosen: dict[Path, str] = {}
    for name in names:
        of_client = next((number for number, client in enumerate(charter.client) if client.name == name), None)
        those = {
            path: place for path, place in drafted.items() if place == name or (of_client is not None and path[:2] == ("client", of_client))
        }
        if not those and of_client is None:
            known = [*dict.fromkeys(charter.client[path[1]].name for path in drafted if isinstance(path[1], int)), *drafted.values()]
            told = f"; still drafted are {listed(list(drafted.values()), 6)}" if drafted else "; every table is confirmed"
            raise UsageError(f"{name!r} is no client and no drafted table{nearest(name, known) or told}")
        chosen |= those
    after = _without(file, lines, chosen)
    _check(file, after, charter, chosen)
    return after


def _drafted(charter: Charter) -> Iterator[Path]:
    """The paths of the tables that are not confirmed."""
    for number, entry in enumerate(charter.catalog):
        if entry.sure is not None:
            yield "catalog", number
    for number, client in enumerate(charter.client):
        if client.sure is not None:
            yield "client", number
        for table in ("catalog", "claim", "usage"):
            for place, each in enumerate(getattr(client, table)):
                if each.sure is not None:
                    yield "client", number, table, place


def _place(lines: KeyLines, path: Path, name: str) -> str:
    return f"{lines.file(path) or name}:{lines.nearest(path)}"


def _without(file: CharterFile, lines: KeyLines, chosen: dict[Path, str]) -> dict[str, bytes]:
    """The files without the lines of those tables."""
    gone: dict[str, list[int]] = {}
    for path in chosen:
        gone.setdefault(lines.file(path) or file.name, []).append(lines[(*path, "sure")])
    texts = {file.name: file.data, **{each.name: each.data for each in file.included}}
    after: dict[str, bytes] = {}
    for name, numbers in gone.items():
        rows = texts[name].splitlines(keepends=True)
        for number in numbers:
            if not _LINE.fullmatch(rows[number - 1]):
                raise UsageError(f"{name}:{number} says more than 'sure'; take it out there by hand")
        after[name] = b"".join(row for number, row in enumerate(rows, start=1) if number not in set(numbers))
    return after


def _check(file: CharterFile, after: dict[str, bytes], charter: Charter, chosen: dict[Path, str]) -> None:
    """Sees to it that the charter says the same as before, but for what was confirmed."""
    included = tuple(each._replace(data=after.get(each.name, each.data)) for each in file.included)
    now, _ = parse(after.get(file.name, file.data), file.name, (), included)
    wanted: Any = msgspec.to_builtins(charter)
    for path in chosen:
        table = wanted
        for step in path:
            table = table[step]
        table["sure"] = None
    if msgspec.to_builtins(now) != wanted:
        raise UsageError("the lines cannot be taken out without a change to something else; take them out by hand")
