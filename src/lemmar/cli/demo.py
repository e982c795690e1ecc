"""``lemmar demo``: a made-up monorepo to try things on."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn


@click.command(short_help="Write a made-up monorepo, audit it, and say what to try next.")
@click.option("--sound", is_flag=True, help="Without the planted mistakes: everything is right.")
@click.option(
    "--into", "folder", type=click.Path(path_type=Path, file_okay=False), default=Path("tarnhut"), show_default=True, metavar="FOLDER",
    help="Where to write it; the folder must be empty or not be there.",
)  # fmt: skip
@_options.loudness
def command(sound: bool, folder: Path) -> int:
    """Write the monorepo of Tarnhut, which lets bunks in mountain huts, audit it and show its grid.

    Exits 0 when it could do so, whatever the verdict.
    """
    import shlex

    from lemmar.audit import audit, read_charter
    from lemmar.cli import _verdict, grid
    from lemmar.cli._drawing import plain, render
    from lemmar.cli._writing import remark, write
    from lemmar.demo import write_monorepo

    number = write_monorepo(folder, sound)
    remark(f"wrote {number} files to {folder}{'' if sound else ', with the mistakes that practitioners make'}")
    found = audit(read_charter(folder / "lemmar.toml"))
    write(_verdict.draw(found, (), (), False, None), None)
    write(render(["", *grid.draw(found.world)], None), None)
    tries = [
        "lemmar audit --rule message.missing",
        "lemmar client ridge-pocket",
        "lemmar rules roster.split",
        "lemmar read clients/summit-trail/Content/words.tsv",
    ]
    hints: list[Drawn] = ["", f"to try next:  cd {shlex.quote(str(folder))}", *[plain(f"              {line}") for line in tries]]
    write(render(hints, None), None)
    return Exit.CLEAR
