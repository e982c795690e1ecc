"""Which catalogs of a client lie over each other, so that their keys are looked up together; all others keep apart."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from lemmar.inventory import ClientFiles
from lemmar.inventory.contents import Catalog, Pattern
from lemmar.resolve.spots import union_of
from lemmar.tags import Tag

#: For each catalog's number in the charter and each part the number of the first catalog that it lies over.
Layers = Mapping[tuple[int, str | None], int]


def layers_of(files: ClientFiles, catalogs: Sequence[Catalog], source: Tag) -> dict[tuple[int, str | None], int]:
    """The layers of a client's *catalogs*, whose texts are written in *source*.

    A catalog lies over those that the charter says; and one that does not hold the source itself, and no locale of another that does, is the rest of that: a
    source's file beside the locales' folders.
    """
    over = _over([found.pattern for found in files.found])
    by_part: dict[str | None, dict[int, list[Catalog]]] = {}
    for catalog in catalogs:
        by_part.setdefault(catalog.part, {}).setdefault(catalog.order, []).append(catalog)
    layers: dict[tuple[int, str | None], int] = {}
    for part, held in by_part.items():
        first: dict[int, int] = {}
        for number in sorted(held):
            below = [first[other] for other in over.get(number, ()) if other in first]
            first[number] = min(below, default=number)
            for other, layer in first.items():
                first[other] = first[number] if layer in below else layer
        with_source = {first[number] for number in held if any(catalog.tag == source for catalog in held[number])}
        for number in sorted(held):
            if first[number] not in with_source:
                first[number] = _rest_of(number, held, with_source, first)
        layers.update(((number, part), layer) for number, layer in first.items())
    return layers


def _over(patterns: Sequence[Pattern]) -> dict[int, tuple[int, ...]]:
    """For each pattern's number those of the patterns that it lies over."""
    return {
        each.number: tuple(
            other.number
            for other in patterns
            if (other.name == each.over if isinstance(each.over, str) else each.over and other.number < each.number)
        )
        for each in patterns
    }


def _rest_of(number: int, held: Mapping[int, list[Catalog]], with_source: set[int], first: Mapping[int, int]) -> int:
    """The layer whose other locales a catalog without a source has: of several the one with most of its keys; its own where none is."""
    own = {catalog.tag for catalog in held[number]}
    keys = union_of(held[number])
    best = first[number], 0
    for layer in sorted(with_source):
        others = [catalog for other in held if first[other] == layer and other != number for catalog in held[other]]
        shared = len(keys & union_of(others))
        if shared > best[1] and not own & {catalog.tag for catalog in others}:
            best = layer, shared
    return best[0]
