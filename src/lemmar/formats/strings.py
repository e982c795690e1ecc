"""Strings files: ``"key" = "text";``, a comment before an entry describing it.

Source: the old-style property-list grammar, of which such a file is the members of one map. UTF-8, or UTF-16 with or without
a byte-order mark; also the binary and XML property lists that builds make of such files.
``key;`` stands for a text equal to its key. Most readers give up a whole file at its first fault; here
what stands after it is still read.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import NamedTuple

from lemmar.documents.propertylist import Token, Tokens, scan, scan_binary, unquote
from lemmar.formats._entries import Entries, decoded, in_order, repeated
from lemmar.formats._reading import Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.formats._trees import TreeReader, tree_sites
from lemmar.text import Bytes, Lines, decode

_ENTRY = re.compile(
    r"(?P<blank>(?:\s+|//[^\n\r]*+|/\*(?:[^*]|\*(?!/))*+\*/)*+)"
    r"(?P<key>\"[^\"\\]*+(?:\\.[^\"\\]*+)*+\"|[\w.$:-]++)\s*+=\s*+(?P<text>\"[^\"\\]*+(?:\\.[^\"\\]*+)*+\"|'[^'\\]*+(?:\\.[^'\\]*+)*+')\s*+;",
    re.DOTALL,
)
# Splitting by it leaves nothing but blanks of a file that holds only plain entries.
_PLAIN_ENTRY = re.compile(r'"([^"\\]*+)"\s*+=\s*+"([^"\\]*+)"\s*+;')
_NEXT_ENTRY = re.compile(r"^[ \t]*(?=(?:\"[^\"\\\n\r]*+(?:\\.[^\"\\\n\r]*+)*+\"|[\w.$:-]++)\s*=\s*[\"'])", re.MULTILINE)
_XML = re.compile(rb"(?:\xef\xbb\xbf)?\s*<(?:\?xml|!DOCTYPE plist|plist)")
_COMMENT = re.compile(r"/\*(.*?)\*/|//([^\n\r]*)", re.DOTALL)


class _Found(NamedTuple):
    key: str
    key_span: tuple[int, int]
    text: str
    text_span: tuple[int, int] | None
    end: int
    blank: str


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    if data.startswith(b"bplist") or _XML.match(data):
        return _property_list(data, options)
    text, defects = decoded(data, options)
    plain = _plain_column(text.text)
    if plain is not None:
        return Reading((plain,), in_order(defects), text.encoding)
    entries, places = Entries(), None
    faults: list[tuple[int, str]] = []
    starts: list[int] = []
    for found in _entries(text.text, faults):
        known = entries.index.get(found.key)
        if known is None:
            starts.append(found.key_span[0])
        else:
            places = places or Lines(text.text)
            line, column = places.place(found.key_span[0])
            defects.append(repeated(found.key, places.place(starts[known])[0], line, column, entries.texts[known] == found.text))
        index = entries.add(found.key, found.text)
        if "/" in found.blank:
            entries.note("comment", index, _comment(found.blank))
    if faults:
        line, column = (places or Lines(text.text)).place(faults[0][0])
        more = f" ({len(faults) - 1} more after it)" if len(faults) > 1 else ""
        some = bool(entries.index)
        defects.append(Defect("damaged" if some else "unreadable", line, column, faults[0][1] + more, "rest" if some else "file"))
    return Reading((entries.column(),), in_order(defects), text.encoding)


def _property_list(data: bytes, options: ReadOptions) -> Reading:
    """A strings file that a build made into a property list: binary, without places, or XML."""
    if data.startswith(b"bplist"):
        root, faults = scan_binary(data)
        if root is None or root.kind != "map":
            words = faults[0].text if faults else f"a catalog is a map, this file holds a {root.kind if root is not None else 'value'}"
            return Reading((), (Defect("unreadable", 1, 1, words, "file"),))
        texts = tuple(member.node.text if member.node.kind != "map" else None for member in root.members)
        return Reading((Column(None, Keys([member.key for member in root.members]), texts),))
    text, defects = decoded(data, options)
    return TreeReader(text, options, *scan(text.text), defects).reading()


def _plain_column(text: str) -> Column | None:
    """The entries of a file without comments, escapes, faults and repeated keys, which most are; else None."""
    parts = _PLAIN_ENTRY.split(text)
    keys = Keys(parts[1::3])
    if "".join(parts[0::3]).strip() or len(keys.all) != len(keys):
        return None
    return Column(None, keys, tuple(parts[2::3]))


def _entries(text: str, faults: list[tuple[int, str]]) -> Iterator[_Found]:
    position, length = 0, len(text)
    while position < length:
        match = _ENTRY.match(text, position)
        if match:
            key, value = match.group("key"), match.group("text")
            yield _Found(
                unquote(key[1:-1]) if key[0] == '"' else key,
                match.span("key"),
                unquote(value[1:-1]),
                match.span("text"),
                match.end(),
                match.group("blank"),
            )
            position = match.end()
            continue
        found, position = _uncommon(text, position, faults)
        if found:
            yield found


def _uncommon(text: str, position: int, faults: list[tuple[int, str]]) -> tuple[_Found | None, int]:
    """An entry in one of the rarer forms, or a fault; and where to go on."""
    tokens = Tokens(text, position)
    key = tokens.next()
    if key.kind == "end":
        return None, len(text)
    if key.kind != "text":
        faults.append((key.start, _no_key(text, key)))
        return None, _resume(text, key.start)
    sign = tokens.next()
    if sign.kind == ";":
        return _Found(key.text, (key.start, key.end), key.text, None, sign.end, text[key.before : key.start]), sign.end
    if sign.kind != "=":
        faults.append((key.end, f"expected '=' after the key {key.text!r}"))
        return None, _resume(text, key.start)
    value = tokens.next()
    if value.kind != "text":
        words = "the text that begins here is not closed" if value.kind in ('"', "'") else f"expected a text for the key {key.text!r}"
        faults.append((min(value.start, len(text)), words))
        return None, _resume(text, key.start)
    return _ended(text, tokens, key, value, faults)


def _no_key(text: str, token: Token) -> str:
    if text.startswith("/*", token.start):
        return "the comment that begins here is not closed"
    return "the text that begins here is not closed" if token.kind in ('"', "'") else f"expected a key, found {token.text or token.kind!r}"


def _ended(text: str, tokens: Tokens, key: Token, value: Token, faults: list[tuple[int, str]]) -> tuple[_Found | None, int]:
    found = _Found(key.text, (key.start, key.end), value.text, (value.start, value.end), value.end, text[key.before : key.start])
    end = tokens.next()
    if end.kind == ";":
        return found, end.end
    if end.kind == "end":
        faults.append((value.end, f"expected ';' after the text of {key.text!r}"))
        return found, len(text)
    after = Tokens(text, end.end).next()
    if end.kind == "text" and after.kind == "=":  # the next entry: only the semicolon is lost
        faults.append((value.end, f"expected ';' after the text of {key.text!r}"))
        return found, value.end
    # A quote too many or too few: what was taken for the text reaches too far.
    faults.append((value.start, f"the quotes around the text of {key.text!r} do not match"))
    return None, _resume(text, key.start)


def _resume(text: str, start: int) -> int:
    """Where the next entry that begins a line after *start* begins; else the end."""
    line_end = min((at for at in (text.find("\n", start), text.find("\r", start)) if at >= 0), default=len(text))
    following = _NEXT_ENTRY.search(text, line_end)
    return following.start() if following else len(text)


def _comment(blank: str) -> str:
    """The comments directly before an entry, those above a blank line left out."""
    nearest = re.split(r"(?:\r\n|\n|\r)[ \t]*(?:\r\n|\n|\r)", blank)[-1]
    return "\n".join((block or line).strip() for block, line in _COMMENT.findall(nearest))


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key that is there."""
    text = decode(data, options.encoding)
    if data.startswith(b"bplist"):
        return {name: Site(1, 1, (0, 0), None, (0, 0)) for name in wanted}
    if _XML.match(data):
        return tree_sites(scan(text.text)[0], text, options, wanted)
    lines, offsets = Lines(text.text), Bytes(text)
    keys = {key for _, key in wanted}
    found: dict[tuple[str | None, str], Site] = {}
    for entry in _entries(text.text, []):
        if entry.key in keys:
            line, column = lines.place(entry.key_span[0])
            key = offsets.span(*entry.key_span)
            value = offsets.span(*entry.text_span) if entry.text_span is not None else None
            found[None, entry.key] = Site(line, column, key, value, (key[0], offsets.offset(entry.end)))
    return found


def likely(data: bytes) -> bool:
    """Whether the contents begin as a strings file does."""
    if data.startswith(b"bplist") or (_XML.match(data) and b"<plist" in data[:1024]):
        return True
    text = decode(data[:4096]).text
    return bool(_ENTRY.match(text)) or Tokens(text).next().kind == "end"


FORMAT = Format("strings", (".strings",), 1, ("by-file",), read, locate, likely)
