"""Reads ``lemmar.toml``: checks it, tells every mistake at once with its line."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable, Iterator, Sequence
from copy import deepcopy
from pathlib import Path
from typing import Any, NamedTuple

import msgspec

from lemmar.basics.errors import CharterError, GateError, Mistake
from lemmar.basics.phrasing import listed
from lemmar.basics.schemas import tidied
from lemmar.charter.file import CharterFile, Included
from lemmar.charter.lines import KeyLines, key_lines
from lemmar.charter.lines import Path as KeyPath
from lemmar.charter.merging import GATES, merge
from lemmar.charter.origins import origin
from lemmar.charter.types import Charter, Gate


class ReadCharter(NamedTuple):
    """A charter, the folder that its paths are relative to, its name for messages, and the line of each of its keys."""

    charter: Charter
    root: Path
    file: str
    lines: KeyLines


def read(path: Path, rules: Iterable[str] = ()) -> ReadCharter:
    """The charter at *path*.

    Raises:
        TreeError: the file cannot be read.
        CharterError: it has mistakes; all of them are in it.
    """
    return parsed(origin(path, None, Path.cwd()).file, rules)


def parsed(file: CharterFile, rules: Iterable[str] = ()) -> ReadCharter:
    """The charter in *file*, with the gate that is asked for.

    Raises:
        CharterError: it has mistakes; all of them are in it.
        GateError: there is no such gate.
    """
    charter, lines = parse(file.data, file.name, rules, file.included)
    return ReadCharter(_with_gate(charter, file), file.root, file.name, lines)


def _with_gate(charter: Charter, file: CharterFile) -> Charter:
    if file.gate is None:
        return charter
    if file.gate not in charter.gates:
        known = listed(charter.gates) or "none"
        raise GateError(f"there is no gate {file.gate!r} in {file.name}; it has {known}: write one as [gate.{file.gate}]")
    own = charter.gates[file.gate]
    gate = Gate(fail_on=own.fail_on or charter.gate.fail_on, severity={**charter.gate.severity, **own.severity})
    return msgspec.structs.replace(charter, gate=gate)


def parse(data: bytes, name: str, rules: Iterable[str] = (), included: Sequence[Included] = ()) -> tuple[Charter, KeyLines]:
    """The charter in *data* and the line of each of its keys, with the clients of the files *included*. Raises `CharterError`."""
    from lemmar.charter import meaning

    value = _toml(data, name)
    others = [(each.name, _toml(each.data, each.name)) for each in included]
    for file, found_there in ((name, value), *others):
        if _depth(found_there) > _MAX_DEPTH:
            raise CharterError(file, (Mistake(0, f"a value is nested deeper than {_MAX_DEPTH} levels; a charter needs six"),))
    merged = merge(value, others)
    copied = frozenset(merged.copied)
    lines = KeyLines(data, [(each.name, each.data, first) for each, first in zip(included, merged.firsts, strict=True)])
    found: list[Mistake] = [Mistake(key_lines(dict(included)[file]).get((key,), 0), text, file) for file, key, text in merged.strangers]
    wrong: list[KeyPath] = []

    def tell(path: KeyPath, text: str) -> None:
        if path[:1] == (GATES,):
            path, text = ("gate", *path[1:]), text.replace(f'"{GATES}"', "gate")
        if not {path[:3], path[:4]} & copied:  # what is wrong with it is said where it stands
            found.append(Mistake(lines.nearest(path), text, lines.file(path)))
            wrong.append(path)

    for path, text in merged.mistakes:
        tell(path, text)
    try:
        charter = msgspec.convert(merged.value, Charter)
    except msgspec.ValidationError as error:  # it stops at the first mistake: look for all
        from lemmar.charter import checking

        checking.check(merged.value, msgspec.inspect.type_info(Charter), (), tell)
        for path, text in _further(merged.value, tuple(wrong), rules):
            tell(path, text)
        raise CharterError(name, _in_order(found) or (Mistake(0, str(error)),)) from error
    for path, text in meaning.mistakes(charter, rules):
        tell(path, text)
    if found:
        raise CharterError(name, _in_order(found))
    return charter, lines


_MAX_DEPTH = 100


def _depth(value: Any) -> int:
    """How many tables and lists stand in each other, at the most."""
    deepest, stack = 0, [(value, 1)]
    while stack:
        item, depth = stack.pop()
        if isinstance(item, (dict, list)):
            deepest = max(deepest, depth)
            stack += [(inner, depth + 1) for inner in (item.values() if isinstance(item, dict) else item)]
    return deepest


def _further(value: Any, wrong: tuple[KeyPath, ...], rules: Iterable[str]) -> list[tuple[KeyPath, str]]:
    """What else is wrong with a charter in whose shape the paths *wrong* are: as if those were not there. Nothing where too much is."""
    from lemmar.charter import meaning

    rest = deepcopy(value)
    for path in wrong:
        _without(rest, path)
    shipping = rest.get("roster", {}).get("shipping") or ["en"]
    rest.setdefault("charter", {}).setdefault("version", 1)
    rest["charter"].setdefault("source", shipping[0])
    for client in rest.get("client", []):
        client.setdefault("kind", "web")
    try:
        charter = msgspec.convert(rest, Charter)
    except msgspec.ValidationError:
        return []
    return [(path, text) for path, text in meaning.mistakes(charter, rules) if not any(path[: len(bad)] == bad for bad in wrong if bad)]


def _without(value: Any, path: KeyPath) -> None:
    """Takes what stands at *path* out of nested tables; a list keeps its other items' places."""
    for step in path[:-1]:
        value = value.get(step) if isinstance(value, dict) else value[int(step)] if isinstance(value, list) else None
    if isinstance(value, dict) and path:
        value.pop(path[-1], None)


def _in_order(found: list[Mistake]) -> tuple[Mistake, ...]:
    return tuple(sorted(dict.fromkeys(found), key=lambda mistake: (mistake.file or "", mistake.line)))


def _toml(data: bytes, name: str) -> dict[str, Any]:
    try:
        return tomllib.loads(data.decode("utf-8-sig").replace("\r\n", "\n"))
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise CharterError(name, (Mistake(line, "the charter is not UTF-8; save it as UTF-8"),)) from error
    except (ValueError, RecursionError) as error:
        place = re.search(r" \(at line (\d+), column (\d+)\)", str(error))
        words = re.sub(r" \(at .*\)$", "", str(error))
        words = (
            "a number of thousands of digits" if "digits" in words else "nested too deeply" if isinstance(error, RecursionError) else words
        )
        column = f" (column {place.group(2)})" if place else ""
        line = int(place.group(1)) if place else data.count(b"\n") + 1
        raise CharterError(name, (Mistake(line, f"this is not TOML: {words[:1].lower()}{words[1:]}{column}"),)) from error


def schema() -> dict[str, Any]:
    """The JSON Schema (draft 2020-12) of a charter, for editors."""
    found = tidied(msgspec.json.schema(Charter))
    gates = found["$defs"]["Charter"]["properties"].pop(GATES)
    found["$defs"]["Gate"]["additionalProperties"] = gates["additionalProperties"]
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", "title": "The charter of Lemmar, lemmar.toml", **found}


def key_table() -> Iterator[tuple[str, str, str, str]]:
    """Each key of the charter for its reference: its table, its name, its type in words, what it means."""
    definitions = msgspec.json.schema(Charter)["$defs"]
    for table, definition in definitions.items():
        for key, facts in definition.get("properties", {}).items():
            yield table, key, _type_words(facts), facts.get("description", "")


def _type_words(facts: dict[str, Any]) -> str:
    if "$ref" in facts:
        return "table"
    if "enum" in facts:
        return " \\| ".join(f"`{value}`" for value in facts["enum"] if value is not None)
    if "anyOf" in facts:
        return " or ".join(dict.fromkeys(_type_words(choice) for choice in facts["anyOf"] if choice.get("type") != "null"))
    kind = facts.get("type", "any")
    words = {"string": "text", "array": "list", "object": "table", "boolean": "true or false", "number": "number", "integer": "number"}
    return "date" if facts.get("format") == "date" else words.get(kind, kind)
