"""How code asks for messages, and what it shows beside them: read from source code and markup, of which nothing is run.

One module for each sort of file. What is found depends on a file's bytes, its name and the `Ways` alone, so that it can be kept.
"""

from __future__ import annotations

from lemmar.usages._text import LONGEST
from lemmar.usages._types import Found, Shown, Use, Way, Ways
from lemmar.usages.reading import is_read, quoted_in, read

__all__ = ["LONGEST", "Found", "Shown", "Use", "Way", "Ways", "is_read", "quoted_in", "read"]
