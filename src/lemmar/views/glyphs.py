"""The characters that texts need signs for, by client and locale."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.fonts import ranges
from lemmar.report import Drawn, Table, View, drawn_table, plain
from lemmar.resolve.fonts import concerns, needs
from lemmar.resolve.world import Client, World
from lemmar.tags import Tag

_COLUMNS = ("client", "locale", "characters", "ranges")


def view(world: World, clients: Sequence[Client], locales: Sequence[Tag], is_together: bool) -> View:
    """What the texts of *locales*, without any of the whole roster, need in each of *clients*; with *is_together* all of it as one."""
    needed = [(client.name, locale, characters) for client in clients for locale, characters in _needed(world, client, locales)]
    if is_together:
        every = set().union(*(characters for _, _, characters in needed))
        return View(Table("glyphs", _COLUMNS[2:], [(len(every), ranges(every))]), lambda _page: iter([plain(ranges(every))]))
    rows = [(name, locale, len(characters), ranges(characters)) for name, locale, characters in needed]
    return View(Table("glyphs", _COLUMNS, rows), lambda _page: _draw(rows))


def _needed(world: World, client: Client, locales: Sequence[Tag]) -> Iterator[tuple[Tag, set[str]]]:
    for locale, effect in client.effects.items():
        if not locales or locale in locales:
            characters = set(needs(world.charter, client, effect).characters)
            for fonts in client.fonts:
                if fonts.entry.uppercase and concerns(fonts, locale):
                    characters |= set(needs(world.charter, client, effect, fonts.entry.keys, uppercase=True).characters)
            yield locale, characters


def _draw(rows: Sequence[tuple[str, Tag, int, str]]) -> Iterator[Drawn]:
    yield drawn_table([("client", "left"), ("locale", "left"), ("characters", "right"), ("ranges", "left")], [list(row) for row in rows])
