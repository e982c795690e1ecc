"""Where single keys stand in a file that nothing is wrong with: looked for as they are written there, without reading the rest again.

A key that could be written in another way, or whose writing stands there more than once, is not looked for so: then the careful way tells.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Callable, Iterable, Iterator
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import Bytes, Decoded, Lines
from lemmar.formats._reading import ReadOptions, Site, Span

#: Finds a key in a file's bytes, which are UTF-8: the byte spans of its key, its text, its whole entry; None where it is not sure of them.
SpanFinder = Callable[[bytes, str], "Spans | None"]
#: So many bytes are looked through at most for all keys of a file; beyond it reading the file once costs less.
MOST = 20_000_000
_PLAIN = expression(r"[A-Za-z0-9_$.-]+")
_LINE_END = expression(rb"\r\n|\n|\r")
_COLON = expression(rb"[ \t\r\n]*+:[ \t\r\n]*+")
_STRING = expression(rb'"(?:[^"\\]++|\\.)*+"', re.DOTALL)


class Stand(NamedTuple):
    """Where the entry *key* stands in a file's text, in code points: its place, its key, its text if there is one, all of it."""

    key: str
    place: int
    key_at: Span
    inside: Span | None
    whole: Span


#: The stands of all entries of a file whose entries are all plain, in their order, found by the expression that reads it; None where some is not.
EntryFinder = Callable[[bytes, ReadOptions], "Iterator[Stand] | None"]


def standing(decoded: Decoded, stands: Iterator[Stand], keys: set[str]) -> dict[str, Site]:
    """The site of each of *keys* that is there; no further than the last of them is looked."""
    lines, offsets = Lines(decoded.text), Bytes(decoded)
    found: dict[str, Site] = {}
    left = set(keys)
    for stand in stands if left else ():
        if stand.key in left:
            left.discard(stand.key)
            inside = offsets.span(*stand.inside) if stand.inside is not None else None
            found[stand.key] = Site(*lines.place(stand.place), offsets.span(*stand.key_at), inside, offsets.span(*stand.whole))
            if not left:
                break
    return found


class Spans(NamedTuple):
    """The byte spans of an entry's key, its text and all of it."""

    key: Span
    text: Span
    entry: Span


def spotted(data: bytes, keys: Iterable[str], spot: SpanFinder) -> dict[str, Site] | None:
    """The site of each of *keys*, which are all there; None where one of them is not sure."""
    found = {}
    starts: list[int] | None = None
    for key in keys:
        spans = spot(data, key) if _PLAIN.fullmatch(key) else None
        if spans is None:
            return None
        if starts is None:
            starts = [0, *(match.end() for match in _LINE_END.finditer(data))]
        line = bisect_right(starts, spans.key[0])
        column = len(data[starts[line - 1] : spans.key[0]].decode("utf-8", "replace")) + 1
        found[key] = Site(line, column, *spans)
    return found


def _once(data: bytes, token: bytes, fits: Callable[[int], bool]) -> int | None:
    """Where *token* stands so that it *fits*; -1 where it does nowhere, None where it does more than once."""
    found, at = -1, data.find(token)
    while at >= 0:
        if fits(at):
            if found >= 0:
                return None
            found = at
        at = data.find(token, at + 1)
    return found


def json_spot(data: bytes, key: str) -> Spans | None:
    """Of a member of JSON: its name in quotes, which a colon follows nowhere else than behind a name."""
    leaf = key.rpartition(".")[2]
    found = [_member(data, name) for name in dict.fromkeys((key, leaf)) if name]
    there = [at for at in found if at != -1]
    if len(there) != 1 or there[0] is None:
        return None
    start = there[0]
    end = data.index(b'"', start + 1) + 1
    colon = _COLON.match(data, end)
    text = _STRING.match(data, colon.end()) if colon else None
    return Spans((start, end), text.span(), (start, text.end())) if text else None


def _member(data: bytes, name: str) -> int | None:
    token = b'"' + name.encode() + b'"'
    return _once(data, token, lambda at: _COLON.match(data, at + len(token)) is not None)


def xml_spot(element: bytes, attribute: bytes, inner: bytes = b"") -> SpanFinder:
    """Of an *element* that is named by its first *attribute* and holds its text itself, or in the first element *inner*."""
    opening, closing = b"<" + element + b" " + attribute + b'="', b"</" + element + b">"

    def spot(data: bytes, key: str) -> Spans | None:
        token = opening + key.encode() + b'"'
        start = _once(data, token, lambda _at: True)
        if start is None or start < 0 or data.rfind(b"<!") > start or data.rfind(b"-->") > start:
            return None
        end = data.find(closing, start)
        opened = data.find(b">", start)
        tag = data[start:opened]
        if (
            b"'" in tag
            or tag.count(b'"') % 2
            or data.count(b"<" + element, start, end) != 1
            or (inner and data.count(b"<" + inner, start, end) != 1)
        ):
            return None
        if inner:
            opened = data.find(b"<" + inner + b">", opened, end) + len(inner) + 1
        close = data.find(b"</" + inner + b">", opened, end) if inner else end
        if not start < opened < close <= end or b"<" in data[opened:close] or data[opened - 1 : opened] == b"/":
            return None
        name = start + len(opening)
        return Spans((name, name + len(key)), (opened + 1, close), (start, end + len(closing)))

    return spot
