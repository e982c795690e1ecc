"""``lemmar grid``: clients × locales, and who would see what."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.resolve.world import Answer, World
    from lemmar.tags import Tag


@click.command(short_help="Show clients × locales: the share of texts that users read in their language.")
@click.option("--by", "by", type=click.Choice(["part"]), help="A line for each part of each client, instead of a column for each client.")
@click.option("--claims", "by_claims", is_flag=True, help="Show instead in which places each client names each locale.")
@_options.charter
@_options.output(*_options.TABLES)
@_options.loudness
def command(by: str | None, by_claims: bool, charter_path: Path | None, form: str, target: Path | None) -> int:
    """Show for each client and locale which share of the texts users read in their own language, and what answers the rest.

    With --claims: locales down, each client's claims across, and where they differ.
    """
    from lemmar.audit import read_charter, survey_world
    from lemmar.cli._writing import remark, write
    from lemmar.report.tables import FORMS, Table
    from lemmar.resolve.world import ORIGINS

    read = read_charter(charter_path)
    remark(f"reading {len(read.charter.client)} clients of {read.root / read.file}", detail=True)
    world = survey_world(read)
    if by_claims:
        from lemmar.cli import _claims_grid
        from lemmar.cli._drawing import render

        write(render(_claims_grid.draw(world), target) if form == "text" else FORMS[form](_claims_grid.table(world)), target)
        return Exit.CLEAR
    if by == "part":
        from lemmar.cli._drawing import render

        found = [
            (client.name, part, locale, answer.messages, *answer)
            for client in world.clients
            for part in client.sources
            for locale in world.charter.locales
            if (effect := client.effects.get(locale)) is not None and (answer := effect.by_part.get(part)) is not None
        ]
        whole = Table("grid-parts", ("client", "part", "locale", "messages", *ORIGINS), found)
        write(render(_by_part(world), target) if form == "text" else FORMS[form](whole), target)
        return Exit.CLEAR
    if form == "text":
        from lemmar.cli._drawing import render

        write(render(draw(world), target), target)
        return Exit.CLEAR
    rows = [
        (client.name, locale, effect.answer.messages, *effect.answer)
        for client in world.clients
        for locale in world.charter.locales
        if (effect := client.effects.get(locale)) is not None
    ]
    write(FORMS[form](Table("grid", ("client", "locale", "messages", *ORIGINS), rows)), target)
    return Exit.CLEAR


def _by_part(world: World) -> list[Drawn]:
    """Parts down, locales across."""
    from lemmar.cli._drawing import plain, table

    rows: list[list[Drawn]] = []
    for client in world.clients:
        for part in client.sources:
            cells: list[Drawn] = []
            for locale in world.charter.locales:
                effect = client.effects.get(locale)
                answer = effect.by_part.get(part) if effect is not None else None
                if answer is None:
                    cells.append(plain("–", "faint"))
                else:
                    percent = "–" if not answer.messages else f"{100 * answer.complete // answer.messages} %"
                    cells.append(plain(percent, "" if answer.complete == answer.messages else "warning"))
            rows.append([client.name, part or "", *cells])
    heads = [("client", "left"), ("part", "left"), *((locale, "right") for locale in world.charter.locales)]
    return [table(heads, rows), "", plain("%: texts that users read in their own language. –: not supported.", "faint")]


_LETTERS = (("foreign", "f"), ("key", "k"), ("blank", "b"), ("error", "e"))


def share(answer: Answer) -> str:
    """The complete share in whole percent, never rounded up to 100 nor down to 0, and the letters of what answers the rest."""
    if not answer.messages:
        return "no texts"
    percent = 100 * answer.complete // answer.messages
    if answer.complete and not percent:
        percent = 1
    rest = [f"{getattr(answer, name):,}{letter}" for name, letter in _LETTERS if getattr(answer, name)]
    inherited = f" ({answer.inherited:,}i)" if answer.inherited and not rest else ""
    return " ".join([f"{percent} %", *rest]) + inherited


def draw(world: World) -> list[Drawn]:
    """The grid as parts to draw: locales down, clients across, in as many blocks as the width wants."""
    from lemmar.cli._drawing import plain, table, width

    clients = world.clients
    widest = [max([len(client.name), *(len(share(effect.answer)) for effect in client.effects.values())]) + 3 for client in clients]
    first = max(len(tag) for tag in world.charter.locales) + 8
    blocks: list[list[int]] = [[]]
    room = width() - first
    for index, need in enumerate(widest):
        if blocks[-1] and sum(widest[at] for at in blocks[-1]) + need > room:
            blocks.append([])
        blocks[-1].append(index)
    parts: list[Drawn] = []
    for block in blocks:
        rows = [[_locale(world, tag), *[_cell(world, index, tag) for index in block]] for tag in world.charter.locales]
        parts += [table([("locale", "left"), *[(clients[index].name, "right") for index in block]], rows), ""]
    legend = (
        "%: texts that users read in their own language. Of the rest, f: in another language,",
        "k: a raw key, b: nothing, e: an error. i: inherited from a parent locale.",
        "–: not supported. (trial): may be partial.",
    )
    parts += [plain(line, "faint") for line in legend]
    return parts


def _locale(world: World, tag: Tag) -> str:
    return f"{tag} (trial)" if tag in world.charter.roster.trial else tag


def _cell(world: World, index: int, tag: Tag) -> Drawn:
    from lemmar.cli._drawing import plain

    client = world.clients[index]
    effect = client.effects.get(tag)
    if effect is None:
        return plain("–", "error" if tag in client.needs else "faint")
    answer = effect.answer
    enough = world.charter.roster.trial.get(tag, 1.0)
    low = answer.complete < enough * answer.messages - 1e-9
    return plain(share(answer), "error" if low else "warning" if answer.complete < answer.messages else "")
