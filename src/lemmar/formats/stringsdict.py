"""Strings dictionaries: property lists in which a text depends on a number, with a form for each plural category.

Source: the format's own documentation (``NSStringLocalizedFormatKey``, ``NSStringPluralRuleType``). Of several numbers in one text the
forms are those of the first; the others' variables stay as they are written.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines
from lemmar.documents.nodes import Node
from lemmar.documents.propertylist import inside_tags, scan
from lemmar.documents.rows import Row
from lemmar.documents.splicing import EditError
from lemmar.documents.xmltext import PlainEntries, unescape
from lemmar.formats._editing import Edits, Entries, FormPlace, NewEntry, in_rows, indent_of, line_end_of, with_comments
from lemmar.formats._encoding import Hole, xml_escape, xml_text
from lemmar.formats._entries import Entry, Walk, entry_of_forms
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._trees import tree_entries
from lemmar.formats._xml import XML_COMMENT, emptied, framed
from lemmar.tags import CATEGORIES

_VARIABLE = expression(r"%(?:[0-9]+\$)?#@([^@]+)@")


_PLAIN = PlainEntries(
    r"<key>([^<]*+)</key>[ \t\n]*+<dict>[ \t\n]*+<key>NSStringLocalizedFormatKey</key>[ \t\n]*+<string>([^<]*+)</string>[ \t\n]*+"
    r"<key>([^<&]*)</key>[ \t\n]*+<dict>[ \t\n]*+((?:<key>[A-Za-z]+</key>[ \t\n]*+<string>[^<]*+</string>[ \t\n]*+)++)</dict>[ \t\n]*+</dict>",
    *("dict", "plist"),
    doctype="plist",
    raw=frozenset({3}),
)
_PLAIN_MEMBER = expression(r"<key>([A-Za-z]+)</key>[ \t\n]*+<string>([^<]*+)</string>")


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By one expression, where all messages have one number and are there once."""
    found = _PLAIN.split(data)
    if found is None or found.root.tag != "plist" or [child.tag for child in found.root] != ["dict"] or "<key" in found.prolog:
        return None
    if not found.prolog.lstrip().startswith(("<?xml", "<!DOCTYPE", "<plist")):  # else it is read as a list of the older kind
        return None
    if any(len(child) or (child.text or "").strip() for child in found.root):
        return None
    texts: dict[str, str | None] = {}
    several: dict[int, Mapping[str, str]] = {}
    for key, pattern, name, inner in zip(*found.groups, strict=True):
        variable = _VARIABLE.search(pattern)
        members = _PLAIN_MEMBER.findall(inner)
        held = {member: unescape(text) for member, text in members}
        if key in texts or variable is None or variable[1] != name or len(held) != len(members):
            return None
        before, after = pattern[: variable.start()], pattern[variable.end() :]
        forms = {category: f"{before}{held[category]}{after}" for category in CATEGORIES if category in held}
        if not forms:
            return None
        entry = entry_of_forms(key, forms)
        several[len(texts)] = entry.rare["forms"]
        texts[key] = entry.text
    return Reading((Column(None, Keys(texts), tuple(texts.values()), Rare(forms=several)),))


def _child(node: Node, name: str) -> Node | None:
    return next((member.node for member in reversed(node.members) if member.key == name), None)


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries in file order; the place of a text is that of the form that stands for it."""
    root, faults = scan(walk.text)
    if root is None or root.kind != "map":
        yield from tree_entries(walk, root, faults)
        return
    for fault in faults:
        walk.fault(fault.offset, fault.text)
    walk.column()
    for member in root.members:
        forms = dict(_forms(member.node))
        pattern = _child(member.node, "NSStringLocalizedFormatKey")
        entry = entry_of_forms(member.key, forms) if forms else Entry(member.key, pattern.text if pattern is not None else None)
        shown = _shown(member.node)
        inside = inside_tags(walk.text, shown.start, shown.end)
        key_at = (member.start, member.end)
        yield entry._replace(place=member.start, key_at=key_at, inside=inside, whole=(member.start, inside[1]))


def _forms(node: Node) -> Iterator[tuple[str, str]]:
    pattern = _child(node, "NSStringLocalizedFormatKey")
    variable = _VARIABLE.search(pattern.text) if pattern is not None else None
    rule = _child(node, variable.group(1)) if variable else None
    if pattern is None or variable is None or rule is None:
        return
    for category in CATEGORIES:
        form = _child(rule, category)
        if form is not None:
            yield category, pattern.text[: variable.start()] + form.text + pattern.text[variable.end() :]


def _shown(node: Node) -> Node:
    """Where the text stands that stands for the whole message: the form for *other*, else the last, else the pattern."""
    pattern = _child(node, "NSStringLocalizedFormatKey")
    variable = _VARIABLE.search(pattern.text) if pattern is not None else None
    rule = _child(node, variable.group(1)) if variable else None
    forms = [form for category in CATEGORIES if rule is not None and (form := _child(rule, category)) is not None]
    return forms[-1] if forms else pattern or node


def _rows(text: str, _options: ReadOptions) -> list[Entries]:
    root, faults = scan(text)
    if root is None or faults or root.kind != "map":
        raise EditError(faults[0].text if faults else "there is no <dict>", *(Lines(text).place(faults[0].offset) if faults else (1, 1)))
    spans = with_comments(text, [(member.start, member.node.end) for member in root.members], XML_COMMENT)
    return [Entries(Row((root.start, root.end), spans, ""), tuple(member.key for member in root.members))]


def _write(new: NewEntry, text: str, example: str) -> str:
    """An entry with a form for each category, of one number."""
    hole = Hole("", text, 0, "utf-8", ReadOptions())
    end, step = line_end_of(text), indent_of(text)
    at = text.find(example) if example else -1
    outer = text[text.rfind("\n", 0, at) + 1 : at] if at > 0 else step
    outer = outer if not outer.strip() else ""
    name = _VARIABLE.search(example)
    variable = name[1] if name else "count"
    kind = re.search(r"NSStringFormatValueTypeKey</key>\s*<string>([^<]*)</string>", example)
    forms = new.forms or {"other": new.text}
    inner = [
        *("<key>NSStringFormatSpecTypeKey</key>", "<string>NSStringPluralRuleType</string>"),
        *("<key>NSStringFormatValueTypeKey</key>", f"<string>{kind[1] if kind else 'd'}</string>"),
    ]
    for form, words in forms.items():
        inner += [f"<key>{form}</key>", f"<string>{xml_text(words, hole)}</string>"]
    lines = [
        f"<key>{xml_text(new.key, hole)}</key>",
        f"{outer}<dict>",
        f"{outer}{step}<key>NSStringLocalizedFormatKey</key>",
        f"{outer}{step}<string>%#@{variable}@</string>",
        f"{outer}{step}<key>{variable}</key>",
        f"{outer}{step}<dict>",
        *(f"{outer}{step}{step}{line}" for line in inner),
        f"{outer}{step}</dict>",
        f"{outer}</dict>",
    ]
    return end.join(lines)


def _forms_at(text: str, _options: ReadOptions) -> Iterator[FormPlace]:
    root, _ = scan(text)
    for member in root.members if root is not None else ():
        for variable in member.node.members:
            for form in variable.node.members:
                if form.key in CATEGORIES:
                    yield FormPlace(None, member.key, form.key, form.node.text, inside_tags(text, form.node.start, form.node.end))


_REMOVE, _ADD = in_rows(_rows, _write, lambda text, pieces: framed(text, pieces, "dict"))
FORMAT = Format(
    name="stringsdict",
    suffixes=(".stringsdict",),
    reads=Reads(
        entries=entries,
        quick=quick,
        takes_wide="any",
    ),
    writes=Writes(
        encode=xml_text,
        escape=xml_escape,
        edits=Edits(lambda model: emptied(model, "dict"), remove=_REMOVE, add=_ADD, forms=_forms_at),
    ),
    habits=Habits(
        own_plurals=True,
        names_forms=True,
        syntax="printf",
    ),
    hints=Hints(
        likely=lambda data: b"NSStringLocalizedFormatKey" in data,
        kind="mobile",
        platform="lproj",
    ),
)
