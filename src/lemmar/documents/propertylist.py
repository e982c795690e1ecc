"""Property lists, with places: the old-style text form and the XML form.

The old-style form is also what ``.strings`` files are written in: the members of a map, without its braces. Sources: the
property-list programming guide ("old-style ASCII property lists") and the public document type of the XML form.
The binary form is read by the standard library and has no places. ``<...>`` data of the old-style form is skipped.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import paired
from lemmar.documents.nodes import MAX_DEPTH, Fault, Member, Node
from lemmar.documents.xmltext import elements, local_name, unescape

_BLANK = expression(r"(?:\s+|//[^\n\r]*+|/\*(?:[^*]|\*(?!/))*+\*/)*+")
_TOKEN = expression(
    r"\"(?P<double>[^\"\\]*+(?:\\.[^\"\\]*+)*+)\"|'(?P<single>[^'\\]*+(?:\\.[^'\\]*+)*+)'"
    r"|(?P<word>(?:[\w.$:+-]|/(?![/*]))++)|(?P<sign>[={}();,])|(?P<data><[0-9a-fA-F\s]*+>)",
    re.DOTALL,
)
_ESCAPE = expression(r"\\(?:[Uu]([0-9a-fA-F]{4})|([0-7]{1,3})|(.))", re.DOTALL)
_SHORT = {"n": "\n", "t": "\t", "r": "\r", "a": "\a", "b": "\b", "f": "\f", "v": "\v"}


def unquote(raw: str) -> str:
    r"""The text of a quoted string's inside: ``\n``, ``\"``, ``\U00e9`` and octal escapes; any other character stands for itself."""
    if "\\" not in raw:
        return raw

    def replace(match: re.Match[str]) -> str:
        code, octal, character = match.groups()
        if code:
            return chr(int(code, 16))
        return chr(int(octal, 8)) if octal else _SHORT.get(character, character)

    return paired(_ESCAPE.sub(replace, raw))


class Token(NamedTuple):
    """A token: *kind* is ``text``, ``data``, a sign such as ``;``, or ``end``; *before* is where the blank ahead of it begins."""

    kind: str
    start: int
    end: int
    text: str
    before: int


class Tokens:
    """The tokens of an old-style property list, one after the other."""

    def __init__(self, text: str, position: int = 0) -> None:
        self.text = text
        self.position = position

    def next(self) -> Token:
        """The next token; a character that begins none is a token of its own."""
        before = self.position
        blank = _BLANK.match(self.text, before)
        start = blank.end() if blank else before
        if start >= len(self.text):
            self.position = start
            return Token("end", start, start, "", before)
        found = _TOKEN.match(self.text, start)
        if found is None:
            self.position = start + 1
            return Token(self.text[start], start, start + 1, self.text[start], before)
        self.position = found.end()
        kind = found.lastgroup or "double"
        if kind in ("double", "single"):
            return Token("text", start, found.end(), unquote(found.group(kind)), before)
        return Token("text" if kind == "word" else kind if kind == "data" else found.group(), start, found.end(), found.group(), before)

    def peek(self) -> Token:
        """The token that `next` will give."""
        position = self.position
        token = self.next()
        self.position = position
        return token


def scan(text: str) -> tuple[Node | None, list[Fault]]:
    """The value of a property list in either text form (None where there is none) and its faults."""
    head = text.lstrip()[:200]
    if head.startswith(("<?xml", "<!DOCTYPE", "<plist")):
        return _scan_xml(text)
    return _OldStyle(text).run()


class _OldStyle:
    def __init__(self, text: str) -> None:
        self.tokens = Tokens(text)
        self.faults: list[Fault] = []

    def run(self) -> tuple[Node | None, list[Fault]]:
        first = self.tokens.peek()
        if first.kind == "end":
            return None, [Fault(0, "there is no value in the file")]
        if first.kind == "text":  # the members of a map without its braces
            root = Node("map", first.start)
        else:
            self.tokens.next()
            root = Node("map" if first.kind == "{" else "list", first.start)
            if first.kind not in "{(":
                return None, [Fault(first.start, "expected '{', '(' or a key")]
        self.fill(root)
        return root, self.faults

    def fill(self, root: Node) -> None:
        stack = [root]
        while stack:
            node = stack[-1]
            token = self.tokens.next()
            closing = "}" if node.kind == "map" else ")"
            if token.kind == "end" or token.kind == closing:
                if token.kind == "end" and (len(stack) > 1 or self.tokens.text[root.start] in "{("):
                    self.faults.append(Fault(token.start, f"expected {closing!r} before the end of the file"))
                    for unclosed in stack:
                        unclosed.end = token.start
                    return
                node.end = token.end
                stack.pop()
                if stack:
                    self.separator(stack[-1], token.end)
            elif node.kind == "map":
                self.member(stack, token)
            else:
                self.value(stack, token, None)

    def member(self, stack: list[Node], key: Token) -> None:
        if key.kind != "text":
            self.faults.append(Fault(key.start, f"expected a key, found {key.text!r}"))
            return
        if self.tokens.peek().kind == "=":
            self.tokens.next()
            self.value(stack, self.tokens.next(), key)
        elif self.tokens.peek().kind == ";":  # `key;` stands for `key = key;`
            self.tokens.next()
            stack[-1].members.append(Member(key.text, key.start, key.end, Node("text", key.start, key.end, key.text)))
        else:
            self.faults.append(Fault(key.end, f"expected '=' after the key {key.text!r}", key.text))

    def value(self, stack: list[Node], token: Token, key: Token | None) -> None:
        node = self.node(token)
        if node is None:
            return
        if key is None:
            stack[-1].items.append(node)
        else:
            stack[-1].members.append(Member(key.text, key.start, key.end, node))
        if node.kind in ("map", "list"):
            if len(stack) < MAX_DEPTH:
                stack.append(node)
            else:
                self.faults.append(Fault(token.start, f"nested deeper than {MAX_DEPTH} levels; what follows is not read"))
                self.tokens.position = len(self.tokens.text)
        else:
            self.separator(stack[-1], token.end)

    def node(self, token: Token) -> Node | None:
        if token.kind in ("text", "data"):
            return Node("text" if token.kind == "text" else "null", token.start, token.end, token.text)
        if token.kind in ("{", "("):
            return Node("map" if token.kind == "{" else "list", token.start)
        self.faults.append(Fault(token.start, f"expected a value, found {token.text!r}" if token.text else "expected a value"))
        return None

    def separator(self, parent: Node, end: int) -> None:
        wanted = ";" if parent.kind == "map" else ","
        following = self.tokens.peek()
        if following.kind == wanted:
            self.tokens.next()
        elif parent.kind == "map":
            self.faults.append(Fault(end, "expected ';' after this value"))
        elif following.kind not in (")", "end"):
            self.faults.append(Fault(end, "expected ',' after this value"))


_OTHER_ENTITY = expression(r"&(?!(?:amp|lt|gt|quot|apos|#[0-9]{1,7}|#x[0-9a-fA-F]{1,6});)[^;\s]{0,40};?")


def _scan_xml(text: str) -> tuple[Node | None, list[Fault]]:
    faults: list[Fault] = []
    stack: list[tuple[Node, int]] = []
    key: tuple[str, int, int] | None = None
    root: Node | None = None
    for element in elements(text):
        while stack and element.depth <= stack[-1][1]:
            stack.pop()
        name = local_name(element.open.name)
        if name == "plist" or (stack and stack[-1][0].kind not in ("map", "list")):
            continue
        start, end = element.open.start, element.end
        raw = text[element.open.end : element.close.start] if element.close else ""
        inner = unescape(raw.replace("\r\n", "\n").replace("\r", "\n") if "\r" in raw else raw)
        other = _OTHER_ENTITY.search(raw) if name in ("key", "string") and "&" in raw else None
        if other:
            named = other.group().endswith(";") and len(other.group()) > 2
            words = f"the entity {other.group()!r} is not read" if named else "a bare '&', which XML writes &amp;"
            faults.append(Fault(element.open.end + other.start(), words))
        if len(stack) > MAX_DEPTH:
            faults.append(Fault(start, f"nested deeper than {MAX_DEPTH} levels; what follows is not read"))
            break
        if name == "key":
            key = (inner, start, end)
            continue
        node = _xml_value(name, start, end, inner)
        if element.close is None and not element.open.empty:
            faults.append(Fault(start, f"the element {name!r} is not closed"))
        if not stack:
            root = root or node
        elif stack[-1][0].kind == "list":
            stack[-1][0].items.append(node)
        elif key is None:
            faults.append(Fault(start, "expected a key before this value"))
        else:
            stack[-1][0].members.append(Member(*key, node))
            key = None
        stack.append((node, element.depth))
    if root is None:
        faults.append(Fault(0, "there is no property list in the file"))
    return root, faults


def _xml_value(name: str, start: int, end: int, inner: str) -> Node:
    kind = {"dict": "map", "array": "list", "string": "text", "integer": "number", "real": "number", "true": "bool", "false": "bool"}
    return Node(kind.get(name, "null"), start, end, name if name in ("true", "false") else inner)


def inside_tags(text: str, start: int, end: int) -> tuple[int, int]:
    """Where the text of an element stands that spans *start* to *end*; all of it where it is no element."""
    first, last = text.find(">", start, end) + 1, text.rfind("</", start, end)
    return (first, last) if text.startswith("<", start) and 0 < first <= last else (start, end)


def scan_binary(data: bytes) -> tuple[Node | None, list[Fault]]:
    """The value of a binary property list, without places, and its faults; within bounds."""
    import plistlib

    if len(data) > _MAX_BINARY:
        return None, [Fault(0, "a binary property list of that size is not read")]
    try:
        value = plistlib.loads(data, fmt=plistlib.FMT_BINARY)
    except Exception as error:  # the library lets through whatever its parts raise
        return None, [Fault(0, f"a damaged binary property list: {error or type(error).__name__}")]
    left = [_MAX_VALUES]
    try:
        return _plain(value, left, 0), []
    except ValueError as error:
        return None, [Fault(0, str(error))]


_MAX_BINARY = 16 * 1024 * 1024
_MAX_VALUES = 500_000


def _plain(value: object, left: list[int], depth: int) -> Node:
    left[0] -= 1
    if depth > 100 or left[0] < 0:
        raise ValueError("a binary property list that is nested too deeply or too large")
    if isinstance(value, dict):
        members = [Member(str(key), 0, 0, _plain(item, left, depth + 1)) for key, item in value.items()]
        return Node("map", 0, members=members)
    if isinstance(value, list):
        return Node("list", 0, items=[_plain(item, left, depth + 1) for item in value])
    if isinstance(value, bool):
        return Node("bool", 0, text="true" if value else "false")
    kind = "text" if isinstance(value, str) else "number" if isinstance(value, (int, float)) else "null"
    return Node(kind, 0, text=str(value) if kind != "null" else "")
