"""The demo: sound, it is clear; with its planted mistakes, exactly those are found."""

from __future__ import annotations

import pytest

from lemmar.demo import monorepo_files
from lemmar.demo.faults import PLANTED, Fault

from .conftest import Repo


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


@pytest.mark.parametrize("fault", [pytest.param(fault, id=fault.story) for fault in PLANTED])
def test_each_fault_alone(repo: Repo, fault: Fault) -> None:
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
