"""In which syntax a catalog's texts are: what its pattern says or shows, the charter's own expressions, apostrophes that always quote."""

from __future__ import annotations

from lemmar.charter.types import CatalogEntry, Charter
from lemmar.inventory.contents import Catalog, Pattern
from lemmar.resolve.spots import pattern_of
from lemmar.resolve.world import Client
from lemmar.syntax import Syntax, doubled, own
from lemmar.syntax import load as load_syntax


def entry_of(charter: Charter, pattern: Pattern) -> CatalogEntry:
    """What the charter says of a catalog."""
    if pattern.where[0] == "catalog":
        return charter.catalog[int(pattern.where[1])]
    return charter.client[int(pattern.where[1])].catalog[int(pattern.where[3])]


def syntax_of(charter: Charter, client: Client, catalog: Catalog) -> Syntax:
    """The syntax of a catalog's texts."""
    pattern = pattern_of(client, catalog)
    if pattern.syntax in charter.syntax:
        return own(pattern.syntax, charter.syntax[pattern.syntax].placeholder)
    return doubled(pattern.syntax) if entry_of(charter, pattern).apostrophe == "doubled" else load_syntax(pattern.syntax)
