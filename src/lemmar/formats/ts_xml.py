"""TS translations: ``<context>``s of ``<message>``s, each with a source, maybe a comment, and a translation.

Source: the file format's public document type. A key is context, source and comment together (U+0004 between them), or the message's
id. An unfinished translation that is empty is a text that is not there yet; with a text its state says so. Vanished and obsolete messages
are no entries. Numerus forms are numbered in the order of the language's plural categories.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Iterator, Sequence
from functools import lru_cache
from typing import TYPE_CHECKING, NamedTuple
from xml.sax.saxutils import quoteattr

from lemmar.basics.expressions import expression
from lemmar.documents.rows import Row, inserted
from lemmar.documents.splicing import Splice, spliced
from lemmar.documents.xmltext import Element, PlainEntries, declared_encoding, elements, unescape
from lemmar.formats._editing import (
    Edits,
    Entries,
    FormPlace,
    Model,
    NewEntry,
    Settled,
    Where,
    after_each,
    in_rows,
    line_end_of,
    marked,
    with_comments,
)
from lemmar.formats._encoding import Hole, xml_escape, xml_escaped, xml_text
from lemmar.formats._entries import Entry, Gathering, Walk
from lemmar.formats._format import Finds, Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Reading, ReadOptions
from lemmar.formats._spotting import Stand
from lemmar.formats._xml import XML_COMMENT, attribute_set, document, framed, placed, quick_reading, whole_lines
from lemmar.tags import LanguageTag, read_spelling, whole_number_categories, whole_numbers

if TYPE_CHECKING:
    from lxml import etree

_SEPARATOR = "\x04"
#: Messages that the program no longer has.
_GONE = ("vanished", "obsolete")


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By one expression where all messages are plain, else by the parser alone, where nothing is wrong."""
    plain = _plain_column(data)
    return Reading((plain,)) if plain is not None else quick_reading(data, _is_root, _entries, lambda root: root.get("language"))


_PLAIN = PlainEntries(
    r"<context>[ \t\n]*+<name>([^<]*+)</name>|(</context>)|<message(?: id=\"([^\"<&\t\n]+)\")?(?: numerus=\"yes\")?>[ \t\n]*+"
    r"(?:<location(?: filename=\"[^\"<&]*\")?(?: line=\"[^\"<&]*\")?/>[ \t\n]*+)*+<source>([^<]*+)</source>[ \t\n]*+"
    r"(?:<comment>([^<]*+)</comment>[ \t\n]*+)?(?:<extracomment>([^<]*+)</extracomment>[ \t\n]*+)?"
    r"(?:<translatorcomment>([^<]*+)</translatorcomment>[ \t\n]*+)?<translation(?: type=\"([a-z]+)\")?>"
    r"(?:([^<]*+)|[ \t\n]*+((?:<numerusform>[^<]*+</numerusform>[ \t\n]*+)++))</translation>[ \t\n]*+</message>",
    "TS",
    doctype="TS",
    raw=frozenset({9}),
)
_FORM = expression(r"<numerusform>([^<]*+)</numerusform>")


def _plain_column(data: bytes) -> Column | None:
    """The messages of a document of plain ones; None where it is another, or a key is there twice."""
    found = _PLAIN.split(data)
    if found is None or found.root.tag != "TS" or any(name in found.prolog for name in ("<context", "<message")):
        return None
    mark = found.root.get("language")
    column = Gathering()
    context: str | None = None
    for name, closed, number, source, comment, *notes, kind, whole, several in zip(*found.groups, strict=True):
        if source is None:
            if (context is None) == bool(closed):
                return None
            context = None if closed else name
            continue
        if context is None:
            return None
        if kind in _GONE:
            continue
        forms = [unescape(form) for form in _FORM.findall(several)] if several else []
        text = forms[-1] if forms else whole or ""
        key = _key(context, number, source, comment or "")
        if key in column.index:
            return None
        index = column.add(key, text or None)
        rare = column.rare
        if source:
            rare.setdefault("source", {})[index] = source
        if comment:
            rare.setdefault("context", {})[index] = comment
        said = "\n".join(note for each in notes if each and (note := each.strip()))
        if said:
            rare.setdefault("comment", {})[index] = said
        if any(forms) and (named := _named_forms(forms, mark)):
            rare.setdefault("forms", {})[index] = named
        if kind == "unfinished" and text:
            rare.setdefault("state", {})[index] = "unfinished"
    return column.column(mark=mark) if context is None else None


def stands(data: bytes, _options: ReadOptions) -> Iterator[Stand] | None:
    """Where the messages of a document of plain ones stand, each at its id's message or its source."""
    return _stands(data.decode("utf-8")) if b"\r" not in data and _plain_column(data) is not None else None


def _stands(text: str) -> Iterator[Stand]:
    context = ""
    for match in _PLAIN.entries(text):
        name, _, number, source, comment, _, _, kind, _, several = match.groups()
        if name is not None:
            context = unescape(name)
        if source is None or kind in _GONE:
            continue
        opened, closed = match.start(4) - len("<source>"), match.end(4) + len("</source>")
        inside = match.span(9)
        if several is not None:
            last = match.start(10) + several.rindex("<numerusform>") + len("<numerusform>")
            inside = (last, text.index("</numerusform>", last))
        key = _key(context, unescape(number) if number else None, unescape(source), unescape(comment or ""))
        head = (opened, match.start(4))
        if number:
            opened, closed = match.start(), match.end()
            head = (opened, text.index(">", opened) + 1)
        yield Stand(key, opened, head, inside, (opened, closed))


def entries(walk: Walk) -> Iterator[Entry]:
    """The messages, each at its id or its source."""
    root = document(walk, "TS", _is_root)
    if root is not None:
        walk.column()
        walk.mark = root.get("language")
        yield from placed(walk, _entries(root), _named(walk.text), "", itself=False)


def _is_root(tag: str) -> bool:
    return tag == "TS"


def _entries(root: etree._Element) -> Iterator[Entry]:
    mark = root.get("language")
    for context in root.iterchildren("context"):
        name = context.findtext("name") or ""
        for message in context.iterchildren("message"):
            translation = message.find("translation")
            if translation is None or translation.get("type") not in _GONE:
                key = _key(name, message.get("id"), _whole(message.find("source")), _whole(message.find("comment")))
                yield _entry(key, message, translation, mark)


def _key(context: str, name: str | None, source: str, comment: str) -> str:
    return name or _SEPARATOR.join((context, source, comment) if comment else (context, source))


def _whole(element: etree._Element | None) -> str:
    return "" if element is None else "".join(str(piece) for piece in element.itertext())


def _entry(key: str, message: etree._Element, translation: etree._Element | None, mark: str | None) -> Entry:
    forms = [_whole(form) for form in translation.iterchildren("numerusform")] if translation is not None else []
    text = "" if translation is None else forms[-1] if forms else _whole(translation)
    notes = [(message.findtext(name) or "").strip() for name in ("extracomment", "translatorcomment")]
    unfinished = translation is not None and translation.get("type") == "unfinished"
    rare = {
        "forms": _named_forms(forms, mark) if any(forms) else None,
        "source": _whole(message.find("source")),
        "comment": "\n".join(note for note in notes if note),
        "context": _whole(message.find("comment")),
        "state": "unfinished" if unfinished and text else None,
    }
    return Entry(key, text or None, rare=rare)


@lru_cache(maxsize=256)
def _usual(tag: LanguageTag) -> tuple[str, ...]:
    """The categories that numbers up to a thousand take; the tools that write such files know no others."""
    found = whole_numbers(tag, "cardinal")
    return tuple(name for name in whole_number_categories(tag, "cardinal") if name in found)


def _named_forms(forms: list[str], mark: str | None) -> dict[str, str]:
    tag = read_spelling(mark, "posix") if mark else None
    categories = _usual(tag) if tag is not None else ()
    names = categories if 1 < len(forms) <= len(categories) else tuple(str(number) for number in range(len(forms)))
    return {name: form for name, form in zip(names, forms, strict=False) if form}


def _named(text: str) -> Iterator[tuple[str, Element, Element | None]]:
    """Each message's key with the element at which it stands (the message where that has an id, else its source), and that of its translation."""
    context = ""
    pieces: dict[str, Element] = {}
    open_message: Element | None = None

    def words(name: str) -> str:
        element = pieces.get(name)
        return unescape(text[element.open.end : element.close.start]) if element is not None and element.close else ""

    def done() -> Iterator[tuple[str, Element, Element | None]]:
        gone = "translation" in pieces and pieces["translation"].open.attributes.get("type", ("",))[0] in _GONE
        if open_message is not None and "source" in pieces and not gone:
            name = open_message.open.attributes.get("id", (None, 0, 0))[0]
            yield (
                _key(context, name, words("source"), words("comment")),
                open_message if name else pieces["source"],
                pieces.get("numerusform") or pieces.get("translation"),
            )

    for element in elements(text):
        name = element.open.name
        if name in ("message", "context"):
            yield from done()
            open_message, pieces = (element if name == "message" else None), {}
        elif open_message is not None and name == "numerusform":
            pieces[name] = element  # the last one's text stands for the message
        elif open_message is not None:
            pieces.setdefault(name, element)
        elif name == "name" and element.close:
            context = unescape(text[element.open.end : element.close.start])
    yield from done()


def encode(text: str, hole: Hole) -> str:
    """Character data. Raises `ValueError` for an empty text, which is none in such files."""
    if not text:
        raise ValueError("a TS file cannot hold an empty text")
    return xml_text(text, hole)


class _Context(NamedTuple):
    """A context in the text: its name, its element, its messages with their keys; *first* is where one may stand before them."""

    name: str
    element: Element
    messages: tuple[tuple[str, Element], ...]


def _contexts(text: str) -> list[_Context]:
    found: list[_Context] = []
    pieces: dict[str, Element] = {}
    message: Element | None = None

    def words(name: str) -> str:
        element = pieces.get(name)
        return unescape(text[element.open.end : element.close.start]) if element is not None and element.close else ""

    def done() -> None:
        if message is not None and found:
            name = message.open.attributes.get("id", (None, 0, 0))[0]
            key = _key(found[-1].name, name, words("source"), words("comment"))
            found[-1] = found[-1]._replace(messages=(*found[-1].messages, (key, message)))

    for element in elements(text):
        name = element.open.name
        if name in ("message", "context"):
            done()
            message, pieces = (element if name == "message" else None), {}
            if name == "context":
                found.append(_Context("", element, ()))
        elif message is not None:
            pieces.setdefault(name, element)
        elif name == "name" and element.close and found:
            found[-1] = found[-1]._replace(name=unescape(text[element.open.end : element.close.start]))
    done()
    return found


def _entries_of(text: str, context: _Context) -> Entries:
    spans = with_comments(text, [(message.open.start, message.end) for _, message in context.messages], XML_COMMENT)
    return Entries(Row((context.element.open.end, context.element.end), spans, ""), tuple(key for key, _ in context.messages))


def _remove(text: str, where: Where, keys: Collection[str], repeats: bool) -> list[Splice]:
    return in_rows(lambda text, _options: [_entries_of(text, each) for each in _contexts(text)], _write, framed_nowhere)[0](
        text, where, keys, repeats
    )


def _add(text: str, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
    """Each message in its context, which is made where it is not there."""
    contexts = {each.name: each for each in _contexts(text)}
    found: list[Splice] = []
    end = line_end_of(text)
    made: dict[str, list[NewEntry]] = {}
    for new in news:
        made.setdefault(new.key.partition(_SEPARATOR)[0] if _SEPARATOR in new.key else next(iter(contexts), ""), []).append(new)
    for name, those in made.items():
        context = contexts.get(name)
        if context is not None and context.messages:
            entries = _entries_of(text, context)
            example = text[slice(*entries.row.items[0])]
            for after, keys in after_each(entries.keys, [new.key for new in those], where.order).items():
                found += inserted(text, entries.row, [_write(new, text, example) for new in those if new.key in keys], after)
        else:
            hole = Hole("", text, 0, "utf-8", ReadOptions())
            body = "".join(f"{end}    {_write(new, text, '')}" for new in those)
            whole = f"<context>{end}    <name>{xml_text(name, hole)}</name>{body}{end}</context>"
            found += framed(text, [whole], "TS")
    return found


def _write(new: NewEntry, text: str, example: str) -> str:
    """A message with its source and translation, on lines as the others."""
    hole = Hole("", text, 0, "utf-8", ReadOptions())
    end = line_end_of(text)
    at = text.find(example) if example else -1
    outer = text[text.rfind("\n", 0, at) + 1 : at] if at > 0 else "    "
    outer = outer if not outer.strip() else ""
    parts = new.key.split(_SEPARATOR)
    source, comment = (parts[1], parts[2] if len(parts) > 2 else "") if len(parts) > 1 else (new.source or "", "")
    head = f"<message id={quoteattr(new.key)}" if len(parts) == 1 else "<message"
    if new.forms:
        forms = "".join(f"{end}{outer}        <numerusform>{xml_text(form, hole)}</numerusform>" for form in new.forms.values())
        translation = f"<translation>{forms}{end}{outer}    </translation>"
        head += ' numerus="yes"'
    else:
        translation = f"<translation>{encode(new.text, hole)}</translation>"
    lines = [
        f"<source>{xml_text(source, hole)}</source>",
        *([f"<comment>{xml_text(comment, hole)}</comment>"] if comment else []),
        translation,
    ]
    return f"{head}>" + "".join(f"{end}{outer}    {line}" for line in lines) + f"{end}{outer}</message>"


def framed_nowhere(_text: str, _pieces: Sequence[str]) -> list[Splice]:
    """Nothing: messages are framed by their contexts."""
    return []


def _forms(text: str, _options: ReadOptions) -> Iterator[FormPlace]:
    inside = [element for element in elements(text) if element.open.name == "numerusform" and element.close is not None]
    for context in _contexts(text):
        for key, message in context.messages:
            those = [each for each in inside if message.open.start < each.open.start < message.end]
            for number, each in enumerate(those):
                span = (each.open.end, each.close.start if each.close is not None else each.open.end)
                yield FormPlace(None, key, str(number), unescape(text[slice(*span)]), span)


def _settled(text: str, _where: Where, marks: Sequence[Settled]) -> list[Splice]:
    """The mark ``unfinished`` of translations; the sources of messages that have a key of their own."""
    wanted = {mark.key: mark for mark in marks}
    every = elements(text)
    splices: list[Splice] = []
    for context in _contexts(text):
        for key, message in context.messages:
            mark = wanted.get(key)
            for element in every if mark is not None else ():
                if mark is None or not message.open.start < element.open.start < message.end:
                    continue
                if element.open.name == "translation":
                    splices += attribute_set(text, element.open, "type", None if mark.done else "unfinished")
                elif (
                    element.open.name == "source"
                    and mark.source is not None
                    and "id" in message.open.attributes
                    and element.close is not None
                ):
                    new = xml_escaped(mark.source)
                    if text[element.open.end : element.close.start] != new:
                        splices.append(Splice(element.open.end, element.close.start, new))
    return splices


def _blank(model: Model) -> str:
    """All messages, unfinished and without translations, with as many forms as the language has; those that are gone are left out."""
    text = model.text
    every = elements(text)
    splices = marked(text, FORMAT.writes.marks, model.restate)
    forms = len(_usual(model.new))
    message: Element | None = None
    for element in every:
        if element.open.name == "message":
            message = element
        if element.open.name != "translation" or message is None:
            continue
        if element.open.attributes.get("type", ("",))[0] in _GONE:
            splices.append(Splice(*whole_lines(text, message.open.start, message.end), ""))
            continue
        inside = ""
        if message.open.attributes.get("numerus", ("",))[0] == "yes":
            indent = text[text.rfind("\n", 0, element.open.start) + 1 : element.open.start]
            indent = indent if not indent.strip() else ""
            end = line_end_of(text)
            inside = "".join(f"{end}{indent}    <numerusform></numerusform>" for _ in range(forms)) + end + indent
        splices.append(Splice(element.open.start, element.end, f'<translation type="unfinished">{inside}</translation>'))
    return spliced(text, splices)


FORMAT = Format(
    name="ts-xml",
    suffixes=(".ts",),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=declared_encoding,
        takes_wide="any",
    ),
    finds=Finds(
        stands=stands,
    ),
    writes=Writes(
        encode=encode,
        escape=xml_escape,
        edits=Edits(_blank, remove=_remove, add=_add, forms=_forms, settle=_settled),
        marks=(r"\blanguage\s*=\s*[\"']",),
    ),
    habits=Habits(
        own_plurals=True,
        carries_source=True,
        syntax="percent-number",
    ),
    hints=Hints(
        likely=lambda data: re.match(rb"(?:\xef\xbb\xbf)?\s*<", data) is not None and re.search(rb"<TS[\s>]", data[:65536]) is not None,
        kind="desktop",
    ),
)
