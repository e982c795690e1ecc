"""The charter, ``lemmar.toml``: its types, reading it, checking it, its schema."""

from lemmar.charter.reading import FILE_NAME, find, read
from lemmar.charter.types import CatalogEntry, Charter, ClaimEntry, ClientEntry, WaiverEntry

__all__ = ["FILE_NAME", "CatalogEntry", "Charter", "ClaimEntry", "ClientEntry", "WaiverEntry", "find", "read"]
