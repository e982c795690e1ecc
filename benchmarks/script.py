"""The fifty-line script that a release engineer would otherwise write: JSON only, key sets and placeholders compared."""

from __future__ import annotations

import json
import re
import sys
from pathlib import Path

PLACEHOLDER = re.compile(r"\{\{\s*([\w.]+)\s*\}\}")


def flatten(tree: dict[str, object], prefix: str = "") -> dict[str, str]:
    """The texts of a nested map by dotted key."""
    flat: dict[str, str] = {}
    for key, value in tree.items():
        if isinstance(value, dict):
            flat.update(flatten(value, f"{prefix}{key}."))
        else:
            flat[prefix + key] = str(value)
    return flat


def load(path: Path) -> dict[str, str]:
    """The texts of one file."""
    return flatten(json.loads(path.read_text("utf-8")))


def main(folder: Path, source: str = "en") -> int:
    """Compares every locale's files with the source's; gives how many faults there are."""
    faults = 0
    locales = sorted(path.name for path in folder.iterdir() if path.is_dir() and path.name != source)
    for path in sorted((folder / source).glob("*.json")):
        wanted = load(path)
        for locale in locales:
            other = folder / locale / path.name
            if not other.exists():
                print(f"{other}: not there")
                faults += 1
                continue
            found = load(other)
            for key in wanted.keys() - found.keys():
                print(f"{other}: {key} is missing")
                faults += 1
            for key in found.keys() - wanted.keys():
                print(f"{other}: {key} is too many")
                faults += 1
            for key in wanted.keys() & found.keys():
                if set(PLACEHOLDER.findall(wanted[key])) != set(PLACEHOLDER.findall(found[key])):
                    print(f"{other}: {key} has other placeholders")
                    faults += 1
    return faults


if __name__ == "__main__":
    sys.exit(bool(main(Path(sys.argv[1]) / "clients" / "json")))
