"""``lemmar survey``: draws up a charter from what a monorepo holds."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.charter.reading import ReadCharter
    from lemmar.cli._drawing import Drawn
    from lemmar.report.tables import Table
    from lemmar.survey import Draft, DraftClient


@click.command(short_help="Draw up a charter from what is there.")
@click.argument("folder", required=False, type=click.Path(path_type=Path))
@click.option("--write", "write_it", is_flag=True, help="Write the charter as lemmar.toml into FOLDER; never over one that is there.")
@_options.output(*_options.TABLES)
@_options.loudness
def command(folder: Path | None, write_it: bool, form: str, target: Path | None) -> int:
    """Find the clients, catalogs and claims in FOLDER (here, if not given), each with its evidence, and what could not be decided.

    With a charter present, say what it does not know of. Nothing that is found is run.
    """
    from lemmar.charter import FILE_NAME
    from lemmar.cli._writing import remark, write
    from lemmar.errors import TreeError
    from lemmar.report.tables import FORMS
    from lemmar.survey import draw_up
    from lemmar.survey.writing import charter_text
    from lemmar.trees.folder import FolderTree

    root = folder or Path.cwd()
    if not root.is_dir():
        raise TreeError(f"{root} is no folder; name the monorepo's root")
    present = root / FILE_NAME
    if present.exists():
        if write_it:
            raise TreeError(
                f"there is a charter already, {present}; it is never overwritten: move it away, or run the survey without --write"
            )
        from lemmar.audit import read_charter

        return _changed(read_charter(present), form, target)
    remark(f"surveying {root}", detail=True)
    draft = draw_up(FolderTree(root))
    if not draft.clients:
        raise TreeError(f"no catalog was found in {root}; go to the monorepo's root, or try 'lemmar read' on a file that should be one")
    if form != "text":
        write(FORMS[form](_table(draft)), target)
    else:
        from lemmar.cli._drawing import render

        write(render(list(_draw(draft, written=write_it)), target), target)
    if write_it:
        write(charter_text(draft), present)
        remark(f"wrote {present}; look it over, then: lemmar audit")
    return Exit.CLEAR


def _table(draft: Draft) -> Table:
    from lemmar.report.tables import Table

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
    rows += [(None, None, None, None, "question", None, question.place, question.text, None) for question in draft.questions]
    return Table("survey", columns, rows)


def _draw(draft: Draft, written: bool) -> Iterable[Drawn]:
    from lemmar.cli._drawing import indented, joined, plain, table
    from lemmar.rules._speaking import counted

    yield joined((counted(len(draft.clients), "client"), "strong"), f", source {draft.source}, default {draft.default}")
    yield f"shipping: {' '.join(draft.shipping)}"
    if draft.trial:
        yield "on trial: " + ", ".join(f"{tag} ({share:.0%})" for tag, share in draft.trial.items())
    if draft.pseudo:
        yield f"test locales: {' '.join(draft.pseudo)}"
    yield ""
    for client in draft.clients:
        yield joined(
            (client.name, "strong"),
            f"  {client.kind}, in {client.root}" + (f", as {client.platform} programs are" if client.platform else ""),
        )
        seen = f"its folder in {client.evidence}" if client.evidence.endswith("/") else client.evidence
        yield indented(plain(f"seen by {seen}", "faint"), 2)
        yield table(
            [("what", "left"), ("where", "left"), ("locales", "right"), ("sure", "right"), ("read as", "left")], list(_rows(client))
        )
        yield ""
    if draft.questions:
        yield joined((counted(len(draft.questions), "question"), "warning"), " to decide:")
        for question in draft.questions:
            yield indented(joined((question.place, "strong"), f"  {question.text}"), 2)
        yield ""
    if not written:
        yield "to write this down as lemmar.toml:  lemmar survey --write"


def _rows(client: DraftClient) -> Iterable[tuple[str, ...]]:
    from lemmar.rules._speaking import counted

    for catalog in client.catalogs:
        settings = catalog.settings
        how = ", ".join(str(settings[name]) for name in ("format", "layout", "spelling") if name in settings)
        yield (
            "catalog",
            str(settings["files"]),
            str(len(catalog.locales)),
            f"{catalog.confidence:.0%}",
            f"{how}; {counted(catalog.messages, 'message')}",
        )
    for claim in client.claims:
        settings = claim.settings
        how = " ".join(
            f"{name} {settings[name]}" for name in ("symbol", "call", "pointer", "xpath", "files", "take", "labels") if settings.get(name)
        )
        place = claim.place.removeprefix(f"{client.root}/")
        yield str(settings["states"]), place, str(len(claim.locales)), f"{claim.confidence:.0%}", how or "header"


def _changed(read: ReadCharter, form: str, target: Path | None) -> int:
    """What the charter does not know of: new clients, catalogs that no pattern finds, claims that cannot be read any more."""
    from lemmar.cli._drawing import render
    from lemmar.cli._writing import write
    from lemmar.inventory import gather
    from lemmar.report.tables import FORMS, Table
    from lemmar.resolve import resolve
    from lemmar.survey import news
    from lemmar.trees.folder import FolderTree

    tree = FolderTree(read.root)
    clients = resolve(read.charter, gather(read.charter, tree))
    found = news(read.charter, tree, clients)
    rows: list[tuple[str, str, str]] = [("client", root, "no client of the charter has this folder") for root in found.clients]
    rows += [
        ("catalog", catalog.files[0], f"no pattern finds it ({len(catalog.files)} files, {len(catalog.locales)} locales)")
        for catalog in found.catalogs
    ]
    rows += [
        ("claim", f"{claim.file}:{claim.defects[0].line}", f"{client.name}: {claim.selector}: {claim.defects[0].detail}")
        for client in clients
        for claim in client.claims
        if claim.defects and not claim.entries
    ]
    if form != "text":
        write(FORMS[form](Table("survey-news", ("what", "where", "why"), rows)), target)
    else:
        from lemmar.cli._drawing import table

        nothing = ["the charter knows of all that the survey finds"]
        write(render(nothing if not rows else [table([("new", "left"), ("where", "left"), ("why", "left")], rows)], target), target)
    return Exit.CLEAR
