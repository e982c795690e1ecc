"""The report in a real browser: what it shows, its keys and colours, and that nothing in it does anything of its own."""

from __future__ import annotations

import base64
import json
import os
import re
import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import pytest

from lemmar.findings import Answer
from lemmar.report import heat
from tests.test_gate import OWN, SPLIT
from tests.test_outputs import HOSTILE, WAIVER

from .conftest import Repo, charter

if TYPE_CHECKING:
    from selenium.webdriver import Chrome

BROWSER = shutil.which("chromium") and shutil.which("chromedriver")
needs_browser = pytest.mark.skipif(
    not BROWSER and os.environ.get("CI") != "true",
    reason="needs the browser chromium and its driver, which are not on this machine",
)


@pytest.fixture(scope="module")
def browser() -> Iterator[Chrome]:
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    for argument in ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage"):
        options.add_argument(argument)
    options.binary_location = shutil.which("chromium") or ""
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    found = webdriver.Chrome(
        options=options, service=webdriver.ChromeService(shutil.which("chromedriver"))
    )
    yield found
    found.quit()


def said(browser: Chrome, log: str) -> list[Any]:
    """What a log of the browser has, which is then empty."""
    found: list[Any] = browser.get_log(log)  # type: ignore[no-untyped-call]
    return found


def opened(browser: Chrome, page: Path, width: int = 1280, height: int = 800) -> None:
    """Opens *page*; fails where it says anything on the console or asks for anything but itself."""
    metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    said(browser, "performance"), said(browser, "browser")
    browser.get(page.as_uri())
    quiet(browser, page)


def quiet(browser: Chrome, page: Path) -> None:
    assert said(browser, "browser") == []
    for entry in said(browser, "performance"):
        message = json.loads(entry["message"])["message"]
        if message["method"] == "Network.requestWillBeSent":
            assert message["params"]["request"]["url"] == page.as_uri()


def run(browser: Chrome, script: str) -> Any:
    return browser.execute_script(script)


def choose(browser: Chrome, field: str, value: str) -> str:
    """Chooses a value of a filter; gives the words on how many are found."""
    event = "input" if field == "words" else "change"
    words: str = run(
        browser,
        f"const field = document.getElementById({field!r}); field.value = {json.dumps(value)};"
        f"field.dispatchEvent(new Event('{event}')); return document.getElementById('number').textContent",
    )
    return words


def texts_of(browser: Chrome, selector: str) -> list[str]:
    found: list[str] = run(
        browser,
        f"return [...document.querySelectorAll({json.dumps(selector)})].map((each) => each.textContent)",
    )
    return found


@pytest.fixture
def page(repo: Repo) -> Path:
    """Two clients with findings of all severities, waived ones among them."""
    repo.write({"lemmar.toml": SPLIT + '\n[audience]\nde-CH = "de"\nfr = "agree"\n' + WAIVER})
    english = {
        "stay": "Stay {{n}} nights",
        "tea": "Tea",
        "bunk": "At the window",
        "a": "Map",
        "b": "Fog",
        "c": "Ice",
    }
    german = {
        "stay": "{{m}} Nächte",
        "old": "Alt",
        "bunk": "Am Fenster ",
        "a": "Karte",
        "b": "Nebel",
        "c": "Eis",
    }
    for name in ("huts", "lifts"):
        own = OWN.format(name=name).replace('kind = "web"', f'kind = "web"\nowner = "team {name}"')
        repo.write(
            {
                f"clients/{name}/lemmar-client.toml": own,
                f"clients/{name}/locales.json": '["en", "de"]',
            }
        )
        repo.write({f"clients/{name}/w/en.json": json.dumps(english)})
        repo.write(
            {
                f"clients/{name}/w/de.json": json.dumps(
                    german if name == "huts" else german | {"tea": "Tee"}
                )
            }
        )
    ran = repo.run("report", "page.html", "--today", "2026-11-25")
    assert ran.code == 1, ran.err
    return repo.root / "page.html"


@needs_browser
def test_the_page_says_what_the_json_says_and_filters_it(
    browser: Chrome, page: Path, repo: Repo
) -> None:
    data = repo.audit()
    opened(browser, page)
    total = len(data["findings"])
    assert run(browser, "return document.title") == "Lemmar: hold"
    assert texts_of(browser, ".counts b")[:2] == [
        str(data["counts"]["error"]),
        str(data["counts"]["warning"]),
    ]
    assert choose(browser, "client", "") == f"{total} findings"
    assert texts_of(browser, "li.finding .rule") == [
        finding["rule"] for finding in data["findings"]
    ]

    def count(**wanted: Any) -> str:
        number = sum(
            all(finding[name] == value for name, value in wanted.items())
            for finding in data["findings"]
        )
        return f"{number} of {total} findings" if number < total else f"{total} findings"

    assert choose(browser, "client", "huts") == count(client="huts")
    assert choose(browser, "severity", "error") == count(client="huts", severity="error")
    assert choose(browser, "client", "") == count(severity="error")
    choose(browser, "severity", "")
    assert choose(browser, "locale", "de") == count(locale="de")
    choose(browser, "locale", "")
    assert choose(browser, "owner", "team lifts").startswith(count(owners=["team lifts"]))
    choose(browser, "owner", "")
    waived = sum(finding["waiver"] is not None for finding in data["findings"])
    assert waived and choose(browser, "state", "waived") == f"{waived} of {total} findings"
    assert "waived: goes with the next release <b>&amp;" in texts_of(browser, "li.finding bdi")
    choose(browser, "state", "")
    assert choose(browser, "words", "ARGUMENT-lost {{m}}") == count(rule="message.argument-lost")
    assert choose(browser, "words", "no such words at all") == f"0 of {total} findings"
    choose(browser, "words", "")
    choose(browser, "order", "file")
    places = texts_of(browser, "li.finding > .place")
    assert [place.rpartition(":")[0].rpartition(":")[0] for place in places] == sorted(
        place.rpartition(":")[0].rpartition(":")[0] for place in places
    )
    run(browser, "document.querySelector('button[type=reset]').click()")
    sentences = [
        sentence
        for finding in data["findings"]
        for sentence in (finding["message"], finding["effect"], f"→ {finding['remedy']}")
    ]
    shown = [
        text for text in texts_of(browser, "li.finding > p bdi") if not text.startswith("waived: ")
    ]
    assert shown == [sentence for sentence in sentences if sentence not in ("", "→ ")]
    quiet(browser, page)


@needs_browser
def test_cells_keys_colours_and_manuals(browser: Chrome, page: Path) -> None:
    opened(browser, page)
    run(
        browser,
        "document.querySelector('td.cell button[data-client=huts][data-locale=de]').click()",
    )
    assert texts_of(browser, "#seen p") == [
        "huts in de: of 6 messages 5 own, 1 in another language",
        "1 read in en: tea",
    ]
    assert run(browser, "return document.getElementById('client').value") == "huts"

    from selenium.webdriver.common.action_chains import ActionChains
    from selenium.webdriver.common.keys import Keys

    run(browser, "document.activeElement.blur()")
    ActionChains(browser).send_keys("f").perform()
    assert run(browser, "return document.activeElement.id") == "words"
    ActionChains(browser).send_keys("message.missing").perform()
    assert texts_of(browser, "#number")[0].startswith("1 of")
    ActionChains(browser).send_keys(Keys.ESCAPE).perform()
    assert run(browser, "return document.getElementById('words').value") == ""

    run(browser, "document.querySelector('li.finding .rule').click()")
    assert run(browser, "return document.getElementById('manual').open")
    assert len(texts_of(browser, "#manual-text p")) > 1
    ActionChains(browser).send_keys(Keys.ESCAPE).perform()
    assert not run(browser, "return document.getElementById('manual').open")

    def ground() -> str:
        found: str = run(browser, "return getComputedStyle(document.body).backgroundColor")
        return found

    light = ground()
    run(browser, "document.getElementById('theme').click()")
    dark = ground()
    assert light != dark
    run(browser, "document.getElementById('theme').click()")
    assert ground() == light
    browser.execute_cdp_cmd(
        "Emulation.setEmulatedMedia",
        {"features": [{"name": "prefers-color-scheme", "value": "dark"}]},
    )
    opened(browser, page)
    assert ground() == dark
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": [], "media": ""})
    quiet(browser, page)


@needs_browser
def test_for_screen_readers_small_screens_and_paper(browser: Chrome, page: Path) -> None:
    opened(browser, page, 400)
    assert run(browser, "return document.documentElement.scrollWidth") <= 400
    unnamed = run(
        browser,
        "return [...document.querySelectorAll('button, input, select')].filter((each) => !each.hidden &&"
        " !(each.labels && each.labels.length) && !each.textContent.trim() && !each.getAttribute('aria-label')).length",
    )
    assert unnamed == 0
    assert run(browser, "return [...document.querySelectorAll('th')].every((each) => each.scope)")
    assert run(browser, "return document.documentElement.lang") == "en"
    assert run(
        browser,
        "return [...document.querySelectorAll('li.finding bdi')].every((each) => each.dir === 'auto')",
    )
    assert all(
        text.strip() for text in texts_of(browser, "li.finding .tag")
    )  # colour is not the only signal
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    assert (
        run(browser, "return getComputedStyle(document.getElementById('filters')).display")
        == "none"
    )
    browser.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
    paper = base64.b64decode(browser.execute_cdp_cmd("Page.printToPDF", {})["data"])
    assert paper.startswith(b"%PDF") and len(paper) > 10_000
    quiet(browser, page)


@needs_browser
def test_nothing_that_comes_from_files_does_anything(browser: Chrome, repo: Repo) -> None:
    bad = (
        *HOSTILE,
        "</script><script>window.pwned = 1</script>",
        "<img src=x onerror=window.pwned=1>",
        "{{ 7 * 7 }}",
        "\u05e9\u05dc\u05d5\u05dd \u0001 'a' \0",
    )
    part = "p<i onclick=x>&'`{{ 7 }}"
    keys = {f"{number}{text}": f"{text} {{{{n}}}}" for number, text in enumerate(bad)}
    more = charter(files="w/{part}/{locale}.json").replace('"app"', '"<b>app</b>\\u0007"', 1)
    repo.write(
        {
            "lemmar.toml": more
            + WAIVER.replace("message.surplus", "message.missing").replace('"old*"', '"1*"'),
            "app/locales.json": '["en", "de", "<script>window.pwned=1</script>"]',
            f"app/w/{part}/en.json": json.dumps(keys),
            f"app/w/{part}/de.json": json.dumps(dict.fromkeys(list(keys)[::2], "leer {{m}}")),
            "app/w/en.json": "{}",
        }
    )
    ran = repo.run("report", "page.html", "--today", "2026-11-25")
    assert ran.code == 1, ran.err
    page = repo.root / "page.html"
    html = page.read_text("utf-8")
    assert len(re.findall("<script", html)) == 2 and len(re.findall("</script", html)) == 2
    opened(browser, page)
    assert run(browser, "return window.pwned") is None
    assert (
        run(
            browser,
            "return document.querySelectorAll('main img, main i, main b:not(.counts b), main script').length",
        )
        == 0
    )
    run(
        browser,
        "for (const each of document.querySelectorAll('button:not([type=reset])')) each.click()",
    )
    run(browser, "document.getElementById('manual').close()")
    shown = "\n".join(texts_of(browser, "li.finding bdi"))
    assert (
        "<script>window.pwned = 1</script>" in shown
        and "{{ 7 * 7 }}" in shown
        and "\\u202e" in shown
    )
    assert run(browser, "return window.pwned") is None
    run(
        browser,
        "const x = document.createElement('script'); x.textContent = 'window.pwned = 2'; document.body.append(x)",
    )
    assert run(browser, "return window.pwned") is None  # the page's own policy forbids it
    assert "Content Security Policy" in said(browser, "browser")[0]["message"]


def test_the_warmer_the_less(repo: Repo) -> None:
    heats = [heat(Answer(own=own, foreign=100 - own)) for own in range(101)]
    assert heats == sorted(heats)
    assert (heats[0], heats[99], heats[100]) == (0, 6, 7)
    assert heat(Answer()) == 7


def test_the_page_is_the_same_each_time_and_for_the_short_form(page: Path, repo: Repo) -> None:
    long = repo.run("audit", "--format", "html", "--today", "2026-11-25").out
    assert page.read_text("utf-8") == long
    assert str(repo.root) not in long
