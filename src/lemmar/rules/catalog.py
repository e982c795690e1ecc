"""The catalog family: is every file whole, and can a program read it?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from lemmar.basics.phrasing import counted
from lemmar.findings import Subject
from lemmar.inventory.contents import Catalog, FileFault, Spot
from lemmar.resolve.spots import key_spot, order_of, union_of
from lemmar.resolve.world import Client, SourcePart, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._branches import heads, nests
from lemmar.rules._texts import MANY
from lemmar.rules._translations import is_computed
from lemmar.tags import Tag

_FILE = ("client", "locale", "part", "catalog")
_LOST_TEXTS = ("message.missing", "message.empty")
_LOST = (*_LOST_TEXTS, "message.surplus", "catalog.absent")
# What is said of several files at once comes of any of them.
_OF_SEVERAL = Hides(("message.inconsistent", "catalog.below-threshold"), ("client", "locale"))
_KEY = ("client", "locale", "key")


def _faults(world: World, kind: str) -> Iterator[tuple[Client, FileFault, Subject, Spot]]:
    """Each defect of *kind*, its subject and its place."""
    for client in world.clients:
        for fault in client.faults:
            if fault.defect.kind == kind:
                locale = client.roster(fault.tag) if fault.tag else None
                subject = Subject((client.name,), locale, fault.part, fault.defect.key)
                yield client, fault, subject, Spot(fault.file, fault.digest, line=fault.defect.line, column=fault.defect.column)


def _reported(world: World, kind: str, effect: str, remedy: str) -> Iterator[Problem]:
    for client, fault, subject, spot in _faults(world, kind):
        text = f"{fault.file}: {fault.defect.detail}" if kind == "unreadable" else fault.defect.detail
        yield Problem(subject, text, spot, effect, remedy, catalog=order_of(client, fault.file))


@rule("catalog.unreadable", "error", "No message of a file can be read.", hides=(Hides(_LOST, _FILE), _OF_SEVERAL))
def unreadable(world: World) -> Iterator[Problem]:
    """A program that cannot read the file shows none of its texts.

    Reported once for each file without a single readable entry, at the place where reading stops. The messages that are missing as a result are
    not reported as well. To fix: fix the file at that place, or name its format in the charter.
    """
    yield from _reported(world, "unreadable", "users see none of this file's texts", "fix the file at this place")


@rule("catalog.opaque", "warning", "Not all of a file's texts could be read.", hides=(Hides(("catalog.thin-source",), ("client", "part")),))
def opaque(world: World) -> Iterator[Problem]:
    """What stands in code that builds texts is no entry, so that nobody knows whether it is complete: the audit is not either.

    Reported once for each catalog of source code, with its files: texts for people stand outside of the map that is read (functions that build them, calls,
    getters), or a large file gives one or two messages. To fix: write the texts as a plain map, name the files that really hold
    them, or accept it with a waiver.
    """
    found: dict[tuple[str, int | None], list[Problem]] = {}
    for problem in _reported(
        world, "opaque", "whether these texts are complete is not known", "write the texts as a map, or name the files that hold them"
    ):
        found.setdefault((problem.subject.clients[0], problem.catalog), []).append(problem)
    for first, *others in found.values():
        more = f"; so it is with {counted(len(others), 'more file')} of the catalog" if others else ""
        related = tuple(each.spot for each in others[:3] if each.spot is not None)
        yield replace(first, subject=Subject(first.subject.clients), text=first.text + more, related=related)


@rule(
    "catalog.damaged",
    "error",
    "A file is broken, though some of it can be read.",
    hides=(Hides(_LOST_TEXTS, _FILE), _OF_SEVERAL),
)
def damaged(world: World) -> Iterator[Problem]:
    """Most programs reject the whole file at its first fault, and users see none of its texts.

    Reported once for each file, at its first fault; the audit reads on after it. Messages missing from the same file are not
    reported as well. To fix: correct the file at that place.
    """
    yield from _reported(
        world, "damaged", "a program that stops at the fault shows none of this file's texts", "fix the file at this place"
    )


@rule(
    "catalog.conflict",
    "error",
    "A merge is not finished.",
    hides=(Hides(("catalog.unreadable", "catalog.damaged", *_LOST), _FILE), _OF_SEVERAL),
)
def conflict(world: World) -> Iterator[Problem]:
    """Version control could not bring two changes together and has left its marks in the file, which no program reads.

    Reported once for each file of a catalog or a claim in which a line of `<<<<<<<`, one of `=======` and one of `>>>>>>>` follow each
    other, at the first. Both sides are read. To fix: decide between the sides, and remove the marks.
    """
    yield from _reported(world, "conflict", _UNMERGED, "decide between the two sides, and remove the marks")
    for client in world.clients:
        seen = {fault.file for fault in client.faults if fault.defect.kind == "conflict"}
        for claim in client.claims:
            found = next((defect for defect in claim.defects if defect.kind == "conflict"), None)
            if found is not None and claim.file is not None and claim.file not in seen:
                seen.add(claim.file)
                yield Problem(
                    Subject((client.name,)),
                    f"{claim.file}: {found.detail}",
                    Spot(claim.file, claim.digest, line=found.line, column=found.column),
                    _UNMERGED,
                    "decide between the two sides, and remove the marks",
                    detail=client.below(claim.file),
                )


_UNMERGED = "a program that reads the file stops there, or takes the marks for texts"


@rule(
    "catalog.encoding",
    "error",
    "A file is not in the expected encoding.",
    hides=(Hides(("catalog.unreadable", "catalog.damaged", *_LOST), _FILE), _OF_SEVERAL),
)
def encoding(world: World) -> Iterator[Problem]:
    """Letters outside ASCII become other letters, or the program does not read the file at all.

    Reported for bytes that are invalid in the declared or expected encoding, at the first of them; for a file that is not in the
    encoding that the charter declares; and for a byte-order mark that programs reading the format do not accept. To fix: save the file
    in the expected encoding. `lemmar mend` removes a byte-order mark, writes UTF-16 as UTF-8, and other bytes where they are letters of the
    language in Windows-1252.
    """
    yield from _reported(
        world,
        "encoding",
        "letters turn into others, or the file is not read at all",
        "save the file as UTF-8 without a byte-order mark, or in the encoding that its program expects",
    )


@rule(
    "catalog.duplicate-key",
    "error",
    "A key occurs twice in one file.",
    hides=(Hides(("message.missing", "message.surplus", "message.inconsistent"), _KEY),),
)
def duplicate_key(world: World) -> Iterator[Problem]:
    """A program keeps one of the two texts, and not every program the same one; whoever edits the other wonders why nothing changes.

    Reported at each occurrence after the first, even with the same text. To fix: remove one of them. `lemmar mend` removes all but the last,
    where they have the same text.
    """
    yield from _reported(
        world, "duplicate-key", "users see one of the two texts; which one depends on the program", "remove one of the two entries"
    )


@rule("catalog.ragged-row", "error", "A row of a sheet has too few or too many cells.", hides=(Hides(("message.*",), _KEY),))
def ragged_row(world: World) -> Iterator[Problem]:
    """A missing or extra separator shifts all cells after it: users read the language of the next column.

    Reported once for each such row. Other findings on the same key are not reported as well. To fix: quote the cell that holds a separator,
    or add the missing one.
    """
    yield from _reported(
        world,
        "ragged-row",
        "users may see text in another language",
        "quote the cell that holds a separator, or add the missing one",
    )


@rule(
    "catalog.typed-key",
    "error",
    "A key is not read as text.",
    hides=(Hides(("message.missing", "message.surplus"), _KEY),),
)
def typed_key(world: World) -> Iterator[Problem]:
    """Whoever writes `no:` means Norwegian; YAML 1.1 reads *false*, and the program does not find the key.

    Reported at each key of a YAML file, and each locale in one, that YAML 1.1 reads as true or false, a number or a date; at the first with
    a count where a file has many. Not reported: keys in quotes. To fix: put the key in quotes.
    """
    files: dict[tuple[str, ...], list[Problem]] = {}
    for problem in _reported(world, "typed-key", "a program that reads YAML 1.1 does not find it", "put the key in quotes"):
        file = problem.spot.file if problem.spot is not None else ""
        files.setdefault((*problem.subject.clients, file), []).append(problem)
    for those in files.values():
        if len(those) < MANY:
            yield from those
        else:
            text = f"{those[0].text}; so it is with {counted(len(those) - 1, 'more key')} of the file"
            yield replace(those[0], text=text, remedy="put the keys in quotes")


@rule(
    "catalog.key-clash",
    "error",
    "A key is a text in one place and a branch in another.",
    hides=(Hides(("message.missing", "message.surplus"), ("client", "part", "branch")),),
)
def key_clash(world: World) -> Iterator[Problem]:
    """In a nested format `menu` cannot be a text if `menu.title` is one: a program finds only one of them.

    Reported within one file, and for a locale's file against the source's. Not reported: flat files whose keys contain dots.
    To fix: rename one of the two.
    """
    yield from _reported(world, "key-clash", "users see a raw key instead of one of the texts", "rename one of the two")
    for client in world.clients:
        for space, source in client.sources.items():
            others = union_of(source.catalogs)
            for tag, catalogs in client.by_space[space].items():
                for catalog in catalogs if nests(catalogs) else ():
                    if catalog not in source.catalogs and not catalog.column.key_set <= others:
                        yield from _clashes(client, space.part, tag, catalog, source, others)


def _clashes(client: Client, part: str | None, tag: Tag, catalog: Catalog, source: SourcePart, others: frozenset[str]) -> Iterator[Problem]:
    branches = {head for other in others for head in heads(other)}
    seen: set[str] = set()
    for key in catalog.column.keys:
        if key in others:
            continue
        above = next((head for head in heads(key) if head in others), None)
        below = next((other for other in others if other.startswith(f"{key}.") and key in heads(other)), None) if key in branches else None
        clash = above or (key if below else None)
        if clash and clash not in seen and not _is_code(catalog, above or key, source, above or key):
            seen.add(clash)
            where = "a text in the source and a branch here" if above else "a branch in the source and a text here"
            yield Problem(
                Subject((client.name,), client.roster(tag), part, clash),
                f"{clash!r} is {where}",
                key_spot(catalog, key),
                "users see a raw key instead of the texts under it",
                "make it what it is in the source",
                (key_spot(source.catalogs[0], above or below),),
            )


def _is_code(catalog: Catalog, key: str, source: SourcePart, there: str) -> bool:
    """Whether what stands for the key here or in the source is computed, so that nobody knows whether it is a text."""
    return is_computed(catalog, key) or any(is_computed(each, there) for each in source.catalogs)
