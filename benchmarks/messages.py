"""Times all rules of the message family on a million messages against a loop that runs one compiled expression over the same texts.

Prints one line: the ratio, the median of three, in one process.
"""

from __future__ import annotations

import re
import statistics
import sys
import tempfile
import time
from collections.abc import Callable, Iterable
from pathlib import Path

import monorepo
from lemmar import rules
from lemmar.auditing.pipeline import world_of_charter
from lemmar.charter.reading import read as read_charter
from lemmar.resolve.world import World
from lemmar.rules.likeness import misplaced
from lemmar.rules.wording import told_by
from lemmar.trees.folder import FolderTree

_EXPRESSION = re.compile(r"\{\{\s*[A-Za-z_][\w.]*\s*\}\}|<[^<>]+>")


def main() -> None:
    """Writes the monorepo, measures, prints."""
    with tempfile.TemporaryDirectory() as work:
        folder = Path(work)
        monorepo.write(folder, 1_000_000, ("json",))
        read = read_charter(folder / "lemmar.toml")
        world = world_of_charter(read, FolderTree(read.root))
    texts = [text for client in world.clients for catalog in client.catalogs for text in catalog.column.texts if text]
    known = [(name, rule) for name, rule in rules.all_rules().items() if name.startswith("message.") and rule.of == "client"]
    checks: list[tuple[str, Callable[[World], Iterable[object]]]] = [(name, rule.check) for name, rule in known]
    checks.append(("message.inconsistent", lambda world: [told_by(world)]))
    ratios, shares = [], dict.fromkeys((name for name, _ in checks), 0.0)
    for _ in range(3):
        start = time.perf_counter()
        for text in texts:
            _EXPRESSION.search(text)
        loop = time.perf_counter() - start
        world.memo.clear()
        misplaced(world)  # the rules of catalogs have asked already
        start = time.perf_counter()
        for name, check in checks:
            begun = time.perf_counter()
            list(check(world))
            shares[name] = (time.perf_counter() - begun) / loop
        ratios.append((time.perf_counter() - start) / loop)
    if "--each" in sys.argv:
        sys.stderr.write("".join(f"{share:.2f} {name}\n" for name, share in shares.items()))
    sys.stdout.write(f"{statistics.median(ratios):.2f}\n")


if __name__ == "__main__":
    main()
