"""Texts that people see and that stand in pages, layouts and calls, not in a catalog. Rather too few than one that nobody reads."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import cache
from html import unescape
from html.parser import HTMLParser
from itertools import islice
from typing import TYPE_CHECKING

from lemmar.expressions import expression
from lemmar.languages import SourceFile
from lemmar.usages import code
from lemmar.usages._text import Lines, blanked
from lemmar.usages._types import Shown, Ways

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

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
_EMPTY = frozenset({"br", "hr", "img", "input", "link", "meta", "area", "base", "col", "embed", "source", "track", "wbr", "param"})
_INSERTED = expression(
    r"^[ \t]*+%[ \t]*+(?:for|if|elif|else|while|def|block|end\w+)\b[^\n]*$|\{\{.*?\}\}|\{!!.*?!!\}|\{%.*?%\}|<%.*?%>|<\?.*?\?>"
    r"|\$\{[^{}]*\}|@\{[^{}]*\}|^---$.*?^---$|(?<![\w@])@\w+(?:\s?\([^()]*(?:\([^()]*\)[^()]*)*\))?",
    re.DOTALL | re.MULTILINE,
)
_APART = expression(r"\{%-?\s*+(comment|raw|verbatim)\b[^%]*%\}.*?\{%-?\s*+end\1\s*+-?%\}", re.DOTALL)
_BRACES = expression(r"\{[^{}]*\}")
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
_WORD = expression(r"[^\W\d_]{2,}")
_CODE = expression(
    r"[\w.+-]++@[\w-]++\.|\w+://|^(?:[./#]|www\.)|[<>{}\\|=]|\w\(|^[\w-]*[\w-](?:[._/:][\w-]+)+$|^\w+_\w+$|^[a-z\d]+(?:-[a-z\d]+)+$|^[a-z]+[A-Z]\w*$"
    r"|^[A-Z][a-z]+(?:[A-Z]\w*)+$|^[A-Z\d_ .:/-]{1,5}$|^--?\w"
)


def is_for_people(text: str) -> bool:
    """Whether *text* is words that people read, and no name, code, address, number or sign: two words, or one that is written as a sentence begins."""
    bare = " ".join(text.replace("\x1a", " ").split())
    if len(bare) < 3 or _CODE.search(bare):
        return False
    words = [found[0] for piece in bare.split() if (found := _WORD.search(piece)) is not None]
    if sum(map(len, words)) * 2 < len(bare.replace(" ", "")):
        return False
    if len(words) == 1 and "\x1a" in text and not bare.rstrip("\x1a ").endswith(":"):
        return False  # a name before what a program puts in
    if len(words) >= 2:
        return any(len(word) > 2 for word in words) and not all(word.isupper() and len(word) < 4 for word in words)
    return len(words) == 1 and words[0] == bare.strip(".!?…:*") and len(words[0]) > 2 and not words[0].islower() and not words[0].isupper()


def in_pages(text: str, ways: Ways) -> Iterator[Shown]:
    """The texts of a page, or of a template: of its elements, and of attributes that are shown."""
    reader = _Page(ways)
    if len(text) < 500_000:
        for way in ways:
            for block in way.blocks:
                text = block_expression(block).sub(lambda match: _masked(match[0]), text)
        text = _APART.sub(lambda match: _masked(match[0]), text)
        text = _INSERTED.sub(lambda match: _masked(match[0]), text)
        for _ in range(_DEEPEST):
            text, count = _BRACES.subn(lambda match: _masked(match[0]), text)
            if not count:
                break
    try:
        reader.feed(text)
        reader.close()
    except (AssertionError, ValueError):  # which the parser raises for a declaration that is broken
        return
    reader.end()
    yield from reader.found


def _masked(piece: str) -> str:
    """A sign that is no word for what a program puts in, as long as that."""
    return f"\x1a{blanked(piece[1:])}"


class _Page(HTMLParser):
    """Gathers what a page shows: a sentence with elements in it is one text."""

    def __init__(self, ways: Ways) -> None:
        super().__init__(convert_charrefs=True)
        self.found: list[Shown] = []
        self._own = {attribute.lower() for way in ways for attribute in way.attributes}
        self._elements = {element.lower() for way in ways for element in way.elements}
        self._open: list[tuple[str, bool]] = []
        self._text: list[str] = []
        self._place = (0, 0)
        self._where = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        named = dict(attrs)
        is_own = tag in self._elements or not self._own.isdisjoint(named) or named.get("translate") == "no"
        above = bool(self._open) and self._open[-1][1]
        if tag not in _INLINE:
            self.end()
        elif is_own or tag in _SILENT:
            self._text.append("\x1a")
        for name in (*_OF_PAGES, *(("value",) if tag == "input" and named.get("type") in ("submit", "button", "reset") else ())):
            value = named.get(name)
            if value and "\x1a" not in value and not is_own and not above and is_for_people(value):
                line, column = self.getpos()
                self._add(Shown(" ".join(value.split()), line, column + 1, name))
        if tag not in _EMPTY:
            self._open.append((tag, above or is_own or tag in _SILENT))

    def handle_startendtag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.handle_starttag(tag, attrs)
        if tag not in _EMPTY:
            self.handle_endtag(tag)

    def handle_endtag(self, tag: str) -> None:
        if tag not in _INLINE:
            self.end()
        for index in range(len(self._open) - 1, -1, -1):
            if self._open[index][0] == tag:
                del self._open[index:]
                return

    def handle_data(self, data: str) -> None:
        if self._open and self._open[-1][1]:
            return
        if not "".join(self._text).strip("\x1a \n\r\t") and data.strip("\x1a \n\r\t"):
            line, column = self.getpos()
            before = data[: len(data) - len(data.lstrip("\x1a \n\r\t"))]
            after = len(before) - before.rindex("\n") - 1 if "\n" in before else column + len(before)
            self._place, self._text = (line + before.count("\n"), after + 1), []
            block = next((name for name, _ in reversed(self._open) if name not in _INLINE or name in ("a", "span")), "")
            self._where = f"<{block}>" if block else "the page"
        self._text.append(data)

    def end(self) -> None:
        """A text ends."""
        whole = "".join(self._text)
        is_sentence = self._where != "the page" or _SENTENCE.match(" ".join(whole.replace("\x1a", " ").split())) is not None
        if is_sentence and is_for_people(whole):
            self._add(Shown(" ".join(whole.strip("\x1a \n\r\t").replace("\x1a", " … ").split()), *self._place, self._where))
        self._text = []

    def _add(self, shown: Shown) -> None:
        if len(self.found) < _MOST:
            self.found.append(shown)


@cache
def block_expression(name: str) -> re.Pattern[str]:
    """What finds the block of a template whose contents are a text: its head, and the text up to its end or its next form."""
    named = re.escape(name)
    return expression(
        rf"\{{%-?\s{{0,9}}{named}\b([^%]{{0,400}})%\}}((?:[^{{]|\{{(?!%)){{1,4000}}?)"
        rf"(?:\{{%-?\s{{0,9}}plural(?:ize)?\b[^%]{{0,200}}%\}}.{{0,4000}}?)?\{{%-?\s{{0,9}}end{named}\b[^%]{{0,200}}%\}}",
        re.DOTALL,
    )


def in_layouts(text: str, name: str) -> Iterator[Shown]:
    """The texts of Android's layouts, and of XAML's controls: values of attributes that are neither references nor bindings."""
    shown = _OF_XAML if name.endswith((".xaml", ".axaml")) else _OF_LAYOUTS if "/schemas.android.com/apk/res/android" in text else ()
    lines = Lines(text)
    for match in islice(_attributes(shown).finditer(text), _MOST) if shown else ():
        value = unescape(match[2])
        if not value.startswith(("@", "?", "{", "$")) and is_for_people(value):
            yield Shown(" ".join(value.split()), *lines.place(match.start(2)), match[1])


@cache
def _attributes(names: tuple[str, ...]) -> re.Pattern[str]:
    return expression(rf"(?<=\s)({'|'.join(map(re.escape, names))})\s{{0,9}}=\s{{0,9}}\"([^\"<]{{1,500}})\"")


# -------------------------------------------------------------------------------------------------------------------- code

_TEXT = expression(r">([^<>{}]{2,2000})(?=[<{])|\}([^<>{}]{2,2000})(?=[<{])")


def in_elements(file: SourceFile, text: str, ways: Ways) -> Iterator[Shown]:
    """The texts of elements that stand in code, and of their attributes."""
    lines, own = Lines(text), {name for way in ways for name in (*way.elements, *way.attributes)}
    sentences: dict[int, list[tuple[int, str, Syntax]]] = {}
    for match in islice(_TEXT.finditer(text), _MOST):
        which = 1 if match[1] is not None else 2
        piece = unescape(match[which])
        start = match.start(which) + len(match[which]) - len(match[which].lstrip())
        node = _at(file, text, start) if _WORD.search(piece) else None
        if node is not None and node.type == "jsx_text" and not _is_silent(file, node, own):
            sentences.setdefault(_sentence(file, node), []).append((start, piece, node))
    for pieces in sentences.values():
        whole = "\x1a".join(piece for _, piece, _ in pieces)
        if is_for_people(whole if len(pieces) > 1 or not _is_beside_code(pieces[0][2]) else f"{whole}\x1a"):
            start, _, node = pieces[0]
            yield Shown(" ".join(whole.replace("\x1a", " … ").split()), *lines.place(start), f"<{_element(file, node)}>")
    for match in islice(_attributes((*_OF_PAGES, *_OF_COMPONENTS)).finditer(text), _MOST):
        value = unescape(match[2])
        if is_for_people(value):
            node = _at(file, text, match.start(1))
            if node is not None and node.parent is not None and node.parent.type == "jsx_attribute" and not _is_silent(file, node, own):
                yield Shown(" ".join(value.split()), *lines.place(match.start(2)), match[1])


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


def in_calls(file: SourceFile, ways: Ways) -> Iterator[Shown]:
    """The literal arguments of the calls that show what they are given."""
    for name in dict.fromkeys(name for way in ways for name in way.shows):
        for call in islice(code.calls(file, name), _MOST):
            for _, node in call.arguments:
                value = file.value(node)
                if value.kind == "text" and is_for_people(value.text):
                    yield Shown(" ".join(value.text.split()), *file.place_of(node.start_byte), name)
