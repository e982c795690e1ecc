"""Catalogs that are literals in source code: JavaScript, TypeScript, PHP, Dart, Python.

Read by each language's real parser and never run: what the file exports or returns, else what it assigns, else the maps that it gives to
calls. A value that is computed is reported with its place; its text is the code, and its state says so. Lists are forms. Sources: the
languages' own grammars. A file that does nothing but hand on another one's texts holds those.
"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar import languages
from lemmar.documents.nodes import UNNAMED, Fault, Node, why_unnamed
from lemmar.formats._encoding import Hole, json_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format
from lemmar.formats._reading import Reading, ReadOptions
from lemmar.formats._trees import LAYOUTS, column_of, plain_reading, tree_entries
from lemmar.languages import in_characters, parse_tolerantly
from lemmar.text import decode


def _tree(text: str, suffix: str) -> tuple[Node | None, list[Fault]]:
    """The catalog's map, those of several joined, and what is wrong with the file."""
    source = text.encode("utf-8", "replace")
    parsed = parse_tolerantly(source, suffix)
    if parsed is None:
        return None, [Fault(0, languages.unread(suffix))]
    faults = []
    if parsed.offset is not None:
        faults = [Fault(in_characters([Node("text", parsed.offset)], source)[0].start, parsed.words)]
    found = in_characters(parsed.file.catalog(), source)
    maps = [node for node in found if node.kind == "map"]
    if not maps:
        none = Fault(found[0].start, found[0].text) if found else Fault(0, "no map of texts is exported, returned or assigned here")
        return None, faults or [none]
    return Node("map", maps[0].start, maps[-1].end, members=[member for node in maps for member in node.members]), faults


def forwarded(source: bytes, suffix: str) -> str | None:
    """The path of the file that *source* hands on, if it does nothing else."""
    parsed = languages.parse(source, suffix)
    return parsed.forwarded() if parsed is not None else None


def _computed(whole: Node, text: str) -> list[Fault]:
    """What of the map is computed, in order; its nodes are given the code that they stand for."""
    found = []
    stack = [whole]
    while stack:
        node = stack.pop()
        if node.kind == "computed":
            found.append(Fault(node.start, node.text))
            node.text = text[node.start : node.end]
        for member in node.members:
            if member.key == UNNAMED:
                found.append(Fault(member.start, why_unnamed(member)))
        node.members = [member for member in node.members if member.key != UNNAMED]
        stack += [member.node for member in node.members if member.node.kind != "text"]
        stack += node.items
    return sorted(set(found))


def _is_partial(whole: Node) -> bool:
    """Whether a map has entries that are not written out."""
    stack = [whole]
    while stack:
        node = stack.pop()
        if any(member.key == UNNAMED for member in node.members):
            return True
        stack += [member.node for member in node.members if member.node.members]
    return False


def entries(walk: Walk) -> Iterator[Entry]:
    """The entries of the map that the file holds; what of it is computed is reported."""
    root, faults = _tree(walk.text, walk.options.suffix)
    if walk.decoded.mark and walk.decoded.encoding == "utf-8" and walk.text.startswith("<?"):
        walk.defect_at("encoding", 1, 1, "the file begins with a byte-order mark, which PHP sends to users before the page")
    if root is None and faults:
        walk.forwards = forwarded(walk.text.encode("utf-8", "replace"), walk.options.suffix)
        if walk.forwards is not None:
            return iter(())
    for fault in _computed(root, walk.text) if root is not None else ():
        walk.defect("computed", fault.offset, fault.text, "key")
    return tree_entries(walk, root, faults)


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """The entries of a file that nothing is wrong with, and of which nothing is computed."""
    text = decode(data, options.encoding)
    if options.layout != "by-file" or text.fault is not None or text.mark:
        return None
    language = languages.load(options.suffix)
    plain = language.plain.members(text.text) if language is not None and language.plain is not None else None
    column = column_of(plain) if plain is not None else None
    if column is not None:
        return Reading((column,))
    root, faults = _tree(text.text, options.suffix)
    if root is None or faults or _is_partial(root):
        return None
    return plain_reading(root, options)


def likely(data: bytes) -> bool:
    """Whether the contents look like source code rather than a document."""
    head = data[:65536].lstrip(b"\xef\xbb\xbf \t\r\n")
    if head.startswith(b"<"):
        return head.startswith(b"<?php")
    return any(word in head for word in (b"export ", b"module.exports", b"return [", b" = {", b"({"))


_LANGUAGES = [language for language in languages.every() if language.catalogs]
_SUFFIXES = tuple(suffix for language in _LANGUAGES for suffix in language.suffixes)


def encode(text: str, hole: Hole) -> str:
    """A literal of the file's language."""
    language = languages.load(hole.options.suffix)
    return language.quoted(text) if language is not None else json_text(text, hole)


FORMAT = Format(
    name="code",
    suffixes=_SUFFIXES,
    layouts=LAYOUTS,
    entries=entries,
    encode=encode,
    quick=quick,
    likely=likely,
    nests=True,
    platform="browser",
    only_at_home=_SUFFIXES,
    often_else=tuple(suffix for language in _LANGUAGES if language.mostly == "code" for suffix in language.suffixes),
    gathered_by=frozenset({"index", "types", "mod", "main", "__init__", "all"}),
)
