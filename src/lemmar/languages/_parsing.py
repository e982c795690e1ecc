"""Parses a source file in bounded time."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable
from functools import cache
from importlib import import_module
from time import process_time
from typing import TYPE_CHECKING, Literal, NamedTuple

from lemmar.documents.quoting import quoted
from lemmar.errors import IncompleteError
from lemmar.registry import Folder

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser, Tree

    from lemmar.languages._sourcefile import SourceFile

#: Larger source files are not read.
MAX_SOURCE = 8 * 1024 * 1024


#: Files of up to these many bytes are parsed on the usual stack; a larger one on a stack of *_ROOM* bytes for each of its own.
_SHALLOW = 64 * 1024
_ROOM = 96


class ProgrammingLanguage(NamedTuple):
    """A language: its file suffixes, the module with its grammar, and what reads a parsed file from its root.

    With *catalogs* messages are written in it as well; *mostly* is what most of its files are: ``code``, so that they are catalogs only where
    their contents look so too, or ``catalogs``. *dialect* is the function of the grammar's module that gives the one meant, of several;
    *quoted* writes a literal.
    """

    suffixes: tuple[str, ...]
    grammar: str
    file: Callable[[Syntax], SourceFile]
    catalogs: bool = False
    mostly: Literal["code", "catalogs"] = "code"
    dialect: str = "language"
    quoted: Callable[[str], str] = quoted

    def parser(self) -> Parser:
        """A new parser."""
        from tree_sitter import Language, Parser

        return Parser(Language(getattr(import_module(self.grammar), self.dialect)()))


#: What a step counts once something is wrong, which is when steps become slow.
_FAULTY_STEP = 2

_FOLDER: Folder[tuple[ProgrammingLanguage, ...]] = Folder("lemmar.languages", (os.path.dirname(__file__),), "LANGUAGES")


class Patience:
    """How long parsers may go on, for one parse after the other: counted in the steps that they report, so that every machine stops alike.

    Sound code takes three quarters of it at the most (of 800 large files). What stands in broken code can cost a parser any number of steps; it is asked to stop in time to
    say so. *wrong_at* is the byte that it had come to when it first reported a fault. A step may still be as slow as the file is long: past
    *seconds* of processor time, and more for a larger *size* (bytes), the answer would depend on the machine, and there is none. Sound code
    takes 0.2 to 1 µs a byte, the worst of those files 3.
    """

    def __init__(self, size: int, seconds: float = 1.2) -> None:
        self.left = 12_000 + size // 40
        self.wrong_at: int | None = None
        self._late = process_time() + seconds + size / 1_250_000

    def parse(self, parser: Parser, data: bytes) -> Tree | None:
        """The tree of *data*; None where patience ends before it is there. Raises `IncompleteError`."""

        def enough(offset: int, has_error: bool) -> bool:
            if has_error and self.wrong_at is None:
                self.wrong_at = offset
            self.left -= _FAULTY_STEP if has_error else 1
            return self.left <= 0 or process_time() > self._late

        size = 4_096

        def piece(offset: int, _point: object) -> bytes:
            return data[offset : offset + size]

        try:  # only a parser that asks for its source piece by piece can be stopped
            tree = parser.parse(piece, progress_callback=enough)
            size = 64  # from now on for the texts of single nodes
            return tree
        except ValueError:
            if process_time() > self._late:
                raise IncompleteError("the code takes too long to be parsed; mend its syntax, or leave the file out") from None
            return None


def parse(data: bytes, suffix: str, patience: Patience | None = None) -> SourceFile | None:
    """The parsed file; None where no language has *suffix*, or the file is too large or too broken. Never runs anything."""
    language = load(suffix)
    if language is None or len(data) > MAX_SOURCE or _scanned_again_and_again(data, suffix):
        return None
    patience = patience or Patience(len(data))
    tree = _with_room(len(data), lambda: _tree(language.parser(), data, patience))
    return language.file(tree.root_node) if tree is not None else None


def _tree(parser: Parser, data: bytes, patience: Patience) -> Tree | None:
    """The tree of *data*. Of sound code it is made once more, with its source, which makes its texts cheap; broken code would cost as much again."""
    tree = patience.parse(parser, data)
    return tree if tree is None or tree.root_node.has_error else parser.parse(data, tree)


def _with_room(size: int, job: Callable[[], Tree | None]) -> Tree | None:
    """What *job* gives, which makes and drops a parser for *size* bytes.

    A parser lets go of what it has not finished by recursion, a level for each token, which is more than the usual stack holds
    where a large file is all opening brackets.
    """
    if size <= _SHALLOW:
        return job()
    done: list[Tree | None] = []
    failed: list[BaseException] = []

    def run() -> None:
        try:
            done.append(job())
        except BaseException as error:  # handed on to whoever waits
            failed.append(error.with_traceback(None))

    before = threading.stack_size(size * _ROOM + 4 * 1024 * 1024)
    try:
        thread = threading.Thread(target=run, daemon=True)
        thread.start()
    except RuntimeError:
        raise IncompleteError("there is not enough memory to parse the code; leave the file out, or give the program more") from None
    finally:
        threading.stack_size(before)
    thread.join()
    if failed:
        raise failed[0]
    return done[0]


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


@cache
def every() -> tuple[ProgrammingLanguage, ...]:
    """All languages, in the order of their modules' names."""
    return tuple(found for languages in _FOLDER.all() for found in languages)


@cache
def load(suffix: str) -> ProgrammingLanguage | None:
    """The language of files with *suffix*, or None."""
    return next((found for found in every() if suffix in found.suffixes), None)
