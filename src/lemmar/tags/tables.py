"""The tables: CLDR's and IANA's data, each loaded when first asked for. `data/SOURCES.txt` says where they come from."""

from __future__ import annotations

from functools import cache
from typing import Any


@cache
def table(name: str) -> Any:
    """One table of ``data/``, as `tools/make_tables.py` describes it."""
    import json
    import os

    with open(os.path.join(os.path.dirname(__file__), "data", f"{name}.json"), encoding="utf-8") as stream:
        return json.load(stream)


@cache
def registered(kind: str) -> frozenset[str]:
    """All subtags of a kind (``language``, ``script``, ``region``) in the registry, private ones left out."""
    return frozenset(table("registry")[kind].split())


def is_private(kind: str, subtag: str) -> bool:
    """Whether the registry sets *subtag* aside for private use (``qaa..qtz``, ``Qaaa..Qabx``, ``QM..QZ``, ``XA..XZ``)."""
    for entry in table("registry")["private"]:
        name, first, last = entry.replace("..", " ").split()
        if name == kind and len(subtag) == len(first) and first.lower() <= subtag.lower() <= last.lower():
            return True
    return False
