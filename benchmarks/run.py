"""``make bench``: the figures of `docs/performance.md`, each a ratio of commands timed in turn in this one run."""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

HERE = Path(__file__).resolve().parent
sys.path.insert(0, str(HERE))

import mixed  # noqa: E402
import monorepo  # noqa: E402

PYTHON = sys.executable
# As installed: with compiled bytecode, which the first run of each command writes.
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
LEMMAR = str(Path(PYTHON).with_name("lemmar"))


class Figure(NamedTuple):
    """A measured ratio, and what it must and should be."""

    name: str
    value: float
    unit: str
    must: float
    aim: float | None


def seconds(command: list[str]) -> float:
    """Wall time of one run; fails unless the command ends well."""
    start = time.perf_counter()
    subprocess.run(command, stdout=subprocess.DEVNULL, check=True)
    return time.perf_counter() - start


def ratio(first: list[str], second: list[str], runs: int = 9) -> float:
    """The median of time(first) ÷ time(second), the two run in turn, after one run of each to warm up."""
    seconds(first), seconds(second)
    return statistics.median(seconds(first) / seconds(second) for _ in range(runs))


def processor_seconds(command: list[str]) -> float:
    """Processor time of one run and what it started; fails unless the command ends with a verdict."""
    before = os.times()
    if subprocess.run(command, stdout=subprocess.DEVNULL).returncode not in (0, 1):
        raise SystemExit(f"{command} failed")
    after = os.times()
    return after.children_user + after.children_system - before.children_user - before.children_system


def processor_ratio(first: list[str], second: list[str], runs: int = 5) -> float:
    """The median of processor time of *first* ÷ that of *second*, the two run in turn, after one run of each to warm up."""
    processor_seconds(first), processor_seconds(second)
    return statistics.median(processor_seconds(first) / processor_seconds(second) for _ in range(runs))


def peak_mib(command: list[str]) -> float:
    """Peak memory of one run in MiB, of its largest process."""
    pid = os.posix_spawn(command[0], command, os.environ, file_actions=[(os.POSIX_SPAWN_OPEN, 1, os.devnull, os.O_WRONLY, 0)])
    _, status, usage = os.wait4(pid, 0)
    if status:
        raise SystemExit(f"{command} failed")
    return usage.ru_maxrss / 1024


def audit(folder: Path) -> list[str]:
    """The command of a cold audit."""
    return [LEMMAR, "audit", "--charter", str(folder / "lemmar.toml")]


def measure(work: Path, say: Callable[[str], None]) -> list[Figure]:
    """All figures."""
    small, large, million, only_json = work / "small", work / "large", work / "million", work / "json"
    say("writing the monorepos")
    count = monorepo.write(small, 100_000)
    tenfold = monorepo.write(large, 1_000_000)
    assert tenfold == 10 * count
    million = large
    monorepo.write(only_json, 100_000, ("json",))
    figures = []
    say("start")
    figures.append(
        Figure(
            "`lemmar --help` ÷ a bare interpreter that imports Click",
            ratio([LEMMAR, "--help"], [PYTHON, "-c", "import click"], 15),
            "×",
            1.6,
            1.3,
        )
    )
    say("tags")
    output = subprocess.run([PYTHON, str(HERE / "tags.py")], capture_output=True, check=True, text=True).stdout
    figures.append(Figure("parse, canonical, maximized of 10,000 distinct tags ÷ `split` of each", float(output), "×", 200, 40))
    importing = ratio([PYTHON, "-c", "import lemmar.tags"], [PYTHON, "-c", "import re"], 15)
    figures.append(Figure("`import lemmar.tags` ÷ `import re`, whole processes", importing, "×", 1.3, None))
    say("cold audit")
    figures.append(
        Figure(
            "cold audit of 100,000 messages in five formats ÷ the floor",
            ratio(audit(small), [PYTHON, str(HERE / "floor.py"), str(small)]),
            "×",
            3,
            1.5,
        )
    )
    say("many shapes")
    mixed.write(work / "mixed", 400_000)
    figures.append(
        Figure(
            "cold audit of 400,000 messages in twenty-two shapes and forty locales ÷ the floor, processor time",
            processor_ratio(audit(work / "mixed"), [PYTHON, str(HERE / "floor.py"), str(work / "mixed")], 3),
            "×",
            4,
            2.5,
        )
    )
    say("the script")
    figures.append(
        Figure(
            "audit of 100,000 messages in JSON ÷ the fifty-line script",
            ratio(audit(only_json), [PYTHON, str(HERE / "script.py"), str(only_json)]),
            "×",
            1.5,
            0.8,
        )
    )
    say("ten times the messages")
    figures.append(Figure("time for ten times the messages ÷ time", ratio(audit(large), audit(small), 3), "×", 11, 10.5))
    say("resolution")
    share = subprocess.run([PYTHON, str(HERE / "resolution.py")], capture_output=True, check=True, text=True).stdout
    figures.append(Figure("resolving 1,000,000 messages ÷ reading them, in one process", float(share), "×", 0.3, None))
    say("messages")
    share = subprocess.run([PYTHON, str(HERE / "messages.py")], capture_output=True, check=True, text=True).stdout
    figures.append(Figure("all rules of messages on 1,000,000 messages ÷ one compiled expression over them", float(share), "×", 2.5, None))
    say("memory")
    figures.append(Figure("peak memory at 1,000,000 messages", peak_mib(audit(million)), "MiB", 800, 500))
    return figures


def main() -> None:
    """Measures, prints, and writes the page."""
    with tempfile.TemporaryDirectory() as work:
        figures = measure(Path(work), lambda words: print(f"… {words}", file=sys.stderr))
    readers = subprocess.run([PYTHON, str(HERE / "readers.py")], capture_output=True, check=True, text=True).stdout
    surveys = subprocess.run([PYTHON, str(HERE / "survey.py")], capture_output=True, check=True, text=True).stdout
    rows = ["| figure | measured | must be at most | aim |", "| --- | ---: | ---: | ---: |"]
    for figure in figures:
        unit = "" if figure.unit == "×" else f" {figure.unit}"
        aim = "" if figure.aim is None else f"{figure.aim:g}{unit}"
        rows.append(f"| {figure.name} | {figure.value:.{0 if unit else 2}f}{unit} | {figure.must:g}{unit} | {aim} |")
    rows += ["", "Readers, 100,000 messages of one format, in one process, against a general parser that only parses:", ""]
    rows += ["| format | against | measured | must be at most |", "| --- | --- | ---: | ---: |"]
    rows += [
        f"| `{name}` | {parser} | {value} | {must} |" for name, parser, value, must in (line.split("\t") for line in readers.splitlines())
    ]
    rows += ["", "Survey and claims:", "", "| what | against | measured | must be at most |", "| --- | --- | ---: | ---: |"]
    rows += [
        f"| {what} | {against} | {value} | {must} |" for what, against, value, must in (line.split("\t") for line in surveys.splitlines())
    ]
    table = "\n".join(rows)
    print(table)
    page = HERE.parent / "docs" / "performance.md"
    page.write_text(PAGE.format(table=table, python=".".join(map(str, sys.version_info[:2])), cores=os.cpu_count()), encoding="utf-8")
    missed = [figure.name for figure in figures if figure.value > figure.must]
    if missed:
        sys.exit(f"over what it must be: {'; '.join(missed)}")


PAGE = """# Performance

Figures of `make bench`: ratios of commands timed in turn in one run on one machine ({cores} cores, Python {python}), the median of
several runs. The monorepos are synthetic and seeded (`benchmarks/monorepo.py`): ten locales, parts of 200 keys, a placeholder in
every fourth text. The floor (`benchmarks/floor.py`) reads and parses the same files with the fastest general parsers in one
process and checks nothing; the script (`benchmarks/script.py`) is what a release engineer would otherwise write for JSON.

{table}
"""


if __name__ == "__main__":
    main()
