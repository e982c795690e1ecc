"""Tarnhut's five clients: what each writes down of locales and texts, in the manner of its kind."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from xml.sax.saxutils import escape

from lemmar.demo.phrases import LOCALES, Phrase, phrases
from lemmar.tags import LanguageTag, write_spelling

Files = Iterator[tuple[str, str]]

_NAMES = {
    "en": "English", "de": "Deutsch", "de-AT": "Deutsch (Österreich)", "fr": "Français", "it": "Italiano",
    "pt-BR": "Português (Brasil)", "zh-Hans": "简体中文", "ar": "العربية", "sr-Latn": "Srpski (latinica)", "uk": "Українська",
    "sl": "Slovenščina",
}  # fmt: skip
_TONGUES = {
    "en": "English", "de": "German", "de-AT": "AustrianGerman", "fr": "French", "it": "Italian", "pt-BR": "BrazilianPortuguese",
    "zh-Hans": "SimplifiedChinese", "ar": "Arabic", "sr-Latn": "SerbianLatin", "uk": "Ukrainian", "sl": "Slovenian",
}  # fmt: skip


def files() -> Files:
    """The path and text of every file of every client, all of them sound."""
    yield from _booking_site()
    yield from _warden_desk()
    yield from _ridge_pocket()
    yield from _trail_pocket()
    yield from _summit_trail()


def _texts(locale: str, part: str | None, write: Callable[[str, int], str], overlay: bool, first: int = 0) -> Iterator[tuple[Phrase, str]]:
    for phrase in phrases()[first:]:
        text = phrase.text(locale, write, overlay)
        if text is not None and part in (None, phrase.part):
            yield phrase, text


# --------------------------------------------------------------------------------------------------------------- booking-site


def _booking_site() -> Files:
    root = "clients/booking-site"
    listed = ",\n".join(f'  "{tag}"' for tag in LOCALES)
    yield (
        f"{root}/src/i18n/tongues.ts",
        f'/** The languages that the site is built for. */\nexport const siteTongues = [\n{listed},\n] as const;\n\nexport const homeTongue = "en";\n',
    )
    entries = "\n".join(f'  {{ tag: "{tag}", words: "{_NAMES[tag]}" }},' for tag in LOCALES)
    yield (
        f"{root}/src/shell/LanguageMenu.tsx",
        f"export const menuEntries = [\n{entries}\n];\n\nexport function LanguageMenu(props: {{ pick(tag: string): void }}) {{\n  return <ul>{{menuEntries.map((entry) => <li onClick={{() => props.pick(entry.tag)}}>{{entry.words}}</li>)}}</ul>;\n}}\n",
    )
    routes = {"home": "/", "languages": [{"path": f"/{tag}/", "tag": tag} for tag in LOCALES]}
    yield f"{root}/public/routes.json", json.dumps(routes, indent=2) + "\n"
    for locale in LOCALES:
        for part in ("booking", "hut"):
            yield (
                f"{root}/src/locales/{locale}/{part}.json",
                _nested(_texts(locale, part, lambda name, _number: f"{{{{{name}}}}}", overlay=True)),
            )


def _nested(texts: Iterator[tuple[Phrase, str]]) -> str:
    tree: dict[str, dict[str, str]] = {}
    for phrase, text in texts:
        branch, _, leaf = phrase.name.partition(".")
        tree.setdefault(branch, {})[leaf] = text
    return json.dumps(tree, ensure_ascii=False, indent=2) + "\n"


# ---------------------------------------------------------------------------------------------------------------- warden-desk


def _warden_desk() -> Files:
    root = "clients/warden-desk"
    listed = ",\n".join(f'        "{tag}"' for tag in LOCALES)
    yield (
        f"{root}/Desk/Tongues.cs",
        f'namespace WardenDesk;\n\n/// <summary>The languages that the warden\'s desk can be switched to.</summary>\npublic static class Tongues\n{{\n    public const string Home = "en";\n\n    public static readonly string[] All =\n    {{\n{listed},\n    }};\n}}\n',
    )
    for locale in LOCALES:
        name = "Texts.resx" if locale == "en" else f"Texts.{locale}.resx"
        rows = []
        for phrase, text in _texts(locale, None, lambda _name, number: f"{{{number - 1}}}", overlay=True, first=7):
            note = f"\n    <comment>Filled in: {', '.join(phrase.fields)}</comment>" if phrase.fields and locale == "en" else ""
            rows.append(f'  <data name="{_pascal(phrase.name)}" xml:space="preserve">\n    <value>{escape(text)}</value>{note}\n  </data>')
        yield f"{root}/Desk/{name}", '<?xml version="1.0" encoding="utf-8"?>\n<root>\n' + "\n".join(rows) + "\n</root>\n"


def _pascal(name: str) -> str:
    return "".join(word.capitalize() for word in name.split("."))


# --------------------------------------------------------------------------------------------------------------- ridge-pocket


def _ridge_pocket() -> Files:
    root = "clients/ridge-pocket"
    listed = "\n".join(f"    <string>{tag}</string>" for tag in LOCALES)
    yield (
        f"{root}/Pocket/Info.plist",
        f'<?xml version="1.0" encoding="UTF-8"?>\n<plist version="1.0">\n<dict>\n  <key>CFBundleDevelopmentRegion</key>\n  <string>en</string>\n  <key>CFBundleName</key>\n  <string>Ridge Pocket</string>\n  <key>CFBundleLocalizations</key>\n  <array>\n{listed}\n  </array>\n</dict>\n</plist>\n',
    )
    for locale in LOCALES:
        for part, table in (("booking", "Booking"), ("hut", "Hut")):
            yield f"{root}/Pocket/{locale}.lproj/{table}.strings", _strings(locale, part)


def _strings(locale: str, part: str) -> str:
    lines = []
    for phrase, text in _texts(locale, part, lambda _name, _number: "%@", overlay=False):
        if len(phrase.fields) > 1:
            text = phrase.text(locale, lambda _name, number: f"%{number}$@", overlay=False) or ""
        if phrase.fields and locale == "en":
            lines.append(f"/* Filled in: {', '.join(phrase.fields)} */")
        lines.append(f'"{phrase.name}" = "{text}";')
    return "\n".join(lines) + "\n"


# --------------------------------------------------------------------------------------------------------------- trail-pocket


def _trail_pocket() -> Files:
    root = "clients/trail-pocket/app/src/main/res"
    listed = "\n".join(f'    <locale android:name="{tag}"/>' for tag in LOCALES)
    yield (
        f"{root}/xml/locales_config.xml",
        f'<?xml version="1.0" encoding="utf-8"?>\n<locale-config xmlns:android="http://schemas.android.com/apk/res/android">\n{listed}\n</locale-config>\n',
    )
    for locale in LOCALES:
        folder = "values" if locale == "en" else f"values-{write_spelling(LanguageTag.parse(locale), 'android')}"
        rows = ['    <string name="app_name" translatable="false">Tarnhut Trails</string>'] if locale == "en" else []
        for phrase, text in _texts(locale, None, lambda _name, number: f"%{number}$s", overlay=True):
            words = escape(text).replace("'", "\\'")
            rows.append(f'    <string name="{phrase.name.replace(".", "_")}">{words}</string>')
        yield f"{root}/{folder}/strings.xml", '<?xml version="1.0" encoding="utf-8"?>\n<resources>\n' + "\n".join(rows) + "\n</resources>\n"
    yield (
        f"{root}/values-night/colors.xml",
        '<?xml version="1.0" encoding="utf-8"?>\n<resources>\n    <color name="sky">#0B1A2B</color>\n</resources>\n',
    )


# --------------------------------------------------------------------------------------------------------------- summit-trail


def _summit_trail() -> Files:
    root = "clients/summit-trail"
    listed = ",\n".join(f"    {_TONGUES[tag]}" for tag in LOCALES)
    yield (
        f"{root}/Scripts/Tongue.cs",
        f"namespace SummitTrail;\n\n/// <summary>The columns of words.tsv, in their order.</summary>\npublic enum Tongue\n{{\n{listed},\n}}\n\npublic static class TongueFacts\n{{\n    public const Tongue Home = Tongue.English;\n}}\n",
    )
    rows = ["\t".join(["Key", "Notes", "Max", *LOCALES])]
    for phrase in phrases()[5:]:
        texts = [phrase.text(locale, lambda name, _number: f"{{{name}}}", overlay=False) or "" for locale in LOCALES]
        notes = f"filled in: {', '.join(phrase.fields)}" if phrase.fields else ""
        rows.append("\t".join([phrase.name, notes, "60", *texts]))
    yield f"{root}/Content/words.tsv", "\n".join(rows) + "\n"
