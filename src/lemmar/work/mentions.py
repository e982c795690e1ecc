"""Files of code that name a catalog's file by its path, as an index beside the catalogs does: what must follow where one comes, moves or goes."""

from __future__ import annotations

import posixpath
import re
from collections import Counter
from collections.abc import Collection, Iterable
from functools import cache

from lemmar.basics.text import decode
from lemmar.documents.splicing import EditError
from lemmar.trees import File
from lemmar.work.changes import Changes, line_of

#: Larger files are no index.
_LARGEST = 262_144
#: So many files of code in a folder are looked at, in so many folders from that of a file upwards.
_MOST, _FOLDERS = 300, 3


class Mentions:
    """Who names the files of a catalog, in the code that lies near them as it would be now; *catalogs* are no such code."""

    def __init__(self, changes: Changes, catalogs: Collection[File]) -> None:
        self._changes = changes
        self._catalogs = frozenset(catalogs)
        self._code: dict[str, dict[File, str]] = {}

    def of(self, file: File) -> dict[File, int]:
        """Each file of code in the folder of *file*, or in one of the two above it, that names it in a literal, with or without its suffix; and the line."""
        found: dict[File, int] = {}
        folder = posixpath.dirname(file)
        for _ in range(_FOLDERS):
            code = self._code_in(folder)
            name = _named(posixpath.relpath(file, folder or ".")) if code else None
            for other, text in code.items():
                match = name.search(text) if name is not None else None
                if match and other != file:
                    found[other] = line_of(text, match.start())
            if not folder:
                break
            folder = posixpath.dirname(folder)
        return found

    def of_several(self, files: Iterable[File]) -> list[File]:
        """The files of code that name two or more of *files*."""
        counts = Counter(other for file in files for other in self.of(file))
        return [other for other, number in counts.items() if number > 1]

    def _code_in(self, folder: str) -> dict[File, str]:
        if folder not in self._code:
            every = [match.file for match in self._changes.tree.files("*", folder or ".")]
            some = [file for file in every if posixpath.splitext(file)[1] in _suffixes() and file not in self._catalogs]
            texts = {file: self._text(file) for file in some} if len(some) <= _MOST else {}
            self._code[folder] = {file: text for file, text in texts.items() if text}
        return self._code[folder]

    def _text(self, file: File) -> str:
        try:
            data = self._changes.read(file)
        except EditError:
            return ""
        return decode(data).text if len(data) <= _LARGEST else ""


def _named(path: str) -> re.Pattern[str]:
    """A literal that is *path*, from a dot or as the end of a longer path (the suffix may be left out, or be another), or with its suffix alone."""
    stem, suffix = posixpath.splitext(path)
    named = re.escape(stem)
    return re.compile(rf"""(["'`])(?:[^"'`\s]*/{named}(?:\.\w+)?|{named}{re.escape(suffix)})\1""")


@cache
def _suffixes() -> frozenset[str]:
    from lemmar import languages

    return frozenset((*(suffix for language in languages.every() for suffix in language.suffixes), ".html"))
