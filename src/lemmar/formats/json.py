"""JSON catalogs: maps of keys to texts, nested or flat.

Source: RFC 8259. A number, true or false is a text as it is written; null is a text that is not there yet. A list of
scalars is one entry with a form for each item, a list of maps is a branch. A file is parsed by a fast general parser; only
where that one fails, or a count says that keys may repeat, it is read again with places. Comments and a trailing comma
are no fault in ``.jsonc`` and ``.json5`` files. Not read: the other liberties of JSON5.
"""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import msgspec

from lemmar.basics.expressions import expression
from lemmar.documents.jsontext import scan
from lemmar.documents.nodes import Fault, Node
from lemmar.documents.quoting import json_escape
from lemmar.documents.splicing import EditError
from lemmar.documents.structured import RELAXED_JSON
from lemmar.formats._editing import Model, indent_of, line_end_of
from lemmar.formats._encoding import json_text
from lemmar.formats._entries import Entry, Walk
from lemmar.formats._format import Finds, Format, Habits, Hints, Reads, Writes
from lemmar.formats._reading import NONE_RARE, Column, Keys, Rare, Reading, ReadOptions
from lemmar.formats._spotting import json_spot
from lemmar.formats._tree_edits import Written, emptied_records, tree_edits
from lemmar.formats._trees import LAYOUTS, tree_entries

_SPACED_COLON = expression(rb'"[ \t\r\n]+:')
_DEEP = 300  # beyond, the iterative reader takes over


class _LookCloserError(Exception):
    """The fast way cannot tell all: look closer."""


def quick(data: bytes, options: ReadOptions) -> Reading | None:
    """By a fast general parser, where no key is there twice."""
    ways = {"by-file": _fast, "records": _fast_records}
    if options.layout in ways and not options.encoding and not data.startswith(b"\xef\xbb\xbf"):
        try:
            return Reading((ways[options.layout](data, options),))
        except _LookCloserError:
            pass
    return None


def _decoded(data: bytes) -> dict[str, Any]:
    try:
        value = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        raise _LookCloserError from None
    if type(value) is not dict:
        raise _LookCloserError
    return value


def _fast_records(data: bytes, options: ReadOptions) -> Column:
    """The records of one locale in a list to which a plain pointer leads, each with a name and a text."""
    value, fields = _decoded(data), options.fields
    found: Any = value
    for step in fields.get("list", "").split("/")[1:]:
        found = found.get(step) if type(found) is dict and "~" not in step and step != "*" else None
    name, held = fields.get("key", "key"), fields.get("text", "text")
    if type(found) is not list or not found or fields.get("locale") or repeats(data, value) or name == held:
        raise _LookCloserError
    rows: list[tuple[Any, Any]] = [(row.get(name), row.get(held)) for row in found if type(row) is dict]
    if len(rows) != len(found) or {type(part) for row in rows for part in row} != {str}:
        raise _LookCloserError
    keys = Keys([options.names.get(key, key) for key, _ in rows])
    if len(keys.all) != len(keys) or any(not key for key, _ in rows):
        raise _LookCloserError
    return Column(None, keys, tuple([text for _, text in rows]))


#: A map in some files that says who has translated them: no message.
_ABOUT = "@metadata"


def _fast(data: bytes, _options: ReadOptions) -> Column:
    value = _decoded(data)
    aside = 0
    if type(value.get(_ABOUT)) is dict:
        aside = _members(value)
        del value[_ABOUT]
        aside -= _members(value)
    keys: list[str] = []
    texts: list[str | None] = []
    rare: dict[str, dict[int, Any]] = {}
    members = _flatten(value, "", keys, texts, rare, 0)
    if any("." in name for name in value) and len(set(keys)) != len(keys):
        raise _LookCloserError  # a key of one step is spelt as one of several
    # Each key is followed by a colon: as many of these as members, and no key was there twice.
    if members + aside != data.count(b'":') + len(_SPACED_COLON.findall(data)):
        raise _LookCloserError
    return Column(None, Keys(keys), tuple(texts), Rare(**rare) if rare else NONE_RARE)


def repeats(data: bytes, value: Any) -> bool:
    """Whether keys may be there twice in *data*, of which *value* was parsed: it has more colons after quotes than *value* has members."""
    return _members(value) != data.count(b'":') + len(_SPACED_COLON.findall(data))


def _members(value: Any) -> int:
    members, stack = 0, [value]
    while stack:
        item = stack.pop()
        if type(item) is dict:
            members += len(item)
            stack.extend(item.values())
        elif type(item) is list:
            stack.extend(item)
    return members


def _flatten(
    branch: dict[str, Any], prefix: str, keys: list[str], texts: list[str | None], rare: dict[str, dict[int, Any]], depth: int
) -> int:
    """Adds the branch's entries; gives how many members it has in all."""
    if depth > _DEEP:
        raise _LookCloserError
    members = len(branch)
    if set(map(type, branch.values())) == {str} and not (depth and "." in "".join(branch)):  # most branches hold texts only
        keys += [prefix + name for name in branch]
        texts += branch.values()
        return members
    for name, item in branch.items():
        kind = type(item)
        step = name.replace(".", "\\.") if "." in name else name
        key = prefix + step if depth else name
        if kind is str:
            keys.append(key)
            texts.append(item)
        elif kind is dict:
            members += _flatten(item, f"{prefix}{step}.", keys, texts, rare, depth + 1)
        elif kind is list:
            if any(type(sub) in (dict, list) for sub in item):
                numbered = {str(number): sub for number, sub in enumerate(item)}
                members += _flatten(numbered, f"{prefix}{step}.", keys, texts, rare, depth + 1) - len(numbered)
            else:
                forms = {str(number): _scalar(sub) for number, sub in enumerate(item)}
                whole = {number: text for number, text in forms.items() if text is not None}
                if whole:
                    rare.setdefault("forms", {})[len(keys)] = whole
                keys.append(key)
                texts.append(next(reversed(whole.values()), None))
        else:
            keys.append(key)
            texts.append(_scalar(item))
    return members


def _scalar(item: Any) -> str | None:
    if item is None:
        return None
    if isinstance(item, float):  # as it is written is not known any more
        raise _LookCloserError
    if isinstance(item, bool):
        return "true" if item else "false"
    return str(item)


def entries(walk: Walk) -> Iterator[Entry]:
    """By a scanner that keeps places and goes on after a fault."""
    root, faults = scan(walk.text, relaxed=walk.options.suffix in RELAXED_JSON)
    if root is not None and walk.options.layout == "by-file":
        root.members = [member for member in root.members if member.key != _ABOUT or member.node.kind != "map"]
    return tree_entries(walk, root, faults)


def likely(data: bytes) -> bool:
    """Whether the contents look like a JSON map."""
    return data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"{"


def _scan(text: str, options: ReadOptions) -> tuple[Node | None, list[Fault]]:
    return scan(text, relaxed=options.suffix in RELAXED_JSON)


def blank(model: Model) -> str:
    """A document without messages; a mark of its language stays, as the other's."""
    end, tail = line_end_of(model.text), "\n" if model.text.endswith("\n") else ""
    tail = end if tail else ""
    if model.options.layout == "records":
        root, faults = _scan(model.text, model.options)
        if root is None or faults:
            raise EditError(faults[0].text if faults else "the document is empty")
        return emptied_records(model, root)
    if model.options.layout == "locale-rooted":
        return f"{{{end}{indent_of(model.text)}{json.dumps(model.written, ensure_ascii=False)}: {{}}{end}}}{tail}"
    marked = _MARK.search(model.text)
    if marked is None:
        return f"{{}}{tail}"
    return f'{{{end}{indent_of(model.text)}{marked[1]}{model.restate(marked[2])}"{end}}}{tail}'


_MARK = expression(r'("@@locale"\s*:\s*")([^"]*)"')


def _quoted(text: str, _like: str = "") -> str:
    return json.dumps(text, ensure_ascii=False)


WRITTEN = Written(_quoted, "{}", "null", ": ", _quoted)


FORMAT = Format(
    name="json",
    suffixes=(".json", ".jsonc", ".json5", ".resjson"),
    layouts=LAYOUTS,
    reads=Reads(
        entries=entries,
        quick=quick,
        mark_harms="which JSON readers stumble over",
    ),
    finds=Finds(
        spot=json_spot,
    ),
    writes=Writes(
        encode=json_text,
        escape=json_escape,
        edits=tree_edits(_scan, ".json", WRITTEN, blank),
        marks=(r'"@@locale"\s*:\s*"',),
    ),
    habits=Habits(
        nests=True,
    ),
    hints=Hints(
        likely=likely,
        platform="browser",
    ),
)
