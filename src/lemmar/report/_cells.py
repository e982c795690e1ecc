"""What a cell of a table is as one text, for outputs that know no lists and maps."""

from __future__ import annotations

import json
from typing import Any


def flat(cell: Any, between: str) -> Any:
    """*cell* itself where it is a text, a number or None; a list of such joined by *between*; all else as JSON."""
    if isinstance(cell, (list, tuple)) and not any(isinstance(item, (list, tuple, dict)) for item in cell):
        return between.join(str(item) for item in cell)
    return json.dumps(cell, ensure_ascii=False) if isinstance(cell, (list, tuple, dict)) else cell
