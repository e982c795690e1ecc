"""Which syntax a catalog is in, seen from its source's texts where the charter does not say, with the evidence."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import NamedTuple

from lemmar.syntax._shape import Syntax

_MOST = 20_000
_EXAMPLES = 3
_SAMPLE = 2_000


class SeenSyntax(NamedTuple):
    """A catalog's syntax, how many of its source's texts take something in it, and how many take something in another one only."""

    name: str
    texts: int
    others: tuple[tuple[str, int], ...] = ()


def see(texts: Iterable[str | None], among: Sequence[Syntax]) -> SeenSyntax:
    """The one of the syntaxes *among* in which most of *texts* take something; ``plain`` where none does."""
    known = {syntax.name: syntax for syntax in sorted(among, key=lambda syntax: syntax.rank) if syntax.sure is not None}
    signs = frozenset("".join(syntax.special for syntax in known.values()))
    tiers = _tiers(known.values())
    counts = dict.fromkeys(known, 0)
    kinds: dict[frozenset[str], int] = {}
    sample: list[str] = []
    for number, text in enumerate(texts):
        if text is None or signs.isdisjoint(text):
            continue
        fitting = _fitting(text, tiers)
        kinds[fitting] = kinds.get(fitting, 0) + 1
        for name in fitting:
            counts[name] += 1
        if len(sample) < _SAMPLE:
            sample.append(text)
        if number > _MOST and max(counts.values()) > _EXAMPLES:
            break
    counts = {name: count if count >= known[name].fewest else 0 for name, count in counts.items()}
    best = max(known, key=lambda name: counts[name])
    if not counts[best]:
        return SeenSyntax("plain", 0)
    best = _wider(known, best, counts, sample)
    alone = dict.fromkeys(known, 0)
    for fitting, count in kinds.items():
        if not fitting & {best, *known[best].includes}:
            for name in fitting:
                alone[name] += count
    return SeenSyntax(best, counts[best], tuple((name, count) for name, count in alone.items() if count))


def _tiers(known: Iterable[Syntax]) -> list[list[Syntax]]:
    """The syntaxes, the strictest first, those equally strict together."""
    found: dict[int, list[Syntax]] = {}
    for syntax in known:
        found.setdefault(syntax.strictness, []).append(syntax)
    return [found[strictness] for strictness in sorted(found)]


def _fitting(text: str, tiers: Sequence[Sequence[Syntax]]) -> frozenset[str]:
    """The syntaxes in which *text* surely takes something; a stricter one excludes the laxer that it looks like."""
    for tier in tiers:
        fitting = frozenset(syntax.name for syntax in tier if syntax.sure is not None and syntax.sure(text))
        if fitting:
            return fitting
    return frozenset()


def _wider(known: dict[str, Syntax], best: str, counts: dict[str, int], sample: Sequence[str]) -> str:
    """The syntax that includes *best* and is seen too, unless it would break more of the texts than it was seen in."""
    for name, syntax in known.items():
        if best in syntax.includes and counts[name]:
            broken = sum(syntax.shape(text).fault is not None for text in sample if not syntax.sure or not syntax.sure(text))
            if broken <= counts[name]:
                return name
    return best
