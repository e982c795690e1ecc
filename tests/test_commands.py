"""The commands as their users meet them: outputs, streams, exit codes, colour, width, errors."""

from __future__ import annotations

import csv
import io
import json
import os
import re
import signal
import subprocess
import sys
import time
from importlib import resources
from pathlib import Path
from typing import Any

import jsonschema
import pytest

from lemmar import __version__, formats
from lemmar.report.json import make_schema, shipped_schema

from .conftest import Ran, Repo, charter
from .test_rules import DE, EN, one, sheet

LEMMAR = [sys.executable, "-m", "lemmar"]
HELD: dict[str, str | bytes] = one({"app/w/de.json": '{\n  "bunk": "Lager"\n}\n'})


def rows(ran: Ran, form: str) -> list[dict[str, Any]]:
    if form == "json":
        found: list[dict[str, Any]] = ran.data["rows"]
        return found
    return list(csv.DictReader(io.StringIO(ran.out)))


def test_the_text_of_an_audit(repo: Repo) -> None:
    ran = repo.write(HELD).run("audit")
    assert ran.code == 1 and ran.err == ""
    assert ran.out.splitlines() == [
        "HOLD 1 error, in 1 client and 2 locales",
        "",
        "client   kind   errors   warnings   notes   shipping locales complete",
        "─────────────────────────────────────────────────────────────────────",
        "app      web         1          0       0                      1 of 2",
        "",
        "error   message.missing  app",
        "        app/w/de.json:2:18",
        "        'hut' is missing in 'de'",
        "        users see the 'en' text: 'Hut {{name}}'",
        "        → translate 'Hut {{name}}'",
        "",
        "verdict: hold: 1 finding must be fixed before the release",
    ]


def test_a_clear_audit(repo: Repo) -> None:
    ran = repo.write(one()).run("audit")
    assert (ran.code, ran.out.splitlines()[0], ran.out.splitlines()[-1]) == (
        0,
        "CLEAR nothing to report, in 1 client and 2 locales",
        "verdict: clear; ship it",
    )


def test_json_follows_the_shipped_schema_and_agrees_with_the_grid(repo: Repo) -> None:
    data = repo.write(HELD).audit()
    jsonschema.validate(data, json.loads(shipped_schema()))
    assert json.loads(shipped_schema()) == make_schema()
    assert json.loads(repo.run("audit", "--schema").out) == make_schema()
    finding = data["findings"][0]
    assert (finding["client"], finding["key"], finding["place"]) == (
        "app",
        "hut",
        {"file": "app/w/de.json", "line": 2, "column": 18},
    )
    assert finding["related"] == [{"file": "app/w/en.json", "line": 3, "column": 3}]
    grid = {
        (row["client"], row["locale"]): row
        for row in rows(repo.run("grid", "--format", "json"), "json")
    }
    for client in data["clients"]:
        for locale, counts in client["locales"].items():
            assert {name: grid[client["name"], locale][name] for name in counts} == counts


def test_a_fingerprint_survives_unrelated_edits(repo: Repo) -> None:
    before = repo.write(HELD).audit()["findings"][0]
    after = repo.write({"app/w/de.json": '{\n\n\n  "hut2": "x", "bunk": "Lager"\n}\n'}).audit(
        "--rule", "message.missing"
    )["findings"]
    assert before["fingerprint"] in {finding["fingerprint"] for finding in after} and len(
        {finding["fingerprint"] for finding in after}
    ) == len(after)


def test_ten_thousand_findings_do_not_scroll_by(repo: Repo) -> None:
    keys = [f"k{number}" for number in range(10_000)]
    repo.write(
        one(
            {
                "app/w/en.json": json.dumps(dict.fromkeys(keys, "A {{n}}")),
                "app/w/de.json": json.dumps(
                    {"k0": "B"}
                    | dict.fromkeys(keys[5_000:], "A {{n}}")
                    | {f"x{number}": "y" for number in range(4_000)}
                ),
            },
        )
    )
    ran = repo.run("audit")
    lines = ran.out.splitlines()
    assert len(lines) < 60 and "'k0' in 'de' lacks {{n}}" in ran.out and "and 4,992 more" in ran.out
    assert "'x0' is in 'de' but not in the source, and so are 'x1'" in ran.out
    data = repo.audit("--rule", "message.surplus")
    assert data["counts"] == {"error": 5_000, "warning": 4_000, "note": 0, "waived": 0, "known": 0}


def test_of_many_causes_the_first_of_each_rule_is_shown_and_the_rest_counted(repo: Repo) -> None:
    files = {f"app/p/en/part{number}.json": EN for number in range(40)} | {
        f"app/p/de/part{number}.json": '{"bunk": "B"}' for number in range(40)
    }
    ran = repo.write(one(dict(files), files="p/{locale}/{part}.json")).run("audit")
    assert ran.out.count("error   message.missing") == 3
    lines = [line.split() for line in ran.out.splitlines()]
    assert ["not", "shown", "more", "in"] in lines and ["message.missing", "37", "app"] in lines
    assert "and 37 more: lemmar audit --all, or those of one rule: --rule NAME" in ran.out
    assert repo.run("audit", "--all").out.count("error   message.missing") == 40
    assert repo.run("audit", "--rule", "roster").out.count("error   message.missing") == 0


def test_gathered_by_locale_and_by_key(repo: Repo) -> None:
    files = one(
        {
            "app/locales.json": '["en", "de", "fr"]',
            "app/w/de.json": '{"bunk": "B"}',
            "app/w/fr.json": '{"bunk": "B"}',
        },
        shipping="en de fr",
    )
    assert "'hut' is missing in 'de', and in 'fr'" in repo.write(files).run("audit").out


@pytest.mark.parametrize("form", ["json", "csv", "markdown"])
@pytest.mark.parametrize(
    "command", [["grid"], ["client"], ["client", "app"], ["rules"], ["read", "app/w/de.json"]]
)
def test_tables_in_every_form(repo: Repo, command: list[str], form: str) -> None:
    ran = repo.write(HELD).run(*command, "--format", form)
    assert ran.code == 0 and ran.err == ""
    if form == "markdown":
        assert ran.out.splitlines()[1].startswith("| --- |")
    else:
        assert rows(ran, form)


def test_client_says_whence_everything_is_known(repo: Repo) -> None:
    out = repo.write(HELD).run("client", "app").out
    assert (
        re.search(r"lookup +truncate +✓ preset browser", out)
        and re.search(r"on-empty +blank +\? assumed: nothing says it", out)
        and re.search(r"default +en +✓ charter: nothing of a test states it", out)
    )
    assert "locales.json:1" in out and "supports en de (by its claims); its default is en" in out
    text = str(HELD["lemmar.toml"]).replace('"browser"', '"android"')
    assert re.search("lookup +kin", repo.write({"lemmar.toml": text}).run("client", "app").out)
    ran = repo.run("client", "apo")
    assert (ran.code, ran.err) == (2, "lemmar: there is no client 'apo'; did you mean 'app'?\n")


def test_grid_shows_what_answers_the_rest(repo: Repo) -> None:
    out = repo.write(HELD | {"app/locales.json": '["en", "de"]'}).run("grid").out.splitlines()
    assert [line.split() for line in out[2:4]] == [["en", "100", "%"], ["de", "50", "%", "1f"]]


def test_read(repo: Repo) -> None:
    repo.write(
        {
            "x.json": '{"a": "y", "a": "z",\n "l": ["p"]}',
            "w.tsv": str(sheet("Key\tNotes\ten\nk\tn\tx\n")["app/w.tsv"]),
            "odd.bin": "??",
        }
    )
    ran = repo.run("read", "--format", "jsonl", "x.json")
    records = [json.loads(line) for line in ran.out.splitlines()]
    assert ran.code == 1
    assert records[0] == {
        "file": "x.json",
        "defect": "duplicate-key",
        "message": "the key 'a' is already on line 1, with another text",
        "line": 1,
        "column": 12,
    }
    wanted = {
        "file": "x.json",
        "locale": None,
        "part": None,
        "key": "l",
        "context": None,
        "text": None,
        "forms": {"0": "p"},
        "line": 2,
        "column": 2,
    }
    assert records[2] == wanted | {"source": None, "comment": None, "limit": None, "state": None}
    assert [
        json.loads(line)["comment"]
        for line in repo.run("read", "w.tsv", "--format", "jsonl").out.splitlines()
    ] == ["n"]
    assert repo.run("read", "w.tsv").code == 0
    odd = repo.run("read", "odd.bin")
    assert odd.code == 1 and "name one with --as" in odd.out.replace("\n", " ")
    assert repo.run("read", "--as", "json", "odd.bin").code == 1
    assert (
        repo.run("read", "--as", "jso", "odd.bin").err
        == "lemmar: there is no format 'jso'; did you mean 'json'?\n"
    )
    assert "cannot be read: No such file" in repo.run("read", "gone.json").out
    assert "no file was named" in repo.run("read").err and repo.run("read").code == 2


def test_read_takes_texts_apart(repo: Repo) -> None:
    texts = {
        "counted": "{count, plural, one {# bunk} other {# bunks}} in <b>{hut}</b>",
        "broken": "Quiet after {time",
        "plain": "Stove",
        "x_one": "{n} x",
        "x_other": "{n} y",
    }
    repo.write({"w.json": json.dumps(texts)})
    shown = repo.run("read", "w.json", "--patterns").out
    assert (
        "taken apart as icu (seen in 1 text); 1 take" not in shown and "taken apart as icu" in shown
    )
    assert (
        "      takes count (number), hut\n      plural of count: one other\n      markup <b>\n"
        in shown
    )
    assert "    Quiet after {time\n                ▲ this '{' is never closed\n" in shown
    assert "    one: {n} x\n    other: {n} y\n      takes n\n      plural: one other\n" in shown
    rows = [
        json.loads(line)
        for line in repo.run("read", "w.json", "--patterns", "--format", "jsonl").out.splitlines()
    ]
    assert [row["arguments"] for row in rows[:2]] == [{"count": "number", "hut": ""}, {}]
    assert rows[1]["fault"] == {"character": 13, "message": "this '{' is never closed"}
    assert "arguments" not in json.loads(
        repo.run("read", "w.json", "--format", "jsonl").out.splitlines()[0]
    )
    assert (
        "there is no syntax 'icuu'; did you mean 'icu'?"
        in repo.run("read", "w.json", "--syntax", "icuu").err
    )


def test_read_a_folder_and_list_the_formats(repo: Repo) -> None:
    files = {
        "l/de.json": '{"a": "x"}',
        "l/fr.po": 'msgid "a"\nmsgstr "y"\n',
        "l/x.bin": "?",
        "e/x.bin": "?",
    }
    repo.write(dict(files))
    found = [
        json.loads(line) for line in repo.run("read", "l", "--format", "jsonl").out.splitlines()
    ]
    assert [(row["file"], row["text"]) for row in found] == [("l/de.json", "x"), ("l/fr.po", "y")]
    assert "it is a folder that holds no catalog" in repo.run("read", "e").out
    out = repo.run("read", "--formats").out
    assert "xliff" in out and ".xlf .xliff" in out
    assert len(rows(repo.run("read", "--formats", "--format", "json"), "json")) == len(
        formats.names()
    )


def test_rules_explains(repo: Repo) -> None:
    out = repo.run("rules", "message.missing").out
    assert out.startswith("message.missing  error\n") and "To fix: translate the text." in out
    assert repo.run("rules", "roster").out.count("\nroster.") == 13
    assert "did you mean 'message.missing'?" in repo.run("rules", "message.mising").err


def test_output_to_a_file_is_whole_or_not_at_all(repo: Repo) -> None:
    ran = repo.write(HELD).run("audit", "--format", "json", "-o", "out.json")
    assert (ran.code, ran.out) == (1, "") and "out.json" in ran.err
    assert json.loads((repo.root / "out.json").read_text())["verdict"] == "hold"
    assert repo.run("audit", "-q", "-o", "out.txt").err == ""
    ran = repo.run("grid", "-o", "no/such/folder.txt")
    assert ran.code == 2 and ran.err.startswith("lemmar: no/such/folder.txt cannot be written")
    assert sorted(path.name for path in repo.root.iterdir()) == [
        "app",
        "lemmar.toml",
        "out.json",
        "out.txt",
    ]


def test_colour_only_where_it_is_wanted(repo: Repo, monkeypatch: pytest.MonkeyPatch) -> None:
    repo.write(HELD)
    assert "\x1b" not in repo.run("audit").out
    monkeypatch.setenv("FORCE_COLOR", "1")
    assert "\x1b[" in repo.run("audit").out
    monkeypatch.setenv("NO_COLOR", "1")
    assert "\x1b" not in repo.run("audit").out


@pytest.mark.parametrize("columns", ["60", "160"])
def test_as_wide_as_the_window(repo: Repo, monkeypatch: pytest.MonkeyPatch, columns: str) -> None:
    monkeypatch.setenv("COLUMNS", columns)
    for command in (["audit"], ["grid"], ["client", "app"], ["rules"]):
        assert max(map(len, repo.write(HELD).run(*command).out.splitlines())) <= int(columns)


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["adit"], "there is no command 'adit'; did you mean 'audit'?"),
        (["audit", "--rule", "mesage"], "there is no rule 'mesage'; did you mean 'message'?"),
        (["audit", "--client", "desk"], "there is no client 'desk'; it is one of app"),
        (["audit", "--today", "soon"], "'soon' is no date; write it as 2027-01-31"),
        (["audit", "--format", "xml"], "'xml' is not one of"),
    ],
)
def test_bad_usage_is_one_sentence_and_exit_2(repo: Repo, arguments: list[str], words: str) -> None:
    ran = repo.write(one()).run(*arguments)
    assert ran.code == 2 and words in ran.err and ran.out == "" and "Traceback" not in ran.err


def test_a_charter_of_which_nothing_matches_is_an_error(repo: Repo) -> None:
    ran = repo.write({"lemmar.toml": str(one()["lemmar.toml"])}).run("audit")
    assert ran.code == 2 and "no pattern in lemmar.toml matches any file" in ran.err


def test_a_bug_is_exit_70_with_a_sentence_and_the_traceback(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    import lemmar.incremental.reusing

    def broken(*_: object) -> None:
        raise ZeroDivisionError("oops")

    monkeypatch.setattr(lemmar.incremental.reusing, "incremental_verdict", broken)
    ran = repo.write(one()).run("audit")
    assert (
        ran.code == 70
        and ran.err.startswith("lemmar: this is a bug of Lemmar's own")
        and "ZeroDivisionError: oops" in ran.err
    )


# ------------------------------------------------------------------------------------------------- as an installed program


def test_installed(repo: Repo) -> None:
    repo.write(HELD)
    done = subprocess.run(
        [*LEMMAR, "audit"],
        cwd=repo.root,
        capture_output=True,
        text=True,
        encoding="utf-8",
        env=os.environ | {"LC_ALL": "C", "TZ": "Asia/Tokyo"},
    )
    assert (done.returncode, done.stdout) == (1, repo.run("audit").out)
    script = Path(sys.executable).with_name("lemmar")
    assert (
        subprocess.run([script, "--version"], capture_output=True, text=True).stdout
        == f"lemmar {__version__}\n"
    )


def test_help_loads_no_parser_and_no_drawing() -> None:
    code = "import sys; sys.argv = ['lemmar', '--help']\nimport lemmar.cli, atexit\natexit.register(lambda: print(sorted(sys.modules), file=sys.stderr))\nlemmar.cli.main()"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    loaded = done.stderr
    for heavy in (
        "rich",
        "msgspec",
        "lxml",
        "regex",
        "tree_sitter",
        "pathspec",
        "lemmar.rules",
        "lemmar.formats",
        "lemmar.auditing.pipeline",
    ):
        assert f"'{heavy}'" not in loaded, heavy
    assert "audit" in done.stdout


def test_a_reader_that_leaves_early_is_no_error(repo: Repo) -> None:
    repo.write(
        one(
            {
                "app/w/de.json": "{"
                + ", ".join(f'"x{number}": "y"' for number in range(20_000))
                + "}"
            }
        )
    )
    with subprocess.Popen(
        [*LEMMAR, "audit", "--all"], cwd=repo.root, stdout=subprocess.PIPE, stderr=subprocess.PIPE
    ) as process:
        assert process.stdout is not None and process.stderr is not None
        process.stdout.read(10)
        process.stdout.close()
        assert process.stderr.read() == b""
        assert process.wait() == 1


def test_an_interrupt_is_exit_130(repo: Repo) -> None:
    repo.write(
        {
            "lemmar.toml": str(one()["lemmar.toml"]),
            "app/locales.json": '["en", "de"]',
            "app/w/de.json": DE,
        }
    )
    code = "import signal\nsignal.signal(signal.SIGINT, signal.default_int_handler)\nimport lemmar.incremental.reusing, sys, time\nlemmar.incremental.reusing.incremental_verdict = lambda *_: (print('now', file=sys.stderr, flush=True), time.sleep(30))\nsys.argv = ['lemmar', 'audit']\nfrom lemmar.cli import main\nmain()"
    with subprocess.Popen(
        [sys.executable, "-c", code], cwd=repo.root, stderr=subprocess.PIPE, text=True
    ) as process:
        assert process.stderr is not None and process.stderr.readline() == "now\n"
        time.sleep(0.2)
        process.send_signal(signal.SIGINT)
        assert process.stderr.read().strip() == "interrupted; nothing was written"
        assert process.wait() == 130


def test_the_package_says_that_it_is_typed() -> None:
    assert resources.files("lemmar").joinpath("py.typed").is_file()


# ---------------------------------------------------------------------------------- lemmar tag


def test_tag_side_by_side(repo: Repo) -> None:
    ran = repo.run("tag", "pt-br", "cn", "zh_TW")
    lines = {line[:12].strip(): line[12:] for line in ran.out.splitlines()}
    assert ran.code == 1
    assert "no: expected a subtag" in lines["well-formed"]
    assert "'cn' is the region China" in lines["meant"]
    assert "zh-TW: 'zh_TW' is 'zh-TW' in another spelling" in lines["meant"]
    assert "no: pt-BR" in lines["canonical"]
    assert "many: 1000000, 1c6" in lines["cardinals"]
    assert lines["android"].split()[0] == "pt-rBR"


def test_tag_as_json(repo: Repo) -> None:
    ran = repo.run("tag", "iw", "sr-Latn", "--format", "json")
    hebrew, serbian = ran.data["rows"]
    assert (ran.code, ran.data["schema"]) == (0, "lemmar.tag/1")
    assert (hebrew["canonical"], hebrew["direction"], hebrew["valid"]) == ("he", "rtl", True)
    assert hebrew["spellings"]["android"] == "iw"
    assert (serbian["own"], serbian["parents"], serbian["likely"]) == ("srpski", [], "sr-Latn-RS")
    assert serbian["plurals"]["cardinal"]["few"] == ["2", "3", "4", "22"]
    assert repo.run("tag", "de", "--format", "csv").out.startswith("text,well_formed,valid,")
    assert repo.run("tag", "de", "--format", "markdown").code == 0


@pytest.mark.parametrize(
    ("pair", "words"),
    [
        (("zh-TW", "zh-Hant"), ["the same locale: both are 'zh-Hant-TW' with their likely"]),
        (("iw", "he"), ["the same locale: both are 'he' in canonical form"]),
        (
            ("de-AT", "de"),
            ["two locales", "de-AT to de: falls back by cutting the tag at its end, and as"],
        ),
        (("nb", "no"), ["two locales", "as a parent locale, and as near enough (distance 1"]),
        (("ja", "de"), ["two locales", "does not fall back (distance"]),
    ],
)
def test_tag_compare(repo: Repo, pair: tuple[str, str], words: list[str]) -> None:
    ran = repo.run("tag", "--compare", *pair)
    assert ran.code == 0 and all(part in ran.out for part in words), ran.out


def test_tag_compare_as_json_and_with_bad_usage(repo: Repo) -> None:
    row = repo.run("tag", "--compare", "de-AT", "de", "--format", "json").data["rows"][0]
    assert (row["same"], row["distance"], row["distance_back"]) == (False, 4, 4)
    assert repo.run("tag", "--compare", "de").err == "lemmar: --compare takes two tags, found 1\n"
    assert "'de_AT' is not a language tag" in repo.run("tag", "--compare", "de_AT", "de").err


# -------------------------------------------------------------------- claims in a real monorepo


CLAIMS = [
    ('files = "w/{locale}.json"', ["de", "en"]),
    ('file = "w.csv"\n  header = true', ["en", "de"]),
    ('file = "list.txt"\n  match = "tongues: (?P<locale>.+)"\n  split = ","', ["en", "de"]),
    ('file = "menu.json"\n  pointer = "/entries"\n  take = "field:tag"', ["en", "de"]),
    ('file = "names.json"\n  pointer = ""\n  spelling = "name"', ["en", "de"]),
    (
        'file = "own.json"\n  pointer = ""\n  spelled = { anglo = "en", teuton = "de" }',
        ["en", "de"],
    ),
]


@pytest.mark.parametrize(("claim", "expected"), CLAIMS)
def test_claims(repo: Repo, claim: str, expected: list[str]) -> None:
    files = one(claim=f'\n  [[client.claim]]\n  states = "supported"\n  {claim}\n')
    extra = {
        "app/w.csv" if "w.csv" in claim else "w.txt": "Key,en,de\nbunk,Bunk,Lager\n",
        "app/list.txt": "tongues: en, de\n",
        "app/menu.json": '{"entries": [{"tag": "en"}, {"tag": "de"}]}',
        "app/names.json": '["English", "Deutsch"]',
        "app/own.json": '["anglo", "teuton"]',
    }
    repo.write(files | dict(extra))
    assert repo.found() == []
    rows_of_claims = [
        row
        for row in rows(repo.run("client", "app", "--format", "json"), "json")
        if row["what"] == "claim"
    ]
    assert [row["value"] for row in rows_of_claims] == expected


def test_a_claim_of_files_that_are_not_there(repo: Repo) -> None:
    files = one(
        claim='\n  [[client.claim]]\n  states = "supported"\n  files = "gone/{locale}.json"\n'
    )
    assert {line.split()[0] for line in repo.write(files).found()} == {"roster.unreadable-claim"}


def test_a_part_that_the_pattern_leaves_open_is_found_by_its_locale(repo: Repo) -> None:
    files = one(
        {
            "app/w/en.json": "{}",
            "app/w/de.json": "{}",
            "app/x/a.b.de.json": DE,
            "app/x/a.b.json": EN,
        },
        catalog='\n  [[client.catalog]]\n  files = "x/{part}[.{locale}].json"\n',
    )
    assert repo.write(files).found() == []
    assert repo.run("client", "app").out.count("a.b") == 0


def test_landing_says_where_and_why(repo: Repo) -> None:
    repo.write(one())
    rows = json.loads(repo.run("landing", "de-CH", "nl", "--format", "json").out)["rows"]
    assert [(row["request"], row["landing"], row["step"], row["consulted"]) for row in rows] == [
        ("de-CH", "de", "the request cut at its end", ["de", "en"]),
        ("nl", "en", "the default", ["en"]),
    ]
    assert "en (default)" in repo.run("landing", "nl").out
    assert (
        "truncate looks for de-CH (not supported), then de"
        in repo.run("landing", "de-CH", "--explain").out
    )
    assert "has no [audience]" in repo.run("landing").err
    assert (
        "there is no client 'ap'; did you mean 'app'?"
        in repo.run("landing", "de", "--client", "ap").err
    )


def test_peek_shows_the_text_and_whence_it_comes(repo: Repo) -> None:
    repo.write(one({"app/w/de.json": '{"greet": "Hütte", "count": ""}'}))
    keys = json.loads((repo.root / "app/w/en.json").read_text())
    key = next(iter(keys))
    rows = json.loads(repo.run("peek", "*", "--locale", "de", "--format", "json").out)["rows"]
    assert {row["key"] for row in rows} == set(keys)
    assert {(row["origin"], row["from"]) for row in rows} <= {
        ("own", "de"),
        ("foreign", "en"),
        ("blank", "de"),
    }
    shares = {
        row["locale"]: row for row in json.loads(repo.run("grid", "--format", "json").out)["rows"]
    }
    for origin in ("own", "foreign", "blank", "key"):
        assert shares["de"][origin] == sum(row["origin"] == origin for row in rows)
    assert key in repo.run("peek", "--text", keys[key][:4]).out
    assert "no client has a message 'nope'" in repo.run("peek", "nope").err
    assert "name a key, or a part" in repo.run("peek").err


_CHAIN = """
  [[client.claim]]
  states = "chain"
  file = "chain.json"
  pointer = ""
"""


def test_chain_shows_what_is_asked(repo: Repo) -> None:
    repo.write(one())
    assert json.loads(repo.run("chain", "de", "--format", "json").out)["rows"] == [
        {"client": "app", "locale": "de", "consulted": ["de", "en"], "wanted": ["de", "en"]}
    ]
    assert "de → en" in repo.run("chain").out
    repo.write(
        {
            "app/chain.json": '{"de":\n ["fr"]}',
            "app/locales.json": '["en", "de", "fr"]',
            "app/w/fr.json": '{"bunk": "Lit"}',
            "lemmar.toml": charter(shipping="en de fr", more=_CHAIN),
        }
    )
    shown = repo.run("chain", "de").out
    assert "≠ de → fr → en" in shown
    assert "app, de: fr is asked but not wanted, by its chain, app/chain.json:2" in shown


def test_the_grid_by_part_adds_up(repo: Repo) -> None:
    repo.write(
        one(
            {
                f"app/w/{tag}/{part}.json": '{"a": "x", "b": "y"}'
                for tag in ("en", "de")
                for part in ("hut", "trail")
            }
        )
        | {"lemmar.toml": charter("w/{locale}/{part}.json"), "app/w/de/trail.json": '{"a": "x"}'}
    )
    parts = json.loads(repo.run("grid", "--by", "part", "--format", "json").out)["rows"]
    whole = {
        row["locale"]: row for row in json.loads(repo.run("grid", "--format", "json").out)["rows"]
    }
    for origin in ("messages", "own", "foreign"):
        assert sum(row[origin] for row in parts if row["locale"] == "de") == whole["de"][origin]
    assert [(row["part"], row["own"]) for row in parts if row["locale"] == "de"] == [
        ("hut", 2),
        ("trail", 1),
    ]
    assert "trail" in repo.run("grid", "--by", "part").out


def two_clients(waiver: str = "") -> dict[str, str | bytes]:
    """Two clients, each without one text in German."""
    files = one({"app/w/de.json": '{"bunk": "Lager"}', "app/w/fr.json": DE}, shipping="en de fr")
    files["app/locales.json"] = '["en", "de", "fr"]'
    files |= {
        name.replace("app/", "web/"): text for name, text in files.items() if name[:4] == "app/"
    }
    text = str(files["lemmar.toml"])
    client = text[text.index("[[client]]") :]
    files["lemmar.toml"] = text + client.replace('"app"', '"web"') + waiver
    return files


def test_several_clients_and_locales_are_asked_for_with_a_star(repo: Repo) -> None:
    repo.write(two_clients())
    ran = repo.run("audit", "--client", "a*", "--locale", "d*", "--locale", "fr")
    assert "shown: 1 of 2 findings, as asked for" in ran.out and "HOLD 2 errors" in ran.out
    assert ran.out.count("error   message.missing") == 1
    assert "shown: 0 of 2" in repo.run("audit", "--locale", "fr").out
    assert repo.run("audit", "--client", "x*").err.startswith("lemmar: there is no client 'x*'")
    assert repo.run("client", "a*").err.startswith("lemmar: there is no client 'a*'")


def test_a_verdict_on_one_client_alone(repo: Repo) -> None:
    repo.write(two_clients() | {"web/w/de.json": DE})
    assert repo.run("audit").code == 1
    ran = repo.run("audit", "--ship", "web")
    assert ran.code == 0 and "CLEAR nothing to report, in web alone" in ran.out
    assert repo.run("audit", "--ship", "*").code == 1


def test_a_line_a_waiver(repo: Repo) -> None:
    waiver = '\n[[waiver]]\nrule = "message.missing"\nuntil = 2026-12-01\nreason = "in December"\n'
    ran = repo.write(two_clients(waiver)).run("audit", "--today", "2026-11-25")
    assert "2 of message.missing, for 7 days yet: in December" in ran.out


def test_texts_that_run_to_the_left_stand_last_in_their_row(repo: Repo) -> None:
    """So that a terminal's own order holds, without signs that tell it where they end."""
    repo.write(
        {
            "ar.strings": '/* On the door */\n"a" = "كوخ";\n',
            "de.strings": '/* On the door */\n"a" = "Hütte";\n',
        }
    )
    ran = repo.run("read", "ar.strings")
    assert ran.out.splitlines()[1].split() == ["place", "key", "comment", "text"]
    assert ran.out.splitlines()[3].endswith("On the door   كوخ")
    assert repo.run("read", "de.strings").out.splitlines()[1].split()[-2:] == ["text", "comment"]


@pytest.mark.parametrize(
    ("words", "expected"),
    [
        ("lemmar wai", ["waive"]),
        ("lemmar rules message.miss", ["message.missing"]),
        ("lemmar audit --rule waiver.e", ["waiver.expired"]),
        ("lemmar audit --client a", ["app"]),
        ("lemmar audit --locale d", ["de"]),
        ("lemmar audit --format s", ["sarif"]),
        ("lemmar audit --gate m", ["merge"]),
        ("lemmar client a", ["app"]),
        ("lemmar peek hu", ["hut"]),
        ("lemmar chain d", ["de"]),
        ("lemmar landing de", ["de-CH"]),
        ("lemmar audit --charter nowhere.toml --client a", []),
    ],
)
def test_a_shell_completes_names(
    repo: Repo, monkeypatch: pytest.MonkeyPatch, words: str, expected: list[str]
) -> None:
    more = '\n[audience]\nde-CH = "de"\n\n[gate.merge]\nfail-on = "never"\n'
    repo.write(HELD | {"lemmar.toml": str(HELD["lemmar.toml"]) + more})
    monkeypatch.setenv("_LEMMAR_COMPLETE", "bash_complete")
    monkeypatch.setenv("COMP_WORDS", words)
    monkeypatch.setenv("COMP_CWORD", str(len(words.split()) - 1))
    ran = repo.run()
    assert ([line.partition(",")[2] for line in ran.out.split()], ran.err) == (expected, "")
