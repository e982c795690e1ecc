"""Whose a file is, as an ownership file says: a pattern and owners a line, of which the last that matches counts."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from typing import TYPE_CHECKING

from lemmar.expressions import expression
from lemmar.text import lines
from lemmar.trees import File, Tree

if TYPE_CHECKING:
    from pathspec import GitIgnoreSpec

    from lemmar.charter import Charter
    from lemmar.findings import Place, Subject

_NAME = "CODEOWNERS"
#: Where an ownership file lies, from the root: a folder of a forge's own comes before the root, and that before the documents.
_PLACES = (f".*/{_NAME}", _NAME, f"docs/{_NAME}")
_COMMENT = expression(r"(?:^|[ \t])#.*")
_BLANK = expression(r"(?<!\\)[ \t]+")
_SECTION = expression(r"\^?\[")

#: Each pattern with its owners, in the file's order.
Lines = tuple[tuple[str, tuple[str, ...]], ...]


def ownership(tree: Tree) -> Lines:
    """What the first ownership file of *tree* says; nothing where there is none that can be read."""
    for place in _PLACES:
        for match in tree.files(place, ""):
            try:
                return parsed(tree.data(match.file).decode("utf-8", "replace"))
            except OSError:
                continue
    return ()


def parsed(text: str) -> Lines:
    """The patterns of an ownership file, and their owners; headings of sections are passed over."""
    found = []
    for line in lines(text):
        pattern, *owners = _BLANK.split(_COMMENT.sub("", line).strip())
        if pattern and not _SECTION.match(line):
            found.append((pattern.replace("\\ ", " "), tuple(owners)))
    return tuple(found)


class Owners:
    """Whose findings are, by the *said* of an ownership file, else by the charter's clients."""

    def __init__(self, said: Lines, charter: Charter) -> None:
        self._said: list[tuple[GitIgnoreSpec, tuple[str, ...]]] = []
        if said:
            from pathspec import GitIgnoreSpec

            self._said = [(GitIgnoreSpec.from_lines([pattern]), owners) for pattern, owners in reversed(said)]
        self._of_client: Mapping[str, str | None] = {client.name: client.owner for client in charter.client}
        self._of_file = cache(self._looked_up)

    def of(self, subject: Subject, place: Place | None) -> tuple[str, ...]:
        """Whose it is: the owners of the file that it is in, where an ownership file knows it; else those of its clients."""
        of_file = self._of_file(place.file) if place is not None and self._said else None
        if of_file is not None:
            return of_file
        return tuple(dict.fromkeys(owner for name in subject.clients if (owner := self._of_client.get(name)) is not None))

    def _looked_up(self, file: File) -> tuple[str, ...] | None:
        for pattern, owners in self._said:
            if pattern.match_file(file):
                return owners
        return None
