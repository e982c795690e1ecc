"""What code asks for, in 5,000 source files: looking through them ÷ a bare parse of the same files; and again, when they are kept.

Every file asks for four messages in 4 KB, so that none is passed over unparsed; both read the files from disk. Prints the two ratios.
"""

from __future__ import annotations

import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from lemmar.cache import Store
from lemmar.charter.types import UsageEntry
from lemmar.inventory.readings import Readings
from lemmar.inventory.using import usage_of
from lemmar.languages import load
from lemmar.trees.folder import FolderTree

_FILES = 5_000
_SAMPLES = {
    ".ts": 'export function part{n}(values: Values) {{\n  const rows = values.rows.map((row) => row.name + ": " + row.height);\n'
    '  if (rows.length > {n}) {{ report("{n}", rows); }}\n  return say("hut.k{n}", {{ count: rows.length }});\n}}\n',
    ".tsx": "export const Card{n} = (props: Props) => (\n  <section className=\"card\"><h2>{{say('hut.k{n}')}}</h2>\n"
    "    <ul>{{props.rows.map((row) => <li key={{row.id}}>{{row.name}} {{row.height}}</li>)}}</ul></section>\n);\n",
    ".py": 'def part_{n}(values):\n    rows = [row["name"] for row in values if row["height"] > {n}]\n    return say("hut.k{n}", count=len(rows))\n\n',
    ".kt": "fun part{n}(values: List<Row>): String {{\n    val rows = values.filter {{ it.height > {n} }}.map {{ it.name }}\n"
    '    return say("hut.k{n}", rows.size)\n}}\n',
    ".cs": "public static class Part{n} {{\n    public static string Of(Row[] rows) {{\n        var high = rows.Where(row => row.Height > {n}).ToArray();\n"
    '        return Words.Say("hut.k{n}", high.Length);\n    }}\n}}\n',
}


def write(folder: Path) -> None:
    """Source files of some 4 KB each, in five languages."""
    for number in range(_FILES):
        suffix = list(_SAMPLES)[number % len(_SAMPLES)]
        path = folder / f"src/{number % 50}/file{number}{suffix}"
        path.parent.mkdir(parents=True, exist_ok=True)
        parts = [_SAMPLES[suffix].format(n=number * 20 + index) for index in range(14)]
        path.write_text(
            "".join(part if index % 4 == 0 else part.replace("say(", "sum(").replace(".Say(", ".Sum(") for index, part in enumerate(parts))
        )


def bare(folder: Path) -> None:
    """Parses every file."""
    parsers = {suffix: language.parser() for suffix in _SAMPLES if (language := load(suffix)) is not None}
    for path in sorted(folder.rglob("*.*")):
        parsers[path.suffix].parse(path.read_bytes())


def looked_through(folder: Path, readings: Readings) -> int:
    """How many uses there are."""
    usage = usage_of(FolderTree(folder), [UsageEntry(call=("say", "Words.Say"))], "", (), (), readings)
    assert usage is not None
    return sum(len(file.uses) for file in usage.files)


def seconds(what: Callable[[], object]) -> float:
    """Processor time of the fastest of three runs."""
    times = []
    for _ in range(3):
        start = time.process_time()
        what()
        times.append(time.process_time() - start)
    return min(times)


def main() -> None:
    """Measures and prints."""
    with tempfile.TemporaryDirectory() as work:
        folder = Path(work, "code")
        write(folder)
        assert looked_through(folder, Readings(keeps=False)) == 4 * _FILES
        parse = seconds(lambda: bare(folder))
        anew = seconds(lambda: looked_through(folder, Readings(keeps=False)))
        cache = Store(Path(work, "cache"))
        looked_through(folder, Readings(keeps=False, cache=cache))
        again = seconds(lambda: looked_through(folder, Readings(keeps=False, cache=cache)))
        cache.close()
    sys.stdout.write(f"{anew / parse:.2f} {again / parse:.2f}\n")


if __name__ == "__main__":
    main()
