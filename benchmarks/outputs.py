"""What the outputs of a verdict with many findings cost, beside the JSON of the same; and what a browser makes of the page."""

from __future__ import annotations

import gc
import json
import random
import shutil
import sys
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median
from typing import Any

from lemmar import report
from lemmar.findings import Answer, Finding, Outcome, Place, Subject, Verdict, holds
from lemmar.report import Filter, Page
from lemmar.tags import Tag
from lemmar.trees import File

LOCALES = tuple(
    Tag(tag)
    for tag in (
        *("en", "de", "de-AT", "fr", "it", "es", "pt-BR", "pl", "cs", "sv"),
        *("nl", "tr", "ru", "uk", "ar", "he", "ja", "ko", "zh-Hans", "zh-Hant"),
    )
)
RULES = ("message.missing", "message.argument-lost", "message.same-as-source", "message.plural-missing", "catalog.damaged", "roster.split")
SEVERITIES = ("error", "error", "warning", "error", "error", "error")


def verdict(number: int, seed: int = 5) -> Verdict:
    """A verdict with so many findings, as an audit of a large monorepo gives it."""
    chance = random.Random(seed)
    clients = [f"client-{index:02}" for index in range(30)]
    findings = []
    for index in range(number):
        which = chance.randrange(len(RULES))
        client, locale = chance.choice(clients), chance.choice(LOCALES)
        key = f"section{index % 97}.message{index}"
        file = File(f"clients/{client}/src/locales/{locale}/part{index % 11}.json")
        findings.append(
            Finding(
                RULES[which],
                SEVERITIES[which],  # type: ignore[arg-type]
                Subject((client,), locale, f"part{index % 11}", key),
                f"{key!r} is missing in {locale!r}",
                f"users see the 'en' text: 'Bunks in hut {index} above the lake'",
                f"translate 'Bunks in hut {index} above the lake'",
                Place(file, 1 + index % 4000, 3),
                (Place(File(f"clients/{client}/src/locales/en/part{index % 11}.json"), 1 + index % 4000, 3),),
                f"{chance.getrandbits(96):024x}",
                None if index % 50 else "counsel reviews it",
            )
        )
    answers = {locale: Answer(own=900, foreign=100) for locale in LOCALES}
    outcomes = tuple(Outcome(client, "web", LOCALES, answers) for client in clients)
    held = any(holds(finding, "error") for finding in findings)
    return Verdict(held, tuple(findings), outcomes, LOCALES, "error", {"counsel reviews it": 30})


def written(form: str, found: Verdict) -> tuple[int, float]:
    """The characters that an output has, and the processor time that it takes, in seconds."""
    make = report.load(form).findings
    assert make is not None
    list(make(verdict(10), Filter(), Page()))  # what is imported, is imported
    gc.collect()
    begin = time.process_time()
    size = sum(len(piece.encode("utf-8")) for piece in make(found, Filter(everything=True), Page()))
    return size, time.process_time() - begin


def ratios(number: int = 50_000, times: int = 5) -> dict[str, tuple[float, int]]:
    """For each output its time beside the JSON's, and its size in bytes."""
    found = verdict(number)
    forms = [form for form in report.for_findings() if form != "json"]
    shares: dict[str, list[float]] = {form: [] for form in forms}
    sizes: dict[str, int] = {}
    for _ in range(times):
        base = written("json", found)[1]
        for form in forms:
            sizes[form], spent = written(form, found)
            shares[form].append(spent / base)
    return {form: (median(shares[form]), sizes[form]) for form in forms}


def in_browser(page: Path) -> dict[str, Any] | None:
    """How long the page takes to open, and the slowest of several filters, in ms; None where there is no browser."""
    program, service = shutil.which("chromium"), shutil.which("chromedriver")
    if program is None or service is None:
        return None
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    for argument in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage"):
        options.add_argument(argument)
    options.binary_location = program
    browser = webdriver.Chrome(options=options, service=webdriver.ChromeService(service))
    try:
        browser.get(page.as_uri())
        opened = browser.execute_script("return performance.timing.loadEventEnd - performance.timing.navigationStart")
        filtered = browser.execute_script(_FILTERS)
        return {"open": float(opened), "filter": float(max(filtered)), "all": [round(each) for each in filtered]}
    finally:
        browser.quit()


_FILTERS = """
const times = [];
const run = (id, value, event) => {
  const begin = performance.now();
  const field = document.getElementById(id);
  field.value = value;
  field.dispatchEvent(new Event(event));
  document.body.offsetHeight;
  times.push(performance.now() - begin);
};
for (const word of ["lake", "section7.message", "zzz", ""]) run("words", word, "input");
for (const client of ["client-03", ""]) run("client", client, "change");
for (const family of ["message", ""]) run("family", family, "change");
for (const severity of ["error", ""]) run("severity", severity, "change");
return times;
"""


def page(number: int) -> str:
    """The report of so many findings."""
    make = report.load("html").findings
    assert make is not None
    return "".join(make(verdict(number), Filter(), Page()))


def main(say: Callable[[str], Any] = print) -> None:
    """Prints the figures."""
    for form, (share, size) in ratios(times=3).items():
        say(f"{form:10} {share:5.2f} × json  {size / 2**20:6.2f} MiB")
    file = Path(sys.argv[1] if len(sys.argv) > 1 else "build/fifty-thousand.html")
    file.parent.mkdir(exist_ok=True)
    file.write_text(page(50_000), "utf-8")
    say(json.dumps(in_browser(file.resolve())))


if __name__ == "__main__":
    main()
