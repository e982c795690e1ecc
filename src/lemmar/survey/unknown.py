"""What a charter does not know of: catalogs that no client has, clients and claims that are new."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Sequence, Set
from typing import NamedTuple

from lemmar.charter import Charter
from lemmar.resolve.outlines import Beyond, Uncharted
from lemmar.resolve.world import Client
from lemmar.survey.catalogs import SURE, CatalogFinder, may_be_catalog
from lemmar.survey.draft import DraftCatalog, DraftClaim
from lemmar.survey.drafting import draft
from lemmar.trees import File, Tree


def uncharted(charter: Charter, tree: Tree, held: Set[str]) -> Beyond:
    """The folders with catalogs that no client of *charter* has, inside of clients as well; *held* are the files that are some client's.

    Only what no catalog and no claim holds is looked at, so that this costs little where everything is charted.
    """
    files = [file for file in _files(tree, charter) if file not in held]
    if not any(map(may_be_catalog, files)):
        return Beyond()
    finder = CatalogFinder(tree, files, wholes=False)
    found = [catalog for catalog in finder.found() if catalog.confidence >= SURE and _is_beyond(catalog)]
    folders = (Uncharted(catalog.base, File(catalog.files[0]), len(catalog.locales)) for catalog in found)
    return Beyond(tuple(folders), tuple(finder.unfinished))


def _is_beyond(catalog: DraftCatalog) -> bool:
    """Whether the catalog is more than the rest of one that is charted: two locales of it at least."""
    return len(catalog.files) > 1 or "layout" in catalog.settings or "columns" in catalog.settings


class News(NamedTuple):
    """What a monorepo has that its charter does not know of: clients, catalogs that no pattern finds, claims; and what could not be looked at."""

    clients: tuple[str, ...]
    catalogs: tuple[DraftCatalog, ...]
    claims: tuple[tuple[str, DraftClaim], ...] = ()
    unfinished: tuple[str, ...] = ()


def news(charter: Charter, tree: Tree, known: Sequence[Client]) -> News:
    """What *tree* holds that *charter* does not know of; *known* are its clients, resolved."""
    found = draft(tree, _files(tree, charter))
    held = {str(file) for client in known for file in client.held}
    roots = [client.root.strip("/") for client in charter.client]
    fresh = [
        (client.root, catalog)
        for client in found.clients
        for catalog in client.catalogs
        if not held & set(catalog.files) and catalog.confidence >= SURE
    ]
    new = tuple(dict.fromkeys(root for root, _ in fresh if not any(_within(root, other) for other in roots)))
    claims = tuple(
        (client.name, claim)
        for client in found.clients
        if client.root not in new
        for claim in client.claims
        if "file" in claim.settings and claim.place.rpartition(":")[0] not in held and not claim.doubts
    )
    return News(new, tuple(catalog for _, catalog in fresh), claims, (*found.unfinished, *tree.unread(), *tree.changed()))


def _within(root: str, other: str) -> bool:
    return other in ("", ".") or root == other or root.startswith(f"{other}/")


def _files(tree: Tree, charter: Charter) -> list[File]:
    """All files that the charter does not ignore."""
    ignore: Iterable[str] = charter.charter.ignore
    return [match.file for match in tree.files("**", "") if not any(fnmatch.fnmatchcase(match.file, pattern) for pattern in ignore)]
