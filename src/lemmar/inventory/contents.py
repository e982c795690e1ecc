"""What an inventory holds: catalogs and claims in their place in a client. Plain values; nothing here reads a file."""

from __future__ import annotations

import posixpath
from array import array
from collections.abc import Mapping
from fnmatch import fnmatchcase
from typing import NamedTuple

from msgspec import Struct

from lemmar.basics.phrasing import counted
from lemmar.formats import NOTHING, Column, Defect, Format, ReadOptions
from lemmar.selectors import Value
from lemmar.syntax import SeenSyntax
from lemmar.tags import Tag
from lemmar.trees import Digest, File


class Spot(NamedTuple):
    """What a rule yields: enough to find the place later, if the finding is reported at all.

    Either *line* and *column* are known, or *key* (in the column *label* of the file) is looked for when the finding is reported.
    With *gap* the key is the nearest one before a text that is not there; with *mark* the place is where the file says its language.
    *in_charter* marks the charter, whatever its name is and wherever it comes from.
    """

    file: File
    digest: Digest | None = None
    label: str | None = None
    key: str | None = None
    gap: bool = False
    line: int = 0
    column: int = 0
    mark: str | None = None
    in_charter: bool = False


class Catalog(Struct, frozen=True):
    """A column in its place in a client. *tag* is the client's own tag, *order* counts the charter's catalogs, *shapes* runs
    parallel to the column's texts. *form* and *options* are how its file was read.
    """

    file: File
    digest: Digest
    tag: Tag
    part: str | None
    order: int
    column: Column
    shapes: array[int]
    form: Format
    options: ReadOptions


class FileFault(Struct, frozen=True):
    """A defect in its place in a client, with the locales and parts whose texts it blinds."""

    file: File
    digest: Digest | None
    defect: Defect
    tag: Tag | None
    part: str | None


class Named(Struct, frozen=True):
    """One locale as a claim, a file's name or a header names it: as written, and the tag that it counts as (None where it is none).

    *fault* is the rule of the family ``tag`` that it breaks by itself, *advice* what to say of it, *wanted* how its place's
    spelling has it. A lookup compares *literal*: the tag as it is written, once its spelling is read.
    """

    value: Value
    spelling: str
    tag: Tag | None
    wanted: str | None = None
    fault: str | None = None
    advice: str = ""
    literal: Tag | None = None


class Claim(Struct, frozen=True):
    """One place in a client where it states something about locales. *unfinished* says why it is not known what: a bound of time. Where its
    file is *gone*, what it names stands in *moved*, if in one file of the client.
    """

    states: str
    file: File | None
    selector: str
    entries: tuple[Named, ...]
    defects: tuple[Defect, ...] = ()
    digest: Digest | None = None
    ordered: bool = False
    transitive: bool = False
    unfinished: str = ""
    gone: bool = False
    moved: File | None = None

    def spot(self) -> Spot:
        """Where the claim begins: its first value, else its file."""
        first = self.entries[0].value if self.entries else None
        assert self.file is not None
        return Spot(self.file, self.digest, line=first.line if first else 1, column=first.column if first else 1)


class Pattern(Struct, frozen=True):
    """One catalog of the charter in a client: its pattern, how it is read, how many files match, its key path in the charter.

    *known* are the files that it matches, also those that it excepts. *seen* is the evidence for its syntax where the charter does not say,
    *read_as* the format of its files. *built* ones are made by the build, so that they may not be there; the keys may be the source's texts. It lies *over*
    the catalog of that name, over all before it if true: the same keys are then looked up in all of them. *moved* are files of its
    shape elsewhere, of locales that it lacks.
    """

    number: int
    files: str
    base: str
    format: str | None
    layout: str
    syntax: str
    spelling: str
    clients: tuple[str, ...]
    matches: int
    without: Mapping[Tag, str]
    where: tuple[str | int, ...]
    requires_own: tuple[str, ...] = ()
    built: bool = False
    seen: SeenSyntax | None = None
    read_as: Format | None = None
    known: frozenset[File] = frozenset()
    keys_are_texts: bool = False
    name: str | None = None
    over: str | bool = False
    moved: Mapping[Tag, File] = NOTHING

    @property
    def now(self) -> str:
        """Words on where files of its shape lie that it does not find; none where there are none."""
        if not self.moved:
            return ""
        folder = posixpath.commonpath([posixpath.dirname(file) for file in self.moved.values()]) or "the monorepo's root"
        return f"; {counted(len(self.moved), 'file')} of its shape {'is' if len(self.moved) == 1 else 'are'} in {folder} now"

    def requires(self, key: str) -> bool:
        """Whether *key* is one that each locale must hold itself."""
        return any(fnmatchcase(key, each) for each in self.requires_own)
