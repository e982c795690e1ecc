"""How ``lemmar read --patterns`` shows texts taken apart: arguments, branches, markup, and where a text breaks."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.formats import Column, Format
    from lemmar.syntax import Shape

#: What a row of `lemmar read` has more with --patterns.
COLUMNS = ("syntax", "arguments", "branches", "markup", "fault")
_BEFORE, _BEHIND = 40, 72


class Patterns:
    """Takes the texts of one file apart, in the syntax *name* or, without one, in the one that its texts show."""

    def __init__(self, columns: Sequence[Column], form: Format, name: str | None) -> None:
        from lemmar.inventory.shapes import Shapes
        from lemmar.syntax import SeenSyntax, load, seen_syntax

        texts = (text for column in columns for text in column.texts)
        self.seen = SeenSyntax(name, 0) if name else seen_syntax(texts, form.syntax)
        self._syntax = load(self.seen.name)
        self._shapes = Shapes()
        self._numbers = {id(column): self._shapes.of_column(column, self._syntax) for column in columns}

    def of(self, column: Column, index: int) -> dict[str, Any]:
        """What `COLUMNS` hold of one entry."""
        shape = self._shapes.table[self._numbers[id(column)][index]]
        fault = shape.fault
        return {
            "syntax": self.seen.name,
            "arguments": dict(shape.arguments),
            "branches": [{"argument": choice.argument, "kind": choice.kind, "keys": list(choice.keys)} for choice in shape.choices],
            "markup": list(shape.markup),
            "fault": {"character": fault.offset + 1, "message": fault.words} if fault else None,
            "shape": shape,
        }

    def evidence(self) -> str:
        """The syntax, and how it is known."""
        return describe(self.seen)


def describe(seen: Any) -> str:
    """A catalog's syntax and how it is known, in words; with what of its texts is in another one."""
    words = f"{seen.name} (seen in {seen.texts:,} text{'' if seen.texts == 1 else 's'})" if seen.texts else str(seen.name)
    others = "; ".join(f"{count:,} take something in {name} only" for name, count in seen.others)
    return f"{words}; {others}" if others else words


def draw(rows: Iterable[dict[str, Any]], several: bool) -> Iterator[Drawn]:
    """Each entry: its place and key, its text, and what it takes; under a broken text the place where it breaks."""
    from lemmar.cli._drawing import indented, joined, plain

    for row in rows:
        shape: Shape = row["shape"]
        locale = f" {row['locale']}" if several and row["locale"] else ""
        yield joined((f"{row['line']}:{row['column']}", "faint"), f"{locale}  ", (row["key"], "strong"))
        texts = row["forms"].items() if row["forms"] else [("", row["text"])]
        for name, text in texts:
            if text is None:
                yield indented(plain("(no text yet)", "faint"), 4)
            elif shape.fault is not None and not row["forms"]:
                yield from _pointed(text, shape)
            else:
                yield indented(plain(f"{name + ': ' if name else ''}{text}" or "(empty)"), 4)
        if shape.fault is not None and row["forms"]:
            yield indented(plain(f"broken at character {shape.fault.offset + 1}: {shape.fault.words}", "error"), 4)
        elif shape.fault is None:
            yield from (indented(plain(words, "faint"), 6) for words in _words(shape))


def _words(shape: Shape) -> Iterator[str]:
    from lemmar.syntax._arguments import element_words

    if shape.arguments:
        yield "takes " + ", ".join(f"{name} ({kind})" if kind else name for name, kind in shape.arguments)
    for choice in shape.choices:
        yield f"{choice.kind}{' of ' + choice.argument if choice.argument else ''}: {' '.join(choice.keys)}"
    if shape.markup:
        yield "markup " + ", ".join(map(element_words, shape.markup))


def _pointed(text: str, shape: Shape) -> Iterator[Drawn]:
    """The text around its fault on one line, and a mark under the place."""
    from lemmar.cli._drawing import cells, indented, plain

    assert shape.fault is not None
    start = max(0, shape.fault.offset - _BEFORE)
    before = ("…" if start else "") + _line(text[start : shape.fault.offset])
    shown = before + _line(text[shape.fault.offset : shape.fault.offset + _BEHIND])
    yield indented(plain(shown + ("…" if shape.fault.offset + _BEHIND < len(text) else "")), 4)
    yield indented(plain(" " * cells(before) + f"▲ {shape.fault.words}", "error"), 4)


def _line(text: str) -> str:
    return "".join(" " if sign in "\n\r\t" else sign for sign in text)
