"""Gathers what every client of a charter holds. Catalogs that several clients share are read once."""

from __future__ import annotations

import posixpath
from collections.abc import Iterator, Mapping, Sequence
from typing import Any, NamedTuple, TypeVar

from msgspec.structs import replace

from lemmar.charter.presets import Trait, traits
from lemmar.charter.types import AssetEntry, CatalogEntry, Charter, ClaimEntry, ClientEntry, ComposedEntry
from lemmar.formats import NOTHING, Keys
from lemmar.inventory.assets import Assets, read_assets, sizes_of
from lemmar.inventory.catalogs import CatalogReader, Found, options_of
from lemmar.inventory.claims import Known, read_claim
from lemmar.inventory.composing import Composed, Composer
from lemmar.inventory.contents import Claim
from lemmar.inventory.fonts import Box, Fonts, read_box, read_fonts, unread
from lemmar.inventory.key_lists import KeyList, read_key_list
from lemmar.inventory.locales import Speller
from lemmar.inventory.moved import moved
from lemmar.inventory.readings import Readings
from lemmar.inventory.shapes import Shapes
from lemmar.inventory.using import Usage, usage_of
from lemmar.syntax import Shape
from lemmar.tags import LanguageTag, Tag, same_locale
from lemmar.trees import File, Tree
from lemmar.trees.sights import Watched
from lemmar.trees.watching import WatchedTree

Entry = TypeVar("Entry")


class ClientFiles(NamedTuple):
    """What one client holds, as read: nothing is resolved yet. *found* has its catalogs in the charter's order, *source* is the locale that
    they are written in, as the client's files have it; *carried* says that other locales' files hold its texts, and it has none of its own.
    """

    entry: ClientEntry
    traits: Mapping[str, Trait]
    claims: tuple[Claim, ...]
    found: tuple[Found, ...]
    source: Tag
    carried: bool
    composed: Composed = Composed()
    key_lists: tuple[KeyList, ...] = ()
    usage: Usage | None = None
    assets: tuple[Assets, ...] = ()
    sizes: Mapping[File, int] = NOTHING
    fonts: tuple[Fonts, ...] = ()
    boxes: tuple[Box, ...] = ()
    undrawn: tuple[str, ...] = ()

    @property
    def unfinished(self) -> tuple[str, ...]:
        """Sentences on what a bound of time has cut short."""
        late = [words for found in self.found for words in found.unfinished]
        each = [
            *(claim.unfinished for claim in self.claims),
            *(one.unfinished for one in self.key_lists),
            *(one.unfinished for one in self.assets),
        ]
        used = self.usage.unfinished if self.usage is not None else ()
        return (*late, *filter(None, each), *self.composed.unfinished, *used, *self.undrawn)


class Inventory(NamedTuple):
    """What all clients hold, and the table that their shape numbers point into."""

    clients: tuple[ClientFiles, ...]
    shapes: tuple[Shape, ...]

    @property
    def unfinished(self) -> tuple[str, ...]:
        """Sentences on what a bound of time has cut short."""
        return tuple(dict.fromkeys(words for client in self.clients for words in client.unfinished))


def gather(charter: Charter, tree: Tree, readings: Readings | None = None) -> Inventory:
    """Reads all catalogs and claims that *charter* names; *readings* are those of files that were read already."""
    gatherer = Gatherer(charter, tree, readings or Readings())
    clients = tuple(gatherer.client(index) for index in range(len(charter.client)))
    return Inventory(clients, tuple(gatherer.shapes.table))


class Gatherer:
    """Gathers the clients of *charter* from *tree*, one after the other, by *readings*. *shapes* is the table that their shape numbers point into."""

    def __init__(self, charter: Charter, tree: Tree, readings: Readings) -> None:
        self.shapes = Shapes()
        self._charter = charter
        self._tree = tree
        self._readings = readings
        self._own = {name: found.placeholder for name, found in charter.syntax.items()}
        self._shared: dict[str, tuple[Found, Tag, Watched]] = {}

    def client(self, index: int, tree: WatchedTree | None = None) -> ClientFiles:
        """What the client with that *index* in the charter holds; *tree* is told what of its own is asked for."""
        charter, client, seen = self._charter, self._charter.client[index], tree or WatchedTree(self._tree)
        known = traits(client)
        root = base_of(client)
        spelling = known["spelling"].value
        wanted = client.source or charter.source
        keys: dict[Keys, Keys] = {}
        readers = [
            CatalogReader(seen, entry, root, speller_of(charter, entry, client, spelling), wanted, keys, self._own, self._readings)
            for entry in client.catalog
        ]
        named = frozenset().union(*(reader.read_files() for reader in readers))
        source = written_in(named, wanted)
        shared = {entry.name for entry in charter.catalog}
        found = []
        for name in client.uses:
            if name in shared:
                held, written, watched = self._of_several(name)
                seen.add(watched)
                found.append(_retagged(held, written, source))
        for place, reader in enumerate(readers):
            number = len(charter.catalog) + place
            found.append(reader.found(number, ("client", index, "catalog", place), (client.name,), self.shapes, source))
        found = [self._with_moved(client, each, seen, found) for each in found]
        carried = source not in named and any(catalog.tag == source for each in found for catalog in each.catalogs)
        one = _One(charter, client, index, seen, source, spelling, self._readings)
        lists = one.key_lists()
        claims = _claims(charter, seen, client, spelling)
        texts = frozenset().union(*(each.pattern.known for each in found), (each.file for each in lists))
        others = [base_of(other) for other in charter.client]
        with self._readings.times.of("read", "usage"):
            usage = usage_of(seen, client.usage, root, others, texts, self._readings)
        assets = one.assets()
        weighed = {catalog.file for each in found for catalog in each.catalogs} | {each.file for group in assets for each in group.found}
        sizes = sizes_of(seen, weighed) if client.budget else {}
        return ClientFiles(client, known, claims, tuple(found), source, carried, one.composed(), lists, usage, assets, sizes, **one.drawn())

    def _with_moved(self, client: ClientEntry, found: Found, tree: WatchedTree, every: Sequence[Found]) -> Found:
        """A catalog of the client's own with the files that it lacks and that lie elsewhere in the client."""
        pattern, charter = found.pattern, self._charter
        entry = next((each for each in client.catalog if each.files == pattern.files), None) if pattern.where[0] == "client" else None
        held = {catalog.tag for catalog in found.catalogs} | {named.tag for _, named in found.names}
        wanted = {Tag(tag) for tag in charter.locales} - held - set(client.without) - set(pattern.without)
        if entry is None or not wanted or pattern.built:
            return found
        taken = frozenset().union(*(each.pattern.known for each in every))
        speller = speller_of(charter, entry, client, traits(client)["spelling"].value)
        roots = [base_of(other) for other in charter.client if other is not client]
        return found._replace(pattern=replace(pattern, moved=moved(tree, pattern.files, pattern.base, speller, wanted, taken, roots)))

    def _of_several(self, name: str) -> tuple[Found, Tag, Watched]:
        """The catalog of that *name* which several clients share, the locale that its texts are written in, and what was asked for it; read once."""
        charter = self._charter
        if name not in self._shared:
            number = next(number for number, entry in enumerate(charter.catalog) if entry.name == name)
            entry = charter.catalog[number]
            users = tuple(client.name for client in charter.client if entry.name in client.uses)
            speller = speller_of(charter, entry, None, "auto")
            tree = WatchedTree(self._tree)
            reader = CatalogReader(tree, entry, "", speller, charter.source, {}, self._own, self._readings)
            source = written_in(reader.read_files(), charter.source)
            self._shared[name] = reader.found(number, ("catalog", number), users, self.shapes, source), source, tree.watched
        return self._shared[name]


class _One(NamedTuple):
    """One client on its way: what of it lies beside its catalogs and claims."""

    charter: Charter
    client: ClientEntry
    number: int
    tree: WatchedTree
    source: Tag
    spelling: str
    readings: Readings

    def placed(self, table: str, entries: Sequence[Entry]) -> Iterator[tuple[Entry, tuple[str | int, ...]]]:
        """The *entries* of a table, each with its path in the charter."""
        return ((entry, ("client", self.number, table, place)) for place, entry in enumerate(entries))

    def speller(self, entry: ComposedEntry | AssetEntry) -> Speller:
        """How the client spells locales there."""
        return speller_of(self.charter, entry, self.client, self.spelling)

    def composed(self) -> Composed:
        """Catalogs that are put together of fragments."""
        root = base_of(self.client)
        made = [
            Composer(self.tree, entry, root, self.speller(entry), self.source, self.readings, where).composed()
            for entry, where in self.placed("composed", self.client.composed)
        ]
        return Composed(
            tuple(each for one in made for each in one.catalogs),
            tuple(each for one in made for each in one.unmade),
            tuple(each for one in made for each in one.unfinished),
        )

    def key_lists(self) -> tuple[KeyList, ...]:
        """Lists of keys that code is made of."""
        root = base_of(self.client)
        return tuple(read_key_list(self.tree, entry, root, where) for entry, where in self.placed("key-list", self.client.key_list))

    def assets(self) -> tuple[Assets, ...]:
        """Pictures and sounds by locale."""
        root = base_of(self.client)
        return tuple(
            read_assets(self.tree, entry, root, self.speller(entry), self.source, where)
            for entry, where in self.placed("asset", self.client.asset)
        )

    def drawn(self) -> dict[str, Any]:
        """Fonts and boxes, or why they cannot be read here."""
        late = unread(self.client.font, self.client.box)
        if late:
            return {"undrawn": late}
        root = base_of(self.client)
        fonts = (read_fonts(self.tree, entry, root, where, self.readings) for entry, where in self.placed("font", self.client.font))
        boxes = (read_box(self.tree, entry, root, where) for entry, where in self.placed("box", self.client.box))
        return {"undrawn": late, "fonts": tuple(fonts), "boxes": tuple(boxes)}


def written_in(held: frozenset[Tag], wanted: Tag) -> Tag:
    """The one of *held* locales that texts are written in: *wanted* itself, else the one that means the same; *wanted* where none does."""
    if wanted in held:
        return wanted
    return next((tag for tag in sorted(held) if same_locale(LanguageTag.parse(tag), LanguageTag.parse(wanted))), wanted)


def _retagged(found: Found, shared: Tag, source: Tag) -> Found:
    """A shared catalog as a client has it whose own files call the *shared* source *source*: one locale, by one name."""
    if shared == source or not same_locale(LanguageTag.parse(shared), LanguageTag.parse(source)):
        return found
    catalogs = (replace(catalog, tag=source) if catalog.tag == shared else catalog for catalog in found.catalogs)
    faults = (replace(fault, tag=source) if fault.tag == shared else fault for fault in found.faults)
    names = ((file, replace(name, tag=source) if name.tag == shared else name) for file, name in found.names)
    return found._replace(catalogs=tuple(catalogs), faults=tuple(faults), names=tuple(names))


def base_of(client: ClientEntry) -> str:
    """The folder that a client's patterns start from; empty for the monorepo's root."""
    return "" if client.root == "." else client.root.strip("/")


def speller_of(
    charter: Charter, entry: CatalogEntry | ClaimEntry | ComposedEntry | AssetEntry, client: ClientEntry | None, otherwise: str
) -> Speller:
    """The nearest spelling wins: the catalog's or claim's, the client's, the preset's. Names in words are the charter's own first."""
    spelling = entry.spelling or otherwise
    own = {locale.name: tag for tag, locale in charter.locale.items() if locale.name} if spelling == "name" else {}
    return Speller(spelling, {**own, **(client.spelled if client else {}), **entry.spelled})


def _claims(charter: Charter, tree: Tree, client: ClientEntry, spelling: str) -> tuple[Claim, ...]:
    root = base_of(client)
    excepted = {catalog.files: catalog.exceptions for catalog in client.catalog}
    known = Known(_sheet_columns(client, root), excepted, tuple(charter.roster.pseudo))
    return tuple(read_claim(tree, claim, root, speller_of(charter, claim, client, spelling), known) for claim in client.claim)


def _sheet_columns(client: ClientEntry, root: str) -> dict[File, Mapping[str, Any]]:
    """What the charter knows of the headers of the client's sheets, by file."""
    entries = (entry for entry in client.catalog if entry.columns is not None and "{" not in entry.files and "*" not in entry.files)
    return {File(posixpath.normpath(posixpath.join(root, entry.files))): options_of(entry, entry.files).columns for entry in entries}
