"""What Tarnhut's programs show: the code and layouts that ask for texts, and the pictures, rules and fonts that they have beside them."""

from __future__ import annotations

import json

from lemmar.demo.clients.writing import Files, texts
from lemmar.demo.counted import COUNTED
from lemmar.demo.phrases import LOCALES, phrases
from lemmar.prose.guessing import alphabet
from lemmar.tags import LanguageTag

#: The cards' pictures, each with what is drawn on it.
_CARDS = {"hut": "hut.list", "snow": "trail.snow", "storm": "help.call"}


def files() -> Files:
    """Every such file."""
    yield from _site()
    yield from _pocket()
    yield from _cards()


def _site() -> Files:
    """Pages of the booking site: a hook gives the function that asks, for one part of the texts."""
    root = "clients/booking-site/src"
    yield (
        f"{root}/i18n/words.ts",
        "/** Gives the function that finds a text of one part by its key, and fills in its values. */\n"
        "export declare function useWords(part: string): (key: string, values?: Record<string, unknown>) => string;\n",
    )
    for part, name in (("booking", "BookingPage"), ("hut", "HutPage")):
        lines = [
            'import { useWords } from "../i18n/words";\n',
            f"export function {name}(props: Record<string, string>) {{",
            f'  const say = useWords("{part}");',
            "  return (",
            "    <main>",
        ]
        for phrase, _ in texts("en", part, lambda field, _number: field, overlay=False):
            values = ", ".join(f"{field}: props.{field}" for field in phrase.fields)
            lines.append(f'      <p>{{say("{phrase.name}"{f", {{ {values} }}" if values else ""})}}</p>')
        lines += [f'      <p>{{say("{counted}", {{ count: props.count }})}}</p>' for counted in COUNTED if part == "booking"]
        yield f"{root}/pages/{name}.tsx", "\n".join([*lines, "    </main>", "  );", "}", ""])


def _pocket() -> Files:
    """A layout of the Android app, and the code that counts."""
    root = "clients/trail-pocket/app/src/main"
    views = [
        f'    <TextView android:layout_width="wrap_content" android:layout_height="wrap_content" android:text="@string/{phrase.name.replace(".", "_")}" />'
        for phrase in phrases()
    ]
    yield (
        f"{root}/res/layout/way.xml",
        '<?xml version="1.0" encoding="utf-8"?>\n<LinearLayout xmlns:android="http://schemas.android.com/apk/res/android">\n'
        + "\n".join(views)
        + "\n</LinearLayout>\n",
    )
    counts = "\n".join(
        f"    fun {''.join(step.capitalize() for step in name.split('.'))}(count: Int) = resources.getQuantityString(R.plurals.{name.replace('.', '_')}, count, count)"
        for name in COUNTED
    )
    yield f"{root}/java/trail/Counts.kt", f"package trail\n\nclass Counts(private val resources: Resources) {{\n{counts}\n}}\n"


def _cards() -> Files:
    """The game's pictures and rules by locale, a table of the rules, and its bitmap font with the whole one that it was cut from."""
    root = "clients/hut-cards"
    known = {
        locale: {phrase.name: text for phrase, text in texts(locale, None, lambda field, _number: field, overlay=False)}
        for locale in LOCALES
    }
    for locale in LOCALES:
        for name, key in _CARDS.items():
            words = known[locale].get(key) or known["en"][key]
            if locale == "de-AT" or key not in known[locale]:
                continue  # the parent's will do
            yield f"{root}/art/{locale}/{name}.svg", f'<svg xmlns="http://www.w3.org/2000/svg"><text y="20">{words}</text></svg>\n'
        yield f"{root}/rules/{locale}.txt", f"{known[locale].get('hut.list', '')}\n{known[locale].get('meal.tea', '')}\n"
    yield f"{root}/data/rules.json", json.dumps({locale: f"../rules/{locale}.txt" for locale in LOCALES}, indent=2) + "\n"
    used = sorted({sign for locale in LOCALES for text in known[locale].values() for sign in text} | _letters())
    yield f"{root}/fonts/whole.bdf", _bitmaps(used)
    yield f"{root}/fonts/cards.bdf", _bitmaps(used)


def _letters() -> set[str]:
    """The letters of the roster's languages, and what is on every keyboard."""
    own = (alphabet(LanguageTag.parse(locale).language) for locale in LOCALES)
    return set(map(chr, range(33, 127))).union(*own)


def _bitmaps(signs: list[str]) -> str:
    """A font in the text form of bitmaps (Glyph Bitmap Distribution Format 2.1), each sign an empty box 8 wide."""
    glyphs = "".join(
        f"STARTCHAR u{ord(sign):04X}\nENCODING {ord(sign)}\nSWIDTH 500 0\nDWIDTH 8 0\nBBX 8 16 0 -4\nBITMAP\n00\nENDCHAR\n"
        for sign in signs
        if not sign.isspace()
    )
    return f"STARTFONT 2.1\nFONT tarnhut\nSIZE 16 75 75\nFONTBOUNDINGBOX 8 16 0 -4\nCHARS {len(signs)}\n{glyphs}ENDFONT\n"
