"""``lemmar landing``: where a user's request lands in each client, and why."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.resolve.world import World


@click.command(short_help="Say where users' requests land in each client, and why.")
@click.argument("requests", nargs=-1, metavar="REQUEST...")
@click.option("--client", "clients", multiple=True, metavar="NAME", help="Only this client.")
@click.option("--explain", is_flag=True, help="Tell each step in words.")
@_options.charter
@_options.output(*_options.TABLES)
@_options.loudness
def command(
    requests: tuple[str, ...], clients: tuple[str, ...], explain: bool, charter_path: Path | None, form: str, target: Path | None
) -> int:
    """Show in which locale each client answers each REQUEST: a tag, or a list of wishes as browsers send it (uk-UA,ru;q=0.5).

    Without REQUEST, those of the charter's [audience].
    """
    from lemmar.audit import read_charter, survey_world
    from lemmar.cli._writing import write
    from lemmar.errors import UsageError
    from lemmar.report.tables import FORMS, Table

    read = read_charter(charter_path)
    asked = requests or tuple(read.charter.audience)
    if not asked:
        raise UsageError("no request was named, and the charter has no [audience]; name one, such as de-CH")
    _options.check_known("client", clients, [client.name for client in read.charter.client])
    world = survey_world(read)
    rows = list(_rows(world, asked, clients))
    if form == "text" and explain:
        from lemmar.cli._drawing import render

        write(render(list(_draw_reasons(world, rows, asked)), target), target)
        return Exit.CLEAR
    if form != "text":
        columns = ("client", "request", "landing", "wanted", "step", "consulted")
        write(FORMS[form](Table("landing", columns, rows)), target)
        return Exit.CLEAR
    from lemmar.cli._drawing import render

    write(render(list(_draw(rows, asked)), target), target)
    return Exit.CLEAR


def _rows(world: World, asked: Iterable[str], clients: tuple[str, ...]) -> Iterable[tuple[Any, ...]]:
    from lemmar.resolve.runtimes import consulted, land

    for client in world.clients:
        if clients and client.name not in clients:
            continue
        written = {tag: literal for literal, tag in client.meant.items()}
        held = {written.get(catalog.tag, catalog.tag) for catalog in client.catalogs}
        with_catalog = [*client.runtime.supported, *sorted(held - set(client.runtime.supported))]
        unmarked = next((tag for tag in sorted(held) if client.landed(tag) == world.charter.source), None)
        unmarked = unmarked if client.traits["unmarked"].value in ("default", "root") else None
        for request in asked:
            found = land(client.runtime, request)
            chain = consulted(client.runtime, found, [tag for tag in with_catalog if tag in held], unmarked)
            yield client.name, request, found.tag, world.charter.audience.get(request), found.step, chain


def _draw_reasons(world: World, rows: list[tuple[Any, ...]], asked: Iterable[str]) -> Iterable[Drawn]:
    """For each request and client where it lands, step for step in words; clients that answer alike stand together."""
    from lemmar.cli._drawing import plain
    from lemmar.resolve.explaining import reasons

    runtimes = {client.name: client.runtime for client in world.clients}
    for request in asked:
        alike: dict[tuple[str, ...], list[str]] = {}
        for client, wish, landing, wanted, _, chain in rows:
            if wish == request:
                wrong = f", and {wanted} is wanted" if wanted not in (None, "agree", landing) else ""
                behind = " → ".join(chain) or "none"
                story = (f"{landing}{wrong}", *reasons(runtimes[client], request), f"catalogs asked: {behind}")
                alike.setdefault(story, []).append(client)
        for (landing, *lines), names in alike.items():
            yield plain(f"{request} lands in {landing}: {', '.join(names)}", "strong")
            yield from (plain(f"  {line}") for line in lines)
            yield ""


def _draw(rows: list[tuple[Any, ...]], asked: Iterable[str]) -> Iterable[Drawn]:
    from lemmar.cli._drawing import plain, table

    by_client: dict[str, list[Drawn]] = {}
    for client, _request, landing, wanted, step, _chain in rows:
        wrong = wanted not in (None, "agree") and landing != wanted
        shown = f"≠ {landing}" if wrong else f"{landing} (default)" if step == "the default" else str(landing)
        by_client.setdefault(client, []).append(plain(shown, "error" if wrong else "faint" if step == "the default" else ""))
    yield table([("client", "left"), *((request, "left") for request in asked)], [[client, *cells] for client, cells in by_client.items()])
    yield ""
    yield plain("≠: elsewhere than the charter wants. (default): nothing of what was wished for is there.", "faint")
