"""What a selector is asked for, and what it gives."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import TYPE_CHECKING, Any, NamedTuple

from lemmar.formats import NOTHING, Defect
from lemmar.trees import File, Match

if TYPE_CHECKING:
    from lemmar.basics.text import Decoded
    from lemmar.documents.rows import Nest, Span


class Value(NamedTuple):
    """One locale of a claim as its file writes it, with its place (1-based), and the words that a picker shows beside it; *file* where each
    has its own.
    """

    text: str
    line: int
    column: int
    label: str | None = None
    file: File | None = None


class Selection(NamedTuple):
    """What a selector found: the values in file order, and what could not be read of the claim."""

    values: tuple[Value, ...]
    defects: tuple[Defect, ...] = ()


class Pick(NamedTuple):
    """What a selector is asked for: the charter's *text* for it, what to *take* of a list or map, the file's suffix.

    *pointer* goes on into what a symbol or call gives, *labels* says where the words beside each locale stand.
    *columns* are the headers of a sheet that a charter knows to be something else than locales.
    """

    text: str
    take: str | None = None
    suffix: str = ""
    columns: Mapping[str, Any] = NOTHING
    pointer: str | None = None
    labels: str | None = None


class Listed(NamedTuple):
    """A list of texts that a selector could point at in a file: the settings that a charter would have for it, and the values that it gives.

    *states* is what the list states, where the file's own form says so.
    """

    settings: Mapping[str, Any]
    values: tuple[Value, ...]
    states: str


class Held(NamedTuple):
    """A locale of a claim as its file writes it, and the code points that it spans there; what is written around it (quotes) is among them. *key* is
    the locale that a link of a chain is named for.
    """

    text: str
    span: Span
    key: str | None = None


class Laid(NamedTuple):
    """A claim's file as it can be edited. *sign* is what separates locales within one text, if something does."""

    decoded: Decoded
    nest: Nest
    held: tuple[Held, ...]

    @property
    def text(self) -> str:
        """The file's text."""
        return self.decoded.text


def _nothing_wrong(_pick: Pick) -> tuple[str, str] | None:
    return None


def _no_file(_data: bytes, _pick: Pick) -> Selection:
    return Selection((), (Defect("unreadable", 1, 1, "this way to point at a claim reads no file"),))


class Selector(NamedTuple):
    """A way to point at a claim. Its name is its key in the charter, which *about* describes.

    *select* reads a file; *of_files* takes the files that a pattern matches instead. *check* gives the charter's key and a sentence where what
    is asked cannot be done. A *flag* is only true or false in the charter; where it *may_be_empty*, so is its text. One that gives values
    *whole* gives lists and maps, of which a claim may take some, or a chain all; where it *goes_on*, a pointer may go on into them. *lists* is
    what it could point at in files of the suffixes *lists_in*, for the survey. *lay* lays a file out for an edit: it raises `EditError` where none can be
    made; None where a claim has no place of its own that could be edited.
    """

    name: str
    about: str
    select: Callable[[bytes, Pick], Selection] = _no_file
    of_files: Callable[[Iterable[Match]], tuple[Selection, tuple[File, ...]]] | None = None
    check: Callable[[Pick], tuple[str, str] | None] = _nothing_wrong
    flag: bool = False
    may_be_empty: bool = False
    whole: bool = False
    goes_on: bool = False
    lists: Callable[[bytes, str], Iterator[Listed]] | None = None
    lists_in: tuple[str, ...] = ()
    lay: Callable[[bytes, Pick], Laid] | None = None
