"""Catalog formats: bytes to columns, and where each entry stands. One module a format; the registry lists this folder."""

from __future__ import annotations

from functools import cache

from lemmar.basics.registry import Folder
from lemmar.documents.structured import suffix_of
from lemmar.formats._editing import Edits, FormPlace, Model, NewEntry, Settled, Where, marked
from lemmar.formats._encoding import xml_escaped
from lemmar.formats._entries import Gathering
from lemmar.formats._format import Format
from lemmar.formats._plural_headers import form_names, plural_header, read_header
from lemmar.formats._reading import (
    NONE_RARE,
    NOTHING,
    Blinds,
    Column,
    Defect,
    DefectKind,
    Keys,
    Rare,
    Reading,
    ReadOptions,
    Site,
)

__all__ = [
    "NONE_RARE",
    "NOTHING",
    "Blinds",
    "Column",
    "Defect",
    "DefectKind",
    "Edits",
    "FormPlace",
    "Format",
    "Gathering",
    "Keys",
    "Model",
    "NewEntry",
    "Rare",
    "ReadOptions",
    "Reading",
    "Settled",
    "Site",
    "Where",
    "by_suffix",
    "every",
    "form_names",
    "guess",
    "judge",
    "likely",
    "load",
    "marked",
    "may_be_catalog",
    "names",
    "of_suffix",
    "plural_header",
    "read_header",
    "xml_escaped",
]

_FOLDER: Folder[Format] = Folder(__name__, __path__, "FORMAT")
names = _FOLDER.names
load = _FOLDER.load


def guess(file: str, data: bytes) -> Format | None:
    """The format that *file* is in, by its suffix and contents; None where none fits or several fit equally."""
    fitting = _fitting(file)
    likely = [found for found in fitting if found.hints.likely(data)]
    if len(likely) == 1 or len(fitting) == 1:
        return (likely or fitting)[0]
    return None


def judge(file: str, data: bytes) -> Format | str:
    """The format that *file* is in, its contents being what its suffix says; else a few words on why it is no catalog."""
    form = guess(file, data)
    if form is not None and (form.hints.likely(data) or (form.hints.contents_of and load(form.hints.contents_of).hints.likely(data))):
        return form
    several = _fitting(file)
    if not several:
        return "another kind of file"
    return f"its contents are not {' or '.join(found.name for found in several)}"


def _fitting(file: str) -> tuple[Format, ...]:
    stem, dot, suffix = file.rpartition("/")[2].rpartition(".")
    return of_suffix(f".{suffix.lower()}") if dot and stem else ()


def every() -> tuple[Format, ...]:
    """All formats, in the order of their names."""
    return _FOLDER.all()


@cache
def of_suffix(suffix: str) -> tuple[Format, ...]:
    """The formats that take files of *suffix*."""
    return tuple(found for found in every() if suffix in found.suffixes)


def may_be_catalog(file: str) -> bool:
    """Whether a file of that name may hold messages."""
    return suffix_of(file) in _suffixes()


@cache
def _suffixes() -> frozenset[str]:
    """The suffixes of files that may be catalogs."""
    return frozenset(suffix for form in every() for suffix in form.catalog_suffixes)


def by_suffix(suffix: str) -> Format | None:
    """The one format that takes files of *suffix*; None where none or several do."""
    fitting = of_suffix(suffix)
    return fitting[0] if len(fitting) == 1 else None


def likely(data: bytes) -> tuple[str, ...]:
    """The names of the formats that the contents alone look like."""
    return tuple(found.name for found in every() if found.hints.likely(data))
