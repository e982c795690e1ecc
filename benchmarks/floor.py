"""The floor: reads and parses the same files with the fastest general parsers, in one process, and checks nothing."""

from __future__ import annotations

import csv
import io
import sys
from pathlib import Path

import msgspec
from lxml import etree


def main(folder: Path) -> None:
    """Parses every catalog under *folder*."""
    for path in sorted((folder / "clients").rglob("*")):
        if not path.is_file():
            continue
        data = path.read_bytes()
        if path.suffix == ".json":
            msgspec.json.decode(data)
        elif path.suffix in (".resx", ".xml"):
            etree.fromstring(data)
        elif path.suffix == ".tsv":
            list(csv.reader(io.StringIO(data.decode("utf-8"), newline=""), delimiter="\t"))
        else:
            [line.split("=") for line in data.decode("utf-8").split("\n")]


if __name__ == "__main__":
    main(Path(sys.argv[1]))
