"""Gathers what every client of a charter holds. Catalogs that several clients share are read once."""

from __future__ import annotations

import posixpath
from collections.abc import Mapping
from typing import Any, NamedTuple

from lemmar.charter import CatalogEntry, Charter, ClaimEntry, ClientEntry
from lemmar.charter.presets import Trait, traits
from lemmar.formats import Keys
from lemmar.inventory.catalogs import CatalogReader, Found, options_of
from lemmar.inventory.claims import read_claim
from lemmar.inventory.contents import Claim
from lemmar.inventory.locales import Speller
from lemmar.inventory.shapes import Shapes
from lemmar.syntax import Shape
from lemmar.tags import Tag
from lemmar.trees import File, Tree


class ClientFiles(NamedTuple):
    """What one client holds, as read: nothing is resolved yet. *found* has its catalogs in the charter's order."""

    entry: ClientEntry
    traits: Mapping[str, Trait]
    claims: tuple[Claim, ...]
    found: tuple[Found, ...]


class Inventory(NamedTuple):
    """What all clients hold, the table that their shape numbers point into, and what a bound of time has cut short."""

    clients: tuple[ClientFiles, ...]
    shapes: tuple[Shape, ...]
    unfinished: tuple[str, ...] = ()


def gather(charter: Charter, tree: Tree) -> Inventory:
    """Reads all catalogs and claims that *charter* names."""
    shapes = Shapes()
    own = {name: found.placeholder for name, found in charter.syntax.items()}
    keys: dict[Keys, Keys] = {}
    shared = {}
    for number, entry in enumerate(charter.catalog):
        users = tuple(client.name for client in charter.client if entry.name in client.uses)
        reader = CatalogReader(tree, entry, "", _speller(charter, entry, None, "auto"), Tag(charter.source), keys, own)
        shared[entry.name] = reader.found(number, ("catalog", number), users, shapes)
    clients = []
    number = len(charter.catalog)
    for index, client in enumerate(charter.client):
        known = traits(client)
        root = base_of(client)
        found = [shared[name] for name in client.uses if name in shared]
        for place, entry in enumerate(client.catalog):
            reader = CatalogReader(
                tree, entry, root, _speller(charter, entry, client, known["spelling"].value), Tag(charter.source), keys, own
            )
            found.append(reader.found(number, ("client", index, "catalog", place), (client.name,), shapes))
            number += 1
        claims = _claims(charter, tree, client, known["spelling"].value)
        clients.append(ClientFiles(client, known, claims, tuple(found)))
    late = [words for client in clients for found in client.found for words in found.unfinished]
    late += [claim.unfinished for client in clients for claim in client.claims if claim.unfinished]
    return Inventory(tuple(clients), tuple(shapes.table), tuple(dict.fromkeys(late)))


def base_of(client: ClientEntry) -> str:
    """The folder that a client's patterns start from; empty for the monorepo's root."""
    return "" if client.root == "." else client.root.strip("/")


def _speller(charter: Charter, entry: CatalogEntry | ClaimEntry, client: ClientEntry | None, otherwise: str) -> Speller:
    """The nearest spelling wins: the catalog's or claim's, the client's, the preset's. Names in words are the charter's own first."""
    spelling = entry.spelling or otherwise
    own = {locale.name: tag for tag, locale in charter.locale.items() if locale.name} if spelling == "name" else {}
    return Speller(spelling, {**own, **(client.spelled if client else {}), **entry.spelled})


def _claims(charter: Charter, tree: Tree, client: ClientEntry, spelling: str) -> tuple[Claim, ...]:
    root = base_of(client)
    columns = _sheet_columns(client, root)
    return tuple(read_claim(tree, claim, root, _speller(charter, claim, client, spelling), columns) for claim in client.claim)


def _sheet_columns(client: ClientEntry, root: str) -> dict[File, Mapping[str, Any]]:
    """What the charter knows of the headers of the client's sheets, by file."""
    entries = (entry for entry in client.catalog if entry.columns is not None and "{" not in entry.files and "*" not in entry.files)
    return {File(posixpath.normpath(posixpath.join(root, entry.files))): options_of(entry, entry.files).columns for entry in entries}
