"""The tag family: is every locale written so that it means what its writer meant?"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import counted, joined, listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Named, Spot
from lemmar.inventory.locales import Speller
from lemmar.resolve.chains import divergences, origins, script_origin
from lemmar.resolve.pairing import scripts_of
from lemmar.resolve.spots import named_spot
from lemmar.resolve.world import Client, World
from lemmar.rules import Hides, Problem, rule
from lemmar.selectors import Value
from lemmar.tags import LanguageTag, Tag, write_spelling

_LONE = (Hides(("tag.ambiguous", "tag.overspecified"), ("entry",)),)


class _Written(NamedTuple):
    """A locale as a place writes it; *where* names the kind of place, *group* the list that it belongs to."""

    clients: tuple[str, ...]
    entry: Named
    spot: Spot
    where: str
    group: tuple[object, ...]


def _claimed(client: Client) -> Iterator[_Written]:
    patterns = {f"files {pattern.files}" for pattern in client.patterns}
    for number, claim in enumerate(client.claims):
        for entry in claim.entries if claim.selector not in patterns else ():  # the names of a catalog's files are told as such
            spot = named_spot(claim, entry)
            if spot is not None:
                links_of = entry.value.label if claim.states == "chain" else None  # one locale may be a link of many
                yield _Written((client.name,), entry, spot, str(spot.file), (client.name, number, links_of))


def _named(client: Client) -> Iterator[_Written]:
    """Names of files and folders, each spelling once a catalog, and headers of columns, each time."""
    seen: set[tuple[str, bool]] = set()
    sheets = {catalog.file for catalog in client.catalogs if catalog.column.label}
    for file, entry in client.names:
        header = file in sheets
        if header or (entry.value.text, header) not in seen:
            seen.add((entry.value.text, header))
            spot = Spot(file, line=entry.value.line, column=entry.value.column)
            yield _Written((client.name,), entry, spot, f"a column of {file}" if header else "a file's name", (file,) if header else ())


def _marked(client: Client) -> Iterator[_Written]:
    """The languages that files say they are in."""
    speller = Speller("auto", {})
    for catalog in client.catalogs:
        if catalog.column.mark:
            spot = Spot(catalog.file, catalog.digest, line=1, column=1)
            yield _Written((client.name,), speller.read(Value(catalog.column.mark, 1, 1)), spot, f"the mark of {catalog.file}", ())


def _written(world: World) -> Iterator[_Written]:
    for client in world.clients:
        yield from _claimed(client)
        yield from _named(client)
        yield from _marked(client)


def _faulty(world: World, fault: str) -> Iterator[_Written]:
    return (written for written in _written(world) if written.entry.fault == fault)


def _problem(written: _Written, text: str, effect: str, remedy: str = "") -> Problem:
    clients, entry, spot, _, _ = written
    advice = remedy or (
        f"write {entry.wanted!r}" if entry.wanted else "write a language tag, or map the word under 'spelled' in the charter"
    )
    return Problem(Subject(clients, entry.tag), text, spot, effect, advice, detail=entry.value.text)


@rule("tag.malformed", "error", "A place that should name a locale does not.", hides=_LONE)
def malformed(world: World) -> Iterator[Problem]:
    """The word is not a language tag in the spelling of its place, so the language it was meant for is not there.

    Reported once for each place in a claim, file name or header. If a name or a slip of the keyboard shows what was meant, the
    finding says so, and the place counts as that. Not reported: a locale in another spelling (`tag.noncanonical`).
    To fix: write the locale in the spelling of the place, or map the word under `spelled`.
    """
    for written in _faulty(world, "malformed"):
        entry = written.entry
        spelling = "any spelling" if entry.spelling == "auto" else f"the spelling {entry.spelling!r}"
        why = f"; {entry.advice}" if entry.advice else ""
        yield _problem(written, f"{entry.value.text!r} in {written.where} is not a locale in {spelling}{why}", _NOT_FOUND)


_NOT_FOUND = "users of that language get the default instead"


@rule("tag.unregistered", "error", "A subtag is not in the IANA registry.", hides=_LONE)
def unregistered(world: World) -> Iterator[Problem]:
    """No library knows a subtag that is not registered: the tag never matches what users ask for.

    Reported once for each place, with the likely meaning if it is a slip of the keyboard. Subtags for private use are fine.
    To fix: look the subtag up (`lemmar tag`), and write the registered one.
    """
    for written in _faulty(world, "unregistered"):
        entry = written.entry
        yield _problem(written, f"{entry.value.text!r} in {written.where}: {entry.advice}", _NOT_FOUND)


@rule("tag.region-as-language", "error", "A country's code is used as a language.", hides=_LONE)
def region_as_language(world: World) -> Iterator[Problem]:
    """`cn` is China, `jp` Japan, `ua` Ukraine: codes of countries. No such languages exist, and nobody who asks for Chinese
    ever gets `cn`.

    Reported once for each place, with the language that was likely meant; the place counts as that for all other rules.
    To fix: write the language's tag.
    """
    for written in _faulty(world, "region-as-language"):
        yield _problem(
            written,
            f"{written.entry.value.text!r} in {written.where} should be {written.entry.wanted!r}: {written.entry.advice.partition(';')[0]}",
            _NOT_FOUND,
        )


@rule("tag.deprecated", "warning", "A subtag is deprecated.", hides=_LONE)
def deprecated(world: World) -> Iterator[Problem]:
    """The registry has replaced the subtag (`iw` is now `he`, `mo` is `ro`): some libraries know the old one, some the new.

    Reported once for each place. Not reported: spellings that use the old one themselves, such as `iw` in `java` and `android`. To fix:
    write the new subtag everywhere at once. `lemmar mend` writes the tag so.
    """
    for written in _faulty(world, "deprecated"):
        entry = written.entry
        advice = f"; {entry.advice}" if entry.advice else ""
        yield _problem(
            written,
            f"{entry.value.text!r} in {written.where} is deprecated{advice}",
            "a client that knows only the new one does not find it",
        )


@rule("tag.noncanonical", "warning", "A locale is not written as its place requires.", hides=_LONE)
def noncanonical(world: World) -> Iterator[Problem]:
    """Programs compare tags letter by letter: a list with `pt-br` and a folder `pt-BR` do not meet on every system.

    Reported once for each place with the wrong case, separators or platform spelling, or a tag that has been replaced (`zh-cmn`,
    `i-klingon`); once for a list, or for a client's files, where three or more are written so. To fix: write it as the finding says.
    `lemmar mend` writes the tag so.
    """
    habits: dict[tuple[object, ...], list[_Written]] = {}
    for written in _faulty(world, "noncanonical"):
        habits.setdefault((written.clients, written.where, written.group[:2]), []).append(written)
    for those in habits.values():
        if len(those) < _HABIT:
            yield from (_noncanonical(written) for written in those)
            continue
        shown = joined([f"{written.entry.value.text!r} should be {written.entry.wanted!r}" for written in those], 3)
        where = "the names of files" if those[0].where == "a file's name" else those[0].where
        text = f"{len(those)} locales in {where} are not written as the place requires: {shown}"
        related = tuple(written.spot for written in those[1:4])
        yield replace(_problem(those[0], text, _LETTERS, "write them so, or name their spelling in the charter"), related=related)
    yield from _new_codes(world)


_NEW_CODE = expression(r"(^|/)values-(he|id|yi)(?=[-/])")


def _new_codes(world: World) -> Iterator[Problem]:
    """Resource folders by new codes that have none by the old code beside them, the first of each client and code."""
    for client in world.clients:
        seen: set[str] = set()
        android = {pattern.number for pattern in client.patterns if pattern.spelling == "android"}
        there = {catalog.file for catalog in client.catalogs if catalog.order in android}
        for catalog in client.catalogs:
            match = _NEW_CODE.search(catalog.file)
            if catalog.order not in android or match is None or match[2] in seen:
                continue
            old = {"he": "iw", "id": "in", "yi": "ji"}[match[2]]
            if f"{catalog.file[: match.start(2)]}{old}{catalog.file[match.end(2) :]}" not in there:
                seen.add(match[2])
                yield Problem(
                    Subject((client.name,), client.roster(catalog.tag), catalog.part),
                    f"{match[2]!r} in a file's name should be {old!r}: older devices look for that alone",
                    Spot(catalog.file, catalog.digest, line=1, column=1),
                    "users of older devices get another language",
                    f"name the folder values-{old}, or keep both",
                    catalog=catalog.order,
                )


#: As many of one kind in one list are a habit of its writers, and one finding.
_HABIT = 3
_LETTERS = "a program that compares letter by letter does not find it"


def _noncanonical(written: _Written) -> Problem:
    return _problem(written, f"{written.entry.value.text!r} in {written.where} should be {written.entry.wanted!r}", _LETTERS)


@rule("tag.overspecified", "note", "A tag names a script that should be left out.")
def overspecified(world: World) -> Iterator[Problem]:
    """`en-Latn` is `en`: the longer tag is not found where the shorter is looked for.

    Reported once for each place whose language has this script by default in the registry. To fix: leave it out everywhere.
    """
    for written in _faulty(world, "overspecified"):
        entry = written.entry
        yield _problem(
            written, f"{entry.value.text!r} in {written.where}: {entry.advice}", "a program that compares letter by letter does not find it"
        )


@rule(
    "tag.ambiguous",
    "warning",
    "A tag does not say which script, and the roster has several.",
    hides=(Hides(("chain.diverges",), ("client", "origin")),),
)
def ambiguous(world: World) -> Iterator[Problem]:
    """`zh` is read as simplified Chinese by some programs and as any Chinese by others; readers of traditional characters may get the wrong
    ones.

    Reported once for each client and language that it names without script or region, at the first place, where the roster has that language
    with a script and not without. It counts as its likely script. An error where readers of another script are therefore shown its texts.
    Not reported: `zh_CN` and the like, whose region settles it. To fix: add the script.
    """
    scripts = scripts_of(world.charter.locales)
    found: dict[tuple[tuple[str, ...], Tag], list[_Written]] = {}
    for written in _written(world):
        tag = written.entry.tag
        if tag is not None and tag in scripts and tag not in world.charter.locales and written.entry.fault is None:
            found.setdefault((written.clients, tag), []).append(written)
    clients = world.clients if found else ()
    misread = {(client.name, origin) for client in clients for origin in origins(world, client, divergences(world, client))}
    for (_, tag), those in found.items():
        written, entry = those[0], those[0].entry
        likely = LanguageTag.parse(tag).maximized()
        wanted = write_spelling(likely._replace(region=None), entry.spelling)
        text = f"{entry.value.text!r} in {written.where} does not say which script; the roster has {listed(scripts[tag])}"
        effect = f"it counts as {wanted!r}; a program may read it as another"
        wrong = any((client, script_origin(tag)) in misread for client in written.clients)
        if wrong:
            effect = f"it counts as {wanted!r}, and readers of another script see its texts where theirs are missing"
        more = f"; so it is in {counted(len(those) - 1, 'more place')}" if len(those) > 1 else ""
        problem = _problem(written, f"{text}{more}", effect, f"write {wanted!r} if that is intended")
        related = tuple(each.spot for each in those[1:4])
        yield replace(problem, origin=script_origin(tag), severity="error" if wrong else None, related=related)


@rule("tag.twice", "error", "A locale is listed twice.", hides=(Hides(("tag.*",), ("entry",)),))
def twice(world: World) -> Iterator[Problem]:
    """A program uses one of the two entries, and nobody knows which; the texts of the other are lost.

    Reported at each entry after the first, in one claim or among the columns of one sheet, and for two files of one catalog
    that hold the same part in the same locale. Not reported: an unmarked file and one of its own language. To fix: remove one of them.
    """
    seen: dict[tuple[object, ...], _Written] = {}
    for written in _written(world):
        if written.entry.tag is None or not written.group:
            continue
        first = seen.setdefault((*written.group, LanguageTag.parse(written.entry.tag).canonical()), written)
        if first is not written:
            first_as, now_as = first.entry.value.text, written.entry.value.text
            how = "" if first_as == now_as else f": as {first_as!r} and as {now_as!r}"
            yield _twice(
                written.clients,
                written.entry,
                written.spot,
                first.spot,
                f"{written.entry.tag!r} is listed twice in {written.where}{how}",
            )
    for client in world.clients:
        files: dict[tuple[object, ...], Spot] = {}
        named = {(file, entry.tag) for file, entry in client.names}
        for catalog in client.catalogs:
            if (catalog.file, catalog.tag) not in named:
                continue  # an unmarked file, beside which variants in its language are usual, or the source as others carry it
            spot = Spot(catalog.file, catalog.digest, line=1, column=1)
            before = files.setdefault((catalog.order, catalog.tag, catalog.part), spot)
            if before.file != spot.file and not _are_two_codes(before.file, catalog.file):
                text = f"{client.roster(catalog.tag)!r} has two files: {before.file} and {catalog.file}"
                yield Problem(
                    Subject((client.name,), client.roster(catalog.tag), catalog.part), text, spot, _TWICE, "keep one of them", (before,)
                )


def _are_two_codes(file: str, other: str) -> bool:
    """Whether two resource folders are one locale's under its old and its new code, which devices of different age look for."""
    codes = [next((name[7:9] for name in path.split("/") if re.match(r"values-[a-z]{2}(?![a-z])", name)), "") for path in (file, other)]
    return set(codes) in ({"he", "iw"}, {"id", "in"}, {"yi", "ji"})


_TWICE = "a program uses one of the two; the texts of the other are lost"


def _twice(clients: tuple[str, ...], entry: Named, spot: Spot, first: Spot, text: str) -> Problem:
    return Problem(Subject(clients, entry.tag), text, spot, _TWICE, "remove one of the two", (first,), detail=entry.value.text)
