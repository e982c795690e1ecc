r"""Unicode MessageFormat 2: ``{$name}``, ``{$n :number}``, ``{#b}…{/b}``, ``.input``, ``.local``, ``.match`` with variants, ``\\{``.

Source: UTS 35 part 9, MessageFormat, its whole grammar in ABNF, and its data model errors: a variant with too many or too few keys, no
variant for all the rest, a selector without a function, a name that is declared twice or before its use, an option or a variant twice.
A selector with a function for numbers is a plural; ``*`` is its *other*, a number its exact branch.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.syntax._arguments import Arguments, BrokenError, partial
from lemmar.syntax._shape import Branches, Choice, Fault, Piece, Shape, Syntax
from lemmar.tags import CATEGORIES

_BIDI = "\u061c\u200e\u200f\u2066-\u2069"
_WS = " \t\r\n\u3000"
_O = expression(f"[{_WS}{_BIDI}]*")
_S = expression(f"[{_BIDI}]*[{_WS}][{_WS}{_BIDI}]*")
_START = (
    "A-Za-z_+\u00a1-\u061b\u061d-\u167f\u1681-\u1fff\u200b-\u200d\u2010-\u2027\u2030-\u205e\u2060-\u2065\u206a-\u2fff\u3001-\ud7ff"
    "\ue000-\ufdcf\ufdf0-\ufffd\U00010000-\U0001fffd\U00020000-\U0002fffd\U00030000-\U0003fffd\U00040000-\U0004fffd\U00050000-\U0005fffd"
    "\U00060000-\U0006fffd\U00070000-\U0007fffd\U00080000-\U0008fffd\U00090000-\U0009fffd\U000a0000-\U000afffd\U000b0000-\U000bfffd"
    "\U000c0000-\U000cfffd\U000d0000-\U000dfffd\U000e0000-\U000efffd\U000f0000-\U000ffffd\U00100000-\U0010fffd"
)
_NAME = f"[{_BIDI}]?([{_START}][{_START}0-9.-]*)[{_BIDI}]?"
_NAMED = expression(_NAME)
_IDENTIFIER = expression(f"(?:{_NAME}:)?{_NAME}")
_UNQUOTED = expression(f"[{_BIDI}]?([{_START}0-9.-]+)[{_BIDI}]?")
_QUOTED = expression(r"\|((?:[^\\|\x00]|\\[\\{|}])*)\|")
_TEXT = expression(r"(?:[^\\{}\x00]|\\[\\{|}])*")
_ESCAPED = expression(r"\\(.)", re.DOTALL)
_NUMERIC = {"number", "integer", "currency", "percent", "unit", "offset", "math"}
_DATES = {"date", "time", "datetime"}
_NUMBER = expression(r"-?(?:0|[1-9][0-9]*)(?:\.[0-9]+)?(?:[eE][-+]?[0-9]+)?\Z")


class _Expression(NamedTuple):
    """What stands in braces: the variable it shows, its function and options, the element it opens or closes."""

    variable: str | None
    function: str | None
    options: dict[str, str]
    markup: str | None
    closes: bool
    end: int


class _Reader:
    """Reads one message."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.arguments = Arguments()
        self.functions: dict[str, tuple[str | None, dict[str, str]]] = {}
        self.local: set[str] = set()
        self.used: set[str] = set()
        self.markup: list[str] = []
        self.choices: list[Choice] = []
        self.lacking: tuple[tuple[str, str], ...] = ()

    def read(self) -> Shape:
        """The message's shape. Raises `BrokenError`."""
        start = self._o(0)
        if self.text[start : start + 1] == "." or self.text.startswith("{{", start):
            self._complex(start)
        else:
            end, _ = self._pattern(0)
            if end < len(self.text):
                raise BrokenError(end, f"{self.text[end]!r} stands alone; write it as '\\{self.text[end]}'")
        return Shape(self.arguments.all(), tuple(self.choices), self.lacking, tuple(sorted(self.markup)))

    def _o(self, at: int) -> int:
        match = _O.match(self.text, at)
        assert match is not None
        return match.end()

    def _s(self, at: int, behind: str) -> int:
        match = _S.match(self.text, at)
        if match is None:
            raise BrokenError(at, f"a blank is missing behind {behind}")
        return match.end()

    def _at(self, at: int) -> str:
        return self.text[at : at + 1]

    # --------------------------------------------------------------------------------------------------------- complex messages

    def _complex(self, at: int) -> None:
        while True:
            if self.text.startswith(".input", at):
                at = self._o(self._input(at))
            elif self.text.startswith(".local", at):
                at = self._o(self._declare_local(at))
            else:
                break
        if self.text.startswith(".match", at):
            end = self._matcher(at)
        elif self.text.startswith("{{", at):
            end, _ = self._quoted_pattern(at)
        else:
            raise BrokenError(at, "a pattern in '{{' and '}}' or '.match' is expected here")
        end = self._o(end)
        if end < len(self.text):
            raise BrokenError(end, "nothing may stand behind the message")

    def _input(self, at: int) -> int:
        start = self._o(at + 6)
        if self._at(start) != "{":
            raise BrokenError(start, "'.input' is followed by a variable in braces")
        found = self._expression(start, declares=True)
        if found.variable is None or found.markup is not None:
            raise BrokenError(start, "'.input' is followed by a variable in braces")
        self._declare(found.variable, start)
        self.functions[found.variable] = (found.function, found.options)
        return found.end

    def _declare_local(self, at: int) -> int:
        start = self._s(at + 6, "'.local'")
        name, end = self._variable(start)
        end = self._o(end)
        if self._at(end) != "=":
            raise BrokenError(end, f"'=' is expected behind '${name}'")
        start_of_value = self._o(end + 1)
        if self._at(start_of_value) != "{":
            raise BrokenError(start_of_value, "a value in braces is expected here")
        found = self._expression(start_of_value)
        if found.markup is not None:
            raise BrokenError(start_of_value, "an element is no value")
        self._declare(name, start)
        function, options = found.function, found.options
        if function is None and found.variable is not None:
            function, options = self.functions.get(found.variable, (None, {}))
        self.functions[name] = (function, options)
        self.local.add(name)
        return found.end

    def _declare(self, name: str, at: int) -> None:
        if name in self.functions or name in self.used:
            raise BrokenError(at, f"'${name}' is declared twice, or after its use")

    def _matcher(self, at: int) -> int:
        at += 6
        selectors: list[tuple[str, int]] = []
        while True:
            match = _S.match(self.text, at)
            if match is None or self._at(match.end()) != "$":
                break
            start = match.end()
            name, at = self._variable(start)
            selectors.append((name, start))
        if not selectors:
            raise BrokenError(at, "'.match' is followed by the variables to go by")
        for name, start in selectors:
            if self.functions.get(name, (None, {}))[0] is None:
                raise BrokenError(start, f"'${name}' is declared with no function to go by, such as ':number'")
        at = self._s(at, "the variables of '.match'")
        variants: list[tuple[tuple[str, ...], frozenset[str]]] = []
        seen: set[tuple[str, ...]] = set()
        while (self._at(at) and self._at(at) != "{") or self.text.startswith("{{", at):
            start = at
            keys, at = self._keys(at)
            if len(keys) != len(selectors):
                raise BrokenError(start, f"{len(keys)} keys stand here for {len(selectors)} variables")
            if keys in seen:
                raise BrokenError(start, f"the variant {' '.join(keys)!r} is there twice")
            seen.add(keys)
            at, names = self._quoted_pattern(at)
            variants.append((keys, names))
            following = self._o(at)
            if not self._at(following):
                break
            at = following
        if not any(all(key == "*" for key in keys) for keys, _ in variants):
            raise BrokenError(selectors[0][1], "no variant has '*' for all the rest")
        self._choose([name for name, _ in selectors], variants)
        return at

    def _keys(self, at: int) -> tuple[tuple[str, ...], int]:
        keys = []
        while True:
            if self._at(at) == "*":
                keys.append("*")
                at += 1
            else:
                literal, at = self._literal(at, "a variant's key")
                keys.append(f"|{literal}" if literal == "*" else literal)
            match = _S.match(self.text, at)
            following = match.end() if match else self._o(at)
            if self._at(following) == "{":
                return tuple(keys), following
            if match is None:
                raise BrokenError(at, "a blank is missing behind a variant's key")
            at = following

    def _choose(self, names: list[str], variants: list[tuple[tuple[str, ...], frozenset[str]]]) -> None:
        for place, name in enumerate(names):
            function, options = self.functions[name]
            plural = function in _NUMERIC and options.get("select") != "exact"
            kind = ("ordinal" if options.get("select") == "ordinal" else "plural") if plural else "select"
            keys = dict.fromkeys(_key(keys[place], plural) for keys, _ in variants)
            self.choices.append(Choice(name, kind, tuple(keys)))
        own = names[0] if len(names) == 1 else ""
        labelled = [(" ".join(_key(key, True) for key in keys), found - set(names)) for keys, found in variants]
        self.lacking = partial(own, labelled)

    # ------------------------------------------------------------------------------------------------------------------ patterns

    def _quoted_pattern(self, at: int) -> tuple[int, frozenset[str]]:
        if not self.text.startswith("{{", at):
            raise BrokenError(at, "a pattern in '{{' and '}}' is expected here")
        end, names = self._pattern(at + 2)
        if not self.text.startswith("}}", end):
            raise BrokenError(at, "this '{{' is never closed by '}}'" if not self._at(end) else "'}' stands alone; write it as '\\}'")
        return end + 2, names

    def _pattern(self, at: int) -> tuple[int, frozenset[str]]:
        """Where the pattern ends (at a brace that is none of its own, or the text's end), and the variables in it."""
        names: set[str] = set()
        while True:
            match = _TEXT.match(self.text, at)
            assert match is not None
            at = match.end()
            sign = self._at(at)
            if sign == "\\":
                raise BrokenError(at, "'\\' stands only before '\\', '{', '|' and '}'")
            if sign != "{":
                if sign == "\0":
                    raise BrokenError(at, "a message cannot hold the character U+0000")
                return at, frozenset(names)
            found = self._expression(at)
            if found.variable is not None:
                names.add(found.variable)
            if found.markup is not None and not found.closes:
                self.markup.append(found.markup)
            at = found.end

    def _expression(self, start: int, declares: bool = False) -> _Expression:
        """Reads what stands in braces from *start* on."""
        at = self._o(start + 1)
        sign = self._at(at)
        variable = function = markup = None
        options: dict[str, str] = {}
        spaced = True
        if sign == "$":
            variable, at = self._variable(at)
            at, spaced = self._spaced(at)
        elif sign in ("#", "/"):
            markup, at = self._identifier(at + 1)
            at, spaced = self._spaced(at)
        elif sign == "":
            raise BrokenError(start, "this '{' is never closed")
        elif sign != ":":
            _, at = self._literal(at, "a placeholder")
            at, spaced = self._spaced(at)
        if self._at(at) == ":" and markup is None:
            if not spaced:
                raise BrokenError(at, "a blank is missing before ':'")
            function, at = self._identifier(at + 1)
            at, spaced = self._spaced(at)
        if function is not None or markup is not None:
            at, spaced = self._options(at, spaced, options)
        at = self._attributes(at, spaced)
        closes = sign == "/"
        if self._at(at) == "/" and sign == "#":
            at += 1
        if self._at(at) != "}":
            raise BrokenError(at if self._at(at) else start, "'}' is expected here" if self._at(at) else "this '{' is never closed")
        if variable is not None:
            self._use(variable, function, declares)
        return _Expression(variable, function, options, markup, closes, at + 1)

    def _use(self, variable: str, function: str | None, declares: bool) -> None:
        if not declares:
            self.used.add(variable)
        if variable not in self.local:
            kind = "number" if function in _NUMERIC else "date" if function in _DATES else ""
            self.arguments.add(variable, kind)

    def _spaced(self, at: int) -> tuple[int, bool]:
        match = _S.match(self.text, at)
        return (match.end(), True) if match else (self._o(at), False)

    def _options(self, at: int, spaced: bool, options: dict[str, str]) -> tuple[int, bool]:
        while self._at(at) not in ("", "}", "@", "/"):
            if not spaced:
                raise BrokenError(at, "a blank is missing before an option")
            start = at
            name, at = self._identifier(at)
            at = self._o(at)
            if self._at(at) != "=":
                raise BrokenError(at, f"'=' is expected behind the option {name!r}")
            if name in options:
                raise BrokenError(start, f"the option {name!r} is there twice")
            at = self._o(at + 1)
            if self._at(at) == "$":
                value, at = self._variable(at)
                self._use(value, None, False)
                options[name] = f"${value}"
            else:
                options[name], at = self._literal(at, f"the option {name!r}")
            at, spaced = self._spaced(at)
        return at, spaced

    def _attributes(self, at: int, spaced: bool) -> int:
        while self._at(at) == "@":
            if not spaced:
                raise BrokenError(at, "a blank is missing before '@'")
            name, at = self._identifier(at + 1)
            following = self._o(at)
            if self._at(following) == "=":
                _, at = self._literal(self._o(following + 1), f"the attribute {name!r}")
            at, spaced = self._spaced(at)
        return at

    def _variable(self, at: int) -> tuple[str, int]:
        match = _NAMED.match(self.text, at + 1) if self._at(at) == "$" else None
        if match is None:
            raise BrokenError(at, "a variable such as '$name' is expected here")
        return match.group(1), match.end()

    def _identifier(self, at: int) -> tuple[str, int]:
        match = _IDENTIFIER.match(self.text, at)
        if match is None:
            raise BrokenError(at, "a name is expected here")
        return (f"{match.group(1)}:{match.group(2)}" if match.group(1) else match.group(2)), match.end()

    def _literal(self, at: int, where: str) -> tuple[str, int]:
        match = _QUOTED.match(self.text, at)
        if match is not None:
            return _ESCAPED.sub(r"\1", match.group(1)), match.end()
        if self._at(at) == "|":
            raise BrokenError(at, "this '|' is never closed")
        match = _UNQUOTED.match(self.text, at)
        if match is None:
            raise BrokenError(at, f"{where} has no value here")
        return match.group(1), match.end()


def _key(key: str, plural: bool) -> str:
    """A variant's key as other syntaxes have it: ``other``, ``=1``."""
    return "other" if key == "*" else f"={key}" if plural and _NUMBER.match(key) else key


def shape(text: str) -> Shape:
    """What *text* takes; where it is broken, the place and the reason."""
    try:
        return _Reader(text).read()
    except BrokenError as error:
        return Shape(fault=Fault(error.offset, error.words))


# What only this syntax has: a declaration, a variable with its sign, markup in braces.
_SURE = expression(r"^\s*\.(?:input|local|match)\s|\{\s*\$[A-Za-z_][\w-]*\s*(?::[a-z]|\}|\s)|\{\s*[#/][a-z]")


def _sure(text: str) -> bool:
    return "{" in text and _SURE.search(text) is not None and shape(text).fault is None


_PATTERN = expression(r"\{\{(.*?)\}\}(?!\})", re.DOTALL)
_INSIDE = expression(r"\{(?:[^{}|]|\|(?:[^|\\]|\\.)*\|)*\}|\\.", re.DOTALL)


def _words(text: str) -> list[list[tuple[int, int]]]:
    """What stands in each quoted pattern, of a simple message all of it, without placeholders and escapes."""
    is_simple = not text.lstrip().startswith((".", "{{"))
    groups = []
    for first, last in [(0, len(text))] if is_simple else [match.span(1) for match in _PATTERN.finditer(text)]:
        start, spans = first, []
        for inside in _INSIDE.finditer(text, first, last):
            spans.append((start, inside.start()))
            start = inside.end()
        spans.append((start, last))
        groups.append(spans)
    return groups


def _pieces(text: str) -> list[Piece] | None:
    """The words and variables of a message without declarations, markup and escapes."""
    if text.startswith((".", "{{")) or "\\" in text:
        return None
    out, position = [], 0
    for match in _BRACED.finditer(text):
        found = shape(match.group())
        if len(found.arguments) != 1 or found.markup or found.fault is not None:
            return None
        out += [Piece(text[position : match.start()]), Piece(match.group(), *found.arguments[0])]
        position = match.end()
    return [each for each in (*out, Piece(text[position:])) if each.text]


_BRACED = expression(r"\{[^{}]*\}")
# A message that is one selection by a number, its variants by category.
_COUNTED = expression(
    rf"(\s*\.input\s*\{{\s*\$([{_START}][{_START}0-9.-]*)\s+:(?:number|integer)\s*\}}\s*\.match\s+\$(?:\2))((?:\s*(?:[a-z]+|\*)\s*\{{\{{(?:[^{{}}]|\{{[^{{}}]*\}})*\}}\}})+)\s*"
)
_VARIANT = expression(r"(\s*)([a-z]+|\*)(\s*)\{\{((?:[^{}]|\{[^{}]*\})*)\}\}")


def _branches(text: str) -> Branches | None:
    """The variants of a message that is nothing but one selection by a number."""
    match = _COUNTED.fullmatch(text) if ".match" in text and "\\" not in text else None
    if match is None:
        return None
    found = _VARIANT.findall(match[3])
    forms = {"other" if key == "*" else key: words for _, key, _, words in found}
    if "other" not in forms or not set(forms) <= set(CATEGORIES) or len(forms) != len(found) or shape(text).fault is not None:
        return None
    before, _, between, _ = found[0]

    def written(made: Mapping[str, str]) -> str:
        return match[1] + "".join(f"{before}{'*' if form == 'other' else form}{between}{{{{{words}}}}}" for form, words in made.items())

    return Branches(match[2], forms, written)


SYNTAX = Syntax(
    words=_words,
    pieces=_pieces,
    branches=_branches,
    name="mf2",
    shape=shape,
    written=lambda name, _kind: f"{{${name}}}",
    special="{}\\",
    first=".",
    sure=_sure,
    strictness=2,
    rank=4,
)
