"""Programming languages: how each writes declarations and literals. One module a language; the registry lists this folder.

Source code is read with real parsers and never run. A language turns what a declaration holds into the same nodes as any
document; what is computed becomes a node of the kind ``computed``, whose text says why it cannot be read.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable
from functools import cache, lru_cache
from typing import TYPE_CHECKING, NamedTuple

from lemmar.documents.nodes import Node

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

#: Larger source files are not read.
MAX_SOURCE = 8 * 1024 * 1024
#: Literals nested or resolved deeper than this are called computed.
MAX_DEPTH = 40


class ProgrammingLanguage(NamedTuple):
    """A language: its file suffixes, how to make its parser, and what a declaration in a parsed file holds.

    *declared* takes the file's root and a path of names, of which those after the first reach inside (``*``: what the file
    exports), and gives the values of all such declarations. *catalog* gives the maps that a file which is a catalog holds: what it
    exports or returns, else what it assigns, else what it gives to calls.
    """

    suffixes: tuple[str, ...]
    parser: Callable[[], Parser]
    declared: Callable[[Syntax, list[str]], list[Node]]
    catalog: Callable[[Syntax], list[Node]]


def load(suffix: str) -> ProgrammingLanguage | None:
    """The language of files with *suffix*, or None."""
    return next((found for name in names() for found in _languages(name) if suffix in found.suffixes), None)


@lru_cache(maxsize=1)
def names() -> tuple[str, ...]:
    """The modules of all languages, sorted."""
    return tuple(sorted(module.name for module in pkgutil.iter_modules(__path__) if module.name != "literals"))


@cache
def _languages(name: str) -> tuple[ProgrammingLanguage, ...]:
    found: tuple[ProgrammingLanguage, ...] = importlib.import_module(f"{__name__}.{name}").LANGUAGES
    return found
