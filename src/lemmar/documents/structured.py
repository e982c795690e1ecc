"""A document of any of the general kinds, known by its suffix: JSON, YAML, TOML, or a property list in one of its three forms."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from lemmar.basics.text import decode
from lemmar.documents.nodes import Fault, Node

PROPERTY_LISTS = (".plist", ".strings", ".pbxproj", ".xcprivacy", ".entitlements", ".stringsdict")
YAML = (".yaml", ".yml")
TOML = (".toml",)
RELAXED_JSON = (".jsonc", ".json5")


class Scanned(NamedTuple):
    """The document's value (None where there is none), its faults, and its text, in which offsets count."""

    root: Node | None
    faults: list[Fault]
    text: str


@lru_cache(maxsize=1 << 16)
def suffix_of(file: str) -> str:
    """The file's suffix in lower case, with its dot; empty where it has none."""
    stem, dot, suffix = file.rpartition("/")[2].rpartition(".")
    return f".{suffix.lower()}" if dot and stem else ""


def scan(data: bytes, suffix: str) -> Scanned:
    """The document in *data*; never fails. Offsets in a binary property list are all 0."""
    if data.startswith(b"bplist"):
        from lemmar.documents import propertylist

        return Scanned(*propertylist.scan_binary(data), "")
    text = decode(data).text
    if suffix in PROPERTY_LISTS:
        from lemmar.documents import propertylist

        return Scanned(*propertylist.scan(text), text)
    if suffix in YAML:
        from lemmar.documents import yamltext

        found = yamltext.scan(text)
        return Scanned(found.root, found.faults, text)
    if suffix in TOML:
        from lemmar.documents import tomltext

        return Scanned(*tomltext.scan(text), text)
    from lemmar.documents import jsontext

    return Scanned(*jsontext.scan(text, relaxed=suffix in RELAXED_JSON), text)
