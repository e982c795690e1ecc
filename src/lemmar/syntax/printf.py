r"""Conversions that begin with a percent sign: ``%s``, ``%d``, ``%1$@``, ``%-5.2f``, ``%(name)s``; ``%%`` is a sign.

Sources: ISO C 7.21.6.1 and POSIX's numbered arguments, Objective-C's ``%@``, ``java.util.Formatter``, Python's mapping keys.
Arguments without a number are numbered in their order. A type is the kind of value that a conversion takes: ``text``,
``whole``, ``real``, ``character``. ``%`` before a blank is prose.
"""

from __future__ import annotations

import re

from lemmar.model import Shape, Syntax

_CONVERSION = re.compile(
    r"%(?:%|(?:(?P<number>[0-9]{1,4})\$)?(?:\((?P<name>[A-Za-z0-9_.-]+)\))?[-+#0,']*(?:[0-9]+|\*)?(?:\.(?:[0-9]+|\*))?"
    r"(?:hh|h|ll|l|L|q|j|z|t)?(?P<kind>[@sSdDiuUxXoOfFeEgGaAcCbBn]))"
)
_KINDS = (
    dict.fromkeys("@sSbB", "text")
    | dict.fromkeys("dDiuUxXoO", "whole")
    | dict.fromkeys("fFeEgGaA", "real")
    | dict.fromkeys("cC", "character")
)


def shape(text: str) -> Shape:
    """The arguments that *text* takes, by name or number, each with the kinds of value that it is shown as."""
    found: dict[str, set[str]] = {}
    following = 0
    for match in _CONVERSION.finditer(text):
        kind = match.group("kind")
        if kind is None or kind == "n":
            continue
        name = match.group("name") or match.group("number")
        if name is None:
            following += 1
            name = str(following)
        found.setdefault(name, set()).add(_KINDS[kind])
    return Shape(tuple((name, "/".join(sorted(kinds))) for name, kinds in sorted(found.items())))


SYNTAX = Syntax("printf", 1, "%", shape, _CONVERSION)
