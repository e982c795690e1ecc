"""XLIFF 1.2 and 2.x: units with a source and a target, notes, states; inline codes are kept as markup.

Source: OASIS XLIFF 1.2 and 2.1. A key is the unit's id. A unit without a target, or with an empty one, is a text that is not there yet; in
a file that is in the source language only, the source is the text. ``translate="no"`` makes a unit fixed. Each ``<file>`` is a part of its
own where there are several. Several segments of a unit are one text. The file's own copy of the source is kept.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any

from lemmar.documents.xmltext import Element, PlainEntries, elements, local_name, parse
from lemmar.formats._entries import Entries, in_order, repeated
from lemmar.formats._reading import Column, Defect, Format, Keys, Reading, ReadOptions, Site
from lemmar.formats._xml import declared_encoding, inner_xml, xml_defects, xml_sites
from lemmar.text import Lines, decode

if TYPE_CHECKING:
    from lxml import etree

_UNITS = ("trans-unit", "unit")
_NO_MARKUP = frozenset({"mrk"})
#: States that say that somebody must still look at the text.
_OPEN = {
    "needs-translation",
    "needs-review-translation",
    "needs-review-l10n",
    "needs-review-adaptation",
    "needs-adaptation",
    "needs-l10n",
    "new",
    "initial",
}


_ATTRIBUTES = r'(?: (?:resname|restype|datatype|xml:space|xml:lang|name|category|from|order)="[^"<&]*")*'
_PLAIN = (
    PlainEntries(
        rf'<trans-unit id="([^"<&\t\n\r]+)"{_ATTRIBUTES}>\s*<source{_ATTRIBUTES}>([^<]*)</source>\s*(?:<target{_ATTRIBUTES}'
        rf'(?: state="([^"<&]*)")?{_ATTRIBUTES}>([^<]*)</target>\s*)?(?:<note{_ATTRIBUTES}>([^<]*)</note>\s*)?</trans-unit>',
        *("body", "file", "xliff"),
    ),
    PlainEntries(
        rf'<unit id="([^"<&\t\n\r]+)"{_ATTRIBUTES}>\s*(?:<notes>\s*<note{_ATTRIBUTES}>([^<]*)</note>\s*</notes>\s*)?'
        rf'<segment{_ATTRIBUTES}(?: state="([^"<&]*)")?>\s*<source{_ATTRIBUTES}>([^<]*)</source>\s*'
        rf"(?:<target{_ATTRIBUTES}>([^<]*)</target>\s*)?</segment>\s*</unit>",
        *("file", "xliff"),
    ),
)


def _plain_column(data: bytes) -> Column | None:
    """The short way through a file with one ``<file>`` whose units have no inline codes and are there once each."""
    if data.count(b"<file") != 1:
        return None
    old = b"<trans-unit" in data
    found = _PLAIN[0 if old else 1].split(data)
    if found is None or "<trans-unit" in found[0] or "<unit" in found[0] or "<group" in found[0]:
        return None
    if old:
        names, sources, states, targets, notes = found[1]
    else:
        names, notes, states, sources, targets = found[1]
    keys = Keys(names)
    root, _ = parse((found[0] + "".join(f"</{name}>" for name in (("body",) if old else ()) + ("file", "xliff"))).encode())
    file = root[0] if root is not None and len(root) else None
    if len(keys.all) != len(keys) or root is None or file is None or local_name(str(root.tag).rpartition("}")[2]) != "xliff":
        return None
    if file.get("translate") == "no":
        return None
    mark = _target_language(root, file)
    source_only = not mark or mark == _source_language(root, file)
    texts = tuple(
        [target or source for target, source in zip(targets, sources, strict=True)] if source_only else [t or None for t in targets]
    )
    rare: dict[str, dict[int, Any]] = {"source": {index: source for index, source in enumerate(sources) if source}}
    if any(notes):
        rare["comment"] = {index: note.strip() for index, note in enumerate(notes) if note and note.strip()}
    if any(states):
        rare["state"] = {index: state for index, state in enumerate(states) if state in _OPEN}
    return Column(None, keys, texts, {kind: values for kind, values in rare.items() if values}, mark or _source_language(root, file))


def read(data: bytes, options: ReadOptions) -> Reading:
    """A column for each ``<file>``, and every defect."""
    plain = _plain_column(data)
    if plain is not None:
        return Reading((plain,), (), "utf-8")
    root, faults = parse(data)
    if root is None or not isinstance(root.tag, str) or local_name(root.tag.rpartition("}")[2]) != "xliff":
        strange = [] if root is None else [Defect("unreadable", 1, 1, f"expected <xliff>, found <{root.tag!s}>", "file")]
        return Reading((), in_order(xml_defects(data, faults, some=False) or strange))
    files = [child for child in root if _name(child) == "file"]
    columns: list[Column] = []
    again: list[tuple[str, int]] = []
    for number, file in enumerate(files):
        entries = Entries()
        source_only = not _target_language(root, file) or _target_language(root, file) == _source_language(root, file)
        for unit in _units(file):
            _add(entries, unit, source_only, again, number)
        part = (file.get("original") or file.get("id")) if len(files) > 1 else None
        column = entries.column(mark=_target_language(root, file) or _source_language(root, file))
        columns.append(Column(column.label, column.keys, column.texts, column.rare, column.mark, part))
    defects = xml_defects(data, faults, any(column.keys for column in columns))
    if again:
        defects += _repeats(data, again)
    return Reading(tuple(columns), in_order(defects), "utf-8")


def _name(element: etree._Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _units(file: etree._Element) -> Iterator[etree._Element]:
    return (element for element in file.iter() if _name(element) in _UNITS and element.get("id"))


def _target_language(root: etree._Element, file: etree._Element) -> str | None:
    return file.get("target-language") or root.get("trgLang")


def _source_language(root: etree._Element, file: etree._Element) -> str | None:
    return file.get("source-language") or root.get("srcLang")


def _add(entries: Entries, unit: etree._Element, source_only: bool, again: list[tuple[str, int]], number: int) -> None:
    key = unit.get("id", "")
    segments = [child for child in unit if _name(child) in ("segment", "ignorable")] or [unit]
    source = "".join(_text(segment, "source") or "" for segment in segments)
    targets = [_text(segment, "target") for segment in segments]
    target = None if all(text is None for text in targets) else "".join(text or "" for text in targets)
    if key in entries.index:
        again.append((key, number))
    index = entries.add(key, target or (source if source_only else None))
    entries.note("source", index, source)
    entries.note("fixed", index, unit.get("translate") == "no")
    entries.note("comment", index, "\n".join((note.text or "").strip() for note in unit.iter() if _name(note) == "note"))
    entries.note("state", index, next((state for state in map(_state, segments) if state), None))
    limit = unit.get("maxwidth")
    entries.note("limit", index, int(limit) if limit and limit.isdigit() and unit.get("size-unit") == "char" else None)


def _text(segment: etree._Element, name: str) -> str | None:
    found = next((child for child in segment if _name(child) == name), None)
    return inner_xml(found, _NO_MARKUP) if found is not None else None


def _state(segment: etree._Element) -> str | None:
    target = next((child for child in segment if _name(child) == "target"), None)
    state = (target.get("state") if target is not None else None) or segment.get("state")
    if segment.get("approved") == "no" and state is None:
        return "not approved"
    return state if state in _OPEN else None


def _named(text: str) -> Iterator[tuple[str, Element, Element | None]]:
    """Each unit with its element and that of its target, else of its source."""
    found = elements(text)
    for index, element in enumerate(found):
        if local_name(element.open.name) in _UNITS and "id" in element.open.attributes:
            inside: dict[str, Element] = {}
            for at in range(index + 1, len(found)):
                if found[at].open.start >= element.end:
                    break
                inside.setdefault(local_name(found[at].open.name), found[at])
            yield element.open.attributes["id"][0], element, inside.get("target") or inside.get("source")


def _repeats(data: bytes, again: list[tuple[str, int]]) -> list[Defect]:
    text = decode(data, declared_encoding(data)).text
    lines = Lines(text)
    seen: dict[str, list[tuple[int, int]]] = {}
    for key, element, _ in _named(text):
        seen.setdefault(key, []).append(lines.place(element.open.attributes["id"][1]))
    found = []
    for key, _ in again:
        places = seen.get(key, [])
        if len(places) > 1:
            found.append(repeated(key, places[0][0], *places.pop(1), same=False))
    return found


def locate(data: bytes, options: ReadOptions, wanted: Sequence[tuple[str | None, str]]) -> dict[tuple[str | None, str], Site]:
    """The site of each wanted unit that is there; the key's place is that of its id inside the quotes."""
    text = decode(data, options.encoding or declared_encoding(data))
    return xml_sites(text, _named(text.text), wanted, "id")


FORMAT = Format("xliff", (".xlf", ".xliff"), 1, ("by-file",), read, locate, lambda data: b"<xliff" in data[:4096])
