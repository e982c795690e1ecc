"""``make man``: manual pages of all commands, made from the commands themselves, into ``build/man``."""

from __future__ import annotations

import os
import sys
from pathlib import Path

OUT = Path(__file__).resolve().parent.parent / "build" / "man"


def main() -> None:
    """Writes the pages, without the date of the day."""
    os.environ["SOURCE_DATE_EPOCH"] = "0"
    import click
    from click_man.core import write_man_pages

    from lemmar import __version__
    from lemmar.cli import program

    out = Path(sys.argv[1]) if len(sys.argv) > 1 else OUT
    out.mkdir(parents=True, exist_ok=True)
    context = click.Context(program)
    commands = [(name, program.get_command(context, name)) for name in program.list_commands(context)]
    whole = click.Group("lemmar", {name: found for name, found in commands if found is not None}, help=program.help, params=program.params)
    write_man_pages("lemmar", whole, version=__version__, target_dir=str(out))
    print(f"wrote {len(list(out.glob('*.1')))} manual pages to {out}")


if __name__ == "__main__":
    main()
