"""``lemmar demo``: a made-up monorepo to try things on."""

from __future__ import annotations

import shlex
from pathlib import Path

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Write a made-up monorepo, audit it, and say what to try next.")
@click.option("--sound", is_flag=True, help="Leave out the planted mistakes.")
@click.option(
    "--into", "folder", type=_options.PathName(path_type=Path, file_okay=False), default=Path("tarnhut"), show_default=True, metavar="FOLDER",
    help="Where to write it; the folder must be empty or not exist.",
)  # fmt: skip
@_options.loudness
def command(sound: bool, folder: Path) -> int:
    """Write the monorepo of Tarnhut, which rents out bunks in mountain huts, audit it and show its grid.

    Exits 0 if that worked, whatever the verdict.
    """
    from lemmar.auditing import audit, world_of_charter
    from lemmar.cli._running import charter_of
    from lemmar.cli._showing import page_for
    from lemmar.cli._writing import remark, write
    from lemmar.demo import write_monorepo
    from lemmar.report import Shown, load
    from lemmar.text import visible
    from lemmar.views import grid

    number = write_monorepo(folder, sound)
    remark(f"wrote {number} files to {folder}{'' if sound else ', with planted mistakes'}")
    read, tree = charter_of(folder / "lemmar.toml")
    found, world = audit(read, tree), world_of_charter(read, tree)
    text, page = load("text"), page_for(None)
    assert text.findings is not None and text.table is not None
    write([*text.findings(found, Shown(), page), "\n", *text.table(grid.view(world), page)], None)
    tries = [
        "lemmar audit --rule message.missing",
        "lemmar client ridge-pocket",
        "lemmar rules roster.split",
        "lemmar read clients/summit-trail/Content/words.tsv",
    ]
    write(["\n", f"to try next:  cd {visible(shlex.quote(str(folder)))}\n", *[f"              {line}\n" for line in tries]], None)
    return Exit.CLEAR
