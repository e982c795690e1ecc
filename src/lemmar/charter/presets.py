"""Platform presets: what a client's platform says of its spelling and runtime where the charter says nothing."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

from lemmar.charter.types import ClientEntry


class Trait(NamedTuple):
    """A runtime trait and what it is known from: ``charter``, ``preset NAME`` or ``default``."""

    value: str
    origin: str


# spelling, supported set, lookup, grain, on-miss, unmarked files
_ROWS = {
    "browser": ("bcp47", "claims", "truncate", "message", "key", "none"),
    "android": ("android", "files", "kin", "message", "error", "default"),
    "lproj": ("lproj", "files", "nearest", "catalog", "key", "none"),
    "java": ("java", "files", "java", "message", "error", "root"),
    "dotnet": ("dotnet", "files", "scripted", "message", "blank", "root"),
    "posix": ("posix", "files", "posix", "message", "source", "none"),
}
_TRAITS = ("spelling", "supported", "lookup", "grain", "on-miss", "unmarked")
_ELSE = {
    "spelling": "auto",
    "supported": "claims",
    "lookup": "truncate",
    "grain": "message",
    "on-miss": "key",
    "on-empty": "blank",
    "unmarked": "none",
}


def mirrors_itself(known: Mapping[str, Trait]) -> bool:
    """Whether layouts are mirrored by the platform whose preset some of the traits *known* come from, whatever a client does."""
    return any(trait.origin == "preset lproj" for trait in known.values())


def suits(platform: str, kind: str) -> bool:
    """Whether clients of a *kind* may be on *platform*: browsers run web clients only."""
    return platform != "browser" or kind == "web"


def file_based(platform: str | None) -> bool:
    """Whether on *platform* the files themselves say what is supported."""
    return platform is not None and _ROWS[platform][1] == "files"


def spelling_of(platform: str | None) -> str:
    """How locales are written on *platform*, where nothing else is said."""
    return _ROWS[platform][0] if platform is not None else _ELSE["spelling"]


def traits(client: ClientEntry) -> dict[str, Trait]:
    """Each trait of *client* with what it is known from: its charter, else its platform's preset, else the general default."""
    preset = dict(zip(_TRAITS, _ROWS[client.platform], strict=True)) if client.platform else {}
    found: dict[str, Trait] = {}
    for name, default in _ELSE.items():
        stated = client.spelling if name == "spelling" else getattr(client.runtime, name.replace("-", "_"), None)
        if stated is not None:
            found[name] = Trait(stated, "charter")
        elif name in preset:
            found[name] = Trait(preset[name], f"preset {client.platform}")
        else:
            found[name] = Trait(default, "default")
    return found
