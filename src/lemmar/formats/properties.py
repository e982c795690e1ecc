r"""Properties files: ``key = text``, ``key: text`` or ``key text``; a line that begins with ``#`` or ``!`` is a comment.

Source: the documentation of ``java.util.Properties.load``: a backslash at a line's end goes on with the next line, leading blanks left
out; ``\t``, ``\n``, ``\u00e9`` and a backslash before any other character. In UTF-8 where that decodes, else Latin-1, unless the charter
says which. A comment directly above an entry describes it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import decode, paired
from lemmar.documents.quoting import json_escape, quoted
from lemmar.documents.rows import Row
from lemmar.formats._editing import Edits, Entries, NewEntry, at_the_end, in_rows, with_comments
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Reading, ReadOptions

_LINE = expression(r"[ \t\f]*+([^\r\n]*+)(\r\n|\n|\r|\Z)")
_KEY = expression(r"[^\\ \t\f\r\n=:]*+(?:\\(?:(?:\r\n|\n|\r)[ \t\f]*+|.)[^\\ \t\f\r\n=:]*+)*+", re.DOTALL)
_SEPARATOR = expression(r"(?:[ \t\f]|\\(?:\r\n|\n|\r))*+(?:[=:](?:[ \t\f]|\\(?:\r\n|\n|\r))*+)?")
_ESCAPE = expression(r"\\(?:u([0-9a-fA-F]{4})|(?:\r\n|\n|\r)[ \t\f]*|(.)|$)", re.DOTALL)
_BAD_ESCAPE = expression(r"(?<!\\)(?:\\\\)*\\u(?![0-9a-fA-F]{4})")
_PLAIN_LINE = expression(r"^([^\s=:#!\\][^ \t\f\r\n=:\\]*+)[ \t]*+[=:][ \t]*+([^\\\r\n]*+)$", re.MULTILINE)
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "f": "\f"}


class _Found(NamedTuple):
    key: str
    key_span: tuple[int, int]
    text: str
    text_span: tuple[int, int]
    comment: str


def encoding(data: bytes) -> str | None:
    """Latin-1 where the bytes are no UTF-8."""
    return "latin-1" if decode(data).fault is not None else None


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The entries of a file of nothing but plain lines, which most are."""
    text = decode(data, options.encoding or encoding(data))
    column = _plain_column(text.text) if text.fault is None and not text.mark else None
    return Reading((column,)) if column is not None else None


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries in file order."""
    if "\0" in walk.text:
        walk.nothing("a binary file, not properties")
        return
    walk.column()
    for found in _entries(walk.text):
        bad = _BAD_ESCAPE.search(walk.text[found.key_span[0] : found.text_span[1]])
        if bad:
            walk.defect("damaged", found.key_span[0] + bad.end() - 2, r"expected four hexadecimal digits after \u", "key", found.key)
        whole = (found.key_span[0], found.text_span[1])
        yield Entry(found.key, found.text, found.key_span[0], found.key_span, found.text_span, whole, rare={"comment": found.comment})


def _plain_column(text: str) -> Column | None:
    """The entries of a file of nothing but plain lines, which most are; else None."""
    parts = _PLAIN_LINE.split(text)
    keys = Keys(parts[1::3])
    if "".join(parts[0::3]).strip(" \t\f\r\n") or len(keys.all) != len(keys) or "\0" in text or "\f" in text:
        return None
    return Column(None, keys, tuple(parts[2::3]))


def _entries(text: str) -> Iterator[_Found]:
    position, length = 0, len(text)
    comment: list[str] = []
    while position < length:
        line = _LINE.match(text, position)
        assert line is not None
        content = line.group(1)
        if not content or content[0] in "#!":
            if not content:
                comment = []
            else:
                comment.append(content.lstrip("#!").strip())
            position = line.end()
            continue
        if content == "\\" and line.group(2):  # nothing that goes on: the next line may be a comment
            position = line.end()
            continue
        end = _logical_end(text, line.start(1))
        key = _KEY.match(text, line.start(1), end)
        assert key is not None
        separator = _SEPARATOR.match(text, key.end(), end)
        start = separator.end() if separator else key.end()
        yield _Found(_unescape(key.group()), key.span(), _unescape(text[start:end]), (start, end), "\n".join(comment))
        comment = []
        position = end + (2 if text.startswith("\r\n", end) else 1)


def _logical_end(text: str, start: int) -> int:
    """Where the logical line ends: at the first line end that no odd number of backslashes stands before."""
    position = start
    while True:
        line = _LINE.match(text, position)
        assert line is not None
        end = line.end(1)
        slashes = len(text[start:end]) - len(text[start:end].rstrip("\\"))
        if slashes % 2 == 0 or line.end() >= len(text):
            return end
        position = line.end()
        start = position


def _unescape(raw: str) -> str:
    if "\\" not in raw:
        return raw

    def replace(match: re.Match[str]) -> str:
        code, character = match.groups()
        return chr(int(code, 16)) if code else _SHORT.get(character, character) if character else ""

    return paired(_ESCAPE.sub(replace, raw))


def likely(data: bytes) -> bool:
    """Whether the first entry is a key, a separator that is no blank, and a text."""
    text = decode(data, "latin-1").text
    first = next(_entries(text), None) if "\0" not in text else None
    return first is not None and text[first.key_span[0] : first.key_span[0] + 1] not in '{<["' and _divided(text, first)


def _divided(text: str, found: _Found) -> bool:
    return any(sign in text[found.key_span[1] : found.text_span[0]] for sign in "=:")


def encode(text: str, hole: Hole) -> str:
    """The text with backslashes before backslashes and what would be read as a separator; what ends a line, and what cannot be seen, as an
    escape. Behind a bare key a separator comes first.
    """
    found = quoted(text, "", {"\n": "\\n", "\t": "\\t", "\r": "\\r", "\f": "\\f"})
    found = f"\\{found}" if found[:1] in (" ", "=", ":") else found
    return found if hole.before or _SEPARATED.search(hole.document, max(hole.start - 99, 0), hole.start) else f"={found}"


def _rows(text: str, _options: ReadOptions) -> list[Entries]:
    found = list(_entries(text))
    spans = with_comments(text, [(each.key_span[0], each.text_span[1]) for each in found], _COMMENTS)
    return [Entries(Row((0, len(text)), spans, ""), tuple(each.key for each in found))]


def _write(new: NewEntry, text: str, example: str) -> str:
    """A line, with the sign between key and text that the others have."""
    first = next(_entries(example), None) if example else None
    sign = example[first.key_span[1] : first.text_span[0]] if first is not None else "="
    key = _UNSAFE.sub(lambda match: f"\\{match.group()}", quoted(new.key, "", {"\n": "\\n", "\t": "\\t", "\r": "\\r", "\f": "\\f"}))
    return f"{key}{sign or '='}{encode(new.text, Hole('x', text, 0, 'utf-8', ReadOptions()))}"


_UNSAFE = expression(r"[ =:]|^[#!]")
_COMMENTS = expression(r"(?:^[ \t]*[#!][^\r\n]*(?:\r\n|\n|\r))+\Z", re.MULTILINE)
_REMOVE, _ADD = in_rows(_rows, _write, at_the_end)


_SEPARATED = expression(r"(?<!\\)(?:\\\\)*[=: \t\f]\Z")


FORMAT = Format(
    name="properties",
    suffixes=(".properties", ".props", ".lang"),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=encoding,
        mark_harms="which readers take for part of the first key",
    ),
    writes=Writes(
        encode=encode,
        escape=json_escape,
        edits=Edits(blank=lambda _model: "", remove=_REMOVE, add=_ADD),
    ),
    hints=Hints(
        likely=likely,
        kind="desktop",
        platform="java",
        platform_sign="[",
        only_at_home=(".props", ".lang"),
        often_else=(".props", ".lang"),
    ),
)
