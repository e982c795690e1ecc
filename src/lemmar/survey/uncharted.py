"""The catalogs that no client of a charter has."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Set
from typing import TYPE_CHECKING

from lemmar.charter.file import FILE_NAME
from lemmar.charter.types import Charter
from lemmar.formats import may_be_catalog
from lemmar.resolve.outlines import Beyond, Uncharted
from lemmar.trees import File, Tree

if TYPE_CHECKING:
    from lemmar.survey.draft import DraftCatalog


def uncharted(charter: Charter, tree: Tree, held: Set[str]) -> Beyond:
    """The folders with catalogs that no client of *charter* has, inside of clients as well; *held* are the files that are some client's.

    Only what no catalog and no claim holds is looked at, so that this costs little where everything is charted.
    """
    files = [file for file in charted_files(tree, charter) if file not in held]
    if not any(map(may_be_catalog, files)):
        return Beyond()
    from lemmar.survey.catalogs import SURE, CatalogFinder

    finder = CatalogFinder(tree, files, wholes=False)
    found = [catalog for catalog in finder.found() if catalog.confidence >= SURE and _is_beyond(catalog)]
    folders = (Uncharted(catalog.base, File(catalog.files[0]), len(catalog.locales)) for catalog in found)
    return Beyond(tuple(folders), tuple(finder.unfinished))


def _is_beyond(catalog: DraftCatalog) -> bool:
    """Whether the catalog is more than the rest of one that is charted: two locales of it at least."""
    return len(catalog.files) > 1 or "layout" in catalog.settings or "columns" in catalog.settings


def charted_files(tree: Tree, charter: Charter) -> list[File]:
    """All files that the charter does not ignore, but for itself and what it includes, which are nobody's lists of locales."""
    ignore: Iterable[str] = charter.charter.ignore
    own = {match.file for pattern in charter.charter.include for match in tree.files(pattern, "")}
    return [
        match.file
        for match in tree.files("**", "")
        if match.file not in own and not is_charter(match.file) and not any(fnmatch.fnmatchcase(match.file, pattern) for pattern in ignore)
    ]


def is_charter(file: str) -> bool:
    """Whether a file has a charter's name, in whichever folder."""
    return file.rpartition("/")[2] == FILE_NAME
