"""How code asks for messages, and which texts it shows that no catalog has: read from source code and markup, none of which is run.

One module for each sort of file. What is found depends on a file's bytes, its name and the `Ways` alone, so that it can be kept.
"""

from __future__ import annotations

from lemmar.usages._text import LONGEST, blocks, closing
from lemmar.usages._types import Found, ShownText, Use, Way, Ways
from lemmar.usages.markup import PLAIN, TEMPLATES, block_key, tag_around
from lemmar.usages.reading import is_read, quoted_in, read

__all__ = [
    "LONGEST",
    "PLAIN",
    "TEMPLATES",
    "Found",
    "ShownText",
    "Use",
    "Way",
    "Ways",
    "block_key",
    "blocks",
    "closing",
    "is_read",
    "quoted_in",
    "read",
    "tag_around",
]
