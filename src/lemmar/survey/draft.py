"""What a survey finds. Plain values; each says where it was seen."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, NamedTuple

from lemmar.tags import Tag


class DraftCatalog(NamedTuple):
    """Files that hold messages: the *settings* that the charter would have for them, their locales, and where they were seen.

    *files* are the matching files by locale, *base* the folder that the pattern starts from, *confidence* is from 0 to 1.
    """

    base: str
    settings: Mapping[str, Any]
    locales: tuple[Tag, ...]
    files: tuple[str, ...]
    messages: int
    confidence: float
    spelling: str | None = None


class DraftClaim(NamedTuple):
    """One place where a client states something about locales: the *settings* for it, what it names, and its place."""

    settings: Mapping[str, Any]
    locales: tuple[Tag, ...]
    place: str
    confidence: float


class DraftClient(NamedTuple):
    """A client: its folder, by which file it was recognized, its catalogs and claims; *cuts* are places that cut requests short."""

    name: str
    kind: str
    root: str
    platform: str | None
    evidence: str
    catalogs: tuple[DraftCatalog, ...]
    claims: tuple[DraftClaim, ...]
    cuts: tuple[tuple[str, str], ...] = ()


class Question(NamedTuple):
    """What could not be decided: where, and the readings that are possible."""

    place: str
    text: str


class Draft(NamedTuple):
    """All that a survey found, and the charter it makes of that (None where nothing was found).

    *shares* has for each locale on trial what share of the messages it was found to have. *unfinished* are sentences on what could not be
    looked at on this machine: what is drawn up may lack what is there.
    """

    clients: tuple[DraftClient, ...]
    source: Tag
    shipping: tuple[Tag, ...]
    trial: Mapping[Tag, float]
    pseudo: tuple[Tag, ...]
    default: Tag
    questions: tuple[Question, ...]
    unfinished: tuple[str, ...] = ()
