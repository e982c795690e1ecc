"""Times the survey of 50,000 files against walking them and reading the first 4 KB of each; and claims against a bare parse. Prints ratios.

``python benchmarks/survey.py [FILES]`` makes the files in a temporary folder.
"""

from __future__ import annotations

import gc
import json
import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from lemmar import languages
from lemmar.selectors import Pick, load
from lemmar.survey.drafting import draft
from lemmar.trees.folder import FolderTree

_TAGS = ("en", "de", "fr", "it", "pt-BR", "uk", "ar", "sl")
_CODE = "".join(
    f"export function part{number}(value: string): string {{\n  const held = `${{value}} of {number}`;\n  if (held === 'none') {{\n    return held;\n  }}\n"
    f"  return [held, 'x{number}', String({number})].join(', ');\n}}\n"
    for number in range(60)
)


def monorepo(root: Path, count: int) -> None:
    """Twenty clients: mostly code, pictures' worth of other files, and the catalogs of each."""
    for client in range(20):
        base = root / "clients" / f"client{client}"
        (base / "src" / "locales").mkdir(parents=True)
        (base / "package.json").write_text("{}")
        (base / "src" / "tongues.ts").write_text(f"export const tongues = {json.dumps(_TAGS)};\n")
        for tag in _TAGS:
            texts = {f"key{number}": f"Text {number} in {tag}" for number in range(200)}
            (base / "src" / "locales" / f"{tag}.json").write_text(json.dumps(texts))
        for number in range(count // 20 - len(_TAGS) - 2):
            folder = base / "src" / f"part{number // 50}"
            folder.mkdir(exist_ok=True)
            (folder / f"file{number}{('.ts', '.json', '.css', '.md')[number % 4]}").write_text(
                _CODE[:3000] if number % 4 == 0 else '{"colour": "red", "size": 3}' if number % 4 == 1 else "x" * 900
            )


def heads(root: Path) -> int:
    """Walks the files and reads the first 4 KB of each."""
    total = 0
    for folder, _, names in os.walk(root):
        for name in names:
            with open(os.path.join(folder, name), "rb") as file:
                total += len(file.read(4096))
    return total


def seconds(work: Callable[[], object]) -> float:
    """Processor time of one run."""
    start = time.process_time()
    work()
    return time.process_time() - start


def surveyed(root: Path) -> object:
    """The survey of all files."""
    tree = FolderTree(root)
    return draft(tree, [match.file for match in tree.files("**")])


def main() -> None:
    """Prints both ratios."""
    count = int(sys.argv[1]) if sys.argv[1:] else 50_000
    with tempfile.TemporaryDirectory() as work:
        root = Path(work)
        monorepo(root, count)
        heads(root)
        gc.disable()  # as the program does
        ratios = [seconds(lambda: surveyed(root)) / seconds(lambda: heads(root)) for _ in range(3)]
        print(f"survey of {count:,} files\twalking and reading 4 KB of each\t{statistics.median(ratios):.2f}\t2.5")
    source = (_CODE + "export const tongues = ['en', 'de', 'fr'] as const;\n").encode()
    language = languages.load(".ts")
    assert language is not None
    parser, select, pick = language.parser(), load("symbol").select, Pick("tongues", suffix=".ts")
    times = 200
    ratios = [
        seconds(lambda: [select(source, pick) for _ in range(times)]) / seconds(lambda: [parser.parse(source) for _ in range(times)])
        for _ in range(5)
    ]
    lines = source.count(b"\n")
    print(f"claims of {times} source files of {lines} lines\ttree-sitter's bare parse\t{statistics.median(ratios):.2f}\t1.5")


if __name__ == "__main__":
    main()
