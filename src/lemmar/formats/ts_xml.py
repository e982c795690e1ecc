"""TS translations: ``<context>``s of ``<message>``s, each with a source, maybe a comment, and a translation.

Source: the file format's public document type. A key is context, source and comment together (U+0004 between them), or the message's
id. An unfinished translation that is empty is a text that is not there yet; with a text its state says so. Vanished and obsolete messages
are no entries. Numerus forms are numbered in the order of the language's plural categories.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from lemmar.documents.xmltext import Element, elements, parse, unescape
from lemmar.formats._entries import Entries, in_order, repeated
from lemmar.formats._reading import Defect, Format, Reading, ReadOptions, Site
from lemmar.formats._xml import declared_encoding, xml_defects, xml_sites
from lemmar.tags import read_spelling, whole_number_categories
from lemmar.text import Lines, decode

if TYPE_CHECKING:
    from lxml import etree

_SEPARATOR = "\x04"


def read(data: bytes, options: ReadOptions) -> Reading:
    """The entries of *data* in file order, a repeated key once with its last text, and every defect."""
    root, faults = parse(data)
    if root is None or root.tag != "TS":
        strange = [] if root is None else [Defect("unreadable", 1, 1, f"expected <TS>, found <{root.tag!s}>", "file")]
        return Reading((), in_order(xml_defects(data, faults, some=False) or strange))
    entries = Entries()
    mark = root.get("language")
    again: list[str] = []
    for context in root.iterchildren("context"):
        name = context.findtext("name") or ""
        for message in context.iterchildren("message"):
            translation = message.find("translation")
            if translation is not None and translation.get("type") in ("vanished", "obsolete"):
                continue
            key = _key(name, message.get("id"), _whole(message.find("source")), _whole(message.find("comment")))
            if key in entries.index:
                again.append(key)
            _add(entries, key, message, translation, mark)
    defects = xml_defects(data, faults, bool(entries.index))
    if again:
        defects += _repeats(data, again)
    return Reading((entries.column(mark=mark),), in_order(defects), "utf-8")


def _key(context: str, name: str | None, source: str, comment: str) -> str:
    return name or _SEPARATOR.join((context, source, comment) if comment else (context, source))


def _whole(element: etree._Element | None) -> str:
    return "" if element is None else "".join(str(piece) for piece in element.itertext())


def _add(entries: Entries, key: str, message: etree._Element, translation: etree._Element | None, mark: str | None) -> None:
    forms = [_whole(form) for form in translation.iterchildren("numerusform")] if translation is not None else []
    text = "" if translation is None else forms[-1] if forms else _whole(translation)
    index = entries.add(key, text or None)
    if any(forms):
        entries.note("forms", index, _named_forms(forms, mark))
    entries.note("source", index, _whole(message.find("source")))
    notes = [(message.findtext(name) or "").strip() for name in ("extracomment", "translatorcomment")]
    entries.note("comment", index, "\n".join(note for note in notes if note))
    entries.note("context", index, _whole(message.find("comment")))
    unfinished = translation is not None and translation.get("type") == "unfinished"
    entries.note("state", index, "unfinished" if unfinished and text else None)


def _named_forms(forms: list[str], mark: str | None) -> dict[str, str]:
    tag = read_spelling(mark, "posix") if mark else None
    categories = whole_number_categories(tag, "cardinal") if tag else ()
    names = categories if len(categories) == len(forms) else tuple(str(number) for number in range(len(forms)))
    return {name: form for name, form in zip(names, forms, strict=True) if form}


def _named(text: str) -> Iterator[tuple[str, Element, Element | None]]:
    """Each message's key with the element of its source, at which it stands, and that of its translation."""
    context = ""
    pieces: dict[str, Element] = {}
    open_message: Element | None = None

    def words(name: str) -> str:
        element = pieces.get(name)
        return unescape(text[element.open.end : element.close.start]) if element is not None and element.close else ""

    def done() -> Iterator[tuple[str, Element, Element | None]]:
        if open_message is not None and "source" in pieces:
            name = open_message.open.attributes.get("id", (None, 0, 0))[0]
            yield (
                _key(context, name, words("source"), words("comment")),
                pieces["source"],
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


def _repeats(data: bytes, again: list[str]) -> list[Defect]:
    text = decode(data, declared_encoding(data)).text
    lines = Lines(text)
    seen: dict[str, list[tuple[int, int]]] = {}
    for key, element, _ in _named(text):
        seen.setdefault(key, []).append(lines.place(element.open.start))
    found = []
    for key in again:
        places = seen.get(key, [])
        if len(places) > 1:
            found.append(repeated(key, places[0][0], *places.pop(1), same=False))
    return found


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted message that is there; the key's place is that of its source."""
    text = decode(data, options.encoding or declared_encoding(data))
    return xml_sites(text, _named(text.text), wanted, "")


FORMAT = Format("ts-xml", (".ts",), 1, ("by-file",), read, locate, lambda data: b"<TS" in data[:4096], own_plurals=True)
