"""Texts between quotes, as formats and languages write them: what has to stand behind a backslash."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Mapping

from lemmar.basics.expressions import expression

_LINES = {"\n": "\\n", "\t": "\\t", "\r": "\\r"}
_CANDIDATES = expression(r"[^\w ]")


def json_escape(character: str) -> str:
    r"""``\u00e9``; a pair of surrogates beyond the basic plane."""
    return json.dumps(character)[1:-1]


def quoted(text: str, quote: str = '"', short: Mapping[str, str] = _LINES, code: Callable[[str], str] = json_escape) -> str:
    r"""*text* between *quote* signs (none, if empty), with backslashes before these and before backslashes, and characters as *short* has
    them; others that cannot be printed by *code*.
    """
    known = {"\\": "\\\\", **({quote: f"\\{quote}"} if quote else {}), **short}

    def one(match: re.Match[str]) -> str:
        character = match.group()
        own = known.get(character)
        return own if own is not None else character if character.isprintable() else code(character)

    return quote + _CANDIDATES.sub(one, text) + quote
