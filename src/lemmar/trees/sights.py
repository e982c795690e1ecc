"""What an audit has seen of a tree, so that the next one need not look again at what is as it was.

A file's facts (number, size, times) stand for its contents only where they are older than the look at it by more than any file system's clock is
coarse; what is younger is always read again, so that no result depends on when somebody looked.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from msgspec import Struct

from lemmar.trees.opening import Facts
from lemmar.trees.tree import Digest, File

#: In nanoseconds; the coarsest clock of a file system in use ticks every two seconds.
YOUNG = 2_000_000_000
#: After any time: whatever was seen before it lasts.
EVER = 1 << 63


class Sight(NamedTuple):
    """What was seen: a digest of it (of what could not be read, the reason after a ``!``), and the facts that stand for it from now on, if any
    can.
    """

    digest: str
    facts: Facts | None


def lasting(facts: Facts, now: int) -> Facts | None:
    """*facts* where they may stand for what was seen at the time *now* (ns); None of what is so young that it may still change unseen."""
    return facts if max(facts.written, facts.changed) < now - YOUNG else None


class Sights(Struct, frozen=True, array_like=True):
    """All that was seen: files that were read, folders that were listed, files of patterns that git ignores; what else was asked, each with the
    answer; and what git tracks although it ignores it, if that was asked.
    """

    files: Mapping[File, Sight]
    folders: Mapping[str, Sight]
    ignoring: Mapping[str, Sight]
    asked: Mapping[str, bool]
    index: Sight | None


class Since(NamedTuple):
    """What differs from earlier sights: the files that hold something else; whether anything else does, so that there may be other files; and
    whether some of what does not was looked at again, which need not be the next time.
    """

    files: frozenset[File]
    moved: bool
    renewed: bool


class Watched(Struct, frozen=True, array_like=True):
    """What one reader has asked of a tree: the patterns with a digest of their matches, the files with the digest of what was read, and whether
    there are such files. It reads the same where all answers are the same.
    """

    patterns: dict[tuple[str, str], str]
    files: dict[File, Digest]
    there: dict[str, bool]
