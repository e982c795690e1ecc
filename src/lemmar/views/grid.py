"""Clients × locales: the share of texts that users read in their language, and what answers the rest."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Mapping

from lemmar.charter.sizes import bytes_in, in_bytes
from lemmar.findings import ORIGINS, Answer
from lemmar.inventory.assets import Assets
from lemmar.report import Drawn, Page, Table, View, drawn_table, plain
from lemmar.resolve.assets import FROM, Got, Load, files_loaded, got
from lemmar.resolve.claims import hollow
from lemmar.resolve.world import Client, Effect, World
from lemmar.tags import Tag
from lemmar.trees import File
from lemmar.views.blocks import blocks

_LETTERS = (("foreign", "f"), ("key", "k"), ("blank", "b"), ("error", "e"))
_LEGEND = (
    "%: texts that users read in their own language. Of the rest, f: in another language,",
    "k: a raw key, b: nothing, e: an error. i: inherited from a parent locale.",
    "–: not supported. (trial): may be incomplete.",
)


def view(world: World) -> View:
    """Locales down, clients across."""
    rows = [
        (client.name, locale, effect.answer.messages, *effect.answer)
        for client in world.clients
        for locale in locales(world)
        if (effect := _effect(client, locale)) is not None
    ]
    return View(Table("grid", ("client", "locale", "messages", *ORIGINS), rows), lambda page: _draw(world, page))


def by_part(world: World) -> View:
    """Parts of clients down, and catalogs whose keys keep apart; locales across."""
    rows = [
        (client.name, space.part, locale, answer.messages, *answer, client.names_of(space))
        for client in world.clients
        for space in client.sources
        for locale in world.charter.locales
        if (effect := client.effects.get(locale)) is not None and (answer := effect.by_space.get(space)) is not None
    ]
    return View(Table("grid-parts", ("client", "part", "locale", "messages", *ORIGINS, "catalog"), rows), lambda _page: _draw_parts(world))


def by_asset(world: World) -> View:
    """Assets of clients down, locales across: how many are the locale's own, inherited, of another language, absent."""
    rows: list[tuple[object, ...]] = []
    for client, assets, locale, found in _gotten(world):
        counts = Counter(each.origin for each in found)
        rows.append((client.name, _files(assets), locale, len(found), *(counts[origin] for origin in FROM)))
    return View(Table("grid-assets", ("client", "files", "locale", "assets", *FROM), rows), lambda page: _draw_assets(world, page))


def _gotten(world: World) -> Iterator[tuple[Client, Assets, Tag, list[Got]]]:
    for client in world.clients:
        for assets in client.assets:
            for locale in world.charter.locales:
                effect = client.effects.get(locale)
                if effect is not None:
                    yield client, assets, locale, got(client, assets, effect)


def _files(assets: Assets) -> str:
    return assets.entry.files or assets.table or ""


def _draw_assets(world: World, page: Page) -> Iterator[Drawn]:
    cells: dict[tuple[str, str], dict[Tag, tuple[str, str]]] = {}
    for client, assets, locale, found in _gotten(world):
        counts = Counter(each.origin for each in found)
        parts = [f"{counts['own'] + counts['inherited']} of {len(found)}"]
        parts += [f"{number}{letter}" for number, letter in ((counts["foreign"], "f"), (counts["absent"], "a")) if number]
        style = "error" if counts["absent"] or (counts["foreign"] and assets.entry.own) else "warning" if counts["foreign"] else ""
        name = client.below(_files(assets))
        cells.setdefault((client.name, name), {})[locale] = (
            " ".join(parts),
            style if locale in client.needs and client.ships(locale) else "faint",
        )
    first = max(len(locale_name(world, tag)) for tag in world.charter.locales)
    for block in blocks(list(cells), lambda each: max(len(each[0]), len(each[1]), 8) + 3, page.width - first):
        rows = [["", *(plain(name, "faint") for _, name in block)]]
        for tag in world.charter.locales:
            rows.append([locale_name(world, tag), *(plain(*cells[each].get(tag, ("–", "faint"))) for each in block)])
        yield drawn_table([("locale", "left"), *((client, "right") for client, _ in block)], rows)
        yield ""
    yield from (plain(line, "faint") for line in _ASSETS)


_ASSETS = (
    "of: assets that users get in their own language. Of the rest, f: in another language,",
    "a: none. –: not supported. (trial): may be incomplete.",
)


def by_size(world: World, size: Callable[[File], int]) -> View:
    """Clients down, locales across: what users load; *size* gives a file's bytes."""
    loads: dict[tuple[str, Tag], Load] = {}
    for client in world.clients:
        for locale in world.charter.locales:
            effect = client.effects.get(locale)
            if effect is not None:
                texts, assets = files_loaded(client, effect)
                loads[client.name, locale] = Load(sum(map(size, texts)), sum(map(size, assets)))
    rows = [(name, locale, *each, sum(each)) for (name, locale), each in loads.items()]
    return View(Table("grid-sizes", ("client", "locale", "texts", "assets", "bytes"), rows), lambda page: _draw_sizes(world, page, loads))


def _draw_sizes(world: World, page: Page, loads: Mapping[tuple[str, Tag], Load]) -> Iterator[Drawn]:
    first = max(len(locale_name(world, tag)) for tag in world.charter.locales)
    for block in blocks(world.clients, lambda client: max(len(client.name), 8) + 3, page.width - first):
        rows: list[list[Drawn]] = [
            [locale_name(world, tag), *(_size(client, loads.get((client.name, tag))) for client in block)] for tag in world.charter.locales
        ]
        if any(client.budget for client in block):
            rows.append([plain("budget", "faint"), *(plain(client.budget, "faint") for client in block)])
        yield drawn_table([("locale", "left"), *((client.name, "right") for client in block)], rows)
        yield ""
    yield plain("What users load of catalogs and assets, as the files lie there. –: not supported.", "faint")


def _size(client: Client, each: Load | None) -> Drawn:
    if each is None:
        return plain("–", "faint")
    return plain(bytes_in(sum(each)), "warning" if client.budget and sum(each) > in_bytes(client.budget) else "")


def locales(world: World) -> list[Tag]:
    """The rows: the roster's locales, then those that clients support without a catalog."""
    return list(dict.fromkeys([*world.charter.locales, *(tag for client in world.clients for tag in hollow(client))]))


def _effect(client: Client, tag: Tag) -> Effect | None:
    return client.effects.get(tag) or (client.beyond.get(tag) if tag in hollow(client) else None)


def share(answer: Answer) -> str:
    """The complete share in whole percent, never rounded up to 100 nor down to 0, and the letters of what answers the rest."""
    if not answer.messages:
        return "no texts"
    percent = 100 * answer.complete // answer.messages
    if answer.complete and not percent:
        percent = 1
    rest = [f"{getattr(answer, name):,}{letter}" for name, letter in _LETTERS if getattr(answer, name)]
    inherited = f" ({answer.inherited:,}i)" if answer.inherited and not rest else ""
    return " ".join([f"{percent} %", *rest]) + inherited


def locale_name(world: World, tag: Tag) -> str:
    """A locale as the first column of a table shows it."""
    return f"{tag} (trial)" if tag in world.charter.roster.trial else tag if tag in world.charter.locales else f"{tag} (not on it)"


def _draw(world: World, page: Page) -> Iterator[Drawn]:
    first = max(len(locale_name(world, tag)) for tag in locales(world))
    for block in blocks(world.clients, _need, page.width - first):
        rows = [[locale_name(world, tag), *[_cell(world, client, tag) for client in block]] for tag in locales(world)]
        yield drawn_table([("locale", "left"), *[(client.name, "right") for client in block]], rows)
        yield ""
    yield from (plain(line, "faint") for line in _LEGEND)


def _need(client: Client) -> int:
    return max([len(client.name), *(len(share(effect.answer)) for effect in client.effects.values())]) + 3


def _cell(world: World, client: Client, tag: Tag) -> Drawn:
    effect = _effect(client, tag)
    if effect is None:
        return plain("–", "error" if tag in client.needs else "faint")
    low = (tag in client.needs or tag in client.beyond) and not effect.answer.reaches(client.trial.get(tag, 1.0))
    return plain(share(effect.answer), "error" if low else "" if effect.answer.is_complete else "warning")


def _draw_parts(world: World) -> Iterator[Drawn]:
    rows: list[list[Drawn]] = []
    for client in world.clients:
        for space in client.sources:
            answers = [effect.by_space.get(space) if (effect := client.effects.get(tag)) else None for tag in world.charter.locales]
            several = client.names_of(space) if client.has_several(space.part) else ""
            rows.append([client.name, " ".join(filter(None, (space.part, several))), *map(_percent, answers)])
    heads = [("client", "left"), ("part", "left"), *((locale, "right") for locale in world.charter.locales)]
    yield drawn_table(heads, rows)
    yield ""
    yield plain("%: texts that users read in their own language. –: not supported.", "faint")


def _percent(answer: Answer | None) -> Drawn:
    if answer is None:
        return plain("–", "faint")
    percent = "–" if not answer.messages else f"{100 * answer.complete // answer.messages} %"
    return plain(percent, "" if answer.is_complete else "warning")
