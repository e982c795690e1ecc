"""Assets: sounds, pictures, data that a client has by locale, found by a pattern of files, or in a table that maps locales to them."""

from __future__ import annotations

import posixpath
from collections.abc import Iterator
from pathlib import PurePosixPath

from msgspec import Struct

from lemmar import languages
from lemmar.basics.errors import IncompleteError
from lemmar.basics.text import Lines, decode
from lemmar.charter.types import AssetEntry
from lemmar.documents.nodes import UNNAMED, Node, PointerError, point
from lemmar.documents.structured import scan
from lemmar.inventory.catalogs import one_each
from lemmar.inventory.locales import Speller
from lemmar.languages import in_characters
from lemmar.tags import Tag
from lemmar.trees import Digest, File, Tree


class Asset(Struct, frozen=True):
    """One asset: its file, the client's own tag of its locale, its *name*, which is the same in all locales."""

    file: File
    digest: Digest
    tag: Tag
    name: str


class Listed(Struct, frozen=True):
    """What a table names: as it is written, for which locale and name, its file, and whether that is there."""

    text: str
    tag: Tag
    name: str
    file: File
    there: bool
    line: int
    column: int


class Assets(Struct, frozen=True):
    """What one ``[[client.asset]]`` of the charter finds. *files* are those that match and name no locale, *table* is the file that lists them, if one
    does; *fault* says why that cannot be read, *unfinished* that it took too long.
    """

    entry: AssetEntry
    where: tuple[str | int, ...]
    found: tuple[Asset, ...]
    files: tuple[File, ...] = ()
    listed: tuple[Listed, ...] = ()
    table: File | None = None
    digest: Digest | None = None
    fault: str = ""
    unfinished: str = ""


def read_assets(tree: Tree, entry: AssetEntry, base: str, speller: Speller, source: Tag, where: tuple[str | int, ...]) -> Assets:
    """The assets of a table of the charter; *base* is the client's folder, *source* the locale of files whose name has none."""
    return _by_pattern(tree, entry, base, speller, source, where) if entry.files else _by_table(tree, entry, base, speller, where)


def _by_pattern(tree: Tree, entry: AssetEntry, base: str, speller: Speller, source: Tag, where: tuple[str | int, ...]) -> Assets:
    found, unnamed = [], []
    pattern = (entry.files or "").replace("{name", "{part")
    for match in one_each(tree.files(pattern, base), speller):
        tag = speller.tag(match.locale) if match.locale is not None else entry.unmarked or source
        if tag is None:
            unnamed.append(match.file)
        else:
            found.append(Asset(match.file, tree.digest(match.file), tag, match.part or ""))
    return Assets(entry, where, tuple(found), tuple(unnamed))


def _by_table(tree: Tree, entry: AssetEntry, base: str, speller: Speller, where: tuple[str | int, ...]) -> Assets:
    table = File(posixpath.normpath(posixpath.join(base, entry.table or "")))
    folder = posixpath.dirname(table) if entry.paths is None else posixpath.normpath(posixpath.join(base, entry.paths))
    try:
        digest, data = tree.read(table)
    except OSError as error:
        return Assets(entry, where, (), table=table, fault=f"the file cannot be read: {error.strerror or error}")
    try:
        nodes, text, fault = _nodes(data, entry, PurePosixPath(table).suffix.lower())
    except IncompleteError as error:
        return Assets(entry, where, (), table=table, digest=digest, unfinished=f"{table}: {error}")
    lines, listed, found = Lines(text), [], []
    for tag, name, node in _entries(nodes, speller):
        path = File(posixpath.normpath(posixpath.join(folder, node.text.lstrip("/"))))
        there = not path.startswith("..") and tree.is_file(path)
        listed.append(Listed(node.text, tag, name, path, there, *lines.place(node.start)))
        if there:
            found.append(Asset(path, tree.digest(path), tag, name))
    if not listed and not fault:
        fault = "it maps no locale to a file"
    return Assets(entry, where, tuple(found), (), tuple(listed), table, digest, fault)


def _nodes(data: bytes, entry: AssetEntry, suffix: str) -> tuple[list[Node], str, str]:
    """What the table's selector points at, the file's text, and what is wrong. Raises `IncompleteError`."""
    if entry.symbol is None:
        root, faults, text = scan(data, suffix)
        if root is None or faults:
            return [], text, faults[0].text if faults else "the document is empty"
        try:
            return list(point(root, entry.pointer or "")), text, ""
        except PointerError as error:
            return [], text, str(error)
    text = decode(data).text
    source = text.encode("utf-8", "replace")
    file = languages.parse(source, suffix)
    if file is None:
        return [], text, languages.unread(suffix)
    nodes = in_characters(file.declared(entry.symbol.split(".")), source)
    return nodes, text, "" if nodes else f"there is no {entry.symbol!r} in it"


def _entries(nodes: list[Node], speller: Speller) -> Iterator[tuple[Tag, str, Node]]:
    """Locale, name and path: of a map of locales to paths, to lists of paths, to maps of names; or of names to maps of locales."""
    for node in nodes:
        for member in node.members:
            if member.key == UNNAMED:
                continue
            tag = speller.tag(member.key)
            if tag is not None:
                yield from ((tag, name, leaf) for name, leaf in _leaves(member.node))
            elif member.node.kind == "map":
                for inner in member.node.members:
                    own = speller.tag(inner.key) if inner.key != UNNAMED else None
                    if own is not None and inner.node.kind == "text":
                        yield own, member.key, inner.node


def _leaves(node: Node) -> Iterator[tuple[str, Node]]:
    if node.kind == "text":
        yield "", node
    elif node.kind == "list":
        yield from ((str(number), item) for number, item in enumerate(node.items) if item.kind == "text")
    elif node.kind == "map":
        yield from ((member.key, member.node) for member in node.members if member.node.kind == "text" and member.key != UNNAMED)


def sizes_of(tree: Tree, files: set[File]) -> dict[File, int]:
    """How many bytes each of *files* has that can be read."""
    found = {}
    for file in sorted(files):
        try:
            found[file] = len(tree.data(file))
        except OSError:
            continue
    return found
