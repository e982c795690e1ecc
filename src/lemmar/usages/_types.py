"""What is looked for in a file, and what is found. Plain values."""

from __future__ import annotations

from msgspec import Struct


class Way(Struct, frozen=True, array_like=True):
    """One way to ask for a message, as a ``[[client.usage]]`` of the charter says it.

    *calls* are functions (``name[]`` where a bracket follows), *filters* what a value is piped through, *members* and *resources* patterns with
    ``{key}``, *attributes* and *elements* those of markup, *blocks* tags of templates around a text, *shows* functions that show theirs. *argument*
    is the key's, by its place (from 0) or name, in which *pointer* (RFC 6901) goes on; so are *context*, which stands before it, *part_argument*,
    and *values*, where ``*`` is all that follow the key. *separator* parts a part from a key, *scope* and *under* are calls around whose argument is
    the part, or stands before each key.
    """

    calls: tuple[str, ...] = ()
    filters: tuple[str, ...] = ()
    members: tuple[str, ...] = ()
    resources: tuple[str, ...] = ()
    attributes: tuple[str, ...] = ()
    elements: tuple[str, ...] = ()
    argument: int | str = 0
    context: int | str | None = None
    values: int | str | None = None
    part: str | None = None
    part_argument: int | str | None = None
    separator: str = ""
    scope: str = ""
    under: str = ""
    shows: tuple[str, ...] = ()
    blocks: tuple[str, ...] = ()
    pointer: str | None = None


Ways = tuple[Way, ...]


class Use(Struct, frozen=True, array_like=True):
    """A place that asks for a message: by which of the `Ways`, for which *key*; where that is put together at run time, *computed* is set and the
    key begins so and ends with *end*.

    *part* is the part that it names, if it does. *given* are the names of the values that it gives (None: nobody knows), *count* how many in order.
    *line* and *column* count from 1, in characters.
    """

    way: int
    key: str
    line: int
    column: int
    computed: bool = False
    end: str = ""
    part: str | None = None
    given: tuple[str, ...] | None = None
    count: int = -1


class ShownText(Struct, frozen=True, array_like=True):
    """A text that people see and no catalog has: where it stands, in what (``<p>``, ``title``, ``alert``)."""

    text: str
    line: int
    column: int
    where: str


class Found(Struct, frozen=True, array_like=True):
    """What one file holds: what it asks for, what else is written in it between quotes (each once), what it shows; *fault* says why it could not
    be read.
    """

    uses: tuple[Use, ...] = ()
    quoted: tuple[str, ...] = ()
    shown: tuple[ShownText, ...] = ()
    fault: str = ""
