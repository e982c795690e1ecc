"""What a charter does not know of: folders with catalogs outside of its clients, clients and catalogs that are new."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Sequence
from typing import NamedTuple

from lemmar.charter import Charter
from lemmar.resolve.world import Client, Uncharted
from lemmar.survey.catalogs import CatalogFinder, may_be_catalog
from lemmar.survey.draft import DraftCatalog
from lemmar.survey.drafting import draft
from lemmar.trees import File, Tree

#: What is less sure to be a catalog is no news.
_SURE = 0.7


class Beyond(NamedTuple):
    """The folders with catalogs that no client has, and sentences on files that could not be looked at on this machine."""

    folders: tuple[Uncharted, ...] = ()
    unfinished: tuple[str, ...] = ()


def uncharted(charter: Charter, tree: Tree, known: Sequence[Client]) -> Beyond:
    """The folders with catalogs that lie outside of every client of *charter*; *known* are its clients, resolved.

    Only what lies outside is looked at, so that this costs little where everything is charted.
    """
    roots = [root for client in charter.client if (root := client.root.strip("/"))]
    if any(root in ("", ".") for root in roots):
        return Beyond()
    held = {str(catalog.file) for client in known for catalog in client.catalogs}
    files = [file for file in _files(tree, charter) if not any(_within(file, root) for root in roots) and file not in held]
    if not any(map(may_be_catalog, files)):
        return Beyond()
    finder = CatalogFinder(tree, files)
    found = [catalog for catalog in finder.found() if catalog.confidence >= _SURE]
    folders = (Uncharted(catalog.base, File(catalog.files[0]), len(catalog.locales)) for catalog in found)
    return Beyond(tuple(folders), tuple(finder.unfinished))


class News(NamedTuple):
    """What a monorepo has that its charter does not know of: clients, and catalogs that no pattern finds; and what could not be looked at."""

    clients: tuple[str, ...]
    catalogs: tuple[DraftCatalog, ...]
    unfinished: tuple[str, ...] = ()


def news(charter: Charter, tree: Tree, known: Sequence[Client]) -> News:
    """What *tree* holds that *charter* does not know of; *known* are its clients, resolved."""
    found = draft(tree, _files(tree, charter))
    covered = {str(catalog.file) for client in known for catalog in client.catalogs}
    covered |= {str(fault.file) for client in known for fault in client.faults}
    roots = [client.root.strip("/") for client in charter.client]
    fresh = [
        (client.root, catalog)
        for client in found.clients
        for catalog in client.catalogs
        if not covered & set(catalog.files) and catalog.confidence >= _SURE
    ]
    new = tuple(dict.fromkeys(root for root, _ in fresh if not any(_within(root, other) for other in roots)))
    return News(new, tuple(catalog for _, catalog in fresh), found.unfinished)


def _within(root: str, other: str) -> bool:
    return other in ("", ".") or root == other or root.startswith(f"{other}/")


def _files(tree: Tree, charter: Charter) -> list[File]:
    """All files that the charter does not ignore."""
    ignore: Iterable[str] = charter.charter.ignore
    return [match.file for match in tree.files("**", "") if not any(fnmatch.fnmatchcase(match.file, pattern) for pattern in ignore)]
