"""``header``: the locale columns of a sheet."""

from __future__ import annotations

from itertools import takewhile

from lemmar.documents.sheet import cells, find_delimiter
from lemmar.model import Defect, Pick, Selection, Selector, Value
from lemmar.tags import looks_like_locale
from lemmar.text import Lines, decode


def select(data: bytes, pick: Pick) -> Selection:
    """The headers that name locales: all but those known to be something else; where nothing is known, those that look so."""
    text = decode(data).text
    start = len(text) - len(text.lstrip("\r\n"))
    every = cells(text[start:], find_delimiter(text, pick.suffix)) if text[start:] else ()
    first = list(takewhile(lambda cell: cell.row == 0, every))
    lines = Lines(text[: start + first[-1].end] if first else "")
    values = []
    for cell in first:
        raw = text[start + cell.start : start + cell.end]
        name = (raw[1:-1].replace('""', '"') if len(raw) > 1 and raw[0] == raw[-1] == '"' else raw).strip()
        known = name not in pick.passed_over and cell.column > 0 if pick.passed_over is not None else looks_like_locale(name)
        if known:
            values.append(Value(name, *lines.place(start + cell.start)))
    return Selection(tuple(values), () if first else (Defect("unreadable", 1, 1, "the sheet is empty"),))


SELECTOR = Selector("header", 1, select, lambda _pick: None)
