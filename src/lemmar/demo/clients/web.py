"""Tarnhut on the web: the site where bunks are booked, the map of the trails, the notice board, the wardens' ledger."""

from __future__ import annotations

import json
from xml.sax.saxutils import escape, quoteattr

from lemmar.demo.clients.writing import NAMES, Files, listed, nested, texts
from lemmar.demo.counted import COUNTED, forms
from lemmar.demo.phrases import LOCALES


def files() -> Files:
    """Every file of the web clients."""
    yield from _booking_site()
    yield from _map_portal()
    yield from _notice_board()
    yield from _ledger()
    yield from _kiosk()


def _booking_site() -> Files:
    root = "clients/booking-site"
    listed = ",\n".join(f'  "{tag}"' for tag in LOCALES)
    yield (
        f"{root}/src/i18n/tongues.ts",
        f'/** The languages that the site is built for. */\nexport const siteTongues = [\n{listed},\n] as const;\n\nexport const homeTongue = "en";\n\n/** Arabic runs from right to left. */\nexport const mirrorsLayout = true;\n',
    )
    entries = "\n".join(f'  {{ tag: "{tag}", words: "{NAMES[tag]}" }},' for tag in LOCALES)
    yield (
        f"{root}/src/shell/LanguageMenu.tsx",
        f"export const menuEntries = [\n{entries}\n];\n\nexport function LanguageMenu(props: {{ pick(tag: string): void }}) {{\n  return <ul>{{menuEntries.map((entry) => <li onClick={{() => props.pick(entry.tag)}}>{{entry.words}}</li>)}}</ul>;\n}}\n",
    )
    routes = {"home": "/", "languages": [{"path": f"/{tag}/", "tag": tag} for tag in LOCALES]}
    yield f"{root}/public/routes.json", json.dumps(routes, indent=2) + "\n"
    for locale in LOCALES:
        for part in ("booking", "hut"):
            tree = nested(texts(locale, part, lambda name, _number: f"{{{{{name}}}}}", overlay=True))
            for name in COUNTED if part == "booking" else ():
                branch, _, leaf = name.partition(".")
                for key, text in forms(name, locale, "{{count}}", overlay=True).items():
                    tree.setdefault(branch, {})[f"{leaf}_{key}"] = text
            yield f"{root}/src/locales/{locale}/{part}.json", json.dumps(tree, ensure_ascii=False, indent=2) + "\n"


def _map_portal() -> Files:
    """Units with source and target; the build manifest names the source locale, and a file for each of the others."""
    root = "clients/map-portal"
    others = [tag for tag in LOCALES if tag != "en"]
    build = {
        "project": "map-portal",
        "languages": {"source": "en", "home": "en", "mirrored": True, "built": {tag: f"src/words/messages.{tag}.xlf" for tag in others}},
    }
    yield f"{root}/build.json", json.dumps(build, indent=2) + "\n"
    for locale in LOCALES:
        name = "messages.xlf" if locale == "en" else f"messages.{locale}.xlf"
        target = "" if locale == "en" else f' target-language="{locale}"'
        known = {phrase.name: text for phrase, text in texts(locale, None, _in_braces, overlay=False)}
        units = []
        for phrase, source in texts("en", None, _in_braces, overlay=False):
            text = known.get(phrase.name)
            held = f'\n        <target state="final">{escape(text)}</target>' if locale != "en" and text is not None else ""
            held = held or ("" if locale == "en" else '\n        <target state="new"/>')
            units.append(
                f"      <trans-unit id={quoteattr(phrase.name)}>\n        <source>{escape(source)}</source>{held}\n      </trans-unit>"
            )
        yield (
            f"{root}/src/words/{name}",
            '<?xml version="1.0" encoding="UTF-8"?>\n<xliff version="1.2" xmlns="urn:oasis:names:tc:xliff:document:1.2">\n'
            f'  <file source-language="en"{target} datatype="plaintext" original="map-portal">\n    <body>\n'
            + "\n".join(units)
            + "\n    </body>\n  </file>\n</xliff>\n",
        )


def _in_braces(name: str, _number: int) -> str:
    return f"{{{name}}}"


def _notice_board() -> Files:
    """A file a locale, under whose name its texts stand; the site's settings list them."""
    root = "clients/notice-board"
    shown = listed(LOCALES, '  "{}",')
    yield (
        f"{root}/board.toml",
        f'[board]\ntitle = "Tarnhut notices"\n\n[board.languages]\nhome = "en"\nmirrored = true\nshown = [\n{shown}\n]\n',
    )
    for locale in LOCALES:
        tree = nested(texts(locale, "hut", lambda name, _number: f"%{{{name}}}", overlay=True))
        lines = [f"{locale}:"]
        for branch, leaves in tree.items():
            lines.append(f"  {branch}:")
            lines += [f"    {leaf}: {json.dumps(text, ensure_ascii=False)}" for leaf, text in leaves.items()]
        counted = forms("stay.length", locale, "%{count}", overlay=True)
        lines += ["  stay:", "    length:"] if counted else []
        lines += [f"      {key}: {json.dumps(text, ensure_ascii=False)}" for key, text in counted.items()]
        yield f"{root}/locales/{locale}.yml", "\n".join(lines) + "\n"


def _ledger() -> Files:
    """Arrays that files return; a constant of the settings lists the locales."""
    root = "clients/warden-ledger"
    tongues = listed(LOCALES, "        '{}',")
    yield (
        f"{root}/config/Tongues.php",
        f"<?php\n\nfinal class Tongues\n{{\n    public const HOME = 'en';\n\n    public const MIRRORED = true;\n\n    public const ALL = [\n{tongues}\n    ];\n}}\n",
    )
    for locale in LOCALES:
        tree = nested(texts(locale, "booking", lambda name, _number: f":{name}", overlay=True))
        lines = ["<?php", "", "return ["]
        for branch, leaves in tree.items():
            lines.append(f"    '{branch}' => [")
            escaped = {leaf: text.replace("'", "\\'") for leaf, text in leaves.items()}
            lines += [f"        '{leaf}' => '{text}'," for leaf, text in escaped.items()]
            lines.append("    ],")
        yield f"{root}/lang/{locale}/booking.php", "\n".join([*lines, "];"]) + "\n"


def _kiosk() -> Files:
    """The screen in the valley: its sentences in Unicode's own syntax for messages, its signs in another."""
    root = "clients/valley-kiosk"
    yield f"{root}/kiosk.json", json.dumps({"tongues": list(LOCALES), "home": "en", "mirrored": True}, indent=2) + "\n"
    for locale in LOCALES:
        sentences = {phrase.name: text for phrase, text in texts(locale, "hut", lambda name, _number: f"{{${name}}}", overlay=True)}
        for name in COUNTED:
            found = forms(name, locale, "{$count}", overlay=True)
            variants = " ".join(f"{'*' if key == 'other' else key} {{{{{text}}}}}" for key, text in found.items())
            sentences |= {name: f".input {{$count :number}} .match $count {variants}"} if found else {}
        yield f"{root}/sentences/{locale}.json", json.dumps(sentences, ensure_ascii=False, indent=2) + "\n"
        signs = {phrase.name: text for phrase, text in texts(locale, "booking", lambda name, _number: f"${{{name}}}", overlay=True)}
        yield f"{root}/signs/{locale}.json", json.dumps(signs, ensure_ascii=False, indent=2) + "\n"
