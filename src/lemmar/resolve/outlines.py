"""What remains of clients when their texts are gone: all that the rules across clients, the verdict and places need. Plain values."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import NamedTuple

import msgspec
from msgspec import Struct

from lemmar.charter.lines import KeyLines
from lemmar.charter.types import Charter
from lemmar.findings import Outcome
from lemmar.tags import Tag
from lemmar.trees import Digest, File


class Uncharted(NamedTuple):
    """A folder with catalogs that no client of the charter has: its first file, and how many locales there are."""

    folder: str
    file: File
    locales: int


class Beyond(NamedTuple):
    """The folders with catalogs that no client has, and sentences on files that could not be looked at on this machine."""

    folders: tuple[Uncharted, ...] = ()
    unfinished: tuple[str, ...] = ()


class Matched(NamedTuple):
    """A pattern of the charter: how many files it matches, whether the build makes them, whose it is; words on where files of its shape lie *now*."""

    files: str
    clients: tuple[str, ...]
    matches: int
    built: bool
    now: str = ""


class Said(Struct, frozen=True, array_like=True):
    """How one catalog says what the source says: *texts* run parallel to the row of keys that is numbered *keys*; None where it
    has none.
    """

    locale: Tag
    part: str | None
    file: File
    digest: Digest
    label: str | None
    keys: int
    texts: tuple[str | None, ...]


#: A row of keys, with the index in `Told.words` of each one's text.
Row = tuple[tuple[str, ...], tuple[int, ...]]


class Told:
    """The source's texts that may have several words, and how the client's translations say them: *packed*, or fetched so by somebody who is asked."""

    def __init__(self, words: tuple[str, ...] = (), packed: bytes | Callable[[], bytes] = b"") -> None:
        self.words = words
        self._packed = packed

    @property
    def packed(self) -> bytes:
        """How the translations say the words, as bytes."""
        if not isinstance(self._packed, bytes):
            self._packed = self._packed()
        return self._packed

    def rows(self) -> tuple[tuple[Row, ...], tuple[Said, ...]]:
        """The rows of keys, and what each catalog says for one of them."""
        if not self.packed:
            return (), ()
        found: tuple[tuple[Row, ...], tuple[Said, ...]] = msgspec.msgpack.decode(self.packed, type=tuple[tuple[Row, ...], tuple[Said, ...]])
        return found


class Unasked(Struct, frozen=True, array_like=True):
    """The *keys* of a catalog of the charter (by its *number*), in one part, that no code of a client asks for, of how many in all; and the source's
    file that holds them.
    """

    number: int
    part: str | None
    keys: tuple[str, ...]
    total: int
    file: File
    digest: Digest
    label: str | None


class Outline(Struct, frozen=True):
    """A client without its texts. *held* are the files that its patterns match and its claims name, *landings* says where each request of the
    audience that all clients should answer alike lands. *unasked* is what its code does not ask for (None: nobody knows what it asks for), *lacking*
    are keys that its code asks for and its source has not.
    """

    root: str
    outcome: Outcome
    patterns: tuple[Matched, ...]
    held: frozenset[File]
    landings: Mapping[str, Tag]
    unasked: tuple[Unasked, ...] | None = None
    lacking: frozenset[str] = frozenset()

    @property
    def name(self) -> str:
        """The client's name."""
        return self.outcome.name

    def below(self, file: str) -> str:
        """*file* as seen from the client's root; as it is where it lies elsewhere."""
        return file.removeprefix(f"{self.root}/")


class Overview(Struct, frozen=True):
    """All that a rule across clients may see.

    *lines* gives the line of each key path of the charter, *told* is by client, *today* is a date (ISO 8601), *idle* are the indexes of the
    waivers that matched nothing; only the rules at the end see them.
    """

    charter: Charter
    charter_file: File
    lines: KeyLines
    clients: tuple[Outline, ...]
    told: Sequence[Told]
    uncharted: tuple[Uncharted, ...]
    today: str
    idle: tuple[int, ...] = ()
