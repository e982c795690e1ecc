"""File patterns, and what a folder gives for them."""

from __future__ import annotations

import os
import subprocess
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lemmar.trees import File
from lemmar.trees.folder import FolderTree
from lemmar.trees.patterns import PatternError, compile_pattern, matcher

from .conftest import Repo, share

FILES = [
    "c/de/a.json",
    "c/de/b.json",
    "c/fr/a.json",
    "c/Texts.resx",
    "c/Texts.de.resx",
    "c/deep/er/de.json",
    "c/node_modules/x/de.json",
    "s/x.de.json",
]
CASES = [
    ("{locale}/{part}.json", ["c/de/a.json de a", "c/de/b.json de b", "c/fr/a.json fr a"]),
    ("Texts[.{locale}].resx", ["c/Texts.de.resx de None", "c/Texts.resx None None"]),
    ("../s/{part}.{locale}.json", ["s/x.de.json de x"]),
    (
        "**/{locale}.json",
        [
            "c/de/a.json a None",
            "c/de/b.json b None",
            "c/deep/er/de.json de None",
            "c/fr/a.json a None",
        ],
    ),
    (
        "{part+}/{locale}.json",
        [
            "c/de/a.json a de",
            "c/de/b.json b de",
            "c/deep/er/de.json de deep/er",
            "c/fr/a.json a fr",
        ],
    ),
    ("node_modules/x/{locale}.json", ["c/node_modules/x/de.json de None"]),
    ("{locale}/*.json", ["c/de/a.json de None", "c/de/b.json de None", "c/fr/a.json fr None"]),
    ("{locale}/?.json", ["c/de/a.json de None", "c/de/b.json de None", "c/fr/a.json fr None"]),
    ("{locale}/{locale}.json", []),
    ("de", []),
]


def matches(root: Path, pattern: str, base: str = "c") -> list[str]:
    return [
        f"{match.file} {match.locale} {match.part}"
        for match in FolderTree(root).files(pattern, base)
    ]


@pytest.mark.parametrize(("pattern", "expected"), CASES)
def test_patterns(repo: Repo, pattern: str, expected: list[str]) -> None:
    repo.write(dict.fromkeys(FILES, "{}"))
    assert matches(repo.root, pattern) == expected


def test_a_name_that_can_be_read_in_several_ways_gives_all(repo: Repo) -> None:
    """The longest locale first: it is the audit's to say which of them is one."""
    repo.write({"My.Texts.de.resx": ""})
    assert matches(repo.root, "{part}[.{locale}].resx", "") == [
        "My.Texts.de.resx Texts.de My",
        "My.Texts.de.resx de My.Texts",
        "My.Texts.de.resx None My.Texts.de",
    ]


@pytest.mark.parametrize(
    "pattern",
    [
        "../../{locale}.json",
        "a/../../{locale}",
        "/etc/{locale}",
        "a//b",
        "{tongue}.json",
        "a[b",
        "C:/x",
        "",
        "a\\b",
        "[a]" * 7,
    ],
)
def test_patterns_that_cannot_be_used(repo: Repo, pattern: str) -> None:
    with pytest.raises(PatternError):
        FolderTree(repo.root).files(pattern, "c")


def test_links_stay_inside_and_only_regular_files_match(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    outside = tmp_path_factory.mktemp("outside")
    (outside / "de.json").write_text("{}")
    repo.write({"real/fr.json": "{}", "w/en.json": "{}", "w/it.json/x": ""})
    (repo.root / "w/de.json").symlink_to(outside / "de.json")
    (repo.root / "w/fr.json").symlink_to(repo.root / "real/fr.json")
    (repo.root / "w/self.json").symlink_to("self.json")
    (repo.root / "w/loop").symlink_to("..")
    (repo.root / "w/out").symlink_to(outside)
    os.mkfifo(repo.root / "w/sl.json")
    assert matches(repo.root, "**/{locale}.json", "w") == ["w/en.json en None", "w/fr.json fr None"]
    with pytest.raises(OSError, match="not a regular file"):
        FolderTree(repo.root).read(File("w/sl.json"))


def test_what_git_ignores_is_passed_over_unless_named_or_tracked(repo: Repo) -> None:
    repo.write(
        {
            ".gitignore": "dist/\n*.tmp.json\n",
            "dist/de.json": "",
            "w/de.json": "",
            "w/fr.tmp.json": "",
            "w/.gitignore": "!fr.tmp.json\n",
            "v/it.tmp.json": "",
        }
    )
    assert matches(repo.root, "**/{locale}.json", "") == [
        "w/de.json de None",
        "w/fr.tmp.json fr.tmp None",
    ]
    assert matches(repo.root, "dist/{locale}.json", "") == ["dist/de.json de None"]
    git = ["git", "-c", "user.name=a", "-c", "user.email=a@b", "-C", str(repo.root)]
    subprocess.run([*git, "init", "-q"], check=True)
    subprocess.run([*git, "add", "-f", "v/it.tmp.json"], check=True)
    assert "v/it.tmp.json it.tmp None" in matches(repo.root, "**/{locale}.json", "")


def test_ways_with_a_locale_come_first() -> None:
    assert [way.marked for way in compile_pattern("values[-{locale}]/s.xml")] == [True, False]


_STEP = st.sampled_from(["**", "*", "a", "b*", "?", "c.json", "*.json", "[b]*", "a[.b]"])


@given(st.lists(_STEP, min_size=1, max_size=4))
@settings(max_examples=share(150), deadline=None)
def test_patterns_that_take_nothing_from_a_path_find_what_their_expression_matches(
    tree_of_letters: Path, steps: list[str]
) -> None:
    pattern = "/".join(steps)
    every = [
        path.relative_to(tree_of_letters).as_posix()
        for path in tree_of_letters.rglob("*")
        if path.is_file()
    ]
    matched = matcher(pattern, "")
    found = [str(match.file) for match in FolderTree(tree_of_letters).files(pattern)]
    assert found == sorted(file for file in every if matched(file))


@pytest.fixture(scope="module")
def tree_of_letters(tmp_path_factory: pytest.TempPathFactory) -> Path:
    root = tmp_path_factory.mktemp("letters")
    for file in (
        "a/c.json",
        "b/c.json",
        "a/b/c.json",
        "a/b/bb/a",
        "a.b",
        "bc.json",
        "b/a/x",
        "c.json",
    ):
        (root / file).parent.mkdir(parents=True, exist_ok=True)
        (root / file).write_text("")
    return root
