"""What users see for a message: locales down, each with the text and the locale it comes from."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Iterator, Sequence
from typing import Any, NamedTuple

from lemmar.report import Drawn, Table, View, drawn_table, plain
from lemmar.resolve.claims import hollow
from lemmar.resolve.effective import Sight, sights
from lemmar.resolve.world import Client, World
from lemmar.tags import Tag

_COLUMNS = ("client", "locale", "part", "key", "text", "origin", "from")


class Wanted(NamedTuple):
    """Which messages: those whose *key* matches, or with *words* in a text of any locale; of one *part* only, where it is given."""

    key: str | None
    words: str | None
    part: str | None


def view(world: World, clients: Sequence[Client], locales: Sequence[Tag], wanted: Wanted) -> View:
    """What users of *locales*, without any of the whole roster, see in each of *clients*; a table without rows where no message is found."""
    every = locales or dict.fromkeys([*world.charter.locales, *(tag for client in clients for tag in hollow(client))])
    found = [sight for client in clients for sight in _sights(client, tuple(every), wanted)]
    return View(Table("peek", _COLUMNS, [tuple(sight) for sight in found]), lambda _page: _draw(found))


def _sights(client: Client, locales: Sequence[Tag], wanted: Wanted) -> Iterator[Sight]:
    for part, source in client.sources.items():
        if wanted.part in (None, part):
            keys = _matching(client, part, source.keys, wanted)
            for locale in locales:
                yield from sights(client, locale, part, keys)


def _matching(client: Client, part: str | None, keys: tuple[str, ...], wanted: Wanted) -> list[str]:
    if wanted.key is not None:
        return [key for key in keys if key == wanted.key or fnmatch.fnmatchcase(key, wanted.key)]
    words = (wanted.words or "").casefold()
    found = set()
    for catalogs in client.by_part.get(part, {}).values():
        for catalog in catalogs:
            found |= {key for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True) if text and words in text.casefold()}
    return [key for key in keys if key in found]


_MARKS = {"own": "", "inherited": "↑ ", "foreign": "≠ ", "key": "# ", "blank": "∅ ", "error": "! "}


def _draw(found: list[Sight]) -> Iterable[Drawn]:
    groups: dict[tuple[str, str | None, str], list[Sight]] = {}
    for sight in found:
        groups.setdefault((sight.client, sight.part, sight.key), []).append(sight)
    for (client, part, key), those in groups.items():
        yield plain(f"{client}  {f'{part}: ' if part else ''}{key}", "strong")
        yield drawn_table([("locale", "left"), ("from", "left"), ("users see", "left")], [_row(sight) for sight in those])
        yield ""
    yield plain("↑ inherited from a parent, ≠ in another language, # the raw key, ∅ nothing, ! an error.", "faint")


def _row(sight: Sight) -> list[Any]:
    shown = sight.text if sight.text else {"blank": "(nothing)", "error": "(an error)"}.get(sight.origin, "(nothing)")
    style = {"own": "", "inherited": "faint"}.get(sight.origin, "error")
    return [sight.locale, sight.source if sight.origin != "own" and sight.source else "", plain(_MARKS[sight.origin] + shown, style)]
