"""A folder as a registry: each module in it is one entry, loaded when it is asked for. What begins with ``_`` is shared by the entries."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Sequence
from functools import cache
from typing import Generic, TypeVar

_T = TypeVar("_T")


class Folder(Generic[_T]):
    """The entries of a package: each module gives one, under the name *attribute*."""

    def __init__(self, package: str, path: Sequence[str], attribute: str) -> None:
        self._package = package
        self._path = tuple(path)
        self._attribute = attribute
        self._loaded: dict[str, _T] = {}

    def names(self) -> tuple[str, ...]:
        """The names of all entries, sorted, with hyphens; none is loaded."""
        return _names(self._path)

    def load(self, name: str) -> _T:
        """The entry *name*. Raises `KeyError` where there is none."""
        if name not in self._loaded:
            if name not in self.names():
                raise KeyError(name)
            self._loaded[name] = getattr(importlib.import_module(f"{self._package}.{name.replace('-', '_')}"), self._attribute)
        return self._loaded[name]

    def all(self) -> tuple[_T, ...]:
        """Every entry, in the order of the names."""
        return tuple(map(self.load, self.names()))


@cache
def _names(path: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(sorted(module.name.replace("_", "-") for module in pkgutil.iter_modules(path) if not module.name.startswith("_")))
