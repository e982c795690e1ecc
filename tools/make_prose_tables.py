"""Makes the tables of `lemmar.prose`: function words, alphabets, and the characters that are only simplified or only traditional.

``python tools/make_prose_tables.py UNIHAN`` fetches two packages by npm at pinned versions; UNIHAN is the file ``Unihan_Variants.txt`` (or the same
packed as ``.bz2``), which the distribution's package ``unicode-data`` has. A second run gives the same bytes.
"""

from __future__ import annotations

import argparse
import bz2
import json
import re
import subprocess
import tarfile
import tempfile
from pathlib import Path
from typing import Any

PACKAGES = {"cldr-misc-full": "48.2.0", "stopwords-iso": "1.1.0"}
DATA = Path(__file__).resolve().parent.parent / "src" / "lemmar" / "prose" / "data"
LICENCE = """\
The tables in this folder are made by tools/make_prose_tables.py from:

  npm package cldr-misc-full 48.2.0 (letters.json)
  npm package stopwords-iso 1.1.0 (words.json)
  Unihan_Variants.txt of the Unicode Character Database 15.0 (chinese.json)

CLDR data and Unihan: Copyright 1991-2025 Unicode, Inc., under the Unicode License v3 (https://www.unicode.org/license.txt):
permission is granted, free of charge, to use, copy, modify, merge, publish, distribute and sell copies of the data files,
provided that this copyright and permission notice appear with all copies of them. THE DATA FILES ARE PROVIDED "AS IS",
WITHOUT WARRANTY OF ANY KIND.

stopwords-iso: Copyright (c) 2020 Gene Diaz, under the MIT License: permission is granted, free of charge, to any person obtaining a
copy, to deal in it without restriction, provided that the copyright notice and this permission notice are included in all copies or
substantial portions. IT IS PROVIDED "AS IS", WITHOUT WARRANTY OF ANY KIND.
"""
#: Function words are short; longer ones of the lists are mostly something else.
_LONGEST = 8
#: Characters that are a variant of another and a word of their own as well: they show nothing.
_BOTH = "台后面干著里"
_ITEM = re.compile(r"\{([^}]*)\}|\\u([0-9A-Fa-f]{4})|\\?(.)")


def words(folder: Path) -> dict[str, str]:
    """The function words of each language."""
    found: dict[str, list[str]] = json.loads((folder / "stopwords-iso-1.1.0/package/stopwords-iso.json").read_text("utf-8"))
    return {
        language: " ".join(sorted({word.lower() for word in each if 1 < len(word) <= _LONGEST and word.isalpha()}))
        for language, each in sorted(found.items())
        if language not in ("zh", "ja", "th", "ko")  # without blanks between words, or with endings at them
    }


def letters(folder: Path) -> dict[str, str]:
    """The small letters of each language's alphabet."""
    found: dict[str, str] = {}
    base = folder / "cldr-misc-full-48.2.0/package/main"
    for locale in sorted(path.name for path in base.iterdir()):
        file = base / locale / "characters.json"
        if "-" in locale or not file.is_file():
            continue
        facts: dict[str, Any] = json.loads(file.read_text("utf-8"))["main"][locale]["characters"]
        own = _letters(facts.get("exemplarCharacters", "[]"))
        if own:
            found[locale] = "".join(sorted(own))
    return found


def _letters(pattern: str) -> set[str]:
    """The letters of a set as UTS 35 writes it: single ones, strings in braces, ranges."""
    items: list[str] = []
    found: set[str] = set()
    for match in _ITEM.finditer(pattern.strip()[1:-1]):
        text = match[1] or (chr(int(match[2], 16)) if match[2] else match[3]) or ""
        if text == "-" and items and match[3] == "-" and not match[0].startswith("\\"):
            items.append("-")
            continue
        if items[-1:] == ["-"] and len(text) == 1:
            items.pop()
            found.update(map(chr, range(ord(items[-1]), ord(text) + 1)))
            items.append(text)
        elif not text.isspace():
            items.append(text)
    found.update(sign for item in items for sign in item)
    return {sign.lower() for sign in found if sign.isalpha()}


def chinese(unihan: Path) -> dict[str, str]:
    """The characters that are only the simplified form of another, and those that are only the traditional one."""
    raw = unihan.read_bytes()
    text = (bz2.decompress(raw) if unihan.suffix == ".bz2" else raw).decode("utf-8")
    variants: dict[str, dict[str, set[str]]] = {"kSimplifiedVariant": {}, "kTraditionalVariant": {}}
    for line in text.splitlines():
        code, kind, values = [*line.split("\t"), "", ""][:3]
        if kind in variants and code.startswith("U+"):
            variants[kind][chr(int(code[2:], 16))] = {chr(int(value[2:].partition("<")[0], 16)) for value in values.split()}
    traditional, simplified = variants["kSimplifiedVariant"], variants["kTraditionalVariant"]
    return {
        "simplified": _only(simplified, traditional),
        "traditional": _only(traditional, simplified),
    }


def _only(these: dict[str, set[str]], others: dict[str, set[str]]) -> str:
    return "".join(
        sorted(
            sign for sign, forms in these.items() if sign not in forms and sign not in others and sign not in _BOTH and ord(sign) < 0x10000
        )
    )


def main() -> None:
    """Writes the tables."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0] if __doc__ else "")
    parser.add_argument("unihan", type=Path, help="Unihan_Variants.txt, or the same packed as .bz2")
    unihan = parser.parse_args().unihan
    with tempfile.TemporaryDirectory() as work:
        folder = Path(work)
        for name, version in PACKAGES.items():
            subprocess.run(["npm", "pack", "--silent", f"{name}@{version}"], cwd=folder, check=True, stdout=subprocess.DEVNULL)
            with tarfile.open(folder / f"{name}-{version}.tgz") as archive:
                archive.extractall(folder / f"{name}-{version}", filter="data")
        tables = {"words": words(folder), "letters": letters(folder), "chinese": chinese(unihan)}
    DATA.mkdir(parents=True, exist_ok=True)
    for name, table in tables.items():
        (DATA / f"{name}.json").write_bytes(json.dumps(table, ensure_ascii=False, separators=(",", ":"), indent=0).encode() + b"\n")
    (DATA / "SOURCES.txt").write_text(LICENCE, "utf-8")


if __name__ == "__main__":
    main()
