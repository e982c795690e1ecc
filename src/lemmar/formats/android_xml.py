r"""Android string resources: ``<string>``, ``<plurals>`` and ``<string-array>`` under ``<resources>``.

Source: the platform's documentation of string resources: quoting and white space, ``\n``, ``\'``, ``\u0041``, styling
markup, ``translatable``, ``xliff:g``, ``tools:locale``. Resources that are no texts (colours, sizes) are left out, and so
are the tags of ``xliff:g``, whose content is text. ``<item type="string">`` and ``<array>`` of texts are read as well. A
reference such as ``@string/other`` is read as it is written.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING, Any
from xml.sax.saxutils import quoteattr

from lemmar.basics.expressions import expression
from lemmar.basics.text import paired
from lemmar.documents.xmltext import Element, PlainEntries, declared_encoding, elements, local_name, unescape
from lemmar.formats._editing import Edits, Entries, FormPlace, NewEntry, in_rows, indent_of, line_end_of
from lemmar.formats._encoding import Hole, with_markup, xml_escape, xml_text
from lemmar.formats._entries import Entry, Walk, entry_of_forms
from lemmar.formats._format import Finds, Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import NONE_RARE, Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._spotting import xml_spot
from lemmar.formats._xml import document, element_rows, emptied, framed, placed, quick_reading

if TYPE_CHECKING:
    from lxml import etree

_KINDS = ("string", "plurals", "string-array")
_REFERENCE = expression(r"[@?]\S*|#[0-9a-fA-F]+|[-+]?[0-9.]+[a-z%]{0,3}|true|false|")
# Stands for the quotes of attributes, which are no quotes of a text; no XML holds this character.
_QUOTE = "\0"
_TOOLS_LOCALE = "{http://schemas.android.com/tools}locale"
_SPECIAL = expression(r"[\\\"\n\t\r]|  |^ | $")
# The same for many texts at once, joined by U+0000.
_SPECIAL_SIGNS = ("\\", '"', "\n", "\t", "\r", "  ", "\0 ", " \0")
_PIECE = expression(r"\\(?:u([0-9a-fA-F]{4})|(.)|$)|(\")|([ \n\t\r]+)", re.DOTALL)
# What the resource compiler looks at: quotes, escapes, apostrophes.
_REFUSABLE = expression(r"\\(u(?:[0-9a-fA-F]{4}|[0-9a-fA-F]{0,3}\Z)|.)|(\")|(')", re.DOTALL)
_REFUSED_SIGNS = expression(r"(?<!\\)'|\\u[0-9a-fA-F]{0,3}[^0-9a-fA-F\0]")
_SEVERAL = expression(r"%[^\0%]*%")  # in many texts at once
_SUBSTITUTION = expression(r"%(?!\Z)(?:[%n]|([0-9]*)<?[-#+ ,(0-9]*(.?))", re.DOTALL)
_NUMBERS = "of several substitutions each needs its number (%1$s), so that the resources do not compile"
_DATES = frozenset("DFKMWZkmwyz")  # conversions that only forms of dates have
_SHORT = {"n": "\n", "t": "\t"}


_TAG = expression(r"<[^<>]*>")
_PLAIN = PlainEntries(
    r'<string name="([^"<&\s]+)">([^<]*+)</string>'
    r'|<plurals name="([^"<&\s]+)">[ \t\n]*+((?:<item quantity="[a-z]+">[^<]*+</item>[ \t\n]*+)++)</plurals>'
    r'|<string-array name="([^"<&\s]+)">[ \t\n]*+((?:<item>[^<]*+</item>[ \t\n]*+)++)</string-array>',
    "resources",
    raw=frozenset({3, 5}),
)
_PLAIN_ITEM = expression(r'<item(?: quantity="([a-z]+)")?>([^<]*+)</item>')


def resource_text(raw: str) -> str:
    """The text that a program gets of what stands between the tags: white space folded outside quotes, escapes resolved."""
    if not _SPECIAL.search(raw):
        return raw
    out: list[str] = []
    quoted = False
    position = 0
    for piece in _PIECE.finditer(raw):
        out.append(raw[position : piece.start()])
        position = piece.end()
        code, short, quote, space = piece.groups()
        if code:
            out.append(chr(int(code, 16)))
        elif short:
            out.append(_SHORT.get(short, short))
        elif quote:
            quoted = not quoted
        elif space:
            edge = piece.start() == 0 or piece.end() == len(raw)
            out.append(space if quoted else "" if edge else " ")
    out.append(raw[position:])
    return paired("".join(out))


def refused(raw: str, is_formatted: bool) -> tuple[int, str] | None:
    r"""What the resource compiler refuses in what stands between the tags of an entry: where in the entry's text, and why; None where
    it accepts it. An apostrophe outside quotes needs a backslash, ``\u`` four digits, and of several substitutions each a number, unless the
    entry says ``formatted="false"``.
    """
    quoted = False
    for piece in _REFUSABLE.finditer(raw) if "'" in raw or "\\u" in raw else ():
        escape, quote, apostrophe = piece.groups()
        if quote:
            quoted = not quoted
        elif apostrophe and not quoted:
            return len(resource_text(raw[: piece.start()])), "the apostrophe has no backslash, so that the resources do not compile"
        elif escape == "u":
            return len(resource_text(raw[: piece.start()])), "\\u wants four hexadecimal digits"
    return _unnumbered(resource_text(raw)) if is_formatted and raw.count("%") > 1 else None


def _unnumbered(text: str) -> tuple[int, str] | None:
    """Where the second of several substitutions begins, if one of them has no number; None for the form of a date."""
    found: list[tuple[int, bool]] = []
    for match in _SUBSTITUTION.finditer(text):
        digits, sign = match.groups()
        if sign is None:
            continue
        found.append((match.start(), bool(digits) and text[match.end(1) : match.end(1) + 1] in ("$", "")))
        if sign in _DATES:
            return None
    return None if len(found) < 2 or all(numbered for _, numbered in found) else (found[1][0], _NUMBERS)


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By one expression where all entries are plain, else by the parser."""
    plain = _plain_column(data)
    return Reading((plain,)) if plain is not None else quick_reading(data, _is_root, _entries, lambda root: root.get(_TOOLS_LOCALE))


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries, each at its name inside the quotes."""
    root = document(walk, "resources", _is_root)
    if root is not None:
        walk.column()
        walk.mark = root.get(_TOOLS_LOCALE)
        yield from placed(walk, _entries(root), _named(walk.text))


def _is_root(tag: str) -> bool:
    return local_name(tag) == "resources"


def _entries(root: etree._Element) -> Iterator[Entry]:
    comment = None
    for element in root:
        tag = element.tag
        if not isinstance(tag, str):
            comment = (element.text or "").strip()
            continue
        if (tag in _KINDS or _is_text(element)) and (name := _name(element)):
            yield _entry(element, name, {"comment": comment, "fixed": element.get("translatable") == "false"})
        comment = None


def _is_text(element: etree._Element) -> bool:
    """Whether a resource of a general kind is one of texts: an item that says so, an array of more than references and numbers."""
    if element.tag == "item":
        return element.get("type") == "string"
    texts = [item.text or "" for item in element if item.tag == "item"] if element.tag == "array" else []
    return any(not _REFERENCE.fullmatch(text.strip()) for text in texts)


def _plain_column(data: bytes) -> Column | None:
    found = _PLAIN.split(data)
    if found is None or any(name in found.prolog for name in ("<string", "<plurals", "locale", "<item", "<array")):
        return None
    names, texts, plurals, forms, arrays, items = found.groups
    several: dict[int, Mapping[str, str]] = {}
    if any(plurals) or any(arrays):
        names = [name or plural or array for name, plural, array in zip(names, plurals, arrays, strict=True)]
        for index, (held, listed) in enumerate(zip(forms, items, strict=True)):
            if held or listed:
                entry = _plain_forms(names[index], held or listed)
                if entry is None:
                    return None
                several[index] = entry.rare["forms"]
                texts[index] = entry.text or ""
    keys = Keys(names)
    if len(keys.all) != len(keys):
        return None
    single = [text for index, text in enumerate(texts) if index not in several] if several else texts
    blob = "\0".join(single)
    if _REFUSED_SIGNS.search(blob) or (
        _SEVERAL.search(blob) and any(text.count("%") > 1 and _unnumbered(resource_text(text)) for text in single)
    ):
        return None
    special = blob[:1] == " " or blob[-1:] == " " or any(sign in blob for sign in _SPECIAL_SIGNS)
    read = [text if index in several else resource_text(text) for index, text in enumerate(texts)] if special else texts
    return Column(None, keys, tuple(read), Rare(forms=several) if several else NONE_RARE)


def _plain_forms(name: str, inner: str) -> Entry | None:
    """An entry of the items in *inner*, which are plain; None where the resource compiler refuses one."""
    items = [(quantity, unescape(text)) for quantity, text in _PLAIN_ITEM.findall(inner)]
    if any(refused(text, is_formatted=False) for _, text in items):
        return None
    return entry_of_forms(name, {quantity or str(number): resource_text(text) for number, (quantity, text) in enumerate(items)})


def _name(element: etree._Element) -> str:
    """An entry's key: its name, and in brackets the product line that it is for, if it names one."""
    name, product = element.get("name", ""), element.get("product")
    return f"{name}[{product}]" if name and product and product != "default" else name


def _entry(element: etree._Element, name: str, rare: dict[str, Any]) -> Entry:
    if element.tag in ("string", "item"):
        raw = _inner(element) if len(element) else element.text or ""
        formatted = element.tag == "string" and element.get("formatted") != "false" and not rare["fixed"]
        rare["refused"] = refused(_TAG.sub("", raw) if len(element) else raw, formatted)
        return Entry(name, resource_text(raw).replace(_QUOTE, '"'), rare=rare)
    items = [item for item in element if item.tag == "item"]
    names = [item.get("quantity", "") if element.tag == "plurals" else str(number) for number, item in enumerate(items)]
    rare["refused"] = next(filter(None, (refused(_TAG.sub("", _inner(item)), is_formatted=False) for item in items)), None)
    return entry_of_forms(
        name, {form: resource_text(_inner(item)).replace(_QUOTE, '"') for form, item in zip(names, items, strict=True)}, **rare
    )


def _inner(element: etree._Element) -> str:
    """The markup inside *element*, the tags of ``xliff:g`` left out and character references resolved."""
    parts = [element.text or ""]
    for child in element:
        if isinstance(child.tag, str):
            prefix, _, name = child.tag.rpartition("}")
            if prefix.startswith("{urn:oasis:names:tc:xliff"):
                parts.append(_inner(child))
            else:
                attributes = "".join(f" {key!s}={_QUOTE}{value!s}{_QUOTE}" for key, value in child.attrib.items())
                parts.append(f"<{name}{attributes}>{_inner(child)}</{name}>")
        parts.append(child.tail or "")
    return "".join(parts)


def _named(text: str) -> list[tuple[str, Element, Element | None]]:
    """Each entry with its element and, of one with several forms, the item whose text stands for it: that for *other*, else the last."""
    found: list[tuple[str, Element, Element | None]] = []
    for element in elements(text):
        attributes = element.open.attributes
        general = element.open.name in ("item", "array")  # one that holds no texts is not asked for
        if element.depth == 1 and (element.open.name in _KINDS or general) and "name" in attributes:
            product = attributes.get("product", ("default", 0, 0))[0]
            found.append((attributes["name"][0] + (f"[{product}]" if product != "default" else ""), element, None))
        elif element.depth == 2 and element.open.name == "item" and found and element.open.start < found[-1][1].end:
            name, whole, known = found[-1]
            if known is None or known.open.attributes.get("quantity", ("",))[0] != "other":
                found[-1] = (name, whole, element)
    return found


def encode(text: str, hole: Hole) -> str:
    """The text as the resource compiler wants it: escapes, and quotes where white space would be folded; elements stay markup."""
    folded = text != resource_text(text.replace("\\", "").replace('"', "").replace("\n", "").replace("\t", ""))
    found = with_markup(text, hole, lambda piece: _escaped(piece, hole))
    found = f"\\{found}" if text[:1] in ("@", "?") else found
    return f'"{found}"' if folded and _SPACE.search(text) else found


def _escaped(text: str, hole: Hole) -> str:
    for sign in ("\\", '"', "'"):
        text = text.replace(sign, f"\\{sign}")
    return xml_text(text.replace("\n", "\\n").replace("\t", "\\t"), hole)


_SPACE = expression(r"^[ \r]|[ \r]$|[ \r]{2}|\r|[ ](?=[\n\t])|(?<=[\n\t])[ ]")


def _write(new: NewEntry, text: str, example: str) -> str:
    """An element; of several forms one with an item for each."""
    hole = Hole("", text, 0, "utf-8", ReadOptions())
    if not new.forms:
        return f"<string name={quoteattr(new.key)}>{encode(new.text, hole)}</string>"
    end, step = line_end_of(text), indent_of(text)
    at = text.find(example) if example else -1
    outer = text[text.rfind("\n", 0, at) + 1 : at] if at > 0 else step
    outer = outer if not outer.strip() else ""
    items = "".join(f'{end}{outer}{step}<item quantity="{form}">{encode(words, hole)}</item>' for form, words in new.forms.items())
    return f"<plurals name={quoteattr(new.key)}>{items}{end}{outer}</plurals>"


def _rows(text: str, _options: ReadOptions) -> list[Entries]:
    return element_rows(text, _named(text), "resources")


def _forms(text: str, _options: ReadOptions) -> Iterator[FormPlace]:
    """The items of plurals and arrays."""
    key, number = "", 0
    for element in elements(text):
        if element.depth == 1:
            key, number = element.open.attributes.get("name", ("",))[0], 0
        elif element.depth == 2 and element.open.name == "item" and element.close is not None:
            span = (element.open.end, element.close.start)
            form = element.open.attributes.get("quantity", (str(number),))[0]
            yield FormPlace(None, key, form, resource_text(unescape(text[slice(*span)])), span)
            number += 1


_REMOVE, _ADD = in_rows(_rows, _write, lambda text, pieces: framed(text, pieces, "resources"))
_MARKS = (r"\btools:locale\s*=\s*[\"']",)
FORMAT = Format(
    name="android-xml",
    suffixes=(".xml",),
    reads=Reads(
        entries=entries,
        quick=quick,
        encoding=declared_encoding,
        takes_wide="any",
    ),
    finds=Finds(
        spot=xml_spot(b"string", b"name"),
    ),
    writes=Writes(
        encode=encode,
        escape=xml_escape,
        edits=Edits(lambda model: emptied(model, "resources", marks=_MARKS), remove=_REMOVE, add=_ADD, forms=_forms),
        marks=_MARKS,
    ),
    habits=Habits(
        own_plurals=True,
        names_forms=True,
        syntax="printf",
    ),
    hints=Hints(
        likely=lambda data: b"<resources" in data[:4096],
        kind="mobile",
        platform="android",
        often_else=(".xml",),
    ),
)
