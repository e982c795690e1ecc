"""String catalogs: one JSON file with every locale's texts, their states, and variations by number or device.

Source: the file as its own editor writes it. A text in the source language that is not there is its key. ``shouldTranslate: false``
makes an entry fixed; ``new`` and ``needs_review`` are states. Variations by plural category are forms; of others, the first.
"""

from __future__ import annotations

import json
from collections.abc import Collection, Iterator, Sequence
from typing import Any, NamedTuple, TypeVar

import msgspec

from lemmar.basics.text import Lines
from lemmar.documents.jsontext import scan
from lemmar.documents.nesting import nest_of
from lemmar.documents.nodes import Member, Node
from lemmar.documents.quoting import json_escape
from lemmar.documents.rows import Nest, inserted, removed, row_of
from lemmar.documents.splicing import EditError, Splice
from lemmar.formats._editing import Edits, FormPlace, Model, NewEntry, Settled, Where, indent_of, line_end_of
from lemmar.formats._encoding import json_text
from lemmar.formats._entries import Entry, Walk, entry_of_forms
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats.json import repeats
from lemmar.tags import CATEGORIES

_Kind = TypeVar("_Kind")


class _Text(NamedTuple):
    """A localization: its text or forms, its state, and the node of its (first) text."""

    text: str | None
    forms: dict[str, str]
    state: str | None
    node: Node | None


def _child(node: Node | None, name: str) -> Node | None:
    found = [member.node for member in node.members if member.key == name] if node is not None else []
    return found[-1] if found else None


def _strings(root: Node | None) -> list[Member]:
    return (_child(root, "strings") or Node("map", 0)).members


def _text(node: Node | None, depth: int = 0) -> _Text:
    unit, variations = _child(node, "stringUnit"), _child(node, "variations")
    if unit is not None:
        value, state = _child(unit, "value"), _child(unit, "state")
        return _Text(value.text if value is not None else None, {}, state.text if state is not None else None, value)
    if variations is None or depth > 4 or not variations.members:
        return _Text(None, {}, None, None)
    plural = _child(variations, "plural")
    if plural is None:
        first = variations.members[0].node
        return _text(first.members[0].node if first.members else None, depth + 1)
    inner = {member.key: _text(member.node, depth + 1) for member in plural.members if member.key in CATEGORIES}
    forms = {category: each.text for category, each in inner.items() if each.text is not None}
    states = [each.state for each in inner.values() if each.state in ("new", "needs_review")]
    return _Text(forms.get("other"), forms, states[0] if states else None, _shown(inner))


def _shown(forms: dict[str, _Text]) -> Node | None:
    """Where the form for *other* stands, else the first."""
    other = forms.get("other")
    return other.node if other is not None and other.node else next((each.node for each in forms.values() if each.node), None)


def entries(walk: Walk) -> Iterator[Entry]:
    """Each entry once for every locale that the file names; its place is that of the key."""
    root, faults = scan(walk.text)
    for fault in faults:
        walk.fault(fault.offset, fault.text)
    if root is None or _child(root, "strings") is None:
        walk.nothing("there are no 'strings' in the file")
        return
    walk.tells_repeats = True
    source = _child(root, "sourceLanguage")
    labels = list(dict.fromkeys([source.text if source is not None else "en", *_labels(root)]))
    for label in labels:
        walk.column(label)
    seen: dict[str, Member] = {}
    for member in _strings(root):
        if member.key in seen:
            same = _same(seen[member.key].node, member.node, walk.text)
            walk.again(member.key, walk.lines.place(seen[member.key].start)[0], walk.lines.place(member.start), same)
        seen[member.key] = member
        state = _child(member.node, "extractionState")
        if state is not None and state.text == "stale":
            continue
        for label in labels:
            yield _entry(member, label, is_source=label == labels[0])


def _same(first: Node, later: Node, text: str) -> bool:
    return text[first.start : first.end] == text[later.start : later.end]


def _labels(root: Node) -> Iterator[str]:
    for member in _strings(root):
        localizations = _child(member.node, "localizations")
        yield from (each.key for each in (localizations.members if localizations is not None else ()))


def _entry(member: Member, label: str, is_source: bool) -> Entry:
    found = _text(_child(_child(member.node, "localizations"), label))
    comment, wanted = _child(member.node, "comment"), _child(member.node, "shouldTranslate")
    rare = {
        "comment": comment.text if comment is not None else None,
        "fixed": wanted is not None and wanted.text == "false",
        "state": found.state if found.state in ("new", "needs_review") else None,
    }
    if found.forms:
        entry = entry_of_forms(member.key, found.forms, **rare)
    else:
        entry = Entry(member.key, found.text or (member.key if is_source and found.text is None else None), rare=rare)
    inside = (found.node.start, found.node.end) if found.node is not None else None
    whole = (member.start, member.node.end)
    return entry._replace(place=member.start, key_at=(member.start, member.end), inside=inside, whole=whole, label=label)


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By a fast general parser, where everything is of the kind that the editor writes and no key is there twice."""
    if options.encoding or data.startswith(b"\xef\xbb\xbf"):
        return None
    try:
        value = msgspec.json.decode(data)
        return _fast(value) if type(value) is dict and not repeats(data, value) else None
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError, _OtherwiseError):
        return None


class _OtherwiseError(Exception):
    """Something is of another kind than usual: look closer."""


def _is(value: object, kind: type[_Kind]) -> _Kind:
    if type(value) is not kind:
        raise _OtherwiseError
    return value


def _fast(value: dict[str, object]) -> Reading:
    strings = {key: _is(held, dict) for key, held in _is(value.get("strings"), dict).items()}
    localized = {key: _is(held.get("localizations", {}), dict) for key, held in strings.items()}
    labels = list(dict.fromkeys([_is(value.get("sourceLanguage", "en"), str), *(label for held in localized.values() for label in held)]))
    shown = [key for key, held in strings.items() if held.get("extractionState") != "stale"]
    comments: dict[int, object] = {}
    fixed: dict[int, object] = {}
    for index, key in enumerate(shown):
        comment, wanted = _is(strings[key].get("comment", ""), str), strings[key].get("shouldTranslate", True)
        if comment:
            comments[index] = comment
        if wanted is False:
            fixed[index] = True
        elif wanted is not True:
            raise _OtherwiseError
    keys = Keys(shown)
    columns = []
    for label in labels:
        texts: list[str | None] = []
        states: dict[int, object] = {}
        forms: dict[int, object] = {}
        for index, key in enumerate(shown):
            text, varied, state = _fast_text(localized[key].get(label))
            if varied:
                forms[index] = varied
                texts.append(varied.get("other", next(reversed(varied.values()))))
            else:
                texts.append(text or (key if label == labels[0] and text is None else None))
            if state in ("new", "needs_review"):
                states[index] = state
        rare: dict[str, dict[int, Any]] = {"comment": comments, "fixed": fixed, "state": states, "forms": forms}
        columns.append(Column(label, keys, tuple(texts), Rare(**{kind: dict(held) for kind, held in rare.items() if held})))
    return Reading(tuple(columns))


_NO_FORMS: dict[str, str] = {}


def _fast_text(held: object, depth: int = 0) -> tuple[str | None, dict[str, str], object]:
    """The text, forms and state of a localization."""
    if held is None:
        return None, _NO_FORMS, None
    node = _is(held, dict)
    unit = node.get("stringUnit")
    if unit is not None:
        plain = _is(unit, dict)
        return _is(plain.get("value"), str), _NO_FORMS, _is(plain.get("state", ""), str)
    variations = _is(node.get("variations"), dict)
    if depth > 4 or not variations:
        raise _OtherwiseError
    if "plural" not in variations:
        first = _is(next(iter(variations.values())), dict)
        return _fast_text(next(iter(first.values()), None), depth + 1)
    forms: dict[str, str] = {}
    states = []
    for category, inner in _is(variations["plural"], dict).items():
        text, below, state = _fast_text(inner, depth + 1)
        if below:
            raise _OtherwiseError
        if category in CATEGORIES:
            states.append(state)
            if text is not None:
                forms[category] = text
    return forms.get("other"), forms, next((state for state in states if state in ("new", "needs_review")), None)


def _localized(text: str) -> tuple[Nest, list[Node]]:
    """The document's pieces, and the map of localizations of each string that has some and is to be translated. Raises `EditError`."""
    root, faults = scan(text)
    if faults or root is None:
        raise EditError(faults[0].text if faults else "the document is empty", *(Lines(text).place(faults[0].offset) if faults else (1, 1)))
    found = []
    for member in _strings(root):
        localizations, wanted = _child(member.node, "localizations"), _child(member.node, "shouldTranslate")
        if localizations is not None and localizations.members and (wanted is None or wanted.text != "false"):
            found.append(localizations)
    return nest_of(text, root, ".json"), found


def _take_in(model: Model) -> list[Splice]:
    """A first localization, which is new and has no text: with it the file names the locale."""
    text = model.text
    whole, every = _localized(text)
    if not every:
        raise EditError("no string has a localization, beside which another could be put")
    row = row_of(text, whole, [(member.start, member.end) for member in every[0].members]).row
    return inserted(text, row, _unit(text, every[0], model.written, "new", NewEntry("", "")), len(row.items) - 1)


def _leave_out(text: str, _options: ReadOptions, label: str) -> list[Splice]:
    """The document without the localizations of one locale."""
    whole, every = _localized(text)
    found = []
    for node in every:
        numbers = [number for number, member in enumerate(node.members) if member.key == label]
        if numbers:
            row = row_of(text, whole, [(member.start, member.end) for member in node.members]).row
            found += removed(text, row, numbers)
    return found


def _remove(text: str, where: Where, keys: Collection[str], _repeats: bool) -> list[Splice]:
    """The localizations of one locale of these strings."""
    whole, every = _localized(text)
    root, _ = scan(text)
    names = {localizations.start: member.key for member in _strings(root) if (localizations := _child(member.node, "localizations"))}
    found = []
    for node in every:
        numbers = [number for number, member in enumerate(node.members) if member.key == where.label]
        if names.get(node.start) in keys and numbers:
            row = row_of(text, whole, [(member.start, member.end) for member in node.members]).row
            found += removed(text, row, numbers)
    return found


def _filled(text: str, where: Where, news: Sequence[NewEntry]) -> list[Splice]:
    """A localization of these strings, behind the others."""
    whole, _ = _localized(text)
    root, _ = scan(text)
    texts = {new.key: new for new in news}
    found = []
    for member in _strings(root):
        if member.key not in texts:
            continue
        localizations = _child(member.node, "localizations")
        if localizations is None or not localizations.members:
            raise EditError(f"the string {member.key!r} has no localization, beside which another could be put")
        row = row_of(text, whole, [(each.start, each.end) for each in localizations.members]).row
        unit = _unit(text, localizations, where.label or "", "translated", texts[member.key])
        found += inserted(text, row, unit, len(row.items) - 1)
    return found


def _settled(text: str, where: Where, marks: Sequence[Settled]) -> list[Splice]:
    """The state of these strings' localizations, of each of their forms."""
    root, _ = scan(text)
    wanted = {mark.key: mark for mark in marks}
    found = []
    for member in _strings(root):
        mark = wanted.get(member.key)
        waiting = [_child(_child(member.node, "localizations"), where.label or "")] if mark is not None else []
        while waiting:
            node = waiting.pop()
            for inner in node.members if node is not None else ():
                if inner.key == "stringUnit":
                    state = _child(inner.node, "state")
                    if state is not None and mark is not None and (not mark.done or state.text in ("new", "needs_review")):
                        found.append(Splice(state.start, state.end, '"translated"' if mark.done else '"needs_review"'))
                elif inner.node.members:
                    waiting.append(inner.node)
    return found


def _unit(text: str, localizations: Node, label: str, state: str, new: NewEntry) -> str:
    """A localization as it is written beside the others: a text, or a variation for each form."""
    last = localizations.members[-1]
    parts = text[last.end : last.node.start]
    outer = text[text.rfind("\n", 0, last.start) + 1 : last.start]

    def unit(words: str) -> dict[str, object]:
        return {"stringUnit": {"state": state, "value": words}}

    held = {"variations": {"plural": {form: unit(words) for form, words in new.forms.items()}}} if new.forms else unit(new.text)
    is_flat = bool(outer.strip())
    body = json.dumps(held, ensure_ascii=False, indent=None if is_flat else indent_of(text), separators=(", " if is_flat else ",", parts))
    return f"{json.dumps(label)}{parts}{body}".replace("\n", f"{line_end_of(text)}{outer}")


def _forms_at(text: str, _options: ReadOptions) -> Iterator[FormPlace]:
    root, _ = scan(text)
    for member in _strings(root):
        localizations = _child(member.node, "localizations")
        for localized in localizations.members if localizations is not None else ():
            plural = _child(_child(localized.node, "variations"), "plural")
            for form in plural.members if plural is not None else ():
                value = _child(_child(form.node, "stringUnit"), "value")
                if value is not None:
                    yield FormPlace(localized.key, member.key, form.key, value.text, (value.start, value.end))


def _rename(text: str, _options: ReadOptions, label: str, new: str) -> list[Splice]:
    """The document with another name of a locale."""
    _, every = _localized(text)
    return [Splice(member.start, member.end, json.dumps(new)) for node in every for member in node.members if member.key == label]


def _no_blank(_model: Model) -> str:
    raise EditError("a string catalog holds all of its locales in one file")


FORMAT = Format(
    name="xcstrings",
    suffixes=(".xcstrings",),
    layouts=("locale-leaved",),
    reads=Reads(
        entries=entries,
        quick=quick,
        mark_harms="which JSON readers stumble over",
    ),
    writes=Writes(
        encode=json_text,
        escape=json_escape,
        edits=Edits(_no_blank, _take_in, _leave_out, _rename, remove=_remove, fill=_filled, forms=_forms_at, settle=_settled),
    ),
    habits=Habits(
        own_plurals=True,
        names_forms=True,
        syntax="printf",
    ),
    hints=Hints(
        likely=lambda data: b'"sourceLanguage"' in data[:4096],
        kind="mobile",
        platform="lproj",
    ),
)
