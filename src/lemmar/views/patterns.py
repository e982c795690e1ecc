"""Texts taken apart: arguments, branches, markup, and where a text breaks."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from lemmar.inventory.files import FileEntry
from lemmar.report import Drawn, indented, joined, plain
from lemmar.report._drawing import cells
from lemmar.syntax import SeenSyntax, Shape, element_words

#: What a record of an entry has more where texts are taken apart.
COLUMNS = ("syntax", "arguments", "branches", "markup", "fault")
_BEFORE, _BEHIND = 40, 72


def record(shape: Shape, seen: SeenSyntax) -> dict[str, Any]:
    """What `COLUMNS` hold of one entry."""
    fault = shape.fault
    return {
        "syntax": seen.name,
        "arguments": dict(shape.arguments),
        "branches": [{"argument": choice.argument, "kind": choice.kind, "keys": list(choice.keys)} for choice in shape.choices],
        "markup": list(shape.markup),
        "fault": {"character": fault.offset + 1, "message": fault.words} if fault else None,
    }


def describe(seen: SeenSyntax) -> str:
    """A catalog's syntax and how it is known, in words; with what of its texts is in another one."""
    words = f"{seen.name} (seen in {seen.texts:,} text{'' if seen.texts == 1 else 's'})" if seen.texts else str(seen.name)
    others = "; ".join(f"{count:,} have placeholders in {name} only" for name, count in seen.others)
    return f"{words}; {others}" if others else words


def place(entry: FileEntry) -> str:
    """``line:column``."""
    return f"{entry.site.line}:{entry.site.column}" if entry.site else "1:1"


def draw(entries: Iterable[FileEntry], several: bool) -> Iterator[Drawn]:
    """Each entry: its place and key, its text, and what it takes; under a broken text the place where it breaks."""
    for entry in entries:
        assert entry.shape is not None
        shape = entry.shape
        locale = f" {entry.locale}" if several and entry.locale else ""
        yield joined((place(entry), "faint"), f"{locale}  ", (entry.key, "strong"))
        for name, text in entry.forms.items() if entry.forms else [("", entry.text)]:
            if text is None:
                yield indented(plain("(no text yet)", "faint"), 4)
            elif shape.fault is not None and not entry.forms:
                yield from _pointed(text, shape)
            else:
                yield indented(plain(f"{name + ': ' if name else ''}{text}" or "(empty)"), 4)
        if shape.fault is not None and entry.forms:
            yield indented(plain(f"broken at character {shape.fault.offset + 1}: {shape.fault.words}", "error"), 4)
        elif shape.fault is None:
            yield from (indented(plain(words, "faint"), 6) for words in _words(shape))


def _words(shape: Shape) -> Iterator[str]:
    if shape.arguments:
        yield "takes " + ", ".join(f"{name} ({kind})" if kind else name for name, kind in shape.arguments)
    for choice in shape.choices:
        yield f"{choice.kind}{' of ' + choice.argument if choice.argument else ''}: {' '.join(choice.keys)}"
    if shape.markup:
        yield "markup " + ", ".join(map(element_words, shape.markup))


def _pointed(text: str, shape: Shape) -> Iterator[Drawn]:
    """The text around its fault on one line, and a mark under the place."""
    assert shape.fault is not None
    start = max(0, shape.fault.offset - _BEFORE)
    before = ("…" if start else "") + _line(text[start : shape.fault.offset])
    shown = before + _line(text[shape.fault.offset : shape.fault.offset + _BEHIND])
    yield indented(plain(shown + ("…" if shape.fault.offset + _BEHIND < len(text) else "")), 4)
    yield indented(plain(" " * cells(before) + f"▲ {shape.fault.words}", "error"), 4)


def _line(text: str) -> str:
    return "".join(" " if sign in "\n\r\t" else sign for sign in text)
