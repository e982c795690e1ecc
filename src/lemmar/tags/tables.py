"""The tables: CLDR's and IANA's data, each loaded when first asked for. `data/SOURCES.txt` says where they come from."""

from __future__ import annotations

import os
from functools import cache

# The modules `typing` and `json` would take half of the time that the package takes to load.
TYPE_CHECKING = False
if TYPE_CHECKING:
    from typing import Any


@cache
def table(name: str) -> Any:
    """One table of ``data/``, as `tools/make_tables.py` describes it."""
    import json

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


def likely_subtags(language: str, script: str | None, region: str | None) -> tuple[str, str, str] | None:
    """The likely language, script and region for what is given, by the most telling entry that fits (UTS 35, Likely Subtags)."""
    known = table("likely")
    keys = [
        (language, script, region) if script and region else None,
        (language, script) if script else None,
        (language, region) if region else None,
        (language,),
        ("und", script) if script else None,
    ]
    for key in keys:
        found = known.get("-".join(part for part in key if part)) if key else None
        if found:
            first, second, third = found.split("-")
            return first, second, third
    return None


def likely_region(language: str, script: str | None) -> str | None:
    """The region that is likely for a language in a script."""
    found = likely_subtags(language, script, None)
    return found[2] if found else None
