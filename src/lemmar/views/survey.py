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
    for client in draft.clients:
        yield from _client(client)
    for aside in draft.aside:
        yield joined(("set aside  ", "strong"), f"{aside.pattern}: {aside.reason}")
    if draft.aside:
        yield ""
    questions = list(draft.every_question())
    if questions:
        yield joined((counted(len(questions), "question"), "warning"), " to decide:")
        for question in questions:
            yield indented(joined((question.place, "strong"), f"  {question.text}"), 2, hang=2)
        yield ""
    for words in draft.unfinished:
        yield joined(("not checked  ", "incomplete"), words)
    if draft.unfinished:
        yield ""
    if not written:
        yield "to write this down as lemmar.toml:  lemmar survey --write"


def _client(client: DraftClient) -> Iterable[Drawn]:
    """A client: its name, where it is and why it is one; below it a line for each table of it."""
    facts = [client.kind, client.root, client.platform and f"platform {client.platform}", _why(client)]
    yield joined((client.name, "strong"), "  ", ", ".join(filter(None, facts)))
    rows: list[tuple[str, str, str, float, str]] = [
        (
            "catalog",
            str(catalog.settings["files"]),
            counted(len(catalog.locales), "locale"),
            catalog.confidence,
            ", ".join(str(catalog.settings[name]) for name in ("format", "layout", "spelling", "syntax") if name in catalog.settings)
            + f"; {counted(catalog.messages, 'message')}",
        )
        for catalog in client.catalogs
    ]
    rows += [
        (
            claim.settings["states"],
            claim.place.removeprefix(f"{client.root}/"),
            counted(len(claim.locales), "locale") if claim.locales else "",
            claim.confidence,
            " ".join(
                _setting(name, claim.settings[name])
                for name in (*_SELECTORS, "take", "labels")
                if claim.settings.get(name) not in (None, False)
            ),
        )
        for claim in client.claims
    ]
    widths = [max(map(len, column)) for column in zip(*(row[:3] for row in rows), strict=True)]
    for what, where, locales, sure, how in rows:
        cells = (f"{what:<{widths[0]}}", f"{where:<{widths[1]}}", f"{locales:>{widths[2]}}", f"{sure:>4.0%} sure", how)
        yield indented("   ".join(cells), 2, hang=widths[0] + 3)
    yield ""


def _why(client: DraftClient) -> str:
    """Why the folder is taken for a client, where one of its files shows it; and its source, where that is not the charter's."""
    shown = "" if client.evidence.endswith("/") else f"known by {client.evidence.rpartition('/')[2]}"
    return ", ".join(filter(None, [shown, f"source {client.source}, as {client.seen}" if client.stated else ""]))


def _setting(name: str, value: object) -> str:
    """``symbol tongues``; a flag by its name, a text that is empty in quotes."""
    return name if value is True else f"{name} {value or repr(value)}"
