"""What a selector is asked for, and what it gives."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any, NamedTuple

from lemmar.formats import NOTHING, Defect


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
    *columns* are the headers of a sheet that a charter knows to be something else than locales.
    """

    text: str
    take: str | None = None
    suffix: str = ""
    columns: Mapping[str, Any] = NOTHING
    pointer: str | None = None
    labels: str | None = None


class Selector(NamedTuple):
    """A way to point at a claim. *check* gives the charter's key and a sentence where what it asks cannot be done."""

    name: str
    version: int
    select: Callable[[bytes, Pick], Selection]
    check: Callable[[Pick], tuple[str, str] | None]
