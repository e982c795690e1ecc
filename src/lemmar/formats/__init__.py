"""Catalog formats: bytes to columns, and where each entry stands. One module a format; the registry lists this folder."""

from __future__ import annotations

import importlib
import pkgutil
from functools import cache, lru_cache

from lemmar.model import Format

_SHARED = {"building", "building_tree", "building_xml", "marks", "plural_headers", "plurals"}


@lru_cache(maxsize=1)
def names() -> tuple[str, ...]:
    """The names of all formats, sorted; no format is loaded."""
    return tuple(sorted(module.name.replace("_", "-") for module in pkgutil.iter_modules(__path__) if module.name not in _SHARED))


@cache
def load(name: str) -> Format:
    """The format *name*. Raises `KeyError` where there is none."""
    if name not in names():
        raise KeyError(name)
    module = importlib.import_module(f"{__name__}.{name.replace('-', '_')}")
    found: Format = module.FORMAT
    return found


def guess(file: str, data: bytes) -> Format | None:
    """The format that *file* is in, by its suffix and contents; None where none fits or several fit equally."""
    lower = file.lower()
    fitting = [found for found in map(load, names()) if lower.endswith(found.suffixes)]
    likely = [found for found in fitting if found.likely(data)]
    if len(likely) == 1 or len(fitting) == 1:
        return (likely or fitting)[0]
    return None


@cache
def by_suffix(suffix: str) -> str | None:
    """The name of the one format that takes files of *suffix*; None where none or several do."""
    fitting = [name for name in names() if suffix in load(name).suffixes]
    return fitting[0] if len(fitting) == 1 else None


def likely(data: bytes) -> tuple[str, ...]:
    """The names of the formats that the contents alone look like."""
    return tuple(name for name in names() if load(name).likely(data))
