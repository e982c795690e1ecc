"""What of a source's text a translation does not carry: two shapes held against each other, by the plural rules of the translation's language.

Pure. Source: UTS 35 part 3, Language Plural Rules. A category counts as needed where whole numbers below a thousand reach it: those that only
millions, exponents or fractions reach may be left out, and are not surplus.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from functools import lru_cache
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.syntax import Argument, Choice, Shape
from lemmar.tags import CATEGORIES, LanguageTag, plural_categories, whole_number_categories, whole_numbers

_COUNTING = expression(r"count|num|total|quantity|amount|\An\Z", re.IGNORECASE)
_EXACT = expression(r"=[0-9]{1,9}\Z")
_NUMERIC = frozenset(("number", "whole"))


class Plural(NamedTuple):
    """The plural rules of a language for one kind of number: all its categories, those needed, the whole numbers that reach each, and the
    *rare* categories, which only whole millions or exponents reach.
    """

    known: frozenset[str]
    needed: tuple[str, ...]
    numbers: Mapping[str, frozenset[int]]
    rare: tuple[str, ...] = ()


@lru_cache(maxsize=1024)
def plural_of(tag: str, kind: str, own: tuple[str, ...] = ()) -> Plural:
    """The plural rules of *tag* for *kind* (``plural`` or ``ordinal``); *own* are the categories that a charter gives the language."""
    if own:
        return Plural(frozenset(own), tuple(own), {})
    parsed = LanguageTag.parse(tag)
    which = "ordinal" if kind == "ordinal" else "cardinal"
    found = whole_numbers(parsed, which)
    known = frozenset(plural_categories(parsed, which))  # type: ignore[arg-type]
    rare = tuple(name for name in whole_number_categories(parsed, which) if name not in found)  # type: ignore[arg-type]
    return Plural(known, tuple(found), found, rare)


class Counted(NamedTuple):
    """A plural or ordinal, by its argument, and categories that it lacks or has too many."""

    argument: str
    kind: str
    categories: tuple[str, ...]


class Retyped(NamedTuple):
    """An argument that is shown as another kind of value than in the source."""

    name: str
    wanted: str
    found: str


class Differences(NamedTuple):
    """What a translation does not carry as the source has it; all empty where it is intact."""

    lost: tuple[str, ...] = ()
    added: tuple[str, ...] = ()
    retyped: tuple[Retyped, ...] = ()
    lost_in: tuple[tuple[str, str], ...] = ()
    missing: tuple[Counted, ...] = ()
    rarely: tuple[Counted, ...] = ()
    surplus: tuple[Counted, ...] = ()
    branches: tuple[tuple[str, tuple[str, ...]], ...] = ()
    markup: tuple[str, ...] = ()


INTACT = Differences()


def differences(wanted: Shape, found: Shape, tag: str, own: tuple[str, ...] = ()) -> Differences:
    """What *found*, a text in *tag*, does not carry of *wanted*, the source's; nothing where either is broken."""
    if any(shape.fault is not None and not shape.fault.mild for shape in (wanted, found)):
        return INTACT
    there, here = dict(wanted.arguments), dict(found.arguments)
    lost = tuple(name for name, kind in wanted.arguments if name not in here and kind != "choice")
    added = tuple(name for name in here if name not in there)
    retyped = tuple(
        Retyped(name, kind, other)
        for name, kind in wanted.arguments
        if kind and here.get(name) and (other := _other_kind(kind, here[name]))
    )
    missing, surplus = plurals(found, tag, own)
    return Differences(
        lost,
        added,
        retyped,
        tuple(_lost_in(wanted, found, tag, own)),
        missing,
        () if missing else rarely(found, tag, own),
        surplus,
        tuple(_branches(wanted, found)),
        tuple(_markup(wanted.markup, found.markup)),
    )


# Kinds of values of which a conversion takes one alone.
_CONVERTED = frozenset(("text", "object", "whole", "real", "character", "date"))


def _other_kind(wanted: str, found: str) -> str:
    """As what kind of value a translation shows what the source shows as *wanted*; empty where they agree."""
    there, here = set(wanted.split("/")), set(found.split("/"))
    if not there & here:
        return found
    return "/".join(sorted(here - there)) if here <= _CONVERTED and there <= _CONVERTED else ""


def plurals(found: Shape, tag: str, own: tuple[str, ...] = ()) -> tuple[tuple[Counted, ...], tuple[Counted, ...]]:
    """The categories that the plurals of a text in *tag* lack, and those that they have and the language has not."""
    missing: list[Counted] = []
    surplus: list[Counted] = []
    for choice in found.choices:
        if choice.kind == "select" or not any(key in CATEGORIES for key in choice.keys):
            continue
        plural = plural_of(tag, choice.kind, own)
        exact = frozenset(int(key[1:]) for key in choice.keys if _EXACT.match(key))
        spelled = any(key[:1] == "=" and not _EXACT.match(key) for key in choice.keys)
        lacking = tuple(
            name for name in plural.needed if name not in choice.keys and not (plural.numbers.get(name) and plural.numbers[name] <= exact)
        )
        if lacking and not spelled and not (lacking == ("other",) and not choice.argument and _leaves_other(tag, own)):
            missing.append(Counted(choice.argument, choice.kind, lacking))
        free = {"other", *(("zero",) if not choice.argument else ())}  # several formats show a form for zero in any language
        extra = tuple(key for key in choice.keys if key[:1] != "=" and not key.isdigit() and key not in plural.known and key not in free)
        if extra:
            surplus.append(Counted(choice.argument, choice.kind, extra))
    return tuple(dict.fromkeys(missing)), tuple(dict.fromkeys(surplus))


def rarely(found: Shape, tag: str, own: tuple[str, ...] = ()) -> tuple[Counted, ...]:
    """The categories that the plurals of a text in *tag* lack and only whole millions or exponents reach."""
    lacking = []
    for choice in found.choices:
        if choice.kind != "select" and not all(key.isdigit() or key not in CATEGORIES for key in choice.keys):
            missing = tuple(name for name in plural_of(tag, choice.kind, own).rare if name not in choice.keys)
            if missing and "other" in choice.keys:
                lacking.append(Counted(choice.argument, choice.kind, missing))
    return tuple(dict.fromkeys(lacking))


@lru_cache(maxsize=1024)
def _leaves_other(tag: str, own: tuple[str, ...]) -> bool:
    """Whether a format that numbers its forms has none for *other*: no whole number takes it."""
    return bool(own) or "other" not in whole_number_categories(LanguageTag.parse(tag), "cardinal")


def _lost_in(wanted: Shape, found: Shape, tag: str, own: tuple[str, ...]) -> Sequence[tuple[str, str]]:
    """The arguments that one branch lacks and another has, where the source does not leave them out as well."""
    lacking = []
    types = dict(found.arguments)
    left_out = {name for name, _ in wanted.partial}
    for name, branch in found.partial:
        if name in left_out or branch[:1] == "=" or branch.isdigit():
            continue
        choice = _choice_of(found.choices, branch)
        if choice is not None and choice.kind != "select":
            numbers = plural_of(tag, choice.kind, own).numbers.get(branch)
            alone = sum(1 for _, other in found.partial if other == branch) == 1 and not types.get(name)
            counts = types.get(name) in _NUMERIC or _COUNTING.search(name) is not None or len(found.arguments) == 1 or alone
            for_one = branch in ("zero", "one", "two") and numbers is not None and len(numbers) <= 1
            may_lack = types.get(name) in _NUMERIC if choice.argument else counts
            if may_lack and (for_one or branch == "zero"):
                continue
        lacking.append((name, branch))
    return lacking


def _choice_of(choices: Sequence[Choice], branch: str) -> Choice | None:
    return next((choice for choice in choices if branch in choice.keys), None)


def _branches(wanted: Shape, found: Shape) -> Sequence[tuple[str, tuple[str, ...]]]:
    """The selects with branches that the source's has not."""
    known: dict[str, set[str]] = {}
    for choice in wanted.choices:
        if choice.kind == "select":
            known.setdefault(choice.argument, set()).update(choice.keys)
    extra = []
    for choice in found.choices:
        if choice.kind == "select" and choice.argument in known:
            more = tuple(key for key in choice.keys if key not in known[choice.argument])
            if more:
                extra.append((choice.argument, more))
    return list(dict.fromkeys(extra))


def _markup(wanted: tuple[str, ...], found: tuple[str, ...]) -> Sequence[str]:
    """What is wrong with a translation's elements, in words."""
    if wanted == found:
        return ()
    there, here = set(wanted), set(found)
    words = []
    plain = {name.lstrip("+-") for name in there}
    for name in sorted(here - there):
        if name[0] == "+":
            words.append(f"<{name[1:]}> is never closed")
        elif name[0] == "-":
            words.append(f"</{name[1:]}> closes nothing")
        elif name not in plain:
            words.append(f"<{name}> is added")
    mine = {name.lstrip("+-") for name in here}
    words += [f"<{name}> is missing" for name in sorted(there - here) if name[0] not in "+-" and name not in mine]
    return words


def renamed(wanted: Shape, found: Shape) -> tuple[Argument, Argument] | None:
    """The one argument that has another name in the translation, and what it is called there; None where that is not certain."""
    there, here = {name for name, _ in wanted.arguments}, {name for name, _ in found.arguments}
    lost, added = sorted(there - here), sorted(here - there)
    if len(lost) != 1 or len(added) != 1:
        return None
    return Argument(lost[0], ""), Argument(added[0], "")
