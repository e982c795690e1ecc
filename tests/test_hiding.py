"""One cause, one finding: what is declared to hide hides, at the same place, if it is no less severe."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import date
from fnmatch import fnmatchcase
from typing import Any, NamedTuple

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from lemmar.auditing.hiding import visible_problems
from lemmar.auditing.problems import Raised
from lemmar.auditing.waivers import Waiving
from lemmar.charter.types import WaiverEntry
from lemmar.findings import Severity, Subject
from lemmar.inventory.contents import Spot
from lemmar.rules import Hides, Problem, Rule
from lemmar.trees import File

from .conftest import CLIENT, HEAD, SUPPORTED, Repo, share


def rule(name: str, *hides: Hides) -> Rule:
    return Rule(name, "error", "", hides, lambda _world: iter(()))


def raised(rule: Rule, subject: Subject, severity: Severity = "error", line: int = 1) -> Raised:
    return Raised(rule, severity, Problem(subject, "", Spot(File("f"), line=line, column=1)))


ABOVE = rule("a.above", Hides(("b.*", "c.one"), ("client", "locale")))
BRANCH = rule("a.branch", Hides(("b.one",), ("client", "branch")))
ENTRY = rule("a.entry", Hides(("*",), ("entry",)))
ONE = rule("b.one")
APP = Subject(("app",), "de", None, "k")

CASES = [
    ("a family", [raised(ABOVE, APP), raised(ONE, APP)], [0]),
    ("another locale", [raised(ABOVE, Subject(("app",), "fr")), raised(ONE, APP)], [0, 1]),
    (
        "a locale that is left open covers all",
        [raised(ABOVE, Subject(("app",))), raised(ONE, APP)],
        [0],
    ),
    ("another client", [raised(ABOVE, Subject(("web",), "de")), raised(ONE, APP)], [0, 1]),
    (
        "one of two clients",
        [raised(ABOVE, Subject(("web",), "de")), raised(ONE, Subject(("app", "web"), "de"))],
        [0, 1],
    ),
    (
        "both of two clients",
        [raised(ABOVE, Subject(("web", "app"), "de")), raised(ONE, Subject(("app", "web"), "de"))],
        [0],
    ),
    ("less severe", [raised(ABOVE, APP, "note"), raised(ONE, APP, "warning")], [0, 1]),
    ("as severe", [raised(ABOVE, APP, "warning"), raised(ONE, APP, "warning")], [0]),
    ("another rule of another family", [raised(ABOVE, APP), raised(rule("c.two"), APP)], [0, 1]),
    (
        "a branch and what is below it",
        [
            raised(BRANCH, Subject(("app",), None, None, "m")),
            raised(ONE, Subject(("app",), "de", None, "m.x.y")),
        ],
        [0],
    ),
    (
        "a branch and its namesake",
        [
            raised(BRANCH, Subject(("app",), None, None, "m")),
            raised(ONE, Subject(("app",), "de", None, "mx.y")),
        ],
        [0, 1],
    ),
    ("the same entry", [raised(ENTRY, APP, line=3), raised(ONE, Subject(("web",)), line=3)], [0]),
    ("another entry", [raised(ENTRY, APP, line=3), raised(ONE, APP, line=4)], [0, 1]),
    ("not its own like", [raised(ENTRY, APP), raised(ENTRY, APP)], [0, 1]),
    (
        "what is hidden hides",
        [
            raised(ABOVE, APP),
            raised(rule("b.two", Hides(("d.*",), ("client",))), APP),
            raised(rule("d.x"), APP),
        ],
        [0],
    ),
]


@pytest.mark.parametrize(
    ("found", "left"), [pytest.param(found, left, id=name) for name, found, left in CASES]
)
def test_hiding(found: list[Raised], left: list[int]) -> None:
    assert visible_problems(found) == [found[index] for index in left]
    assert len(visible_problems(found[::-1])) == len(left)


# A monorepo of two clients, each with two catalogs; what is planted in one place must be told, whatever is planted in another.
PLACES = [
    (client, folder, tag)
    for client in ("app", "web")
    for folder in ("w", "x")
    for tag in ("de", "fr")
]


class Plant(NamedTuple):
    """A fault: its name, its place, and what it makes of the files."""

    name: str
    place: tuple[str, str, str]
    plant: Callable[[dict[str, str]], None]


def _monorepo() -> dict[str, str]:
    clients = "".join(
        CLIENT.format(name=name, root=name, platform="browser", files="w/{locale}.json")
        + '\n  [[client.catalog]]\n  files = "x/{locale}.json"\n'
        + SUPPORTED
        + '\n  [[client.claim]]\n  states = "chain"\n  file = "chain.json"\n  pointer = ""\n'
        for name in ("app", "web")
    )
    head = HEAD.format(shipping='"en", "de", "fr"', trial="")
    files = {"lemmar.toml": head + clients}
    for client in ("app", "web"):
        files[f"{client}/locales.json"] = '["en", "de", "fr"]'
        files[f"{client}/chain.json"] = '{"de": ["en"], "fr": ["en"]}'
        for folder in ("w", "x"):
            for tag in ("en", "de", "fr"):
                texts = {f"{folder}.a": f"Snow on {{pass}} {tag}", f"{folder}.b": f"Bunk {tag}"}
                files[f"{client}/{folder}/{tag}.json"] = json.dumps(texts)
    return files


def _edit(old: str, new: str, place: tuple[str, str, str]) -> Callable[[dict[str, str]], None]:
    def plant(files: dict[str, str]) -> None:
        path = "{}/{}/{}.json".format(*place)
        if path in files:
            files[path] = files[path].replace(old, new)

    return plant


def _chain(link: str, place: tuple[str, str, str]) -> Callable[[dict[str, str]], None]:
    def plant(files: dict[str, str]) -> None:
        path = f"{place[0]}/chain.json"
        chain = json.loads(files[path])
        files[path] = json.dumps(chain | {place[2]: [link, "en"]})

    return plant


def _plants() -> list[Plant]:
    found = []
    for place in PLACES:
        path = "{}/{}/{}.json".format(*place)
        found += [
            Plant("broken", place, lambda files, path=path: files.update({path: '{"a": '})),  # type: ignore[misc]
            Plant("away", place, lambda files, path=path: files.pop(path, None)),  # type: ignore[misc]
            Plant("lost placeholder", place, _edit("{pass}", "it", place)),
            Plant(
                "lost text", place, _edit(f'"{place[1]}.b"', f'"{place[1]}.odd{place[2]}"', place)
            ),
            Plant("empty", place, _edit(f"Bunk {place[2]}", "", place)),
            Plant("broken text", place, _edit("{pass}", "{pass", place)),
        ]
    for client, tag in (("app", "de"), ("app", "fr"), ("web", "de")):
        found += [
            Plant("link that is not there", (client, "", tag), _chain("it", (client, "", tag))),
            Plant(
                "other link",
                (client, "", tag),
                _chain("fr" if tag == "de" else "de", (client, "", tag)),
            ),
        ]
    return found


def _related(one: Plant, other: Plant) -> bool:
    """Whether two plants are told together: in one file, of one locale without any file, of one client's chains."""
    if one.place[0] != other.place[0]:
        return False
    if one.name == other.name == "other link":
        return True
    if one.place[2] != other.place[2]:
        return False
    gone = {one.name, other.name} <= {"away", "broken"}
    return gone or one.place[1] == other.place[1]


def _told(repo: Repo, *plants: Plant) -> set[tuple[Any, ...]]:
    files = _monorepo()
    for each in plants:
        each.plant(files)
    for path in _monorepo():
        (repo.root / path).unlink(missing_ok=True)
    return {
        (each["rule"], each["client"], each["locale"], each["key"], each["place"]["file"])
        for each in repo.write(files).audit()["findings"]
        if each["rule"] != "message.inconsistent"
    }


@given(st.sampled_from(_plants()), st.sampled_from(_plants()))
@settings(max_examples=share(60), suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_planted_elsewhere_hides_nothing(repo: Repo, one: Plant, other: Plant) -> None:
    assume(not _related(one, other))
    alone, both = _told(repo, one), _told(repo, one, other)
    assert alone
    assert alone <= both


# ------------------------------------------------------------------------------------------------------------------- waivers


_names = st.sampled_from(["", "a", "ab", "b", "de", "a.b", "[a]"])
_wanted = st.none() | st.sampled_from(["a", "a*", "*b", "*", "?", "[ab]", "ab", "d?", "[a]", "a.*"])


@given(
    rows=st.lists(st.tuples(st.sampled_from(["r", "s"]), *[_wanted] * 5), max_size=6),
    asked=st.lists(st.tuples(st.sampled_from(["r", "s"]), *[st.none() | _names] * 5), max_size=4),
)
def test_waivers_accept_what_each_of_them_alone_would(
    rows: list[tuple[str | None, ...]], asked: list[tuple[str | None, ...]]
) -> None:
    """The short way to the waivers that may fit, against asking each of them."""
    names = ("client", "locale", "part", "key", "file")
    waivers = [
        WaiverEntry(
            rule=row[0] or "",
            until=date(2100, 1, 1),
            reason=str(number),
            **dict(zip(names, row[1:], strict=True)),
        )
        for number, row in enumerate(rows)
    ]
    waiving = Waiving(waivers, "2026-01-01")
    used: set[int] = set()
    for rule, client, locale, part, key, file in asked:
        facts = (client, locale, part, key, file)
        fitting = [
            waiver.reason
            for waiver, row in zip(waivers, rows, strict=True)
            if row[0] == rule
            and all(
                wanted is None or (fact is not None and fnmatchcase(fact, wanted))
                for fact, wanted in zip(facts, row[1:], strict=True)
            )
        ]
        subject = Subject((client,) if client is not None else (), locale, part, key)
        spot = Spot(File(file), line=1, column=1) if file is not None else None
        accepted = waiving.accepted(rule or "", Problem(subject, "", spot))
        assert accepted == (fitting[0] if fitting else None)
        used |= {int(reason) for reason in fitting}
    assert set(waiving.idle) == set(range(len(waivers))) - used
