"""What a cell of a table is as one text, for outputs that know no lists and maps; and JSON that does nothing to who looks at it."""

from __future__ import annotations

import json
from typing import Any

from lemmar.basics.expressions import expression
from lemmar.basics.text import BIDI_CONTROLS

_ACTIVE = expression(f"[\x7f-\x9f\u2028\u2029{BIDI_CONTROLS}]")


def flat(cell: Any, between: str) -> Any:
    """*cell* itself where it is a text, a number or None; a list of such joined by *between*; all else as JSON."""
    if isinstance(cell, (list, tuple)) and not any(isinstance(item, (list, tuple, dict)) for item in cell):
        return between.join(str(item) for item in cell)
    return json.dumps(cell, ensure_ascii=False) if isinstance(cell, (list, tuple, dict)) else cell


def json_of(value: Any, indent: int | None = None) -> str:
    """*value* as JSON, a lone surrogate replaced."""
    return inert(json.dumps(value, ensure_ascii=False, indent=indent).encode("utf-8", "replace").decode("utf-8"))


def quick_json_of(value: Any) -> str:
    """The same, on one line, as quickly as can be."""
    import msgspec

    try:
        return inert(msgspec.json.encode(value).decode("utf-8"))
    except UnicodeEncodeError:  # a lone surrogate
        return json_of(value)


def inert(document: str) -> str:
    """The same JSON with DEL, C1 and bidirectional controls as escapes, which a terminal or an editor would obey (RFC 8259 section 7)."""
    return _ACTIVE.sub(lambda match: f"\\u{ord(match[0]):04x}", document)
