"""The catalog family, likeness: files that hold the texts of another locale."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.inventory.contents import Catalog
from lemmar.resolve.pairing import same_language
from lemmar.resolve.spots import key_spot
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Hides, Problem, Subject, rule
from lemmar.rules._texts import SourceTexts, graded
from lemmar.rules._translations import texts
from lemmar.tags import LanguageTag, Tag
from lemmar.words import counted

#: Fewer texts of its own than this, and a catalog says nothing of what language it is in.
_FEWEST = 3


@rule(
    "catalog.twin",
    "warning",
    "Two locales have the same texts.",
    hides=(Hides(("catalog.mark-differs", "message.wrong-script", "message.same-as-source"), ("client", "locale", "part", "catalog")),),
)
def twin(world: World) -> Iterator[Problem]:
    """A file was copied as a start and never translated: users of one of the two locales read the other's language.

    Reported once for each file whose texts are all those of another locale of another language, at the later of the two; an error if the
    two are written in different scripts, as simplified and traditional Chinese are. Not reported: locales of one language and script, files
    with few texts of their own, and copies of the source (`message.same-as-source`). To fix: translate one of them, or remove it.
    """
    known = SourceTexts()
    seen: dict[tuple[object, ...], tuple[Tag, Catalog]] = {}
    for client, locale, part, catalog, source in texts(world):
        if not _has_texts(catalog, source, known):
            continue
        name = (client.name, part, catalog.order, catalog.column.keys, catalog.column.texts)
        other, first = seen.setdefault(name, (locale, catalog))
        if not same_language(other, locale):
            problem = _problem(client, part, locale, catalog, other, first)
            yield graded(problem, "error") if _script(other) != _script(locale) else problem


def _has_texts(catalog: Catalog, source: SourcePart, known: SourceTexts) -> bool:
    """Whether most texts of a catalog are its own, and some."""
    theirs = known.of(source)
    column = catalog.column
    full = [(key, text) for key, text in zip(column.keys, column.texts, strict=True) if text and any(map(str.isalpha, text))]
    own = sum(theirs.get(key) != text for key, text in full)
    return own >= _FEWEST and 2 * own > len(full)


def _problem(client: Client, part: str | None, locale: Tag, catalog: Catalog, other: Tag, first: Catalog) -> Problem:
    number = counted(sum(1 for text in catalog.column.texts if text), "text")
    return Problem(
        Subject((client.name,), locale, part),
        f"all {number} of {locale!r} are those of {other!r}",
        key_spot(catalog, None),
        f"users of {locale!r} or of {other!r} read another language than they chose",
        f"translate one of them, or remove it: {catalog.file} or {first.file}",
        (key_spot(first, None),),
        catalog=catalog.order,
    )


def _script(tag: Tag) -> str | None:
    return LanguageTag.parse(tag).maximized().script
