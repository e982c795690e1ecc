"""The demo: sound, it is clear; with its planted mistakes, exactly those are found."""

from __future__ import annotations

from pathlib import Path

import pytest

from lemmar.demo import RELEASES, monorepo_files
from lemmar.demo.faults import PLANTED, Fault

from .conftest import DEEP, Repo
from .test_revisions import git


def subjects(repo: Repo) -> list[tuple[str | None, ...]]:
    return sorted(
        (
            tuple(finding[name] for name in ("rule", "client", "locale", "key"))
            for finding in repo.audit()["findings"]
        ),
        key=str,
    )


def test_sound(repo: Repo) -> None:
    data = repo.write(dict(monorepo_files(sound=True))).audit()
    assert (data["verdict"], data["findings"]) == ("clear", [])
    for client in data["clients"]:
        assert set(client["locales"]) == {
            "en",
            "de",
            "de-AT",
            "fr",
            "it",
            "pt-BR",
            "zh-Hans",
            "ar",
            "sr-Latn",
            "uk",
            "sl",
        }
        assert all(20 <= counts["messages"] <= 120 for counts in client["locales"].values())


@pytest.fixture(scope="module")
def shared_cache(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return tmp_path_factory.mktemp("cache")


@pytest.mark.deep
@pytest.mark.parametrize("fault", [pytest.param(fault, id=fault.story) for fault in PLANTED])
def test_each_fault_alone(
    repo: Repo, fault: Fault, shared_cache: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    if not DEEP:  # the clients that the fault is not in were audited for another
        monkeypatch.setenv("XDG_CACHE_HOME", str(shared_cache))
    files = monorepo_files(sound=True)
    fault.plant(files)
    assert subjects(repo.write(dict(files))) == sorted(fault.findings, key=str)


def test_all_faults_together(repo: Repo) -> None:
    assert subjects(repo.write(dict(monorepo_files(sound=False)))) == sorted(
        (found for fault in PLANTED for found in fault.findings), key=str
    )


def test_the_command(repo: Repo) -> None:
    ran = repo.run("demo")
    assert ran.code == 0 and "wrote" in ran.err
    assert (
        "verdict: hold" in ran.out
        and "to try next:  cd tarnhut" in ran.out
        and "summit-trail" in ran.out
    )
    assert "verdict: clear; ship it" in repo.run("demo", "--sound", "--into", "other").out
    again = repo.run("demo")
    assert (again.code, again.err) == (
        2,
        "lemmar: tarnhut is not empty; choose another folder with --into\n",
    )


def test_a_history_of_six_releases(repo: Repo) -> None:
    ran = repo.run("demo", "--history", "--into", "huts")
    assert ran.code == 0, ran.err
    huts = Repo(repo.root / "huts")
    rows = [line.split() for line in ran.out.partition("release   errors")[2].splitlines()[1:7]]
    assert [row[0] for row in rows] == [release.tag for release in RELEASES]
    assert rows[0] == ["2026.1", "0", "0", "0", "clear"]
    assert {row[-1] for row in rows[1:]} == {"hold"}
    errors = [int(row[1]) for row in rows]
    assert errors[1] < errors[2] and errors[-1] < max(errors)  # worse, and better again
    assert huts.audit("--at", "2026.6") == huts.audit()
    since = huts.audit("--since", "2026.5")
    assert since["verdict"] == "hold" and since["gone"] and since["counts"]["known"]
    again = repo.run("demo", "--history", "--into", "again")
    assert again.code == 0
    names = [git(repo.root / name, "rev-parse", "HEAD") for name in ("huts", "again")]
    assert names[0] == names[1]
    assert (
        "leave --sound or --history out"
        in repo.run("demo", "--history", "--sound", "--into", "x").err
    )
    assert "is not empty" in repo.run("demo", "--history", "--into", "huts").err
