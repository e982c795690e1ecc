"""The audit as a whole: what it is complete of, what its findings are told again by, that no clock and no file's name changes it."""

from __future__ import annotations

import io
import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import openpyxl
import pytest

from .conftest import CLIENT, HEAD, SUPPORTED, Repo, charter

EN, DE = '{"bunk": "Bunk", "hut": "Hut {{name}}"}', '{"bunk": "Lager", "hut": "Hütte"}'
FILES = {
    "lemmar.toml": charter(),
    "app/locales.json": '["en", "de"]',
    "app/w/en.json": EN,
    "app/w/de.json": DE,
}
SLOW = '\n[syntax.slow]\nplaceholder = "(?P<name>((a|b|ab)*)*c)"\n'


def test_a_catalog_that_is_not_built_makes_the_audit_incomplete(repo: Repo) -> None:
    files = FILES | {
        "lemmar.toml": charter(catalog="  built = true\n", files="dist/{locale}.json"),
    }
    del files["app/w/en.json"], files["app/w/de.json"]
    ran = repo.write(files).run("audit")
    assert ran.code == 3
    assert ran.out.startswith("INCOMPLETE 1 note") and "verdict: incomplete" in ran.out
    assert "not checked  dist/{locale}.json of app is not built" in ran.out
    data = repo.audit()
    assert (data["verdict"], data["complete"]) == ("hold", False)
    assert data["unfinished"] == ["dist/{locale}.json of app is not built"]


@pytest.mark.parametrize(
    "files",
    [
        pytest.param(
            {
                "lemmar.toml": charter(catalog='  syntax = "slow"\n', more=SLOW),
                "app/w/de.json": '{"hut": "' + "ab" * 30 + 'zc"}',
            },
            id="a syntax of its own",
        ),
        pytest.param(
            {
                "lemmar.toml": charter(
                    claim=SUPPORTED.replace('pointer = ""', "match = '(?P<locale>((a|b|ab)*)*c)'")
                ),
                "app/locales.json": "ab" * 30 + "zc",
            },
            id="a claim's expression",
        ),
    ],
)
def test_a_bound_of_time_is_no_finding_and_no_verdict(repo: Repo, files: dict[str, str]) -> None:
    ran = repo.write(FILES | files).run("audit", "--format", "json")
    assert ran.code == 3
    assert not ran.data["complete"] and "takes" in ran.data["unfinished"][0]
    assert not [each for each in ran.data["findings"] if "takes" in each["message"]]


def test_without_the_library_for_workbooks_the_audit_is_incomplete(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    book = openpyxl.Workbook()
    sheet = book.create_sheet("texts", 0)
    for row in (["key", "en", "de"], ["bunk", "Bunk", "Lager"]):
        sheet.append(row)
    claim = '\n  [[client.claim]]\n  states = "supported"\n  file = "w.xlsx"\n  header = true\n'
    repo.write({"lemmar.toml": charter(files="w.xlsx", claim=claim), "app/w.xlsx": ""})
    book.save(repo.root / "app/w.xlsx")
    assert repo.run("audit").code == 0
    monkeypatch.setitem(sys.modules, "openpyxl", None)
    ran = repo.run("audit", "--no-cache")
    assert ran.code == 3 and "pip install 'lemmar[sheets]'" in ran.out
    assert repo.run("read", "app/w.xlsx").code == 3
    (repo.root / "lemmar.toml").unlink()
    ran = repo.run("survey", "--no-cache")
    assert (ran.code, ran.out) == (3, "") and "lemmar: app/w.xlsx: a workbook" in ran.err


def test_what_a_survey_cannot_look_at_is_said_wherever_it_counts(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    book = openpyxl.Workbook()
    sheet = book.create_sheet("texts", 0)
    for row in (["key", "en", "de"], ["bunk", "Bunk", "Lager"]):
        sheet.append(row)
    sound = {**FILES, "app/w/de.json": EN.replace("Bunk", "Lager").replace("Hut", "Hütte")}
    (repo.write(sound | {"tool/words.xlsx": ""}).root / "tool/words.xlsx").write_bytes(saved(book))
    assert [each["rule"] for each in repo.audit()["findings"]] == ["roster.uncharted"]
    monkeypatch.setitem(sys.modules, "openpyxl", None)
    ran = repo.run("audit", "--no-cache")
    assert ran.code == 3 and "not checked  tool/words.xlsx: a workbook" in ran.out
    ran = repo.run("survey", "--no-cache")
    assert ran.code == 3 and "not checked" in ran.out and "tool/words.xlsx" in ran.out
    (repo.root / "lemmar.toml").unlink()
    ran = repo.run("survey", "--write", "--no-cache")
    assert ran.code == 3 and "not checked  tool/words.xlsx: a workbook" in ran.out
    written = (repo.root / "lemmar.toml").read_text("utf-8")
    assert "# not checked, so that something may be missing here: tool/words.xlsx: a" in written


def saved(book: openpyxl.Workbook) -> bytes:
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()


def test_code_whose_mending_takes_too_long_never_makes_a_release_clear(repo: Repo) -> None:
    source = "<?php\nreturn ['bunk' => 'Bunk', 'hut' => 'Hut {{name}}'];\n"
    broken = "<?php\nreturn " + 'msgstr[9] ""\n' * 2_000
    files = {"app/c/en.php": source, "app/c/de.php": broken}
    repo.write(FILES | files | {"lemmar.toml": charter(files="c/{locale}.php")})
    ran = repo.run("audit")
    assert (ran.code == 3 and "not checked  app/c/de.php: the file takes" in ran.out) or (
        ran.code == 1 and "catalog.unreadable  app" in ran.out
    )


def test_a_process_that_is_stopped_for_a_while_gives_the_same_bytes(repo: Repo) -> None:
    source = "export default {\n" + "".join(f'  k{n}: "x{n} {{{{a}}}}",\n' for n in range(2_000))
    files = {f"app/c/{tag}.ts": source + "};\n" * (tag == "en") for tag in ("en", "de")}
    catalog = '\n  [[client.catalog]]\n  files = "c/{locale}.ts"\n'
    repo.write(FILES | files | {"lemmar.toml": charter(catalog=catalog)})
    command = [sys.executable, "-m", "lemmar", "audit", "--format", "json", "--today", "2026-11-25"]
    plain = subprocess.run(command, cwd=repo.root, capture_output=True)
    with subprocess.Popen(command, cwd=repo.root, stdout=subprocess.PIPE) as stopped:
        time.sleep(0.35)
        os.kill(stopped.pid, signal.SIGSTOP)
        time.sleep(3)
        os.kill(stopped.pid, signal.SIGCONT)
        out, _ = stopped.communicate()
    assert plain.returncode == stopped.returncode == 1
    assert out == plain.stdout and b"damaged" in out


def _fingerprints(repo: Repo, *arguments: str) -> list[tuple[str, str]]:
    return [(each["rule"], each["fingerprint"]) for each in repo.audit(*arguments)["findings"]]


def test_fingerprints_outlast_edits_that_are_not_theirs(repo: Repo, tmp_path: Path) -> None:
    offered = (
        SUPPORTED
        + '\n  [[client.claim]]\n  states = "offered"\n  file = "p.json"\n  pointer = ""\n'
    )
    waiver = '\n[[waiver]]\nrule = "message.empty"\nuntil = {}\nreason = "x"\n'
    files = FILES | {
        "lemmar.toml": charter(claim=offered, more=waiver.format("2030-01-01")),
        "app/p.json": '["en", "fr"]',
    }
    before = _fingerprints(repo.write(files))
    assert {rule for rule, _ in before} == {
        "message.argument-lost",
        "roster.split",
        "roster.unoffered",
        "waiver.idle",
    }
    moved = Repo(tmp_path / "moved")
    text = charter(claim=offered, root="clients/app", more=waiver.format("2029-01-01"))
    other = {
        f"clients/{name}": "\n\n" + text for name, text in files.items() if name.startswith("app/")
    }
    moved.write(other | {"other.toml": "# first\n" + text.replace("[gate]", "# a\n[gate]")})
    assert _fingerprints(moved, "--charter", "other.toml") == before


def test_a_charter_by_any_name_gives_the_same(repo: Repo) -> None:
    old = '\n  [[client.catalog]]\n  files = "old/{locale}.json"\n'
    second = CLIENT.format(
        name="second", root="second", platform="browser", files="w/{locale}.json"
    )
    text = charter(catalog=old, more=second + old + SUPPORTED)
    repo.write(FILES | {"lemmar.toml": text, "team.toml": text})
    repo.write({"second/locales.json": '["en", "de"]', "second/w/en.json": EN})
    first, other = repo.audit(), repo.audit("--charter", "team.toml")
    assert len(first["findings"]) == len(other["findings"]) == 4
    for one, two in zip(first["findings"], other["findings"], strict=True):
        assert one["fingerprint"] == two["fingerprint"] and one["message"] == two["message"]


def test_folders_of_any_format_are_uncharted(repo: Repo) -> None:
    folder = {f"other/locales/{tag}.toml": f'bunk = "{tag} x"\n' for tag in ("en", "de")}
    found = repo.write(FILES | folder).found()
    assert "roster.uncharted other/locales/de.toml:1:1" in found


def test_a_pattern_that_leads_out_is_a_mistake_of_the_charter(repo: Repo) -> None:
    repo.write(FILES | {"lemmar.toml": charter(files="../../w/{locale}.json")})
    ran = repo.run("audit")
    assert ran.code == 2 and "lemmar.toml:" in ran.err and "leads out of the monorepo" in ran.err


def test_two_audits_in_one_process_do_not_see_each_other(repo: Repo, tmp_path: Path) -> None:
    other = Repo(tmp_path / "other")
    other.write(FILES | {"app/w/de.json": EN, "lemmar.toml": HEAD_OF_TWO})
    first = repo.write(FILES).audit()
    assert other.audit()["findings"] and repo.audit() == first


HEAD_OF_TWO = (
    HEAD.format(shipping='"en", "de", "fr"', trial="")
    + CLIENT.format(name="app", root="app", platform="browser", files="w/{locale}.json")
    + SUPPORTED
)
