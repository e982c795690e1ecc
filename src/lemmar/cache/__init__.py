"""What is kept from one run to the next: one file in the user's cache folder. Without it every result is the same, only later."""

from lemmar.cache.code import code_digest, contents_digest
from lemmar.cache.store import Cache, Kind, Nothing, Store, default_folder, key_of

__all__ = ["Cache", "Kind", "Nothing", "Store", "code_digest", "contents_digest", "default_folder", "key_of"]
