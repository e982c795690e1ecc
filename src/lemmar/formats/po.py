r"""PO catalogs: ``msgid`` and ``msgstr``, with contexts, plural forms, flags, comments and previous texts.

Source: the file format's public manual. A key is the msgid, or context U+0004 msgid. An empty ``msgstr`` is a text that is not there
yet; a fuzzy one does not ship and is none either, and its state says so. Obsolete entries (``#~``) are no entries. Numbered forms are
kept as they are numbered, under the categories of the language where the header's count agrees with CLDR's. The file's own copy of the
source is the msgid. ``Language:`` in the header is the mark.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar.formats._entries import Entries, decoded, in_order, repeated
from lemmar.formats._plural_headers import form_names, read_header
from lemmar.formats._reading import Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.tags import LanguageTag, read_spelling, whole_number_categories
from lemmar.text import Bytes, Lines, decode

_LINE = re.compile(r"([^\r\n]*+)(\r\n|\n|\r|\Z)")
_KEYWORD = re.compile(r"(msgctxt|msgid_plural|msgid|msgstr(?:\[(\d{1,2})\])?)\s*(?=\")")
_QUOTED = re.compile(r"\"((?:[^\"\\]|\\.)*+)(\"?)\s*(.*)\Z")
_Q = r'"[^"\\\n]*+(?:\\.[^"\\\n]*+)*+"'
_TEXT = rf"{_Q}(?:\n{_Q})*+"
# Splitting by it leaves nothing but blanks of a file that holds only plain entries.
_PLAIN_ENTRY = re.compile(
    rf"((?:#[^\n]*+\n)*+)(?:msgctxt ({_TEXT})\n)?msgid ({_TEXT})\n(?:msgstr ({_TEXT})|msgid_plural ({_TEXT})((?:\nmsgstr\[[0-5]\] {_TEXT})++))(?:\n++|\Z)"
)
_FORM = re.compile(rf"msgstr\[([0-5])\] ({_TEXT})")
_OBSOLETE = re.compile(r"#~(?:[^\n]*+(?:\n++|\Z)(?=#|\Z))*+\Z")
_ONLY_PLACES = re.compile(r"(?:#:[^\n]*+\n)*+\Z")
_JOINT = re.compile(r'"\n"')
_ESCAPE = re.compile(r"\\(?:x([0-9a-fA-F]{2})|([0-7]{1,3})|(.))")
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "a": "\a", "b": "\b", "f": "\f", "v": "\v"}
CONTEXT = "\x04"


class _Piece:
    """The text of one keyword, and the code points that its quoted lines span."""

    __slots__ = ("end", "keyword_start", "start", "text")

    def __init__(self, keyword_start: int, start: int) -> None:
        self.keyword_start, self.start, self.end = keyword_start, start, start
        self.text = ""


class _Entry(NamedTuple):
    pieces: dict[str, _Piece]
    comments: list[str]
    flags: set[str]

    @property
    def key(self) -> str:
        context = self.pieces.get("msgctxt")
        return f"{context.text}{CONTEXT}{self.pieces['msgid'].text}" if context else self.pieces["msgid"].text


def _take_comment(entry: _Entry, content: str) -> None:
    """Takes up a comment line: flags, descriptions; where the text is used, and what it was before, is passed over."""
    if content.startswith("#,"):
        entry.flags.update(flag.strip() for flag in content[2:].split(","))
    elif content.startswith("#."):
        entry.comments.append(content[2:].strip())
    elif not content.startswith(("#~", "#|", "#:")):
        entry.comments.append(content[1:].strip())


class _Reader:
    """Goes over the lines; keeps the faults that it meets."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.faults: list[tuple[int, str]] = []

    def entries(self) -> Iterator[_Entry]:
        entry = _Entry({}, [], set())
        last: _Piece | None = None
        position = 0
        while position < len(self.text):
            line = _LINE.match(self.text, position)
            assert line is not None
            content = line.group(1).strip(" \t")
            start = position + line.group(1).find(content) if content else position
            position = line.end()
            if content.startswith("#"):
                if "msgstr" in self._kinds(entry):
                    yield entry
                    entry = _Entry({}, [], set())
                last = None
                _take_comment(entry, content)
            elif content:
                keyword = _KEYWORD.match(content)
                if keyword:
                    name = keyword.group(1)
                    if name in ("msgid", "msgctxt") and "msgstr" in self._kinds(entry):
                        yield entry
                        entry = _Entry({}, [], set())
                    if name in entry.pieces:
                        self.faults.append((start, f"{name} stands twice in one entry"))
                    last = entry.pieces[name] = _Piece(start, start + keyword.end())
                    self._add(last, content[keyword.end() :], start + keyword.end())
                elif content.startswith('"') and last is not None:
                    self._add(last, content, start)
                else:
                    self.faults.append((start, f"expected a keyword or a text in quotes, found {content[:30]!r}"))
        if "msgstr" in self._kinds(entry):
            yield entry
        elif entry.pieces:
            self.faults.append((len(self.text), "the last entry has no msgstr"))

    def _kinds(self, entry: _Entry) -> set[str]:
        if any(name.startswith("msgstr") for name in entry.pieces):
            if "msgid" in entry.pieces:
                return {"msgstr"}
            first = next(iter(entry.pieces.values()))
            self.faults.append((first.keyword_start, "a msgstr without a msgid"))
            entry.pieces.clear()
        return set()

    def _add(self, piece: _Piece, quoted: str, start: int) -> None:
        match = _QUOTED.match(quoted)
        if match is None:
            self.faults.append((start, "expected a text in quotes"))
            return
        if not match.group(2):
            self.faults.append((start, "the text that begins here is not closed on its line"))
        elif match.group(3):
            self.faults.append((start + match.start(3), f"expected nothing after the text, found {match.group(3)[:30]!r}"))
        piece.text += _unescape(match.group(1))
        piece.end = start + match.end(2)


def _unescape(raw: str) -> str:
    def replace(match: re.Match[str]) -> str:
        hexadecimal, octal, short = match.groups()
        return chr(int(hexadecimal, 16)) if hexadecimal else chr(int(octal, 8)) if octal else _SHORT.get(short, short)

    return _ESCAPE.sub(replace, raw) if "\\" in raw else raw


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    declared = options.encoding or _charset(data)
    text, defects = decoded(data, ReadOptions(encoding=declared), "which PO readers stumble over")
    plain = _plain_column(text.text)
    if plain is not None:
        return Reading((plain,), in_order(defects), text.encoding)
    lines, reader, entries = Lines(text.text), _Reader(text.text), Entries()
    starts: dict[str, int] = {}
    mark = plural = None
    for entry in reader.entries():
        key = entry.key
        if not key:
            piece = entry.pieces.get("msgstr")
            mark = _header(piece.text if piece else None, "Language")
            plural = _plural_header(piece.text if piece else None)
            continue
        place = lines.place(entry.pieces["msgid"].keyword_start)
        if key in entries.index:
            defects.append(repeated(key, starts[key], *place, same=True))
        starts.setdefault(key, place[0])
        _add_entry(entries, key, entry, mark, plural)
    if reader.faults:
        offset, words = reader.faults[0]
        more = f" ({len(reader.faults) - 1} more after it)" if len(reader.faults) > 1 else ""
        some = bool(entries.index)
        defects.append(Defect("damaged" if some else "unreadable", *lines.place(offset), words + more, "rest" if some else "file"))
    column = replace(entries.column(mark=mark or None), header=plural)
    return Reading((column,), in_order(defects), text.encoding)


def _plain_column(text: str) -> Column | None:
    """The short way through a file without faults and repeated keys, in the form that its tools write; else None."""
    obsolete = text.find("#~")
    if obsolete >= 0:
        if not _OBSOLETE.match(text, obsolete):
            return None
        text = text[:obsolete]
    parts = _PLAIN_ENTRY.split(text)
    if any(map(str.strip, parts[:-1:7])) or _not_comments(parts[-1]):
        return None
    contexts = list(map(_plain_text, parts[2::7]))
    sources = list(map(_plain_text, parts[3::7]))
    texts: list[str | None] = [_plain_text(piece) or None for piece in parts[4::7]]
    comments, several, plurals = parts[1::7], parts[5::7], parts[6::7]
    mark = plural = None
    if sources and sources[0] == "" and contexts[0] is None:
        mark, plural = _header(texts[0], "Language"), _plural_header(texts[0])
        contexts, sources, texts, comments = contexts[1:], sources[1:], texts[1:], comments[1:]
        several, plurals = several[1:], plurals[1:]
    named: list[str] = [
        source or "" if context is None else f"{context}{CONTEXT}{source}" for context, source in zip(contexts, sources, strict=True)
    ]
    keys = Keys(named)
    if len(keys.all) != len(keys) or "" in keys.all:
        return None
    rare: dict[str, dict[int, Any]] = {"source": dict(enumerate(sources))}
    if any(context is not None for context in contexts):
        rare["context"] = {index: context for index, context in enumerate(contexts) if context}
    for index, forms in enumerate(plurals):
        if forms:
            rare.setdefault("source-several", {})[index] = _plain_text(several[index]) or ""
            numbered = {f"msgstr[{number}]": _plain_text(piece) or "" for number, piece in _FORM.findall(forms)}
            full = {name: text for name, text in numbered.items() if text}
            if full:
                texts[index] = next(reversed(full.values()))
                rare.setdefault("forms", {})[index] = _forms(full, len(numbered), mark, plural)
    for index, comment in enumerate(comments):
        if comment and not _ONLY_PLACES.match(comment):
            _plain_comment(comment, index, texts, rare)
    return Column(None, keys, tuple(texts), {kind: values for kind, values in rare.items() if values}, mark, None, plural)


def _not_comments(rest: str) -> bool:
    return any(line.strip() and not line.startswith("#") for line in rest.split("\n"))


def _plain_text(raw: str | None) -> str | None:
    if raw is None:
        return None
    raw = _JOINT.sub("", raw[1:-1]) if "\n" in raw else raw[1:-1]
    return _unescape(raw) if "\\" in raw else raw


def _plain_comment(comment: str, index: int, texts: list[str | None], rare: dict[str, dict[int, Any]]) -> None:
    entry = _Entry({}, [], set())
    for line in comment.rstrip("\n").split("\n"):
        _take_comment(entry, line)
    if entry.comments and any(entry.comments):
        rare.setdefault("comment", {})[index] = "\n".join(entry.comments)
    if "fuzzy" in entry.flags:
        texts[index] = None
        rare.setdefault("state", {})[index] = "fuzzy"
        rare.get("forms", {}).pop(index, None)


def _charset(data: bytes) -> str | None:
    """The encoding that the header names, where Python knows it."""
    import codecs

    match = re.search(rb"charset=([A-Za-z][A-Za-z0-9._-]*)", data[:4096])
    try:
        return codecs.lookup(match.group(1).decode("ascii")).name if match else None
    except LookupError:
        return None


def _header(text: str | None, name: str) -> str | None:
    match = re.search(rf"^{name}:[ \t]*(\S+)", text, re.MULTILINE) if text else None
    return match.group(1) if match else None


def _plural_header(text: str | None) -> str | None:
    match = re.search(r"^Plural-Forms:[ \t]*(.+)$", text, re.MULTILINE) if text else None
    return match.group(1) if match else None


def _add_entry(entries: Entries, key: str, entry: _Entry, mark: str | None, plural: str | None) -> None:
    numbered = {name: piece.text for name, piece in entry.pieces.items() if name.startswith("msgstr")}
    fuzzy = "fuzzy" in entry.flags
    texts = {name: text for name, text in numbered.items() if text and not fuzzy}
    index = entries.add(key, texts.get("msgstr", next(reversed(texts.values())) if texts else None))
    if "msgstr" not in numbered and texts:
        entries.note("forms", index, _forms(texts, len(numbered), mark, plural))
    entries.note("comment", index, "\n".join(entry.comments))
    entries.note("context", index, entry.pieces["msgctxt"].text if "msgctxt" in entry.pieces else None)
    entries.note("state", index, "fuzzy" if fuzzy else None)
    entries.note("source", index, entry.pieces["msgid"].text)
    entries.note("source-several", index, entry.pieces["msgid_plural"].text if "msgid_plural" in entry.pieces else None)


def _forms(texts: dict[str, str], count: int, mark: str | None, plural: str | None) -> dict[str, str]:
    """The numbered forms by the categories that they stand for in the language that the file is marked with; else by their numbers."""
    names = plural_names(plural, mark, count)
    numbers = {int(name[7:-1]): text for name, text in texts.items()}
    return {names[number] if number < len(names) else str(number): text for number, text in sorted(numbers.items())}


@lru_cache(maxsize=512)
def plural_names(plural: str | None, locale: str | None, count: int) -> tuple[str, ...]:
    """What each of *count* forms stands for in *locale*: by the header *plural*, else in CLDR's order where there are as many categories."""
    tag: LanguageTag | None = read_spelling(locale, "posix") if locale else None
    header = read_header(plural) if plural else None
    numbers = tuple(str(number) for number in range(count))
    if tag is None:
        return numbers
    if header is not None and header.forms == count:
        return form_names(header, tag)[0]
    categories = whole_number_categories(tag, "cardinal")
    return categories if len(categories) == count else numbers


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted key that is there; the key's place is that of its ``msgid``."""
    text = decode(data, options.encoding or _charset(data))
    lines, offsets, keys = Lines(text.text), Bytes(text), {key for _, key in wanted}
    found: dict[tuple[str | None, str], Site] = {}
    for entry in _Reader(text.text).entries():
        if entry.key in keys:
            source = entry.pieces["msgid"]
            forms = [piece for name, piece in entry.pieces.items() if name.startswith("msgstr")]
            shown = next((piece for piece in reversed(forms) if piece.text), forms[0])
            start = min(piece.keyword_start for piece in entry.pieces.values())
            end = max(piece.end for piece in entry.pieces.values())
            key, value = offsets.span(source.start, source.end), offsets.span(shown.start, shown.end)
            found[None, entry.key] = Site(*lines.place(source.keyword_start), key, value, offsets.span(start, end))
    return found


def likely(data: bytes) -> bool:
    """Whether the contents have an entry."""
    return b"msgid" in data[:65536] and b"msgstr" in data[:65536]


FORMAT = Format("po", (".po", ".pot"), 1, ("by-file",), read, locate, likely, own_plurals=True)
