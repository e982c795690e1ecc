"""One cause, one finding: what is declared to hide hides, at the same place, if it is no less severe."""

from __future__ import annotations

from typing import NamedTuple

import pytest

from lemmar.hiding import visible_problems
from lemmar.inventory.contents import Spot
from lemmar.rules import Hides, Problem, Rule, Severity, Subject
from lemmar.trees import File


class Raised(NamedTuple):
    rule: Rule
    severity: Severity
    problem: Problem


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
