"""Times parse, canonical and maximized of 10,000 distinct tags against a loop of ``str.split("-")`` over the same; prints the ratio."""

from __future__ import annotations

import random
import time
from collections.abc import Callable

from lemmar.tags import LanguageTag
from lemmar.tags.tables import table


def tags(count: int = 10_000, seed: int = 7) -> list[str]:
    """So many distinct tags, valid ones of all shapes, the same for the same seed."""
    chance = random.Random(seed)
    registry = table("registry")
    languages, scripts, regions = (registry[kind].split() for kind in ("language", "script", "region"))
    found: dict[str, None] = {}
    while len(found) < count:
        parts = [chance.choice(languages)]
        parts += [chance.choice(scripts)] if chance.random() < 0.3 else []
        parts += [chance.choice(regions)] if chance.random() < 0.6 else []
        parts += ["u-ca-gregory"] if chance.random() < 0.05 else []
        found["-".join(parts)] = None
    return list(found)


def timed(work: Callable[[], object]) -> float:
    """Seconds of one run."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def main() -> None:
    """Prints the ratio of the medians of five rounds, each over tags not seen before."""
    LanguageTag.parse("de").maximized()
    everything = tags(50_000)
    ratios = []
    for start in range(0, 50_000, 10_000):
        some = everything[start : start + 10_000]
        base = min(timed(lambda some=some: [tag.split("-") for tag in some]) for _ in range(5))  # type: ignore[misc]
        ratios.append(timed(lambda some=some: [LanguageTag.parse(tag).canonical().maximized() for tag in some]) / base)  # type: ignore[misc]
    print(sorted(ratios)[2])


if __name__ == "__main__":
    main()
