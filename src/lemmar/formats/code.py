"""Catalogs that are literals in source code: JavaScript, TypeScript, PHP, Dart, Python.

Read by each language's real parser and never run: what the file exports or returns, else what it assigns, else the maps that it gives to
calls. A value that is computed is reported with its place; its text is the code, and its state says so. Lists are forms. Sources: the
languages' own grammars. A file that does nothing but hand on another one's texts holds those.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import NamedTuple, TypeVar

from lemmar import languages
from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import clipped, counted
from lemmar.basics.text import decode
from lemmar.documents.nodes import UNNAMED, Fault, Node, why_unnamed
from lemmar.documents.rows import Nest
from lemmar.documents.splicing import EditError
from lemmar.formats._editing import Edits, Model, indent_of, line_end_of
from lemmar.formats._encoding import Hole, json_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import Reading, ReadOptions
from lemmar.formats._tree_edits import Written, tree_edits
from lemmar.formats._trees import LAYOUTS, column_of, plain_reading, tree_entries
from lemmar.languages import SourceFile, in_characters, parse_tolerantly
from lemmar.prose.readable import is_for_people


def _tree(text: str, suffix: str) -> _Seen:
    """The catalog's map, those of several joined, and what is wrong with the file."""
    source = text.encode("utf-8", "replace")
    parsed = parse_tolerantly(source, suffix)
    if parsed is None:
        return _Seen(None, [Fault(0, languages.unread(suffix))])
    faults = []
    if parsed.offset is not None:
        faults = [Fault(in_characters([Node("text", parsed.offset)], source)[0].start, parsed.words)]
    found = parsed.file.catalog()
    maps = [node for node in found if node.kind == "map"]
    passed = _passed_over(parsed.file, maps, source) if parsed.offset is None else None
    opaque = Fault(in_characters([Node("text", passed[0])], source)[0].start, passed[1]) if passed is not None else None
    found = in_characters(found, source)
    maps = [node for node in found if node.kind == "map"]
    if not maps:
        none = Fault(found[0].start, found[0].text) if found else Fault(0, "no map of texts is exported, returned or assigned here")
        return _Seen(None, faults or [none])
    whole = Node("map", maps[0].start, maps[-1].end, members=[member for node in maps for member in node.members])
    return _Seen(whole, faults, opaque)


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
    root, faults, opaque = _tree(walk.text, walk.options.suffix)
    if opaque is not None:
        walk.defect("opaque", opaque.offset, opaque.text, "rest")
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
    root, faults, opaque = _tree(text.text, options.suffix)
    if root is None or faults or opaque or _is_partial(root):
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


_Function = TypeVar("_Function")


def _made(function: _Function | None) -> _Function:
    assert function is not None
    return function


class _Seen(NamedTuple):
    """What a file holds: its map, what is wrong with it, and what of it was passed over though people may read it."""

    root: Node | None
    faults: list[Fault]
    opaque: Fault | None = None


#: So many texts that were passed over, and so large a share of the entries, are a part of the catalog.
_FEWEST, _SHARE = 3, 0.2
#: A file of more bytes than this, of which so small a share is read, holds more than one or two messages.
_LARGE, _LITTLE = 2_000, 0.1
#: What a program puts into a text.
_PUT_IN = expression(r"\$?\{[^{}]*\}|\$\w+")


def _passed_over(file: SourceFile, found: list[Node], source: bytes) -> tuple[int, str] | None:
    """The first byte of what was passed over though people may read it, and what is to be said of that; None where all is read."""
    whole = file.root.start_byte, file.root.end_byte
    leaves = [node for each in found for node in _leaves(each)]
    maps = [(node.start, node.end) for node in found if (node.start, node.end) != whole]
    read = _merged(sorted([*maps, *((node.start, node.end) for node in leaves)]))
    if not leaves or sum(end - start for start, end in read) == len(source.strip()):
        return None
    texts, comments = [], 0
    for syntax in file.beside(read):
        node = file.value(syntax) if syntax.type not in file.comments else None
        if node is None:
            comments += syntax.end_byte - syntax.start_byte
        elif is_for_people(said := node.text if node.kind == "text" else _PUT_IN.sub("\x1a", file.text_of(syntax)[1:-1])):
            texts.append((node.start, said.replace("\x1a", "…")))
    few = len(leaves) <= 2
    if texts and (few or len(texts) >= max(_FEWEST, _SHARE * len(leaves))):
        return texts[0][0], f"{counted(len(texts), 'text')} of this file cannot be read as entries, the first {clipped(texts[0][1])!r}"
    size = len(source) - comments
    if few and size > _LARGE and sum(end - start for start, end in read) < _LITTLE * size:
        return read[0][0], f"of {size:,} bytes of code {counted(len(leaves), 'message')} could be read"
    return None


def _leaves(node: Node) -> Iterator[Node]:
    """The values at the ends of a map, those that are computed among them."""
    stack = [node]
    while stack:
        each = stack.pop()
        if each.kind in ("map", "list"):
            stack += [*each.items, *(member.node for member in each.members)]
        else:
            yield each


def _merged(spans: list[tuple[int, int]]) -> list[tuple[int, int]]:
    found: list[tuple[int, int]] = []
    for start, end in spans:
        if found and start <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], end)
        else:
            found.append((start, end))
    return found


class _Signs(NamedTuple):
    """How a language writes an empty map, nothing, and what parts a name from its value; whether names may stand without quotes."""

    map: str = "{}"
    nothing: str = "null"
    parts: str = ": "
    bare: bool = False


_SIGNS = {".php": _Signs("[]", "null", " => "), ".py": _Signs(nothing="None"), ".dart": _Signs()}


def _edits(suffix: str) -> Edits:
    signs = _SIGNS.get(suffix, _Signs(bare=True))
    language = languages.load(suffix)

    def key(name: str, like: str) -> str:
        if like[:1] in ("'", '"') and "\\" not in name and like[0] not in name:
            return f"{like[0]}{name}{like[0]}"
        return name if signs.bare and name.isidentifier() else language.quoted(name) if language is not None else name

    def nest(text: str, options: ReadOptions) -> Nest:
        source = text.encode("utf-8", "replace")
        file = languages.parse(source, options.suffix)
        if file is None:
            raise EditError(languages.unread(options.suffix))
        return languages.code_nest(file, source)

    marks = ("[", "]") if signs.map == "[]" else ("{", "}")
    written = Written(key, signs.map, signs.nothing, signs.parts, language.quoted if language is not None else str, marks, comma=True)
    return tree_edits(lambda text, options: _tree(text, options.suffix)[:2], suffix, written, _blank, nest)


def _blank(model: Model) -> str:
    """The code with nothing in its map; names of the locale around it are the other's."""
    source = model.text.encode("utf-8", "replace")
    parsed = parse_tolerantly(source, model.options.suffix)
    maps = [node for node in in_characters(parsed.file.catalog(), source) if node.kind == "map"] if parsed is not None else []
    opened = _OPENED.match(model.text, maps[0].start, maps[0].end) if len(maps) == 1 else None
    if parsed is None or parsed.offset is not None or opened is None:
        raise EditError("its texts do not stand in one map; make the file by hand")
    whole = maps[0]
    before, after = model.text[: whole.start], model.text[whole.end - 1 :]
    root = ""
    if model.options.layout == "locale-rooted":
        signs = _SIGNS.get(model.options.suffix, _Signs(bare=True))
        end = line_end_of(model.text)
        root = f"{end}{indent_of(model.text)}{json.dumps(model.written)}{signs.parts}{signs.map},{end}"
    return f"{model.restate(before)}{opened.group()}{root}{model.restate(after)}"


_OPENED = expression(r"(?:array\s*|<[\w, ]*>\s*)?[{(\[]")


FORMAT = Format(
    name="code",
    suffixes=_SUFFIXES,
    layouts=LAYOUTS,
    reads=Reads(
        entries=entries,
        quick=quick,
    ),
    writes=Writes(
        encode=encode,
        edits=Edits(
            _blank,
            lambda model: _made(_edits(model.options.suffix).take_in)(model),
            lambda text, options, label: _made(_edits(options.suffix).leave_out)(text, options, label),
            lambda text, options, label, new: _made(_edits(options.suffix).rename)(text, options, label, new),
            lambda text, where, keys, repeats: _made(_edits(where.options.suffix).remove)(text, where, keys, repeats),
            lambda text, where, news: _made(_edits(where.options.suffix).add)(text, where, news),
            lambda text, options: _made(_edits(options.suffix).forms)(text, options),
        ),
    ),
    habits=Habits(
        nests=True,
    ),
    hints=Hints(
        likely=likely,
        platform="browser",
        only_at_home=_SUFFIXES,
        often_else=tuple(suffix for language in _LANGUAGES if language.mostly == "code" for suffix in language.suffixes),
        gathered_by=frozenset({"index", "types", "mod", "main", "__init__", "all"}),
    ),
)
