"""The fonts of a client, read: those of each table of the charter in their order, and the widths that its boxes are measured by."""

from __future__ import annotations

import posixpath

from msgspec import Struct

from lemmar import fonts
from lemmar.charter.types import BoxEntry, FontEntry
from lemmar.fonts import Font
from lemmar.fonts.reading import can_read
from lemmar.inventory.readings import Readings
from lemmar.trees import Digest, File, Tree


class FontFile(Struct, frozen=True):
    """A font's file, and what it can draw."""

    file: File
    digest: Digest | None
    font: Font


class Fonts(Struct, frozen=True):
    """What one ``[[client.font]]`` of the charter names: the fonts in the order in which they are asked, those that they were cut out of, the key path
    in the charter.
    """

    entry: FontEntry
    where: tuple[str | int, ...]
    asked: tuple[FontFile, ...]
    wholes: tuple[FontFile, ...] = ()
    unmatched: tuple[str, ...] = ()


class Box(Struct, frozen=True):
    """A ``[[client.box]]`` of the charter, with the bytes of its font; *fault* says why there are none."""

    entry: BoxEntry
    where: tuple[str | int, ...]
    file: File
    data: bytes
    fault: str = ""


def read_fonts(tree: Tree, entry: FontEntry, base: str, where: tuple[str | int, ...], readings: Readings) -> Fonts:
    """The fonts that *entry* names, relative to the folder *base*."""
    asked: list[FontFile] = []
    unmatched = []
    for pattern in (*entry.files, *entry.fallback):
        found = [match.file for match in tree.files(pattern, base) if fonts.is_font(match.file)]
        unmatched += [] if found else [pattern]
        asked += [_font(tree, file, readings) for file in sorted(found)]
    wholes = [
        _font(tree, match.file, readings) for pattern in entry.cut_from for match in tree.files(pattern, base) if fonts.is_font(match.file)
    ]
    return Fonts(entry, where, tuple(asked), tuple(wholes), tuple(unmatched))


def _font(tree: Tree, file: File, readings: Readings) -> FontFile:
    digest = tree.digest(file)
    if digest.startswith("!"):
        return FontFile(file, None, Font(fault=f"the file cannot be read: {digest[1:]}"))
    return FontFile(file, digest, readings.kept("font", (digest, file.rpartition(".")[2]), Font, lambda: fonts.read(tree.data(file), file)))


def read_box(tree: Tree, entry: BoxEntry, base: str, where: tuple[str | int, ...]) -> Box:
    """The box with its font's bytes."""
    file = File(posixpath.normpath(posixpath.join(base, entry.font)))
    try:
        return Box(entry, where, file, tree.data(file))
    except OSError as error:
        return Box(entry, where, file, b"", f"the font cannot be read: {error.strerror or error}")


def unread(entries: tuple[FontEntry, ...], boxes: tuple[BoxEntry, ...]) -> tuple[str, ...]:
    """Why fonts cannot be looked at on this machine, if so: a sentence."""
    names = [name for entry in entries for name in (*entry.files, *entry.fallback, *entry.cut_from)] + [box.font for box in boxes]
    if all(can_read(name) for name in names):
        return ()
    return ("fonts: what reads them is not installed; install lemmar with its extra 'fonts'",)
