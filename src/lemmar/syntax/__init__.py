"""Message syntaxes: text to shape. One module a syntax; the registry lists this folder."""

from __future__ import annotations

import importlib
import pkgutil
from functools import cache, lru_cache

from lemmar.model import Syntax


@lru_cache(maxsize=1)
def names() -> tuple[str, ...]:
    """The names of all syntaxes, sorted; none is loaded."""
    return tuple(sorted(module.name.replace("_", "-") for module in pkgutil.iter_modules(__path__)))


@cache
def load(name: str) -> Syntax:
    """The syntax *name*. Raises `KeyError` where there is none."""
    if name not in names():
        raise KeyError(name)
    module = importlib.import_module(f"{__name__}.{name.replace('-', '_')}")
    found: Syntax = module.SYNTAX
    return found
