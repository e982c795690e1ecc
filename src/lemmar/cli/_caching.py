"""The cache that a command uses: the one that was named, the user's own, or none."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import click

from lemmar.basics.errors import UsageError
from lemmar.cache import Cache, Nothing, Store, default_folder
from lemmar.cli._writing import remark


def folder_of(named: Path | None) -> Path:
    """The cache folder: *named*, else the user's own. Raises `UsageError` where the user has none."""
    if named is not None:
        return named
    try:
        return default_folder()
    except RuntimeError as error:  # nobody knows the user's home
        raise UsageError(f"there is no cache folder ({error}); name one with --cache, or say --no-cache") from error


@contextmanager
def opened(root: Path) -> Iterator[Cache]:
    """The cache for the audit of the monorepo in *root*, whose new contents are written at the end.

    Raises:
        UsageError: it would lie in the monorepo, where a commit could forge it.
    """
    meta = click.get_current_context().meta
    if meta.get("lemmar.no_cache"):
        yield Nothing()
        return
    named = meta.get("lemmar.cache")
    try:
        folder = folder_of(named)
    except UsageError:
        yield Nothing()
        return
    if named is not None and folder.resolve().is_relative_to(root):
        raise UsageError(f"the cache folder {folder} lies in the monorepo, where a commit could forge it; name another --cache")
    if folder.resolve().is_relative_to(root):  # a home that is audited
        yield Nothing()
        return
    told: set[str] = set()

    def tell(words: str) -> None:
        if not told:
            remark(words)
        told.add(words)

    store = Store(folder, tell)
    try:
        yield store
    finally:
        store.close()
