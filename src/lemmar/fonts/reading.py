"""Reads fonts: outlines (TrueType, OpenType, their collections and packed forms) by a library, bitmaps in two text forms by their lines."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Iterable
from functools import cached_property
from importlib.util import find_spec
from io import BytesIO
from itertools import pairwise
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from lemmar.basics.expressions import expression

if TYPE_CHECKING:
    from collections.abc import Mapping

#: Larger files are not read.
MAX_FONT = 64 * 1024 * 1024
_OUTLINES = (".ttf", ".otf", ".ttc", ".otc", ".woff", ".woff2")
_BITMAPS = (".bdf", ".fnt")
_BDF = expression(rb"^ENCODING[ \t]+(\d{1,7})[ \t]*\r?$", 8)
_BDF_WIDTH = expression(rb"^ENCODING[ \t]+(\d{1,7})[ \t]*\r?\n(?:[A-Z]+[^\n]*\n){0,6}?DWIDTH[ \t]+(-?\d{1,6})", 8)
_FNT = expression(rb"^char[ \t]+id=(\d{1,7})\b(?:[^\n]{0,200}?\bxadvance=(-?\d{1,6}))?", 8)
_FNT_KERNING = expression(rb"^kerning[ \t]+first=(\d{1,7})[ \t]+second=(\d{1,7})[ \t]+amount=(-?\d{1,6})", 8)
_FNT_SIZE = expression(rb"^info\b[^\n]{0,400}?\bsize=-?(\d{1,6})", 8)
_BDF_SIZE = expression(rb"^(?:PIXEL_SIZE|SIZE)[ \t]+(\d{1,6})", 8)


class Font(Struct, frozen=True, array_like=True):
    """What a font can draw: the code points that it has signs for, as pairs of first and last, in order; the script tags for which it has tables that
    shape; the marks that it can put onto letters; *fault* says why it could not be read.
    """

    codes: tuple[tuple[int, int], ...] = ()
    scripts: frozenset[str] = frozenset()
    marks: frozenset[int] = frozenset()
    fault: str = ""

    def has(self, character: str) -> bool:
        """Whether the font has a sign for a character."""
        code = ord(character)
        index = bisect_right(self.codes, (code, 0x110000)) - 1
        return index >= 0 and self.codes[index][0] <= code <= self.codes[index][1]


def is_font(name: str) -> bool:
    """Whether files of that *name* are fonts that can be read."""
    return name.lower().endswith((*_OUTLINES, *_BITMAPS))


def can_read(name: str) -> bool:
    """Whether what reads fonts of that *name* is installed."""
    return name.lower().endswith(_BITMAPS) or find_spec("fontTools") is not None


def read(data: bytes, name: str) -> Font:
    """What the font file *name* can draw; one that cannot be read says why."""
    if len(data) > MAX_FONT:
        return Font(fault=f"the file is larger than {MAX_FONT // 2**20} MiB")
    if name.lower().endswith(_BITMAPS):
        pattern = _BDF if name.lower().endswith(".bdf") else _FNT
        found = [int(match[1]) for match in pattern.finditer(data)]
        return Font(_joined(found)) if found else Font(fault="it lists no characters in the text form of such fonts")
    try:
        with _opened(data) as font:
            if "cmap" in font and _claimed(font) > _MOST_CLAIMED:
                return Font(fault="its table of characters claims more of them than Unicode has")
            cmap: Mapping[int, str] = font.getBestCmap() or {}
            return Font(_joined(cmap), _scripts(font), _marks(font, cmap)) if cmap else Font(fault="it has no table of Unicode characters")
    except Exception as error:  # whatever the library raises for a broken file
        return Font(fault=f"it cannot be read: {str(error) or type(error).__name__}")


def _opened(data: bytes) -> Any:
    from fontTools.ttLib import TTFont  # type: ignore[import-untyped]

    return TTFont(BytesIO(data), lazy=True, fontNumber=0)


#: Tables of characters that claim more in all are not read: the library would write each of them out.
_MOST_CLAIMED = 4 * 0x110000


def _claimed(font: Any) -> int:
    """How many characters the tables of a font claim that do so by groups (OpenType, `cmap`, formats 8, 12 and 13)."""
    data = font.reader["cmap"]
    total = 0
    for index in range(int.from_bytes(data[2:4], "big")):
        start = int.from_bytes(data[8 + 8 * index : 12 + 8 * index], "big")
        if int.from_bytes(data[start : start + 2], "big") not in (8, 12, 13):
            continue
        groups = start + (16 + 8192 if data[start : start + 2] == b"\0\x08" else 16)
        number = min(int.from_bytes(data[groups - 4 : groups], "big"), len(data) // 12)
        for at in range(groups, groups + 12 * number, 12):
            total += max(int.from_bytes(data[at + 4 : at + 8], "big") - int.from_bytes(data[at : at + 4], "big") + 1, 0)
            if total > _MOST_CLAIMED:
                return total
    return total


def _joined(codes: Iterable[int]) -> tuple[tuple[int, int], ...]:
    found: list[tuple[int, int]] = []
    for code in sorted({code for code in codes if 0 <= code < 0x110000}):
        if found and code == found[-1][1] + 1:
            found[-1] = (found[-1][0], code)
        else:
            found.append((code, code))
    return tuple(found)


def _scripts(font: Any) -> frozenset[str]:
    """The tags of scripts for which the table of substitutions has features."""
    if "GSUB" not in font or font["GSUB"].table.ScriptList is None:
        return frozenset()
    return frozenset(
        str(record.ScriptTag)
        for record in font["GSUB"].table.ScriptList.ScriptRecord
        if (record.Script.DefaultLangSys is not None and record.Script.DefaultLangSys.FeatureIndex)
        or any(each.LangSys.FeatureIndex for each in record.Script.LangSysRecord)
    )


def _marks(font: Any, cmap: Mapping[int, str]) -> frozenset[int]:
    """The marks that have an anchor, by which they are put onto letters or onto each other."""
    if "GPOS" not in font or font["GPOS"].table.LookupList is None:
        return frozenset()
    named: set[str] = set()
    for lookup in font["GPOS"].table.LookupList.Lookup:
        for table in lookup.SubTable:
            inner = table.ExtSubTable if table.LookupType == 9 else table
            if inner.LookupType in (4, 5):
                named.update(inner.MarkCoverage.glyphs)
            elif inner.LookupType == 6:
                named.update(inner.Mark1Coverage.glyphs)
    return frozenset(code for code, glyph in cmap.items() if glyph in named)


# ------------------------------------------------------------------------------------------------------------------ widths


class Metrics:
    """How wide texts get in a font."""

    def __init__(self, advances: Mapping[int, float], kerning: Mapping[tuple[int, int], float], units: float) -> None:
        self._advances = advances
        self._kerning = kerning
        self._units = units

    def width(self, text: str, size: float) -> float:
        """The width of one line, in the unit of the font's *size* (such as pixels). What it has no sign for is as wide as the widest of some usual ones."""
        codes = list(map(ord, text))
        total = sum(self._advances.get(code, self._otherwise) for code in codes)
        if self._kerning:
            total += sum(self._kerning.get(pair, 0) for pair in pairwise(codes))
        return total * size / self._units

    def knows(self, text: str) -> bool:
        """Whether the font has a sign for each letter of *text*."""
        return all(ord(sign) in self._advances for sign in text if sign.isalpha())

    @cached_property
    def _otherwise(self) -> float:
        return max((self._advances[code] for code in map(ord, "nmo0") if code in self._advances), default=0.0)


def metrics_of(data: bytes, name: str) -> Metrics | None:
    """How wide texts get in the font file *name*; None where it cannot be read."""
    if name.lower().endswith(_BITMAPS):
        return _of_bitmap(data, name.lower().endswith(".bdf"))
    try:
        with _opened(data) as font:
            if "cmap" in font and _claimed(font) > _MOST_CLAIMED:
                return None
            cmap: Mapping[int, str] = font.getBestCmap() or {}
            widths = font["hmtx"].metrics
            advances = {code: float(widths[glyph][0]) for code, glyph in cmap.items() if glyph in widths}
            return Metrics(advances, _kerning(font, cmap), float(font["head"].unitsPerEm)) if advances else None
    except Exception:  # whatever the library raises for a broken file
        return None


def _of_bitmap(data: bytes, is_bdf: bool) -> Metrics | None:
    pattern, size = (_BDF_WIDTH, _BDF_SIZE) if is_bdf else (_FNT, _FNT_SIZE)
    advances = {int(match[1]): float(match[2]) for match in pattern.finditer(data) if match[2] is not None}
    found = size.search(data)
    kerning = {} if is_bdf else {(int(match[1]), int(match[2])): float(match[3]) for match in _FNT_KERNING.finditer(data)}
    return Metrics(advances, kerning, float(found[1])) if advances and found is not None and int(found[1]) else None


#: Of a font with more pairs of letters than these the others do not count; so many are looked at.
_MOST_PAIRS, _MOST_LOOKED = 400_000, 4_000_000


def _kerning(font: Any, cmap: Mapping[int, str]) -> dict[tuple[int, int], float]:
    """How much nearer two letters stand to each other, from either table."""
    codes: dict[str, list[int]] = {}
    for code, glyph in cmap.items():
        if code < 0x3000:  # beyond are signs of equal width
            codes.setdefault(glyph, []).append(code)
    found: dict[tuple[int, int], float] = {}

    def add(first: str, second: str, value: float) -> None:
        if value and len(found) < _MOST_PAIRS:
            found.update({(one, two): value for one in codes.get(first, ()) for two in codes.get(second, ()) if (one, two) not in found})

    for table in font["kern"].kernTables if "kern" in font else ():
        for (first, second), value in getattr(table, "kernTable", {}).items():
            add(first, second, float(value))
    if "GPOS" in font and font["GPOS"].table.LookupList is not None and font["GPOS"].table.FeatureList is not None:
        wanted = {
            index
            for record in font["GPOS"].table.FeatureList.FeatureRecord
            if record.FeatureTag == "kern"
            for index in record.Feature.LookupListIndex
        }
        for index in sorted(wanted):
            for table in font["GPOS"].table.LookupList.Lookup[index].SubTable:
                _of_pairs(table.ExtSubTable if table.LookupType == 9 else table, codes, add)
    return found


def _of_pairs(table: Any, codes: Mapping[str, list[int]], add: Any) -> None:
    if table.LookupType != 2:
        return
    left = _MOST_LOOKED
    firsts = [glyph for glyph in table.Coverage.glyphs if glyph in codes]
    if table.Format == 1:
        for glyph, pairs in zip(table.Coverage.glyphs, table.PairSet, strict=True):
            for record in pairs.PairValueRecord if glyph in codes else ():
                add(glyph, record.SecondGlyph, _advance(record.Value1))
        return
    classes: dict[int, list[str]] = {}
    for glyph in codes:
        classes.setdefault(table.ClassDef2.classDefs.get(glyph, 0), []).append(glyph)
    for glyph in firsts:
        row = table.Class1Record[table.ClassDef1.classDefs.get(glyph, 0)]
        left -= len(row.Class2Record)
        if left < 0:
            return
        for number, record in enumerate(row.Class2Record):
            value = _advance(record.Value1)
            for second in classes.get(number, ()) if value else ():
                add(glyph, second, value)


def _advance(value: Any) -> float:
    return float(getattr(value, "XAdvance", 0) or 0) if value is not None else 0.0
