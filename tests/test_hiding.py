"""One cause, one finding: what is declared to hide hides, at the same place, if it is no less severe."""

from __future__ import annotations

from typing import NamedTuple

import pytest

from lemmar.hiding import visible_problems
from lemmar.inventory.contents import Spot
from lemmar.rules import Hides, Problem, Rule, Severity, Subject
from lemmar.trees import File


class Told(NamedTuple):
    rule: Rule
    severity: Severity
    problem: Problem


def rule(name: str, *hides: Hides) -> Rule:
    return Rule(name, "error", "", hides, lambda _world: iter(()))


def told(rule: Rule, subject: Subject, severity: Severity = "error", line: int = 1) -> Told:
    return Told(rule, severity, Problem(subject, "", Spot(File("f"), line=line, column=1)))


ABOVE = rule("a.above", Hides(("b.*", "c.one"), ("client", "locale")))
BRANCH = rule("a.branch", Hides(("b.one",), ("client", "branch")))
ENTRY = rule("a.entry", Hides(("*",), ("entry",)))
ONE = rule("b.one")
APP = Subject(("app",), "de", None, "k")

CASES = [
    ("a family", [told(ABOVE, APP), told(ONE, APP)], [0]),
    ("another locale", [told(ABOVE, Subject(("app",), "fr")), told(ONE, APP)], [0, 1]),
    (
        "a locale that is left open covers all",
        [told(ABOVE, Subject(("app",))), told(ONE, APP)],
        [0],
    ),
    ("another client", [told(ABOVE, Subject(("web",), "de")), told(ONE, APP)], [0, 1]),
    (
        "one of two clients",
        [told(ABOVE, Subject(("web",), "de")), told(ONE, Subject(("app", "web"), "de"))],
        [0, 1],
    ),
    (
        "both of two clients",
        [told(ABOVE, Subject(("web", "app"), "de")), told(ONE, Subject(("app", "web"), "de"))],
        [0],
    ),
    ("less severe", [told(ABOVE, APP, "note"), told(ONE, APP, "warning")], [0, 1]),
    ("as severe", [told(ABOVE, APP, "warning"), told(ONE, APP, "warning")], [0]),
    ("another rule of another family", [told(ABOVE, APP), told(rule("c.two"), APP)], [0, 1]),
    (
        "a branch and what is below it",
        [
            told(BRANCH, Subject(("app",), None, None, "m")),
            told(ONE, Subject(("app",), "de", None, "m.x.y")),
        ],
        [0],
    ),
    (
        "a branch and its namesake",
        [
            told(BRANCH, Subject(("app",), None, None, "m")),
            told(ONE, Subject(("app",), "de", None, "mx.y")),
        ],
        [0, 1],
    ),
    ("the same entry", [told(ENTRY, APP, line=3), told(ONE, Subject(("web",)), line=3)], [0]),
    ("another entry", [told(ENTRY, APP, line=3), told(ONE, APP, line=4)], [0, 1]),
    ("not its own like", [told(ENTRY, APP), told(ENTRY, APP)], [0, 1]),
    (
        "what is hidden hides",
        [
            told(ABOVE, APP),
            told(rule("b.two", Hides(("d.*",), ("client",))), APP),
            told(rule("d.x"), APP),
        ],
        [0],
    ),
]


@pytest.mark.parametrize(
    ("found", "left"), [pytest.param(found, left, id=name) for name, found, left in CASES]
)
def test_hiding(found: list[Told], left: list[int]) -> None:
    assert visible_problems(found) == [found[index] for index in left]
    assert len(visible_problems(found[::-1])) == len(left)
