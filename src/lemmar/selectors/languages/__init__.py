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
    from tree_sitter import Parser, Tree

    from lemmar.selectors.languages.sourcefile import SourceFile

_SHARED = {"literals", "mending", "sourcefile"}
#: Larger source files are not read.
MAX_SOURCE = 8 * 1024 * 1024
#: Literals nested or resolved deeper than this are called computed.
MAX_DEPTH = 40


class ProgrammingLanguage(NamedTuple):
    """A language: its file suffixes, how to make its parser, and what reads a parsed file from its root."""

    suffixes: tuple[str, ...]
    parser: Callable[[], Parser]
    file: Callable[[Syntax], SourceFile]


class Patience:
    """How long parsers may take, in seconds, for one parse after the other: sound code needs a tenth of it at the most.

    What stands in broken code can cost a parser any amount of time; it is asked to stop in time to say so.
    *wrong_at* is the byte that it had come to when it first told of a fault.
    """

    def __init__(self, size: int) -> None:
        self.left = 0.7 + size / 500_000
        self.wrong_at: int | None = None

    def parse(self, parser: Parser, data: bytes) -> Tree | None:
        """The tree of *data*; None where patience ends before it is there."""
        from time import perf_counter

        end = perf_counter() + self.left

        def late(offset: int, has_error: bool) -> bool:
            if has_error and self.wrong_at is None:
                self.wrong_at = offset
            return perf_counter() > end

        try:  # only a parser that asks for its source piece by piece can be stopped
            return parser.parse(lambda offset, _point: data[offset : offset + 4_096], progress_callback=late)
        except ValueError:
            return None
        finally:
            self.left = max(end - perf_counter(), 0.0)


def parse(data: bytes, suffix: str, patience: Patience | None = None) -> SourceFile | None:
    """The parsed file; None where no language has *suffix*, or the file is too large or too broken. Never runs anything."""
    language = load(suffix)
    if language is None or len(data) > MAX_SOURCE or _scanned_again_and_again(data, suffix):
        return None
    parser = language.parser()
    tree = (patience or Patience(len(data))).parse(parser, data)
    if tree is None:
        return None
    return language.file(parser.parse(data, tree).root_node)  # the same tree once more, now with its source


def _scanned_again_and_again(data: bytes, suffix: str) -> bool:
    """Whether a parser would look for the end of something from very many places: comments that nothing closes, endless lines."""
    tail = len(data) - max(data.rfind(b"*/"), 0)
    if tail > 1_000 and data.count(b"/*", len(data) - tail) * tail > 20_000_000:
        return True
    if data.count(b"\\\n") * len(data) > 20_000_000:
        return True
    return suffix == ".dart" and len(data) > 8_192 and max(map(len, data.split(b"\n"))) > 8_192


def unread(suffix: str) -> str:
    """Why a file of *suffix* is not read."""
    if load(suffix) is None:
        return f"source code in {suffix or 'files without a suffix'} files is not read"
    return f"the code is too broken to be parsed, or larger than {MAX_SOURCE // 2**20} MiB"


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
