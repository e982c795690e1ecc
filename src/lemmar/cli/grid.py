"""``lemmar grid``: clients × locales, and who would see what."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show clients × locales: the share of texts that users read in their language.")
@click.option(
    "--by",
    "by",
    type=click.Choice(["part", "asset", "size"]),
    help="A line for each part or table of assets of a client, or the bytes that users load.",
)
@click.option("--claims", "by_claims", is_flag=True, help="Show instead which places of each client list each locale.")
@_options.charter
@_options.output_of_tables
@_options.loudness
def command(by: str | None, by_claims: bool, charter_path: Path | None, form: str, target: Path | None) -> int:
    """Show for each client and locale what share of the texts users read in their own language, and what they see for the rest.

    With --claims: locales down, each client's claims across, and where they differ. With -o grid.svg, or .png: as a figure.
    """
    from lemmar.cli._running import charter_of, world_in
    from lemmar.cli._showing import show
    from lemmar.cli._writing import write_file
    from lemmar.inventory.assets import sizes_of
    from lemmar.views import claims, grid
    from lemmar.views.figures import is_figure, of_grid, picture

    if is_figure(target) and (by is not None or by_claims or form != "text"):
        raise UsageError("the figure is of the grid itself; leave --by, --claims and --format out, or name another --output")
    read, tree = charter_of(charter_path)
    world = world_in(read, tree)
    if target is not None and is_figure(target):
        write_file([picture(of_grid(world), target.suffix)], target)
        return Exit.CLEAR
    if by_claims:
        show(claims.view(world), form, target)
    elif by == "size":
        show(grid.by_size(world, lambda file: sizes_of(tree, {file}).get(file, 0)), form, target)
    elif by == "asset" and not any(client.assets for client in world.clients):
        raise UsageError("no client of the charter has assets; say where they are in a [[client.asset]]")
    else:
        show({"part": grid.by_part, "asset": grid.by_asset}.get(by or "", grid.view)(world), form, target)
    return Exit.CLEAR
