"""What users see for a message: locales down, each with the text and the locale it comes from."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from lemmar.basics.phrasing import counted
from lemmar.report import Drawn, Table, View, drawn_table, joined, plain
from lemmar.resolve.claims import hollow
from lemmar.resolve.effective import Sight, sights
from lemmar.resolve.key_uses import Asking, KeyUse, asking_of
from lemmar.resolve.world import Client, Space, World
from lemmar.tags import Tag

_COLUMNS = ("client", "locale", "part", "key", "text", "origin", "from", "used", "catalog")
#: So many places that ask for a message are shown; in data so many are named.
_SHOWN, _NAMED = 5, 50


class Wanted(NamedTuple):
    """Which messages: those whose *key* matches, or with *words* in a text of any locale; of one *part* only, where it is given."""

    key: str | None
    words: str | None
    part: str | None


def view(world: World, clients: Sequence[Client], locales: Sequence[Tag], wanted: Wanted) -> View:
    """What users of *locales*, without any of the whole roster, see in each of *clients*; a table without rows where no message is found."""
    every = locales or dict.fromkeys([*world.charter.locales, *(tag for client in clients for tag in hollow(client))])
    found = [sight for client in clients for sight in _sights(client, tuple(every), wanted)]
    used = {client.name: _used(asking_of(world, client)) for client in clients}
    named = {client.name: client for client in clients}
    rows = [_line(sight, used[sight.client], named[sight.client]) for sight in found]
    return View(Table("peek", _COLUMNS, rows), lambda _page: _draw(found, used, named))


def _line(sight: Sight, used: _Used, client: Client) -> tuple[Any, ...]:
    name, locale, space, key, *rest = sight
    return (name, locale, space.part, key, *rest, _places(used, sight), client.names_of(space))


#: The places that ask for each message of a client by part and key; None where nobody knows.
_Used = Mapping[tuple[Space, str], tuple[KeyUse, ...]] | None


def _used(asked: Asking | None) -> _Used:
    return asked.uses if asked is not None else None


def _places(used: _Used, sight: Sight) -> str | None:
    """The places that ask for a message, a text; None where nobody knows."""
    if used is None:
        return None
    return " ".join(map(_place, used.get((sight.space, sight.key), ())[:_NAMED]))


def _place(asked: KeyUse) -> str:
    return f"{asked.file.file}:{asked.use.line}:{asked.use.column}"


def _sights(client: Client, locales: Sequence[Tag], wanted: Wanted) -> Iterator[Sight]:
    for space, source in client.sources.items():
        if wanted.part in (None, space.part):
            keys = _matching(client, space, source.keys, wanted)
            for locale in locales:
                yield from sights(client, locale, space, keys)


def _matching(client: Client, space: Space, keys: tuple[str, ...], wanted: Wanted) -> list[str]:
    if wanted.key is not None:
        return [key for key in keys if key == wanted.key or fnmatch.fnmatchcase(key, wanted.key)]
    words = (wanted.words or "").casefold()
    found = set()
    for catalogs in client.by_space.get(space, {}).values():
        for catalog in catalogs:
            found |= {key for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True) if text and words in text.casefold()}
    return [key for key in keys if key in found]


_MARKS = {"own": "", "inherited": "↑ ", "foreign": "≠ ", "key": "# ", "blank": "∅ ", "error": "! "}


def _draw(found: list[Sight], used: Mapping[str, _Used], clients: Mapping[str, Client]) -> Iterable[Drawn]:
    groups: dict[tuple[str, Space, str], list[Sight]] = {}
    for sight in found:
        groups.setdefault((sight.client, sight.space, sight.key), []).append(sight)
    for (client, space, key), those in groups.items():
        catalog = f"  in {clients[client].names_of(space)}" if clients[client].has_several(space.part) else ""
        yield joined((f"{client}  {f'{space.part}: ' if space.part else ''}{key}", "strong"), (catalog, "faint"))
        yield drawn_table([("locale", "left"), ("from", "left"), ("users see", "left")], [_row(sight) for sight in those])
        yield from _uses(used[client], space, key)
        yield ""
    yield plain("↑ inherited from a parent, ≠ in another language, # the raw key, ∅ nothing, ! an error.", "faint")


def _uses(used: _Used, space: Space, key: str) -> Iterator[Drawn]:
    """Where the code asks for a message."""
    if used is None:
        return
    those = used.get((space, key), ())
    if not those:
        yield plain("  no code asks for it", "warning")
    for asked in those[:_SHOWN]:
        how = f" (as {asked.use.key}…{asked.use.end}, put together at run time)" if asked.use.computed else ""
        yield plain(f"  used in {_place(asked)}{how}", "faint")
    if len(those) > _SHOWN:
        yield plain(f"  and in {counted(len(those) - _SHOWN, 'more place')}", "faint")


def _row(sight: Sight) -> list[Any]:
    shown = sight.text if sight.text else {"blank": "(nothing)", "error": "(an error)"}.get(sight.origin, "(nothing)")
    style = {"own": "", "inherited": "faint"}.get(sight.origin, "error")
    return [sight.locale, sight.source if sight.origin != "own" and sight.source else "", plain(_MARKS[sight.origin] + shown, style)]
