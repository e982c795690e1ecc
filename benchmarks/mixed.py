"""Writes a synthetic monorepo of many shapes, the same for the same seed: twenty clients, forty locales, every format, plurals, texts with branches."""

from __future__ import annotations

import json
import random
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple
from xml.sax.saxutils import escape

from monorepo import _SYLLABLES

LOCALES = (
    *(
        "en",
        "de",
        "fr",
        "it",
        "es",
        "pl",
        "nl",
        "sv",
        "da",
        "fi",
        "nb",
        "cs",
        "sk",
        "sl",
        "hr",
        "hu",
        "ro",
        "lt",
        "lv",
        "et",
        "pt-BR",
        "pt-PT",
    ),
    *("tr", "ca", "eu", "gl", "is", "ga", "mt", "cy", "de-AT", "fr-CA", "es-MX", "id", "ms", "vi", "sw", "af", "sq", "az"),
)
_PART = 150
#: Of ten keys the tenth is a plural, the fourth and eighth have a placeholder.
_Forms = dict[str, str]
Row = tuple[int, "str | _Forms"]


class Shape(NamedTuple):
    """A way to keep catalogs: the charter's tables, and what writes one part of all locales. *syntax* writes a placeholder."""

    charter: str
    write: Callable[[Path, str, dict[str, list[Row]]], None]
    placeholder: str = "{name}"
    plurals: bool = True
    icu: bool = False


def _categories(locale: str) -> tuple[str, ...]:
    from lemmar.tags import LanguageTag, whole_number_categories

    return tuple(name for name in whole_number_categories(LanguageTag.parse(locale), "cardinal"))


class _Words:
    def __init__(self, seed: str) -> None:
        self.random = random.Random(seed)
        self.known = ["".join(self.random.choices(_SYLLABLES, k=self.random.randint(1, 4))) for _ in range(1500)]

    def text(self, placeholder: str | None) -> str:
        words = self.random.choices(self.known, k=self.random.randint(4, 9))
        if placeholder:
            words.insert(len(words) // 2, placeholder)
        return " ".join(words).capitalize()


def _put(path: Path, text: str) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_text(text, encoding="utf-8", newline="\n")


def _tree(rows: list[Row]) -> dict[str, dict[str, object]]:
    tree: dict[str, dict[str, object]] = {}
    for number, text in rows:
        tree.setdefault(f"group{number // 20}", {})[f"key{number}"] = text
    return tree


def _flat(rows: list[Row]) -> list[tuple[str, str]]:
    return [(f"key.{number}", text) for number, text in rows if isinstance(text, str)]


def _json(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        tree = _tree([row for row in rows if isinstance(row[1], str)])
        for number, forms in rows:
            if not isinstance(forms, str):
                tree.setdefault(f"group{number // 20}", {}).update({f"key{number}_{name}": text for name, text in forms.items()})
        _put(root / locale / f"{part}.json", json.dumps(tree, ensure_ascii=False, indent=2) + "\n")


def _json_flat(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        _put(root / part / f"{locale}.json", json.dumps(dict(_flat(rows)), ensure_ascii=False, indent=1) + "\n")


def _json_leaved(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    tree: dict[str, dict[str, str]] = {}
    for locale, rows in texts.items():
        for key, text in _flat(rows):
            tree.setdefault(key, {})[locale] = text
    _put(root / f"{part}.json", json.dumps(tree, ensure_ascii=False, indent=1) + "\n")


def _json_records(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        records = [{"id": key, "text": text, "note": "n"} for key, text in _flat(rows)]
        _put(root / locale / f"{part}.json", json.dumps({"messages": records}, ensure_ascii=False, indent=1) + "\n")


def _arb(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        found: dict[str, object] = {"@@locale": locale.replace("-", "_")}
        for number, text in rows:
            whole = (
                text if isinstance(text, str) else "{count, plural, " + " ".join(f"{name} {{{each}}}" for name, each in text.items()) + "}"
            )
            found[f"key{number}"] = whole
            if locale == "en":
                found[f"@key{number}"] = {"description": "where it stands"}
        _put(root / f"{part}_{locale.replace('-', '_')}.arb", json.dumps(found, ensure_ascii=False, indent=2) + "\n")


def _yaml_text(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)


def _yaml(root: Path, part: str, texts: dict[str, list[Row]], rooted: bool = False) -> None:
    for locale, rows in texts.items():
        lines = [f"{locale}:"] if rooted else []
        pad = "  " if rooted else ""
        for group, members in _tree(rows).items():
            lines.append(f"{pad}{group}:")
            for key, text in members.items():
                if isinstance(text, str):
                    lines.append(f"{pad}  {key}: {_yaml_text(text)}")
                else:
                    lines.append(f"{pad}  {key}:")
                    lines += [f"{pad}    {name}: {_yaml_text(each)}" for name, each in text.items()]  # type: ignore[attr-defined]
        _put(root / part / f"{locale}.yml", "\n".join(lines) + "\n")


def _yaml_rooted(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    _yaml(root, part, texts, rooted=True)


def _toml(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        lines: list[str] = []
        for group, members in _tree([row for row in rows if isinstance(row[1], str)]).items():
            lines += [f"[{group}]", *(f"{key} = {_yaml_text(str(text))}" for key, text in members.items())]
        _put(root / locale / f"{part}.toml", "\n".join(lines) + "\n")


def _typescript(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        lines = ["export default {"]
        for group, members in _tree([row for row in rows if isinstance(row[1], str)]).items():
            lines += [f"  {group}: {{", *(f"    {key}: {_yaml_text(str(text))}," for key, text in members.items()), "  },"]
        _put(root / locale / f"{part}.ts", "\n".join([*lines, "};"]) + "\n")


def _php(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        lines = [f"    '{key}' => '{text}'," for key, text in _flat(rows)]
        _put(root / locale / f"{part}.php", "\n".join(["<?php", "return [", *lines, "];"]) + "\n")


def _properties(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        name = f"{part}.properties" if locale == "en" else f"{part}_{locale.replace('-', '_')}.properties"
        _put(root / name, "".join(f"{key}={text}\n" for key, text in _flat(rows)))


def _po(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    english = texts["en"]
    for locale, rows in texts.items():
        names = _categories(locale)
        rule = (
            "nplurals=2; plural=(n != 1);" if names == ("one", "other") else f"nplurals={len(names)}; plural=(n==1 ? 0 : {len(names) - 1});"
        )
        lines = ['msgid ""', 'msgstr ""', f'"Language: {locale.replace("-", "_")}\\n"', '"Content-Type: text/plain; charset=UTF-8\\n"']
        lines += [f'"Plural-Forms: {rule}\\n"', ""] if names == ("one", "other") else [""]
        for (number, source), (_, text) in zip(english, rows, strict=True):
            if isinstance(text, str) and isinstance(source, str):
                lines += [f"#: src/{part}.c:{number}", f'msgid "{source}"', f'msgstr "{text}"', ""]
        _put(root / locale.replace("-", "_") / "LC_MESSAGES" / f"{part}.po", "\n".join(lines))


def _android(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        lines = []
        for number, text in rows:
            if isinstance(text, str):
                lines.append(f'    <string name="key_{number}">{text}</string>')
            else:
                items = "".join(f'<item quantity="{name}">{each}</item>' for name, each in text.items())
                lines.append(f'    <plurals name="key_{number}">{items}</plurals>')
        folder = "values" if locale == "en" else f"values-{locale.replace('-', '-r')}"
        _put(
            root / folder / f"{part}.xml",
            "\n".join(['<?xml version="1.0" encoding="utf-8"?>', "<resources>", *lines, "</resources>"]) + "\n",
        )


def _strings(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        _put(root / f"{locale}.lproj" / f"{part}.strings", "".join(f'/* a */\n"{key}" = "{text}";\n' for key, text in _flat(rows)))


def _stringsdict(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        lines = []
        for number, text in rows:
            if isinstance(text, str):
                continue
            forms = text
            inner = "".join(f"<key>{name}</key><string>{each}</string>" for name, each in forms.items())
            inner = "<key>NSStringFormatSpecTypeKey</key><string>NSStringPluralRuleType</string>" + inner
            head = "<key>NSStringLocalizedFormatKey</key><string>%#@n@</string>"
            lines.append(f"<key>key{number}</key><dict>{head}<key>n</key><dict>{inner}</dict></dict>")
        top = '<?xml version="1.0" encoding="UTF-8"?>\n<plist version="1.0"><dict>'
        _put(root / f"{locale}.lproj" / f"{part}.stringsdict", "\n".join([top, *lines, "</dict></plist>"]) + "\n")


def _xcstrings(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    strings: dict[str, dict[str, dict[str, object]]] = {}
    for locale, rows in texts.items():
        for number, text in rows:
            if isinstance(text, str):
                unit: dict[str, object] = {"stringUnit": {"state": "translated", "value": text}}
            else:
                forms = {name: {"stringUnit": {"state": "translated", "value": each}} for name, each in text.items()}
                unit = {"variations": {"plural": forms}}
            strings.setdefault(f"key{number}", {"localizations": {}})["localizations"][locale] = unit
    _put(
        root / f"{part}.xcstrings",
        json.dumps({"sourceLanguage": "en", "strings": strings, "version": "1.0"}, ensure_ascii=False, indent=2) + "\n",
    )


def _resx(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        body = "\n".join(f'  <data name="{key}" xml:space="preserve">\n    <value>{text}</value>\n  </data>' for key, text in _flat(rows))
        name = f"{part}.resx" if locale == "en" else f"{part}.{locale}.resx"
        _put(root / name, f'<?xml version="1.0" encoding="utf-8"?>\n<root>\n{body}\n</root>\n')


def _xaml(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    for locale, rows in texts.items():
        body = "\n".join(f'  <sys:String x:Key="{key}">{text}</sys:String>' for key, text in _flat(rows))
        name = f"{part}.xaml" if locale == "en" else f"{part}.{locale}.xaml"
        spaces = 'xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml" xmlns:sys="clr-namespace:System;assembly=mscorlib"'
        _put(root / name, f"<ResourceDictionary {spaces}>\n{body}\n</ResourceDictionary>\n")


def _ts(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    english = dict(_flat(texts["en"]))
    for locale, rows in texts.items():
        body = "\n".join(
            f"<message><source>{english[key]}</source><translation>{text}</translation></message>"
            for key, text in _flat(rows)
            if key in english
        )
        head = f'<?xml version="1.0" encoding="utf-8"?>\n<!DOCTYPE TS>\n<TS version="2.1" language="{locale.replace("-", "_")}">'
        _put(root / f"{part}_{locale.replace('-', '_')}.ts", f"{head}\n<context><name>{part}</name>\n{body}\n</context>\n</TS>\n")


def _xliff(root: Path, part: str, texts: dict[str, list[Row]], second: bool = False) -> None:
    english = dict(_flat(texts["en"]))
    for locale, rows in texts.items():
        units = []
        for key, text in _flat(rows):
            source, target = escape(english[key]), escape(text)
            if second:
                units.append(f'<unit id="{key}"><segment state="final"><source>{source}</source><target>{target}</target></segment></unit>')
            else:
                units.append(f'<trans-unit id="{key}"><source>{source}</source><target state="final">{target}</target></trans-unit>')
        if second:
            head, foot = (
                f'<xliff version="2.0" srcLang="en" trgLang="{locale}" xmlns="urn:oasis:names:tc:xliff:document:2.0"><file id="f">',
                "</file></xliff>",
            )
        else:
            head = '<xliff version="1.2" xmlns="urn:oasis:names:tc:xliff:document:1.2">'
            head += f'<file source-language="en" target-language="{locale}" datatype="plaintext" original="f"><body>'
            foot = "</body></file></xliff>"
        _put(root / locale / f"{part}.xlf", "\n".join(['<?xml version="1.0" encoding="utf-8"?>', head, *units, foot]) + "\n")


def _xliff2(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    _xliff(root, part, texts, second=True)


def _sheet(root: Path, part: str, texts: dict[str, list[Row]]) -> None:
    columns = {locale: [text for _, text in _flat(rows)] for locale, rows in texts.items()}
    rows = [",".join(("Key", *LOCALES))]
    for index, (key, _) in enumerate(_flat(texts["en"])):
        rows.append(",".join((key, *(columns[locale][index] for locale in LOCALES))))
    _put(root / f"{part}.csv", "\n".join(rows) + "\n")


SHAPES: dict[str, Shape] = {
    "json-nested": Shape('files = "{locale}/{part}.json"\n  syntax = "double-brace"', _json, "{{name}}"),
    "json-flat": Shape('files = "{part}/{locale}.json"\n  syntax = "brace"', _json_flat),
    "json-leaved": Shape('files = "{part}.json"\n  layout = "locale-leaved"\n  syntax = "brace"', _json_leaved),
    "json-records": Shape(
        'files = "{locale}/{part}.json"\n  layout = "records"\n  fields = { list = "/messages", key = "id", text = "text" }', _json_records
    ),
    "arb": Shape('files = "{part}_{locale}.arb"\n  format = "arb"\n  syntax = "icu"\n  spelling = "java"', _arb, icu=True),
    "yaml": Shape('files = "{part}/{locale}.yml"\n  syntax = "percent-brace"', _yaml, "%{name}"),
    "yaml-rooted": Shape('files = "{part}/{locale}.yml"\n  layout = "locale-rooted"\n  syntax = "percent-brace"', _yaml_rooted, "%{name}"),
    "toml": Shape('files = "{locale}/{part}.toml"\n  syntax = "brace"', _toml),
    "code-ts": Shape('files = "{locale}/{part}.ts"\n  format = "code"\n  syntax = "brace"', _typescript),
    "code-php": Shape('files = "{locale}/{part}.php"\n  format = "code"\n  syntax = "colon"', _php, ":name"),
    "properties": Shape('files = "{part}[_{locale}].properties"\n  syntax = "brace"\n  spelling = "java"', _properties, "{0}"),
    "po": Shape('files = "{locale}/LC_MESSAGES/{part}.po"\n  syntax = "printf"\n  spelling = "posix"', _po, "%s"),
    "android": Shape(
        'files = "values[-{locale}]/{part}.xml"\n  format = "android-xml"\n  syntax = "printf"\n  spelling = "android"', _android, "%1$s"
    ),
    "strings": Shape('files = "{locale}.lproj/{part}.strings"\n  syntax = "printf"', _strings, "%@"),
    "stringsdict": Shape('files = "{locale}.lproj/{part}.stringsdict"\n  syntax = "printf"', _stringsdict, "%@"),
    "xcstrings": Shape('files = "{part}.xcstrings"\n  syntax = "printf"', _xcstrings, "%@"),
    "resx": Shape('files = "{part}[.{locale}].resx"\n  syntax = "brace"', _resx, "{0}"),
    "xaml": Shape('files = "{part}[.{locale}].xaml"\n  syntax = "brace"', _xaml, "{0}"),
    "ts-xml": Shape('files = "{part}_{locale}.ts"\n  format = "ts-xml"\n  syntax = "percent-number"\n  spelling = "posix"', _ts, "%1"),
    "xliff": Shape('files = "{locale}/{part}.xlf"\n  format = "xliff"\n  syntax = "brace"', _xliff, "{0}"),
    "xliff-2": Shape('files = "{locale}/{part}.xlf"\n  format = "xliff"\n  syntax = "brace"', _xliff2, "{0}"),
    "sheet": Shape(
        'files = "{part}.csv"\n  format = "sheet"\n  layout = "columns"\n  columns = { key = "Key" }\n  syntax = "brace"', _sheet
    ),
}


def write(folder: Path, messages: int, seed: int = 7, only: tuple[str, ...] | None = None) -> int:
    """Writes a monorepo with about *messages* messages in all locales together; gives how many there are."""
    shapes = {name: shape for name, shape in SHAPES.items() if only is None or name in only}
    keys = max(_PART, messages // len(shapes) // len(LOCALES))
    categories = {locale: _categories(locale) for locale in LOCALES}
    words = {locale: _Words(f"{seed}-{locale}") for locale in LOCALES}
    for name, shape in shapes.items():
        for start in range(0, keys, _PART):
            numbers = range(start, min(start + _PART, keys))
            texts = {locale: [_row(number, words[locale], shape, categories[locale]) for number in numbers] for locale in LOCALES}
            shape.write(folder / "clients" / name, f"part{start // _PART:04d}", texts)
    shipping = ", ".join(f'"{locale}"' for locale in LOCALES)
    text = f'[charter]\nversion = 1\nsource = "en"\n\n[roster]\nshipping = [{shipping}]\n\n[chains]\ndefault = ["en"]\n'
    for name, shape in shapes.items():
        text += f'\n[[client]]\nname = "{name}"\nkind = "service"\nroot = "clients/{name}"\n\n  [client.runtime]\n  supported = "files"\n'
        text += f"\n  [[client.catalog]]\n  {shape.charter}\n"
    _put(folder / "lemmar.toml", text)
    return keys * len(shapes) * len(LOCALES)


def _row(number: int, words: _Words, shape: Shape, categories: tuple[str, ...]) -> Row:
    if number % 10 == 0 and shape.plurals:
        counted = "{count}" if shape.icu else shape.placeholder
        names = (*categories, "other") if shape.icu and "other" not in categories else categories  # which ICU always wants
        return number, {name: words.text(counted) for name in names}
    return number, words.text(shape.placeholder if number % 4 == 0 else None)
