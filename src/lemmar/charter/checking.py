"""Checks a charter's values against its types and tells every mistake at once.

A converter that stops at the first mistake sends its user round and round; this walk goes over all of them. What a key means is
checked in `lemmar.charter.meaning`.
"""

from __future__ import annotations

import datetime
from collections.abc import Callable
from typing import Any

from msgspec import inspect

from lemmar.basics.phrasing import nearest
from lemmar.charter.lines import Path

_WORDS: dict[type, str] = {
    str: "a text",
    int: "a whole number",
    float: "a number",
    bool: "true or false",
    list: "a list",
    dict: "a table",
    datetime.date: "a date such as 2027-01-31",
    datetime.datetime: "a date with a time",
}
Tell = Callable[[Path, str], None]


def shown(path: Path) -> str:
    """A key path as a reader of the charter would write it: ``client[2].runtime.lookup``."""
    text = ""
    for step in path:
        if isinstance(step, int):
            text += f"[{step + 1}]"
        else:
            name = step if step.replace("-", "").replace("_", "").isalnum() and step.isascii() else f'"{step}"'
            text += f".{name}" if text else name
    return text


def check(value: Any, expected: inspect.Type, path: Path, tell: Tell) -> None:
    """Tells each place in *value* that is not as *expected*; goes on after every one of them."""
    if isinstance(expected, inspect.Metadata):
        expected = expected.type
    if isinstance(expected, inspect.UnionType):
        _check_union(value, expected, path, tell)
    elif isinstance(expected, inspect.StructType):
        _check_struct(value, expected, path, tell)
    elif isinstance(expected, inspect.DictType):
        if _is(value, dict, path, tell):
            for key, item in value.items():
                check(key, expected.key_type, (*path, key), tell)
                check(item, expected.value_type, (*path, key), tell)
    elif isinstance(expected, inspect.VarTupleType):
        if _is(value, list, path, tell):
            for index, item in enumerate(value):
                check(item, expected.item_type, (*path, index), tell)
    elif isinstance(expected, inspect.LiteralType):
        if value not in expected.values or isinstance(value, bool):
            texts = [str(choice) for choice in expected.values]
            tell(path, f"{value!r} is not a value of '{shown(path)}'{nearest(str(value), texts)}")
    else:
        _check_scalar(value, expected, path, tell)


def _check_union(value: Any, expected: inspect.UnionType, path: Path, tell: Tell) -> None:
    choices = [choice for choice in expected.types if not isinstance(choice, inspect.NoneType)]
    fitting = choices
    if len(choices) > 1:
        wants_table = isinstance(value, dict)
        fitting = [choice for choice in choices if isinstance(_bare(choice), inspect.StructType) == wants_table] or choices
    check(value, fitting[0], path, tell)


def _bare(expected: inspect.Type) -> inspect.Type:
    return expected.type if isinstance(expected, inspect.Metadata) else expected


def _check_struct(value: Any, expected: inspect.StructType, path: Path, tell: Tell) -> None:
    if not _is(value, dict, path, tell):
        return
    fields = {field.encode_name: field for field in expected.fields}
    for key, item in value.items():
        if key in fields:
            check(item, fields[key].type, (*path, key), tell)
        else:
            where = f" in '{shown(path)}'" if path else ""
            tell((*path, key), f"unknown key {key!r}{where}{nearest(key, fields)}")
    for name, field in fields.items():
        if field.required and name not in value:
            tell(path, f"the key {name!r} is missing" + (f" in '{shown(path)}'" if path else ""))


def _check_scalar(value: Any, expected: inspect.Type, path: Path, tell: Tell) -> None:
    if isinstance(expected, inspect.StrType):
        if _is(value, str, path, tell) and expected.min_length and len(value) < expected.min_length:
            tell(path, f"'{shown(path)}' is empty")
    elif isinstance(expected, inspect.BoolType):
        _is(value, bool, path, tell)
    elif isinstance(expected, inspect.FloatType):
        if isinstance(value, bool) or not isinstance(value, (int, float)):
            _is(value, float, path, tell)
        elif not (expected.ge or 0) <= value <= (expected.le if expected.le is not None else value):
            tell(path, f"'{shown(path)}' is {value}; it lies from {expected.ge:g} to {expected.le:g}")
    elif isinstance(expected, inspect.DateType) and (isinstance(value, datetime.datetime) or not isinstance(value, datetime.date)):
        _is(value, datetime.date, path, tell)


def _is(value: Any, wanted: type, path: Path, tell: Tell) -> bool:
    fits = type(value) is wanted
    if not fits:
        tell(path, f"'{shown(path) or 'the charter'}' wants {_WORDS[wanted]}, found {_WORDS.get(type(value), repr(value))}")
    return fits
