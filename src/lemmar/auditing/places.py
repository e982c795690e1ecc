"""From spots to places: where what is reported stands, looked up once for each file, and only for what is reported."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable

from msgspec import Struct

from lemmar import formats
from lemmar.basics.text import Lines, decode
from lemmar.findings import Place
from lemmar.formats import ReadOptions
from lemmar.inventory import plurals
from lemmar.inventory.contents import Spot
from lemmar.trees import File, Tree


class ReadAs(Struct, frozen=True, array_like=True):
    """How *files* were read: by the format of that name, with *options*."""

    form: str
    options: ReadOptions
    files: tuple[File, ...]


def is_looked_up(spot: Spot) -> bool:
    """Whether the place of *spot* is known only when its file is searched."""
    return not spot.line and not (spot.key is None and spot.mark is None)


def places_of(spots: Iterable[Spot], read_as: Iterable[ReadAs], tree: Tree) -> dict[Spot, Place]:
    """The place of each spot; each file is read and searched once, as *read_as* says of it."""
    found: dict[Spot, Place] = {}
    wanted: dict[File, list[Spot]] = defaultdict(list)
    for spot in spots:
        if is_looked_up(spot):
            wanted[spot.file].append(spot)
        else:
            found[spot] = Place(spot.file, max(spot.line, 1), max(spot.column, 1))
    how = {file: each for each in read_as for file in each.files} if wanted else {}
    for file, those in wanted.items():
        found.update(_places_in(file, those, how[file], tree))
    return found


def _places_in(file: File, spots: list[Spot], read_as: ReadAs, tree: Tree) -> dict[Spot, Place]:
    start = dict.fromkeys(spots, Place(file, 1, 1))
    try:
        digest, data = tree.read(file)
    except OSError:
        return start
    if any(spot.digest not in (digest, None) for spot in spots):
        return start  # the file changed while it was audited: its old places would be wrong
    form, offsets = formats.load(read_as.form), _Offsets(data)
    sites = plurals.locate(form, data, read_as.options, [(spot.label, spot.key or "") for spot in spots])
    for spot in spots:
        place = form.locate_mark(data, spot.mark) if spot.mark is not None else None
        if place is not None:
            start[spot] = Place(file, *place)
            continue
        site = sites.get((spot.label, spot.key or ""))
        if site is not None:
            line, column = offsets.place(site.entry[1]) if spot.gap and site.entry[1] else (site.line, site.column)
            start[spot] = Place(file, line, column)
    return start


class _Offsets:
    """Turns byte offsets in a file into lines and columns; the lines are looked for once."""

    def __init__(self, data: bytes) -> None:
        self._data = data
        self._whole = decode(data)
        self._lines: Lines | None = None

    def place(self, offset: int) -> tuple[int, int]:
        """1-based line and column of the byte *offset*."""
        if self._lines is None:
            self._lines = Lines(self._whole.text)
        before = self._data[self._whole.mark : offset]
        ascii_only = self._whole.text.isascii()
        return self._lines.place(len(before) if ascii_only else len(before.decode(self._whole.encoding, "replace")))
