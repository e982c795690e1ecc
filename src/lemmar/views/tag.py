"""What language tags mean, side by side; two of them held against each other."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from lemmar.report import Drawn, Table, View, drawn_table, joined, plain
from lemmar.tags import LanguageTag
from lemmar.tags.describing import Comparison, Description, compare, describe


def view(texts: Sequence[str]) -> tuple[View, bool]:
    """What is known of each text, and whether all are valid tags."""
    found = [describe(text) for text in texts]
    rows = [_record(each) for each in found]
    table = Table("tag", tuple(rows[0]), [tuple(row.values()) for row in rows])
    return View(table, lambda _page: _draw(found)), all(each.valid for each in found)


def comparison(first: LanguageTag, second: LanguageTag, names: tuple[str, str]) -> View:
    """Two tags, called *names*: the same locale or not, their distances, who falls back to whom."""
    found = compare(first, second)
    columns = ("first", "second", "same", "why", "distance", "distance_back", "first_to_second", "second_to_first")
    row = (*names, found.same, found.why, *found.distances, *found.falls)
    lines = [joined(("the same locale" if found.same else "two locales", "strong"), f": {found.why}"), *_ways(names, found)]
    return View(Table("tags", columns, [row]), lambda _page: lines)


_FACTS = ("canonical", "english", "own", "script", "direction", "likely", "shortest", "parents", "plurals", "spellings")


def _record(each: Description) -> dict[str, Any]:
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
    return record


def _draw(found: list[Description]) -> Iterable[Drawn]:
    lines = [dict(_lines(each)) for each in found]
    names = list(dict.fromkeys(name for each in lines for name in each))
    order = [name for name in _ORDER if name in names]
    columns = [("", "left"), *((each.text, "left") for each in found)]
    yield drawn_table(columns, [[name, *(each.get(name, "–") for each in lines)] for name in order])


_ORDER = (
    "well-formed", "valid", "problems", "meant", "canonical", "means", "its own name", "script", "likely form", "shortest", "parents", "cardinals",
    "ordinals", "bcp47", "posix", "java", "android", "lproj", "dotnet", "name",
)  # fmt: skip


def _lines(each: Description) -> Iterable[tuple[str, Any]]:
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


def _ways(tags: tuple[str, ...], found: Comparison) -> list[Drawn]:
    return [f"{tags[0]} to {tags[1]}: {found.falls[0]}", f"{tags[1]} to {tags[0]}: {found.falls[1]}"]
