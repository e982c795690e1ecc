"""Plural categories: UTS 35 part 3, Language Plural Rules, evaluated by a small reader of its own rule syntax."""

from __future__ import annotations

from functools import lru_cache
from typing import Literal, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.tags.language_tag import LanguageTag
from lemmar.tags.tables import table

Kind = Literal["cardinal", "ordinal"]
#: CLDR's order of the categories.
CATEGORIES = ("zero", "one", "two", "few", "many", "other")
_NUMBER = expression(r"([0-9]{1,40})(?:\.([0-9]{0,40}))?(?:[ce]([0-9]{1,2}))?\Z")
_RELATION = expression(r"([nivwftce])(?: % ([0-9]+))? (!?=) ([0-9.,]+)\Z")


class _Relation(NamedTuple):
    operand: str
    modulus: int
    negated: bool
    ranges: tuple[tuple[int, int], ...]


class Operands(NamedTuple):
    """The operands of UTS 35: *n* as whole part and whether it is whole; digits and counts of its visible fraction."""

    i: int
    whole: bool
    v: int
    w: int
    f: int
    t: int
    e: int


def operands(number: str) -> Operands:
    """The operands of *number*, in which visible decimals count: ``1``, ``1.0``, ``1c6`` (an exponent in compact form).

    Raises:
        ValueError: *number* is no such text.
    """
    match = _NUMBER.match(number.removeprefix("-"))
    if not match:
        raise ValueError(f"{number!r} is no number; write it as 1, 1.50 or 1c6")
    digits, fraction, exponent = match.group(1), match.group(2) or "", int(match.group(3) or 0)
    moved = fraction.ljust(exponent, "0")
    whole, fraction = int(digits + moved[:exponent]), moved[exponent:]
    trimmed = fraction.rstrip("0")
    return Operands(whole, not trimmed, len(fraction), len(trimmed), int(fraction or 0), int(trimmed or 0), exponent)


def plural_categories(tag: LanguageTag, kind: Kind) -> tuple[str, ...]:
    """The categories of the language, in CLDR's order, ``other`` always among them."""
    rules = _rules(tag, kind)
    return tuple(category for category in CATEGORIES if category in rules or category == "other")


def whole_number_categories(tag: LanguageTag, kind: Kind) -> tuple[str, ...]:
    """Those of the categories that whole numbers reach (CLDR gives an integer sample for them)."""
    rules = _rules(tag, kind)
    return tuple(category for category in CATEGORIES if category in rules and rules[category][1]) or ("other",)


def plural_category(tag: LanguageTag, number: str, kind: Kind) -> str:
    """The category that *number* takes. Raises `ValueError` where it is no number."""
    found = operands(number)
    for category, (rule, _) in _rules(tag, kind).items():
        if category != "other" and any(all(_holds(relation, found) for relation in both) for both in _parsed(rule)):
            return category
    return "other"


#: The whole numbers by which it is judged what a category is for: up to here, those of the samples that CLDR gives.
MOST_COUNTED = 1000
_ALL = frozenset(range(MOST_COUNTED + 1))


@lru_cache(maxsize=1024)
def whole_numbers(tag: LanguageTag, kind: Kind) -> dict[str, frozenset[int]]:
    """The whole numbers up to `MOST_COUNTED` that take each category, the categories that none of them takes left out; in CLDR's order.

    By sets of numbers, a relation at a time: `plural_category` of each gives the same.
    """
    left, found = _ALL, {}
    for category, (rule, _) in _rules(tag, kind).items():
        if category != "other":
            taken = frozenset().union(*(left.intersection(*map(_numbers_of, both)) for both in _parsed(rule)))
            found[category] = taken
            left -= taken
    found["other"] = left
    return {category: found[category] for category in CATEGORIES if found.get(category)}


@lru_cache(maxsize=512)
def _numbers_of(relation: _Relation) -> frozenset[int]:
    """The whole numbers for which a relation holds; without visible decimals and exponents, all other operands are 0."""
    if relation.operand not in ("n", "i"):
        return _ALL if _holds(relation, Operands(0, True, 0, 0, 0, 0, 0)) else frozenset()
    inside: set[int] = set()
    for first, last in relation.ranges:
        if relation.modulus:
            for residue in range(first, min(last, relation.modulus - 1) + 1):
                inside.update(range(residue, MOST_COUNTED + 1, relation.modulus))
        else:
            inside.update(range(first, min(last, MOST_COUNTED) + 1))
    return _ALL - inside if relation.negated else frozenset(inside)


def _rules(tag: LanguageTag, kind: Kind) -> dict[str, tuple[str, int]]:
    """The rules of the canonical tag or the nearest of its truncations that has some; none: all is *other*."""
    subtags = str(tag.canonical()).split("-")
    known: dict[str, dict[str, tuple[str, int]]] = table("plurals")[kind]
    for length in range(len(subtags), 0, -1):
        found = known.get("-".join(subtags[:length]))
        if found is not None:
            return found
    return {}


def c_tests(tag: LanguageTag) -> dict[str, str]:
    """For each category but *other* that whole numbers up to `MOST_COUNTED` take a test of the whole number ``n``, as C writes it."""
    reached = whole_numbers(tag, "cardinal")
    found = {}
    for category, (rule, _) in _rules(tag, "cardinal").items():
        if category == "other" or category not in reached:
            continue
        alternatives: list[list[str]] = []
        for both in _parsed(rule):
            if all(_numbers_of(relation) for relation in both):
                tests = [_c_test(relation) for relation in both if _numbers_of(relation) != _ALL]
                alternatives.append(tests)
        found[category] = " || ".join(
            f"({' && '.join(tests)})" if len(tests) > 1 < len(alternatives) else " && ".join(tests) for tests in alternatives
        )
    return found


def _c_test(relation: _Relation) -> str:
    value = f"n%{relation.modulus}" if relation.modulus else "n"
    equal, joint = ("!=", " && ") if relation.negated else ("==", " || ")
    tests = []
    ranges: list[tuple[int, int]] = []
    for first, last in relation.ranges:
        if ranges and ranges[-1][1] + 1 == first:
            ranges[-1] = (ranges[-1][0], last)
        else:
            ranges.append((first, last))
    for first, last in ranges:
        if not first and last and not relation.negated and not relation.modulus:
            tests.append(f"{value}<={last}")
        elif first == last:
            tests.append(f"{value}{equal}{first}")
        elif relation.negated:
            tests.append(f"({value}<{first} || {value}>{last})")
        else:
            tests.append(f"({value}>={first} && {value}<={last})")
    return tests[0] if len(tests) == 1 else f"({joint.join(tests)})"


@lru_cache(maxsize=512)
def _parsed(rule: str) -> tuple[tuple[_Relation, ...], ...]:
    """A rule as alternatives of conditions that hold together."""
    return tuple(tuple(_relation(text) for text in both.split(" and ")) for both in rule.split(" or "))


def _relation(text: str) -> _Relation:
    match = _RELATION.match(text.strip())
    if not match:
        raise ValueError(f"the plural condition {text!r} cannot be read")
    operand, modulus, sign, ranges = match.groups()
    pairs = [part.split("..") for part in ranges.split(",")]
    return _Relation(operand, int(modulus or 0), sign == "!=", tuple((int(pair[0]), int(pair[-1])) for pair in pairs))


def _holds(relation: _Relation, found: Operands) -> bool:
    value = {"n": found.i, "i": found.i, "v": found.v, "w": found.w, "f": found.f, "t": found.t, "c": found.e, "e": found.e}[
        relation.operand
    ]
    value = value % relation.modulus if relation.modulus else value
    inside = any(first <= value <= last for first, last in relation.ranges) and (relation.operand != "n" or found.whole)
    return inside != relation.negated
