"""Says which known name somebody may have meant."""

from __future__ import annotations

from collections.abc import Iterable


def nearest(name: str, known: Iterable[str]) -> str:
    """``; did you mean 'shipping'?`` where one of the known names is near, else the list of them."""
    names = sorted(known)
    import difflib

    close = difflib.get_close_matches(name, names, n=1, cutoff=0.6)
    if close:
        return f"; did you mean {close[0]!r}?"
    return f"; it is one of {', '.join(names)}" if 0 < len(names) <= 12 else ""
