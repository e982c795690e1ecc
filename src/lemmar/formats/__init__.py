"""Catalog formats: bytes to columns, and where each entry stands. One module a format; the registry lists this folder."""

from __future__ import annotations

from functools import cache

from lemmar.formats._reading import DEFECTS, NOTHING, Column, Defect, Format, Keys, Reading, ReadOptions, Site, Span
from lemmar.registry import Folder

__all__ = [
    "DEFECTS",
    "NOTHING",
    "Column",
    "Defect",
    "Format",
    "Keys",
    "ReadOptions",
    "Reading",
    "Site",
    "Span",
    "by_suffix",
    "guess",
    "likely",
    "load",
    "names",
]


_FOLDER: Folder[Format] = Folder(__name__, __path__, "FORMAT")
names = _FOLDER.names
load = _FOLDER.load


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
