"""Times the resolution (chains, landings, effective texts of every locale) of a million messages against reading them, in one process.

Prints one line: the ratio, the median of three. Of every client each tenth file of another locale is cut to half, so that there are differences.
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import time
from pathlib import Path

import monorepo
from lemmar.charter.reading import read as read_charter
from lemmar.inventory import gather
from lemmar.resolve import resolve
from lemmar.trees.folder import FolderTree


def thinned(folder: Path) -> None:
    """Takes half of the messages out of each tenth JSON file."""
    for number, file in enumerate(sorted(folder.rglob("*.json"))):
        held = json.loads(file.read_text(encoding="utf-8")) if number % 10 == 3 else None
        if isinstance(held, dict):
            kept = dict(list(held.items())[: len(held) // 2])
            file.write_text(json.dumps(kept, ensure_ascii=False), encoding="utf-8")


def main() -> None:
    """Writes the monorepo, measures, prints."""
    with tempfile.TemporaryDirectory() as work:
        folder = Path(work)
        monorepo.write(folder, 1_000_000, ("json",))
        thinned(folder)
        read = read_charter(folder / "lemmar.toml")
        ratios = []
        for _ in range(3):
            start = time.perf_counter()
            inventory = gather(read.charter, FolderTree(read.root))
            middle = time.perf_counter()
            resolve(read.charter, inventory)
            ratios.append((time.perf_counter() - middle) / (middle - start))
    sys.stdout.write(f"{statistics.median(ratios):.3f}\n")


if __name__ == "__main__":
    main()
