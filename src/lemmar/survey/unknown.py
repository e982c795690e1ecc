"""What a charter does not know of: clients, catalogs and claims that are new."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from lemmar.charter.types import Charter
from lemmar.resolve.world import Client
from lemmar.survey.catalogs import SURE
from lemmar.survey.draft import DraftCatalog, DraftClaim
from lemmar.survey.drafting import draft
from lemmar.survey.uncharted import charted_files
from lemmar.trees import Tree


class News(NamedTuple):
    """What a monorepo has that its charter does not know of: clients, catalogs that no pattern finds, claims; and what could not be looked at."""

    clients: tuple[str, ...]
    catalogs: tuple[DraftCatalog, ...]
    claims: tuple[tuple[str, DraftClaim], ...] = ()
    unfinished: tuple[str, ...] = ()


def news(charter: Charter, tree: Tree, known: Sequence[Client]) -> News:
    """What *tree* holds that *charter* does not know of; *known* are its clients, resolved."""
    found = draft(tree, charted_files(tree, charter))
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
