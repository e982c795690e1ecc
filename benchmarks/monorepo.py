"""Writes synthetic monorepos of any size, the same for the same seed: five formats, ten locales, parts of some 200 keys."""

from __future__ import annotations

import csv
import json
import random
from pathlib import Path

LOCALES = ("en", "de", "fr", "it", "es", "pl", "nl", "sv", "da", "fi")
FORMATS = ("json", "resx", "strings", "android-xml", "sheet")
_PART = 200
_SYLLABLES = [
    "ba",
    "be",
    "bi",
    "bo",
    "bu",
    "da",
    "de",
    "di",
    "do",
    "du",
    "fa",
    "fe",
    "fi",
    "fo",
    "ga",
    "ge",
    "gi",
    "go",
    "ka",
    "ke",
    "ki",
    "ko",
    "la",
    "le",
    "li",
    "lo",
    "ma",
    "me",
    "mi",
    "mo",
    "na",
    "ne",
    "ni",
    "no",
    "ra",
    "re",
    "ri",
    "ro",
    "sa",
    "se",
    "si",
    "so",
]
_FIELDS = ("count", "place", "name", "date")
_WRITTEN = {"json": "{{%s}}", "resx": "{%s}", "strings": "%%@", "android-xml": "%%1$s", "sheet": "{%s}"}


class _Words:
    """Words in a language of its own for each locale, so that no text is another's."""

    def __init__(self, seed: str) -> None:
        self.random = random.Random(seed)
        self.known = ["".join(self.random.choices(_SYLLABLES, k=self.random.randint(1, 4))) for _ in range(2000)]

    def text(self, number: int, field: str) -> str:
        words = self.random.choices(self.known, k=self.random.randint(4, 9))
        if number % 4 == 0:
            words.insert(len(words) // 2, field)
        return " ".join(words).capitalize()


def write(folder: Path, messages: int, formats: tuple[str, ...] = FORMATS, seed: int = 7) -> int:
    """Writes a sound monorepo with about *messages* messages in all locales together; gives how many there are."""
    keys = max(_PART, messages // len(formats) // len(LOCALES))
    words = {locale: _Words(f"{seed}-{locale}") for locale in LOCALES}
    for name in formats:
        for start in range(0, keys, _PART):
            part = f"part{start // _PART:04d}"
            numbers = range(start, min(start + _PART, keys))
            texts = {
                locale: [
                    (
                        number,
                        words[locale].text(
                            number, _WRITTEN[name] % _FIELDS[number % 3] if "%s" in _WRITTEN[name] else _WRITTEN[name].replace("%%", "%")
                        ),
                    )
                    for number in numbers
                ]
                for locale in LOCALES
            }
            _WRITERS[name](folder / "clients" / name, part, texts)
    (folder / "lemmar.toml").write_text(_charter(formats), encoding="utf-8")
    return keys * len(formats) * len(LOCALES)


_Texts = dict[str, list[tuple[int, str]]]


def _put(path: Path, text: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(text, encoding="utf-8", newline="\n")


def _json(root: Path, part: str, texts: _Texts) -> None:
    for locale, rows in texts.items():
        tree: dict[str, dict[str, str]] = {}
        for number, text in rows:
            tree.setdefault(f"group{number // 20}", {})[f"key{number}"] = text
        _put(root / locale / f"{part}.json", json.dumps(tree, ensure_ascii=False, indent=2) + "\n")


def _resx(root: Path, part: str, texts: _Texts) -> None:
    for locale, rows in texts.items():
        body = "\n".join(f'  <data name="Key{number}" xml:space="preserve">\n    <value>{text}</value>\n  </data>' for number, text in rows)
        name = f"{part}.resx" if locale == "en" else f"{part}.{locale}.resx"
        _put(root / name, f'<?xml version="1.0" encoding="utf-8"?>\n<root>\n{body}\n</root>\n')


def _strings(root: Path, part: str, texts: _Texts) -> None:
    for locale, rows in texts.items():
        _put(root / f"{locale}.lproj" / f"{part}.strings", "".join(f'"key.{number}" = "{text}";\n' for number, text in rows))


def _android(root: Path, part: str, texts: _Texts) -> None:
    for locale, rows in texts.items():
        body = "\n".join(f'    <string name="key_{number}">{text}</string>' for number, text in rows)
        folder = "values" if locale == "en" else f"values-{locale}"
        _put(root / folder / f"{part}.xml", f'<?xml version="1.0" encoding="utf-8"?>\n<resources>\n{body}\n</resources>\n')


def _sheet(root: Path, part: str, texts: _Texts) -> None:
    rows = ["\t".join(("Key", *LOCALES))]
    for index, (number, _) in enumerate(texts["en"]):
        rows.append("\t".join((f"key.{number}", *(texts[locale][index][1] for locale in LOCALES))))
    _put(root / f"{part}.tsv", "\n".join(rows) + "\n")


def write_untranslated(root: Path, messages: int, translated: int) -> None:
    """A client of so many *messages* in JSON, complete in German; the first *translated* of them are in French as well."""
    words = [
        "bunk",
        "hut",
        "trail",
        "snow",
        "stove",
        "water",
        "lamp",
        "rope",
        "boots",
        "map",
        "key",
        "soup",
        "bread",
        "tea",
        "door",
        "bell",
        "roof",
        "valley",
        "ridge",
        "pass",
    ]
    said = {"en": ("The", "is", "for"), "de": ("Das", "ist", "für"), "fr": ("Le", "est", "pour")}
    part = 5_000
    for start in range(0, messages, part):
        for locale, (the, verb, purpose) in said.items():
            texts = {
                f"key.{number}": f"{the} {words[number % 20]} {number} {verb} {{state}} {purpose} {words[number // 20 % 20]}"
                for number in range(start, min(start + part, messages))
                if locale != "fr" or number < translated
            }
            _put(root / f"app/words/{locale}/p{start // part}.json", json.dumps(texts, ensure_ascii=False, indent=1) + "\n")
    files = 'files = "words/{locale}/{part}.json"'
    _put(
        root / "lemmar.toml",
        '[charter]\nversion = 1\nsource = "en"\n\n[roster]\nshipping = ["en", "de", "fr"]\n\n[chains]\ndefault = ["en"]\n\n'
        f'[[client]]\nname = "app"\nkind = "web"\nroot = "app"\n\n  [[client.catalog]]\n  {files}\n  syntax = "brace"\n\n'
        f'  [[client.claim]]\n  states = "supported"\n  {files}\n',
    )


def fill(sheet: Path) -> None:
    """Writes a French text into each row of a brief."""
    with sheet.open(encoding="utf-8-sig", newline="") as stream:
        rows = list(csv.reader(stream))
    target = next(index for index, heading in enumerate(rows[0]) if heading.endswith("(fr)"))
    for row in rows[1:]:
        row[target] = row[target - 1].replace("The ", "Le ").replace(" is ", " est ").replace(" for ", " pour ")
    with sheet.open("w", encoding="utf-8", newline="") as stream:
        csv.writer(stream).writerows(rows)


_WRITERS = {"json": _json, "resx": _resx, "strings": _strings, "android-xml": _android, "sheet": _sheet}
_PATTERNS = {
    "json": ("{locale}/{part}.json", "bcp47", "by-file", "double-brace"),
    "resx": ("{part}[.{locale}].resx", "dotnet", "by-file", "brace"),
    "strings": ("{locale}.lproj/{part}.strings", "lproj", "by-file", "printf"),
    "android-xml": ("values[-{locale}]/{part}.xml", "android", "by-file", "printf"),
    "sheet": ("{part}.tsv", "bcp47", "columns", "brace"),
}


def _charter(formats: tuple[str, ...]) -> str:
    shipping = ", ".join(f'"{locale}"' for locale in LOCALES)
    text = f'[charter]\nversion = 1\nsource = "en"\n\n[roster]\nshipping = [{shipping}]\n\n[chains]\ndefault = ["en"]\n'
    for name in formats:
        files, spelling, layout, syntax = _PATTERNS[name]
        columns = '\n  columns = { key = "Key" }' if layout == "columns" else ""
        text += f"""
[[client]]
name = "{name}"
kind = "service"
root = "clients/{name}"
spelling = "{spelling}"

  [client.runtime]
  supported = "files"

  [[client.catalog]]
  files = "{files}"
  format = "{name}"
  layout = "{layout}"
  syntax = "{syntax}"{columns}
"""
    return text
