"""The tables, read when they are first asked for."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files


@cache
def table(name: str) -> dict[str, str]:
    """The table *name*: a text of words or letters for each key."""
    found: dict[str, str] = json.loads((files("lemmar.prose") / "data" / f"{name}.json").read_text("utf-8"))
    return found
