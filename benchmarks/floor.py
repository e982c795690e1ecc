"""The floor: reads and parses the same files with the fastest general parsers, in one process, and checks nothing."""

from __future__ import annotations

import csv
import io
import sys
import tomllib
from pathlib import Path

import msgspec
import tree_sitter_php
import tree_sitter_typescript
import yaml
from lxml import etree
from tree_sitter import Language, Parser

_PARSERS = {
    ".php": Parser(Language(tree_sitter_php.language_php())),
    ".ts": Parser(Language(tree_sitter_typescript.language_typescript())),
}


def main(folder: Path) -> None:
    """Parses every catalog under *folder*."""
    for path in sorted((folder / "clients").rglob("*")):
        if not path.is_file():
            continue
        data = path.read_bytes()
        if path.suffix in (".json", ".arb", ".xcstrings"):
            msgspec.json.decode(data)
        elif data.startswith(b"<?xml") or path.suffix in (".resx", ".xml", ".xaml", ".xlf"):
            etree.fromstring(data)
        elif path.suffix == ".yml":
            yaml.load(data, Loader=yaml.CSafeLoader)
        elif path.suffix == ".toml":
            tomllib.loads(data.decode("utf-8"))
        elif path.suffix in (".php", ".ts"):
            _PARSERS[path.suffix].parse(data)
        elif path.suffix == ".csv":
            list(csv.reader(io.StringIO(data.decode("utf-8"), newline="")))
        elif path.suffix == ".tsv":
            list(csv.reader(io.StringIO(data.decode("utf-8"), newline=""), delimiter="\t"))
        else:
            [line.split("=") for line in data.decode("utf-8").split("\n")]


if __name__ == "__main__":
    main(Path(sys.argv[1]))
