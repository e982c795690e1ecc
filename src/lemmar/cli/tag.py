"""``lemmar tag``: what a language tag means, or was meant to."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from lemmar.cli import _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.cli._drawing import Drawn
    from lemmar.tags.describing import Comparison, Description


@click.command(short_help="Say what a language tag means, or was meant to.")
@click.argument("tags", nargs=-1, required=True, metavar="TAG...")
@click.option(
    "--compare", is_flag=True, help="Hold two tags against each other: the same locale or not, their distance, who falls back to whom."
)
@_options.output(*_options.TABLES)
@_options.loudness
def command(tags: tuple[str, ...], compare: bool, form: str, target: Path | None) -> int:
    """Say of each TAG whether it is well-formed, valid and canonical, what it means, how each platform writes it, and what was likely
    meant where it is wrong. Several are shown side by side.

    Exits 0 when all are valid, 1 when one is not.
    """
    from lemmar.cli._drawing import render
    from lemmar.cli._writing import write
    from lemmar.report.tables import FORMS, Table
    from lemmar.tags.describing import describe

    if compare:
        return _compare(tags, form, target)
    found = [describe(text) for text in tags]
    if form == "text":
        write(render(_draw(found), target), target)
    else:
        rows = [_record(each, flat=form != "json") for each in found]
        write(FORMS[form](Table("tag", tuple(rows[0]), [tuple(row.values()) for row in rows])), target)
    return Exit.CLEAR if all(each.valid for each in found) else Exit.HOLD


_FACTS = ("canonical", "english", "own", "script", "direction", "likely", "shortest", "parents", "plurals", "spellings")


def _record(each: Description, flat: bool) -> dict[str, Any]:
    record: dict[str, Any] = {
        "text": each.text,
        "well_formed": each.tag is not None,
        "valid": each.valid,
        "tag": str(each.tag) if each.tag else None,
        "problems": [each.fault] if each.fault else list(each.problems),
        "meant": [{"tag": str(one.tag), "reason": one.reason} for one in each.meant],
        "read_as": each.read_as,
    }
    record |= {name: each.facts.get(name) for name in _FACTS}
    if not flat:
        return record
    import json

    return {name: json.dumps(value, ensure_ascii=False) if isinstance(value, (dict, list)) else value for name, value in record.items()}


def _draw(found: list[Description]) -> Iterable[Drawn]:
    from lemmar.cli._drawing import table

    lines = [dict(_lines(each)) for each in found]
    names = list(dict.fromkeys(name for each in lines for name in each))
    order = [name for name in _ORDER if name in names]
    columns = [("", "left"), *((each.text, "left") for each in found)]
    yield table(columns, [[name, *(each.get(name, "–") for each in lines)] for name in order])


_ORDER = (
    "well-formed", "valid", "problems", "meant", "canonical", "means", "its own name", "script", "likely form", "shortest", "parents", "cardinals",
    "ordinals", "bcp47", "posix", "java", "android", "lproj", "dotnet", "name",
)  # fmt: skip


def _lines(each: Description) -> Iterable[tuple[str, Any]]:
    from lemmar.cli._drawing import plain

    yield "well-formed", plain("yes") if each.tag else plain(f"no: {(each.fault or '').partition(': ')[2]}", "error")
    if each.tag:
        yield "valid", plain("yes") if each.valid else plain("no", "error")
    if each.problems:
        yield "problems", "; ".join(each.problems)
    if each.meant:
        yield "meant", plain("; or ".join(f"{one.tag}: {one.reason}" for one in each.meant[:3]), "strong")
    facts = each.facts
    if not facts:
        return
    yield "canonical", "yes" if facts["canonical"] == each.text else f"no: {facts['canonical']}"
    yield "means", facts["english"]
    yield "its own name", facts["own"] or "–"
    side = "right to left" if facts["direction"] == "rtl" else "left to right"
    yield "script", f"{facts['script']}, {side}" if facts["script"] else "not known"
    yield "likely form", facts["likely"]
    yield "shortest", facts["shortest"]
    yield "parents", " → ".join(facts["parents"]) or "none"
    for kind in ("cardinal", "ordinal"):
        yield f"{kind}s", "; ".join(f"{category}: {', '.join(numbers) or '…'}" for category, numbers in facts["plurals"][kind].items())
    yield from facts["spellings"].items()


def _compare(tags: tuple[str, ...], form: str, target: Path | None) -> int:
    from lemmar.cli._drawing import joined, render
    from lemmar.cli._writing import write
    from lemmar.errors import UsageError
    from lemmar.report.tables import FORMS, Table
    from lemmar.tags import LanguageTag, TagError
    from lemmar.tags.describing import compare

    if len(tags) != 2:
        raise UsageError(f"--compare takes two tags, found {len(tags)}")
    try:
        first, second = map(LanguageTag.parse, tags)
    except TagError as error:
        raise UsageError(str(error)) from error
    found = compare(first, second)
    if form != "text":
        columns = ("first", "second", "same", "why", "distance", "distance_back", "first_to_second", "second_to_first")
        row = (*tags, found.same, found.why, *found.distances, *found.falls)
        write(FORMS[form](Table("tags", columns, [row])), target)
        return Exit.CLEAR
    lines = [joined(("the same locale" if found.same else "two locales", "strong"), f": {found.why}"), *_ways(tags, found)]
    write(render(lines, target), target)
    return Exit.CLEAR


def _ways(tags: tuple[str, ...], found: Comparison) -> list[Drawn]:
    return [f"{tags[0]} to {tags[1]}: {found.falls[0]}", f"{tags[1]} to {tags[0]}: {found.falls[1]}"]
