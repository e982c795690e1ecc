"""``files``: the locales of the files that match a pattern. The only selector that reads no file."""

from __future__ import annotations

from collections.abc import Iterable

from lemmar.selectors._selection import Pick, Selection, Selector, Value
from lemmar.trees import File, Match
from lemmar.trees.patterns import PatternError, compile_pattern


def select_files(matches: Iterable[Match]) -> tuple[Selection, tuple[File, ...]]:
    """The locale of each file that has one, the first reading of a file counting; and the files, in the same order."""
    seen: dict[File, Match] = {}
    for match in matches:
        if match.locale is not None:
            seen.setdefault(match.file, match)
    first: dict[str, Match] = {}
    for match in seen.values():
        first.setdefault(match.locale or "", match)
    return Selection(tuple(Value(locale, 1, 1, file=match.file) for locale, match in first.items())), tuple(
        match.file for match in first.values()
    )


def check(pick: Pick) -> tuple[str, str] | None:
    """What is wrong with the pattern, if anything."""
    try:
        compile_pattern(pick.text)
    except PatternError as error:
        return "files", str(error)
    return None if "{locale}" in pick.text else ("files", "the pattern of a claim needs {locale}")


SELECTOR = Selector("files", "the locales of the files that match this pattern.", of_files=select_files, check=check)
