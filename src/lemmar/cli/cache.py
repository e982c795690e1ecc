"""``lemmar cache``: what is kept from one audit to the next, and where."""

from __future__ import annotations

from pathlib import Path

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Show what is kept from one audit to the next, or clear it.")
@click.option(
    "--cache", "folder", type=_options.PathName(path_type=Path, file_okay=False), metavar="DIR", help="Default: the user's cache folder."
)
@click.option("--clear", is_flag=True, help="Remove all that is kept.")
@_options.output_of_tables
@_options.loudness
def command(folder: Path | None, clear: bool, form: str, target: Path | None) -> int:
    """Show what is kept from one audit to the next: where, how much, how large. A verdict is the same without it, only slower. With --clear,
    remove it.
    """
    from lemmar.basics.errors import TreeError
    from lemmar.cache import Store
    from lemmar.cli._caching import folder_of
    from lemmar.cli._showing import show
    from lemmar.cli._writing import remark
    from lemmar.views import cache

    store = Store(folder_of(folder), remark)
    if not clear:
        show(cache.view(store), form, target)
        return Exit.CLEAR
    size = store.size()
    try:
        store.clear()
    except OSError as error:
        raise TreeError(f"the cache {store.file} cannot be removed: {error.strerror or error}") from error
    remark(f"removed {cache.sized(size)} from {store.file.parent}")
    return Exit.CLEAR
