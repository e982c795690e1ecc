"""Sizes in bytes, as people write them."""

from __future__ import annotations

from lemmar.basics.expressions import expression

_SIZE = expression(r"(\d+(?:\.\d+)?)\s*(B|kB|KB|MB|GB|KiB|MiB|GiB)")
_UNITS = {"B": 1, "kB": 1000, "KB": 1000, "MB": 1000**2, "GB": 1000**3, "KiB": 1024, "MiB": 1024**2, "GiB": 1024**3}


def in_bytes(text: str) -> int:
    """The bytes of a size such as ``200 KB``. Raises `ValueError`."""
    found = _SIZE.fullmatch(text.strip())
    if found is None:
        raise ValueError(f"{text!r} is no size; write it as in '200 KB'")
    return int(float(found[1]) * _UNITS[found[2]])


def bytes_in(number: int) -> str:
    """``1.2 MB``: a number of bytes, as people read it."""
    for unit, size in (("GB", 1000**3), ("MB", 1000**2), ("KB", 1000)):
        if number >= size:
            return f"{number / size:.1f} {unit}"
    return f"{number} B"
