"""Plural headers: ``nplurals=3; plural=(n==1 ? 0 : n%10>=2 && n%10<=4 ? 1 : 2)``, evaluated and held against CLDR.

Source: the C expressions over ``n`` that message catalogs of the ``po`` format carry; of C only what is of use there: ``? : || && == != < > <= >=
+ - * / % !`` and brackets. The evaluator is our own and bounded: nothing of a file is run.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.tags import LanguageTag, whole_number_categories, whole_numbers
from lemmar.tags.plurals import MOST_COUNTED, c_tests

_HEADER = expression(r"nplurals\s*=\s*([0-9]{1,2})\s*;\s*plural\s*=\s*([^;]{1,1000})")
_TOKEN = expression(r"\s*([0-9]{1,9}|n\b|\|\||&&|[=!<>]=|[-+*/%?:()<>!])")
_BINARY = {"||": 1, "&&": 2, "==": 3, "!=": 3, "<": 4, ">": 4, "<=": 4, ">=": 4, "+": 5, "-": 5, "*": 6, "/": 6, "%": 6}
_MOST_LEVELS = 60
# Enough for every rule of CLDR but those of whole millions, which no header knows.

_Value = Callable[[int], int]


class Header(NamedTuple):
    """How many forms a catalog has, and which of them each number takes."""

    forms: int
    form: _Value


def read_header(text: str) -> Header | None:
    """The header in *text*; None where there is none, or one that cannot be read."""
    match = _HEADER.search(text)
    if match is None:
        return None
    try:
        form = _Expression(match.group(2)).whole()
        form(0)
    except (ValueError, RecursionError):
        return None
    return Header(int(match.group(1)), form)


class _Expression:
    """A reader of one expression, which gives a function of the number."""

    def __init__(self, text: str) -> None:
        self.tokens: list[str] = []
        at = 0
        text = text.rstrip()
        while at < len(text):
            match = _TOKEN.match(text, at)
            if match is None:
                raise ValueError(text[at:])
            self.tokens.append(match.group(1))
            at = match.end()
        self.at = 0
        self.depth = 0

    def whole(self) -> _Value:
        """The expression. Raises `ValueError` where it is none."""
        found = self.choice()
        if self.at < len(self.tokens):
            raise ValueError(self.tokens[self.at])
        return found

    def next(self) -> str:
        return self.tokens[self.at] if self.at < len(self.tokens) else ""

    def take(self, wanted: str) -> None:
        if self.next() != wanted:
            raise ValueError(self.next())
        self.at += 1

    def choice(self) -> _Value:
        self.depth += 1
        if self.depth > _MOST_LEVELS:
            raise ValueError("nested too deep")
        test = self.binary(1)
        if self.next() == "?":
            self.at += 1
            yes = self.choice()
            self.take(":")
            no = self.choice()
            self.depth -= 1
            return lambda n: yes(n) if test(n) else no(n)
        self.depth -= 1
        return test

    def binary(self, least: int) -> _Value:
        left = self.single()
        while _BINARY.get(self.next(), 0) >= least:
            sign = self.next()
            self.at += 1
            left = _joined(sign, left, self.binary(_BINARY[sign] + 1))
        return left

    def single(self) -> _Value:
        token = self.next()
        self.at += 1
        if token == "(":
            inner = self.choice()
            self.take(")")
            return inner
        if token == "!":
            self.depth += 1
            if self.depth > _MOST_LEVELS:
                raise ValueError("nested too deep")
            inner = self.single()
            self.depth -= 1
            return lambda n: int(not inner(n))
        if token == "n":
            return lambda n: n
        if token.isdigit():
            number = int(token)
            return lambda _n: number
        raise ValueError(token)


def _joined(sign: str, left: _Value, right: _Value) -> _Value:
    return {
        "||": lambda n: int(bool(left(n)) or bool(right(n))),
        "&&": lambda n: int(bool(left(n)) and bool(right(n))),
        "==": lambda n: int(left(n) == right(n)),
        "!=": lambda n: int(left(n) != right(n)),
        "<": lambda n: int(left(n) < right(n)),
        ">": lambda n: int(left(n) > right(n)),
        "<=": lambda n: int(left(n) <= right(n)),
        ">=": lambda n: int(left(n) >= right(n)),
        "+": lambda n: left(n) + right(n),
        "-": lambda n: left(n) - right(n),
        "*": lambda n: left(n) * right(n),
        "/": lambda n: left(n) // (right(n) or 1),
        "%": lambda n: left(n) % (right(n) or 1),
    }[sign]


def form_names(header: Header, tag: LanguageTag) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """The plural category that each of the header's forms stands for in the language, and the categories that no form stands for.

    A form that several categories share stands for the one of which it takes the greatest share of the numbers up to a thousand; one that no
    number takes, and the lesser of two that stand for the same, have their number for a name.
    """
    reached = whole_numbers(tag, "cardinal")
    category_of = {number: name for name, numbers in reached.items() for number in numbers}
    counts: list[Counter[str]] = [Counter() for _ in range(header.forms)]
    for number in range(MOST_COUNTED + 1):
        form = header.form(number)
        if 0 <= form < header.forms:
            counts[form][category_of[number]] += 1
    total = sum(counts, Counter())
    best = {}
    for place, count in enumerate(counts):
        if count:
            name = max(count, key=lambda name: (count[name] / total[name], count[name]))
            best[place] = (count[name] / total[name], count[name], name)
    names = [str(place) for place in range(header.forms)]
    for place, (_, _, name) in sorted(best.items(), key=lambda item: item[1], reverse=True):
        if name not in names:
            names[place] = name
    wanted = [name for name in whole_number_categories(tag, "cardinal") if name in reached]
    return tuple(names), tuple(name for name in wanted if name not in names)


def plural_header(tag: LanguageTag) -> str:
    """The header of the language, by CLDR's rules: a form for each category that whole numbers up to a thousand take, in CLDR's order."""
    reached = list(whole_numbers(tag, "cardinal"))
    tests = c_tests(tag)
    rest = "other" if "other" in reached else reached[-1]
    choice = str(reached.index(rest))
    if len(reached) == 1:
        return "nplurals=1; plural=0;"
    if len(reached) == 2:
        name = next(each for each in reached if each != rest)
        plain = tests[name]
        if reached.index(name) == 0:  # the test is whether it is the second
            return f"nplurals=2; plural=({_negated(plain)});"
    for name in reversed([each for each in reached if each != rest]):
        choice = f"{tests[name]} ? {reached.index(name)} : {choice}"
    return f"nplurals={len(reached)}; plural=({choice});"


def _negated(test: str) -> str:
    """The opposite of a C expression."""
    if re.fullmatch(r"[n%0-9]+==[0-9]+", test):
        return test.replace("==", "!=")
    return test.replace("<=", ">") if re.fullmatch(r"n<=[0-9]+", test) else f"!({test})"
