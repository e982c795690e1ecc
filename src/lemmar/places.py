"""From spots to places: where what is reported stands, looked up once for each file, and only for what is reported."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from lemmar.findings import Place
from lemmar.inventory import plurals
from lemmar.inventory.contents import Catalog, Spot
from lemmar.resolve.world import World
from lemmar.text import Lines, decode
from lemmar.trees import File, Tree


def places_of(spots: Iterable[Spot], world: World, tree: Tree) -> dict[Spot, Place]:
    """The place of each spot; each file is read and searched once."""
    found: dict[Spot, Place] = {}
    wanted: dict[str, list[Spot]] = defaultdict(list)
    for spot in spots:
        if (spot.key is None and spot.mark is None) or spot.line:
            found[spot] = Place(spot.file, max(spot.line, 1), max(spot.column, 1))
        else:
            wanted[spot.file].append(spot)
    read_as = {catalog.file: catalog for client in world.clients for catalog in client.catalogs} if wanted else {}
    for file, those in wanted.items():
        found.update(_places_in(File(file), those, read_as[File(file)], tree))
    return found


def _places_in(file: File, spots: list[Spot], read_as: Catalog, tree: Tree) -> dict[Spot, Place]:
    start = dict.fromkeys(spots, Place(file, 1, 1))
    try:
        digest, data = tree.read(file)
    except OSError:
        return start
    if any(spot.digest not in (digest, None) for spot in spots):
        return start  # the file changed while it was audited: its old places would be wrong
    form = read_as.form
    sites = plurals.locate(form, data, read_as.options, [(spot.label, spot.key or "") for spot in spots])
    for spot in spots:
        place = form.locate_mark(data, spot.mark) if spot.mark is not None else None
        if place is not None:
            start[spot] = Place(file, *place)
            continue
        site = sites.get((spot.label, spot.key or ""))
        if site is not None:
            line, column = _end_of(data, site.entry[1]) if spot.gap and site.entry[1] else (site.line, site.column)
            start[spot] = Place(file, line, column)
    return start


def _end_of(data: bytes, offset: int) -> tuple[int, int]:
    """1-based line and column of the byte *offset*."""
    whole = decode(data)
    before = data[whole.mark : offset].decode(whole.encoding, "replace")
    return Lines(before).place(len(before))
