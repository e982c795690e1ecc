"""Where things stand: in the charter, in a claim, in a catalog. What a finding points at, before its line is looked up."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence

from lemmar.inventory.contents import Catalog, Claim, FileFault, Named, Pattern, Spot
from lemmar.inventory.key_lists import KeyList
from lemmar.resolve.outlines import Overview
from lemmar.resolve.world import Client, SourcePart, Space, World
from lemmar.tags import LanguageTag, Tag, write_spelling
from lemmar.trees import File
from lemmar.trees.patterns import as_named, taken_apart


def charter_spot(world: World | Overview, *path: str | int) -> Spot:
    """The charter's line of a key path, or of the nearest table around it."""
    file = world.lines.file(path)
    return Spot(world.charter_file if file is None else File(file), line=world.lines.nearest(path), column=1, in_charter=True)


def client_spot(world: World, client: Client) -> Spot:
    """The client's table in the charter."""
    index = next(index for index, entry in enumerate(world.charter.client) if entry.name == client.name)
    return charter_spot(world, "client", index)


def claim_spot(world: World, client: Client, claim: Claim) -> Spot:
    """The charter's line that says in which file a claim is, or begins its table."""
    index = next(index for index, entry in enumerate(world.charter.client) if entry.name == client.name)
    place = next(place for place, each in enumerate(client.claims) if each is claim)
    return charter_spot(world, "client", index, "claim", place, "file")


def named_spot(claim: Claim, named: Named) -> Spot | None:
    """Where a claim names a locale; None where the claim has no file."""
    if claim.file is None:
        return None
    file, digest = (named.value.file, None) if named.value.file is not None else (claim.file, claim.digest)
    return Spot(file, digest, line=named.value.line, column=named.value.column)


def pattern_of(client: Client, catalog: Catalog) -> Pattern:
    """The pattern that the catalog's file was found by."""
    return next(pattern for pattern in client.patterns if pattern.number == catalog.order)


def order_of(client: Client, file: str) -> int | None:
    """The number of the catalog that *file* is of."""
    return next((pattern.number for pattern in client.patterns if file in pattern.known), None)


def space_of(client: Client, fault: FileFault) -> Space:
    """Where the keys would be looked up that a fault keeps from being read."""
    order = order_of(client, fault.file) or 0
    return Space(fault.part, client.layers.get((order, fault.part), order))


def file_wanted(pattern: Pattern, tag: Tag, part: str | None, key: str = "") -> File | None:
    """The file that would hold *part* in *tag*, or its message *key* where a file is one; None where the pattern leaves that open."""
    files = taken_apart(pattern.files)
    if "*" in files or "?" in files or ("{key}" in files and not key):
        return None
    name = write_spelling(LanguageTag.parse(tag), pattern.spelling)
    path = as_named(files.replace("[", "").replace("]", "").replace("{locale}", name))
    path = re.sub(r"\{part\+?\}", part or "", path).replace("{key}", key)
    steps: list[str] = pattern.base.split("/") if pattern.base else []
    for step in path.split("/"):
        if step == "..":
            steps.pop()
        elif step != ".":
            steps.append(step)
    return File("/".join(steps))


def file_spot(catalog: Catalog) -> Spot:
    """The beginning of the catalog's file."""
    return Spot(catalog.file, catalog.digest, line=1, column=1)


def key_spot(catalog: Catalog, key: str | None) -> Spot:
    """Where *key* stands in the catalog's file; the file as a whole without one."""
    return file_spot(catalog) if key is None else Spot(catalog.file, catalog.digest, catalog.column.label, key)


def gap_spot(catalog: Catalog, after: str | None) -> Spot:
    """The place of a text that is not there: behind the entry of the key *after*, else the file's start."""
    return file_spot(catalog) if after is None else Spot(catalog.file, catalog.digest, catalog.column.label, after, gap=True)


def holder_of(source: SourcePart, key: str) -> Catalog:
    """The source's catalog that *key* comes from."""
    return next(catalog for catalog in reversed(source.catalogs) if key in catalog.column.key_set)


def text_of(catalogs: Sequence[Catalog], key: str) -> str | None:
    """The text of *key* in one locale, the later catalog's where several have it; None where none has one."""
    for catalog in reversed(catalogs):
        index = catalog.column.keys.places.get(key)
        if index is not None and catalog.column.texts[index] is not None:
            return catalog.column.texts[index]
    return None


def keys_of(found: KeyList, sources: Mapping[Space, SourcePart]) -> list[str]:
    """The keys that a key list mirrors: those of its part, or of all, fixed ones among them."""
    those = [source for space, source in sources.items() if found.entry.part in (None, space.part)]
    return [key for source in those for key in (*source.keys, *sorted(source.fixed))]


def union_of(catalogs: Sequence[Catalog]) -> frozenset[str]:
    """All keys of *catalogs*; where there is one, its own set and no copy."""
    return catalogs[0].column.key_set if len(catalogs) == 1 else frozenset().union(*(catalog.column.key_set for catalog in catalogs))
