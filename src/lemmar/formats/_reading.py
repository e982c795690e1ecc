"""What a format's reader makes of a file: columns of entries, defects, places.

A million messages are never a million objects: one locale of one file is a `Column` of parallel tuples, and what most entries lack stands
beside them by index.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Any, Literal, NamedTuple

from msgspec import Struct, field

#: Half-open, in bytes of the file.
Span = tuple[int, int]
DefectKind = Literal[
    "unreadable",
    "damaged",
    "conflict",
    "encoding",
    "duplicate-key",
    "key-clash",
    "ragged-row",
    "typed-key",
    "computed",
    "plural-header",
    "not-built",
    "opaque",
]
Blinds = Literal["file", "rest", "key", "none"]

NOTHING: Mapping[Any, Any] = MappingProxyType({})


class Site(NamedTuple):
    """Where an entry stands in its file: 1-based line and column of its key, and the byte spans of its pieces."""

    line: int
    column: int
    key: Span
    text: Span | None
    entry: Span


class Defect(NamedTuple):
    """Something that is wrong with a file itself, as its reader saw it.

    *blinds* says of what the texts could not be read: the whole ``file``, its ``rest`` from there on, this ``key``, or ``none``. *label* and
    *key* say of which column and entry, where that is known.
    """

    kind: DefectKind
    line: int
    column: int
    detail: str
    blinds: Blinds = "none"
    label: str | None = None
    key: str | None = None


class Keys(tuple[str, ...]):
    """The keys of a column in file order, each once. Equal ones of one audit are one object, and so are their sets and indexes."""

    @cached_property
    def all(self) -> frozenset[str]:
        """The keys as a set."""
        return frozenset(self)

    @cached_property
    def places(self) -> dict[str, int]:
        """The index of each key."""
        return {key: index for index, key in enumerate(self)}


class Rare(Struct, frozen=True, omit_defaults=True):
    """What few entries of a column have, by their index.

    *forms* are a text's plural forms by category, or the items of a list by number; *limit* is in characters; *source* is the file's own copy
    of the source's text, *several* that of its form for several; *fixed* entries are not to be translated, and no program formats the
    *unformatted* ones: ``%`` is a sign like others in them. *refused* says what the format's own compiler refuses in a text: its offset there,
    and why.
    """

    comment: Mapping[int, str] = NOTHING
    context: Mapping[int, str] = NOTHING
    forms: Mapping[int, Mapping[str, str]] = NOTHING
    limit: Mapping[int, int] = NOTHING
    state: Mapping[int, str] = NOTHING
    source: Mapping[int, str] = NOTHING
    several: Mapping[int, str] = NOTHING
    fixed: Mapping[int, bool] = NOTHING
    unformatted: Mapping[int, bool] = NOTHING
    refused: Mapping[int, tuple[int, str]] = NOTHING


NONE_RARE = Rare()


class Column(Struct, frozen=True):
    """One locale of one file, as read.

    *keys* are in file order; *texts* run parallel to them, None where the file holds no text yet. *label* is how a file of several locales
    names this one, *at* where it does (1-based line and column); *mark* is the language that the file says it is in, *header* how it numbers
    its plural forms; *names_forms* says that its keys name plural forms by their categories.
    """

    label: str | None
    keys: Keys
    texts: tuple[str | None, ...]
    rare: Rare = NONE_RARE
    mark: str | None = None
    part: str | None = None
    header: str | None = None
    at: tuple[int, int] | None = None
    names_forms: bool = False

    @property
    def key_set(self) -> frozenset[str]:
        """The keys as a set."""
        return self.keys.all


class Reading(Struct, frozen=True):
    """What a format's reader makes of a file: its columns in file order and every defect, in the order of their places.

    *forwards* is the path of another file, as this one names it, where all that it does is to hand that one on.
    """

    columns: tuple[Column, ...]
    defects: tuple[Defect, ...] = ()
    forwards: str | None = None


class ReadOptions(Struct, frozen=True):
    """What a charter says of how a catalog's files are to be read; each None is "as the format has it".

    *columns* are the headers of a sheet that are no locales, *fields* the fields of a record (``list`` a pointer, ``key``, ``text``,
    ``locale``), *names* the names of messages that are numbered; *key* is the message that the whole file is, where it is one.
    """

    layout: str = "by-file"
    encoding: str | None = None
    columns: Mapping[str, Any] = field(default_factory=lambda: NOTHING)
    suffix: str = ""
    fields: Mapping[str, str] = field(default_factory=lambda: NOTHING)
    names: Mapping[str, str] = field(default_factory=lambda: NOTHING)
    key: str = ""
