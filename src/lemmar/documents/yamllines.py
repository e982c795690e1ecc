"""The short way through YAML whose maps are plain lines: a key, a colon, a text on the same line, or deeper lines.

What is met beside that (lists, anchors, tags, flow maps, block scalars, texts of several lines, what YAML 1.1 reads as another kind of key) has no
short way. Sources: YAML 1.1, chapters 5, 7 and 9.
"""

from __future__ import annotations

import re
from itertools import pairwise

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import MAX_DEPTH, Plain

# A plain scalar begins with no indicator, holds no ": " and no " #", and ends with no blank (YAML 1.1, 9.1.3 and 5.3).
_LINE = expression(
    r"^( *+)(?:([^\W\d][\w.-]{0,200}+)|\"([^\"\\\n]{1,200}+)\"|'([^'\n]{1,200}+)'):(?: ++(?:"
    r"([^-?:,\[\]{}#&*!|>'\"%@`\s](?:[^\n:# ]++|:(?![ \n]|\Z)|#| ++(?![#\n]|\Z))*+)"
    r"|(\"(?:[^\"\\\n]++|\\[nt\"\\/])*+\")|'((?:[^'\n]++|'')*+)'))?+(?: ++(?:\#[^\n]*+)?)?+$",
    re.MULTILINE,
)
_GROUPS = _LINE.groups + 1
_BETWEEN = expression(r"(?:[ ]*+(?:#[^\n]*+)?\n)*+(?:[ ]*+(?:#[^\n]*+)?)?+")
# What is no character of YAML, what it takes for the end of a line beside the line feed, and the tab, about which it is particular.
_ODD = expression("[\x00-\x09\x0b-\x1f\x7f-\x9f\u2028\u2029\ud800-\udfff\ufeff\ufffe\uffff]")
_NOT_TEXT = frozenset(
    ("yes", "Yes", "YES", "no", "No", "NO", "true", "True", "TRUE", "false", "False", "FALSE")
    + ("on", "On", "ON", "off", "Off", "OFF", "null", "Null", "NULL")
)
_NULL = ("~", "null", "Null", "NULL")
_ESCAPE = expression(r"\\(.)")
_ESCAPED = {"n": "\n", "t": "\t"}


def plain_lines(text: str) -> list[Plain] | None:
    """The keys of a document in their order; None where there is no short way."""
    if _ODD.search(text) is not None:
        return None
    begin = 4 if text.startswith("---\n") else 0
    parts = _LINE.split(text[begin:] if begin else text)
    between = parts[::_GROUPS]
    if len(between) < 2 or not _is_nothing(between):
        return None
    columns = [len(blanks) for blanks in parts[1::_GROUPS]]
    keys = [plain or double or single for plain, double, single in zip(*(parts[index::_GROUPS] for index in (2, 3, 4)), strict=True)]
    if columns[0] or not _NOT_TEXT.isdisjoint(parts[2::_GROUPS]) or "<<" in keys:
        return None
    lines = []
    open_at = [0]
    deeper = [*(after > column for column, after in pairwise(columns)), False]
    texts = zip(*(parts[index::_GROUPS] for index in (5, 6, 7)), strict=True)
    for column, key, (plain, double, single), is_branch in zip(columns, keys, texts, deeper, strict=True):
        if column > open_at[-1]:
            open_at.append(column)
            if len(open_at) >= MAX_DEPTH:
                return None
        else:
            while column < open_at[-1]:
                open_at.pop()
            if column != open_at[-1]:
                return None
        if plain is not None:
            value = None if plain in _NULL else plain
        elif double is not None:
            value = double[1:-1]
            value = _ESCAPE.sub(_character, value) if "\\" in value else value
        else:
            value = single.replace("''", "'") if single is not None else None
        if is_branch and (plain or double or single) is not None:
            return None
        lines.append(Plain(column, key, value, is_branch))
    return lines


def _is_nothing(between: list[str]) -> bool:
    """Whether nothing but blank lines and comments stands between the lines."""
    whole = "".join(between)
    if "#" not in whole:
        return not whole.strip(" \n")
    return all(_BETWEEN.fullmatch(piece) for piece in between)


def _character(match: re.Match[str]) -> str:
    return _ESCAPED.get(match[1], match[1])
