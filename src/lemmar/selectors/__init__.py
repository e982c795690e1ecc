"""Claim selectors: where in a file a client states something about locales. One module each; the registry lists this folder."""

from __future__ import annotations

import importlib
import pkgutil
from functools import cache, lru_cache

from lemmar.model import Selector

_SHARED = {"taking", "languages"}


@lru_cache(maxsize=1)
def names() -> tuple[str, ...]:
    """The names of all selectors, sorted; none is loaded."""
    return tuple(sorted(module.name for module in pkgutil.iter_modules(__path__) if module.name not in _SHARED))


@cache
def load(name: str) -> Selector:
    """The selector *name*. Raises `KeyError` where there is none."""
    if name not in names():
        raise KeyError(name)
    found: Selector = importlib.import_module(f"{__name__}.{name}").SELECTOR
    return found
