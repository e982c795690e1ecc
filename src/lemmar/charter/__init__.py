"""The charter, ``lemmar.toml``: its types, reading it, checking it, its schema."""

from lemmar.charter.reading import read
from lemmar.charter.types import CatalogEntry, Charter, ClaimEntry, ClientEntry, WaiverEntry

__all__ = ["CatalogEntry", "Charter", "ClaimEntry", "ClientEntry", "WaiverEntry", "read"]
