"""``lemmar demo``: a made-up monorepo to try things on."""

from __future__ import annotations

import shlex
from pathlib import Path

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Write a made-up monorepo, audit it, and say what to try next.")
@click.option("--sound", is_flag=True, help="Leave out the planted mistakes.")
@click.option("--history", is_flag=True, help="Make it a git repository with six tagged releases, in which things get better and worse.")
@click.option(
    "--into", "folder", type=_options.PathName(path_type=Path, file_okay=False), default=Path("tarnhut"), show_default=True, metavar="FOLDER",
    help="Where to write it; the folder must be empty or not exist.",
)  # fmt: skip
@_options.loudness
def command(sound: bool, history: bool, folder: Path) -> int:
    """Write the monorepo of Tarnhut, which rents out bunks in mountain huts, audit it and show its grid.

    Exits 0 if that worked, whatever the verdict.
    """
    from lemmar.auditing.pipeline import fresh_verdict, world_of_charter
    from lemmar.basics.errors import UsageError
    from lemmar.basics.text import visible
    from lemmar.cli._running import charter_of
    from lemmar.cli._showing import page_for
    from lemmar.cli._writing import remark, write
    from lemmar.demo import RELEASES, monorepo_files, write_history, write_monorepo
    from lemmar.report import Filter, load
    from lemmar.views import grid

    if sound and history:
        raise UsageError("the releases have planted mistakes; leave --sound or --history out")
    number = write_history(folder) if history else write_monorepo(folder, monorepo_files(sound))
    remark(f"wrote {number} files to {folder}{'' if sound else ', with planted mistakes'}{', as a git repository' if history else ''}")
    read, tree = charter_of(folder / "lemmar.toml")
    found, world = fresh_verdict(read, tree), world_of_charter(read, tree)
    text, page = load("text"), page_for(None)
    assert text.findings is not None and text.table is not None
    write([*text.findings(found, Filter(), page), "\n", *text.table(grid.view(world), page)], None)
    if history:
        write(["\n", *_releases(folder)], None)
    tries = [
        *(
            [f"lemmar audit --at {RELEASES[2].tag}", f"lemmar audit --since {RELEASES[-2].tag}", "lemmar report report.html"]
            if history
            else []
        ),
        "lemmar audit --rule message.missing",
        "lemmar client ridge-pocket",
        "lemmar rules roster.split",
        "lemmar read clients/summit-trail/Content/words.tsv",
    ]
    write(["\n", f"to try next:  cd {visible(shlex.quote(str(folder)))}\n", *[f"              {line}\n" for line in tries]], None)
    return Exit.CLEAR


def _releases(folder: Path) -> list[str]:
    """The verdict on each release, a line each."""
    from lemmar import audit
    from lemmar.demo import RELEASES

    lines = ["release   errors   warnings   notes   verdict\n"]
    for release in RELEASES:
        found = audit(folder / "lemmar.toml", at=release.tag, today=release.day)
        numbers = [sum(each.severity == name for each in found.findings) for name in ("error", "warning", "note")]
        lines.append(f"{release.tag:7}   {numbers[0]:6}   {numbers[1]:8}   {numbers[2]:5}   {found.word}\n")
    return lines
