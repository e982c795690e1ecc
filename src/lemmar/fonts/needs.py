"""The characters that a text needs signs for: in capital letters as its language writes them, without what is never drawn.

Sources: Unicode Standard, sections 3.13 and 5.18, and SpecialCasing.txt for capital letters; Unicode Standard Annex 15 for normal forms; the registry
of script tags of the OpenType specification for the scripts that need shaping.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from html import unescape
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.tags import LanguageTag, Tag

#: Scripts whose letters join, or change place and form: without tables for it a font draws them apart. Each with its tags in a font's tables.
SHAPED = {
    "Arab": ("arab",),
    "Syrc": ("syrc",),
    "Nkoo": ("nko ",),
    "Mong": ("mong",),
    "Deva": ("dev3", "dev2", "deva"),
    "Beng": ("bng3", "bng2", "beng"),
    "Guru": ("gur3", "gur2", "guru"),
    "Gujr": ("gjr3", "gjr2", "gujr"),
    "Orya": ("ory3", "ory2", "orya"),
    "Taml": ("tml3", "tml2", "taml"),
    "Telu": ("tel3", "tel2", "telu"),
    "Knda": ("knd3", "knd2", "knda"),
    "Mlym": ("mlm3", "mlm2", "mlym"),
    "Sinh": ("sinh",),
    "Khmr": ("khmr",),
    "Mymr": ("mym2", "mymr"),
    "Tibt": ("tibt",),
}
_TONOS = str.maketrans("άέήίόύώΐΰ", "αεηιουωϊϋ")
_TAG = expression(r"</?[A-Za-z][^<>]{0,500}>")


class Wanted(NamedTuple):
    """A character that texts use: how many of them, and one of these as a number of the caller's."""

    texts: int
    first: int


def normal(words: str) -> str:
    """*words* as they are drawn: without elements of markup, its references resolved, letters and their marks put together."""
    composed = unicodedata.normalize("NFC", unescape(words) if "&" in words else words)
    return _TAG.sub(" ", composed) if "<" in composed else composed


def upper(text: str, locale: Tag) -> str:
    """*text* in capital letters, as the language of *locale* writes them."""
    language = LanguageTag.parse(locale).language
    if language in ("tr", "az"):
        text = text.replace("i", "İ").replace("ı", "I")
    elif language == "el":
        text = unicodedata.normalize("NFC", text).translate(_TONOS)
    return text.upper()


def is_drawn(character: str) -> bool:
    """Whether a character has a sign of its own: no blank, no control, nothing that only says how others are drawn."""
    return unicodedata.category(character) not in ("Cc", "Cf", "Cs", "Cn", "Zs", "Zl", "Zp") and not "\ufe00" <= character <= "\ufe0f"


def ranges(characters: Iterable[str]) -> str:
    """``U+0020-007E,U+00E4``: characters as ranges."""
    codes = sorted(set(map(ord, characters)))
    found: list[list[int]] = []
    for code in codes:
        if found and code == found[-1][1] + 1:
            found[-1][1] = code
        else:
            found.append([code, code])
    return ",".join(f"U+{first:04X}" if first == last else f"U+{first:04X}-{last:04X}" for first, last in found)
