"""What readers share: gathering entries into columns, and the defects that every format tells alike."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from lemmar.formats._reading import NOTHING, Column, Defect, Keys, ReadOptions
from lemmar.text import Decoded, decode, decode_fault


class Entries:
    """Gathers the entries of one column in file order. A repeated key keeps its first place and takes the later text."""

    def __init__(self) -> None:
        self.index: dict[str, int] = {}
        self.texts: list[str | None] = []
        self.rare: dict[str, dict[int, Any]] = {}

    def add(self, key: str, text: str | None) -> int:
        """Adds an entry; gives its index."""
        index = self.index.setdefault(key, len(self.texts))
        if index == len(self.texts):
            self.texts.append(text)
        else:
            self.texts[index] = text
        return index

    def note(self, kind: str, index: int, value: Any) -> None:
        """Keeps what few entries have, such as a comment."""
        if value:
            self.rare.setdefault(kind, {})[index] = value

    def column(self, label: str | None = None, mark: str | None = None) -> Column:
        """The column gathered so far."""
        return Column(label, Keys(self.index), tuple(self.texts), self.rare or NOTHING, mark)


def add_forms(entries: Entries, key: str, forms: Mapping[str, str | None]) -> int:
    """Adds an entry of several forms (plural categories, items of a list); its text is the form for *other*, else the last."""
    whole = {name: text for name, text in forms.items() if text is not None}
    text = whole.get("other", next(reversed(whole.values())) if whole else None)
    index = entries.add(key, text)
    entries.note("forms", index, whole)
    return index


def decoded(data: bytes, options: ReadOptions, mark_harms: str = "") -> tuple[Decoded, list[Defect]]:
    """*data* as text, and what is wrong with its encoding. *mark_harms* says what a byte-order mark does, if it does harm."""
    found = decode(data, options.encoding)
    defects = []
    if found.fault is not None:
        line, column = decode_fault(data, found)
        byte = data[found.fault]
        defects.append(Defect("encoding", line, column, f"the byte 0x{byte:02X} is no {found.encoding.upper()}", "key"))
    if mark_harms and found.mark:
        defects.append(Defect("encoding", 1, 1, f"the file begins with a byte-order mark, {mark_harms}"))
    if options.encoding and found.mark and not _same_encoding(options.encoding, found.encoding):
        defects.append(Defect("encoding", 1, 1, f"the file is {found.encoding.upper()}, the charter says {options.encoding.upper()}"))
    return found, defects


def _same_encoding(declared: str, found: str) -> bool:
    plain = declared.lower().replace("_", "-").replace("utf8", "utf-8").replace("utf16", "utf-16")
    return found == plain or (plain in ("utf-16", "utf-8-sig") and found.startswith(plain[:5]))


def repeated(key: str, first_line: int, line: int, column: int, same: bool, label: str | None = None) -> Defect:
    """The defect of a key that stands twice in one catalog."""
    how = "with the same text" if same else "with another text"
    return Defect("duplicate-key", line, column, f"the key {key!r} is already on line {first_line}, {how}", "none", label, key)


def in_order(defects: Iterable[Defect]) -> tuple[Defect, ...]:
    """The defects in the order of their places."""
    return tuple(sorted(defects, key=lambda defect: (defect.line, defect.column, defect.kind)))
