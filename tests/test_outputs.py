"""The outputs of an audit, each opened by a reader that knows nothing of Lemmar."""

from __future__ import annotations

import csv
import io
import json
import re
import sys
from collections import Counter
from pathlib import Path
from typing import Any
from urllib.parse import unquote

import pytest
from jsonschema import Draft4Validator
from lxml import etree

from lemmar import report
from lemmar.report import sarif
from lemmar.report.markdown import MOST

from .conftest import Repo, charter

SCHEMAS = Path(__file__).parent / "schemas"
SARIF = Draft4Validator(json.loads((SCHEMAS / "sarif-2.1.0-rtm.5.json").read_text("utf-8")))
JUNIT = etree.XMLSchema(etree.parse(SCHEMAS / "junit-10.xsd"))
WAIVER = """
[[waiver]]
rule = "message.surplus"
key = "old*"
until = 2027-01-31
reason = "goes with the next release <b>&amp;"
"""
#: What a text, a key or a name of a file may do to who reads it.
HOSTILE = (
    "<script>alert(1)</script>\"'&",
    "=1+1",
    "@everyone #12 https://tarnhut.example www.tarnhut.example",
    "a|b\\|c`d`**e**[f](g)<!--",
    "\u202egnp.exe\u202c",
    "a\u2028b\x85c\ufffe\ufdd0",
    "]]>",
    "::error file=x::y",
    "a\nb\r\nc\td",
    "\x1b[31mred\x00",
)


@pytest.fixture
def several(repo: Repo) -> Repo:
    """Findings of all severities, some of them waived."""
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
        "older": "Älter",
        "bunk": "Am Fenster ",
        "a": "Karte",
        "b": "Nebel",
        "c": "Eis",
    }
    return repo.write(
        {
            "lemmar.toml": charter(more=WAIVER),
            "app/locales.json": '["en", "de"]',
            "app/w/en.json": json.dumps(english, indent=1),
            "app/w/de.json": json.dumps(german, indent=1),
        }
    )


@pytest.fixture
def hostile(repo: Repo) -> Repo:
    """Keys, texts and names of files that would do something to who shows them raw."""
    keys = {f"{number}{text}": f"{text} {{{{n}}}}" for number, text in enumerate(HOSTILE)}
    part = "p<i>|&'`$(x) #[y](z)"
    return repo.write(
        {
            "lemmar.toml": charter(files="w/{part}/{locale}.json"),
            "app/locales.json": '["en", "de"]',
            f"app/w/{part}/en.json": json.dumps(keys),
            f"app/w/{part}/de.json": json.dumps(dict.fromkeys(list(keys)[::2], "leer {{m}}")),
            "app/w/=2/en.json": '{"a": "b"}',
        }
    )


def of(repo: Repo, form: str, *arguments: str) -> str:
    ran = repo.run("audit", "--format", form, "--today", "2026-11-25", *arguments)
    assert ran.code in (0, 1, 3), ran.err
    return ran.out


def checked_sarif(text: str) -> Any:
    log = json.loads(text)
    assert not list(SARIF.iter_errors(log))
    return log


def checked_junit(text: str) -> etree._Element:
    document = etree.fromstring(text.encode("utf-8"))
    JUNIT.assertValid(document)
    for suite in document:
        assert int(suite.get("tests", "")) == len(suite)
        for name in ("failure", "error"):
            assert int(suite.get(f"{name}s", "")) == sum(
                case.find(name) is not None for case in suite
            )
        assert int(suite.get("skipped", "")) == sum(
            case.find("skipped") is not None for case in suite
        )
    for name in ("tests", "failures", "errors"):
        assert int(document.get(name, "")) == sum(int(suite.get(name, "")) for suite in document)
    return document


def test_all_numbers_are_the_same(several: Repo) -> None:
    data = json.loads(of(several, "json"))
    counts = {name: number for name, number in data["counts"].items() if number}
    assert counts.keys() == {"error", "warning", "waived"}
    lines = of(several, "lines").splitlines()
    assert Counter(line.split(": ")[1].split(" ")[0] for line in lines) == counts
    rows = list(csv.DictReader(io.StringIO(of(several, "csv"))))
    assert Counter("waived" if row["waiver"] else row["severity"] for row in rows) == counts
    results = checked_sarif(of(several, "sarif"))["runs"][0]["results"]
    assert (
        Counter("waived" if "suppressions" in each else each["level"] for each in results) == counts
    )
    cases = checked_junit(of(several, "junit")).iter("failure", "system-out")
    words = "\n".join(case.text or "" for case in cases)
    assert Counter(re.findall(r"^\S+:\d+:\d+: (\w+)", words, re.MULTILINE)) == counts
    for form in ("text", "markdown"):
        head = of(several, form)
        for name, number in counts.items():
            assert f"{number} {name}" in head
    prints = [finding["fingerprint"] for finding in data["findings"]]
    assert [row["fingerprint"] for row in rows] == prints
    assert [each["partialFingerprints"]["lemmar/1"] for each in results] == prints


def test_hostile_texts_do_nothing(hostile: Repo) -> None:
    data = json.loads(of(hostile, "json"))
    assert len(data["findings"]) > len(HOSTILE)
    for result, finding in zip(
        checked_sarif(of(hostile, "sarif"))["runs"][0]["results"], data["findings"], strict=True
    ):
        place = result["locations"][0]["physicalLocation"]
        assert unquote(place["artifactLocation"]["uri"]) == finding["place"]["file"]
        assert (place["region"]["startLine"], place["region"]["startColumn"]) == (
            finding["place"]["line"],
            finding["place"]["column"],
        )
    checked_junit(of(hostile, "junit"))
    for row in csv.DictReader(io.StringIO(of(hostile, "csv"))):
        assert not any(cell[:1] in tuple("=+-@\t\r") for cell in row.values() if cell)
    markdown = of(hostile, "markdown")
    text = re.sub(r"\\[\\`*_\[\]<>|~$]|</?details>|</?summary>|\*\*|&amp;|&#\d+;", "", markdown)
    assert not re.search(r"[<>`@\[\]]|www\.|://", text.replace("`lemmar audit --all`", ""))
    for form in ("lines", "markdown", "junit", "sarif", "csv", "text", "json"):
        out = of(hostile, form)
        assert not re.search("[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u202a-\u202e]", out), form
        assert not any(line.startswith("::") for line in out.split("\n"))


def test_a_line_never_begins_as_a_command(repo: Repo) -> None:
    repo.write(
        {
            "lemmar.toml": charter(root=".", files="{locale}.json", claim=""),
            "en.json": '{"a": "b"}',
            "::x/de.json": "{}",
            "de.json": "{",
        }
    )
    repo.write({"lemmar.toml": charter(root="::x", files="{locale}.json", claim="")})
    lines = of(repo, "lines").splitlines()
    assert lines
    assert all(line.startswith(("./::x/", "lemmar.toml")) for line in lines)


def test_sarif_says_what_is_waived_and_what_was_not_checked(several: Repo) -> None:
    run = checked_sarif(of(several, "sarif"))["runs"][0]
    waived = [result for result in run["results"] if "suppressions" in result]
    assert [each["suppressions"][0]["justification"] for each in waived] == [
        "goes with the next release <b>&amp;"
    ] * 2
    assert run["invocations"] == [
        {"executionSuccessful": True, "exitCode": 1, "toolExecutionNotifications": []}
    ]
    rules = run["tool"]["driver"]["rules"]
    assert all(rules[result["ruleIndex"]]["id"] == result["ruleId"] for result in run["results"])
    assert all(rule["help"]["markdown"] and rule["fullDescription"]["text"] for rule in rules)
    several.write(
        {
            "lemmar.toml": charter(
                catalog='  built = true\n\n  [[client.catalog]]\n  files = "x/{locale}.json"\n'
            )
        }
    )
    several.write({"app/x/en.json": '{"a": "b"}', "app/x/de.json": '{"a": "c"}'})
    (several.root / "app/w/en.json").unlink()
    (several.root / "app/w/de.json").unlink()
    run = checked_sarif(of(several, "sarif"))["runs"][0]
    assert run["invocations"][0]["executionSuccessful"] is False
    assert (
        "is not built" in run["invocations"][0]["toolExecutionNotifications"][0]["message"]["text"]
    )
    document = checked_junit(of(several, "junit"))
    assert "is not built" in (document.findtext(".//error") or "")
    assert "not checked: " in of(several, "lines")
    assert "incomplete,,,,,,,,,,w/{locale}.json of app is not built" in of(several, "csv")


def test_many_results_are_parted_by_client(several: Repo, monkeypatch: pytest.MonkeyPatch) -> None:
    whole = checked_sarif(of(several, "sarif"))["runs"][0]["results"]
    monkeypatch.setattr(sarif, "MOST_OF_A_RUN", 2)
    runs = checked_sarif(of(several, "sarif"))["runs"]
    assert [run["automationDetails"]["id"] for run in runs] == ["lemmar/client/app"]
    assert [result for run in runs for result in run["results"]] == whole


def test_a_case_of_junit_fails_with_what_holds_only(several: Repo) -> None:
    def cases() -> dict[str, list[str]]:
        document = checked_junit(of(several, "junit"))
        return {
            str(case.get("name")): [str(child.tag) for child in case]
            for case in document.iter("testcase")
        }

    found = cases()
    assert found["en"] == []
    assert found["de"] == ["failure", "system-out"]
    text = several.root / "lemmar.toml"
    text.write_text(text.read_text().replace("[chains]", '[gate]\nfail-on = "never"\n[chains]'))
    assert cases()["de"] == ["system-out"]
    several.write(
        {
            "app/w/de.json": '{"stay": "{{n}} Nächte", "tea": "Schwarztee", "bunk": "Am Fenster", "old": "Alt", "a": "Karte", "b": "Nebel", "c": "Eis"}'
        }
    )
    assert cases()["de"] == ["skipped", "system-out"]


def test_markdown_fits_a_comment_and_counts_what_it_leaves_out(repo: Repo) -> None:
    english = {
        f"k{number}": f"Bunk number {{{{n}}}} in hut {number} of the long ridge"
        for number in range(900)
    }
    files = {
        f"app/p{part}/{locale}.json": json.dumps(english if locale == "en" else {})
        for part in range(3)
        for locale in ("en", "de", "fr")
    }
    repo.write(
        {
            "lemmar.toml": charter(files="{part}/{locale}.json", shipping="en de fr"),
            "app/locales.json": '["en", "de", "fr"]',
            **files,
        }
    )
    repo.write(
        {
            f"app/p0/{locale}.json": json.dumps(
                {key: f"{key} {locale} {{{{m}}}}" for key in english}
            )
            for locale in ("de", "fr")
        }
    )
    out = of(repo, "markdown")
    assert len(out) <= MOST
    total = sum(json.loads(of(repo, "json"))["counts"].values())
    left = re.search(r"Left out for want of room: ([\d,]+) findings: (.*)\. `lemmar", out)
    assert left is not None
    left_out = int(left[1].replace(",", ""))
    assert 0 < left_out < total
    assert (
        sum(int(number.replace(",", "")) for number in re.findall(r"([\d,]+) of ", left[2]))
        == left_out
    )
    assert out.count("<details>") == out.count("</details>")


def test_several_outputs_of_one_run(several: Repo) -> None:
    forms = ("sarif", "junit", "csv", "json", "markdown", "lines")
    alone = {form: of(several, form) for form in forms}
    arguments = [word for form in forms for word in ("--also", f"{form}=out/{form}")]
    (several.root / "out").mkdir()
    of(several, "text", *arguments)
    assert {form: (several.root / "out" / form).read_text("utf-8") for form in forms} == alone
    ran = several.run("audit", "--also", "csv=out/x", "--also", "json=./out/../out/x")
    assert (ran.code, ran.err) == (
        2,
        "lemmar: two outputs would be written to out/../out/x; give each a file of its own\n",
    )
    ran = several.run("audit", "--also", "csv=app/w/en.json")
    assert ran.code == 2
    assert "was read for this" in ran.err
    ran = several.run("audit", "--also", "csv")
    assert "is not of the form NAME=FILE" in ran.err


# ---------------------------------------------------------------------------------------------------------------- figures


def test_figures_are_pictures_that_stay_the_same(several: Repo) -> None:
    for command in (["grid"], ["landing", "de-CH", "fr"]):
        for name in ("a.svg", "b.svg", "a.png", "b.PNG"):
            ran = several.run(*command, "-o", name)
            assert (ran.code, ran.out, ran.err) == (0, "", "")
        first, second = ((several.root / f"{name}.svg").read_bytes() for name in "ab")
        assert first == second
        assert (several.root / "a.png").read_bytes() == (several.root / "b.PNG").read_bytes()
        assert (several.root / "a.png").read_bytes().startswith(b"\x89PNG")
        words = [text.strip() for text in etree.fromstring(first).itertext() if text.strip()]
        assert "app" in words
        assert (
            {"en", "83 %"} <= set(words)
            if command == ["grid"]
            else {"de-CH", "en (default)"} <= set(words)
        )
    assert "leave --by" in several.run("grid", "--by", "part", "-o", "x.svg").err
    assert "leave --explain" in several.run("landing", "de", "--explain", "-o", "x.png").err


def test_names_do_nothing_in_a_figure(several: Repo) -> None:
    text = (
        (several.root / "lemmar.toml")
        .read_text()
        .replace('name = "app"', 'name = "$\\\\frac{<b>&\\u202e$"')
    )
    several.write({"lemmar.toml": text})
    assert several.run("grid", "-o", "x.svg").code == 0
    words = [
        text.strip() for text in etree.fromstring((several.root / "x.svg").read_bytes()).itertext()
    ]
    assert "$\\frac{<b>&\\u202e$" in words


def test_without_the_library_a_figure_is_refused_in_one_sentence(
    several: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setitem(sys.modules, "matplotlib", None)
    ran = several.run("grid", "-o", "x.svg")
    assert (ran.code, ran.err) == (
        2,
        "lemmar: a figure needs a library that is not installed; pip install 'lemmar[figures]'\n",
    )


@pytest.mark.parametrize("name", report.for_findings())
def test_every_output_names_each_rule_that_found_something(several: Repo, name: str) -> None:
    rules = {finding["rule"] for finding in several.audit()["findings"] if not finding["waiver"]}
    told = several.run("audit", "--all", "--format", name, "--today", "2026-11-25").out
    assert {rule for rule in rules if rule not in told} == set()
    assert "\x1b" not in told


@pytest.mark.parametrize("name", report.for_tables())
def test_every_output_of_tables_names_each_client(several: Repo, name: str) -> None:
    clients = {client["name"] for client in several.audit()["clients"]}
    told = several.run("grid", "--format", name).out
    assert clients and {client for client in clients if client not in told} == set()
