"""What the rules on single texts share: their problems, the source's texts, and how many faults of one kind are one of the catalog."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from lemmar.findings import Severity, Subject
from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import holder_of, key_spot
from lemmar.resolve.world import Client, SourcePart
from lemmar.rules import Hides, Problem
from lemmar.tags import Tag

TEXT = ("client", "locale", "part", "key")
#: A text that is wrong by itself is no second name for a thing.
HIDES_ODD = (Hides(("message.inconsistent",), TEXT),)
MANY = 10  # texts; so many with one fault, and more than half of the catalog, are one finding


def problem_of(
    client: Client,
    locale: Tag,
    part: str | None,
    key: str,
    catalog: Catalog,
    source: SourcePart | None,
    words: Sequence[str],
    detail: str = "",
) -> Problem:
    """A problem of one text; *words* are what is wrong, what users see and what to do."""
    text, effect, remedy = words
    related = (key_spot(holder_of(source, key), key),) if source is not None and key in source.key_set else ()
    return Problem(Subject((client.name,), locale, part, key), text, key_spot(catalog, key), effect, remedy, related, detail)


def source_texts(source: SourcePart) -> dict[str, str]:
    """The source's text of each key."""
    found: dict[str, str] = {}
    for catalog in source.catalogs:
        found.update((key, text) for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True) if text)
    return found


class SourceTexts:
    """The source's texts of each part, made once where several locales are held against them."""

    def __init__(self) -> None:
        self._known: dict[int, dict[str, str]] = {}

    def of(self, source: SourcePart) -> dict[str, str]:
        """The source's text of each key."""
        found = self._known.get(id(source))
        if found is None:
            found = self._known[id(source)] = source_texts(source)
        return found


def graded(problem: Problem, grade: Severity) -> Problem:
    """The same problem, of another severity."""
    return replace(problem, severity=grade)


def is_most(wrong: int, catalog: Catalog, of: int | None = None) -> bool:
    """Whether so many texts of a catalog have one fault that it is one of the catalog: most of its texts, or of those, *of*, that may have it."""
    return wrong >= MANY and wrong * 2 > (sum(1 for text in catalog.column.texts if text) if of is None else of)


def problem_of_all(client: Client, locale: Tag, part: str | None, catalog: Catalog, words: Sequence[str]) -> Problem:
    """A problem of a whole catalog."""
    text, effect, remedy = words
    return Problem(Subject((client.name,), locale, part), text, key_spot(catalog, None), effect, remedy, gather="texts")
