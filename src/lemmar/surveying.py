"""The survey as a whole: draws a draft up, holds it against what the catalogs really hold, and says what a charter does not know of."""

from __future__ import annotations

import fnmatch
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

from lemmar.charter import FILE_NAME, Charter
from lemmar.charter.reading import parse
from lemmar.inventory import gather
from lemmar.resolve import resolve
from lemmar.resolve.world import Client, Uncharted
from lemmar.tags import Tag
from lemmar.trees import File
from lemmar.trees.folder import FolderTree

if TYPE_CHECKING:
    from lemmar.survey import Draft, DraftCatalog

#: A locale that a client has less of than this is on trial.
_COMPLETE = 0.98
# Outside of clients a file alone in its folder, such as the charter or a README, is nothing to look into.
_MAY_BE_CATALOGS = (
    *(".json", ".jsonc", ".json5", ".arb", ".yaml", ".yml", ".properties", ".strings", ".resx", ".xlf", ".xliff", ".po", ".xaml", ".ts"),
    *(".xml", ".js", ".mjs", ".php", ".dart", ".py", ".csv", ".tsv", ".xlsx", ".xcstrings"),
)


def uncharted(charter: Charter, tree: FolderTree, known: Sequence[Client]) -> tuple[Uncharted, ...]:
    """The folders with catalogs that lie outside of every client of *charter*; *known* are its clients, resolved.

    Only what lies outside is looked at, so that this costs little where everything is charted.
    """
    ignore = charter.charter.ignore
    roots = [root for client in charter.client if (root := client.root.strip("/"))]
    if any(root in ("", ".") for root in roots):
        return ()
    held = {str(catalog.file) for client in known for catalog in client.catalogs}
    files = [match.file for match in tree.files("**") if not any(_within(match.file, root) for root in roots) and match.file not in held]
    files = [file for file in files if not any(fnmatch.fnmatchcase(file, pattern) for pattern in ignore)]
    if not any(file.endswith(_MAY_BE_CATALOGS) for file in files):
        return ()
    from lemmar.survey.catalogs import CatalogFinder

    found = CatalogFinder(tree, files).found()
    return tuple(Uncharted(catalog.base, File(catalog.files[0]), len(catalog.locales)) for catalog in found if catalog.confidence >= 0.7)


class News(NamedTuple):
    """What a monorepo has that its charter does not know of: clients, and catalogs that no pattern finds."""

    clients: tuple[str, ...]
    catalogs: tuple[DraftCatalog, ...]


def draw_up(root: Path, ignore: Sequence[str] = ()) -> Draft:
    """The draft for the monorepo at *root*, its roster settled by what its clients' catalogs hold."""
    from lemmar.survey import survey

    tree = FolderTree(root)
    files = [match.file for match in tree.files("**") if not any(fnmatch.fnmatchcase(match.file, pattern) for pattern in ignore)]
    draft = survey(tree, files)
    return _settled(draft, tree) if draft.clients else draft


def _settled(draft: Draft, tree: FolderTree) -> Draft:
    """Locales of which some client lacks texts are on trial, with the least share that a client has."""
    from lemmar.survey.writing import charter_text

    everything = draft._replace(shipping=(*draft.shipping, *draft.trial), trial={})
    charter, _ = parse(charter_text(everything).encode(), FILE_NAME)
    clients = resolve(charter, gather(charter, tree))
    shares = {tag: _least_share(clients, tag) for tag in everything.shipping}
    shipping = tuple(tag for tag in draft.shipping if tag == draft.source or (shares[tag] is None or (shares[tag] or 0) >= _COMPLETE))
    trial = {tag: int(100 * (shares[tag] or 0)) / 100 for tag in everything.shipping if tag not in shipping}
    return draft._replace(shipping=shipping, trial=trial)


def _least_share(clients: Sequence[Client], tag: Tag) -> float | None:
    """The least share of messages that a client which supports *tag* has of it; None where none does."""
    effects = [client.effects[tag] for client in clients if tag in client.effects]
    shares = [effect.answer.complete / effect.answer.messages for effect in effects if effect.answer.messages]
    return min(shares, default=None)


def news(charter: Charter, tree: FolderTree, known: Sequence[Client]) -> News:
    """What *tree* holds that *charter* does not know of; *known* are its clients, resolved."""
    from lemmar.survey import survey

    ignore = charter.charter.ignore
    files = [match.file for match in tree.files("**") if not any(fnmatch.fnmatchcase(match.file, pattern) for pattern in ignore)]
    draft = survey(tree, files)
    covered = {str(catalog.file) for client in known for catalog in client.catalogs}
    covered |= {str(fault.file) for client in known for fault in client.faults}
    roots = [client.root.strip("/") for client in charter.client]
    fresh = [
        (client.root, catalog)
        for client in draft.clients
        for catalog in client.catalogs
        if not covered & set(catalog.files) and catalog.confidence >= 0.7
    ]
    new = tuple(dict.fromkeys(root for root, _ in fresh if not any(_within(root, other) for other in roots)))
    return News(new, tuple(catalog for _, catalog in fresh))


def _within(root: str, other: str) -> bool:
    return other in ("", ".") or root == other or root.startswith(f"{other}/")
