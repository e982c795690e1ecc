"""What the headers of a sheet are: keys, notes, and locales by tag or by a language's name."""

from __future__ import annotations

from typing import Any

from lemmar.documents.workbook import WorkbookError
from lemmar.formats.sheet import head_rows, header_names
from lemmar.survey.paths import locale_in_words, locale_of


def columns_in_words(data: bytes, suffix: str) -> tuple[dict[str, Any], list[str]] | None:
    """What a sheet's headers are where languages stand there by name: a charter's ``columns``, and the languages' headers."""
    try:
        rows = head_rows(data, suffix)
    except WorkbookError:
        return None
    for row in rows[:3]:
        names = [cell.text for cell in row]
        words = [name for name in names if locale_in_words(name) or (name and locale_of(name) and not name.islower())]
        if len({tag.language for name in words if (tag := locale_in_words(name)) is not None}) < 2:
            continue
        others = [name for name in names if name and name not in words]
        if not others or names[0] in words:
            return None
        notes = next(
            (name for name in others[1:] if name.lower() in ("description", "notes", "note", "comment", "comments", "context")), None
        )
        rest = [name for name in others[1:] if name != notes]
        columns: dict[str, Any] = {"key": others[0]}
        return columns | ({"description": notes} if notes else {}) | ({"ignore": rest} if rest else {}), words
    return None


def columns_of(data: bytes, suffix: str) -> dict[str, Any]:
    """The sheet's headers that are no locales, by their meaning."""
    names = header_names(data, suffix)
    return {"columns": names} if names else {}
