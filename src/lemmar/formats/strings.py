"""Strings files: ``"key" = "text";``, a comment before an entry describing it.

Source: the old-style property-list grammar, of which such a file is the members of one map. UTF-8, or UTF-16 with or without
a byte-order mark; also the binary and XML property lists that builds make of such files.
``key;`` stands for a text equal to its key. Most readers give up a whole file at its first fault; here
what stands after it is still read.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import decode
from lemmar.documents.propertylist import Token, Tokens, inside_tags, scan, scan_binary, unquote
from lemmar.documents.quoting import json_escape, quoted
from lemmar.documents.rows import Row
from lemmar.documents.splicing import EditError
from lemmar.formats._editing import Edits, Entries, Model, NewEntry, at_the_end, in_rows, line_end_of, with_comments
from lemmar.formats._encoding import Hole, xml_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import NONE_RARE, NOTHING, Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._trees import tree_entries

_ENTRY = expression(
    r"(?P<blank>(?:\s+|//[^\n\r]*+|/\*(?:[^*]|\*(?!/))*+\*/)*+)"
    r"(?P<key>\"[^\"\\]*+(?:\\.[^\"\\]*+)*+\"|[\w.$:-]++)\s*+=\s*+(?P<text>\"[^\"\\]*+(?:\\.[^\"\\]*+)*+\"|'[^'\\]*+(?:\\.[^'\\]*+)*+')\s*+;",
    re.DOTALL,
)
_BLANK = r"(?:\s++|//[^\n\r]*+|/\*(?:[^*]|\*(?!/))*+\*/)"
# Splitting by it leaves nothing of a file that holds only plain entries, their comments and blanks. Comments without an entry match too, so that
# none of them is looked at twice.
_PLAIN_ENTRY = expression(rf'({_BLANK}*+)"([^"\\]*+)"\s*+=\s*+"([^"\\]*+)"\s*+;|{_BLANK}++')
_NEXT_ENTRY = expression(r"^[ \t]*(?=(?:\"[^\"\\\n\r]*+(?:\\.[^\"\\\n\r]*+)*+\"|[\w.$:-]++)\s*=\s*[\"'])", re.MULTILINE)
_XML = expression(rb"(?:\xef\xbb\xbf)?\s*<(?:\?xml|!DOCTYPE plist|plist)")
_COMMENT = expression(r"/\*(.*?)\*/|//([^\n\r]*)", re.DOTALL)


class _Found(NamedTuple):
    key: str
    key_span: tuple[int, int]
    text: str
    text_span: tuple[int, int] | None
    end: int
    blank: str


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The entries of a file without escapes, faults and repeated keys, which most are."""
    if data.startswith(b"bplist") or _XML.match(data):
        return None
    text = decode(data, options.encoding)
    sound = text.fault is None and not (options.encoding and text.mark) and "\0" not in text.text
    column = _plain_column(text.text) if sound else None
    return Reading((column,)) if column is not None else None


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries of a file in either form: as it is written, or as a build made it into a property list."""
    if walk.data.startswith(b"bplist"):
        yield from _of_binary(walk)
        return
    if _XML.match(walk.text[:1024].encode("utf-8", "replace")):
        for entry in tree_entries(walk, *scan(walk.text)):
            yield entry._replace(inside=inside_tags(walk.text, *entry.inside)) if entry.inside is not None else entry
        return
    walk.column()
    faults: list[tuple[int, str]] = []
    for found in _entries(_without_braces(walk.text), faults):
        rare = {"comment": _comment(found.blank)} if "/" in found.blank else NOTHING
        whole = (found.key_span[0], found.end)
        yield Entry(found.key, found.text, found.key_span[0], found.key_span, found.text_span, whole, rare=rare)
    if "\0" in walk.text:
        faults.append((walk.text.index("\0"), "the character U+0000 stands here, where programs stop to read"))
    for offset, words in sorted(faults):
        walk.fault(offset, words)


# Possessive throughout: a piece that has been passed is never parted in another way.
_OPENED = expression(r"(?:\s++|//[^\n\r]*+|/\*(?:[^*]|\*(?!/))*+\*/)*+\{")


def _without_braces(text: str) -> str:
    """The members of a map that is written with its braces, each in its place."""
    opened = _OPENED.match(text)
    end = len(text.rstrip()) - 1
    if opened is None or end < opened.end() or text[end] != "}":
        return text
    return f"{text[: opened.end() - 1]} {text[opened.end() : end]} {text[end + 1 :]}"


def _of_binary(walk: Walk) -> Iterator[Entry]:
    """The entries of a binary property list, which has no places."""
    root, faults = scan_binary(walk.data)
    if root is None or root.kind != "map":
        walk.defect_at(
            "unreadable", 1, 1, faults[0].text if faults else f"a catalog is a map, this file holds a {root and root.kind}", "file"
        )
        return
    walk.column()
    for member in root.members:
        yield Entry(member.key, member.node.text if member.node.kind != "map" else None, at=(1, 1))


def _plain_column(text: str) -> Column | None:
    """The entries of a file without escapes, faults and repeated keys, which most are; else None."""
    parts = _PLAIN_ENTRY.split(text)
    if len(parts) > 1 and parts[-3] is None:  # blanks and comments at the end
        parts[-5] += parts[-1]
        del parts[-4:]
    keys = Keys(parts[2::4])
    if any(parts[0::4]) or None in keys.all or len(keys.all) != len(keys):
        return None
    comments = {index: words for index, blank in enumerate(parts[1::4]) if "/" in blank and (words := _comment(blank))}
    return Column(None, keys, tuple(parts[3::4]), Rare(comment=comments) if comments else NONE_RARE)


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


def likely(data: bytes) -> bool:
    """Whether the contents begin as a strings file does."""
    if data.startswith(b"bplist") or (_XML.match(data) and b"<plist" in data[:1024]):
        return True
    text = decode(data[:4096]).text
    return bool(_ENTRY.match(text)) or Tokens(text).next().kind == "end"


def encode(text: str, hole: Hole) -> str:
    """A string in double quotes; in a property list of XML character data."""
    if hole.document.lstrip()[:1] == "<":
        return xml_text(text, hole)
    if "\0" in text:
        raise ValueError("a strings file cannot hold U+0000")
    return quoted(text, code=lambda character: json_escape(character).replace("\\u", "\\U"))


def _rows(text: str, _options: ReadOptions) -> list[Entries]:
    if _XML.match(text[:1024].encode("utf-8", "replace")):
        raise EditError("a property list that a build has made is not edited; edit what it is made from")
    found = list(_entries(_without_braces(text), []))
    spans = with_comments(text, [(each.key_span[0], each.end) for each in found], _ABOVE)
    return [Entries(Row((0, len(text)), spans, ""), tuple(each.key for each in found))]


def _write(new: NewEntry, text: str, _example: str) -> str:
    key = quoted(new.key, code=lambda character: json_escape(character).replace("\\u", "\\U"))
    return f"{key} = {encode(new.text, Hole('', text, 0, 'utf-8', ReadOptions()))};"


_ABOVE = expression(r"(?:^[ \t]*(?:/\*(?:[^*]|\*(?!/))*+\*/|//[^\r\n]*)[ \t]*(?:\r\n|\n|\r))+\Z", re.MULTILINE)
_REMOVE, _ADD = in_rows(_rows, _write, at_the_end)


def _blank(model: Model) -> str:
    """A file without messages: of the old form an empty one."""
    if _XML.match(model.text[:1024].encode("utf-8", "replace")):
        opened = re.search(r"<dict\s*>", model.text)
        closed = model.text.rfind("</dict>")
        if opened is None or closed < opened.end():
            raise EditError("there is no <dict> in the property list")
        return model.text[: opened.end()] + line_end_of(model.text) + model.text[closed:]
    return ""


FORMAT = Format(
    name="strings",
    suffixes=(".strings",),
    reads=Reads(
        entries=entries,
        quick=quick,
        takes_wide="any",
    ),
    writes=Writes(
        encode=encode,
        escape=json_escape,
        edits=Edits(_blank, remove=_REMOVE, add=_ADD),
    ),
    habits=Habits(
        syntax="printf",
    ),
    hints=Hints(
        likely=likely,
        kind="mobile",
        platform="lproj",
    ),
)
