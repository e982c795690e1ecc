r"""PO catalogs: ``msgid`` and ``msgstr``, with contexts, plural forms, flags, comments and previous texts.

Source: the file format's public manual. A key is the msgid, or context U+0004 msgid. An empty ``msgstr`` is a text that is not there
yet; a fuzzy one does not ship either, and its state says so. Obsolete entries (``#~``) are no entries. Numbered forms are
kept as they are numbered, under the categories of the language where the header's count agrees with CLDR's. The file's own copy of the
source is the msgid, or where that is a name only, what a comment ``Default: "…"`` says. ``Language:`` in the header is the mark. Where flags
such as ``c-format`` say which entries a program formats, the others with a ``%`` are unformatted.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import Any, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents.quoting import quoted
from lemmar.documents.rows import Row
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.formats._editing import (
    Edits,
    Entries,
    FormPlace,
    Model,
    NewEntry,
    Settled,
    Where,
    at_the_end,
    in_rows,
    line_end_of,
    with_comments,
)
from lemmar.formats._encoding import Hole
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Finds, Format, Habits, Hints, Reads, Writes
from lemmar.formats._plural_headers import form_names, plural_header, read_header
from lemmar.formats._reading import Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._spotting import Stand
from lemmar.tags import LanguageTag, read_spelling, whole_number_categories

_LINE = expression(r"([^\r\n]*+)(\r\n|\n|\r|\Z)")
_KEYWORD = expression(r"(msgctxt|msgid_plural|msgid|msgstr(?:\[(\d{1,2})\])?)\s*(?=\")")
_QUOTED = expression(r"\"((?:[^\"\\]|\\.)*+)(\"?)\s*(.*)\Z")
_Q = r'"[^"\\\n]*+(?:\\.[^"\\\n]*+)*+"'
_TEXT = rf"{_Q}(?:\n{_Q})*+"
# Splitting by it leaves nothing but blanks of a file that holds only plain entries. Comments without an entry match too, so that none of them is
# looked at twice.
_PLAIN_ENTRY = expression(
    rf"((?:#[^\n]*+\n)*+)(?:msgctxt ({_TEXT})\n)?msgid ({_TEXT})\n(?:msgstr ({_TEXT})|msgid_plural ({_TEXT})((?:\nmsgstr\[[0-5]\] {_TEXT})++))(?:\n++|\Z)"
    r"|(?:#[^\n]*+(?:\n|\Z))++"
)
_FORM = expression(rf"msgstr\[([0-5])\] ({_TEXT})")
_OBSOLETE = expression(r"#~(?:[^\n]*+(?:\n++|\Z)(?=#|\Z))*+\Z")
_ONLY_PLACES = expression(r"(?:#:[^\n]*+\n)*+\Z")
_JOINT = expression(r'"\n"')
_ESCAPE = expression(r"\\(?:x([0-9a-fA-F]{2})|([0-7]{1,3})|(.))")
_DEFAULT = expression(r'Default:\s*("(?:[^"\\]|\\.)*"(?:\n"(?:[^"\\]|\\.)*")*)', re.DOTALL)
_PIECE = expression(r'"((?:[^"\\]|\\.)*)"', re.DOTALL)
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "a": "\a", "b": "\b", "f": "\f", "v": "\v"}
CONTEXT = "\x04"
_BLANKS = " \t\n"
#: Flags of entries that are formatted by conversions that begin with ``%``.
_CONVERTED = frozenset(
    f"{name}-format"
    for name in (
        "c",
        "objc",
        "python",
        "php",
        "perl",
        "java-printf",
        "javascript",
        "go",
        "lua",
        "awk",
        "sh-printf",
        "object-pascal",
        "boost",
    )
    + ("tcl", "elisp", "librep", "gcc-internal", "gfc-internal")
)
_NOT_CONVERTED = frozenset(f"no-{flag}" for flag in _CONVERTED)
#: In a file that has so many of them, the tool that writes it marks all that are formatted.
_MARKED_THROUGHOUT = 10


class _Piece:
    """The text of one keyword, and the code points that its quoted lines span."""

    __slots__ = ("end", "keyword_start", "lines", "start")

    def __init__(self, keyword_start: int, start: int) -> None:
        self.keyword_start, self.start, self.end = keyword_start, start, start
        self.lines: list[str] = []

    @property
    def text(self) -> str:
        return "".join(self.lines)


class _Found(NamedTuple):
    pieces: dict[str, _Piece]
    comments: list[str]
    flags: set[str]

    @property
    def key(self) -> str:
        context = self.pieces.get("msgctxt")
        return f"{context.text}{CONTEXT}{self.pieces['msgid'].text}" if context else self.pieces["msgid"].text


def _take_comment(entry: _Found, content: str) -> None:
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

    def entries(self) -> Iterator[_Found]:
        entry = _Found({}, [], set())
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
                    entry = _Found({}, [], set())
                last = None
                _take_comment(entry, content)
            elif content:
                keyword = _KEYWORD.match(content)
                if keyword:
                    name = keyword.group(1)
                    if name in ("msgid", "msgctxt") and "msgstr" in self._kinds(entry):
                        yield entry
                        entry = _Found({}, [], set())
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

    def _kinds(self, entry: _Found) -> set[str]:
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
        piece.lines.append(_unescape(match.group(1)))
        piece.end = start + match.end(2)


def _unescape(raw: str) -> str:
    def replace(match: re.Match[str]) -> str:
        hexadecimal, octal, short = match.groups()
        return chr(int(hexadecimal, 16)) if hexadecimal else chr(int(octal, 8)) if octal else _SHORT.get(short, short)

    return _ESCAPE.sub(replace, raw) if "\\" in raw else raw


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The short way through a file without faults and repeated keys, in the form that its tools write."""
    text = decode(data, options.encoding or encoding(data))
    column = _plain_column(text.text) if text.fault is None and not text.mark and not any(sign in text.text for sign in "\r\0") else None
    return Reading((column,)) if column is not None else None


def stands(data: bytes, options: ReadOptions) -> Iterator[Stand] | None:
    """Where the entries of a file stand that is read the short way, each at its ``msgid``."""
    return _stands(decode(data).text) if encoding(data) in (None, "UTF-8", "utf-8") and quick(data, options) is not None else None


def _stands(text: str) -> Iterator[Stand]:
    for match in _PLAIN_ENTRY.finditer(text):
        source = _plain_text(match[3])
        context = _plain_text(match[2])
        if source is None or not (source or context):
            continue
        place = match.start(3) - len("msgid ")
        inside = match.span(4)
        end = match.end(4)
        if match[6] is not None:
            forms = [form.span(2) for form in _FORM.finditer(text, *match.span(6))]
            inside = next((span for span in reversed(forms) if span[1] - span[0] > len('""') and _plain_text(text[slice(*span)])), forms[0])
            end = forms[-1][1]
        first = place if match[2] is None else match.start(2) - len("msgctxt ")
        yield Stand(source if context is None else f"{context}{CONTEXT}{source}", place, match.span(3), inside, (first, end))


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries in file order, each at its ``msgid``."""
    walk.column()
    reader = _Reader(walk.text)
    every = list(reader.entries())
    unformatted = _unformatted([(found.flags, found.key) for found in every])
    for number, found in enumerate(every):
        if found.key:
            yield _entry(found, walk.mark, walk.header, number in unformatted)
        else:
            text = found.pieces["msgstr"].text if "msgstr" in found.pieces else None
            walk.mark, walk.header = _header(text, "Language"), _plural_header(text)
    if "\0" in walk.text:
        reader.faults.append((walk.text.index("\0"), "the character U+0000 stands here, where programs stop to read"))
    for offset, words in sorted(reader.faults):
        walk.fault(offset, words)


def _add_forms(
    forms: str, several: str, header: tuple[str | None, str | None], index: int, texts: list[str | None], rare: dict[str, dict[int, Any]]
) -> bool:
    """Puts the numbered forms of an entry to its text and to what is *rare*; whether no number is there twice."""
    plural_source = _plain_text(several)
    if plural_source:
        rare.setdefault("several", {})[index] = plural_source
    written = _FORM.findall(forms)
    numbered = {f"msgstr[{number}]": _plain_text(piece) or "" for number, piece in written}
    full = {name: text for name, text in numbered.items() if text}
    if full:
        texts[index] = next(reversed(full.values()))
        rare.setdefault("forms", {})[index] = _forms(full, len(numbered), *header)
    return len(numbered) == len(written)


def _plain_column(text: str) -> Column | None:
    """The short way through a file without faults and repeated keys, in the form that its tools write; else None."""
    obsolete = text.find("#~")
    if obsolete >= 0:
        if not _OBSOLETE.match(text, obsolete) or text[obsolete - 1 : obsolete] not in ("", "\n"):
            return None
        text = text[:obsolete]
    parts = _PLAIN_ENTRY.split(text)
    while len(parts) > 1 and parts[-5] is None and not parts[-1].strip(_BLANKS):  # comments at the end
        del parts[-7:]
    if "".join(parts[::7]).strip(_BLANKS) or None in parts[3::7]:
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
        if forms and not _add_forms(forms, several[index], (mark, plural), index, texts, rare):
            return None
    flags: list[tuple[set[str], str]] = []
    for index, comment in enumerate(comments):
        if comment and not _ONLY_PLACES.match(comment):
            flags.append((_plain_comment(comment, index, texts, rare), keys[index]))
        else:
            flags.append((_NO_FLAGS, keys[index]))
    rare["unformatted"] = dict.fromkeys(_unformatted(flags), True)
    return Column(None, keys, tuple(texts), Rare(**{kind: values for kind, values in rare.items() if values}), mark, None, plural)


def _plain_text(raw: str | None) -> str | None:
    if raw is None:
        return None
    raw = _JOINT.sub("", raw[1:-1]) if "\n" in raw else raw[1:-1]
    return _unescape(raw) if "\\" in raw else raw


_NO_FLAGS: set[str] = set()


def _unformatted(entries: Sequence[tuple[set[str], str]]) -> set[int]:
    """The numbers of the *entries*, of which the flags and the keys are given, that have a ``%`` and are not formatted by it."""
    marked = sum(not _CONVERTED.isdisjoint(flags) for flags, _ in entries if flags)
    throughout = marked >= _MARKED_THROUGHOUT
    return {
        number
        for number, (flags, key) in enumerate(entries)
        if (throughout or flags) and "%" in key and _CONVERTED.isdisjoint(flags) and (throughout or not _NOT_CONVERTED.isdisjoint(flags))
    }


def _default(comments: Sequence[str]) -> str | None:
    """The source's text that the *comments* of an entry have, whose msgid is a name."""
    match = _DEFAULT.match("\n".join(comments)) if comments and comments[0].startswith("Default:") else None
    return "".join(map(_unescape, _PIECE.findall(match[1]))) if match else None


def _plain_comment(comment: str, index: int, texts: list[str | None], rare: dict[str, dict[int, Any]]) -> set[str]:
    """Puts what a comment says of an entry into *rare*; returns its flags."""
    entry = _Found({}, [], set())
    for line in comment.rstrip("\n").split("\n"):
        _take_comment(entry, line)
    if entry.comments and any(entry.comments):
        rare.setdefault("comment", {})[index] = "\n".join(entry.comments)
        default = _default(entry.comments)
        if default:
            rare["source"][index] = default
    if "fuzzy" in entry.flags:
        texts[index] = None
        rare.setdefault("state", {})[index] = "fuzzy"
        rare.get("forms", {}).pop(index, None)
    return entry.flags


def encoding(data: bytes) -> str | None:
    """The encoding that the header names."""
    match = re.search(rb"charset=([A-Za-z][A-Za-z0-9._-]*)", data[:4096])
    return match.group(1).decode("ascii") if match else None


def _header(text: str | None, name: str) -> str | None:
    match = re.search(rf"^{name}:[ \t]*(\S+)", text, re.MULTILINE) if text else None
    return match.group(1) if match else None


def _plural_header(text: str | None) -> str | None:
    match = re.search(r"^Plural-Forms:[ \t]*(.+)$", text, re.MULTILINE) if text else None
    return match.group(1) if match else None


def _entry(found: _Found, mark: str | None, plural: str | None, unformatted: bool) -> Entry:
    numbered = {name: piece for name, piece in found.pieces.items() if name.startswith("msgstr")}
    fuzzy = "fuzzy" in found.flags
    texts = {name: piece.text for name, piece in numbered.items() if piece.text and not fuzzy}
    source, context, several = (found.pieces.get(name) for name in ("msgid", "msgctxt", "msgid_plural"))
    assert source is not None
    rare = {
        "forms": _forms(texts, len(numbered), mark, plural) if "msgstr" not in numbered and texts else None,
        "comment": "\n".join(found.comments),
        "context": context.text if context else None,
        "state": "fuzzy" if fuzzy else None,
        "source": _default(found.comments) or source.text,
        "several": several.text if several else None,
        "unformatted": unformatted,
    }
    shown = next((piece for piece in reversed(numbered.values()) if piece.text), next(iter(numbered.values())))
    whole = (min(piece.keyword_start for piece in found.pieces.values()), max(piece.end for piece in found.pieces.values()))
    text = texts.get("msgstr", next(reversed(texts.values())) if texts else None)
    return Entry(found.key, text, source.keyword_start, (source.start, source.end), (shown.start, shown.end), whole, rare=rare)


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


def likely(data: bytes) -> bool:
    """Whether the contents have an entry."""
    return b"msgid" in data[:65536] and b"msgstr" in data[:65536]


def encode(text: str, hole: Hole) -> str:
    """A string as C has it, on the lines that stand there where it has several. Raises `ValueError` for an empty text, which is none in such files, and
    for U+0000.
    """
    if not text or "\0" in text:
        raise ValueError("a PO file cannot hold an empty text" if not text else "a PO file cannot hold U+0000")
    written = quoted(text, code=_code)
    return (_on_its_lines(hole.before, written[1:-1]) if hole.before.count('"') > 2 else None) or written


def _on_its_lines(before: str, raw: str) -> str | None:
    """The lines of *before* with the content *raw*: what both begin and end with stays on the line where it stands. None where nothing stays."""
    lines = list(_PIECE.finditer(before))
    old = [(sign, number) for number, line in enumerate(lines) for sign in _SIGN.findall(line[1])]
    new = _SIGN.findall(raw)
    start = end = 0
    while start < min(len(old), len(new)) and old[start][0] == new[start]:
        start += 1
    while end < min(len(old), len(new)) - start and old[-1 - end][0] == new[-1 - end]:
        end += 1
    if not start and not end:
        return None
    line = old[start - 1][1] if start else old[-end][1]
    placed = [*old[:start], *((sign, line) for sign in new[start : len(new) - end]), *old[len(old) - end :]]
    contents = ["".join(sign for sign, number in placed if number == index) for index in range(len(lines))]
    if _unescape("".join(contents)) != _unescape(raw):
        return None  # an escape ran into what follows it now
    written = ""
    for index, (match, content) in enumerate(zip(lines, contents, strict=True)):
        if content or not match[1]:  # a line that has lost all of its content goes
            written += (before[lines[index - 1].end() : match.start()] if written else "") + f'"{content}"'
    return written


#: What stands for one character in a quoted line.
_SIGN = expression(r"\\(?:x[0-9a-fA-F]{2}|[0-7]{1,3}|.)|[^\\]", re.DOTALL)


def _code(character: str) -> str:
    return f"\\{ord(character):03o}" if ord(character) < 0x20 or ord(character) == 0x7F else character


def _rows(text: str, _options: ReadOptions) -> list[Entries]:
    reader = _Reader(text)
    every = [found for found in reader.entries() if found.key]
    if reader.faults:
        raise EditError(reader.faults[0][1], *Lines(text).place(reader.faults[0][0]))
    spans = [
        (min(piece.keyword_start for piece in found.pieces.values()), max(piece.end for piece in found.pieces.values())) for found in every
    ]
    return [Entries(Row((0, len(text)), with_comments(text, spans, _ABOVE), ""), tuple(found.key for found in every))]


def _write(new: NewEntry, text: str, _example: str) -> str:
    """An entry; the forms of one that has several are numbered as the header's."""
    end = line_end_of(text)
    context, sign, source = new.key.rpartition(CONTEXT)
    lines = [f"#. {line}" for line in new.comment.split("\n")] if new.comment else []
    lines += [f"msgctxt {quoted(context, code=_code)}"] if sign else []
    lines.append(f"msgid {quoted(source, code=_code)}")
    if new.forms:
        lines.append(f"msgid_plural {quoted(new.source or source, code=_code)}")
        lines += [f"msgstr[{number}] {quoted(words, code=_code)}" for number, words in enumerate(new.forms.values())]
    else:
        lines.append(f"msgstr {quoted(new.text, code=_code)}")
    return end.join(lines)


_ABOVE = expression(r"(?:^#(?!~)[^\r\n]*(?:\r\n|\n|\r))+\Z", re.MULTILINE)
_REMOVE, _ADD = in_rows(_rows, _write, lambda text, pieces: at_the_end(text, [line_end_of(text) + piece for piece in pieces]))


def _forms_at(text: str, _options: ReadOptions) -> Iterator[FormPlace]:
    for found in _Reader(text).entries():
        for name, piece in found.pieces.items():
            if name.startswith("msgstr["):
                yield FormPlace(None, found.key, name[7:-1], piece.text, (piece.start, piece.end))


def _settled(text: str, _where: Where, marks: Sequence[Settled]) -> list[Splice]:
    """The flag ``fuzzy`` and previous texts above done entries go; the flag comes above the others."""
    wanted = {mark.key: mark for mark in marks}
    reader = _Reader(text)
    every = list(reader.entries())
    spans = [
        (min(piece.keyword_start for piece in found.pieces.values()), max(piece.end for piece in found.pieces.values())) for found in every
    ]
    splices: list[Splice] = []
    for found, (start, _), (above, _) in zip(every, spans, with_comments(text, spans, _ABOVE), strict=True):
        mark = wanted.get(found.key)
        if mark is None or not found.key:
            continue
        if not mark.done:
            splices += [] if "fuzzy" in found.flags else [Splice(start, start, f"#, fuzzy{line_end_of(text)}")]
            continue
        for match in _MARKED.finditer(text, above, start):
            flags = [flag.strip() for flag in match[1].split(",") if flag.strip() not in ("", "fuzzy")] if match[1] is not None else []
            if match[1] is None or "fuzzy" in match[1]:
                splices.append(Splice(*match.span(), f"#, {', '.join(flags)}{match[2]}" if flags else ""))
    return splices


_MARKED = expression(r"(?m)^(?:#\|[^\r\n]*|#,([^\r\n]*))(\r\n|\n|\r)")


def _blank(model: Model) -> str:
    """All messages without translations, as many forms as the language has; of the header what is so for it. Translators' own comments, previous and
    obsolete texts are left out.
    """
    reader = _Reader(model.text)
    every = list(reader.entries())
    if reader.faults:
        raise EditError(reader.faults[0][1], *Lines(model.text).place(reader.faults[0][0]))
    header = plural_header(model.new)
    forms = int(header.partition("=")[2].partition(";")[0])
    splices, first = [], 0
    has_plurals = any("msgid_plural" in found.pieces for found in every)
    for found in every:
        numbered = [piece for name, piece in found.pieces.items() if name.startswith("msgstr")]
        if not found.key:
            first = found.pieces["msgid"].keyword_start
            splices += [Splice(piece.start, piece.end, _headed(piece.text, model, header if has_plurals else "")) for piece in numbered]
        elif "msgid_plural" in found.pieces:
            end = line_end_of(model.text)
            lines = end.join(f'msgstr[{number}] ""' for number in range(forms))
            splices.append(Splice(numbered[0].keyword_start, numbered[-1].end, lines))
        else:
            splices += [Splice(piece.start, piece.end, '""') for piece in numbered]
    text = spliced(model.text, splices)
    kept = _OBSOLETE_LINES.sub("", _TRANSLATORS.sub("", text[first:]))
    return _FLAGS.sub(_without_fuzzy, kept).rstrip() + line_end_of(model.text)


def _headed(text: str, model: Model, plural: str) -> str:
    """The header for another language."""
    end = line_end_of(model.text)
    fields: dict[str, str] = {}
    for line in text.split("\n"):
        name, sign, value = line.partition(":")
        if sign:
            fields[name] = value.strip()
    fields |= {name: "" for name in ("Last-Translator", "Language-Team", "PO-Revision-Date") if name in fields}
    fields["Language"] = model.restate(fields["Language"]) if fields.get("Language") else model.written
    if "Content-Type" in fields:
        fields["Content-Type"] = re.sub(r"charset=[\w.-]+", "charset=UTF-8", fields["Content-Type"])
    if plural or "Plural-Forms" in fields:
        fields["Plural-Forms"] = plural or plural_header(model.new)
    return f'""{end}' + end.join(quoted(f"{name}: {value}".rstrip() + "\n", code=_code) for name, value in fields.items())


def _without_fuzzy(match: re.Match[str]) -> str:
    flags = [flag.strip() for flag in match[1].split(",") if flag.strip() not in ("", "fuzzy")]
    return f"#, {', '.join(flags)}{match[2]}" if flags else ""


_TRANSLATORS = expression(r"(?m)^#(?:[ \t|][^\n]*|\r?)(?:\n|\Z)")
_OBSOLETE_LINES = expression(r"(?m)^#~[^\n]*(?:\n|\Z)")
_FLAGS = expression(r"(?m)^#,([^\r\n]*)(\r?\n|\Z)")


FORMAT = Format(
    name="po",
    suffixes=(".po", ".pot"),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=encoding,
        mark_harms="which PO readers stumble over",
        plural_header=b"Plural-Forms:",
    ),
    finds=Finds(
        stands=stands,
    ),
    writes=Writes(
        encode=encode,
        edits=Edits(_blank, remove=_REMOVE, add=_ADD, forms=_forms_at, settle=_settled),
        marks=(r"\bLanguage:[ \t]*",),
    ),
    habits=Habits(
        own_plurals=True,
        carries_source=True,
        keys_are_texts=True,
    ),
    hints=Hints(
        likely=likely,
        kind="service",
        platform="posix",
        platform_sign="LC_MESSAGES",
        never_catalogs=(".pot",),
    ),
)
