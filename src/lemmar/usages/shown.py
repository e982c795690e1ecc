"""Texts that people see and that stand in pages, layouts and calls, not in a catalog. Rather too few than one that nobody reads."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from functools import cache
from html import unescape
from itertools import islice
from typing import TYPE_CHECKING, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import Characters
from lemmar.documents.grammars import MOST_BYTES, Patience, tree_of
from lemmar.languages import SourceFile
from lemmar.prose.readable import WORD, is_for_people
from lemmar.usages import code
from lemmar.usages._text import Lines, blanked, blocks, masked
from lemmar.usages._types import ShownText, Ways

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax
    from tree_sitter import Parser

#: So many texts of one file are looked at.
_MOST = 2_000
#: Attributes of pages that browsers show or read out (HTML, WAI-ARIA), and those that components are usually given texts by.
_OF_PAGES = ("title", "alt", "placeholder", "aria-label", "aria-description", "aria-placeholder", "aria-valuetext")
_OF_COMPONENTS = ("label", "tooltip", "helperText", "subtitle", "heading", "caption")
#: Attributes of Android's layouts and menus, and of XAML's controls, that are shown.
_OF_LAYOUTS = (
    "android:text",
    "android:hint",
    "android:title",
    "android:contentDescription",
    "android:label",
    "app:title",
    "android:summary",
)
_OF_XAML = (
    "Text",
    "Content",
    "Header",
    "Title",
    "ToolTip",
    "ToolTipService.ToolTip",
    "PlaceholderText",
    "Placeholder",
    "Description",
    "Label",
)
#: Elements whose contents nobody translates.
_SILENT = frozenset({"script", "style", "code", "pre", "kbd", "samp", "var", "noscript", "svg", "math", "textarea", "template-source"})
_INSERTED = {"{{": "}}", "{!!": "!!}", "{%": "%}", "<%": "%>", "<?": "?>"}
_WRITTEN = expression(
    r"^[ \t]*+%[ \t]*+(?:for|if|elif|else|while|def|block|end\w+)\b[^\n]*+$"
    r"|\$\{[^{}]*+\}|@\{[^{}]*+\}|(?<![\w@])@\w++(?:\s?\((?:[^()]{1,300}+|\([^()]{0,300}+\)){0,40}+\))?",
    re.MULTILINE,
)
_FRONT = expression(r"\A---[ \t]*+\n(?:(?!---)[^\n]*+\n)*+---[ \t]*+\n")
_APART = ("comment", "raw", "verbatim")
_BRACES = expression(r"\{[^{}]*+\}")
#: Elements inside of a sentence.
_INLINE = frozenset(
    {
        "a",
        "abbr",
        "b",
        "bdi",
        "bdo",
        "br",
        "cite",
        "code",
        "em",
        "i",
        "kbd",
        "mark",
        "q",
        "s",
        "samp",
        "small",
        "span",
        "strong",
        "sub",
        "sup",
        "u",
        "var",
        "wbr",
    }
)
#: What stands in a template outside of all elements may be a value; it is a text where it begins as one and has some words.
_SENTENCE = expression(r"[\"'(]?[^\W\d_a-z]\S*(?:\s+\S+){2}")
#: Code in braces lies so deep at the most.
_DEEPEST = 8


def in_pages(text: str, ways: Ways) -> Iterator[ShownText]:
    """The texts of a page, or of a template: of its elements, and of attributes that are shown. A sentence with elements in it is one text. Raises
    `lemmar.basics.errors.IncompleteError`.
    """
    for name in dict.fromkeys([*(block for way in ways for block in way.blocks), *_APART]):
        pieces, done = [], 0
        for block in blocks(text, name) if name in text else ():
            pieces += [text[done : block.start], _masked(text[block.start : block.end])]
            done = block.end
        text = "".join([*pieces, text[done:]])
    for whole in (_FRONT, _WRITTEN):
        text = whole.sub(lambda match: _masked(match[0]), text)
    text = masked(text, _INSERTED, _masked)
    for _ in range(_DEEPEST):
        text, count = _BRACES.subn(lambda match: _masked(match[0]), text)
        if not count:
            break
    source = text.encode("utf-8", "replace")
    if len(source) > MOST_BYTES:
        return
    tree = tree_of(_page_parser, source, Patience(len(source)), has_texts=False)
    yield from _Page(text, source, ways).shown(tree.root_node) if tree is not None else ()


def _page_parser() -> Parser:
    import tree_sitter_html
    from tree_sitter import Language, Parser

    return Parser(Language(tree_sitter_html.language()))


def _masked(piece: str) -> str:
    """A sign that is no word for what a program puts in, as long as that."""
    return f"\x1a{blanked(piece[1:])}"


class _Within(NamedTuple):
    """Where a node stands: whether nobody translates it, in the sentence of which element, with what that is called, and which piece between elements of
    their own it is.
    """

    silent: bool
    where: str
    run: list[int]


class _Page:
    """Gathers what a parsed page shows."""

    def __init__(self, text: str, source: bytes, ways: Ways) -> None:
        self._source = source
        self._lines = Lines(text)
        self._at = Characters(source)
        self._own = {attribute.lower() for way in ways for attribute in way.attributes}
        self._elements = {element.lower() for way in ways for element in way.elements}
        self._number = 0

    def shown(self, root: Syntax) -> Iterator[ShownText]:
        """All texts, in their order."""
        found: list[tuple[int, ShownText]] = []
        sentences: dict[tuple[int, int], list[tuple[int, str]]] = {}
        names: dict[tuple[int, int], str] = {}
        waiting = [(root, _Within(False, "the page", [0, 0]))]
        while waiting and len(found) < _MOST:
            node, within = waiting.pop()
            kind = node.type
            if kind in ("text", "entity"):
                key = (within.run[0], within.run[1])
                names.setdefault(key, within.where)
                words = "\x1a" if within.silent else self._text(node.start_byte, node.end_byte)
                sentences.setdefault(key, []).append((node.start_byte, words))
            elif kind == "element":
                inner, attributes = self._entered(node, within)
                found += [(start, self._seen(start, value, name)) for name, start, value in attributes if is_for_people(value)]
                waiting.extend((child, inner) for child in reversed(node.children))
            elif kind not in _NO_TEXT:
                waiting.extend((child, within) for child in reversed(node.children))
        for key, pieces in sentences.items():
            sentence = self._sentence(pieces, names[key])
            found += [sentence] if sentence is not None else []
        yield from (each for _, each in sorted(found, key=lambda pair: pair[0]))

    def _entered(self, node: Syntax, within: _Within) -> tuple[_Within, list[tuple[str, int, str]]]:
        """What is within an element, and its attributes that are shown, each with the byte of its value."""
        head = node.children[0] if node.child_count else node
        name, named = "", {}
        for child in head.named_children:
            if child.type == "tag_name":
                name = self._text(child.start_byte, child.end_byte).lower()
            elif child.type == "attribute" and child.named_child_count:
                parts = child.named_children
                value = parts[1] if len(parts) > 1 else None
                inner = value.named_children[0] if value is not None and value.named_child_count else value
                named[self._text(parts[0].start_byte, parts[0].end_byte).lower()] = inner
        is_own = name in self._elements or not self._own.isdisjoint(named) or self._is_off(named)
        silent = within.silent or is_own or name in _SILENT
        shown = (*_OF_PAGES, *(("value",) if name == "input" and self._value(named.get("type")) in ("submit", "button", "reset") else ()))
        attributes = [
            (each, value.start_byte, self._text(value.start_byte, value.end_byte))
            for each in (shown if not (within.silent or is_own) else ())
            if (value := named.get(each)) is not None
        ]
        if name in _INLINE:
            where = f"<{name}>" if within.where == "the page" and name in ("a", "span") else within.where
            return _Within(silent, where, within.run), [each for each in attributes if "\x1a" not in each[2]]
        within.run[1] += 1  # what follows in the element around is another text
        self._number += 1
        return _Within(silent, f"<{name}>", [self._number, 0]), [each for each in attributes if "\x1a" not in each[2]]

    def _is_off(self, named: Mapping[str, Syntax | None]) -> bool:
        return self._value(named.get("translate")) == "no"

    def _value(self, node: Syntax | None) -> str:
        return self._text(node.start_byte, node.end_byte) if node is not None else ""

    def _text(self, start: int, end: int) -> str:
        return self._source[start:end].decode("utf-8", "replace")

    def _seen(self, start: int, text: str, where: str) -> ShownText:
        return ShownText(" ".join(unescape(text).split()), *self._lines.place(self._at.offset(start)), where)

    def _sentence(self, pieces: list[tuple[int, str]], where: str) -> tuple[int, ShownText] | None:
        """The text that *pieces* are, if it is one for people."""
        whole, end = "", 0
        for start, words in pieces:
            between = self._source[end:start][-1:].isspace() or self._source[end:start].startswith((b" ", b"\n")) if whole else False
            whole += (" " if between else "") + words
            end = start + len(words.encode("utf-8", "replace"))
        whole = unescape(whole)
        is_sentence = where != "the page" or _SENTENCE.match(" ".join(whole.replace("\x1a", " ").split())) is not None
        first = next((start + len(words) - len(words.lstrip("\x1a \n\r\t")) for start, words in pieces if words.strip("\x1a \n\r\t")), None)
        if first is None or not is_sentence or not is_for_people(whole):
            return None
        return first, self._seen(first, whole.strip("\x1a \n\r\t").replace("\x1a", " … "), where)


#: Nodes of a page that hold no text for people.
_NO_TEXT = frozenset(
    {"script_element", "style_element", "comment", "doctype", "start_tag", "self_closing_tag", "end_tag", "erroneous_end_tag"}
)


def in_layouts(text: str, name: str) -> Iterator[ShownText]:
    """The texts of Android's layouts, and of XAML's controls: values of attributes that are neither references nor bindings."""
    shown = _OF_XAML if name.endswith((".xaml", ".axaml")) else _OF_LAYOUTS if "/schemas.android.com/apk/res/android" in text else ()
    lines = Lines(text)
    for match in islice(_attributes(shown).finditer(text), _MOST) if shown else ():
        value = unescape(match[2])
        if not value.startswith(("@", "?", "{", "$")) and is_for_people(value):
            yield ShownText(" ".join(value.split()), *lines.place(match.start(2)), match[1])


@cache
def _attributes(names: tuple[str, ...]) -> re.Pattern[str]:
    return expression(rf"(?<=\s)({'|'.join(map(re.escape, names))})\s{{0,9}}=\s{{0,9}}\"([^\"<]{{1,500}})\"")


# -------------------------------------------------------------------------------------------------------------------- code

_TEXT = expression(r">([^<>{}]{2,2000})(?=[<{])|\}([^<>{}]{2,2000})(?=[<{])")


def in_elements(file: SourceFile, text: str, ways: Ways) -> Iterator[ShownText]:
    """The texts of elements that stand in code, and of their attributes."""
    lines, own = Lines(text), {name for way in ways for name in (*way.elements, *way.attributes)}
    sentences: dict[int, list[tuple[int, str, Syntax]]] = {}
    for match in islice(_TEXT.finditer(text), _MOST):
        which = 1 if match[1] is not None else 2
        piece = unescape(match[which])
        start = match.start(which) + len(match[which]) - len(match[which].lstrip())
        node = _at(file, text, start) if WORD.search(piece) else None
        if node is not None and node.type == "jsx_text" and not _is_silent(file, node, own):
            sentences.setdefault(_sentence(file, node), []).append((start, piece, node))
    for pieces in sentences.values():
        whole = "\x1a".join(piece for _, piece, _ in pieces)
        if is_for_people(whole if len(pieces) > 1 or not _is_beside_code(pieces[0][2]) else f"{whole}\x1a"):
            start, _, node = pieces[0]
            yield ShownText(" ".join(whole.replace("\x1a", " … ").split()), *lines.place(start), f"<{_element(file, node)}>")
    for match in islice(_attributes((*_OF_PAGES, *_OF_COMPONENTS)).finditer(text), _MOST):
        value = unescape(match[2])
        if is_for_people(value):
            node = _at(file, text, match.start(1))
            if node is not None and node.parent is not None and node.parent.type == "jsx_attribute" and not _is_silent(file, node, own):
                yield ShownText(" ".join(value.split()), *lines.place(match.start(2)), match[1])


def _at(file: SourceFile, text: str, offset: int) -> Syntax | None:
    byte = offset if text.isascii() else len(text[:offset].encode("utf-8", "replace"))
    return file.root.descendant_for_byte_range(byte, byte)


def _is_beside_code(node: Syntax) -> bool:
    """Whether a text stands beside what a program puts in."""
    beside = (node.prev_sibling, node.next_sibling)
    return any(each is not None and each.type == "jsx_expression" for each in beside)


def _sentence(file: SourceFile, node: Syntax) -> int:
    """What all pieces of one sentence have in common: the element around it that does not stand inside of one."""
    around: Syntax = node
    while around.parent is not None and around.parent.type.startswith("jsx_"):
        around = around.parent
        if around.type in ("jsx_element", "jsx_fragment") and _element(file, around) not in _INLINE:
            break
    return around.id


def _element(file: SourceFile, node: Syntax) -> str:
    """The name of the element that *node* stands in; empty where it has none."""
    around: Syntax | None = node
    while around is not None and around.type not in ("jsx_element", "jsx_opening_element", "jsx_self_closing_element"):
        around = around.parent
    if around is not None and around.type == "jsx_element":
        around = around.named_children[0] if around.named_children else None
    name = around.child_by_field_name("name") if around is not None else None
    return file.text_of(name) if name is not None else ""


def _is_silent(file: SourceFile, node: Syntax, own: set[str]) -> bool:
    """Whether an element around *node* is for code, or one that asks for a message itself."""
    around: Syntax | None = node
    for _ in range(12):
        if around is None:
            return False
        if around.type in ("jsx_element", "jsx_self_closing_element", "jsx_opening_element"):
            opening = around.named_children[0] if around.type == "jsx_element" and around.named_children else around
            head = file.text_of(opening)
            if _element(file, opening) in _SILENT | own or any(f" {name}=" in head for name in own) or 'translate="no"' in head:
                return True
        around = around.parent
    return False


def in_calls(file: SourceFile, ways: Ways) -> Iterator[ShownText]:
    """The literal arguments of the calls that show what they are given."""
    for name in dict.fromkeys(name for way in ways for name in way.shows):
        for call in islice(code.calls(file, name), _MOST):
            for _, node in call.arguments:
                value = file.value(node)
                if value.kind == "text" and is_for_people(value.text):
                    yield ShownText(" ".join(value.text.split()), *file.place_of(node.start_byte), name)
