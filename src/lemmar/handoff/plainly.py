"""Texts as they are compared after they went through other programs: quotation marks, dashes, blanks and composed letters in one plain way."""

from __future__ import annotations

import unicodedata

_PLAIN = str.maketrans({
    **dict.fromkeys("\u201c\u201d\u201e\u201f\u00ab\u00bb\u2033", '"'),
    **dict.fromkeys("\u2018\u2019\u201a\u201b\u2032\u2039\u203a", "'"),
    **dict.fromkeys("\u2010\u2011\u2012\u2013\u2014\u2212", "-"),
    **dict.fromkeys("\u00a0\u202f\u2007\u2009", " "),
    **dict.fromkeys("\u200b\u200e\u200f\ufeff"),
    "\u2026": "...",
})  # fmt: skip


def plainly(text: str) -> str:
    """*text* without what word processors, mail programs and sheets change in it."""
    return " ".join(unicodedata.normalize("NFC", text).translate(_PLAIN).split())


def without_apostrophe(text: str) -> str:
    """A cell without the apostrophe that keeps it from being taken for a formula."""
    return text[1:] if text[:1] == "'" and text[1:2] in ("=", "+", "-", "@", "\t", "'") else text


def with_apostrophe(text: str) -> str:
    """A cell that no sheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "'") else text
