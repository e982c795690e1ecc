"""How rules speak: the words for what users see, for lists of locales, and the spots that several families point at."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence

from lemmar.inventory.contents import Catalog, Claim, Pattern, Spot
from lemmar.resolve.world import Absence, Client, SourcePart, World
from lemmar.tags import LanguageTag, Tag, truncations, write_spelling
from lemmar.trees import File


def listed(words: Iterable[object], most: int = 8) -> str:
    """``'de', 'fr' and 'it'``, in the order given; beyond *most* the rest is counted."""
    shown = [repr(str(word)) for word in words]
    if len(shown) > most:
        return f"{', '.join(shown[:most])} and {len(shown) - most:,} more"
    return shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}" if shown else ""


def counted(number: int, word: str) -> str:
    """``1 text``, ``3 texts``."""
    return f"{number:,} {word}{'' if number == 1 else 's'}"


def clipped(text: str, most: int = 60) -> str:
    """*text* on one line, cut where it is long."""
    line = " ".join(text.split())
    return line if len(line) <= most else f"{line[: most - 1]}…"


def seen(absence: Absence, source_text: str | None) -> str:
    """What a user sees instead of a text that is not there."""
    if absence.origin == "foreign":
        shown = f": {clipped(source_text)!r}" if source_text else ""
        return f"users see the {absence.source!r} text{shown}"
    return {
        "key": "users see the raw key",
        "blank": "users see nothing there",
        "error": "the program fails or shows an error there",
    }.get(absence.origin, "users see another text")


def charter_spot(world: World, *path: str | int) -> Spot:
    """The charter's line of a key path, or of the nearest table around it."""
    line = next(world.lines[path[:depth]] for depth in range(len(path), -1, -1) if path[:depth] in world.lines)
    return Spot(world.charter_file, line=line, column=1)


def claims_of(client: Client, *states: str) -> list[Claim]:
    """The client's claims of these states, in the charter's order."""
    return [claim for claim in client.claims if claim.states in states]


def tags_of(client: Client, claim: Claim) -> dict[Tag, Spot]:
    """The locales of a claim as the roster calls them, each with the place of its first entry."""
    found: dict[Tag, Spot] = {}
    for entry in claim.entries:
        if entry.tag is not None and claim.file is not None:
            found.setdefault(client.roster(entry.tag), Spot(claim.file, claim.digest, line=entry.value.line, column=entry.value.column))
    return found


def where_declared(world: World, client: Client) -> Spot:
    """The place where the client says what it supports: its first claim, else its catalog's line in the charter."""
    for claim in claims_of(client, "supported", "offered", "routed"):
        if claim.file is not None and claim.entries:
            return claim.spot()
    return client_spot(world, client)


def link_spot(client: Client, key: str) -> Spot | None:
    """Where the claim of a chain names the links of *key*."""
    for claim in claims_of(client, "chain"):
        for entry in claim.entries:
            if entry.value.label is not None and entry.value.label.lower() == key and claim.file is not None:
                return Spot(claim.file, claim.digest, line=entry.value.line, column=entry.value.column)
    return None


def chain_spot(client: Client, tags: Iterable[Tag]) -> Spot | None:
    """Where the client's claim of a chain speaks of one of *tags*, else where it begins; None where there is no such claim."""
    for tag in tags:
        for form in truncations(tag):
            spot = link_spot(client, form.lower())
            if spot is not None:
                return spot
    claim = next((claim for claim in claims_of(client, "chain") if claim.entries), None)
    return claim.spot() if claim is not None else None


def client_spot(world: World, client: Client) -> Spot:
    """The client's table in the charter."""
    index = next(index for index, entry in enumerate(world.charter.client) if entry.name == client.name)
    return charter_spot(world, "client", index)


def pattern_of(client: Client, catalog: Catalog) -> Pattern:
    """The pattern that the catalog's file was found by."""
    return next(pattern for pattern in client.patterns if pattern.number == catalog.order)


def file_wanted(pattern: Pattern, tag: Tag, part: str | None) -> File | None:
    """The file that would hold *part* in *tag*; None where the pattern leaves that open."""
    if "*" in pattern.files or "?" in pattern.files:
        return None
    name = write_spelling(LanguageTag.parse(tag), pattern.spelling)
    path = pattern.files.replace("[", "").replace("]", "").replace("{locale}", name)
    path = re.sub(r"\{part\+?\}", part or "", path)
    steps: list[str] = pattern.base.split("/") if pattern.base else []
    for step in path.split("/"):
        if step == "..":
            steps.pop()
        elif step != ".":
            steps.append(step)
    return File("/".join(steps))


def text_of(catalogs: Sequence[Catalog], key: str) -> str | None:
    """The text of *key*, the later catalog's where several have it."""
    for catalog in reversed(catalogs):
        if key in catalog.column.key_set:
            text = catalog.column.texts[catalog.column.keys.places[key]]
            if text is not None:
                return text
    return None


def union_of(catalogs: Sequence[Catalog]) -> frozenset[str]:
    """All keys of *catalogs*; where there is one, its own set and no copy."""
    return catalogs[0].column.key_set if len(catalogs) == 1 else frozenset().union(*(catalog.column.key_set for catalog in catalogs))


def holder_of(source: SourcePart, key: str) -> Catalog:
    """The source's catalog that *key* comes from."""
    return next(catalog for catalog in reversed(source.catalogs) if key in catalog.column.key_set)


def key_spot(catalog: Catalog, key: str | None) -> Spot:
    """Where *key* stands in the catalog's file; the file as a whole without one."""
    if key is None:
        return Spot(catalog.file, catalog.digest, line=1, column=1)
    return Spot(catalog.file, catalog.digest, catalog.column.label, key)


def gap_spot(catalog: Catalog, after: str | None) -> Spot:
    """The place of a text that is not there: behind the entry of the key *after*, else the file's start."""
    if after is None:
        return Spot(catalog.file, catalog.digest, line=1, column=1)
    return Spot(catalog.file, catalog.digest, catalog.column.label, after, gap=True)
