"""File patterns: ``{locale}``, ``{part}``, ``{part+}``, ``{key}``, ``*``, ``**`` and stretches in brackets that may be absent. A backslash before one of
these signs makes it a letter.

Pure: a pattern is compiled to steps, a step a path segment; walking a tree by them is the tree's business.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.trees.tree import File, Match

_FIELD = expression(r"\{(locale|part\+?|key)\}")
_PART_THEN_LOCALE = expression(r"\(\?P<part>\[\^/\]\+\)[^/]*\(\?P<locale>")
_MOST_STRETCHES = 6
_OUTSIDE = "the pattern leads out of the monorepo; '..' stands only at its beginning"


#: What stands for a sign that is a letter while a pattern is taken apart: characters that no file's name has.
_LETTERS = {sign: chr(0x10FF00 + number) for number, sign in enumerate("[]{}*?\\")}
_SIGNS = str.maketrans({letter: sign for sign, letter in _LETTERS.items()})
_ESCAPED = expression(r"\\([\[\]{}*?\\])")


def taken_apart(pattern: str) -> str:
    """*pattern* with a character of its own for each sign that a backslash makes a letter; `as_named` puts the letters back."""
    return _ESCAPED.sub(lambda match: _LETTERS[match[1]], pattern) if "\\" in pattern else pattern


def as_named(text: str) -> str:
    """A piece of a pattern that was taken apart, as files are named."""
    return text.translate(_SIGNS)


class PatternError(ValueError):
    """A pattern that cannot be read; the message says why."""


class Way(NamedTuple):
    """One way to read a pattern, its optional stretches taken or left: a step for each segment, and the whole path's expression.

    A step is a literal name, None for ``**`` (any folders, also none), or an expression for one segment.
    """

    steps: tuple[str | re.Pattern[str] | None, ...]
    whole: re.Pattern[str]
    marked: bool

    @property
    def has_fields(self) -> bool:
        """Whether it takes anything from a path."""
        return bool(self.whole.groups)

    @property
    def parts_names(self) -> bool:
        """Whether one name holds the part and then the locale, so that signs may belong to either."""
        return _PART_THEN_LOCALE.search(self.whole.pattern) is not None


@lru_cache(maxsize=1024)
def compile_pattern(pattern: str) -> tuple[Way, ...]:
    """The ways to read *pattern*, those with a locale first.

    Raises:
        PatternError: an unknown field, unbalanced brackets, a step that is empty.
    """
    if not pattern:
        raise PatternError("the pattern is empty")
    pattern = taken_apart(pattern)
    if pattern.startswith("/") or re.match(r"[A-Za-z]:", pattern) or "\\" in pattern:
        raise PatternError("a pattern is relative, with '/' between its segments")
    unknown = re.search(r"\{[^}]*\}?", _FIELD.sub("", pattern))
    if unknown:
        raise PatternError(f"{as_named(unknown.group())!r} is not known; a pattern has {{locale}}, {{part}}, {{part+}} and {{key}}")
    ways = [_way(variant) for variant in _expand(pattern)]
    return tuple(sorted(ways, key=lambda way: not way.marked))


def _expand(pattern: str) -> list[str]:
    """The pattern with each bracketed stretch taken and left."""
    pieces = re.split(r"\[([^\[\]]*)\]", pattern)
    if any(sign in piece for piece in pieces for sign in "[]"):
        raise PatternError("the brackets of a stretch that may be absent do not match")
    if len(pieces) // 2 > _MOST_STRETCHES:
        raise PatternError(f"more than {_MOST_STRETCHES} stretches in brackets")
    found = [pieces[0]]
    for stretch, plain in zip(pieces[1::2], pieces[2::2], strict=True):
        found = [head + choice + plain for head in found for choice in (stretch, "")]
    return list(dict.fromkeys(found))


def _way(pattern: str) -> Way:
    names = [name for name in pattern.split("/") if name != "."]
    if not all(names):
        raise PatternError("a segment is empty")
    steps: list[str | re.Pattern[str] | None] = []
    whole: list[str] = []
    seen: set[str] = set()
    for index, name in enumerate(names):
        last = index == len(names) - 1
        if name == "**":
            steps.append(None)
            whole.append("(?:[^/]+/)*" if not last else "(?:[^/]+/)*[^/]+")
            continue
        expression, spans = _segment(name, seen)
        if "{part+}" in name:  # the segment may begin in folders above the one that it ends in
            steps.append(None)
        literal = not re.search(r"[*?{]", name)
        steps.append(as_named(name) if literal else re.compile(spans + r"\Z", re.DOTALL))
        whole.append(expression + ("" if last else "/"))
    return Way(tuple(steps), re.compile("".join(whole) + r"\Z", re.DOTALL), "{locale}" in pattern)


def _segment(name: str, seen: set[str]) -> tuple[str, str]:
    """The expression of a segment in the whole path's, where a field repeated is a reference back; and by itself."""
    whole, alone = [], []
    for piece in re.split(r"(\{locale\}|\{key\}|\{part\+?\}|\*+|\?)", name):
        if piece.startswith("{"):
            field = piece.strip("{}+")
            text = ".+" if piece == "{part+}" else "[^/]+"
            alone.append("[^/]+" if piece != "{part+}" else "[^/]*")
            if field in seen:
                whole.append(f"(?P={field})")
            else:
                whole.append(f"(?P<{field}>{text})")
                seen.add(field)
        else:
            expression = {"*": "[^/]*", "**": "[^/]*", "?": "[^/]"}.get(piece, re.escape(as_named(piece)))
            whole.append(expression)
            alone.append(expression)
    return "".join(whole), "".join(alone)


def match_path(ways: tuple[Way, ...], path: str) -> list[Match]:
    """Each way in which *path* (relative to the pattern's base) can be read, the ones with a locale first."""
    found = []
    for way in ways:
        for match in _readings(way, path):
            groups = match.groupdict()
            locale = groups.get("locale")
            folder = None
            if locale is not None:
                start = path.rfind("/", 0, match.start("locale")) + 1
                end = path.find("/", match.start("locale"))
                folder = path[start : end if end >= 0 else len(path)]
            found.append(Match(File(path), locale, groups.get("part"), folder, groups.get("key")))
    return found


def _readings(way: Way, path: str) -> Iterator[re.Match[str]]:
    """Each way to part a name into part and locale, the longest locale first: ``words_pt_BR`` is ``pt_BR`` and also ``BR``."""
    match = way.whole.match(path)
    if match is None or not way.parts_names:
        yield from [match] if match else []
        return
    least = 1
    while True:
        match = _shortest(way.whole.pattern, least).match(path)
        if match is None:
            return
        yield match
        least = len(match["part"]) + 1


@lru_cache(maxsize=1024)
def _shortest(expression: str, least: int) -> re.Pattern[str]:
    """The expression of a whole path with a part of as few signs as may be, but so many at *least*."""
    return re.compile(expression.replace("(?P<part>[^/]+)", f"(?P<part>[^/]{{{least},}}?)"), re.DOTALL)


def matcher(pattern: str, base: str) -> Callable[[str], bool]:
    """Whether a path from the root matches *pattern*, which starts from the folder *base*.

    Raises:
        PatternError: the pattern cannot be read or leads out of the root.
    """
    start, ways = from_root(base, compile_pattern(pattern))
    prefix = f"{start}/" if start else ""
    return lambda path: path.startswith(prefix) and bool(match_path(ways, path[len(prefix) :]))


def from_root(base: str, ways: tuple[Way, ...]) -> tuple[str, tuple[Way, ...]]:
    """The folder to start from, and the ways without the ``..`` that they begin with.

    Raises:
        PatternError: the pattern leads out of the root.
    """
    climbs = {next((index for index, step in enumerate(way.steps) if step != ".."), 0) for way in ways}
    count = min(climbs)
    if any(".." in [step for step in way.steps[count:] if isinstance(step, str)] for way in ways):
        raise PatternError(_OUTSIDE)
    parts = [part for part in base.split("/") if part and part != "."]
    if count > len(parts):
        raise PatternError(_OUTSIDE)
    start = "/".join(parts[: len(parts) - count])
    if not count:
        return start, ways
    strip = re.compile(rf"(?:\\\.\\\./){{{count}}}")
    return start, tuple(
        Way(way.steps[count:], re.compile(strip.sub("", way.whole.pattern, count=1), re.DOTALL), way.marked) for way in ways
    )


def rewritten_path(pattern: str, base: str, file: str, locale: str, part: str | None) -> str | None:
    """The path from the root, as *pattern* (from the folder *base*) has it, of the file that is to *locale* what *file*, which it matches and which is of
    *part*, is to its own; None where it is not known.

    Raises:
        PatternError: the pattern cannot be read or leads out of the root.
    """
    start, ways = from_root(base, compile_pattern(pattern))
    prefix = f"{start}/" if start else ""
    below = file.removeprefix(prefix)
    for way in ways:
        for match in _readings(way, below) if way.marked else ():
            if part is not None and match.groupdict().get("part") != part:
                continue
            old = match["locale"]
            first, last = match.span("locale")
            changed = below[:first] + locale + below[last:]
            if way.whole.match(changed) is None:  # the locale stands there more than once
                changed = locale.join(re.split(rf"(?<![A-Za-z0-9]){re.escape(old)}(?![A-Za-z0-9])", below))
            if way.whole.match(changed) is not None:
                return prefix + changed
    filled = _filled(taken_apart(pattern), locale, part)
    if filled is None:
        return None
    climbs = sum(step == ".." for step in filled.split("/"))
    path = prefix + "/".join(filled.split("/")[climbs:])
    return path if match_path(ways, path.removeprefix(prefix)) else None


def _filled(pattern: str, locale: str, part: str | None) -> str | None:
    """The longest way to write *pattern* with a locale and a part in it; None where it has signs that may stand for anything."""
    found = [
        each
        for each in _expand(pattern)
        if "{locale}" in each and not re.search(r"[*?]", each) and (part is not None or "{part" not in each)
    ]
    if not found:
        return None
    whole = max(found, key=len).replace("{locale}", locale)
    return as_named(whole.replace("{part+}", part or "").replace("{part}", part or ""))
