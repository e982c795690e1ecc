"""Whose a file is, as an ownership file says: a pattern and owners a line, of which the last that matches counts."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.basics.text import lines
from lemmar.trees import File, Tree
from lemmar.trees.gitpatterns import git_patterns

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec

    from lemmar.charter.types import Charter
    from lemmar.findings import Place, Subject

_NAME = "CODEOWNERS"
#: Where an ownership file lies, from the root: a folder of a forge's own comes before the root, and that before the documents.
_PLACES = (f".*/{_NAME}", _NAME, f"docs/{_NAME}")
_COMMENT = expression(r"(?:^|[ \t])#.*")
_BLANK = expression(r"(?<!\\)[ \t]+")
_SIGN = expression(r"[*?\[\\!]")
#: Of a larger file, or of more lines, nothing more is read; no forge does.
_MOST_BYTES, _MOST_LINES = 4 * 1024 * 1024, 20_000
_SECTION = expression(r"\^?\[")

#: Each pattern with its owners, in the file's order.
Lines = tuple[tuple[str, tuple[str, ...]], ...]


def ownership(tree: Tree) -> Lines:
    """What the first ownership file of *tree* says; nothing where there is none that can be read."""
    for place in _PLACES:
        for match in tree.files(place, ""):
            try:
                return parsed(tree.data(match.file)[:_MOST_BYTES].decode("utf-8", "replace"))
            except OSError:
                continue
    return ()


def parsed(text: str) -> Lines:
    """The patterns of an ownership file, and their owners; headings of sections are passed over."""
    found = []
    for line in lines(text)[:_MOST_LINES]:
        pattern, *owners = _BLANK.split(_COMMENT.sub("", line).strip())
        if pattern and not _SECTION.match(line):
            found.append((pattern.replace("\\ ", " "), tuple(owners)))
    return tuple(found)


class Owners:
    """Whose findings are, by the *said* of an ownership file, else by the charter's clients.

    Patterns are kept by the first folder that they name, so that few are looked at for each file.
    """

    def __init__(self, said: Lines, charter: Charter) -> None:
        self._said = said
        self._by_folder: dict[str, list[int]] = {}
        for number, (pattern, _) in enumerate(said):
            self._by_folder.setdefault(_first_folder(pattern), []).append(number)
        self._compiled: dict[int, GitIgnoreSpec] = {}
        self._of_client: Mapping[str, str | None] = {client.name: client.owner for client in charter.client}
        self._of_file = cache(self._looked_up)

    def of(self, subject: Subject, place: Place | None) -> tuple[str, ...]:
        """Whose it is: the owners of the file that it is in, where an ownership file knows it; else those of its clients."""
        of_file = self._of_file(place.file) if place is not None and self._said else None
        if of_file is not None:
            return of_file
        return tuple(dict.fromkeys(owner for name in subject.clients if (owner := self._of_client.get(name)) is not None))

    def _looked_up(self, file: File) -> tuple[str, ...] | None:
        anywhere, there = self._by_folder.get("", []), self._by_folder.get(file.partition("/")[0], [])
        for number in sorted((*anywhere, *there), reverse=True):  # the last that matches counts
            if number not in self._compiled:
                self._compiled[number] = git_patterns([self._said[number][0]])
            if self._compiled[number].match_file(file):
                return self._said[number][1]
        return None


def _first_folder(pattern: str) -> str:
    """The folder or file at the root that all that *pattern* matches lies in, or is; empty where it may be anywhere."""
    first, sign, rest = pattern.removeprefix("/").partition("/")
    anchored = pattern.startswith("/") or (sign and rest)
    return first if anchored and not _SIGN.search(first) else ""
