"""What a survey finds. Plain values; each says where it was seen."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any, NamedTuple

from lemmar.basics.phrasing import joined
from lemmar.inventory.aside import Aside
from lemmar.tags import Tag

#: As many clients are named; more are counted.
_FEW = 5


class DraftCatalog(NamedTuple):
    """Files that hold messages: the *settings* that the charter would have for them, their locales, and where they were seen.

    *files* are the matching files by locale, *base* the folder that the pattern starts from, *confidence* is from 0 to 1,
    *unmarked* is the file whose name has no locale, *held* the first file of each locale. *doubts* are what is to be decided of it.
    """

    base: str
    settings: Mapping[str, Any]
    locales: tuple[Tag, ...]
    files: tuple[str, ...]
    messages: int
    confidence: float
    spelling: str | None = None
    unmarked: str | None = None
    held: Mapping[Tag, str] = {}
    doubts: tuple[str, ...] = ()


class DraftClaim(NamedTuple):
    """One place where a client states something about locales: the *settings* for it, what it names, and its place."""

    settings: Mapping[str, Any]
    locales: tuple[Tag, ...]
    place: str
    confidence: float
    doubts: tuple[str, ...] = ()

    @property
    def states(self) -> str:
        """What it states."""
        return str(self.settings["states"])


class DraftUsage(NamedTuple):
    """How code asks for messages: the *tables* of the charter, each with its evidence; whether more of the messages are *unused* than to go by it,
    and how many; what is to be decided.
    """

    tables: tuple[tuple[Mapping[str, Any], str], ...] = ()
    is_loose: bool = False
    unused: int = 0
    doubts: tuple[str, ...] = ()


class DraftClient(NamedTuple):
    """A client: its folder, by which file it was recognized, its catalogs and claims.

    *source* is the locale that its messages are written in, *stated* whether that needs a word in the charter, *seen* how it is known.
    *by_files* says that its files alone say what it supports, *beta* are the locales that it lists as such.
    *trial* has the locales of which it holds less than the roster's share, *lacks* those on trial that it does not support. *doubts* are what is to
    be decided, each with its place; *sure* (0 to 1) is how sure it is of its source.
    """

    name: str
    kind: str
    root: str
    platform: str | None
    evidence: str
    catalogs: tuple[DraftCatalog, ...]
    claims: tuple[DraftClaim, ...]
    source: Tag
    seen: str = ""
    stated: bool = False
    by_files: bool = False
    beta: frozenset[Tag] = frozenset()
    trial: Mapping[Tag, float] = {}
    lacks: tuple[Tag, ...] = ()
    doubts: tuple[Question, ...] = ()
    usage: DraftUsage = DraftUsage()
    sure: float = 1.0


class Question(NamedTuple):
    """What could not be decided: where, and the readings that are possible."""

    place: str
    text: str


class DraftSyntax(NamedTuple):
    """A message syntax that is none of the known: its name, the expression for its placeholders, two texts that have some."""

    name: str
    placeholder: str
    examples: tuple[str, ...]


class DraftRequest(NamedTuple):
    """A request worth agreeing on: what clients answer now (None: they differ, each with its answer in *answers*)."""

    request: str
    landing: Tag | None
    answers: Mapping[str, Tag]


class Draft(NamedTuple):
    """All that a survey found, and the charter it makes of that (no clients where nothing was found).

    *trial* has for each locale on trial what share of the messages clients have of it. *aside* is what lies there and is no client's own.
    *source_only* are patterns of keys that are no messages. *unfinished* are sentences on what could not be looked at on this machine: what
    is drawn up may lack what is there.
    """

    clients: tuple[DraftClient, ...]
    source: Tag
    shipping: tuple[Tag, ...]
    trial: Mapping[Tag, float]
    pseudo: tuple[Tag, ...]
    default: Tag
    questions: tuple[Question, ...] = ()
    aside: tuple[Aside, ...] = ()
    chains: Mapping[Tag, tuple[Tag, ...]] = {}
    audience: tuple[DraftRequest, ...] = ()
    syntaxes: tuple[DraftSyntax, ...] = ()
    source_only: tuple[str, ...] = ()
    unfinished: tuple[str, ...] = ()

    def every_question(self) -> Iterator[Question]:
        """All that is to be decided: of the whole, then client by client."""
        yield from self.questions
        for request in self.audience:
            if request.landing is None:
                yield Question("[audience]", asked(request))
        for client in self.clients:
            yield from client.doubts
            yield from (Question(client.root, doubt) for doubt in client.usage.doubts)
            for catalog in client.catalogs:
                place = catalog.files[0] if catalog.files else client.root
                yield from (Question(place, doubt) for doubt in catalog.doubts)
            for claim in client.claims:
                yield from (Question(claim.place, doubt) for doubt in claim.doubts)


def asked(request: DraftRequest) -> str:
    """The question that a request is on which clients differ."""
    landings: dict[Tag, list[str]] = {}
    for client, landing in request.answers.items():
        landings.setdefault(landing, []).append(client)
    told = (
        f"{landing} in {joined(clients) if len(clients) < _FEW else f'{len(clients)} clients'}" for landing, clients in landings.items()
    )
    return f"what should {request.request} get? Today: {'; '.join(told)}"
