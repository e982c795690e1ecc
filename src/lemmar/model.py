"""The few types that all layers share. Frozen values, tuples inside; nothing here computes.

A million messages are never a million objects: one locale of one file is a `Column` of parallel tuples, and what most
entries lack stands beside them by index.
"""

from __future__ import annotations

import re
from array import array
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cached_property
from types import MappingProxyType
from typing import Any, Literal, NamedTuple, NewType, Protocol

from msgspec import Struct, field

#: A path relative to the monorepo's root, ``/``-separated on every system.
File = NewType("File", str)
#: A language tag in the case of RFC 5646 section 2.1.1.
Tag = NewType("Tag", str)
#: BLAKE2 of a file's bytes, hexadecimal.
Digest = NewType("Digest", str)
#: Half-open, in bytes of the file.
Span = tuple[int, int]

#: From the least to the most severe.
SEVERITIES = ("note", "warning", "error")
Severity = Literal["note", "warning", "error"]
Origin = Literal["own", "inherited", "foreign", "key", "blank", "error"]
ORIGINS: tuple[Origin, ...] = ("own", "inherited", "foreign", "key", "blank", "error")

NOTHING: Mapping[Any, Any] = MappingProxyType({})


# ---------------------------------------------------------------------------------------------- files and what is in them


class Place(NamedTuple):
    """Where a reader of a finding is sent. *line* and *column* are 1-based; a column counts code points."""

    file: File
    line: int
    column: int


class Spot(NamedTuple):
    """What a rule yields: enough to find the place later, if the finding is reported at all.

    Either *line* and *column* are known, or *key* (in the column *label* of the file) is looked for when the finding is reported.
    With *gap* the key is the nearest one before a text that is not there; with *mark* the place is where the file says its language.
    """

    file: File
    digest: Digest | None = None
    label: str | None = None
    key: str | None = None
    gap: bool = False
    line: int = 0
    column: int = 0
    mark: str | None = None


class Site(NamedTuple):
    """Where an entry stands in its file: 1-based line and column of its key, and the byte spans of its pieces."""

    line: int
    column: int
    key: Span
    text: Span | None
    entry: Span


class Defect(NamedTuple):
    """Something that is wrong with a file itself, as its reader saw it.

    *kind* is one of the names in `DEFECTS`. *blinds* says of what the texts could not be read: the whole ``file``, its
    ``rest`` from there on, this ``key``, or ``none``. *label* and *key* say of which column and entry, where that is known.
    """

    kind: str
    line: int
    column: int
    detail: str
    blinds: Literal["file", "rest", "key", "none"] = "none"
    label: str | None = None
    key: str | None = None


#: Every kind of defect that a reader may give.
DEFECTS = ("unreadable", "damaged", "encoding", "duplicate-key", "key-clash", "ragged-row", "typed-key", "computed", "plural-header")


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


class Column(Struct, frozen=True):
    """One locale of one file, as read.

    *keys* are in file order; *texts* run parallel to them, None where the file holds no text yet. *rare* maps
    what few entries have to a map from index to value: ``comment``, ``context``, ``forms`` (plural category → text),
    ``limit`` (an int), ``state``, ``source``, ``source-several`` (the source's form for several), ``fixed`` (True). *label* is how a file
    of several locales names this
    one, *mark* the language that the file says it is in, *header* how it numbers its plural forms.
    """

    label: str | None
    keys: Keys
    texts: tuple[str | None, ...]
    rare: Mapping[str, Mapping[int, Any]] = field(default_factory=lambda: NOTHING)
    mark: str | None = None
    part: str | None = None
    header: str | None = None

    @property
    def key_set(self) -> frozenset[str]:
        """The keys as a set."""
        return self.keys.all


class Reading(Struct, frozen=True):
    """What a format's reader makes of a file: its columns in file order and every defect, in the order of their places."""

    columns: tuple[Column, ...]
    defects: tuple[Defect, ...] = ()
    encoding: str | None = None


class ReadOptions(Struct, frozen=True):
    """What a charter says of how a catalog's files are to be read; each None is "as the format has it".

    *columns* are the headers of a sheet that are no locales, *fields* the fields of a record (``list`` a pointer, ``key``, ``text``,
    ``locale``), *names* the names of messages that are numbered.
    """

    layout: str = "by-file"
    encoding: str | None = None
    columns: Mapping[str, Any] = field(default_factory=lambda: NOTHING)
    suffix: str = ""
    fields: Mapping[str, str] = field(default_factory=lambda: NOTHING)
    names: Mapping[str, str] = field(default_factory=lambda: NOTHING)


class Format(Struct, frozen=True):
    """A catalog format. Raise *version* when `read` changes its answers: it is part of a cache's key.

    *own_plurals* says that the format itself knows plural forms, so that its keys never spell them.
    """

    name: str
    suffixes: tuple[str, ...]
    version: int
    layouts: tuple[str, ...]
    read: Callable[[bytes, ReadOptions], Reading]
    locate: Callable[[bytes, ReadOptions, Sequence[tuple[str | None, str]]], dict[tuple[str | None, str], Site]]
    likely: Callable[[bytes], bool]
    own_plurals: bool = False


class Argument(NamedTuple):
    """A value that a program puts into a text: its name or position, and what kind of value it is shown as (empty: any)."""

    name: str
    type: str


class Choice(NamedTuple):
    """A place where a text has several branches: by which argument (empty: the catalog's own count), of which kind (``plural``,
    ``ordinal``, ``select``), and the branches' keys in their order.
    """

    argument: str
    kind: str
    keys: tuple[str, ...]


class Fault(NamedTuple):
    """Where a text breaks its syntax: an offset in code points, and what is wrong there."""

    offset: int
    words: str


class Shape(Struct, frozen=True):
    """What of a text must survive translation.

    *arguments* are sorted by name, each once. *choices* are the plurals and selects. *partial* are (argument, branch) where one branch of a
    choice lacks what another has. *markup* are the elements, sorted, as often as they are opened; *fault* is set where the text is broken,
    and nothing else is then known.
    """

    arguments: tuple[Argument, ...] = ()
    choices: tuple[Choice, ...] = ()
    partial: tuple[tuple[str, str], ...] = ()
    markup: tuple[str, ...] = ()
    fault: Fault | None = None


class Syntax(Struct, frozen=True):
    """A message syntax. A text without any of the characters *special*, which does not begin with *first*, has the empty shape and is
    never parsed.

    Where what one expression, *placeholder*, finds decides a text's shape, texts in which it finds the same are parsed once.
    """

    name: str
    version: int
    special: str
    shape: Callable[[str], Shape]
    placeholder: re.Pattern[str] | None = None
    first: str = ""


class Value(NamedTuple):
    """One locale of a claim as its file writes it, with its place (1-based), and the words that a picker shows beside it."""

    text: str
    line: int
    column: int
    label: str | None = None


class Selection(NamedTuple):
    """What a selector found: the values in file order, and what could not be read of the claim."""

    values: tuple[Value, ...]
    defects: tuple[Defect, ...] = ()


class Pick(NamedTuple):
    """What a selector is asked for: the charter's *text* for it, what to *take* of a list or map, the file's suffix.

    *pointer* goes on into what a symbol or call gives, *labels* says where the words beside each locale stand.
    *passed_over* are the headers of a sheet that are known to be no locales, None where nothing is known of them.
    """

    text: str
    take: str | None = None
    suffix: str = ""
    passed_over: tuple[str, ...] | None = None
    pointer: str | None = None
    labels: str | None = None


class Selector(NamedTuple):
    """A way to point at a claim. *check* gives the charter's key and a sentence where what it asks cannot be done."""

    name: str
    version: int
    select: Callable[[bytes, Pick], Selection]
    check: Callable[[Pick], tuple[str, str] | None]


class Tree(Protocol):
    """Where files come from."""

    def files(self, pattern: str, base: str) -> Sequence[Any]:
        """The matches of *pattern*, relative to the folder *base*, sorted by file."""

    def read(self, file: File) -> tuple[Digest, bytes]:
        """The file's digest and bytes. Raises `OSError` where it cannot be read."""

    def is_file(self, path: str) -> bool:
        """Whether *path* is a regular file inside the tree."""


# ------------------------------------------------------------------------------------------------------- what rules may see


class Catalog(Struct, frozen=True):
    """A column in its place in a client. *tag* is the client's own tag, *order* counts the charter's catalogs, *shapes* runs
    parallel to the column's texts.
    """

    file: File
    digest: Digest
    tag: Tag
    part: str | None
    order: int
    column: Column
    shapes: array[int]


class FileFault(Struct, frozen=True):
    """A defect in its place in a client, with the locales and parts whose texts it blinds."""

    file: File
    digest: Digest | None
    defect: Defect
    tag: Tag | None
    part: str | None


class Entry(Struct, frozen=True):
    """One locale of a claim, a file's name or a header: as written, and the tag that it counts as (None where it is none).

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
    """One place in a client where it states something about locales."""

    states: str
    file: File | None
    selector: str
    entries: tuple[Entry, ...]
    defects: tuple[Defect, ...]
    digest: Digest | None = None
    ordered: bool = False
    transitive: bool = False

    def spot(self) -> Spot:
        """Where the claim begins: its first value, else its file."""
        first = self.entries[0].value if self.entries else None
        assert self.file is not None
        return Spot(self.file, self.digest, line=first.line if first else 1, column=first.column if first else 1)


class Trait(NamedTuple):
    """A runtime trait and whence it is known: ``charter``, ``preset NAME`` or ``default``."""

    value: str
    whence: str


class Answer(NamedTuple):
    """How many messages of one (client, locale) are answered in which way, by `ORIGINS`."""

    own: int = 0
    inherited: int = 0
    foreign: int = 0
    key: int = 0
    blank: int = 0
    error: int = 0

    @property
    def messages(self) -> int:
        """All messages of the source locale."""
        return sum(self)

    @property
    def complete(self) -> int:
        """Those that a user reads in their own language."""
        return self.own + self.inherited


class Absence(NamedTuple):
    """A message that a locale does not have: what stands in for it, from which tag, and whether an own empty text is why."""

    part: str | None
    key: str
    origin: Origin
    source: Tag | None
    empty: bool


class Effect(Struct, frozen=True):
    """What users of one locale see in one client: the counts, the messages not in their language, the catalogs asked."""

    locale: Tag
    tag: Tag
    consulted: tuple[Tag, ...]
    answer: Answer
    absences: tuple[Absence, ...]
    by_part: Mapping[str | None, Answer]


class SourcePart(Struct, frozen=True):
    """The messages of one part: the source's keys that are to be translated, in file order, and the catalogs they come from."""

    keys: tuple[str, ...]
    key_set: frozenset[str]
    fixed: frozenset[str]
    catalogs: tuple[Catalog, ...]


class Runtime(NamedTuple):
    """How a client answers: its lookup and grain, its locales in its own order, its default.

    *chain* maps a tag in lower case to the links that a chain claim names for it, *rest* are those for all others (None: no such
    entry). With *first* an entry goes before the lookup's steps, with *transitive* links are followed from link to link.
    """

    lookup: str
    grain: str
    supported: tuple[Tag, ...]
    default: Tag
    chain: Mapping[str, tuple[Tag, ...]]
    rest: tuple[Tag, ...] | None = None
    transitive: bool = False
    first: bool = False


class Landing(NamedTuple):
    """Where a request lands: the locale, the step that gave it, the wish that it answers (None: the default)."""

    tag: Tag
    step: str
    wish: str | None


class Client(Struct, frozen=True):
    """A client, resolved: its traits, what it claims, what its catalogs hold and what its users therefore see.

    *names* are the locales of files and columns as written. *supported* are the client's own tags, *declared_by* says whence
    they are known: ``claims``, ``files`` or ``nothing``. *known_as* maps the client's own tags to the roster's, where they
    mean the same locale. *needs* are the roster's locales less those that the client may do without. *effects* is by the
    roster's tags, for those that the client supports. *runtime* is literal: its tags are as the client writes them, and *meant* maps
    those to the client's own tags where they differ.
    """

    name: str
    kind: str
    root: str
    traits: Mapping[str, Trait]
    claims: tuple[Claim, ...]
    catalogs: tuple[Catalog, ...]
    faults: tuple[FileFault, ...]
    patterns: tuple[Pattern, ...]
    names: tuple[tuple[File, Entry], ...]
    supported: tuple[Tag, ...]
    declared_by: str
    known_as: Mapping[Tag, Tag]
    needs: tuple[Tag, ...]
    default: Tag
    sources: Mapping[str | None, SourcePart]
    by_part: Mapping[str | None, Mapping[Tag, tuple[Catalog, ...]]]
    effects: Mapping[Tag, Effect]
    runtime: Runtime
    meant: Mapping[Tag, Tag]

    def landed(self, tag: Tag) -> Tag:
        """The roster's tag for a landing, which is as the client writes it."""
        return self.roster(self.meant.get(tag, tag))

    def roster(self, tag: Tag) -> Tag:
        """The roster's tag for the client's own *tag*; the same where the roster has none."""
        return self.known_as.get(tag, tag)


class Pattern(Struct, frozen=True):
    """One catalog of the charter in a client: its pattern, how it is read, how many files match, its key path in the charter.

    *seen* is the evidence for its syntax where the charter does not say, *read_as* the format of its files.
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
    without: Mapping[str, str]
    where: tuple[str | int, ...]
    requires_own: tuple[str, ...] = ()
    seen: Any = None
    read_as: str | None = None


class Uncharted(NamedTuple):
    """A folder with catalogs that no client of the charter has: its first file, and how many locales there are."""

    folder: str
    file: File
    locales: int


class World(Struct, frozen=True):
    """All that a rule may see.

    *lines* gives the line of each key path of the charter, *today* is a date (ISO 8601), *idle* are the indexes of the waivers
    that matched nothing; only late rules see them.
    """

    charter: Any
    charter_file: File
    lines: Mapping[tuple[str | int, ...], int]
    clients: tuple[Client, ...]
    shapes: Sequence[Shape]
    today: str
    idle: tuple[int, ...] = ()
    uncharted: tuple[Uncharted, ...] = ()


# ------------------------------------------------------------------------------------------------------------ rules' answers


class Subject(Struct, frozen=True):
    """What a finding is about; what does not apply is None."""

    clients: tuple[str, ...] = ()
    locale: str | None = None
    part: str | None = None
    key: str | None = None
    request: str | None = None


class Problem(Struct, frozen=True):
    """A rule's answer: what is wrong, what a user would see, what to do. *detail* tells apart problems of one subject.

    *cause* names what a problem comes of, where another rule's problem may be the same thing seen earlier: one of `CAUSES`.
    """

    subject: Subject
    text: str
    spot: Spot | None
    effect: str = ""
    remedy: str = ""
    related: tuple[Spot, ...] = ()
    detail: str = ""
    severity: Severity | None = None
    cause: str = ""


#: What a client's answer to a request may come of: its default, its claim of a chain, its lookup.
CAUSES = ("default", "chain", "lookup")


class Hides(NamedTuple):
    """A rule's findings hide those of *rules* (a name, or ``family.*``, or ``*``) whose subject is the same in *by*.

    In *by*: ``client``, ``locale``, ``part``, ``key``, ``branch`` (the key or one below it), ``file``, ``entry`` (the same
    place), ``cause``. A field that the hiding finding leaves open (None) covers all.
    """

    rules: tuple[str, ...]
    by: tuple[str, ...]


class Rule(Struct, frozen=True):
    """A rule: its name never changes meaning; its *manual* is shown to users wherever the rule is explained.

    A *late* rule runs when all others have, and is not waived.
    """

    name: str
    severity: Severity
    summary: str
    hides: tuple[Hides, ...]
    check: Callable[[World], Iterator[Problem]]
    late: bool = False

    @property
    def manual(self) -> str:
        """Why the rule matters, what it reports and what not, how to fix it: the check's own text."""
        import inspect

        return inspect.getdoc(self.check) or ""


class Finding(Struct, frozen=True):
    """What is reported. *waiver* is the reason of the waiver that accepts it, or None."""

    rule: str
    severity: Severity
    subject: Subject
    message: str
    effect: str
    remedy: str
    place: Place | None
    related: tuple[Place, ...]
    fingerprint: str
    waiver: str | None


class Verdict(Struct, frozen=True):
    """The answer to "may we ship?": the findings in their final order, and the clients they were computed from.

    *hold* says whether the gate holds the release, *complete* whether everything could be looked at.
    """

    hold: bool
    complete: bool
    findings: tuple[Finding, ...]
    world: World
