"""``make fuzz``: catalogs, charters, patterns, claims, answers, code, fonts and whole monorepos, mutated, until the time is up.

``python tools/fuzz.py [--seconds N] [--seed N] [--only TARGET] [--format NAME]`` stops at the first fault with the bytes that caused it. Without
a seed it is always the same one; ``--seed 0`` draws a fresh one, and says which.
"""

from __future__ import annotations

import argparse
import random
import sys
import time
from pathlib import Path
from typing import Protocol

sys.path.insert(0, str(Path(__file__).parent))

from fuzzing.answers import Answers
from fuzzing.catalogs import SEEDS, Catalogs
from fuzzing.charters import Charters, Patterns
from fuzzing.claims import Claims
from fuzzing.code import Code
from fuzzing.trees import Trees


class Target(Protocol):
    """What tries one thing after the other."""

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""


#: Each target with its share of the time.
TARGETS: dict[str, tuple[type, float]] = {
    "catalogs": (Catalogs, 0.35),
    "code": (Code, 0.1),
    "answers": (Answers, 0.1),
    "claims": (Claims, 0.15),
    "charters": (Charters, 0.1),
    "patterns": (Patterns, 0.05),
    "trees": (Trees, 0.15),
}


def main() -> None:
    """Mutates until the time is up."""
    parser = argparse.ArgumentParser(description="mutations of all that Lemmar reads")
    parser.add_argument("--seconds", type=float, default=30.0)
    parser.add_argument("--seed", type=int, default=7)
    parser.add_argument("--only", choices=sorted(TARGETS))
    parser.add_argument("--format", choices=sorted(SEEDS))
    arguments = parser.parse_args()
    seed = arguments.seed or random.SystemRandom().randrange(1, 1 << 32)
    only = "catalogs" if arguments.format else arguments.only
    told = []
    for name, (target, share) in TARGETS.items():
        if only in (None, name):
            chance = random.Random(seed)
            each: Target = target(chance, arguments.format) if name == "catalogs" else target(chance)
            told.append(f"{_tried(each, seed, arguments.seconds * (1 if only else share)):,} {name}")
    print(f"{', '.join(told)}; no fault (seed {seed})")


def _tried(target: Target, seed: int, seconds: float) -> int:
    end, count = time.perf_counter() + seconds, 0
    while time.perf_counter() < end:
        try:
            what, data, wrong = target.next()
        except Exception as error:  # whatever it is, it is a bug: keep the bytes
            import traceback

            traceback.print_exc()
            what, data, wrong = type(target).__name__, b"", f"{type(error).__name__}: {error}"
        count += 1
        if wrong:
            found = Path("fuzz-found.bin")
            found.write_bytes(data)
            sys.exit(f"{what}: {wrong}; seed {seed}, the bytes are in {found}: {data[:300]!r}")
    return count


if __name__ == "__main__":
    main()
