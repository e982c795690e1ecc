"""The tables of a charter that the survey has drafted and nobody has confirmed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import NamedTuple

from lemmar.charter.lines import KeyLines, Path
from lemmar.charter.types import Charter


class Unconfirmed(NamedTuple):
    """A table that is not confirmed: its path in the charter, and how sure the survey was (0 to 1)."""

    path: Path
    sure: float

    @property
    def word(self) -> str:
        """What it is: ``client``, ``catalog``, ``claim`` or ``usage``."""
        return str(next(step for step in reversed(self.path) if isinstance(step, str)))

    def place(self, charter: Charter, lines: KeyLines, name: str) -> str:
        """Where it stands, ``lemmar.toml:28``; what a client takes over from one that it is like stands there. *name* is the charter's own."""
        path = self.path
        while path not in lines and len(path) > 2 and (other := charter.client[int(path[1])].like) is not None:
            path = ("client", next(number for number, client in enumerate(charter.client) if client.name == other), *path[2:])
        return f"{lines.file(path) or name}:{lines.nearest(path)}"


def unconfirmed(charter: Charter) -> Iterator[Unconfirmed]:
    """All of them, in the charter's order."""
    for number, entry in enumerate(charter.catalog):
        if entry.sure is not None:
            yield Unconfirmed(("catalog", number), entry.sure)
    for number, client in enumerate(charter.client):
        if client.sure is not None:
            yield Unconfirmed(("client", number), client.sure)
        for name in ("catalog", "claim", "usage"):
            for place, table in enumerate(getattr(client, name)):
                if table.sure is not None:
                    yield Unconfirmed(("client", number, name, place), table.sure)
