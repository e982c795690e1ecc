"""Where a file says what language it is in."""

from __future__ import annotations

import re

from lemmar.text import Lines, decode

# JSON members, a PO header's line, attributes of XML; the target's before the source's.
_BEFORE = (
    r'"@@locale"\s*:\s*"',
    r"\btools:locale\s*=\s*[\"']",
    r"\bLanguage:[ \t]*",
    r"\b(?:target-language|trgLang)\s*=\s*[\"']",
    r"\b(?:language|srcLang|source-language)\s*=\s*[\"']",
)


def locate_mark(data: bytes, mark: str) -> tuple[int, int] | None:
    """1-based line and column of the first place where *data* names *mark* as its language: of a known kind, else a key at the top."""
    text = decode(data).text
    for before in (*_BEFORE, r"(?m)^[ \t{]*[\"']?"):
        found = re.search(f"{before}(?=({re.escape(mark)}))", text)
        if found:
            return Lines(text).place(found.end())
    return None
