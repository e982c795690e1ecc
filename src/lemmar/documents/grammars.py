"""Parses by generated grammars, which go on after a fault, in bounded steps, time and stack: what is broken can cost such a parser anything."""

from __future__ import annotations

import threading
from collections.abc import Callable
from contextlib import suppress
from time import process_time
from typing import TYPE_CHECKING

from lemmar.basics.errors import IncompleteError

if TYPE_CHECKING:
    from tree_sitter import Parser, Tree

#: Larger files are not parsed.
MOST_BYTES = 8 * 1024 * 1024
#: Files of up to these many bytes are parsed on the usual stack; a larger one on a stack of *_ROOM* bytes for each of its own.
_SHALLOW = 64 * 1024
_ROOM = 96
#: What a step counts once something is wrong, which is when steps become slow.
_FAULTY_STEP = 2
#: Of sound code the clock is looked at in one step of so many: asking for the time costs as much as such a step.
_LOOK = 8
#: Of how many bytes a piece of source is, both for the parser and for the text of a node, which is put together of them.
_PIECE = 2_048


class Patience:
    """How long parsers may go on, for one parse after the other: counted in the steps that they report, so that every machine stops alike.

    Sound code takes three quarters of it at the most (of 800 large files). What stands in broken code can cost a parser any number of
    steps; it is asked to stop in time to say so. *wrong_at* is the byte that it had come to when it first reported a fault. A step may still
    be as slow as the file is long: past *seconds* of processor time, and more for a larger *size* (bytes), the answer would depend on the
    machine, and there is none. Sound code takes 0.2 to 1 µs a byte, the worst of those
    files 3.
    """

    def __init__(self, size: int, seconds: float = 1.2) -> None:
        self.left = 12_000 + size // 40
        self.wrong_at: int | None = None
        self._steps = 0
        self._late = process_time() + seconds + size / 1_250_000

    def parse(self, parser: Parser, data: bytes) -> Tree | None:
        """The tree of *data*; None where patience ends before it is there. Raises `IncompleteError`."""

        def enough(offset: int, has_error: bool) -> bool:
            if has_error and self.wrong_at is None:
                self.wrong_at = offset
            self.left -= _FAULTY_STEP if has_error else 1
            self._steps += 1
            return self.left <= 0 or ((has_error or self._steps % _LOOK == 0) and process_time() > self._late)

        def piece(offset: int, _point: object) -> bytes:
            return data[offset : offset + _PIECE]

        with suppress(ValueError):  # which is how a parser says that it was stopped; only one that asks for pieces can be
            return parser.parse(piece, progress_callback=enough)
        if process_time() > self._late:
            raise IncompleteError("the file takes too long to be parsed; mend its syntax, or leave it out")
        return None


def tree_of(parser: Callable[[], Parser], data: bytes, patience: Patience, has_texts: bool = True) -> Tree | None:
    """The tree that a new *parser* makes of *data*; None where *patience* ends before. Unless it *has texts*, those of its nodes are dear, and the tree
    costs half. Raises `IncompleteError`.
    """
    return _with_room(len(data), lambda: _tree(parser(), data, patience) if has_texts else patience.parse(parser(), data))


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
        raise IncompleteError("there is not enough memory to parse the file; leave it out, or give the program more") from None
    finally:
        threading.stack_size(before)
    thread.join()
    if failed:
        raise failed[0]
    return done[0]
