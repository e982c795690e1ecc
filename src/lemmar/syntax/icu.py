"""ICU MessageFormat: ``{name}``, ``{when, date, short}``, ``{count, plural, one {# bunk} other {# bunks}}``, select, selectordinal, choice.

Source: the grammar that ICU documents for its message patterns, apostrophes in its default mode: one quotes only before ``{`` or ``}``, and
before ``#`` in a plural; two stand for one. Where the charter says ``apostrophe = "doubled"`` every apostrophe quotes, as in the older Java
class. ``#`` counts only directly in a plural's branch. Argument names may be of any letters.
"""

from __future__ import annotations

import re
from collections.abc import Mapping

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import Arguments, BrokenError, partial, with_choices
from lemmar.syntax._shape import Branches, Choice, Fault, Piece, Shape, Syntax
from lemmar.tags import CATEGORIES

_MOST_LEVELS = 120
_MOST_NUMBER = (2**31 - 1) // 10
_SPACE = r"[\t-\r \x85\u200e\u200f\u2028\u2029]*"
# Neither pattern syntax nor pattern white space (UAX 31); the blocks that hold the rest of the syntax characters.
_NAME = (
    r"[^\x00-\x08\t-\r\x0e-\x1f -/:-@\[-^`{-\x7f\x80-\xa7\xa9\xab\xac\xae\xb0\xb1\xb6\xbb\xbf\xd7\xf7"
    r"\u200e\u200f\u2010-\u203e\u2041-\u2053\u2055-\u205e\u2190-\u245f\u2500-\u2775\u2794-\u2bff\u2e00-\u2e7f\u3001-\u3003"
    r"\u3008-\u3020\u3030\ufd3e\ufd3f\ufe45\ufe46]+"
)
_HEAD = expression(rf"{_SPACE}({_NAME})?{_SPACE}")
_KIND = expression(rf"{_SPACE}([A-Za-z]*){_SPACE}")
_SELECTOR = expression(rf"{_SPACE}(=[-+.0-9eE\u221e]*|{_NAME})?")
_NUMBER = expression(r"[-+]?(?:[0-9]+\.?[0-9]*|\.[0-9]+)(?:[eE][-+]?[0-9]+)?\Z|[-+]?\u221e\Z")
_OFFSET = expression(rf":{_SPACE}([-+.0-9eE\u221e]+)?")
_PIECE = expression(rf"{_SPACE}([-+]?[0-9.\u221e]+){_SPACE}([#<\u2264])")
_SPECIAL = expression(r"[{}'|]")
_COMPLEX = {"plural": "plural", "selectordinal": "ordinal", "select": "select", "choice": "choice"}
_TYPES = {"number": "number", "spellout": "number", "ordinal": "number", "duration": "number", "date": "date", "time": "date"}


class _Open:
    """An argument with branches that is being read."""

    def __init__(self, name: str, kind: str, start: int) -> None:
        self.name = name
        self.kind = kind
        self.start = start
        self.key = ""
        self.branches: list[tuple[str, frozenset[str]]] = []
        self.begun = False


class _Reader:
    """Reads one text; nesting is kept on a list, never on Python's own stack."""

    def __init__(self, text: str, doubled: bool) -> None:
        self.text = text
        self.doubled = doubled
        self.arguments = Arguments()
        self.choices: list[Choice] = []
        self.lacking: list[tuple[str, str]] = []
        self.open: list[_Open] = []
        self.names: list[set[str]] = [set()]

    def read(self) -> Shape:
        """The text's shape. Raises `BrokenError`."""
        text, at = self.text, 0
        while True:
            match = _SPECIAL.search(text, at)
            if match is None:
                break
            at = match.end()
            sign = match.group()
            parent = self.open[-1].kind if self.open else ""
            if sign == "'":
                at = self._quoted(at, parent)
            elif sign == "{":
                at = self._argument(at)
            elif self.open and (sign == "}" or parent == "choice"):
                at = self._end_of_branch(at, sign)
        if self.open:
            raise BrokenError(self.open[-1].start, "this '{' is never closed")
        return with_choices(self.arguments, self.choices, self.lacking)

    def _quoted(self, at: int, parent: str) -> int:
        """Behind the quoted text that the apostrophe before *at* begins, if it begins one."""
        following = self.text[at : at + 1]
        if following == "'":
            return at + 1
        begins = (
            following in ("{", "}") or (following == "#" and parent in ("plural", "ordinal")) or (following == "|" and parent == "choice")
        )
        if not following or not (self.doubled or begins):
            return at
        while True:
            at = self.text.find("'", at)
            if at < 0:
                return len(self.text)
            if self.text[at + 1 : at + 2] != "'":
                return at + 1
            at += 2

    def _argument(self, at: int) -> int:
        """Reads an argument whose ``{`` stands before *at*."""
        start = at - 1
        match = _HEAD.match(self.text, at)
        name = match.group(1) if match else None
        end = match.end() if match else at
        sign = self.text[end : end + 1]
        if not sign:
            raise BrokenError(start, "this '{' is never closed")
        if not name or sign not in ",}":
            raise BrokenError(start if not name else end, "a '{' begins a placeholder, and no name and ',' or '}' follow")
        if name.isascii() and name.isdigit() and len(name) > 1 and (name[0] == "0" or int(name[:-1][:12]) >= _MOST_NUMBER):
            raise BrokenError(start + 1, f"{name!r} is no number that a placeholder can have")
        if sign == "}":
            self._take(name, "")
            return end + 1
        return self._typed(name, start, end + 1)

    def _typed(self, name: str, start: int, at: int) -> int:
        match = _KIND.match(self.text, at)
        assert match is not None
        kind, end = match.group(1).lower(), match.end()
        sign = self.text[end : end + 1]
        if not sign:
            raise BrokenError(start, "this '{' is never closed")
        if not kind or sign not in ",}":
            raise BrokenError(end, f"the type of {name!r} is no word with ',' or '}}' behind it")
        if kind in _COMPLEX:
            if sign == "}":
                raise BrokenError(end, f"the {kind} of {name!r} has no branches")
            if len(self.open) >= _MOST_LEVELS:
                raise BrokenError(start, f"placeholders are nested more than {_MOST_LEVELS} deep")
            self._take(name, "choice" if kind == "select" else "number")
            self.open.append(_Open(name, _COMPLEX[kind], start))
            return self._piece(end + 1) if kind == "choice" else self._branch(end + 1)
        self._take(name, _TYPES.get(kind, kind))
        return end + 1 if sign == "}" else self._style(start, end + 1)

    def _style(self, start: int, at: int) -> int:
        """Behind the style of a simple argument, in which braces are balanced and apostrophes quote."""
        depth = 0
        while True:
            match = _SPECIAL.search(self.text, at)
            if match is None:
                raise BrokenError(start, "this '{' is never closed")
            at = match.end()
            if match.group() == "'":
                at = self.text.find("'", at) + 1
                if not at:
                    raise BrokenError(match.start(), "an apostrophe in a placeholder's style is never closed")
            elif match.group() == "{":
                depth += 1
            elif match.group() == "}":
                if not depth:
                    return at
                depth -= 1

    def _branch(self, at: int) -> int:
        """Reads a selector up to the text of its branch, or the end of the argument."""
        top = self.open[-1]
        while True:
            match = _SELECTOR.match(self.text, at)
            assert match is not None
            key, at = match.group(1), match.end()
            sign = self.text[at : at + 1]
            if key is None:
                if sign == "}":
                    return self._close(at)
                raise BrokenError(at if sign else top.start, "a branch's key is expected here" if sign else "this '{' is never closed")
            counted = top.kind in ("plural", "ordinal")
            if key == "offset" and counted and sign == ":":
                found = _OFFSET.match(self.text, at)
                if top.begun or found is None or not found.group(1) or not _NUMBER.match(found.group(1)):
                    raise BrokenError(match.start(1), "'offset:' stands before the branches, with a number")
                top.begun, at = True, found.end()
                continue
            if key[0] == "=" and not (counted and _NUMBER.match(key[1:])):
                raise BrokenError(match.start(1), f"{key!r} is no branch's key")
            at = self._blank(at)
            if self.text[at : at + 1] != "{":
                raise BrokenError(min(at, len(self.text)), f"the branch {key!r} has no text in braces")
            top.key, top.begun = key, True
            self.names.append(set())
            return at + 1

    def _blank(self, at: int) -> int:
        match = re.compile(_SPACE).match(self.text, at)
        return match.end() if match else at

    def _piece(self, at: int) -> int:
        """Reads the number and sign before a piece of a choice."""
        match = _PIECE.match(self.text, at)
        if match is None or not _NUMBER.match(match.group(1)):
            raise BrokenError(at, "a choice's piece begins with a number and '#', '<' or '≤'")
        self.open[-1].key = match.group(1)
        self.names.append(set())
        return match.end()

    def _end_of_branch(self, at: int, sign: str) -> int:
        top = self.open[-1]
        names = self.names.pop()
        self.names[-1] |= names
        top.branches.append((top.key, frozenset(names)))
        if top.kind == "choice":
            return self._piece(at) if sign == "|" else self._close(at - 1)
        return self._branch(at)

    def _close(self, at: int) -> int:
        top = self.open[-1]
        keys = tuple(key for key, _ in top.branches)
        if top.kind != "choice":
            if "other" not in keys:
                raise BrokenError(top.start, f"the {'select' if top.kind == 'select' else 'plural'} of {top.name!r} has no branch 'other'")
            self.choices.append(Choice(top.name, top.kind, keys))
        self.lacking += partial(top.name, top.branches)
        self.open.pop()
        return at + 1

    def _take(self, name: str, kind: str) -> None:
        self.arguments.add(name, kind)
        self.names[-1].add(name)


def shape(text: str, doubled: bool = False) -> Shape:
    """What *text* takes; where it is broken, the place and the reason. *doubled*: every apostrophe quotes."""
    try:
        return _Reader(text, doubled).read()
    except BrokenError as error:
        return Shape(fault=Fault(error.offset, error.words))


def doubled_shape(text: str) -> Shape:
    """As `shape`, where every apostrophe quotes."""
    return shape(text, doubled=True)


def _pieces(text: str, doubled: bool = False) -> list[Piece] | None:
    """The words and simple arguments; none where there are branches, quoted braces or a fault."""
    reader = _Reader(text, doubled)
    out, words, at = [], "", 0
    try:
        while (match := _SPECIAL.search(text, at)) is not None:
            words += text[at : match.start()]
            sign, at = match.group(), match.end()
            if sign == "'":
                end = reader._quoted(at, "")
                quoted = text[at:end]
                words += "'" if end == at or quoted == "'" else quoted.removesuffix("'").replace("''", "'")
                at = end
            elif sign == "|":
                words += sign
            elif sign == "}":
                return None
            else:
                end = reader._argument(at)
                if reader.open:
                    return None
                (name,) = reader.names[0]
                out += [Piece(words), Piece(text[at - 1 : end], name, dict(reader.arguments.all())[name])]
                reader.names, words, at = [set()], "", end
    except BrokenError:
        return None
    return [each for each in (*out, Piece(words + text[at:])) if each.text]


def _literal(words: str, _formatted: bool, following: bool) -> str:
    """Apostrophes that would quote what follows them are doubled."""
    return f"{words}'" if following and words.endswith("'") and not words.endswith("''") else words.replace("''", "''''")


def _doubled_literal(words: str, _formatted: bool, _following: bool) -> str:
    return words.replace("'", "''")


# A text that is one plural by category, without apostrophes that quote.
_PLURAL = expression(
    rf"{_SPACE}\{{({_SPACE}({_NAME}){_SPACE},{_SPACE}plural{_SPACE},)((?:{_SPACE}[a-z]+{_SPACE}\{{(?:[^{{}}]|\{{[^{{}}]*\}})*\}})+){_SPACE}\}}{_SPACE}"
)
_BRANCH = expression(rf"{_SPACE}([a-z]+){_SPACE}\{{((?:[^{{}}]|\{{[^{{}}]*\}})*)\}}")


def _branches(text: str) -> Branches | None:
    """The branches of a text that is nothing but one plural by category."""
    match = _PLURAL.fullmatch(text) if "plural" in text and not _QUOTES.search(text) else None
    if match is None:
        return None
    forms = dict(_BRANCH.findall(match[3]))
    if "other" not in forms or not set(forms) <= set(CATEGORIES) or shape(text).fault is not None:
        return None

    def written(found: Mapping[str, str]) -> str:
        body = " ".join(f"{form} {{{words}}}" for form, words in found.items())
        return f"{{{match[1].strip()} {body}}}"

    return Branches(match[2], forms, written)


_QUOTES = expression(r"'[{}#|']")

# What only this syntax has: an argument with a kind.
_SURE = expression(r"\{\s*[\w.]+\s*,\s*(?:plural|select|selectordinal|number|date|time|spellout|ordinal|choice)\s*[,}]", re.IGNORECASE)


def _sure(text: str) -> bool:
    return "{" in text and _SURE.search(text) is not None and shape(text).fault is None


_BRANCHING = expression(r"\{\s*[^\s{},]+\s*,\s*(plural|select|selectordinal)\s*,\s*(?:offset\s*:\s*[0-9]+)?")
_BRANCH_KEY = expression(r"\s*[^\s{}]+\s*\{")
_MOST_NESTED = 20


def _words(text: str) -> list[list[tuple[int, int]]]:
    """What stands outside of arguments, and apart from it what stands in each branch; quoted stretches and a plural's ``#`` are left out."""
    groups: list[list[tuple[int, int]]] = []
    _message_words(text, 0, False, groups, 0)
    return groups


def _message_words(text: str, at: int, plural: bool, groups: list[list[tuple[int, int]]], depth: int) -> int:
    """Takes the words of a message that begins at *at*; gives where it ends: at a closing brace or the text's end."""
    start = at
    spans: list[tuple[int, int]] = []
    groups.append(spans)
    while at < len(text) and text[at] != "}":
        sign = text[at]
        if sign == "'" and text[at + 1 : at + 2] in ("{", "}", "#", "|") and text[at + 1 : at + 2]:
            spans.append((start, at))
            closed = text.find("'", at + 1)
            at = start = closed + 1 if closed > 0 else len(text)
        elif sign == "{":
            spans.append((start, at))
            at = start = _argument_words(text, at, groups, depth)
        elif sign == "#" and plural:
            spans.append((start, at))
            at = start = at + 1
        else:
            at += 1
    spans.append((start, at))
    return at


def _argument_words(text: str, at: int, groups: list[list[tuple[int, int]]], depth: int) -> int:
    """Takes the words in the branches of an argument; gives where that ends."""
    head = _BRANCHING.match(text, at)
    if head is None or depth > _MOST_NESTED:
        nested = 0
        for index in range(at, len(text)):
            nested += (text[index] == "{") - (text[index] == "}")
            if not nested:
                return index + 1
        return len(text)
    at = head.end()
    while (key := _BRANCH_KEY.match(text, at)) is not None:
        at = _message_words(text, key.end(), head[1] != "select", groups, depth + 1) + 1
    closed = text.find("}", at)
    return closed + 1 if closed >= 0 else len(text)


SYNTAX = Syntax(
    words=_words,
    name="icu",
    shape=shape,
    written=lambda name, _kind: f"{{{name}}}",
    special="{",
    quoted=doubled_shape,
    pieces=_pieces,
    literal=_literal,
    doubled_pieces=lambda text: _pieces(text, doubled=True),
    doubled_literal=_doubled_literal,
    branches=_branches,
    counts_by_sign=True,
    sure=_sure,
    strictness=1,
    rank=5,
    includes=("brace",),
)
