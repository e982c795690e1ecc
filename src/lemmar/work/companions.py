"""Lines that go with an item of a list in code: the import of the name that stands in it (``import de from "./de.json"`` beside ``{ en, de }``)."""

from __future__ import annotations

import re
from collections.abc import Sequence

from lemmar.basics.expressions import expression
from lemmar.documents.rows import Row, inserted, place_for, removed
from lemmar.documents.splicing import Splice
from lemmar.tags import LanguageTag
from lemmar.work.likeness import Example, restated

_BRINGS = expression(
    r"\s*(?:export\s+)?(?:import|from|using|use|(?:const|let|var|final|local)\b[^=\n]*=\s*(?:await\s+)?(?:require|import)\s*\()"
)
_WORD = expression(r"\"(?:[^\"\\\n]|\\.)*\"|'(?:[^'\\\n]|\\.)*'|`[^`]*`|(?<![\w$.])([A-Za-z_$][\w$]*)(?![\w$]|\s*(?:[:=](?!=)|\())")


def names_in(piece: str, tag: LanguageTag, spelling: str) -> list[str]:
    """The names in an item, outside of quotes, that speak of its locale: those that would be others for another locale."""
    other = LanguageTag("qaa") if tag.language != "qaa" else LanguageTag("qab")
    words = [match[1] for match in _WORD.finditer(piece) if match[1]]
    return [word for word in dict.fromkeys(words) if restated(word, tag, other, spelling) != word]


def brought(text: str, name: str) -> list[tuple[int, int]]:
    """The lines that bring a *name* into a file: one for an import on one line."""
    found = []
    wanted = re.compile(rf"(?<![\w$.\"'/-]){re.escape(name)}(?![\w$\"'/-])")
    for match in re.finditer(r"[^\r\n]+", text):
        line = match.group()
        if _BRINGS.match(line) and wanted.search(line):
            start = match.start() + len(line) - len(line.lstrip())
            found.append((start, match.start() + len(line.rstrip())))
    return found


def added(text: str, pieces: Sequence[Example], model: Example, new: LanguageTag, spelling: str) -> tuple[list[Splice], list[str]]:
    """The edits that bring the names of a new item into a file, after the example of those of its *model*; and the names that nothing there brings."""
    splices: list[Splice] = []
    missing: list[str] = []
    for name in names_in(model.text, model.tag, spelling):
        lines = brought(text, name)
        made = restated(name, model.tag, new, spelling, pieces)
        if len(lines) != 1:
            if re.search(rf"(?m)^\s*(?:export\s+)?(?:const|let|var|final|def|class|object)\s+{re.escape(name)}\b", text):
                missing.append(made)  # it is made in this file, as the other would have to be
            continue
        row = _row(text, pieces, model, name, spelling) or Row((0, len(text)), tuple(lines), "")
        line = restated(text[slice(*lines[0])], model.tag, new, spelling, pieces)
        after = place_for([text[slice(*span)] for span in row.items], line, range(len(row.items)))
        splices += inserted(text, row, line, after)
    return splices, missing


def _row(text: str, pieces: Sequence[Example], model: Example, name: str, spelling: str) -> Row | None:
    """The lines that bring the same name of each of the other items."""
    spans = []
    for piece in pieces:
        lines = brought(text, restated(name, model.tag, piece.tag, spelling, pieces))
        spans += lines if len(lines) == 1 else []
    return Row((0, len(text)), tuple(sorted(set(spans))), "") if len(set(spans)) > 1 else None


def gone(text: str, piece: str, tag: LanguageTag, spelling: str) -> list[Splice]:
    """The edits that take out what brings the names of an item that is gone already, where nothing else uses them."""
    splices = []
    for name in names_in(piece, tag, spelling):
        lines = brought(text, name)
        uses = re.findall(rf"(?<![\w$.\"'/-]){re.escape(name)}(?![\w$\"'/-])", text)
        if len(lines) == 1 and len(uses) == 1:
            above = ((0, 0),) if lines[0][0] else ()
            splices += removed(text, Row((0, len(text)), (*above, *lines), ""), [len(above)])
    return splices
