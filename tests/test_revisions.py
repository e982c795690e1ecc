"""A git revision is audited as a checkout of it would be, from any kind of clone, and nothing that its configuration names is run."""

from __future__ import annotations

import json
import os
import random
import shutil
import subprocess
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lemmar.trees.folder import FolderTree
from lemmar.trees.repository import Repository
from lemmar.trees.revision import RevisionTree
from lemmar.trees.submodules import submodules
from tests.test_remembering import audit, edits, monorepo

from .conftest import Ran, Repo, charter, share

EMPTY = {"GIT_CONFIG_GLOBAL": os.devnull, "GIT_CONFIG_SYSTEM": os.devnull, "HOME": "/nonexistent"}
POINTER = f"version https://tarnhut.example/spec/v1\noid sha256:{'0' * 64}\nsize 12\n"


def git(folder: Path, *arguments: str) -> str:
    who = ["-c", "user.name=a", "-c", "user.email=a@b", "-c", "protocol.file.allow=always"]
    done = subprocess.run(
        ["git", *who, "-C", str(folder), *arguments],
        check=True,
        capture_output=True,
        text=True,
        env={**os.environ, **EMPTY},
    )
    return done.stdout.strip()


def committed(repo: Repo) -> str:
    """Commits all that is there, what is ignored as well; gives the commit's name."""
    if not (repo.root / ".git").exists():
        git(repo.root, "init", "-q")
    git(repo.root, "add", "-A", "-f")
    git(repo.root, "commit", "-q", "--allow-empty", "-m", "x")
    return git(repo.root, "rev-parse", "HEAD")


@pytest.fixture
def sound(repo: Repo) -> Repo:
    """A client with a text that is missing, in a repository with two commits; the second has it."""
    repo.write(
        {
            "lemmar.toml": charter(),
            "app/locales.json": '["en", "de"]',
            "app/w/en.json": '{"a": "A bunk", "b": "A hut"}',
            "app/w/de.json": '{"a": "Eine Koje"}',
        }
    )
    committed(repo)
    git(repo.root, "tag", "v1")
    repo.write({"app/w/de.json": '{"a": "Eine Koje", "b": "Eine Hütte"}'})
    committed(repo)
    git(repo.root, "tag", "v2")
    return repo


def keys(ran: Ran) -> list[Any]:
    return [finding["key"] for finding in json.loads(ran.out)["findings"]]


@pytest.mark.parametrize("seed", range(2))
def test_a_revision_is_audited_as_a_checkout_of_it(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory, seed: int
) -> None:
    chance = random.Random(seed + 100)
    monorepo(repo, seed)
    commits = []
    for _ in range(11):
        commits.append(committed(repo))
        for _ in range(2):
            edits(repo, chance)()
    for number, commit in enumerate(commits):
        checkout = Repo(tmp_path_factory.mktemp("checkout") / "c")
        git(repo.root, "worktree", "add", "-q", "--detach", str(checkout.root), commit)
        there = audit(checkout, "--no-cache")
        assert audit(repo, "--at", commit) == there, f"commit {number}"
        assert audit(repo, "--at", commit, "--no-cache") == there
        assert audit(repo, "--at", commit) == there
        for command in ("grid", "chain", "landing"):
            assert repo.run(command, "--at", commit) == checkout.run(command)
        assert repo.run("survey", "--at", commit).out == checkout.run("survey").out


STEPS = ("**", "*", "a", "b*", "c.json", "*.json", "up", "out", "round", "{locale}", "x{part}")


@given(
    st.lists(st.sampled_from(STEPS), min_size=1, max_size=4),
    st.sampled_from(["", "a", "up", "a/b"]),
)
@settings(max_examples=share(200))
def test_a_pattern_finds_in_a_revision_what_it_finds_in_a_checkout(
    two_trees: tuple[FolderTree, RevisionTree], steps: list[str], base: str
) -> None:
    pattern = "/".join(steps)
    if pattern.count("{locale}") > 1 or pattern.count("{part}") > 1:
        return
    folder, revision = two_trees
    found = revision.files(pattern, base)
    assert found == folder.files(pattern, base)
    for match in found:
        assert revision.read(match.file) == folder.read(match.file)


@pytest.fixture(scope="module")
def two_trees(tmp_path_factory: pytest.TempPathFactory) -> tuple[FolderTree, RevisionTree]:
    root = tmp_path_factory.mktemp("letters")
    inner = root / "in/ner"
    for file in (
        "a/c.json",
        "b/c.json",
        "a/b/c.json",
        "a/b/bb/a",
        "bc.json",
        "node_modules/c.json",
        "xde",
    ):
        (inner / file).parent.mkdir(parents=True, exist_ok=True)
        (inner / file).write_text(file)
    (root / "beside").mkdir()
    (root / "beside/c.json").write_text("")
    links = {
        "up": "a",
        "a/up": "../b",
        "out": "../../beside",
        "a/round": "..",
        "round": "round",
        "a/b/x": "../../up/c.json",
    }
    links |= {
        "b/gone": "nothing",
        "b/abs": "/etc",
        "b/back": "../../ner/a/b",
        "a/file": "../../../beside/c.json",
    }
    for name, target in links.items():
        (inner / name).symlink_to(target)
    repo = Repo(root)
    commit = committed(repo)
    return FolderTree(inner), RevisionTree(Repository(root), commit, "in/ner")


def test_from_any_kind_of_clone(sound: Repo, tmp_path_factory: pytest.TempPathFactory) -> None:
    home = tmp_path_factory.mktemp("clones")
    git(sound.root, "config", "uploadpack.allowFilter", "true")
    origin = f"file://{sound.root}"
    first, second = audit(sound, "--at", "v1"), audit(sound, "--at", "v2")
    assert (first.code, keys(first), second.code) == (1, ["b"], 0)

    git(home, "clone", "-q", "--bare", origin, "bare")
    bare = Repo(home / "bare")
    assert (audit(bare, "--at", "v1"), audit(bare, "--at", "v2")) == (first, second)
    assert audit(bare, "--at", "v1", "--charter", "v2:lemmar.toml") == first
    assert "say which revision with --at" in audit(bare, "--charter", "v2:lemmar.toml").err

    git(home, "clone", "-q", "--depth", "1", origin, "shallow")
    shallow = Repo(home / "shallow")
    assert audit(shallow, "--at", "HEAD") == second
    ran = audit(shallow, "--at", "HEAD~1")
    assert (ran.code, ran.err) == (
        2,
        "lemmar: there is no revision 'HEAD~1' in this repository; see 'git log', or fetch more of its history\n",
    )

    git(home, "clone", "-q", "--filter=blob:none", "--no-checkout", origin, "partial")
    partial = Repo(home / "partial")
    for name in ("lemmar.toml", "app/locales.json", "app/w/en.json"):
        git(partial.root, "cat-file", "-p", f"v1:{name}")  # only these are fetched
    ran = audit(partial, "--at", "v1", "--no-cache")
    assert ran.code == 1
    assert [(f["rule"], f["place"]["file"]) for f in json.loads(ran.out)["findings"]] == [
        ("catalog.unreadable", "app/w/de.json")
    ]
    assert "its contents are not in this clone; fetch them first" in ran.out

    git(sound.root, "worktree", "add", "-q", str(home / "second"), "v1")
    assert audit(Repo(home / "second"), "--at", "v2") == second


def test_submodules_and_pointers_are_no_nonsense(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    words = Repo(tmp_path_factory.mktemp("words"))
    committed(words.write({"de.json": '{"a": "Koje"}', "en.json": '{"a": "Bunk"}'}))
    repo.write(
        {
            "lemmar.toml": charter(files="words/{locale}.json"),
            "app/locales.json": '["en", "de"]',
            "app/readme": "",
        }
    )
    committed(repo)
    git(repo.root, "submodule", "add", "-q", str(words.root), "app/words")
    commit = committed(repo)
    assert audit(repo).code == 0
    for ran in (audit(repo, "--at", commit), audit(cloned(repo, tmp_path_factory))):
        assert ran.code == 3
        assert (
            "the folder app/words is a submodule that is not there; check it out"
            in ran.out + ran.err
        )
    repo.write(
        {"lemmar.toml": charter(), "app/w/en.json": '{"a": "Bunk"}', "app/w/de.json": POINTER}
    )
    git(repo.root, "submodule", "deinit", "-q", "-f", "app/words")
    commit = committed(repo)
    assert audit(repo) == audit(repo, "--at", commit)
    assert repo.found() == ["catalog.unreadable app/w/de.json:1:1 de"]
    assert "points to contents that are kept elsewhere" in audit(repo).out
    assert "points to contents" in repo.run("read", "app/w/de.json").out
    repo.write({"app/locales.json": POINTER, "app/w/de.json": '{"a": "Koje"}'})
    assert repo.found() == ["roster.unreadable-claim app/locales.json:1:1"]


def cloned(repo: Repo, tmp_path_factory: pytest.TempPathFactory) -> Repo:
    home = tmp_path_factory.mktemp("clone")
    git(home, "clone", "-q", str(repo.root), "c")
    return Repo(home / "c")


def test_nothing_that_a_configuration_names_is_run(
    sound: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    marker = sound.root / "ran"
    program = sound.root / "program"
    program.write_text(f'#!/bin/sh\necho "$0 $@" >> {marker}\ncat\n')
    program.chmod(0o755)
    sound.write({".gitattributes": "* filter=evil diff=evil merge=evil text ident\n"})
    for name in (
        *(
            "core.fsmonitor",
            "core.pager",
            "core.editor",
            "core.sshCommand",
            "core.askPass",
            "core.gitProxy",
            "core.alternateRefsCommand",
        ),
        *(
            "filter.evil.clean",
            "filter.evil.smudge",
            "filter.evil.process",
            "diff.evil.textconv",
            "diff.evil.command",
            "diff.external",
        ),
        *(
            "merge.evil.driver",
            "pager.ls-tree",
            "pager.cat-file",
            "pager.rev-parse",
            "gpg.program",
            "credential.helper",
        ),
        *(
            "uploadpack.packObjectsHook",
            "remote.origin.uploadpack",
            "interactive.diffFilter",
            "sequence.editor",
        ),
    ):
        git(sound.root, "config", name, str(program))
    for name in ("ls-tree", "cat-file", "rev-parse"):
        git(sound.root, "config", f"alias.{name}", f"!{program}")
    git(sound.root, "config", "core.hooksPath", str(sound.root / "hooks"))
    git(sound.root, "config", "remote.origin.url", f"ext::{program}")
    git(sound.root, "config", "remote.origin.promisor", "true")
    git(sound.root, "config", "remote.origin.partialclonefilter", "blob:none")
    git(sound.root, "config", "extensions.partialClone", "origin")
    for name in (
        "post-checkout",
        "post-index-change",
        "reference-transaction",
        "pre-auto-gc",
        "fsmonitor-watchman",
    ):
        sound.write({f"hooks/{name}": program.read_text()})
        (sound.root / "hooks" / name).chmod(0o755)
    blob = git(sound.root, "rev-parse", "v1:app/w/de.json")
    gone = sound.root / ".git/objects" / blob[:2] / blob[2:]
    monkeypatch.setenv("GIT_EXTERNAL_DIFF", str(program))
    marker.unlink(missing_ok=True)
    for more in (
        (),
        ("--at", "v2"),
        ("--since", "v1"),
        ("--changed", "v1"),
        ("--charter", "v1:lemmar.toml"),
    ):
        audit(sound, "--no-cache", *more)
    gone.unlink()
    assert "its contents are not in this clone" in audit(sound, "--no-cache", "--at", "v1").out
    assert not marker.exists(), marker.read_text()


def test_a_branch_cannot_loosen_its_own_gate(sound: Repo) -> None:
    git(sound.root, "checkout", "-q", "v1")
    strict = (sound.root / "lemmar.toml").read_text()
    sound.write({"lemmar.toml": strict + '[gate]\nfail-on = "never"\n'})
    assert audit(sound).code == 0
    assert audit(sound, "--charter", "v1:lemmar.toml").code == 1
    (sound.root / "lemmar.toml").unlink()
    assert audit(sound, "--charter", "v1:lemmar.toml").code == 1
    (sound.root / "app/deeper").mkdir()
    deeper = Repo(sound.root / "app/deeper")
    assert audit(deeper, "--charter", "v1:../../lemmar.toml") == audit(
        sound, "--charter", "v1:lemmar.toml"
    )
    assert audit(deeper, "--at", "v2").code == 0


@pytest.mark.parametrize(
    ("arguments", "words"),
    [
        (["--at", "nowhere"], "there is no revision 'nowhere'"),
        (["--at", "--help"], "there is no revision '--help'"),
        (["--at", ""], "there is no revision ''"),
        (["--charter", "v1:nothing.toml"], "there is no file 'nothing.toml' in 'v1'"),
        (["--charter", "v1:../x.toml"], "leads out of the repository"),
        (["--charter", "nowhere:lemmar.toml"], "there is no revision 'nowhere'"),
        (["--charter", "other.toml", "--at", "v1"], "there is no other.toml in 'v1'"),
        (["--at", "v1", "--scheduler", "tcp://127.0.0.1:1"], "leave out --scheduler or --at"),
    ],
)
def test_what_is_not_there_is_one_sentence(sound: Repo, arguments: list[str], words: str) -> None:
    ran = audit(sound, *arguments)
    assert ran.code == 2
    assert words in ran.err
    assert ran.err.count("\n") == 1


def test_without_git_or_a_repository(sound: Repo, monkeypatch: pytest.MonkeyPatch) -> None:
    assert "is put into" not in audit(sound).err
    assert (
        "--write puts a charter into the folder on disk"
        in sound.run("survey", "--at", "v1", "--write").err
    )
    shutil.rmtree(sound.root / ".git")
    assert "is in no git repository" in audit(sound, "--at", "v1").err
    monkeypatch.setenv("PATH", "/nonexistent")
    assert "git is not on this machine" in audit(sound, "--at", "v1").err


def test_folders_as_deep_as_git_can_have_them(sound: Repo) -> None:
    blob = git(sound.root, "rev-parse", "v1:app/w/de.json")
    for path in ("a/" * 1_500 + "x.json", "app/w/" + "b/" * 1_500 + "de.json"):
        git(sound.root, "update-index", "--add", "--cacheinfo", f"100644,{blob},{path}")
    git(sound.root, "commit", "-q", "-m", "deep")
    assert keys(audit(sound, "--at", "HEAD", "--no-cache")) == []
    assert audit(sound, "--at", "HEAD").code == 0


def test_a_list_of_submodules_that_takes_no_time(sound: Repo) -> None:
    sound.write({".gitmodules": "path = " + " " * 2_000_000 + "x\n" + "\t" * 2_000_000 + "path\n"})
    (sound.root / "app/x").mkdir()
    text = (sound.root / "lemmar.toml").read_text()
    sound.write({"lemmar.toml": text.replace('files = "w/', 'files = "x/')})
    assert audit(sound, "--no-cache").code == 2
    assert submodules('[submodule "a"]\n\tpath = "a b/c/"\n\turl = x\n path=d\r\n') == {
        "a b/c",
        "d",
    }
