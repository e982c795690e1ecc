"""Confirms tables that the survey has drafted: takes the line out that says how sure it was, and leaves every other byte."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import msgspec

from lemmar.basics.errors import UsageError
from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import listed, nearest
from lemmar.charter.file import CharterFile
from lemmar.charter.lines import KeyLines, Path
from lemmar.charter.reading import parse
from lemmar.charter.types import Charter
from lemmar.charter.unconfirmed import unconfirmed

_LINE = expression(rb"[ \t]*sure[ \t]*=[ \t]*[0-9.]+[ \t]*(?:#[^\r\n]*)?(?:\r?\n|\Z)")


def confirmed(file: CharterFile, names: Sequence[str]) -> dict[str, bytes]:
    """The charter's files without the sureness of the tables that *names* name, each a client, with all its tables, or a place (``lemmar.toml:28``); by name,
    those only that change.

    Raises:
        CharterError: the charter has mistakes.
        UsageError: a name names nothing that is to be confirmed, or what says it shares its line with something else.
    """
    charter, lines = parse(file.data, file.name, (), file.included)
    drafted = {each.path: each.place(charter, lines, file.name) for each in unconfirmed(charter) if (*each.path, "sure") in lines}
    chosen: list[Path] = []
    for name in names:
        of_client = next((number for number, client in enumerate(charter.client) if client.name == name), None)
        those = [path for path, place in drafted.items() if place == name or (of_client is not None and path[:2] == ("client", of_client))]
        if not those and of_client is None:
            known = [*(client.name for client in charter.client), *drafted.values()]
            told = f"; still drafted are {listed(list(drafted.values()), 6)}" if drafted else "; every table is confirmed"
            raise UsageError(f"{name!r} is no client and no drafted table{nearest(name, known) or told}")
        chosen += those
    after = _without(file, lines, chosen)
    _check(file, after, charter)
    return after


def _without(file: CharterFile, lines: KeyLines, chosen: Sequence[Path]) -> dict[str, bytes]:
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


def _check(file: CharterFile, after: Mapping[str, bytes], charter: Charter) -> None:
    """Sees to it that the charter says the same as before, but for how sure the survey was."""
    included = tuple(each._replace(data=after.get(each.name, each.data)) for each in file.included)
    now, _ = parse(after.get(file.name, file.data), file.name, (), included)
    if _whatever_sure(msgspec.to_builtins(now)) != _whatever_sure(msgspec.to_builtins(charter)):
        raise UsageError("the lines cannot be taken out without a change to something else; take them out by hand")


def _whatever_sure(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _whatever_sure(item) for key, item in value.items() if key != "sure"}
    return [_whatever_sure(item) for item in value] if isinstance(value, list | tuple) else value
