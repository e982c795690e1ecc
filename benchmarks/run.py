"""``make bench``: the figures of `docs/performance.md`, each a ratio of commands timed in turn in this one run."""

from __future__ import annotations

import os
import shutil
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
import outputs  # noqa: E402

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
    """Wall time of one run; fails unless the command ends with a verdict."""
    start = time.perf_counter()
    if subprocess.run(command, stdout=subprocess.DEVNULL).returncode not in (0, 1):
        raise SystemExit(f"{command} failed")
    return time.perf_counter() - start


def ratio(first: list[str], second: list[str], runs: int = 9) -> float:
    """The median of time(first) ÷ time(second), the two run in turn, after one run of each to warm up."""
    seconds(first), seconds(second)
    return statistics.median(seconds(first) / seconds(second) for _ in range(runs))


def processor_seconds(command: list[str]) -> float:
    """Processor time of one run and what it started; fails unless the command ends with a verdict."""
    before = os.times()
    if subprocess.run(command, stdout=subprocess.DEVNULL).returncode not in (0, 1):  # of a verdict
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
    if os.waitstatus_to_exitcode(status) not in (0, 1):
        raise SystemExit(f"{command} failed")
    return usage.ru_maxrss / 1024


def audit(folder: Path, *more: str) -> list[str]:
    """The command of a cold audit by one process."""
    return [LEMMAR, "audit", "--no-cache", "--workers", "1", *more, "--charter", str(folder / "lemmar.toml")]


def warm(folder: Path, cache: Path) -> list[str]:
    """The command of an audit that remembers what is in *cache*."""
    return [LEMMAR, "audit", "--cache", str(cache), "--charter", str(folder / "lemmar.toml")]


def aged() -> None:
    """Waits until nothing that was written just now is too young to be known by its times."""
    time.sleep(2.5)


def remembering(work: Path, say: Callable[[str], None]) -> list[Figure]:
    """What audits cost that remember another one, of the monorepo in ``mixed``, against a cold one of it."""
    folder, cache = work / "mixed", work / "cache"
    say("what is remembered")
    aged()
    cold = statistics.median(processor_seconds(audit(folder)) for _ in range(3))
    first = processor_seconds(warm(folder, cache))
    aged()
    processor_seconds(warm(folder, cache))
    same = statistics.median(processor_seconds(warm(folder, cache)) for _ in range(7))
    click = statistics.median(processor_seconds([PYTHON, "-c", "import click"]) for _ in range(7))
    touched = sorted(folder.glob("clients/json-flat/*/de.json"))[0]
    source = sorted(folder.glob("clients/json-flat/*/en.json"))[0]
    changes = []
    for file, number in ((touched, 3), (source, 3)):
        times = []
        for count in range(number):
            lines = file.read_text("utf-8").split("\n")
            lines[2] = lines[2].replace('": "', f'": "{chr(65 + count)}', 1)
            file.write_text("\n".join(lines), "utf-8")
            aged()
            times.append(processor_seconds(warm(folder, cache)))
        changes.append(statistics.median(times))
    clone = work / "clone"
    shutil.copytree(folder, clone)
    aged()
    restored = processor_seconds(warm(clone, cache))
    at_head, before = at_revisions(clone, work / "cache-of-revisions")
    shutil.rmtree(clone)
    return [
        Figure("audit that fills the cache ÷ one without", first / cold, "×", 1.2, 1.1),
        Figure("nothing changed ÷ cold", same / cold, "×", 0.05, None),
        Figure("nothing changed ÷ a bare interpreter that imports Click", same / click, "×", 3.5, 2.5),
        Figure("one file changed ÷ nothing changed", changes[0] / same, "×", 6, 1.3),
        Figure("one file of the source changed ÷ nothing changed", changes[1] / same, "×", 6, 2),
        Figure("a fresh clone with a restored cache ÷ cold", restored / cold, "×", 0.2, None),
        Figure("audit of the revision before HEAD, after one of HEAD ÷ one of HEAD again", before / at_head, "×", 5, 2),
    ]


def at_revisions(folder: Path, cache: Path) -> tuple[float, float]:
    """Processor seconds of an audit of ``HEAD`` that nothing has changed for, and of the first of the revision before it, of which a file differs."""
    git = ["git", "-C", str(folder), "-c", "user.name=bench", "-c", "user.email=bench@tarnhut.example"]
    file = sorted(folder.glob("clients/json-flat/*/de.json"))[0]
    subprocess.run([*git, "init", "-q"], check=True)
    for letter in "ABCD":
        lines = file.read_text("utf-8").split("\n")
        lines[3] = lines[3].replace('": "', f'": "{letter}', 1)
        file.write_text("\n".join(lines), "utf-8")
        subprocess.run([*git, "add", "-A"], check=True)
        subprocess.run([*git, "commit", "-q", "-m", letter], check=True)
    processor_seconds([*warm(folder, cache), "--at", "HEAD"])
    again = statistics.median(processor_seconds([*warm(folder, cache), "--at", "HEAD"]) for _ in range(5))
    earlier = statistics.median(processor_seconds([*warm(folder, cache), "--at", f"HEAD~{number}"]) for number in (1, 2, 3))
    return again, earlier


def of_outputs(work: Path, say: Callable[[str], None]) -> list[Figure]:
    """What the outputs of 50,000 findings cost beside their JSON, and what a browser makes of the page."""
    say("outputs")
    bounds = {"sarif": 3.0, "junit": 3.0, "csv": 3.0, "markdown": 3.0, "html": 6.0}
    shares = outputs.ratios()
    figures = [Figure(f"50,000 findings as {form} ÷ as json", shares[form][0], "×", bound, None) for form, bound in bounds.items()]
    figures.append(Figure("the page of 50,000 findings", shares["html"][1] / 2**20, "MiB", 15, None))
    page = work / "page.html"
    page.write_text(outputs.page(50_000), "utf-8")
    seen = outputs.in_browser(page)
    if seen is not None:
        figures.append(Figure("the page opens in a browser within, in ms", seen["open"], "", 2000, None))
        figures.append(Figure("its slowest filter, in ms", seen["filter"], "", 100, None))
    return figures


def of_writing(work: Path, say: Callable[[str], None]) -> Figure:
    """What it costs to work out all edits that a new locale needs, with an audit before and one after them, beside one audit."""
    say("a new locale")
    folder = work / "thousand"
    monorepo.write(folder, 240_000)
    enrolling = [LEMMAR, "enroll", "hr", "--charter", str(folder / "lemmar.toml")]
    return Figure(
        "enrolling a locale in 1,000 files ÷ an audit of them, processor time", processor_ratio(enrolling, audit(folder)), "×", 2, None
    )


def handoff(work: Path, say: Callable[[str], None]) -> list[Figure]:
    """What a brief of 100,000 texts costs, and taking its answers back."""
    say("work for translators")
    folder = work / "handoff"
    monorepo.write_untranslated(folder, 120_000, 20_000)
    charter = ("--charter", str(folder / "lemmar.toml"))
    again, cold = warm(folder, work / "handoff-cache"), audit(folder)
    processor_seconds(again)
    out = folder / "out"

    def briefing() -> float:
        shutil.rmtree(out, ignore_errors=True)
        return processor_seconds([LEMMAR, "brief", "fr", "--as", "csv", "-o", str(out), *charter])

    brief = min(briefing() for _ in range(2))
    monorepo.fill(out / "brief.fr.csv")
    intake = min(processor_seconds([LEMMAR, "intake", str(out / "brief.fr.csv"), *charter]) for _ in range(2))
    known, anew = (min(processor_seconds(command) for _ in range(3)) for command in (again, cold))
    return [
        Figure("a brief of 100,000 texts ÷ an audit of them", brief / anew, "×", 12, None),
        Figure("taking 100,000 answers back ÷ an audit of them", intake / anew, "×", 12, None),
        Figure("a brief of 100,000 texts ÷ an audit when nothing changed", brief / known, "×", 150, None),
        Figure("taking 100,000 answers back ÷ an audit when nothing changed", intake / known, "×", 150, None),
    ]


def side_by_side(work: Path, say: Callable[[str], None]) -> list[Figure]:
    """What several processes gain and cost, on the monorepo in ``mixed``."""
    folder = work / "mixed"
    say("processes side by side")
    alone, pool = audit(folder), audit(folder, "--workers", "2")
    floor = [PYTHON, str(HERE / "floor.py"), str(folder)]
    wall = ratio(pool, floor, 3)
    extra = processor_ratio(pool, alone, 3)
    return [
        Figure("cold audit by two processes ÷ the floor, wall time", wall, "×", 2.5, 1.5),
        Figure("cold audit by two processes ÷ by one, processor time", extra, "×", 1.25, 1.1),
        Figure("peak memory of one process at a million mixed messages", peak_mib(audit(folder)), "MiB", 350, None),
    ]


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
    mixed.write(work / "mixed", 1_000_000)
    figures.append(
        Figure(
            "cold audit of a million messages in twenty-two shapes and forty locales ÷ the floor, processor time",
            processor_ratio(audit(work / "mixed"), [PYTHON, str(HERE / "floor.py"), str(work / "mixed")], 3),
            "×",
            4,
            2.5,
        )
    )
    figures += side_by_side(work, say)
    figures += handoff(work, say)
    figures += remembering(work, say)
    figures += of_outputs(work, say)
    shutil.rmtree(work / "mixed")
    say("an empty monorepo")
    monorepo.write(work / "empty", 10, ("json",))
    figures.append(
        Figure(
            "audit of a monorepo with next to nothing ÷ a bare interpreter that imports Click",
            ratio(audit(work / "empty"), [PYTHON, "-c", "import click"], 9),
            "×",
            6,
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
    figures.append(of_writing(work, say))
    say("resolution")
    share = subprocess.run([PYTHON, str(HERE / "resolution.py")], capture_output=True, check=True, text=True).stdout
    figures.append(Figure("resolving 1,000,000 messages ÷ reading them, in one process", float(share), "×", 0.3, None))
    say("messages")
    share = subprocess.run([PYTHON, str(HERE / "messages.py")], capture_output=True, check=True, text=True).stdout
    figures.append(Figure("all rules of messages on 1,000,000 messages ÷ one compiled expression over them", float(share), "×", 2.5, None))
    say("what code asks for")
    anew, again = subprocess.run([PYTHON, str(HERE / "usages.py")], capture_output=True, check=True, text=True).stdout.split()
    figures.append(Figure("what 5,000 source files ask for ÷ a bare parse of them", float(anew), "×", 2, 1.3))
    figures.append(Figure("the same when nothing changed ÷ a bare parse of them", float(again), "×", 0.3, 0.1))
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
    rest = page.read_text("utf-8").partition(AFTER)[2] if page.exists() else ""
    page.write_text(
        PAGE.format(table=table, rest=AFTER + rest, python=".".join(map(str, sys.version_info[:2])), cores=os.cpu_count()), encoding="utf-8"
    )
    missed = [figure.name for figure in figures if figure.value > figure.must]
    if missed:
        sys.exit(f"over what it must be: {'; '.join(missed)}")


#: What stands below the figures is written by people.
AFTER = "\n## Where the time goes"
PAGE = """# Performance

Figures of `make bench`: ratios of commands timed in turn in one run on one machine ({cores} cores, Python {python}), the median of
several runs. The monorepos are synthetic and seeded: `benchmarks/monorepo.py` has ten locales, parts of 200 keys, a placeholder in
every fourth text; `benchmarks/mixed.py` has twenty-two clients in forty locales, every format and layout, plurals, and texts with branches. The
floor (`benchmarks/floor.py`) reads and parses the same files with the fastest general parsers in one
process and checks nothing; the script (`benchmarks/script.py`) is what a release engineer would otherwise write for JSON. What is over
what it must be is missed; the section below says why.

{table}
{rest}"""


if __name__ == "__main__":
    main()
