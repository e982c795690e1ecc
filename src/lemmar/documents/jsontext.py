"""JSON (RFC 8259) with places, also where it is damaged: what stands after a fault is still read.

With *relaxed*, comments and trailing commas are no fault. Slower than a general parser, and only used where that one
cannot help: to find places, repeated keys and faults.
"""

from __future__ import annotations

import re
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.basics.text import paired
from lemmar.documents.nodes import MAX_DEPTH, MAX_FAULTS, Fault, Member, Node

_BLANK = expression(r"(?:[ \t\n\r]+|//[^\n\r]*+|/\*(?:[^*]|\*(?!/))*+\*/)*+")
_SPACE = expression(r"[ \t\n\r]*+")
_TOKEN = expression(
    r'(?P<text>"[^"\\\n\r]*+(?:\\.[^"\\\n\r]*+)*+)(?P<closed>")?|(?P<sign>[{}\[\]:,])|(?P<word>[^\s{}\[\]:,"]++)', re.DOTALL
)
# A whole member of a map whose value is plain: what most of a file is made of.
_MEMBER = expression(
    r'[ \t\n\r]*+("([^"\\\x00-\x1f]*+)")[ \t\n\r]*+:[ \t\n\r]*+(?:("([^"\\\x00-\x1f]*+)")|(true|false|null|-?(?:0|[1-9][0-9]*+)(?:\.[0-9]++)?)(?=[ \t\n\r,}]))'
    r"(?:[ \t\n\r]*+(,))?"
)
_KINDS = {"true": "bool", "false": "bool", "null": "null"}
# What is passed over unread: brackets, one at a time where they close, and what stands between them.
_PASSED = expression(r'[^"{}\[\]]*+(?:([{\[]++)|([}\]])|(")[^"\\\n\r]*+(?:\\.[^"\\\n\r]*+)*+("?))', re.DOTALL)
_NUMBER = expression(r"-?(?:0|[1-9][0-9]*)(?:\.[0-9]+)?(?:[eE][+-]?[0-9]+)?\Z")
_ESCAPE = expression(r"\\(?:u([0-9a-fA-F]{4})|(.))", re.DOTALL)
_CONTROL = expression(r"[\x00-\x1f]")
_SHORT = {'"': '"', "\\": "\\", "/": "/", "b": "\b", "f": "\f", "n": "\n", "r": "\r", "t": "\t"}


class _Token(NamedTuple):
    kind: str
    start: int
    end: int


class _Open:
    """A container that is being read: what is expected next in it."""

    __slots__ = ("comma", "expects", "key", "node")

    def __init__(self, node: Node) -> None:
        self.node = node
        self.expects = "first"  # first | key | colon | value | comma
        self.key: tuple[str, int, int] | None = None
        self.comma = -1


def scan(text: str, relaxed: bool = False) -> tuple[Node | None, list[Fault]]:
    """The document's value (None where there is none) and its faults in order; never fails, never recurses."""
    return _Scanner(text, relaxed).run()


class _Scanner:
    def __init__(self, text: str, relaxed: bool) -> None:
        self.text = text
        self.relaxed = relaxed
        self.faults: list[Fault] = []
        self.open: list[_Open] = []
        self.root: Node | None = None
        self.skipped = 0

    def fault(self, offset: int, words: str) -> None:
        if not self.faults or self.faults[-1].offset != offset:
            self.faults.append(Fault(offset, words))

    def run(self) -> tuple[Node | None, list[Fault]]:
        position, length = 0, len(self.text)
        while len(self.faults) < MAX_FAULTS:
            if self.skipped:
                position = self.passed(position)
            elif self.open and self.open[-1].expects in ("first", "key"):
                position = self.members(self.open[-1], position)
            position = self.blank(position)
            if position >= length:
                break
            token = _TOKEN.match(self.text, position)
            if token is None:
                self.fault(position, f"unexpected character {self.text[position]!r}")
                position += 1
                continue
            kind = token.lastgroup or ""
            kind = "text" if kind == "closed" else kind
            if kind == "text" and not token.group("closed"):
                self.fault(position, "the text that begins here is not closed on its line")
            self.take(_Token(kind, position, token.end()))
            position = token.end()
        for container in reversed(self.open):
            container.node.end = length
        if len(self.faults) >= MAX_FAULTS:
            pass  # what is open now may well be closed further on
        elif self.open:
            closing = "}" if self.open[-1].node.kind == "map" else "]"
            self.fault(length, f"expected {closing!r} before the end of the file")
        elif self.root is None:
            self.fault(0, "there is no value in the file")
        return self.root, self.faults

    def members(self, container: _Open, position: int) -> int:
        """Reads the plain members of a map from *position* on, each as the other methods would; gives where the next thing begins."""
        if container.node.kind != "map":
            return position
        members = container.node.members
        while container.expects != "comma" and (found := _MEMBER.match(self.text, position)) is not None:
            word = found[5]
            if word is None:
                node = Node("text", found.start(3), found.end(3), found[4])
            else:
                node = Node(_KINDS.get(word, "number"), found.start(5), found.end(5), word)
            members.append(Member(found[2], found.start(1), found.end(1), node))
            position = found.end()
            if found[6]:
                container.expects, container.comma = "key", position - 1
            else:
                container.expects = "comma"
        return position

    def passed(self, position: int) -> int:
        """Passes over what is nested too deeply, up to the bracket that ends it; gives where that one stands."""
        while (found := _PASSED.match(self.text, position)) is not None:
            if found[1]:
                self.skipped += len(found[1])
            elif found[2]:
                if self.skipped == 1:
                    return found.start(2)
                self.skipped -= 1
            elif not found[4]:
                self.fault(found.start(3), "the text that begins here is not closed on its line")
            position = found.end()
        return len(self.text)

    def blank(self, position: int) -> int:
        if self.relaxed:
            return _match_end(_BLANK, self.text, position)
        end = _match_end(_SPACE, self.text, position)
        if self.text.startswith(("//", "/*"), end):
            after = _match_end(_BLANK, self.text, end)
            if after > end:
                self.fault(end, "a comment, which this format does not allow")
                return after
        return end

    def take(self, token: _Token) -> None:
        if self.skipped or (self.open and len(self.open) >= MAX_DEPTH and self.text[token.start] in "{["):
            self.skip(token)
        elif not self.open:
            self.top(token)
        elif self.open[-1].node.kind == "map":
            self.in_map(self.open[-1], token)
        else:
            self.in_list(self.open[-1], token)

    def skip(self, token: _Token) -> None:
        """Passes over what is nested too deeply, counting its brackets."""
        sign = self.text[token.start] if token.kind == "sign" else ""
        if not self.skipped:
            self.fault(token.start, f"nested deeper than {MAX_DEPTH} levels; what is in here is not read")
        self.skipped += (sign in ("{", "[")) - (sign in ("}", "]"))
        if not self.skipped:
            self.put(Node("null", token.start, token.end))

    def top(self, token: _Token) -> None:
        if self.root is not None:
            self.fault(token.start, "expected nothing after the document's value")
            return
        node = self.value(token)
        if node is not None:
            self.root = node
            self.enter(node)

    def enter(self, node: Node) -> None:
        if node.kind in ("map", "list"):
            self.open.append(_Open(node))

    def leave(self, token: _Token) -> None:
        container = self.open.pop()
        container.node.end = token.end
        if container.expects in ("key", "value") and container.comma >= 0 and not self.relaxed:
            self.fault(container.comma, "expected another entry after this comma")

    def put(self, node: Node) -> None:
        """Stores *node* where the innermost open container waits for it."""
        container = self.open[-1]
        if container.node.kind == "list":
            container.node.items.append(node)
        else:
            assert container.key is not None
            container.node.members.append(Member(*container.key, node))
            container.key = None
        container.expects = "comma"
        self.enter(node)

    def in_map(self, container: _Open, token: _Token) -> None:
        sign = self.text[token.start] if token.kind == "sign" else ""
        expects = container.expects
        if sign in ("}", "]"):
            self.close(container, token, sign)
        elif expects in ("first", "key", "comma"):
            if sign == "," and expects == "comma":
                container.expects, container.comma = "key", token.start
            elif token.kind == "text":
                if expects == "comma":
                    self.fault(token.start, "expected ',' before this key")
                container.key = (self.string(token), token.start, token.end)
                container.expects = "colon"
            else:
                self.fault(token.start, "expected a key in quotes" if expects != "comma" else "expected ',' or '}'")
        elif expects == "colon" and sign == ":":
            container.expects = "value"
        elif expects == "colon" and sign == ",":
            self.fault(token.start, "expected ':' and a value")
            container.key, container.expects, container.comma = None, "key", token.start
        elif expects == "colon":
            self.fault(token.start, "expected ':'")
            self.put_value(token)
        elif sign in (",", ":"):
            self.fault(token.start, "expected a value")
            if sign == ",":
                container.key, container.expects, container.comma = None, "key", token.start
        else:
            self.put_value(token)

    def put_value(self, token: _Token) -> None:
        node = self.value(token)
        if node is not None:
            self.put(node)

    def close(self, container: _Open, token: _Token, sign: str) -> None:
        wanted = "}" if container.node.kind == "map" else "]"
        if sign != wanted:
            self.fault(token.start, f"expected {wanted!r} before this {sign!r}")
            if not any(other.node.kind == ("map" if sign == "}" else "list") for other in self.open):
                return
            while self.open[-1].node is not container.node:
                self.leave(token)
        elif container.expects in ("colon", "value") and container.node.kind == "map":
            self.fault(token.start, "expected a value before this '}'")
            container.expects = "comma"
        self.leave(token)

    def in_list(self, container: _Open, token: _Token) -> None:
        sign = self.text[token.start] if token.kind == "sign" else ""
        if sign in ("}", "]"):
            self.close(container, token, sign)
        elif sign == "," and container.expects == "comma":
            container.expects, container.comma = "value", token.start
        elif sign in (",", ":"):
            self.fault(token.start, "expected a value")
        else:
            if container.expects == "comma":
                self.fault(token.start, "expected ',' before this value")
            self.put_value(token)

    def value(self, token: _Token) -> Node | None:
        if token.kind == "text":
            return Node("text", token.start, token.end, self.string(token))
        if token.kind == "sign":
            sign = self.text[token.start]
            if sign in "{[":
                return Node("map" if sign == "{" else "list", token.start)
            self.fault(token.start, "expected a value")
            return None
        word = self.text[token.start : token.end]
        kind = _KINDS.get(word)
        if kind is None and _NUMBER.match(word):
            kind = "number"
        if kind is None:
            self.fault(token.start, f"expected a value, found {word[:40]!r}")
            return Node("null", token.start, token.end)
        return Node(kind, token.start, token.end, word)

    def string(self, token: _Token) -> str:
        """The text of a string token (RFC 8259 section 7)."""
        closed = token.end - 1 if token.end - token.start > 1 and self.text[token.end - 1] == '"' else token.end
        raw = self.text[token.start + 1 : closed]
        control = _CONTROL.search(raw)
        if control:
            self.fault(token.start + 1 + control.start(), "a control character that must be written as an escape")
        if "\\" not in raw:
            return raw

        def unescape(match: re.Match[str]) -> str:
            if match.group(1):
                return chr(int(match.group(1), 16))
            short = _SHORT.get(match.group(2))
            if short is None:
                self.fault(token.start + 1 + match.start(), f"{match.group()!r} is no escape")
            return short if short is not None else match.group(2)

        # A lone half of a character stays as it is, and many readers refuse it (RFC 8259 section 8.2).
        whole = paired(_ESCAPE.sub(unescape, raw))
        if _has_surrogate(whole):
            self.fault(token.start, "an escape that is half of a surrogate pair, which is no character")
        return whole


def _has_surrogate(text: str) -> bool:
    return any("\ud800" <= character <= "\udfff" for character in text)


def _match_end(pattern: re.Pattern[str], text: str, position: int) -> int:
    match = pattern.match(text, position)
    return match.end() if match else position
