"""What a shell offers to complete: names from the charter that the command would use, and rules.

A shell asks in the middle of a line: whatever is wrong, nothing is offered, and nothing is said.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import click

if TYPE_CHECKING:
    from lemmar.charter.origins import Origin
    from lemmar.charter.reading import ReadCharter

#: Of more keys only the first are offered.
_MOST = 200
Complete = Callable[[click.Context, click.Parameter, str], list[str]]


def _completing(names: Callable[[click.Context], Iterable[str]]) -> Complete:
    def complete(ctx: click.Context, _parameter: click.Parameter, begun: str) -> list[str]:
        with suppress(Exception):
            return [name for name in dict.fromkeys(names(ctx)) if name.startswith(begun)][:_MOST]
        return []

    return complete


def _origin(ctx: click.Context) -> Origin:
    from lemmar.charter.origins import origin

    named = ctx.params.get("charter_path")
    return origin(None if named is None else Path(named), ctx.meta.get("lemmar.at"), Path.cwd())


def _charter(ctx: click.Context) -> ReadCharter:
    from lemmar.charter.reading import parsed

    return parsed(_origin(ctx).file)


def _rules(_ctx: click.Context) -> list[str]:
    from lemmar.rules import all_rules

    return [*dict.fromkeys(rule.partition(".")[0] for rule in all_rules()), *all_rules()]


def _keys(ctx: click.Context) -> Iterable[str]:
    """The keys of the source of the clients that are named, else of all; from the cache, where they are there."""
    from lemmar.cache import Store, code_digest, default_folder
    from lemmar.inventory import gather
    from lemmar.inventory.readings import Readings
    from lemmar.resolve import resolve

    where = _origin(ctx)
    store = Store(default_folder())
    try:
        charter = _charter(ctx).charter
        inventory = gather(charter, where.tree(store), Readings(cache=store, code=code_digest()))
    finally:
        store.close()
    asked = ctx.params.get("clients") or ()
    clients = [client for client in resolve(charter, inventory) if not asked or client.name in asked]
    return [key for client in clients for source in client.sources.values() for key in source.keys]


rules = _completing(_rules)
clients = _completing(lambda ctx: [client.name for client in _charter(ctx).charter.client])
locales = _completing(lambda ctx: _charter(ctx).charter.locales)
gates = _completing(lambda ctx: _charter(ctx).charter.gates)
requests = _completing(lambda ctx: _charter(ctx).charter.audience)
keys = _completing(_keys)
