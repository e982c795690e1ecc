"""The chain family: what a client falls back to, held against what the team wants."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.model import Problem, Subject, World
from lemmar.rules import rule
from lemmar.rules.speaking import claims_of, tags_of


@rule("chain.default", "error", "A client's default is not the charter's.")
def default(world: World) -> Iterator[Problem]:
    """The default is what every user gets whose language a client does not have, and so are its leftovers.

    Reported once for each client that claims another default than the last link of the charter's default chain.
    To fix: change the client's default, or the charter's chain.
    """
    for client in world.clients:
        for claim in claims_of(client, "default"):
            for tag, spot in list(tags_of(client, claim).items())[:1]:
                if tag != world.charter.default:
                    yield Problem(
                        Subject((client.name,), tag),
                        f"{client.name} defaults to {tag!r}, the charter to {world.charter.default!r}",
                        spot,
                        f"users of a language that {client.name} lacks get {tag!r}",
                        f"make {world.charter.default!r} the default, or change [chains] in the charter",
                    )
