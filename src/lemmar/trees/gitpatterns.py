"""Patterns of paths as git writes them, in files that anybody may have written."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec


#: So many stars in one segment of a path can be looked for in any name in a bearable time.
MOST_STARS = 4
_STARS = expression(r"\*\*\*+")
_RUN = expression(r"\*+")


def is_bearable(line: str) -> bool:
    """Whether a pattern can be looked for: with many stars in one segment it takes longer than anyone waits, whatever the names."""
    return all(len(_RUN.findall(segment)) <= MOST_STARS for segment in line.split("/"))


def git_patterns(lines: Sequence[str]) -> GitIgnoreSpec:
    """The patterns in *lines*; one that is none (a lone ``!``, ``[z-a]``) matches nothing, as in git, and so does one that is not bearable."""
    from pathspec import GitIgnoreSpec

    lines = [_STARS.sub("*", line) for line in lines if is_bearable(line)]
    try:
        return GitIgnoreSpec.from_lines(lines)
    except (ValueError, re.error):
        return GitIgnoreSpec.from_lines([line for line in lines if _is_sound(line)])


def _is_sound(line: str) -> bool:
    from pathspec import GitIgnoreSpec

    try:
        GitIgnoreSpec.from_lines([line])
    except (ValueError, re.error):
        return False
    return True
