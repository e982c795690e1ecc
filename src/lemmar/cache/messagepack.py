"""Values as bytes: MessagePack, by their types. Nothing that is unpacked can run."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import msgspec


def _as_dict(value: object) -> object:
    if isinstance(value, Mapping):
        return dict(value)
    raise TypeError(f"{type(value)} cannot be packed")


_ENCODER = msgspec.msgpack.Encoder(enc_hook=_as_dict)
packed = _ENCODER.encode


def unpacked(data: bytes | None, kind: Any) -> Any:
    """What *data* holds; None where that is nothing of the *kind*."""
    if data is None:
        return None
    try:
        return msgspec.msgpack.decode(data, type=kind)
    except msgspec.MsgspecError:
        return None
