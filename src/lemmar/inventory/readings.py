"""What files were read as, kept for those who ask again: a survey looks at files before its charter is tried on them, and tomorrow's audit at
most of today's.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from contextlib import suppress
from typing import Any, TypeVar

import msgspec
from msgspec import Struct

from lemmar.basics.profiling import Times
from lemmar.cache import Cache, key_of
from lemmar.cache.messagepack import packed, unpacked
from lemmar.formats import NONE_RARE, Column, Defect, Format, Keys, Rare, Reading, ReadOptions
from lemmar.trees import Digest

_T = TypeVar("_T")


class Readings:
    """Reads bytes by a format, the same bytes in the same way once where it *keeps* what it has read. What is in the *cache* is not read at all:
    of that *code* says which program made it. Its *times* are those of all that is done with what it reads; how many files that are is *told*.
    """

    def __init__(
        self,
        keeps: bool = True,
        cache: Cache | None = None,
        code: bytes = b"",
        times: Times | None = None,
        told: Callable[[int], None] | None = None,
    ) -> None:
        self.times = times or Times()
        self._told = told
        self._number = 0
        self._keeps = keeps
        self._cache = cache
        self._code = code
        self._known: dict[tuple[object, ...], Reading] = {}
        #: What is made of columns and holds as long as they do, for who looks at the same files again; nothing where none are kept.
        self.memo: dict[str, Any] = {"guesses": {}} if keeps else {}
        self._keys: dict[bytes, Keys] = {}
        self._written: set[bytes] = set()

    def read(self, digest: Digest, data: bytes, form: Format, options: ReadOptions) -> Reading:
        """What *form* makes of *data*, whose digest is *digest*. Raises `IncompleteError`."""
        self._number += 1
        if self._told is not None:
            self._told(self._number)
        if not self._keeps and self._cache is None:
            return self._read(data, form, options)
        key = (
            digest,
            form.name,
            options.layout,
            options.encoding,
            options.suffix,
            options.key,
            *map(_plain, (options.columns, options.fields, options.names)),
        )
        if not self._keeps:
            return self._cached(key, data, form, options)
        if key not in self._known:
            self._known[key] = self._cached(key, data, form, options)
        return self._known[key]

    def kept(self, kind: str, key: tuple[object, ...], of: type[_T], make: Callable[[], _T]) -> _T:
        """What *make* gives, which depends on nothing but *key*: as it was kept, of the type *of*, where it was. Raises what *make* raises."""
        if self._cache is None:
            return make()
        name = key_of(self._code, kind, repr(key))
        found: _T | None = unpacked(self._cache.get(kind, name), of)
        if found is None:
            found = make()
            with suppress(UnicodeEncodeError):  # a lone surrogate, which no encoding has
                self._cache.put(kind, name, packed(found))
        return found

    def _cached(self, key: tuple[object, ...], data: bytes, form: Format, options: ReadOptions) -> Reading:
        if self._cache is None:
            return self._read(data, form, options)
        with self.times.of("cache"):
            name = key_of(self._code, repr(key))
            kept = self._cache.get("reading", name)
            found = self._decoded(kept) if kept is not None else None
            if found is None:
                found = self._read(data, form, options)
                self._keep(name, found)
        return found

    def _read(self, data: bytes, form: Format, options: ReadOptions) -> Reading:
        with self.times.of("read", form.name):
            return form.read(data, options)

    def _keep(self, name: bytes, reading: Reading) -> None:
        assert self._cache is not None
        try:
            columns = [
                (
                    column.label,
                    self._kept_keys(column.keys),
                    column.texts,
                    None if column.rare is NONE_RARE else column.rare,
                    *_facts(column),
                )
                for column in reading.columns
            ]
            self._cache.put("reading", name, packed((columns, reading.defects, reading.forwards)))
        except UnicodeEncodeError:  # a lone surrogate, which no encoding has
            return

    def _kept_keys(self, keys: Keys) -> bytes:
        assert self._cache is not None
        data = packed(keys)
        name = key_of("keys", data)
        if name not in self._written:
            self._written.add(name)
            if name not in self._keys:
                self._cache.put("keys", name, data)
        return name

    def _decoded(self, data: bytes) -> Reading | None:
        """The reading; None where the keys of one of its columns are not kept any more."""
        try:
            kept = _READING.decode(data)
        except msgspec.MsgspecError:
            return None
        columns = []
        for label, name, texts, rare, mark, part, header, at, names_forms in kept.columns:
            keys = self._held_keys(name)
            if keys is None:
                return None
            columns.append(Column(label, keys, texts, rare or NONE_RARE, mark, part, header, at, names_forms))
        return Reading(tuple(columns), kept.defects, kept.forwards)

    def _held_keys(self, name: bytes) -> Keys | None:
        assert self._cache is not None
        if name not in self._keys:
            data = self._cache.get("keys", name)
            if data is None:
                return None
            self._keys[name] = Keys(_KEYS.decode(data))
        return self._keys[name]


def _facts(column: Column) -> tuple[object, ...]:
    return column.mark, column.part, column.header, column.at, column.names_forms


class _Kept(Struct, frozen=True, array_like=True):
    """A reading as it is kept: of each column the fields, with a digest in the place of its keys."""

    columns: tuple[
        tuple[
            str | None,
            bytes,
            tuple[str | None, ...],
            Rare | None,
            str | None,
            str | None,
            str | None,
            tuple[int, int] | None,
            bool,
        ],
        ...,
    ]
    defects: tuple[Defect, ...]
    forwards: str | None


_READING = msgspec.msgpack.Decoder(_Kept)
_KEYS = msgspec.msgpack.Decoder(tuple[str, ...])


def _plain(options: Mapping[str, Any]) -> tuple[tuple[str, str], ...]:
    """Options as they can be compared, in whatever order they stand."""
    return tuple(sorted((name, repr(value)) for name, value in options.items()))
