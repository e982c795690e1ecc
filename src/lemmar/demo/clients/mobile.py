"""Tarnhut in the pocket: two apps for the way, one that watches the weather and one that is a glance on the wrist."""

from __future__ import annotations

import json
from xml.sax.saxutils import escape

from lemmar.demo.clients.writing import Files, listed, texts
from lemmar.demo.counted import COUNTED, KEEPER, branches, forms
from lemmar.demo.phrases import LOCALES, phrases
from lemmar.tags import LanguageTag, write_spelling


def files() -> Files:
    """Every file of the mobile clients."""
    yield from _ridge_pocket()
    yield from _trail_pocket()
    yield from _weather_eye()
    yield from _wrist_glance()


def _ridge_pocket() -> Files:
    root = "clients/ridge-pocket"
    yield (
        f"{root}/Pocket/Info.plist",
        f'<?xml version="1.0" encoding="UTF-8"?>\n<plist version="1.0">\n<dict>\n  <key>CFBundleDevelopmentRegion</key>\n  <string>en</string>\n  <key>CFBundleName</key>\n  <string>Ridge Pocket</string>\n  <key>CFBundleLocalizations</key>\n  <array>\n{listed(LOCALES, "    <string>{}</string>")}\n  </array>\n</dict>\n</plist>\n',
    )
    for locale in LOCALES:
        for part, table in (("booking", "Booking"), ("hut", "Hut")):
            yield f"{root}/Pocket/{locale}.lproj/{table}.strings", _strings(locale, part)


def _strings(locale: str, part: str) -> str:
    lines = []
    for phrase, text in texts(locale, part, lambda _name, _number: "%@", overlay=False):
        if len(phrase.fields) > 1:
            text = phrase.text(locale, lambda _name, number: f"%{number}$@", overlay=False) or ""
        if phrase.fields and locale == "en":
            lines.append(f"/* Filled in: {', '.join(phrase.fields)} */")
        lines.append(f'"{phrase.name}" = "{text}";')
    return "\n".join(lines) + "\n"


def _trail_pocket() -> Files:
    root = "clients/trail-pocket/app/src/main/res"
    tongues = listed(LOCALES, '    <locale android:name="{}"/>')
    yield (
        f"{root}/xml/locales_config.xml",
        f'<?xml version="1.0" encoding="utf-8"?>\n<locale-config xmlns:android="http://schemas.android.com/apk/res/android">\n{tongues}\n</locale-config>\n',
    )
    yield (
        "clients/trail-pocket/app/src/main/AndroidManifest.xml",
        '<?xml version="1.0" encoding="utf-8"?>\n<manifest xmlns:android="http://schemas.android.com/apk/res/android">\n'
        '    <application android:label="@string/app_name" android:supportsRtl="true" />\n</manifest>\n',
    )
    for locale in LOCALES:
        folder = "values" if locale == "en" else f"values-{write_spelling(LanguageTag.parse(locale), 'android')}"
        rows = ['    <string name="app_name" translatable="false">Tarnhut Trails</string>'] if locale == "en" else []
        for phrase, text in texts(locale, None, lambda _name, number: f"%{number}$s", overlay=True):
            words = escape(text).replace("'", "\\'")
            rows.append(f'    <string name="{phrase.name.replace(".", "_")}">{words}</string>')
        for name in COUNTED:
            items = [f'        <item quantity="{key}">{text}</item>' for key, text in forms(name, locale, "%1$d", overlay=True).items()]
            if items:
                rows += [f'    <plurals name="{name.replace(".", "_")}">', *items, "    </plurals>"]
        yield f"{root}/{folder}/strings.xml", '<?xml version="1.0" encoding="utf-8"?>\n<resources>\n' + "\n".join(rows) + "\n</resources>\n"
    yield (
        f"{root}/values-night/colors.xml",
        '<?xml version="1.0" encoding="utf-8"?>\n<resources>\n    <color name="sky">#0B1A2B</color>\n</resources>\n',
    )


def _weather_eye() -> Files:
    """A file a locale, with what each text is for beside the source's; the program's own list of locales."""
    root = "clients/weather-eye"
    rows = []
    for tag in LOCALES:
        language, _, rest = tag.partition("-")
        kind = "scriptCode" if len(rest) == 4 else "countryCode"
        rows.append(f"  Locale.fromSubtags(languageCode: '{language}', {kind}: '{rest}')," if rest else f"  Locale('{language}'),")
    yield (
        f"{root}/lib/tongues.dart",
        "/// The languages that the app is built for.\nconst appTongues = [\n"
        + "\n".join(rows)
        + "\n];\n\nconst homeTongue = 'en';\n\nconst mirrorsLayout = true;\n",
    )
    for locale in LOCALES:
        messages: dict[str, object] = {"@@locale": locale.replace("-", "_")}
        for phrase, text in texts(locale, "hut", lambda name, _number: f"{{{name}}}", overlay=True):
            key = phrase.name.replace(".", "_")
            messages[key] = text
            if locale == "en" and phrase.fields:
                messages[f"@{key}"] = {"placeholders": {name: {"type": "String"} for name in phrase.fields}}
        for name in COUNTED:
            found = forms(name, locale, "#", overlay=True)
            if found:
                messages[name.replace(".", "_")] = f"{{count, plural, {branches(found)}}}"
        if locale in KEEPER:
            messages["hut_keeper"] = f"{{who, select, {branches(KEEPER[locale])}}}"
        yield f"{root}/lib/words/app_{locale.replace('-', '_')}.arb", json.dumps(messages, ensure_ascii=False, indent=2) + "\n"


def _wrist_glance() -> Files:
    """One file with all locales, as its own editor writes it."""
    root = "clients/wrist-glance"
    strings: dict[str, dict[str, object]] = {}
    for phrase in phrases():
        localizations: dict[str, object] = {}
        for locale in LOCALES:
            text = phrase.text(locale, lambda _name, number: f"%{number}$@", overlay=False)
            if text is not None:
                localizations[locale] = {"stringUnit": {"state": "translated", "value": text}}
        strings[phrase.name] = {"extractionState": "manual", "localizations": localizations}
    for name in COUNTED:
        counted: dict[str, object] = {}
        for locale in LOCALES:
            plural = {
                key: {"stringUnit": {"state": "translated", "value": text}}
                for key, text in forms(name, locale, "%lld", overlay=False).items()
            }
            counted[locale] = {"variations": {"plural": plural}}
        strings[name] = {"extractionState": "manual", "localizations": counted}
    whole = {"sourceLanguage": "en", "strings": strings, "version": "1.0"}
    yield f"{root}/Glance/Words.xcstrings", json.dumps(whole, ensure_ascii=False, indent=2, separators=(",", " : ")) + "\n"
