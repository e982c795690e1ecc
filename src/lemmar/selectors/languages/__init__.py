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

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

    from lemmar.selectors.languages.sourcefile import SourceFile

_SHARED = {"literals", "sourcefile"}
#: Larger source files are not read.
MAX_SOURCE = 8 * 1024 * 1024
#: Literals nested or resolved deeper than this are called computed.
MAX_DEPTH = 40


class ProgrammingLanguage(NamedTuple):
    """A language: its file suffixes, how to make its parser, and what reads a parsed file from its root."""

    suffixes: tuple[str, ...]
    parser: Callable[[], Parser]
    file: Callable[[Syntax], SourceFile]


def parse(data: bytes, suffix: str) -> SourceFile | None:
    """The parsed file; None where no language has *suffix* or the file is too large. Never runs anything."""
    language = load(suffix)
    if language is None or len(data) > MAX_SOURCE:
        return None
    return language.file(language.parser().parse(data).root_node)


def unread(suffix: str) -> str:
    """Why a file of *suffix* is not read."""
    if load(suffix) is None:
        return f"source code in {suffix or 'files without a suffix'} files is not read"
    return f"source files of more than {MAX_SOURCE // 2**20} MiB are not read"


def load(suffix: str) -> ProgrammingLanguage | None:
    """The language of files with *suffix*, or None."""
    return next((found for name in names() for found in _languages(name) if suffix in found.suffixes), None)


@lru_cache(maxsize=1)
def names() -> tuple[str, ...]:
    """The modules of all languages, sorted."""
    return tuple(sorted(module.name for module in pkgutil.iter_modules(__path__) if module.name not in _SHARED))


@cache
def _languages(name: str) -> tuple[ProgrammingLanguage, ...]:
    found: tuple[ProgrammingLanguage, ...] = importlib.import_module(f"{__name__}.{name}").LANGUAGES
    return found
