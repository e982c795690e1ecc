"""What files were read as, kept for those who ask again: a survey looks at files before its charter is tried on them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from lemmar.formats import Format, Reading, ReadOptions
from lemmar.trees import Digest


class Readings:
    """Reads bytes by a format, the same bytes in the same way once where it *keeps* what it has read."""

    def __init__(self, keeps: bool = True) -> None:
        self._keeps = keeps
        self._known: dict[tuple[object, ...], Reading] = {}

    def read(self, digest: Digest, data: bytes, form: Format, options: ReadOptions) -> Reading:
        """What *form* makes of *data*, whose digest is *digest*. Raises `IncompleteError`."""
        if not self._keeps:
            return form.read(data, options)
        key = (
            digest,
            form.name,
            options.layout,
            options.encoding,
            options.suffix,
            *map(_plain, (options.columns, options.fields, options.names)),
        )
        if key not in self._known:
            self._known[key] = form.read(data, options)
        return self._known[key]


def _plain(options: Mapping[str, Any]) -> tuple[tuple[str, str], ...]:
    """Options as they can be compared, in whatever order they stand."""
    return tuple(sorted((name, repr(value)) for name, value in options.items()))
