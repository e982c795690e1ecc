"""The letters of scripts, by which a text's script is known, and what in a text are not words of its language.

Source: the blocks of the Unicode Character Database that hold a script's letters. Simplified and traditional characters are one script here.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from functools import lru_cache

from lemmar.basics.expressions import expression

_BLOCKS = {
    "Latn": "A-Za-zªºÀ-ÖØ-öø-ʯḀ-ỿⱠ-ⱿꜢ-ꞇꞋ-ꟿＡ-Ｚａ-ｚ",
    "Cyrl": "\u0400-\u0481\u048a-\u052f\u1c80-\u1c8f\ua640-\ua66e",
    "Grek": "\u0370-\u0373\u0376\u0377\u037b-\u037d\u0386\u0388-\u03ff\u1f00-\u1fff",
    "Arab": "\u0620-\u064a\u066e-\u06d3\u06fa-\u06ff\u0750-\u077f\u08a0-\u08c7\ufb50-\ufdff\ufe70-\ufefc",
    "Hebr": "\u05d0-\u05ea\ufb1d-\ufb4f",
    "Armn": "\u0531-\u0556\u0561-\u0587",
    "Geor": "\u10a0-\u10ff\u1c90-\u1cbf",
    "Deva": "\u0904-\u0939\u0958-\u0961\u0972-\u097f",
    "Beng": "\u0985-\u09b9\u09dc-\u09e1\u09f0\u09f1",
    "Guru": "\u0a05-\u0a39\u0a59-\u0a5e",
    "Gujr": "\u0a85-\u0ab9",
    "Orya": "\u0b05-\u0b39",
    "Taml": "\u0b83-\u0bb9",
    "Telu": "\u0c05-\u0c39",
    "Knda": "\u0c85-\u0cb9",
    "Mlym": "\u0d05-\u0d3a",
    "Sinh": "\u0d85-\u0dc6",
    "Thai": "\u0e01-\u0e30\u0e40-\u0e46",
    "Laoo": "\u0e81-\u0eb0\u0ec0-\u0ec6",
    "Tibt": "\u0f40-\u0f6c",
    "Mymr": "\u1000-\u102a",
    "Khmr": "\u1780-\u17b3",
    "Ethi": "\u1200-\u135a",
    "Hang": "\u1100-\u11ff\u3131-\u318e\uac00-\ud7a3",
    "Hira": "\u3041-\u3096",
    "Kana": "\u30a1-\u30fa\u31f0-\u31ff\uff66-\uff9d",
    "Hani": "\u3400-\u4dbf\u4e00-\u9fff\uf900-\ufaff\U00020000-\U0003ffff",
}
_OF = {
    "Hans": ("Hani",), "Hant": ("Hani",), "Jpan": ("Hani", "Hira", "Kana"), "Kore": ("Hang", "Hani"), "Hrkt": ("Hira", "Kana"),
    "Hira": ("Hira", "Kana"), "Kana": ("Kana", "Hira"),
}  # fmt: skip
NAMES = {
    "Latn": "Latin", "Cyrl": "Cyrillic", "Grek": "Greek", "Arab": "Arabic", "Hebr": "Hebrew", "Armn": "Armenian", "Geor": "Georgian",
    "Deva": "Devanagari", "Beng": "Bengali", "Guru": "Gurmukhi", "Gujr": "Gujarati", "Orya": "Odia", "Taml": "Tamil", "Telu": "Telugu",
    "Knda": "Kannada", "Mlym": "Malayalam", "Sinh": "Sinhala", "Thai": "Thai", "Laoo": "Lao", "Tibt": "Tibetan", "Mymr": "Myanmar",
    "Khmr": "Khmer", "Ethi": "Ethiopic", "Hang": "Hangul", "Hira": "Hiragana", "Kana": "Katakana", "Hani": "Han",
}  # fmt: skip
# Pieces that are no words of any language: placeholders, markup, addresses, references, names of files and of things in code.
_NO_WORDS = expression(
    r"\{\{[^{}]*\}\}|[%$#@]?\{[^{}]*\}|%\([^()]*\)[-+#0-9.]*[a-zA-Z]|%[-+#0-9.$*]*(?:hh|h|ll|l)?[@a-zA-Z]|</?[A-Za-z0-9][^<>]*>|&[#A-Za-z0-9]+;"
    r"|https?://\S+|\bwww\.\S+|\S+@\S+\.\S+|(?<![\w:]):[A-Za-z_]\w*|@:\S+|\$t\([^()]*\)|\b\w+(?:[._/]\w+)+\b|`[^`]*`|\\[nrt]"
)
_MOST = 2_000
# Letters of one script that look like another's: where they stand in a word of the other, they were mistyped.
_LOOKALIKE = {"Cyrl": "аеорсухіјѕАВЕКМНОРСТУХІЈЅ", "Latn": "aeopcyxijsABEKMHOPCTYXIJS"}


def expected(script: str) -> tuple[str, ...]:
    """The blocks in which a language in *script* is written; empty where they are not known here."""
    found = _OF.get(script, (script,))
    return found if all(each in _BLOCKS for each in found) else ()


@lru_cache(maxsize=64)
def letters(scripts: tuple[str, ...]) -> Callable[[str], list[str]]:
    """Finds the runs of letters of *scripts* in a text."""
    return re.compile("[" + "".join(_BLOCKS[script] for script in scripts) + "]+").findall


@lru_cache(maxsize=64)
def has_letters(scripts: tuple[str, ...]) -> Callable[[str], re.Match[str] | None]:
    """Finds the first letter of *scripts* in a text."""
    return re.compile("[" + "".join(_BLOCKS[script] for script in scripts) + "]").search


def others(scripts: tuple[str, ...]) -> tuple[str, ...]:
    """The scripts that are neither *scripts* nor Latin, whose letters stand in the texts of all languages."""
    free = {"Hani", "Hira", "Kana"} if "Hira" in scripts else {"Hani"} if "Hang" in scripts else set()
    return tuple(script for script in _BLOCKS if script not in scripts and script != "Latn" and script not in free)


def script_of(run: str) -> str:
    """The name of the script of a run of letters: that of its first."""
    return next((NAMES[script] for script in _BLOCKS if has_letters((script,))(run[0])), "another")


_BOTH = f"{_BLOCKS['Latn']}{_BLOCKS['Cyrl']}"
# Each run of letters is looked at once, from its beginning: a text may be one run of a million.
_MIXED = expression(f"(?<![{_BOTH}])(?:[{_BLOCKS['Latn']}]++[{_BLOCKS['Cyrl']}]|[{_BLOCKS['Cyrl']}]++[{_BLOCKS['Latn']}])[{_BOTH}]*")


def lookalikes(text: str) -> list[str]:
    """The words of *text* in which letters of Latin and Cyrillic are mixed, the fewer of them lookalikes."""
    found = []
    for match in _MIXED.finditer(text):
        word = match.group()
        latin, cyrillic = "".join(letters(("Latn",))(word)), "".join(letters(("Cyrl",))(word))
        fewer, script = (latin, "Latn") if len(latin) < len(cyrillic) else (cyrillic, "Cyrl")
        if len(word) > 3 and len(fewer) <= 2 and all(letter in _LOOKALIKE[script] for letter in fewer):
            found.append(word)
    return found


def words_of(text: str) -> list[str]:
    """The words of *text* that belong to a language: placeholders, markup, addresses and digits left out."""
    return _WORD.findall(without_code(text))


def without_code(text: str) -> str:
    """*text* without what belongs to no language; of a very long one its beginning, which is enough to tell what it is."""
    return _NO_WORDS.sub(" ", text[:_MOST])


_WORD = expression(r"[^\W\d_]+(?:['’-][^\W\d_]+)*")
