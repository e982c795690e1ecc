"""Tables that the survey drafted and nobody has confirmed: what rests on them holds no release up, and makes none clear."""

from __future__ import annotations

import re
from typing import Any

import pytest

from lemmar.demo import monorepo_files

from .conftest import Repo, charter, with_clients
from .test_rules import BOTH, EN, one

_TABLE = re.compile(r"(?m)^( *)\[\[client(?:\.catalog|\.claim|\.usage)?\]\]\n")


def drafted(text: str, sure: float = 0.8) -> str:
    """The charter with every table of a client not confirmed."""
    return _TABLE.sub(lambda found: f"{found[0]}{found[1]}sure = {sure:.2f}\n", text)


def told(audit: Any) -> list[tuple[Any, ...]]:
    """What is found, whatever its grade, and wherever it stands in the charter."""
    found = []
    for each in audit["findings"]:
        place = each["place"] or {"file": "", "line": 0}
        line = 0 if place["file"] == "lemmar.toml" else place["line"]
        words = re.sub(r"; if this \w+ is right .*", "", each["message"])
        found.append(
            (
                each["rule"],
                *each["clients"],
                each["locale"],
                each["key"],
                place["file"],
                line,
                words,
            )
        )
    return sorted(found, key=repr)


def test_the_demo_drafted_and_then_confirmed(repo: Repo) -> None:
    files = with_clients(
        monorepo_files(sound=False), ("booking-site", "ridge-pocket", "weather-eye")
    )
    head = re.sub(r"(?m)^ *sure .*\n", "", str(files["lemmar.toml"]))
    sure = repo.write({**files, "lemmar.toml": head}).audit()
    unsure = repo.write({"lemmar.toml": drafted(head)}).audit()
    assert told(unsure) == told(sure)
    firm = {each["fingerprint"]: each["severity"] for each in sure["findings"]}
    for each in unsure["findings"]:
        was = firm.get(each["fingerprint"], each["severity"])
        assert each["severity"] == ("warning" if each["drafted"] else was)
        assert not each["drafted"] or (
            was == "error" and "is right (drafted, 80% sure)" in each["message"]
        )
    assert sum(bool(each["drafted"]) for each in unsure["findings"]) > 10
    names = re.findall(r'(?m)^name\s*= "(.+)"', head)
    clients = [name for name in names if f'name = "{name}"' in re.sub(r" +=", " =", head)]
    known = {each["name"] for each in sure["clients"]}
    ran = repo.run("charter", *(f"--confirm={name}" for name in clients if name in known))
    assert ran.code == 0, ran.err
    assert (repo.root / "lemmar.toml").read_text("utf-8") == head
    assert repo.audit() == sure


@pytest.mark.parametrize(
    ("changed", "code", "words"),
    [
        (
            {"app/w/de.json": '{"bunk": "Lager"}'},
            3,
            "verdict: undecided: 1 error if 2 drafted tables are right: lemmar.toml:10 and lemmar.toml:18",
        ),
        (
            {"app/w/de.json": "{}", "lemmar.toml": None},
            1,
            "verdict: hold: 1 finding must be fixed before the release",
        ),
        ({}, 0, "verdict: clear"),
    ],
)
def test_what_only_drafted_tables_say_is_undecided(
    repo: Repo, changed: dict[str, Any], code: int, words: str
) -> None:
    head = charter() if "lemmar.toml" in changed else drafted(charter())
    ran = repo.write(one({**changed, "lemmar.toml": head})).run("audit")
    assert (ran.code, words in ran.out) == (code, True), ran.out
    data = repo.run("audit", "--format", "json").data
    assert data["complete"] == (code != 3) and bool(data["undecided"]) == (code == 3)


def test_a_claim_and_a_usage_that_are_drafted(repo: Repo) -> None:
    """What rests on another table than the drafted one is as sure as ever."""
    claim = charter().replace("  [[client.claim]]\n", "  [[client.claim]]\n  sure = 0.50\n")
    repo.write(one({"lemmar.toml": claim, "app/locales.json": '["en"]', "app/w/en.json": EN}))
    found = {each["rule"]: each["severity"] for each in repo.audit()["findings"]}
    assert found == {"roster.absent": "warning"}
    repo.write({"app/locales.json": BOTH, "app/w/de.json": '{"bunk": "Lager"}'})
    assert [(each["rule"], each["severity"]) for each in repo.audit()["findings"]] == [
        ("message.missing", "error")
    ]
    usage = charter(catalog='  [[client.usage]]\n  sure = 0.61\n  call = "say"\n')
    repo.write(
        one({"lemmar.toml": usage, "app/a.ts": "say('bunk'); say('hut', {name}); say('lamp')"})
    )
    (found_there,) = repo.audit()["findings"]
    assert (found_there["rule"], found_there["severity"]) == ("key.undefined", "warning")
    assert "if this usage is right (drafted, 61% sure)" in found_there["message"]


def test_confirming(repo: Repo) -> None:
    text = drafted(charter()).replace("sure = 0.80\n", "sure = 0.80  # ?\r\n", 1)
    repo.write(one({"lemmar.toml": text.encode()}))
    assert "did you mean 'app'" in repo.run("charter", "--confirm", "ap").err
    assert (
        "is no client and no drafted table" in repo.run("charter", "--confirm", "lemmar.toml:1").err
    )
    assert (
        "wrote lemmar.toml: 1 table confirmed"
        in repo.run("charter", "--confirm", "lemmar.toml:10").err
    )
    assert (repo.root / "lemmar.toml").read_bytes() == text.replace(
        "sure = 0.80  # ?\r\n", ""
    ).encode()
    assert "2 tables confirmed" in repo.run("charter", "--confirm", "app").err
    assert (repo.root / "lemmar.toml").read_text("utf-8") == charter()
    assert "confirmed already" in repo.run("charter", "--confirm", "app").err
    inline = (
        charter(claim="")
        + 'claim = [{ states = "supported", sure = 0.5, file = "locales.json", pointer = "" }]\n'
    )
    repo.write({"lemmar.toml": inline.replace("  [[client.catalog]]\n", "  [[client.catalog]]\n")})
    ran = repo.run("charter", "--confirm", "app")
    assert ran.code == 2


def test_confirming_in_included_files(repo: Repo) -> None:
    head, _, rest = charter(root=".").partition("[[client]]\n")
    own = drafted(f"[[client]]\n{rest}")
    repo.write(
        {
            "lemmar.toml": head.replace(
                "version = 1\n", 'version = 1\ninclude = ["app/lemmar-client.toml"]\n'
            ),
            "app/lemmar-client.toml": own,
            "app/locales.json": BOTH,
            "app/w/en.json": EN,
            "app/w/de.json": '{"bunk": "Lager"}',
        }
    )
    assert repo.audit()["undecided"][0] == "app/lemmar-client.toml:1"
    assert (
        "wrote app/lemmar-client.toml: 3 tables confirmed"
        in repo.run("charter", "--confirm", "app").err
    )
    assert (repo.root / "app/lemmar-client.toml").read_text("utf-8") == f"[[client]]\n{rest}"
    assert repo.audit()["undecided"] == []


def test_the_survey_says_how_sure_it_is(repo: Repo) -> None:
    words = {
        f"a/w/{tag}.json": f'{{"bunk": "Bunk {tag}", "hut": "Hut {tag}"}}'
        for tag in ("en", "de", "fr")
    }
    repo.write({**words, "a/package.json": "{}"})
    assert repo.run("survey", "--write").code == 0
    text = (repo.root / "lemmar.toml").read_text("utf-8")
    assert re.findall(r"sure +=.*", text) == [
        "sure   = 0.50"
    ]  # of what is supported only its files tell
    assert re.search(
        r"supported +~ drafted|supported.*drafted and not confirmed", repo.run("client", "a").out
    )


_CLAIM = re.compile(r"(?m)^  \[\[client\.claim\]\]\n(?:  [^\n\[]*\n)*")


def test_no_claim_can_be_taken_away_unseen(repo: Repo) -> None:
    """Without a claim the fact is stated elsewhere, or the verdict names what it assumes, or it is not clear."""
    files = with_clients(monorepo_files(sound=True), ("summit-trail", "map-portal", "booking-site"))
    head = str(files["lemmar.toml"])
    assert repo.write(files).audit()["verdict"] == "clear"
    claims = list(_CLAIM.finditer(head))
    assert len(claims) > 8
    for claim in claims:
        fact = re.search(r'states\s*= "(\w+)"', claim[0])[1]  # type: ignore[index]
        audit = repo.write({"lemmar.toml": head[: claim.start()] + head[claim.end() :]}).audit()
        client = re.findall(r'(?m)^name\s*= "(.+)"', head[: claim.start()])[-1]
        basis = {
            each["fact"]: each
            for found in audit["clients"]
            if found["name"] == client
            for each in found["basis"]
        }
        if audit["verdict"] == "clear" and fact in (
            "supported",
            "default",
            "chain",
            "mirrored",
            "source",
        ):
            known = basis[fact]["known"]
            assert known in ("stated", "charter", "preset") or client in audit["assumed"][fact], (
                client,
                fact,
                basis,
            )


def test_what_a_client_takes_over_is_confirmed_where_it_stands(repo: Repo) -> None:
    """One that is like another has that one's tables, and the place that is named is the one to confirm."""
    twin = '\n[[client]]\nname = "twin"\nkind = "web"\nroot = "twin"\nlike = "app"\n'
    text = drafted(charter()).replace("[[client]]\nsure = 0.80\n", "[[client]]\n") + twin
    files = {
        f"{root}/{file}": data
        for root in ("app", "twin")
        for file, data in (("locales.json", BOTH), ("w/en.json", EN))
    }
    repo.write(
        {**files, "lemmar.toml": text, "app/w/de.json": EN, "twin/w/de.json": '{"bunk": "Lager"}'}
    )
    (place,) = repo.audit()["undecided"]
    assert place == "lemmar.toml:17"
    assert repo.run("charter", "--confirm", place).code == 0
    assert repo.audit()["undecided"] == [] and repo.run("audit").code == 1


def test_large_code_beside_a_catalog_is_gone_over_once(repo: Repo) -> None:
    """Calls by the ten thousand beside a map cost no more than once through the file."""
    calls = "".join(f"build({number}, 'a text of {number} words');\n" for number in range(20_000))
    repo.write({"en.js": f"export default {{ one: 'A text' }};\nfunction x() {{\n{calls}}}\n"})
    ran = repo.run("read", "en.js")
    assert "20,000 texts of this file cannot be read as entries" in ran.out, ran.out
