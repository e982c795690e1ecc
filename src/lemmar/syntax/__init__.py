"""Message syntaxes: text to shape. One module a syntax; the registry lists this folder."""

from __future__ import annotations

import importlib
import pkgutil
from functools import cache, lru_cache

from lemmar.model import Syntax

_SHARED = {"collecting", "markup", "own", "seeing"}


@lru_cache(maxsize=1)
def names() -> tuple[str, ...]:
    """The names of all syntaxes, sorted; none is loaded."""
    found = (module.name for module in pkgutil.iter_modules(__path__))
    return tuple(sorted(name.replace("_", "-") for name in found if name not in _SHARED))


@cache
def load(name: str) -> Syntax:
    """The syntax *name*. Raises `KeyError` where there is none."""
    if name not in names():
        raise KeyError(name)
    module = importlib.import_module(f"{__name__}.{name.replace('-', '_')}")
    found: Syntax = module.SYNTAX
    return found
