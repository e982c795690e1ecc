"""The gate that a team keeps: what is new since when, gates by name, owners, included charters, waivers that are written."""

from __future__ import annotations

import json
import re
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lemmar.auditing.owners import Owners
from lemmar.charter import types as charter_types
from lemmar.findings import Place, Subject
from lemmar.tags import Tag
from lemmar.trees import File
from lemmar.trees.gitpatterns import git_patterns
from tests.test_revisions import committed, git

from .conftest import Ran, Repo, charter, share

ENGLISH = {"a": "A bunk", "b": "A hut", "c": "The {{n}} stoves", "d": "Snow", "e": "Ice"}
GERMAN = {"a": "Eine Koje", "c": "Die {{n}} Öfen", "d": "Schnee", "e": "Eis"}


def texts(
    repo: Repo, german: dict[str, str], folder: str = "app", english: dict[str, str] = ENGLISH
) -> None:
    repo.write(
        {
            f"{folder}/locales.json": '["en", "de"]',
            f"{folder}/w/en.json": json.dumps(english, ensure_ascii=False, indent=1),
            f"{folder}/w/de.json": json.dumps(german, ensure_ascii=False, indent=1),
        }
    )


@pytest.fixture
def old(repo: Repo) -> Repo:
    """One old finding, committed as ``v1``."""
    repo.write({"lemmar.toml": charter()})
    texts(repo, GERMAN)
    committed(repo)
    git(repo.root, "tag", "v1")
    return repo


def run(repo: Repo, *arguments: str) -> Ran:
    return repo.run("audit", "--format", "json", "--today", "2026-11-25", *arguments)


def known(repo: Repo, *arguments: str) -> dict[Any, Any]:
    """Each finding's key, and whether it was known."""
    return {finding["key"]: finding["known"] for finding in run(repo, *arguments).data["findings"]}


# ------------------------------------------------------------------------------------------------------------ since when


@pytest.mark.parametrize("what", ["v1", "./before", "before.json"])
def test_only_what_is_new_holds_the_release(
    old: Repo, tmp_path_factory: pytest.TempPathFactory, what: str
) -> None:
    before = Repo(tmp_path_factory.mktemp("before"))
    (old.root / "before").symlink_to(before.root)
    before.write({"lemmar.toml": charter()})
    texts(before, GERMAN)
    (old.root / "before.json").write_text(run(old).out)
    ran = run(old, "--since", what)
    assert (ran.code, ran.data["verdict"], known(old, "--since", what)) == (0, "clear", {"b": True})
    assert ran.data["counts"] == {"error": 0, "warning": 0, "note": 0, "waived": 0, "known": 1}
    assert (ran.data["since"], ran.data["gone"]) == (what, 0)
    assert "known   1 finding was there at" in old.run("audit", "--since", what).out
    texts(old, {**GERMAN, "c": "Die {{m}} Öfen"})
    assert known(old, "--since", what) == {"b": True, "c": False}
    assert run(old, "--since", what).code == 1
    texts(old, {**GERMAN, "b": "Eine Hütte"})
    ran = run(old, "--since", what)
    assert (ran.code, ran.data["gone"], ran.data["findings"]) == (0, 1, [])
    assert "1 gone since" in old.run("audit", "--since", what).out


def test_fingerprints_survive_what_is_no_change(old: Repo) -> None:
    lines = "\n\n\n" + json.dumps(GERMAN, indent=4)
    old.write({"app/w/de.json": lines})
    assert known(old, "--since", "v1") == {"b": True}  # moved lines
    old.write({"app/w/de.json": json.dumps(dict(reversed(GERMAN.items())))})
    old.write({"app/w/en.json": json.dumps(dict(reversed(ENGLISH.items())))})
    assert known(old, "--since", "v1") == {"b": True}  # another order of keys
    (old.root / "app").rename(old.root / "mobile")
    old.write({"lemmar.toml": charter(root="mobile")})
    assert known(old, "--since", "v1") == {"b": True}  # another folder
    (old.root / "kept.json").write_text(run(old).out)
    words = json.loads((old.root / "kept.json").read_text())
    for finding in words["findings"]:
        finding["message"] = finding["effect"] = finding["remedy"] = "in other words"
    (old.root / "kept.json").write_text(json.dumps(words))
    assert known(old, "--since", "kept.json") == {"b": True}  # another wording


def test_what_was_waived_then_was_not_there(old: Repo) -> None:
    waiver = '\n[[waiver]]\nrule = "message.missing"\nuntil = 2027-01-31\nreason = "later"\n'
    old.write({"lemmar.toml": charter(more=waiver)})
    committed(old)
    assert run(old).code == 0
    old.write({"lemmar.toml": charter()})
    assert (run(old, "--since", "HEAD").code, known(old, "--since", "HEAD")) == (1, {"b": False})


def test_a_revision_without_a_charter_or_with_a_broken_one_is_held_against_the_one_of_today(
    old: Repo,
) -> None:
    text = (old.root / "lemmar.toml").read_text()
    (old.root / "lemmar.toml").unlink()
    committed(old)
    old.write({"lemmar.toml": text})
    assert known(old, "--since", "HEAD") == {"b": True}
    old.write({"lemmar.toml": text + "nonsense"})
    committed(old)
    old.write({"lemmar.toml": text})
    ran = run(old, "--since", "HEAD")
    assert (ran.code, ran.err) == (
        0,
        "the charter at HEAD has mistakes; the one of today is used for it\n",
    )
    git(old.root, "rm", "-q", "-r", "--cached", "app")
    git(old.root, "commit", "-q", "-m", "x")
    ran = run(old, "--since", "HEAD")
    assert ran.code == 1
    assert "at HEAD there was nothing to audit, so that all findings are new" in ran.err


def test_a_gate_that_was_not_there_yet_decides_nothing_then(old: Repo) -> None:
    old.write({"lemmar.toml": charter(more=GATES)})
    ran = run(old, "--gate", "release", "--since", "v1")
    assert (ran.code, ran.err, known(old, "--gate", "release", "--since", "v1")) == (
        0,
        "",
        {"b": True},
    )


@pytest.mark.parametrize(
    ("what", "words"),
    [
        ("nowhere", "there is no revision 'nowhere'"),
        ("lemmar.toml", "is no audit that 'lemmar audit --format json' wrote"),
        ("grid.json", "its schema is 'lemmar.grid/1'"),
        ("deep.json", "is no audit"),
        ("v1", "is a file or folder here, and a revision; write ./v1"),
        ("", "there is no revision ''"),
    ],
)
def test_what_cannot_be_held_against_is_one_sentence(old: Repo, what: str, words: str) -> None:
    (old.root / "grid.json").write_text('{"schema": "lemmar.grid/1", "findings": []}')
    (old.root / "deep.json").write_text("[" * 100_000)
    if what == "v1":
        (old.root / "v1").mkdir()
    ran = run(old, "--since", what)
    assert (ran.code, ran.out, ran.err.count("\n")) == (2, "", 1)
    assert words in ran.err


def test_sarif_has_the_state_of_each_result(old: Repo) -> None:
    texts(old, {**GERMAN, "c": "Die {{m}} Öfen"})
    log = json.loads(old.run("audit", "--format", "sarif", "--since", "v1").out)
    assert {
        each["properties"]["key"]: each["baselineState"] for each in log["runs"][0]["results"]
    } == {"b": "unchanged", "c": "new"}
    assert ": known message.missing: " in old.run("audit", "--format", "lines", "--since", "v1").out


def test_only_findings_in_files_that_differ_are_shown(old: Repo) -> None:
    def shown(*arguments: str) -> list[str]:
        ran = old.run("audit", "--format", "lines", "--changed", "v1", *arguments)
        assert ran.code == 1
        return [line.split("'")[1] for line in ran.out.splitlines()]

    assert shown() == []
    texts(old, GERMAN, english={**ENGLISH, "f": "Fog"})
    assert shown() == ["b", "f"]  # both stand where the source's file, which differs, is related
    texts(old, {**GERMAN, "c": "Die {{m}} Öfen"})
    assert shown() == ["c", "b"]
    assert old.run("audit", "--changed", "v1").out.splitlines()[0].startswith("HOLD 2 errors")


# ------------------------------------------------------------------------------------------------------------------ gates

GATES = """
[gate]
fail-on = "error"
severity = { "message.surplus" = "off" }

[gate.merge]
fail-on = "never"

[gate.release]
fail-on = "warning"
severity = { "message.missing" = "note" }
"""


def test_gates_by_name(old: Repo) -> None:
    old.write({"lemmar.toml": charter(more=GATES)})
    texts(old, {**GERMAN, "old": "Alt"})
    assert run(old).code == 1
    assert run(old, "--gate", "merge").code == 0
    ran = run(old, "--gate", "release")
    assert (ran.code, [finding["severity"] for finding in ran.data["findings"]]) == (0, ["note"])
    assert run(old, "--workers", "2", "--gate", "release").out == ran.out
    ran = run(old, "--gate", "nightly")
    assert (ran.code, ran.err) == (
        2,
        "lemmar: there is no gate 'nightly' in lemmar.toml; it has 'merge' and 'release': write one as [gate.nightly]\n",
    )
    assert run(old).code == 1


@pytest.mark.parametrize(
    ("more", "words"),
    [
        (
            '[gate.merge]\nfail = "error"',
            "lemmar.toml:26: unknown key 'fail' in 'gate.merge'; did you mean 'fail-on'?",
        ),
        (
            '[gate.merge.severity]\n"message.mising" = "off"',
            "there is no rule 'message.mising'; did you mean 'message.missing'?",
        ),
        ('["[gate.NAME]".merge]\nfail-on = "never"', "unknown key '[gate.NAME]'"),
    ],
)
def test_mistakes_in_gates(old: Repo, more: str, words: str) -> None:
    old.write({"lemmar.toml": charter(more="\n" + more + "\n")})
    ran = run(old)
    assert ran.code == 2
    assert words in ran.err


# ----------------------------------------------------------------------------------------------------------------- owners


def test_owners_by_file_or_by_client(old: Repo) -> None:
    text = charter().replace('kind = "web"', 'kind = "web"\nowner = "the web team"')
    old.write({"lemmar.toml": text})

    def owners() -> list[list[str]]:
        return [finding["owners"] for finding in run(old).data["findings"]]

    assert owners() == [["the web team"]]
    old.write(
        {
            "docs/CODEOWNERS": "* @all\n/app/ @app  @two # comment\n[Section]\napp/w/en.json @source\n"
        }
    )
    assert owners() == [["@app", "@two"]]
    old.write({"CODEOWNERS": "app/w/*.json\n"})
    assert owners() == [[]]
    old.write({".forge/CODEOWNERS": "*.po @po\n*.txt @words\n"})
    assert owners() == [["the web team"]]
    assert "of the web team" in old.run("audit").out
    assert old.run("audit", "--owner", "the*", "--format", "lines").out
    ran = old.run("audit", "--owner", "@po", "--format", "lines")
    assert (ran.code, ran.out) == (1, "")


# --------------------------------------------------------------------------------------------------------------- included

SPLIT = """\
[charter]
version = 1
source = "en"
include = ["clients/*/lemmar-client.toml"]

[roster]
shipping = ["en", "de"]

[chains]
default = ["en"]
"""
OWN = """
[[client]]
name = "{name}"
kind = "web"
root = "."
platform = "browser"
assumes = {{ default = "-", on-miss = "-" }}

  [[client.catalog]]
  files = "w/{{locale}}.json"

  [[client.claim]]
  states = "supported"
  file = "locales.json"
  pointer = ""
"""


def split(repo: Repo) -> Repo:
    repo.write({"lemmar.toml": SPLIT})
    for name in ("huts", "lifts"):
        texts(repo, GERMAN, f"clients/{name}")
        repo.write({f"clients/{name}/lemmar-client.toml": OWN.format(name=name)})
    return repo


def test_clients_in_files_of_their_own(repo: Repo) -> None:
    split(repo)
    assert repo.found() == [
        f"message.missing clients/{name}/w/de.json:2:18 de/b" for name in ("huts", "lifts")
    ]
    commit = committed(repo)
    there = run(repo)
    assert (run(repo, "--at", commit).out, run(repo, "--charter", f"{commit}:lemmar.toml").out) == (
        there.out,
        there.out,
    )
    assert run(repo, "--workers", "2", "--no-cache").out == there.out
    repo.write(
        {
            "clients/huts/lemmar-client.toml": OWN.format(name="huts").replace(
                "w/{locale}", "x/{locale}"
            )
        }
    )
    assert (
        repo.found("--client", "huts")[0] == "catalog.no-match clients/huts/lemmar-client.toml:9:1"
    )
    assert run(repo, "--charter", f"{commit}:lemmar.toml").out == there.out
    (repo.root / "clients/huts/lemmar-client.toml").unlink()
    assert [line.split(" ")[0] for line in repo.found()] == ["message.missing", "roster.uncharted"]


def test_mistakes_of_included_files_stand_where_they_are(repo: Repo) -> None:
    split(repo)
    text = OWN.format(name="huts").replace('root = "."', 'root = "../lifts"') + '  colour = "red"\n'
    repo.write({"clients/huts/lemmar-client.toml": f"[roster]\nshipping = []\n{text}"})
    ran = run(repo)
    assert ran.code == 2
    for words in (
        "clients/huts/lemmar-client.toml:1: an included file holds [[client]] tables only; 'roster' belongs into the charter itself",
        "clients/huts/lemmar-client.toml:7: a client's root is a folder inside",
        "clients/huts/lemmar-client.toml:18: unknown key 'colour' in 'client[1].claim[1]'",
        "lemmar.toml has 3 mistakes",
    ):
        assert words in ran.err
    repo.write({"clients/huts/lemmar-client.toml": "nonsense"})
    assert "clients/huts/lemmar-client.toml:1: this is not TOML" in run(repo).err


def test_a_client_like_another(repo: Repo) -> None:
    repo.write(
        {
            "lemmar.toml": charter(
                more='\n[[client]]\nname = "twin"\nkind = "web"\nroot = "twin"\nlike = "app"\n'
            )
        }
    )
    texts(repo, {**GERMAN, "b": "Eine Hütte"})
    texts(repo, GERMAN, "twin")
    assert repo.found() == ["message.missing twin/w/de.json:2:18 de/b"]
    text = (repo.root / "lemmar.toml").read_text()
    repo.write({"lemmar.toml": text + '\n  [client.runtime]\n  on-miss = "blank"\n'})
    assert re.search(r"on-miss +blank +✓ charter", repo.run("client", "twin").out)
    assert re.search(r"lookup +truncate", repo.run("client", "twin").out)
    repo.write({"lemmar.toml": text.replace('like = "app"', 'like = "ap"')})
    assert "there is no client 'ap'; did you mean 'app'?" in run(repo).err
    repo.write({"lemmar.toml": text.replace('name = "app"', 'name = "app"\nlike = "twin"', 1)})
    assert "like each other in a circle" in run(repo).err
    repo.write({"lemmar.toml": text.replace('"w/{locale}.json"', '"w/{tongue}.json"')})
    assert run(repo).err.count("is not known") == 1


# ----------------------------------------------------------------------------------------------------------------- waivers


def waive(
    repo: Repo, *arguments: str, until: str = "2027-01-31", reason: str = 'so "it" is'
) -> Ran:
    return repo.run(
        "waive", *arguments, "--until", until, "--reason", reason, "--today", "2026-11-25"
    )


def prints(repo: Repo) -> dict[str, str]:
    return {
        finding["key"] or finding["rule"]: finding["fingerprint"]
        for finding in run(repo).data["findings"]
        if not finding["waiver"]
    }


def test_a_waiver_is_the_narrowest_and_every_other_byte_stays(old: Repo) -> None:
    keys = {"b.*": "One", "b.1": "Two", "[x]?": "Three", "tab\t": "Four"}
    texts(old, GERMAN | {"b": "Hütte"}, english=ENGLISH | keys)
    before = ("# of the huts\r\n" + charter().replace("\n", "\r\n") + "# the end").encode()
    old.write({"lemmar.toml": before})
    found = prints(old)
    ran = waive(old, found["b.*"][:9], found["tab\t"])
    assert (ran.code, ran.err) == (0, "Nothing was written. Use --write to apply the changes.\n")
    assert "accepts 2 findings:" in ran.out
    assert (old.root / "lemmar.toml").read_bytes() == before
    assert waive(old, found["b.*"][:9], found["tab\t"], "--write").err.endswith(
        "the verdict is now hold\n"
    )
    after = (old.root / "lemmar.toml").read_bytes()
    assert after.startswith(before)
    assert b"\n" not in after.replace(b"\r\n", b"")
    assert sorted(prints(old)) == ["[x]?", "b.1"]
    assert waive(old, *prints(old).values(), "--write").err.endswith("the verdict is now clear\n")
    assert run(old).code == 0


def test_waivers_in_one_line_stay_there(old: Repo) -> None:
    line = (
        'waiver = [{ rule = "message.surplus", until = 2027-01-31, reason = "x" }] # all of them\n'
    )
    old.write({"lemmar.toml": line + charter()})
    (fingerprint,) = [each for rule, each in prints(old).items() if rule == "b"]
    assert waive(old, fingerprint, "--write").code == 0
    assert not prints(old).keys() - {"waiver.idle"}
    assert " # all of them\n" in (old.root / "lemmar.toml").read_text()


def test_what_no_waiver_tells_apart_is_said(old: Repo) -> None:
    more = '\n[audience]\nde-CH = "en"\nde-LI = "en"\n'
    old.write({"lemmar.toml": charter(more=more)})
    rows = run(old).data["findings"]
    landing = [each for each in rows if each["rule"] == "chain.landing"]
    assert landing
    ran = waive(old, landing[0]["fingerprint"], "--write")
    assert ran.code == 0
    assert [
        each["waiver"] for each in run(old).data["findings"] if each["rule"] == "chain.landing"
    ] == ['so "it" is'] * len(landing)


@pytest.mark.parametrize(
    ("arguments", "until", "reason", "words"),
    [
        (["zz"], "2027-01-31", "x", "no finding has a fingerprint that begins with 'zz'"),
        ([""], "2027-01-31", "x", "no finding has a fingerprint that begins with ''"),
        (["OLD"], "2026-11-24", "x", "is over; a waiver runs until a day that is still to come"),
        (["OLD"], "tomorrow", "x", "'tomorrow' is no date"),
        (["OLD"], "2027-01-31", " ", "the reason is empty"),
        (
            ["OLD", "--write", "--at", "v1"],
            "2027-01-31",
            "x",
            "a charter of a revision cannot be written",
        ),
    ],
)
def test_what_cannot_be_waived(
    old: Repo, arguments: list[str], until: str, reason: str, words: str
) -> None:
    named = [prints(old)["b"] if word == "OLD" else word for word in arguments]
    ran = waive(old, *named, until=until, reason=reason)
    assert (ran.code, ran.out) == (2, "")
    assert words in ran.err


def test_a_finding_is_waived_once_and_by_one_name(old: Repo) -> None:
    half = {f"x{number}": "Hütte" for number in range(40)}
    texts(
        old,
        half,
        english={f"k{number}": f"Bunk {number}" for number in range(40)}
        | dict.fromkeys(half, "Hut"),
    )
    found = prints(old)
    first = next(
        letter
        for letter in "0123456789abcdef"
        if sum(each.startswith(letter) for each in found.values()) > 1
    )
    assert f"'{first}' begins the fingerprints of" in waive(old, first).err
    assert waive(old, found["k1"].upper(), "--write").code == 0
    assert "is waived already: so" in waive(old, found["k1"]).err
    assert found["k2"] in old.run("audit", "-v").out
    assert found["k2"] not in old.run("audit").out


def test_narrowing_never_changes_the_verdict(old: Repo) -> None:
    whole = run(old)
    for more in (
        ("--client", "app"),
        ("--rule", "tag"),
        ("--locale", "en"),
        ("--owner", "x"),
        ("--changed", "v1"),
    ):
        assert run(old, *more) == whole
        ran = old.run("audit", *more)
        assert (ran.code, ran.out.splitlines()[0]) == (1, "HOLD 1 error, in 1 client and 2 locales")


def test_a_sheet_of_paths(tmp_path: Path) -> None:
    """What an ownership file says, by the last line that matches."""
    from lemmar.auditing.owners import parsed

    assert parsed("# x\n\n*.po @a @b\n[S] @c\n^[T][2]\na\\ b/ @d # e\nbare\n") == (
        ("*.po", ("@a", "@b")),
        ("a b/", ("@d",)),
        ("bare", ()),
    )


def test_from_python_it_is_one_call(old: Repo, monkeypatch: pytest.MonkeyPatch) -> None:
    from lemmar import audit
    from lemmar.basics.errors import CharterError, TreeError

    monkeypatch.chdir(old.root)
    found = audit("lemmar.toml")
    assert (found.verdict, [finding.fingerprint for finding in found.findings]) == (
        "hold",
        list(prints(old).values()),
    )
    assert (
        audit(old.root / "lemmar.toml", today="2026-11-25")
        == found
        == audit(at="v1")
        == audit("v1:lemmar.toml")
    )
    old.write({"lemmar.toml": charter(more=GATES)})
    assert audit(gate="merge").verdict == "clear"
    old.write({"lemmar.toml": "nonsense"})
    with pytest.raises(CharterError):
        audit()
    with pytest.raises(TreeError, match="cannot be read"):
        audit("nowhere.toml")


_PIECES = st.sampled_from(
    [
        "a",
        "b",
        "ab",
        "*",
        "**",
        "/",
        "a*",
        "?",
        "[ab]",
        "\\a",
        "!",
        " ",
        "x.json",
        "*.json",
        "[z-a]",
    ]
)


@given(
    st.lists(st.lists(_PIECES, min_size=1, max_size=5).map("".join), max_size=6),
    st.lists(st.sampled_from(["a", "b", "ab", "x.json", "c"]), min_size=1, max_size=4).map(
        "/".join
    ),
)
@settings(max_examples=share(400))
def test_the_last_line_that_matches_counts(patterns: list[str], file: str) -> None:
    """Patterns by their first folder, held against every pattern from the last."""
    said = tuple((pattern, (f"@{number}",)) for number, pattern in enumerate(patterns))
    nobody = charter_types.Charter(
        charter=charter_types.Head(version=1, source=Tag("en")),
        roster=charter_types.Roster(shipping=(Tag("en"),)),
    )
    plain = next(
        (owners for pattern, owners in reversed(said) if git_patterns([pattern]).match_file(file)),
        (),
    )
    assert Owners(said, nobody).of(Subject(), Place(File(file), 1, 1)) == plain


@pytest.mark.parametrize(
    "line", ["!", "[z-a]", "a\\", "**\\", "[", "\\", "!!", "//", "a" * 70_000, "*" * 300 + "x"]
)
def test_lines_that_are_no_pattern_match_nothing(old: Repo, line: str) -> None:
    old.write({".gitignore": f"{line}\n*.tmp\n", "CODEOWNERS": f"* @all\n{line} @nobody\n"})
    assert [finding["owners"] for finding in run(old, "--no-cache").data["findings"]] == [["@all"]]


def test_a_waiver_goes_into_a_charter_with_a_mark(old: Repo) -> None:
    old.write({"lemmar.toml": b"\xef\xbb\xbf" + charter().encode()})
    assert waive(old, prints(old)["b"], "--write").code == 0
    assert (old.root / "lemmar.toml").read_bytes().startswith(b"\xef\xbb\xbf[charter]")
    assert run(old).code == 0


def test_hostile_charters_of_several_files(repo: Repo) -> None:
    split(repo)
    repo.write({"clients/huts/lemmar-client.toml": f"a = {'[' * 300}{']' * 300}"})
    assert "nested" in run(repo).err
    repo.write({"clients/huts/lemmar-client.toml": b"\xff\xfe"})
    assert "is not UTF-8" in run(repo).err
    row = "".join(
        f'[[client]]\nname = "c{number}"\nkind = "web"\nroot = "c{number}"\nlike = "c{number + 1}"\n'
        for number in range(3000)
    )
    repo.write({"clients/huts/lemmar-client.toml": row})
    ran = run(repo)
    assert (
        ran.code == 2 and "or in a long row" in ran.err and "there is no client 'c3000'" in ran.err
    )
    (repo.root / "clients/huts/lemmar-client.toml").unlink()
    (repo.root / "clients/huts/lemmar-client.toml").symlink_to("/etc/hostname")
    assert [line.split(" ")[0] for line in repo.found()] == ["message.missing", "roster.uncharted"]


def test_a_pattern_with_many_stars_is_said_and_takes_no_time(old: Repo) -> None:
    stars = "*a" * 40
    old.write(
        {".gitignore": f"{stars}b\n", f"app/{'a' * 200}/x": "", "CODEOWNERS": f"{stars}b @nobody\n"}
    )
    ran = run(old, "--no-cache")
    assert (ran.code, "more than 4 * in one segment" in ran.data["unfinished"][0]) == (3, True)
    old.write({".gitignore": "*.a.*.b.*\n"})
    assert run(old, "--no-cache").data["unfinished"] == []
