"""Which syntax a catalog is in, seen from its source's texts where the charter does not say, with the evidence."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache
from typing import NamedTuple

from lemmar.syntax import load
from lemmar.syntax._shape import Argument, Shape

_SIGNS = re.compile(r"[{%$:]")
# Of two that fit equally well the earlier: `{{name}}` also holds `{name}`, `${name}` and `%{name}` too.
_ORDER = ("double-brace", "percent-brace", "dollar-brace", "mf2", "icu", "printf", "brace", "colon")
_TYPED = re.compile(r"\{\s*[\w.]+\s*,\s*(?:plural|select|selectordinal|number|date|time|spellout|ordinal|choice)\s*[,}]", re.IGNORECASE)
_MF2 = re.compile(r"^\s*\.(?:input|local|match)\s|\{\s*\$[A-Za-z_][\w-]*\s*(?::[a-z]|\}|\s)|\{\s*[#/][a-z]")
_MOST = 20_000
_EXAMPLES = 3
_SAMPLE = 2_000


class SeenSyntax(NamedTuple):
    """A catalog's syntax, how many of its source's texts take something in it, and how many take something in another one only."""

    name: str
    texts: int
    others: tuple[tuple[str, int], ...] = ()


def seen_syntax(texts: Iterable[str | None], fixed: str | None = None) -> SeenSyntax:
    """The syntax in which most of *texts* take arguments; ``plain`` where none does. *fixed* is the only one that the format's runtime knows."""
    if fixed is not None:
        return SeenSyntax(fixed, 0)
    counts = dict.fromkeys(_ORDER, 0)
    braced: list[str] = []
    kinds: dict[frozenset[str], int] = {}
    for number, text in enumerate(texts):
        if text is None or not _SIGNS.search(text):
            continue
        fitting = frozenset(_fitting(text))
        kinds[fitting] = kinds.get(fitting, 0) + 1
        for name in fitting:
            counts[name] += 1
        if "{" in text and len(braced) < _SAMPLE and "icu" not in fitting:
            braced.append(text)
        if number > _MOST and max(counts.values()) > _EXAMPLES:
            break
    best = max(_ORDER, key=lambda name: counts[name])
    if not counts[best]:
        return SeenSyntax("plain", 0)
    if best == "brace" and counts["icu"] and sum(_faulty("icu", text) for text in braced) <= counts["icu"]:
        best = "icu"  # a syntax in which most of the texts would be broken is not theirs
    alone = dict.fromkeys(_ORDER, 0)
    for fitting, count in kinds.items():
        if best not in fitting and not (best == "icu" and "brace" in fitting):
            for name in fitting:
                alone[name] += count
    return SeenSyntax(best, counts[best], tuple((name, count) for name, count in alone.items() if count))


def _fitting(text: str) -> Iterable[str]:
    """The syntaxes in which *text* surely takes something; a stricter one excludes the laxer that it looks like."""
    if "{" in text:
        if _TYPED.search(text) and not _faulty("icu", text):
            yield "icu"
            return
        if _MF2.search(text) and not _faulty("mf2", text):
            yield "mf2"
            return
        yielded = False
        for name in ("double-brace", "percent-brace", "dollar-brace"):
            if _shape(name, text):
                yield name
                yielded = True
        if yielded:
            return
        if _shape("brace", text):
            yield "brace"
            return
    if "%" in text and _shape("printf", text):
        yield "printf"
    if ":" in text and _shape("colon", text):
        yield "colon"


@cache
def _loaded(name: str) -> object:
    return load(name).shape


def _shape(name: str, text: str) -> tuple[Argument, ...]:
    found: Shape = _loaded(name)(text)  # type: ignore[operator]
    return found.arguments


def _faulty(name: str, text: str) -> bool:
    found: Shape = _loaded(name)(text)  # type: ignore[operator]
    return found.fault is not None
