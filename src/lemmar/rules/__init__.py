"""Rules: what is checked in one client, and across all clients. One module a family; a rule is a plain generator function.

The decorator fills the registry and refuses a second rule of the same name. A rule's docstring is its manual: why it matters,
what exactly is reported and what is not, how to fix it. Every output that explains a rule reads it from here.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import Literal, TypeVar

from lemmar.basics.registry import Folder
from lemmar.findings import Severity
from lemmar.resolve.outlines import Overview
from lemmar.resolve.world import World
from lemmar.rules._problem import Hides, Problem, Rule

__all__ = ["Hides", "Problem", "Rule", "all_rules", "rule"]

_RULES: dict[str, Rule] = {}
_Of = Literal["client", "all", "end"]
Check = Callable[[World], Iterator[Problem]] | Callable[[Overview], Iterator[Problem]]
_C = TypeVar("_C", bound=Check)


def rule(name: str, severity: Severity, summary: str, hides: tuple[Hides, ...] = (), of: _Of = "client") -> Callable[[_C], _C]:
    """Registers a rule. Raises `ValueError` for a name that is taken or a check without a manual."""

    def register(check: _C) -> _C:
        if name in _RULES or not check.__doc__:
            raise ValueError(f"the rule {name!r} is there already, or has no manual")
        _RULES[name] = Rule(name, severity, summary, hides, check, of)
        return check

    return register


@lru_cache(maxsize=1)
def all_rules() -> dict[str, Rule]:
    """Every rule by its name, sorted."""
    Folder[object](__name__, __path__, "__doc__").all()  # each module registers its rules
    return dict(sorted(_RULES.items()))
