"""Documents: a file is one message, and its name the key: ``store/{locale}/{key}.txt``. Shop listings, mails, legal pages, in plain text, Markdown or HTML.

Source: none; the whole file is the text, without the line end that closes it. Nothing in it is taken for a placeholder or a comment.
"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.text import decode
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Reading, ReadOptions


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The same, of a sound file."""
    text = decode(data, options.encoding)
    if text.fault is not None or text.mark or "\0" in text.text:
        return None
    return Reading((Column(None, Keys([options.key]), (text.text[: _end(text.text)],)),))


def entries(walk: Walk) -> Iterator[Entry]:
    """The file's one entry, at its beginning."""
    if "\0" in walk.text:
        walk.nothing("a binary file, no text")
        return
    end = _end(walk.text)
    yield Entry(walk.options.key, walk.text[:end], 0, (0, 0), (0, end), (0, len(walk.text)))


def _end(text: str) -> int:
    """Where the text ends: before the line end that closes the file."""
    return len(text) - (2 if text.endswith("\r\n") else 1 if text.endswith(("\n", "\r")) else 0)


def encode(text: str, _hole: Hole) -> str:
    """The text as it is. Raises `ValueError` for U+0000, which no text has."""
    if "\0" in text:
        raise ValueError("a document cannot hold U+0000")
    return text


FORMAT = Format(
    name="document",
    suffixes=(),
    reads=Reads(
        entries=entries,
        quick=quick,
        takes_wide="marked",
    ),
    writes=Writes(
        encode=encode,
    ),
    habits=Habits(
        own_plurals=True,
        is_whole=True,
        ends_lines=True,
        syntax="plain",
    ),
    hints=Hints(
        likely=lambda _data: False,  # any text looks so: the charter says which are
    ),
)
