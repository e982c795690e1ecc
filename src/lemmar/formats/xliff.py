"""XLIFF 1.2 and 2.x: units with a source and a target, notes, states; inline codes are kept as markup.

Source: OASIS XLIFF 1.2 and 2.1. A key is the unit's id. A unit without a target, or with an empty one, is a text that is not there yet; in
a file that is in the source language only, the source is the text. ``translate="no"`` makes a unit fixed. Each ``<file>`` is a part of its
own where there are several. Several segments of a unit are one text. The file's own copy of the source is kept.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING, Any
from xml.sax.saxutils import quoteattr

from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.documents.xmltext import Element, PlainEntries, TagToken, declared_encoding, elements, local_name, parse
from lemmar.formats._editing import Edits, Entries, Model, NewEntry, Settled, Where, in_rows, indent_of, line_end_of
from lemmar.formats._encoding import Hole, with_markup, xml_escape, xml_escaped, xml_text
from lemmar.formats._entries import Entry, Gathering, Walk
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._xml import attribute_set, document, element_rows, framed, inner_xml, placed, whole_lines

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
    if found is None or "<trans-unit" in found.prolog or "<unit" in found.prolog or "<group" in found.prolog:
        return None
    if old:
        names, sources, states, targets, notes = found.groups
    else:
        names, notes, states, sources, targets = found.groups
    keys = Keys(names)
    root = found.root
    file = root[0] if len(root) else None
    if len(keys.all) != len(keys) or file is None or local_name(str(root.tag).rpartition("}")[2]) != "xliff":
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
    return Column(
        None, keys, texts, Rare(**{kind: values for kind, values in rare.items() if values}), mark or _source_language(root, file)
    )


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By one expression, where all units are plain."""
    plain = _plain_column(data)
    if plain is not None:
        return Reading((plain,))
    root, faults = parse(data)
    if faults or root is None or not isinstance(root.tag, str) or not _is_root(root.tag):
        return None
    gathered = [(file, Gathering()) for file in _files(root)]
    for file, column in gathered:
        for entry in _entries(root, file):
            if entry.key in column.index:
                return None
            column.add(entry.key, entry.text, entry.rare)
    several = len(gathered) > 1
    return Reading(tuple(column.column(part=_part(file) if several else None, mark=_mark(root, file)) for file, column in gathered))


def entries(walk: Walk) -> Iterator[Entry]:
    """The units of each ``<file>``, which is a part where there are several; each at its id inside the quotes."""
    root = document(walk, "xliff", _is_root)
    if root is None:
        return
    files = _files(root)
    marks = [_mark(root, file) for file in files]
    for file, mark in zip(files, marks, strict=True):
        walk.column(part=_part(file) if len(files) > 1 else None, mark=mark)
    found = (entry._replace(part=_part(file) if len(files) > 1 else None) for file in files for entry in _entries(root, file))
    cut = {unit.get("id") for file in files for unit in _units(file) if sum(_name(child) in ("segment", "ignorable") for child in unit) > 1}
    for entry in placed(walk, found, _named(walk.text), "id", itself=False):
        is_source = entry.text is None and entry.inside is not None and walk.text[slice(*entry.inside)].strip()
        yield entry._replace(inside=None) if is_source or entry.key in cut else entry  # no text of a translation's own, or one in pieces


def _is_root(tag: str) -> bool:
    return local_name(tag.rpartition("}")[2]) == "xliff"


def _files(root: etree._Element) -> list[etree._Element]:
    return [child for child in root if _name(child) == "file"]


def _part(file: etree._Element) -> str | None:
    return file.get("original") or file.get("id")


def _mark(root: etree._Element, file: etree._Element) -> str | None:
    return _target_language(root, file) or _source_language(root, file)


def _entries(root: etree._Element, file: etree._Element) -> Iterator[Entry]:
    source_only = not _target_language(root, file) or _target_language(root, file) == _source_language(root, file)
    return (_entry(unit, source_only) for unit in _units(file))


def _name(element: etree._Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _units(file: etree._Element) -> Iterator[etree._Element]:
    return (element for element in file.iter() if _name(element) in _UNITS and element.get("id"))


def _target_language(root: etree._Element, file: etree._Element) -> str | None:
    return file.get("target-language") or root.get("trgLang")


def _source_language(root: etree._Element, file: etree._Element) -> str | None:
    return file.get("source-language") or root.get("srcLang")


def _entry(unit: etree._Element, source_only: bool) -> Entry:
    segments = [child for child in unit if _name(child) in ("segment", "ignorable")] or [unit]
    source = "".join(_text(segment, "source") or "" for segment in segments)
    targets = [_text(segment, "target") for segment in segments]
    target = None if all(text is None for text in targets) else "".join(text or "" for text in targets)
    limit = unit.get("maxwidth")
    rare = {
        "source": source,
        "fixed": unit.get("translate") == "no",
        "comment": "\n".join((note.text or "").strip() for note in unit.iter() if _name(note) == "note"),
        "state": next((state for state in map(_state, segments) if state), None),
        "limit": int(limit) if limit and limit.isdigit() and unit.get("size-unit") == "char" else None,
    }
    return Entry(unit.get("id", ""), target or (source if source_only else None), rare=rare)


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


def encode(text: str, hole: Hole) -> str:
    """Character data; inline elements of the same names as in the old text stay elements. Raises `ValueError` for an empty text, which is none."""
    if not text:
        raise ValueError("an XLIFF file cannot hold an empty text")
    return with_markup(text, hole, lambda piece: xml_text(piece, hole))


def _write(new: NewEntry, text: str, example: str) -> str:
    """A unit with source and target, of the version that the document is of."""
    hole = Hole("", text, 0, "utf-8", ReadOptions())
    end, step = line_end_of(text), indent_of(text)
    at = text.find(example) if example else -1
    outer = text[text.rfind("\n", 0, at) + 1 : at] if at > 0 else ""
    outer = outer if not outer.strip() else ""
    inner = [f"<source>{xml_text(new.source or '', hole)}</source>", f"<target>{encode(new.text, hole)}</target>"]
    if "<trans-unit" in text or 'version="1' in text[:2_000]:
        body = "".join(f"{end}{outer}{step}{line}" for line in inner)
        return f"<trans-unit id={quoteattr(new.key)}>{body}{end}{outer}</trans-unit>"
    body = "".join(f"{end}{outer}{step}{step}{line}" for line in inner)
    return f"<unit id={quoteattr(new.key)}>{end}{outer}{step}<segment>{body}{end}{outer}{step}</segment>{end}{outer}</unit>"


def _rows(text: str, _options: ReadOptions) -> list[Entries]:
    if text.count("<file") > 1:
        raise EditError("the document holds several files; edit it by hand")
    return element_rows(text, _named(text), "body" if "<body" in text else "file")


_REMOVE, _ADD = in_rows(_rows, _write, lambda text, pieces: framed(text, pieces, "body" if "<body" in text else "file"))


def _filled(text: str, _where: Where, news: Sequence[NewEntry]) -> list[Splice]:
    """A target behind the source of each unit that has none; one without an end gets one."""
    hole = Hole("", text, 0, "utf-8", ReadOptions())
    texts = {new.key: new.text for new in news}
    found = []
    for key, _element, holder in _named(text):
        if key in texts and holder is not None and holder.close is None and local_name(holder.open.name) == "target":
            head = text[holder.open.start : holder.open.end].removesuffix("/>").rstrip()
            found.append(Splice(holder.open.start, holder.open.end, f"{head}>{encode(texts[key], hole)}</{holder.open.name}>"))
        elif key in texts and holder is not None and local_name(holder.open.name) == "source":
            before = text[text.rfind("\n", 0, holder.open.start) + 1 : holder.open.start]
            gap = line_end_of(text) + before if not before.strip() else ""
            found.append(Splice(holder.end, holder.end, f"{gap}<target>{encode(texts[key], hole)}</target>"))
    return found


def _settled(text: str, _where: Where, marks: Sequence[Settled]) -> list[Splice]:
    """The state of units, of a target (1.2) or segment (2.x); and their sources, where these have no inline elements."""
    wanted = {mark.key: mark for mark in marks}
    splices: list[Splice] = []
    mark: Settled | None = None
    until, unit = 0, ""
    found = elements(text)
    for index, element in enumerate(found):
        name = local_name(element.open.name)
        if name in _UNITS:
            unit = name
            mark, until = wanted.get(element.open.attributes.get("id", ("", 0, 0))[0]), element.end
        if mark is None or element.open.start >= until:
            continue
        if name == "source" and mark.source is not None and element.close is not None:
            plain = index + 1 == len(found) or found[index + 1].open.start >= element.end
            new = xml_escaped(mark.source)
            if plain and text[element.open.end : element.close.start] != new:
                splices.append(Splice(element.open.end, element.close.start, new))
        elif name == "target" and unit == "trans-unit":
            splices += _stated(text, element.open, "translated" if mark.done else "needs-review-translation", mark.done)
        elif name == "segment":
            splices += _stated(text, element.open, "translated" if mark.done else "initial", mark.done)
    return splices


def _stated(text: str, tag: TagToken, state: str, done: bool) -> list[Splice]:
    """A state; one that says that all is done already stays, and so does none."""
    held = tag.attributes.get("state", ("", 0, 0))[0]
    return [] if done and held not in _OPEN else attribute_set(text, tag, "state", state)


def _blank(model: Model) -> str:
    """All units without targets, for the other language."""
    text = model.text
    splices: list[Splice] = []
    for element in elements(text):
        name, attributes = local_name(element.open.name), element.open.attributes
        if name == "target":
            splices.append(Splice(*whole_lines(text, element.open.start, element.end), ""))
        elif name in ("file", "xliff"):
            wanted = ("target-language", "source-language") if name == "file" else ("trgLang", "srcLang")
            _, start, end = attributes.get(wanted[0], ("", 0, 0))
            if end:
                splices.append(Splice(start, end, model.written))
            elif wanted[1] in attributes:
                after = attributes[wanted[1]][2] + 1
                splices.append(Splice(after, after, f' {wanted[0]}="{model.written}"'))
        elif name == "trans-unit" and "approved" in attributes:
            _, start, end = attributes["approved"]
            splices.append(Splice(start, end, "no"))
        elif name == "segment" and "state" in attributes:
            _, start, end = attributes["state"]
            splices.append(Splice(start, end, "initial"))
    return spliced(text, splices)


FORMAT = Format(
    name="xliff",
    suffixes=(".xlf", ".xliff"),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=declared_encoding,
        takes_wide="any",
    ),
    writes=Writes(
        encode=encode,
        escape=xml_escape,
        edits=Edits(_blank, remove=_REMOVE, add=_ADD, settle=_settled, fill=_filled),
        marks=(r"\b(?:target-language|trgLang)\s*=\s*[\"']", r"\b(?:source-language|srcLang)\s*=\s*[\"']"),
    ),
    habits=Habits(
        carries_source=True,
    ),
    hints=Hints(
        likely=lambda data: b"<xliff" in data[:4096],
    ),
)
