"""``lemmar landing``: where a user's request lands in each client, and why."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show which locale each client answers a request with, and why.")
@click.argument("requests", shell_complete=_completing.requests, nargs=-1, metavar="REQUEST...")
@click.option("--client", "clients", shell_complete=_completing.clients, multiple=True, metavar="NAME", help="Only this client.")
@click.option("--explain", is_flag=True, help="Explain each step in words.")
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(
    requests: tuple[str, ...], clients: tuple[str, ...], explain: bool, charter_path: Path | None, form: str, target: Path | None
) -> int:
    """Show which locale each client answers each REQUEST with: a tag, or a list as browsers send it (uk-UA,ru;q=0.5).

    Without REQUEST, the requests of the charter's [audience]. With -o landing.svg, or .png: as a figure.
    """
    from lemmar.cli._running import chosen, world_of
    from lemmar.cli._showing import show
    from lemmar.cli._writing import write_file
    from lemmar.views import landings
    from lemmar.views.figures import is_figure, of_landings, picture

    world = world_of(charter_path)
    asked = requests or tuple(world.charter.audience)
    if not asked:
        raise UsageError("no request was named, and the charter has no [audience]; name one, such as de-CH")
    if target is not None and is_figure(target):
        if explain or form != "text":
            raise UsageError("the figure is of the table of landings; leave --explain and --format out, or name another --output")
        write_file([picture(of_landings(world, chosen(world, clients), asked), target.suffix)], target)
        return Exit.CLEAR
    show(landings.view(world, chosen(world, clients), asked, explain), form, target)
    return Exit.CLEAR
