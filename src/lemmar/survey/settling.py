"""The survey as a whole: draws a draft up, and settles roster, shares, chains and requests by what the clients really hold and answer."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from statistics import median

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import counted
from lemmar.basics.text import visible
from lemmar.charter.reading import parse
from lemmar.inventory import gather
from lemmar.inventory.readings import Readings
from lemmar.resolve import resolve
from lemmar.resolve.claims import claims_of
from lemmar.resolve.landings import landed
from lemmar.resolve.pairing import same_language
from lemmar.resolve.spots import union_of
from lemmar.resolve.world import Client, World
from lemmar.survey.draft import Draft, DraftClient, DraftRequest, Question
from lemmar.survey.drafting import draft
from lemmar.survey.uncharted import is_charter
from lemmar.survey.usages import usages
from lemmar.survey.writing import charter_text
from lemmar.tags import LanguageTag, Tag
from lemmar.trees import File, Tree

#: A locale that most clients hold less than this of is on trial.
_HALF = 0.5
#: Requests that clients often answer differently, each with the languages of the roster that make it worth asking.
_REQUESTS = (
    ("zh-TW", "zh"), ("zh-HK", "zh"), ("pt", "pt"), ("pt-PT", "pt"), ("es-MX", "es"), ("nb-NO", "nb no nn"), ("sr", "sr"), ("en-AU", "en"),
    ("de-AT", "de"), ("fr-CA", "fr"),
)  # fmt: skip
_MOST_REQUESTS = 6


#: Names of which a charter could not tell what they are.
_UNWRITABLE = expression("[\x00-\x1f\x7f-\x9f\u2028\u2029\ud800-\udfff]")


def draw_up(tree: Tree, tell: Callable[[str], None] = lambda _words: None, readings: Readings | None = None) -> Draft:
    """The draft for the monorepo that *tree* is, settled by what its clients hold and answer; how far it is goes to *tell*. *readings* keep what
    files were read as.
    """
    readings = readings or Readings()
    every = [match.file for match in tree.files("**", "")]
    files = [file for file in every if not is_charter(file) and (file.isprintable() or not _UNWRITABLE.search(file))]
    unwritable = [file for file in every if _UNWRITABLE.search(file)]
    found = draft(tree, files, readings, tell)
    if unwritable:
        lost = unwritable[0]
        more = f" and {counted(len(unwritable) - 1, 'more file')}" if len(unwritable) > 1 else ""
        words = f"is this{more} part of a client? Its name is no UTF-8, or has signs that nobody sees, so that no charter can hold it"
        found = found._replace(questions=(*found.questions, Question(visible(lost), words)))
    tell("trying the charter on what the clients hold")
    found = _settled(found, tree, readings) if found.clients else found
    return found._replace(unfinished=tuple(dict.fromkeys((*found.unfinished, *tree.unread(), *tree.changed()))))


def _settled(found: Draft, tree: Tree, readings: Readings) -> Draft:
    everything = found._replace(shipping=(*found.shipping, *found.trial), trial={})
    charter, lines = parse(charter_text(everything).encode(), "the draft")
    inventory = gather(charter, tree, readings)
    clients = resolve(charter, inventory)
    missed = _missed(clients, charter.locales, found.pseudo)
    if missed:
        return _settled(found._replace(shipping=(*found.shipping, *missed)), tree, readings)
    shares = {tag: _shares(clients, tag) for tag in everything.shipping}
    least = {tag: {name: share for name, share in held.items() if share is not None} for tag, held in shares.items()}
    rare = {
        tag
        for tag in found.shipping
        if tag != found.source and 2 * sum(share < _HALF for share in least[tag].values()) > len(least[tag]) > 0
    }
    shipping = tuple(tag for tag in found.shipping if tag not in rare)
    trial = {tag: _down(median(least[tag].values())) if least[tag] else 0.0 for tag in everything.shipping if tag not in shipping}
    known = {client.name: {client.roster(tag) for tag in client.supported} for client in clients}
    counted = {client.name: _counted(client) for client in clients}
    resolved = {client.name: client for client in clients}
    drawn = tuple(
        _with_trial(_in_doubt(_with_counts(client, counted[client.name]), resolved[client.name]), trial, least)._replace(
            lacks=tuple(tag for tag in trial if tag not in known[client.name])
        )
        for client in found.clients
    )
    roots = ["" if client.root == "." else client.root for client in clients]
    asked_by = {client.name: usages(client, tree, roots, readings) for client in clients}
    drawn = tuple(client._replace(usage=asked_by[client.name]) for client in drawn)
    world = World(charter, File("lemmar.toml"), lines, clients, inventory.shapes)
    chains, asked = _chains(found, clients)
    unfinished = tuple(dict.fromkeys((*found.unfinished, *inventory.unfinished)))
    return found._replace(
        clients=drawn,
        shipping=shipping,
        trial=trial,
        chains=chains,
        audience=tuple(_audience(world)),
        source_only=tuple(_source_only(clients)),
        questions=(*found.questions, *asked),
        unfinished=unfinished,
    )


def _missed(clients: Sequence[Client], roster: Sequence[Tag], pseudo: Sequence[Tag]) -> list[Tag]:
    """The locales of clients whose files alone say what they support that the draft has not: of files that name their locale wrongly."""
    lists = ((client, claims_of(client, "supported")) for client in clients)
    alone = [client for client, claims in lists if all(claim.selector.startswith("files ") for claim in claims)]
    supported = dict.fromkeys(client.roster(tag) for client in alone for tag in client.supported)
    return [tag for tag in supported if tag not in roster and tag not in pseudo]


def _counted(client: Client) -> list[int]:
    """The messages of each catalog of the client's own, as they are compared."""
    return [client.messages_in(pattern) for pattern in client.patterns if pattern.where[0] == "client"]


def _with_counts(client: DraftClient, counts: Sequence[int]) -> DraftClient:
    if len(counts) != len(client.catalogs):
        return client
    pairs = zip(client.catalogs, counts, strict=True)
    return client._replace(catalogs=tuple(catalog._replace(messages=count or catalog.messages) for catalog, count in pairs))


#: How sure it is of a catalog of which not all could be read.
_NOT_WHOLE = 0.6


def _in_doubt(client: DraftClient, held: Client) -> DraftClient:
    """The client with a question at each catalog of which not all could be read."""
    doubts: dict[object, str] = {}
    for fault in held.faults:
        pattern = next((each for each in held.patterns if fault.file in each.known), None) if fault.defect.kind == "opaque" else None
        if pattern is not None and pattern.where[0] == "client":
            doubts.setdefault(pattern.where[-1], f"does it hold its texts as a map? {fault.file}: {fault.defect.detail}")
    return client._replace(
        catalogs=tuple(
            catalog._replace(confidence=min(catalog.confidence, _NOT_WHOLE), doubts=(*catalog.doubts, doubts[place]))
            if place in doubts
            else catalog
            for place, catalog in enumerate(client.catalogs)
        )
    )


def _shares(clients: Sequence[Client], tag: Tag) -> dict[str, float | None]:
    """The share of messages that each client which supports *tag* has of it; None where it has no messages."""
    answers = {client.name: client.effects[tag].answer for client in clients if tag in client.effects}
    return {name: answer.complete / answer.messages if answer.messages else None for name, answer in answers.items()}


def _down(share: float) -> float:
    """*share* in hundredths, rounded down, so that what is there today reaches it."""
    return int(100 * share + 1e-9) / 100


def _with_trial(client: DraftClient, trial: Mapping[Tag, float], shares: Mapping[Tag, Mapping[str, float]]) -> DraftClient:
    """The client, with a share of its own for each locale on trial of which it holds less than the roster's: it may not get worse."""
    own = {tag: shares[tag][client.name] for tag in trial if client.name in shares[tag]}
    return client._replace(trial={tag: _down(share) for tag, share in own.items() if _down(share) < trial[tag]})


def _source_only(clients: Sequence[Client]) -> Iterator[str]:
    """Patterns of keys that only the source has, each beside a key without its ending, and no locale at all: notes for translators."""
    endings: Counter[str] = Counter()
    for client in clients:
        for space, source in client.sources.items():
            others = frozenset().union(
                *(union_of(catalogs) for tag, catalogs in client.by_space[space].items() if tag != client.source and catalogs)
            )
            if others:
                alone = source.key_set - others
                endings.update(match[0] for key in alone if (match := _ENDING.search(key)) and key[: match.start()] in source.key_set)
    yield from (f"*{ending}" for ending, count in endings.items() if count >= _NOTES)


#: What a note's key adds to its message's, and how many make a habit.
_ENDING = expression(r"(?:[._-]{1,3}|@)(?:description|desc|comment|note|context|hint|meta|info|explanation)$", re.IGNORECASE)
_NOTES = 3


# --------------------------------------------------------------------------------------------------------------------- chains


def _chains(found: Draft, clients: Sequence[Client]) -> tuple[dict[Tag, tuple[Tag, ...]], list[Question]]:
    """Chains of the locales whose parent is on the roster as well: as clients fall back, where they agree; a question where they do not."""
    roster = (*found.shipping, *found.trial)
    chains: dict[Tag, tuple[Tag, ...]] = {}
    asked = []
    for tag in roster:
        parents = [other for other in roster if other != tag and _is_parent(other, tag)]
        if not parents or tag == found.default:
            continue
        ways: dict[tuple[Tag, ...], list[str]] = {}
        for client in clients:
            effect = client.effects.get(tag)
            if effect is not None and client.runtime.grain == "message":
                behind = dict.fromkeys(client.roster(link) for link in effect.consulted)
                ways.setdefault(tuple(link for link in behind if link != tag), []).append(client.name)
        wanted = (*parents[:1], *([found.default] if found.default not in parents[:1] else []))
        if wanted == (found.default,):
            continue  # as all fall back that have no entry
        if not ways or set(ways) == {wanted}:
            chains[tag] = wanted
        elif len(ways) > 1:
            told = "; ".join(f"{', '.join(names)}: {', '.join(way) or 'nothing'}" for way, names in ways.items())
            asked.append(Question(f"[chains] {tag}", f"should it fall back to {', '.join(wanted)}? Today: {told}"))
    return chains, asked


def _is_parent(other: Tag, tag: Tag) -> bool:
    """Whether readers of *tag* read *other* as their own, and it is the more general."""
    return same_language(tag, other) and LanguageTag.parse(other).canonical() in LanguageTag.parse(tag).canonical().parents()


# ------------------------------------------------------------------------------------------------------------------- audience


def _audience(world: World) -> list[DraftRequest]:
    """Requests of which the roster has the kin, with what each client answers."""
    roster = world.charter.locales
    languages = {LanguageTag.parse(tag).language for tag in roster}
    found: list[DraftRequest] = []
    for request, kin in _REQUESTS:
        if not languages & set(kin.split()) or request in roster or (request.startswith("en") and "en-GB" not in roster):
            continue
        answers = {client.name: landed(world, client, request).locale for client in world.clients if client.supported}
        if not answers:
            continue
        landings = set(answers.values())
        landing = next(iter(landings)) if len(landings) == 1 else None
        if landing is not None and not (landing in roster and same_language(Tag(request), landing)):
            continue  # all read another language: nothing that a team would want
        if any(answers == other.answers and other.request[:2] == request[:2] for other in found):
            continue  # answered as one that is asked already
        found.append(DraftRequest(request, landing, answers))
    return found[:_MOST_REQUESTS]
