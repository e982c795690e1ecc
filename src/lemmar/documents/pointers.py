"""Files that stand for large contents which are kept outside of the repository."""

from __future__ import annotations

from lemmar.basics.expressions import expression

#: What is wrong with such a file where contents are wanted.
POINTS = "the file only points to contents that are kept elsewhere; fetch them first"
_MOST = 1024
_POINTER = expression(rb"version [!-~]++\n(?:ext-[!-~ ]++\n)*+oid sha256:[0-9a-f]{64}\nsize [0-9]++\n?\Z")


def is_pointer(data: bytes) -> bool:
    """Whether a file holds nothing but where its contents are: a version, a digest and a size, as a large-file extension of git writes it."""
    return data.startswith(b"version ") and len(data) < _MOST and _POINTER.match(data) is not None
