"""How numbers, lists, long texts and near misses are put in words; the same in findings, tables and errors."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from fnmatch import fnmatchcase


def is_named(name: str, wanted: Iterable[str]) -> bool:
    """Whether *name* is one of the *wanted*, in which ``*`` stands for any signs."""
    return any(name == each or fnmatchcase(name, each) for each in wanted)


def counted(number: int, word: str, several: str = "") -> str:
    """``1 text``, ``3 texts``; *several* is the word for several where it is not *word* with an s."""
    return f"{number:,} {word if number == 1 else several or word + 's'}"


def listed(words: Iterable[object], most: int = 8) -> str:
    """``'de', 'fr' and 'it'``, in the order given; beyond *most* the rest is counted."""
    return joined([repr(str(word)) for word in words], most)


def joined(words: Sequence[str], most: int = 8) -> str:
    """``a, b and c``: as `listed`, without quotes."""
    if len(words) > most:
        return f"{', '.join(words[:most])} and {len(words) - most:,} more"
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)


def clipped(text: str, most: int = 60) -> str:
    """*text* on one line, cut where it is long."""
    line = " ".join(text.split())
    return line if len(line) <= most else f"{line[: most - 1]}…"


def nearest(name: str, known: Iterable[str]) -> str:
    """``; did you mean 'shipping'?`` where one of the known names is near, else the list of them where it is short."""
    from difflib import get_close_matches  # takes longer to load than most commands need

    names = sorted(known)
    close = get_close_matches(name, names, n=1, cutoff=0.6)
    if close:
        return f"; did you mean {close[0]!r}?"
    return f"; it is one of {', '.join(names)}" if 0 < len(names) <= 12 else ""
