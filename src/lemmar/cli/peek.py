"""``lemmar peek``: what users see for a message, per client and locale."""

from __future__ import annotations

import fnmatch
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.resolve.peeking import Sight
    from lemmar.resolve.world import World


@click.command(short_help="Show what users see for a message, per client and locale.")
@click.argument("key", required=False)
@click.option("--text", "words", metavar="WORDS", help="Find the message by its text in any locale, not by its key.")
@click.option("--client", "clients", multiple=True, metavar="NAME", help="Only this client.")
@click.option("--locale", "locales", multiple=True, metavar="TAG", help="Only this locale of the roster.")
@click.option("--part", metavar="NAME", help="Only this part.")
@_options.charter
@_options.output(*_options.TABLES)
@_options.loudness
def command(
    key: str | None,
    words: str | None,
    clients: tuple[str, ...],
    locales: tuple[str, ...],
    part: str | None,
    charter_path: Path | None,
    form: str,
    target: Path | None,
) -> int:
    """Show what users of each locale see for the message KEY (* matches) in each client, and from which locale it comes."""
    from lemmar.audit import read_charter, survey_world
    from lemmar.cli._writing import write
    from lemmar.errors import UsageError
    from lemmar.report.tables import FORMS, Table

    if (key is None) == (words is None):
        raise UsageError("name a key, or words of its text with --text")
    read = read_charter(charter_path)
    _options.check_known("client", clients, [client.name for client in read.charter.client])
    _options.check_known("locale on the roster", locales, read.charter.locales)
    world = survey_world(read)
    found = list(_sights(world, key, words, clients, locales, part))
    if not found:
        raise UsageError(f"no client has a message {key!r}" if key is not None else f"no client has a text with {words!r}")
    if form != "text":
        rows = [tuple(sight) for sight in found]
        write(FORMS[form](Table("peek", ("client", "locale", "part", "key", "text", "origin", "from"), rows)), target)
        return Exit.CLEAR
    from lemmar.cli._drawing import render

    write(render(list(_draw(found)), target), target)
    return Exit.CLEAR


def _sights(
    world: World, key: str | None, words: str | None, clients: tuple[str, ...], locales: tuple[str, ...], part: str | None
) -> Iterator[Sight]:
    from lemmar.resolve.peeking import sights

    for client in world.clients:
        if clients and client.name not in clients:
            continue
        source = next((tag for tag, known in client.known_as.items() if known == world.charter.source), world.charter.source)
        for name, held in client.sources.items():
            if part is not None and name != part:
                continue
            keys = _matching(client, name, held.keys, key, words)
            for locale in world.charter.locales:
                if not locales or locale in locales:
                    yield from sights(client, locale, name, keys, source)


def _matching(client: Any, part: str | None, keys: tuple[str, ...], pattern: str | None, words: str | None) -> list[str]:
    if pattern is not None:
        return [key for key in keys if key == pattern or fnmatch.fnmatchcase(key, pattern)]
    wanted = (words or "").casefold()
    found = set()
    for catalogs in client.by_part.get(part, {}).values():
        for catalog in catalogs:
            found |= {
                key for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True) if text and wanted in text.casefold()
            }
    return [key for key in keys if key in found]


_MARKS = {"own": "", "inherited": "↑ ", "foreign": "≠ ", "key": "# ", "blank": "∅ ", "error": "! "}


def _draw(found: list[Sight]) -> Iterable[Drawn]:
    from lemmar.cli._drawing import plain, table

    groups: dict[tuple[str, str | None, str], list[Sight]] = {}
    for sight in found:
        groups.setdefault((sight.client, sight.part, sight.key), []).append(sight)
    for (client, part, key), those in groups.items():
        yield plain(f"{client}  {f'{part}: ' if part else ''}{key}", "strong")
        yield table([("locale", "left"), ("users see", "left"), ("from", "left")], [_row(sight) for sight in those])
        yield ""
    yield plain("↑ inherited from a parent, ≠ in another language, # the raw key, ∅ nothing, ! an error.", "faint")


def _row(sight: Sight) -> list[Any]:
    from lemmar.cli._drawing import plain

    shown = sight.text if sight.text else {"blank": "(nothing)", "error": "(an error)"}.get(sight.origin, "(nothing)")
    style = {"own": "", "inherited": "faint"}.get(sight.origin, "error")
    return [sight.locale, plain(_MARKS[sight.origin] + shown, style), sight.source if sight.origin != "own" and sight.source else ""]
