"""Parses a source file in bounded time."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import cache
from importlib import import_module
from typing import TYPE_CHECKING, Literal, NamedTuple

from lemmar.basics.registry import Folder
from lemmar.documents.grammars import MOST_BYTES, Patience, tree_of
from lemmar.documents.quoting import quoted
from lemmar.languages._plain import PlainLiteral

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

    from lemmar.languages._sourcefile import SourceFile

#: Larger source files are not read.
MAX_SOURCE = MOST_BYTES


class ProgrammingLanguage(NamedTuple):
    """A language: its file suffixes, the module with its grammar, and what reads a parsed file from its root.

    With *catalogs* messages are written in it as well; *mostly* is what most of its files are: ``code``, so that they are catalogs only where
    their contents look so too, or ``catalogs``. *dialect* is the function of the grammar's module that gives the one meant, of several;
    *quoted* writes a literal, *plain* reads files that are one of texts.
    """

    suffixes: tuple[str, ...]
    grammar: str
    file: Callable[[Syntax, bytes], SourceFile]
    catalogs: bool = False
    mostly: Literal["code", "catalogs"] = "code"
    dialect: str = "language"
    quoted: Callable[[str], str] = quoted
    plain: PlainLiteral | None = None

    def parser(self) -> Parser:
        """A new parser."""
        from tree_sitter import Language, Parser

        return Parser(Language(getattr(import_module(self.grammar), self.dialect)()))


_FOLDER: Folder[tuple[ProgrammingLanguage, ...]] = Folder("lemmar.languages", (os.path.dirname(__file__),), "LANGUAGES")


def parse(data: bytes, suffix: str, patience: Patience | None = None, is_sparse: bool = False) -> SourceFile | None:
    """The parsed file; None where no language has *suffix*, or the file is too large or too broken. Never runs anything. Where it *is sparse*, few of its
    nodes are looked at.
    """
    language = load(suffix)
    if language is None or len(data) > MAX_SOURCE or _scanned_again_and_again(data, suffix):
        return None
    tree = tree_of(language.parser, data, patience or Patience(len(data)), has_texts=not is_sparse)
    return language.file(tree.root_node, data) if tree is not None else None


#: So many more signs that open than that close are no code.
_OPENED = 1_500


def _scanned_again_and_again(data: bytes, suffix: str) -> bool:
    """Whether a parser would look for the end of something from very many places: comments that nothing closes, endless lines."""
    tail = len(data) - max(data.rfind(b"*/"), 0)
    if tail > 1_000 and data.count(b"/*", len(data) - tail) * tail > 20_000_000:
        return True
    if data.count(b"\\\n") * len(data) > 20_000_000:
        return True
    if suffix == ".cs" and data.count(b"<") - data.count(b">") > _OPENED:
        return True  # each may open the arguments of a type, and all readings are tried
    return suffix == ".dart" and len(data) > 8_192 and max(map(len, data.split(b"\n"))) > 8_192


def unread(suffix: str) -> str:
    """Why a file of *suffix* is not read."""
    if load(suffix) is None:
        return f"source code in {suffix or 'files without a suffix'} files is not read"
    return f"the code is too broken to be parsed, or larger than {MAX_SOURCE // 2**20} MiB"


@cache
def every() -> tuple[ProgrammingLanguage, ...]:
    """All languages, in the order of their modules' names."""
    return tuple(found for languages in _FOLDER.all() for found in languages)


@cache
def load(suffix: str) -> ProgrammingLanguage | None:
    """The language of files with *suffix*, or None."""
    return next((found for found in every() if suffix in found.suffixes), None)
