"""What a survey found: clients with their catalogs and claims, and what is to be decided; or what is new."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from lemmar import selectors
from lemmar.basics.phrasing import counted
from lemmar.report import Drawn, Table, View, drawn_table, indented, joined
from lemmar.resolve.world import Client
from lemmar.survey.draft import Draft, DraftClient
from lemmar.survey.unknown import News

_STATES = {
    "supported": "lists {} as supported",
    "offered": "offers {}",
    "routed": "has addresses for {}",
    "default": "states {} as its default",
    "chain": "falls back along {}",
    "source": "states {} as its source",
    "mirrored": "says whether it mirrors its layout",
}
#: The keys that point at a claim.
_SELECTORS = selectors.names()


def view(draft: Draft, written: bool) -> View:
    """The whole of *draft*; *written* says that it is written down already."""
    return View(_table(draft), lambda _page: _draw(draft, written))


def news(found: News, clients: Sequence[Client]) -> View:
    """Clients and catalogs that the charter does not know of, and claims of its *clients* that cannot be read any more."""
    rows = [("client", root, "the folder belongs to no client of the charter") for root in found.clients]
    rows += [
        ("catalog", catalog.files[0], f"no pattern matches it ({len(catalog.files)} files, {len(catalog.locales)} locales)")
        for catalog in found.catalogs
    ]
    rows += [
        ("claim", f"{claim.file}:{claim.defects[0].line}", f"{client.name}: {claim.selector}: {claim.defects[0].detail}")
        for client in clients
        for claim in client.claims
        if claim.defects and not claim.entries
    ]
    rows += [
        (
            "claim",
            claim.place,
            f"{name}: it {_STATES[claim.states].format(counted(len(claim.locales), 'locale'))}, and no claim of the charter reads it",
        )
        for name, claim in found.claims
    ]
    rows += [("not checked", *_late(words)) for words in found.unfinished]
    nothing: list[Drawn] = ["the charter has everything that the survey finds"]
    drawn: list[Drawn] = [drawn_table([("new", "left"), ("where", "left"), ("why", "left")], rows)] if rows else nothing
    return View(Table("survey-news", ("what", "where", "why"), rows), lambda _page: drawn)


def _table(draft: Draft) -> Table:
    columns = ("client", "kind", "root", "platform", "what", "states", "where", "locales", "confidence")
    rows: list[tuple[object, ...]] = []
    for client in draft.clients:
        head = (client.name, client.kind, client.root, client.platform)
        rows += [
            (*head, "catalog", None, str(catalog.settings["files"]), " ".join(catalog.locales), catalog.confidence)
            for catalog in client.catalogs
        ]
        rows += [
            (*head, "claim", claim.settings["states"], claim.place, " ".join(claim.locales), claim.confidence) for claim in client.claims
        ]
    rows += [(None, None, None, None, "set aside", None, aside.pattern, aside.reason, None) for aside in draft.aside]
    rows += [(None, None, None, None, "question", None, question.place, question.text, None) for question in draft.every_question()]
    rows += [(None, None, None, None, "unfinished", None, *_late(words), None) for words in draft.unfinished]
    return Table("survey", columns, rows)


def _late(words: str) -> tuple[str, str]:
    """The file that could not be looked at, and why."""
    file, _, why = words.partition(": ")
    return file, why


def _draw(draft: Draft, written: bool) -> Iterable[Drawn]:
    yield joined((counted(len(draft.clients), "client"), "strong"), f", source {draft.source}, default {draft.default}")
    yield f"shipping: {' '.join(draft.shipping)}"
    if draft.trial:
        yield "on trial: " + ", ".join(f"{tag} ({int(100 * share)} %)" for tag, share in draft.trial.items())
    if draft.pseudo:
        yield f"test locales: {' '.join(draft.pseudo)}"
    yield ""
    heads = [("client", "left"), ("what", "left"), ("where", "left"), ("locales", "right"), ("sure", "right"), ("read as", "left")]
    yield drawn_table(heads, [row for client in draft.clients for row in _rows(client)])
    yield ""
    for aside in draft.aside:
        yield joined(("set aside  ", "strong"), f"{aside.pattern}: {aside.reason}")
    if draft.aside:
        yield ""
    questions = list(draft.every_question())
    if questions:
        yield joined((counted(len(questions), "question"), "warning"), " to decide:")
        for question in questions:
            yield indented(joined((question.place, "strong"), f"  {question.text}"), 2)
        yield ""
    for words in draft.unfinished:
        yield joined(("not checked  ", "incomplete"), words)
    if draft.unfinished:
        yield ""
    if not written:
        yield "to write this down as lemmar.toml:  lemmar survey --write"


def _rows(client: DraftClient) -> Iterable[tuple[Drawn, ...]]:
    """A client's rows: what it is, then its catalogs and claims."""
    seen = client.evidence if client.evidence.endswith("/") else client.evidence.rpartition("/")[2]
    facts = [client.platform, f"source {client.source}, as {client.seen}" if client.stated else None, f"seen by {seen}"]
    yield joined((client.name, "strong")), client.kind, client.root, "", "", ", ".join(filter(None, facts))
    for catalog in client.catalogs:
        settings = catalog.settings
        words = ", ".join(str(settings[name]) for name in ("format", "layout", "spelling", "syntax") if name in settings)
        yield (
            "",
            "catalog",
            str(settings["files"]),
            str(len(catalog.locales)),
            f"{catalog.confidence:.0%}",
            f"{words}; {counted(catalog.messages, 'message')}",
        )
    for claim in client.claims:
        settings = claim.settings
        words = " ".join(
            _setting(name, settings[name]) for name in (*_SELECTORS, "take", "labels") if settings.get(name) not in (None, False)
        )
        place = claim.place.removeprefix(f"{client.root}/")
        yield "", claim.states, place, str(len(claim.locales)), f"{claim.confidence:.0%}", words


def _setting(name: str, value: object) -> str:
    """``symbol tongues``; a flag by its name, a text that is empty in quotes."""
    return name if value is True else f"{name} {value or repr(value)}"
