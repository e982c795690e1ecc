"""What several rules need of every translation: it held against its source, once for an audit."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.inventory.contents import Catalog
from lemmar.resolve.differences import INTACT, Differences, differences, plurals, rarely
from lemmar.resolve.spots import holder_of
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.syntax import Fault, Shape
from lemmar.tags import Tag


class Compared(NamedTuple):
    """A text that is broken or does not carry what its source has. *holder* is the source's catalog; the same as *catalog* for a source's
    own text.
    """

    client: Client
    locale: Tag
    part: str | None
    key: str
    catalog: Catalog
    holder: Catalog
    wanted: Shape
    found: Shape
    differences: Differences

    @property
    def fault(self) -> Fault | None:
        """What breaks it, where that is not what the source has as well."""
        return self.found.fault if self.differences == INTACT else None

    @property
    def is_source(self) -> bool:
        """Whether it is the source's own text."""
        return self.catalog is self.holder


# Branches that number their forms in a way of their own: what one form of the source takes, another may.
_LEAVES = ("_", *map(str, range(7)))
_LEAF = expression(r"\.(?:_|[0-6])\Z")


def comparisons(world: World) -> tuple[Compared, ...]:
    """Every text that is not intact, source texts among them, in the order of clients, parts and catalogs."""
    found: tuple[Compared, ...] | None = world.memo.get("comparisons")
    if found is None:
        found = world.memo["comparisons"] = tuple(_Comparer(world).all())
    return found


def texts(world: World) -> Iterator[tuple[Client, Tag, str | None, Catalog, SourcePart]]:
    """Every catalog of a translation with its source part: the supported locales' of each client."""
    for client in world.clients:
        supported = {effect.tag: locale for locale, effect in client.effects.items()}
        for space, source in client.sources.items():
            for tag, catalogs in client.by_space[space].items():
                if tag in supported and catalogs is not source.catalogs:
                    for catalog in catalogs:
                        yield client, supported[tag], space.part, catalog, source


class _Comparer:
    def __init__(self, world: World) -> None:
        self.world = world
        self.shapes = world.shapes
        self.known: dict[tuple[int, int, str], Differences] = {}
        self.watched = {number for number, shape in enumerate(self.shapes) if shape.choices or shape.fault is not None}
        self.own = {tag: facts.plural for tag, facts in world.charter.locale.items()}

    def all(self) -> Iterator[Compared]:
        seen: set[int] = set()
        for client in self.world.clients:
            for space, source in client.sources.items():
                for catalog in source.catalogs:
                    yield from self._source(client, space.part, source, catalog) if self.watched else ()
        wanted: dict[int, dict[str, tuple[int, Catalog]]] = {}
        for client, locale, part, catalog, source in texts(self.world):
            if id(source) not in wanted:
                wanted[id(source)] = shape_by_key(source)
            seen.add(id(catalog))
            yield from self._translation(client, locale, part, catalog, source, wanted[id(source)])

    def _source(self, client: Client, part: str | None, source: SourcePart, catalog: Catalog) -> Iterator[Compared]:
        tag = client.written_in
        for key, number in zip(catalog.column.keys, catalog.shapes, strict=True):
            if number in self.watched and key in source.key_set:
                shape = self.shapes[number]
                is_broken = shape.fault is not None and not shape.fault.mild
                missing, surplus = plurals(shape, tag, self.own.get(tag, ())) if not is_broken else ((), ())
                seldom = rarely(shape, tag, self.own.get(tag, ())) if not is_broken and not missing else ()
                if is_broken or missing or surplus or seldom:
                    found = Differences(missing=missing, rarely=seldom, surplus=surplus)
                    yield Compared(client, tag, part, key, catalog, catalog, shape, shape, found)

    def _translation(
        self, client: Client, locale: Tag, part: str | None, catalog: Catalog, source: SourcePart, wanted: dict[str, tuple[int, Catalog]]
    ) -> Iterator[Compared]:
        none = (0, source.catalogs[0])
        for key in self._candidates(catalog, source, wanted):
            number = catalog.shapes[catalog.column.keys.places[key]]
            expected, holder = wanted[key] if key in wanted else (0, holder_of(source, key))
            if is_computed(catalog, key) or is_computed(holder, key):
                continue
            broken, whole = self.shapes[number], self.shapes[expected]
            if broken.fault is not None and (whole.fault is None or not (broken.fault.mild and whole.fault.mild)):
                if whole.fault is None or whole.fault.words != broken.fault.words:
                    yield Compared(client, locale, part, key, catalog, holder, whole, broken, INTACT)
                continue
            found = self._differences(expected, number, locale)
            if found.added and _LEAF.search(key):
                beside = {name for leaf in _LEAVES for name, _ in self.shapes[wanted.get(_LEAF.sub(f".{leaf}", key), none)[0]].arguments}
                found = found._replace(added=tuple(name for name in found.added if name not in beside))
            if found != INTACT:
                yield Compared(client, locale, part, key, catalog, holder, whole, broken, found)

    def _differences(self, wanted: int, found: int, locale: Tag) -> Differences:
        key = (wanted, found, locale)
        known = self.known.get(key)
        if known is None:
            known = self.known[key] = differences(self.shapes[wanted], self.shapes[found], locale, self.own.get(locale, ()))
        return known

    def _candidates(self, catalog: Catalog, source: SourcePart, wanted: dict[str, tuple[int, Catalog]]) -> list[str]:
        """The keys with a text whose shape is another than the source's, or has plurals or a fault."""
        column, shapes, watched = catalog.column, catalog.shapes, self.watched
        first = source.catalogs[0]
        if len(source.catalogs) == 1 and column.keys is first.column.keys:
            if shapes == first.shapes:
                places = [place for place, number in enumerate(shapes) if number in watched] if watched else []
            else:
                places = [
                    place
                    for place, (number, other) in enumerate(zip(shapes, first.shapes, strict=True))
                    if number != other or number in watched
                ]
            return [column.keys[place] for place in places if column.texts[place] and column.keys[place] in source.key_set]
        none = (0, catalog)
        return [
            key
            for key, text, number in zip(column.keys, column.texts, shapes, strict=True)
            if (number or key in wanted) and (number != wanted.get(key, none)[0] or number in watched) and text and key in source.key_set
        ]


def shape_by_key(source: SourcePart) -> dict[str, tuple[int, Catalog]]:
    """The shape of each source text that has one, with the catalog that it comes from."""
    found: dict[str, tuple[int, Catalog]] = {}
    for catalog in source.catalogs:
        keys = catalog.column.keys
        found |= {keys[index]: (number, catalog) for index, number in enumerate(catalog.shapes) if number}
    return found


def is_computed(catalog: Catalog, key: str) -> bool:
    """Whether the text is code, of which nobody knows what it takes."""
    states = catalog.column.rare.state
    return bool(states) and key in catalog.column.key_set and states.get(catalog.column.keys.places[key]) == "computed"
