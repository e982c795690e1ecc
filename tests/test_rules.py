"""Every rule: rows that fire, at the exact place, and rows that nearly do. A row is a whole monorepo and all its findings."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from typing import Any

import pytest

from lemmar.prose.guessing import alphabet
from lemmar.rules import all_rules
from lemmar.rules._examples import EXAMPLES

from .conftest import Repo, charter

BOTH = '["en", "de"]'
EN = '{\n  "bunk": "Bunk",\n  "hut": "Hut {{name}}"\n}\n'
DE = '{\n  "bunk": "Lager",\n  "hut": "Hütte {{name}}"\n}\n'
ARABIC_TOO = '["en", "de", "ar"]'
ARABIC = '{"bunk": "سرير", "hut": "كوخ {{name}}"}'


def one(changed: dict[str, str | bytes] | None = None, /, **options: Any) -> dict[str, str | bytes]:
    """A sound monorepo of one client with two files, changed by *changed*."""
    sound: dict[str, str | bytes] = {
        "lemmar.toml": charter(**options),
        "app/locales.json": BOTH,
        "app/w/en.json": EN,
        "app/w/de.json": DE,
    }
    if not str(options.get("files", "w/")).startswith(("w/", "{part+}")):
        sound = {name: text for name, text in sound.items() if not name.startswith("app/w/")}
    return sound | (changed or {})


def chained(
    line: str, changed: dict[str, str | bytes] | None = None, **options: Any
) -> dict[str, str | bytes]:
    """As `one`, with another line under [chains]."""
    files = one(changed, **options)
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        'default = ["en"]\n', f'default = ["en"]\n{line}\n', 1
    )
    return files


def asked(
    audience: dict[str, str], files_: dict[str, str | bytes] | None = None, **options: Any
) -> dict[str, str | bytes]:
    """As `one`, with requests to try."""
    files = one(files_, **options)
    lines = "".join(f'"{request}" = "{wanted}"\n' for request, wanted in audience.items())
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        "\n[[client]]", f"\n[audience]\n{lines}\n[[client]]", 1
    )
    return files


def unassumed(text: str) -> str:
    """A charter that gives no reason for what nothing states."""
    return re.sub(r"(?m)^assumes = .*\n", "", text)


MODULE = "// Words on it\nexport default { lamp: 'Oil 3000' };"
APART = '  [[client.catalog]]\n  files = "x/{locale}.json"\n'
BERTHS: dict[str, str | bytes] = {
    "app/x/en.json": '{"lamp": "Lamp", "bunk": "Berth"}',
    "app/x/de.json": '{"lamp": "Lampe"}',
}
PARTS = {"a": EN, "b": '{"far": "Far away"}'}
PARTED: dict[str, str | bytes] = {
    f"app/v/{tag}/{part}.json": text for tag in ("en", "de") for part, text in PARTS.items()
}


def coded(
    code: str,
    changed: dict[str, str | bytes] | None = None,
    usage: str = 'call = "say"\n',
    **options: Any,
) -> dict[str, str | bytes]:
    """As `one`, with code that asks for messages; texts are the same in both languages."""
    files = one(changed, catalog=f"  [[client.usage]]\n  {usage}", more=f"{SAME}\n", **options)
    return files | {"app/a.ts": code}


SAME = '[gate]\nseverity = { "message.same-as-source" = "off" }'


def sounding(files: dict[str, str], more: str = "") -> dict[str, str | bytes]:
    """As `one`, with sounds by locale."""
    return one(
        {**files}, catalog=f'  [[client.asset]]\n  files = "s/{{locale}}/{{name}}.ogg"\n  {more}\n'
    )


def tabled(table: str, name: str = "t.json", more: str = "") -> dict[str, str | bytes]:
    """As `one`, with a table of sounds, of which one is there."""
    return one(
        {f"app/{name}": table, "app/s/a.ogg": "a"},
        catalog=f'  [[client.asset]]\n  table = "{name}"\n  {more}\n',
    )


def budgeted(most: str) -> dict[str, str | bytes]:
    """As `one`, with a budget; users load some 90 bytes."""
    files = one()
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        'kind = "web"\n', f'kind = "web"\nbudget = "{most}"\n', 1
    )
    return files


ASCII = "".join(map(chr, range(33, 127)))
AR = "".join(sorted(alphabet("ar"))) + "سريكوخäöüß"
ARABIC_FILES: dict[str, str | bytes] = {
    "app/w/ar.json": ARABIC,
    "app/locales.json": ARABIC_TOO,
}
FEATURES = """
languagesystem DFLT dflt;
languagesystem arab dflt;
feature init { script arab; sub uni0633 by uni0631; } init;
markClass uni0301 <anchor 0 500> @TOP;
feature mark { pos base x <anchor 250 500> mark @TOP; } mark;
"""


def bdf(characters: str) -> str:
    """A bitmap font of the Glyph Bitmap Distribution Format with *characters*, each 8 pixels wide."""
    glyphs = "".join(
        f"STARTCHAR c{ord(sign)}\nENCODING {ord(sign)}\nSWIDTH 500 0\nDWIDTH 8 0\nENDCHAR\n"
        for sign in characters
    )
    return f"STARTFONT 2.1\nSIZE 16 75 75\n{glyphs}ENDFONT\n"


def fnt(characters: str) -> str:
    """A bitmap font described in lines of text, each of *characters* 8 pixels wide at size 10."""
    return "info face=x size=10\n" + "".join(
        f"char id={ord(sign)} x=0 y=0 width=7 height=9 xoffset=0 yoffset=0 xadvance=8 page=0\n"
        for sign in characters
    )


def outlines(characters: str, features: str = "") -> bytes:
    """A TrueType font with *characters*, each an empty outline half a unit wide."""
    from io import BytesIO

    from fontTools.feaLib.builder import addOpenTypeFeaturesFromString  # type: ignore[import-untyped]
    from fontTools.fontBuilder import FontBuilder  # type: ignore[import-untyped]
    from fontTools.ttLib.tables._g_l_y_f import Glyph  # type: ignore[import-untyped]

    names = {
        ord(sign): sign if sign.isascii() and sign.isalpha() else f"uni{ord(sign):04X}"
        for sign in characters
    }
    order = [".notdef", *names.values()]
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder(order)
    builder.setupCharacterMap(names)
    builder.setupGlyf(dict.fromkeys(order, Glyph()))
    builder.setupHorizontalMetrics(dict.fromkeys(order, (500, 0)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({})
    builder.setupOS2()
    builder.setupPost()
    if features:
        addOpenTypeFeaturesFromString(builder.font, features)
    data = BytesIO()
    builder.font.save(data)
    return data.getvalue()


def drawn(
    changed: dict[str, str | bytes],
    more: str = "",
    files: str = "f.bdf",
    box: str = "",
    **options: Any,
) -> dict[str, str | bytes]:
    """As `one`, with fonts that its texts are shown in."""
    boxed = f"  [[client.box]]\n  {box}\n" if box else ""
    return one(
        changed, catalog=f'  [[client.font]]\n  files = ["{files}"]\n  {more}\n{boxed}', **options
    )


def expanded(changed: dict[str, str | bytes], share: str) -> dict[str, str | bytes]:
    """As `one`, where a translation may be so much wider than its source."""
    files = one(changed)
    files["lemmar.toml"] = str(files["lemmar.toml"]).replace(
        'kind = "web"\n', f'kind = "web"\nexpand = {share}\n', 1
    )
    return files


def sheet(text: str, **options: Any) -> dict[str, str | bytes]:
    catalog = '  layout = "columns"\n  columns = { key = "Key" }\n  syntax = "brace"\n'
    head = charter(
        "w.tsv",
        catalog=catalog,
        claim="",
        more='  [client.runtime]\n  supported = "files"\n',
        **options,
    )
    return {"lemmar.toml": head, "app/w.tsv": text}


def android(files: Mapping[str, str | bytes], **options: Any) -> dict[str, str | bytes]:
    return {
        "lemmar.toml": charter("values[-{locale}]/s.xml", platform="android", claim="", **options),
        **files,
    }


MIRRORED = """
  [[client.claim]]
  states = "mirrored"
  file = "look.yaml"
  pointer = "/mirrored"
"""


def xml(*rows: str) -> str:
    return "<resources>\n" + "\n".join(rows) + "\n</resources>\n"


def claims(*rows: tuple[str, str]) -> str:
    """Claims of (state, file), each a JSON list."""
    return "".join(
        f'\n  [[client.claim]]\n  states = "{state}"\n  file = "{file}"\n  pointer = ""\n'
        for state, file in rows
    )


def waiver(**facts: str) -> str:
    lines = "".join(
        f"{name} = {value if name == 'until' else json.dumps(value)}\n"
        for name, value in facts.items()
    )
    return f"\n[[waiver]]\n{lines}"


THREE = {"shipping": "en de fr"}
DEFAULT = (
    '\n  [[client.claim]]\n  states = "default"\n  file = "default.json"\n  pointer = "/home"\n'
)
PRIMARY = '\n  [client.runtime]\n  lookup = "primary"\n'
FOUR: dict[str, str | bytes] = {
    "app/locales.json": '["en", "de", "fr", "de-AT"]',
    "app/w/fr.json": DE,
    "app/w/de-AT.json": DE,
}
EXACT = '\n  [client.runtime]\n  lookup = "exact"\n'
SECOND = """
[[client]]
name = "other"
kind = "web"
root = "app"
assumes = { default = "as the other" }

  [client.runtime]
  lookup = "exact"

  [[client.catalog]]
  files = "w/{locale}.json"

  [[client.claim]]
  states = "supported"
  file = "locales.json"
  pointer = ""
"""
CHAIN = """
  [[client.claim]]
  states = "chain"
  file = "chain.json"
  pointer = ""
"""
LABELLED = """
  [[client.claim]]
  states = "offered"
  file = "menu.json"
  pointer = ""
  take = "field:tag"
  labels = "field:words"
"""
ORDERED = """
  [[client.claim]]
  states = "supported"
  file = "{}"
  pointer = ""
  ordered = true
"""
SUP, OFF, ROUTE = ("supported", "locales.json"), ("offered", "menu.json"), ("routed", "routes.json")

_PROSE = {
    "en": (
        "You can not pay with a card in this hut",
        "Please tell us when you will be there, or how many of you are coming",
        "The path is closed because there is still too much snow on it",
        "If nobody is at the door, go in and write your name in the book",
        "We keep what you have left here for a year, and then it is given away",
    ),
    "de": (
        "In dieser Hütte können Sie nicht mit einer Karte bezahlen",
        "Bitte sagen Sie uns, wann Sie da sein werden oder wie viele von Ihnen kommen",
        "Der Weg ist gesperrt, weil noch zu viel Schnee auf ihm liegt",
        "Wenn niemand an der Tür ist, gehen Sie hinein und schreiben Sie sich in das Buch ein",
        "Wir heben auf, was Sie hier gelassen haben, und nach einem Jahr wird es verschenkt",
    ),
    "fr": (
        "Dans ce refuge vous ne pouvez pas payer avec une carte",
        "Dites-nous quand vous serez là ou combien vous êtes à venir",
        "Le chemin est fermé parce qu'il y a encore trop de neige dessus",
        "S'il n'y a personne à la porte, entrez et écrivez votre nom dans le livre",
        "Nous gardons ce que vous avez laissé ici pendant un an, et puis nous le donnons",
    ),
}


def prose(tag: str) -> str:
    """A catalog of whole sentences."""
    return json.dumps({f"k{n}": text for n, text in enumerate(_PROSE[tag])}, ensure_ascii=False)


SNOW = '<string name="a">Snow</string>'
SHELEG = '<string name="a">שלג</string>'
WORDS = '{"a": "Bunk", "b": "Blanket", "c": "Boots"}'
WORTE = '{"a": "Lager", "b": "Decke", "c": "Schuhe"}'
MERGED = """{
<<<<<<< ours
  "bunk": "Lager",
=======
  "bunk": "Bett",
  "hut": "Hütte {{name}}"
>>>>>>> theirs
}
"""
COMPOSED = """
  [[client.composed]]
  into = "w/{locale}.json"
  from = ["base/{locale}.json", "cards/{part}/{locale}.json"]
  under = "{part}"
"""
#: Fragments of which ``w`` is made, in both locales.
FRAGMENTS: dict[str, str | bytes] = {
    "app/base/en.json": '{"bunk": "Bunk"}',
    "app/base/de.json": '{"bunk": "Lager"}',
    "app/cards/hut/en.json": '{"name": "Hut"}',
    "app/cards/hut/de.json": '{"name": "Hütte"}',
    "app/w/en.json": '{"bunk": "Bunk", "hut": {"name": "Hut"}}',
    "app/w/de.json": '{"bunk": "Lager", "hut": {"name": "Hütte"}}',
}
KEY_LIST = """
  [[client.key-list]]
  file = "keys.ts"
  symbol = "Words"
  beside = ["None"]
"""
CASES: dict[str, list[tuple[str, dict[str, str | bytes], list[str]]]] = {
    "sound": [
        ("two locales", one(), []),
        (
            "an overlay",
            one(
                {"app/locales.json": '["en", "de", "de-AT"]', "app/w/de-AT.json": "{}"},
                shipping="en de de-AT",
            ),
            [],
        ),
        (
            "a test locale's catalog",
            one(
                {
                    "app/w/en-XA.json": "{}",
                    "lemmar.toml": charter().replace("[chains]", 'pseudo = ["en-XA"]\n[chains]'),
                }
            ),
            [],
        ),
        (
            "CR LF, U+2028 in a text",
            one({"app/w/de.json": DE.replace("\n", "\r\n").replace("Lager", "La\u2028ger")}),
            [],
        ),
    ],
    "roster.absent": [
        (
            "not in the claim",
            one({"app/locales.json": '["en"]'}),
            ["roster.absent app/locales.json:1:2 de"],
        ),
        (
            "no file where files say it",
            android({"app/values/s.xml": xml('<string name="a">A</string>')}),
            ["roster.absent lemmar.toml:10:1 de"],
        ),
        (
            "the client goes without",
            one(
                {
                    "app/locales.json": '["en"]',
                    "lemmar.toml": charter().replace(
                        'root = "app"', 'root = "app"\nwithout = { de = "later" }'
                    ),
                }
            )
            | {"app/w/de.json": "{}"},
            ["roster.orphan app/w/de.json:1:1 de"],
        ),
    ],
    "roster.surplus": [
        (
            "not on the roster",
            one({"app/locales.json": '["en", "de", "fr"]', "app/w/fr.json": DE}),
            ["roster.surplus app/locales.json:1:14 fr"],
        ),
        (
            "exempt, and supported",
            one(
                {
                    "lemmar.toml": charter().replace(
                        'root = "app"', 'root = "app"\nwithout = { de = "later" }'
                    )
                }
            ),
            ["roster.surplus app/locales.json:1:8 de"],
        ),
    ],
    "roster.pseudo": [
        (
            "supported",
            one(
                {
                    "app/locales.json": '["en", "de", "en-XA"]',
                    "lemmar.toml": charter().replace("[chains]", 'pseudo = ["en-XA"]\n[chains]'),
                }
            ),
            ["roster.pseudo app/locales.json:1:14 en-XA"],
        ),
    ],
    "roster.split": [
        (
            "the picker offers more",
            one({"app/menu.json": '["en", "de",\n "es"]'}, claim=claims(SUP, OFF)),
            ["roster.split app/menu.json:2:2 es"],
        ),
        (
            "an address leaves one out",
            one({"app/routes.json": '["en"]'}, claim=claims(SUP, ROUTE)),
            ["roster.split app/routes.json:1:2 de"],
        ),
        (
            "addresses without the default",
            one({"app/routes.json": '["de"]'}, claim=claims(SUP, ROUTE)),
            [],
        ),
        (
            "two lists, each with one of its own",
            one({"app/b.json": '["en"]'}, claim=claims(SUP, ("supported", "b.json"), SUP)),
            ["roster.split app/b.json:1:2 de"],
        ),
        (
            "files and a claim",
            android(
                {
                    f"app/values{tag}/s.xml": xml('<string name="a">A</string>')
                    for tag in ("", "-de", "-fr")
                }
                | {"app/l.json": '["en", "de"]'},
                **THREE,
                more=claims(("supported", "l.json")),
            ),
            ["roster.split app/l.json:1:2 fr"],
        ),
        (
            "the same locales in another order",
            one(
                {"app/b.json": '["de",\n"en"]'},
                claim=ORDERED.format("locales.json") + ORDERED.format("b.json"),
            ),
            ["roster.split app/b.json:1:2"],
        ),
        (
            "another order where it does not count",
            one({"app/b.json": '["de",\n"en"]'}, claim=claims(SUP, ("supported", "b.json"))),
            [],
        ),
        (
            "a source beside the list of the others",
            one(
                {"app/b.json": '["de"]', "app/s.json": '["en"]'},
                claim=claims(("supported", "b.json"), ("source", "s.json")),
            ),
            [],
        ),
    ],
    "roster.unoffered": [
        (
            "not in the picker",
            one({"app/menu.json": '["en"]'}, claim=claims(SUP, OFF)),
            ["roster.unoffered app/menu.json:1:2 de"],
        ),
        (
            "a picker in another order",
            one({"app/menu.json": '["de", "en"]'}, claim=claims(SUP, OFF)),
            [],
        ),
    ],
    "roster.mislabelled": [
        (
            "another language's name",
            one(
                {
                    "app/menu.json": '[{"tag": "en", "words": "English"},\n {"tag": "de", "words": "Français"}]'
                },
                claim=claims(SUP) + LABELLED,
            ),
            ["roster.mislabelled app/menu.json:2:10 de"],
        ),
        (
            "the charter's own name of another locale",
            one(
                {
                    "app/menu.json": '[{"tag": "en", "words": "English"},\n {"tag": "de", "words": "tlhIngan Hol!"}]'
                },
                claim=claims(SUP) + LABELLED,
                more='[locale.tlh]\nname = "tlhIngan Hol"\nscript = "Latn"\n',
            ),
            ["roster.mislabelled app/menu.json:2:10 de"],
        ),
        (
            "the charter's own name of the locale itself",
            one(
                {
                    "app/menu.json": '[{"tag": "en", "words": "English"},\n {"tag": "de", "words": "Tarnisch"}]'
                },
                claim=claims(SUP) + LABELLED,
                more='[locale.de]\nname = "Tarnisch"\nscript = "Latn"\n',
            ),
            [],
        ),
        (
            "names in three languages, with signs beside them",
            one(
                {
                    "app/menu.json": '[{"tag": "en", "words": "🇬🇧 English"}, {"tag": "de", "words": "Deutsch!"}]'
                },
                claim=claims(SUP) + LABELLED,
            ),
            [],
        ),
    ],
    "catalog.composed-stale": [
        (
            "a fragment was changed",
            one(FRAGMENTS | {"app/base/de.json": '{"bunk": "Koje"}'}, claim=claims(SUP) + COMPOSED),
            ["catalog.composed-stale app/w/de.json:1:1 de"],
        ),
        (
            "a fragment is new, and one is gone",
            one(
                FRAGMENTS
                | {
                    "app/cards/bed/en.json": '{"a": "A"}',
                    "app/w/en.json": '{"bunk": "Bunk", "hut": {"name": "Hut"}, "x": "Y"}',
                },
                claim=claims(SUP) + COMPOSED,
            ),
            [
                "catalog.composed-stale app/w/en.json:1:1 en",
                "message.missing app/w/de.json:1:42 de/x",
            ],
        ),
        (
            "a fragment that cannot be read",
            one(FRAGMENTS | {"app/cards/hut/de.json": '{"name"'}, claim=claims(SUP) + COMPOSED),
            ["catalog.composed-stale app/w/de.json:1:1 de"],
        ),
        (
            "a fragment of no locale",
            one(FRAGMENTS | {"app/base/zzzzzzzzz9.json": "{}"}, claim=claims(SUP) + COMPOSED),
            ["catalog.composed-stale lemmar.toml:25:1"],
        ),
        (
            "a pattern that matches nothing",
            one(FRAGMENTS, claim=claims(SUP) + COMPOSED.replace("base/", "bse/")),
            [
                "catalog.composed-stale app/w/de.json:1:1 de",
                "catalog.composed-stale app/w/en.json:1:1 en",
                "catalog.composed-stale lemmar.toml:25:1",
                "roster.uncharted app/base/de.json:1:1",
            ],
        ),
        (
            "no fragment is left",
            one(
                {
                    name: text
                    for name, text in FRAGMENTS.items()
                    if "/w/" in name or "en.json" in name
                },
                claim=claims(SUP) + COMPOSED,
            ),
            ["catalog.composed-stale app/w/de.json:1:1 de"],
        ),
        ("up to date", one(FRAGMENTS, claim=claims(SUP) + COMPOSED), []),
        (
            "in another order",
            one(
                FRAGMENTS | {"app/w/de.json": '{"hut": {"name": "Hütte"}, "bunk": "Lager"}'},
                claim=claims(SUP) + COMPOSED,
            ),
            [],
        ),
    ],
    "key.undefined": [
        (
            "a key that nobody has, and a form of one that is there",
            coded("say('bunk'); say('bnuk');\nsay('hut_other', {name: n});"),
            ["key.undefined app/a.ts:1:18 bnuk"],
        ),
        (
            "a fixed beginning that no key has",
            coded("say(`hut${x}`); say('h' + x + 't'); say('huts.' + x); say('bunk')"),
            ["key.computed app/a.ts:1:5", "key.undefined app/a.ts:1:41 huts.…"],
        ),
        (
            "a table of the charter that fits nothing",
            coded("".join(f"say('k{number}');" for number in range(7))),
            ["key.undefined lemmar.toml:19:1", "key.unused app/w/en.json:2:3"],
        ),
        (
            "a table of the charter that finds nothing",
            coded("say('bunk'); say('hut', {name})", usage='call = "sya"\n'),
            ["key.undefined lemmar.toml:19:1"],
        ),
        (
            "patterns that match nothing, beside one that does",
            coded(
                "say('bunk'); say('hut', {name})",
                usage='call = "say"\n  [[client.usage]]\n  call = "say"\n  files = ["scr/**"]\n',
            ),
            ["key.undefined lemmar.toml:21:1"],
        ),
        (
            "in comments, in tests, in other functions",
            coded(
                "// say('no')\nsay('bunk'); say('hut', {name}); other('nope'); /* say('x') */",
                {"app/a.test.ts": "say('fake')", "app/tests/b.ts": "say('fake')"},
            ),
            [],
        ),
    ],
    "key.wrong-part": [
        (
            "in another part",
            coded(
                "say('a:bunk'); say('b:hut', {name}); say('a:b'); say('b:far')",
                PARTED,
                files="v/{locale}/{part}.json",
                usage='call = "say"\n  part = { separator = ":" }\n',
            ),
            ["key.undefined app/a.ts:1:42 a/b", "key.wrong-part app/a.ts:1:20 b/hut"],
        ),
        (
            "in a part that is not there",
            coded(
                "say('a:bunk'); say('aa:hut', {name}); say('b:far'); say('a:hut', {name})",
                PARTED,
                files="v/{locale}/{part}.json",
                usage='call = "say"\n  part = { separator = ":" }\n',
            ),
            ["key.wrong-part app/a.ts:1:20 aa/hut"],
        ),
        (
            "in its own",
            coded(
                "say('a:bunk'); say('a:hut', {name}); say('b:far');",
                PARTED,
                files="v/{locale}/{part}.json",
                usage='call = "say"\n  part = { separator = ":" }\n',
            ),
            [],
        ),
    ],
    "key.computed": [
        (
            "one finding for all",
            coded("say(which); say('bun' + x); say('hut', {name})"),
            ["key.computed app/a.ts:1:5"],
        ),
        ("one of two", coded("say(is ? 'bunk' : 'hut', {name})"), []),
    ],
    "key.arguments": [
        (
            "a value by another name",
            coded("say('bunk'); say('hut', {nane: 1})"),
            ["key.arguments app/a.ts:1:18 hut"],
        ),
        (
            "no value, where the charter says which they are",
            coded("say('bunk'); say('hut')", usage='call = "say"\n  values = 1\n'),
            ["key.arguments app/a.ts:1:18 hut"],
        ),
        (
            "values that nobody knows",
            coded(
                "say('bunk'); say('hut', {...values}); say('hut', given); say('hut', {quick: true})"
            ),
            [],
        ),
    ],
    "key.unused": [
        (
            "nobody asks for one",
            coded("say('hut', {name})"),
            ["key.unused app/w/en.json:2:3"],
        ),
        ("between quotation marks", coded("say('hut', {name}); const of = { key: 'bunk' }"), []),
        (
            "shared, and one client asks for it",
            {
                "lemmar.toml": charter(
                    catalog='  [[client.usage]]\n  call = "say"\n',
                    more='[[client]]\nname = "b"\nkind = "web"\nroot = "b"\nuses = ["all"]\nassumes = { default = "-", chain = "-" }\n'
                    '[[client.usage]]\ncall = "say"\n[[client.claim]]\nstates = "supported"\nfile = "l.json"\npointer = ""\n'
                    '[[catalog]]\nname = "all"\nfiles = "s/{locale}.json"\n',
                ).replace('platform = "browser"\n', 'platform = "browser"\nuses = ["all"]\n', 1),
                "app/locales.json": BOTH,
                "b/l.json": BOTH,
                "s/en.json": '{"x": "Ex", "y": "Why", "z": "Zed"}',
                "s/de.json": '{"x": "Iks", "y": "Ypsilon", "z": "Zett"}',
                "app/w/en.json": EN,
                "app/w/de.json": DE,
                "app/a.ts": "say('x'); say('bunk'); say('hut', {name})",
                "b/a.ts": "say('y')",
            },
            ["key.unused s/en.json:1:25"],
        ),
    ],
    "key.only-there": [
        (
            "another client asks for it",
            {
                "lemmar.toml": charter(
                    catalog='  [[client.usage]]\n  call = "say"\n',
                    more='[[client]]\nname = "b"\nkind = "web"\nroot = "b"\nassumes = { default = "-", chain = "-" }\n[[client.catalog]]\nfiles = "{locale}.json"\n'
                    '[[client.usage]]\ncall = "say"\n[[client.claim]]\nstates = "supported"\nfile = "../app/locales.json"\npointer = ""\n',
                ),
                "app/locales.json": BOTH,
                "app/w/en.json": EN,
                "app/w/de.json": DE,
                "app/a.ts": "say('hut', {name})",
                "b/en.json": '{"far": "Far"}',
                "b/de.json": '{"far": "Fern"}',
                "b/a.ts": "say('far'); say('bunk')",
            },
            ["key.only-there app/w/en.json:2:3", "key.undefined b/a.ts:1:17 bunk"],
        ),
        ("both have it", coded("say('bunk'); say('hut', {name})"), []),
    ],
    "text.outside": [
        (
            "in a page, in an attribute, in a call",
            coded(
                "say('bunk'); say('hut', {name}); warn('No bunk is left'); warn(x)",
                {
                    "app/p.html": "<h1>Book a {{ n }} bunk</h1>\n<p say='hut'>Hut <b>near you</b></p><img alt='The hut'>\n"
                    "<code>npm install it</code><i>arrow_back</i><b>API</b> https://example.org/a 12"
                },
                usage='call = "say"\n  attribute = "say"\n  shows = ["warn"]\n',
            ),
            [
                "text.outside app/a.ts:1:39",
                "text.outside app/p.html:1:5",
                "text.outside app/p.html:2:47",
            ],
        ),
        (
            "a page that nobody has come to yet",
            coded(
                "say('bunk'); say('hut', {name})",
                {
                    "app/p.html": "".join(
                        f"<p>Text number {word}</p>\n"
                        for word in ("one", "two", "three", "four", "five", "six")
                    )
                },
            ),
            ["text.outside app/p.html:1:4"],
        ),
        (
            "in a template's block that is a message, in script, in a page of another sort",
            coded(
                "say('bunk'); say('hut', {name})",
                {
                    "app/p.html": "{% say %}Bunk for you{% endsay %}<script>var a = 'For nobody'</script><p translate='no'>Not for you</p>"
                },
                usage='call = "say"\n  [[client.usage]]\n  block = "say"\n  except = ["p.html"]\n',
            ),
            ["key.undefined lemmar.toml:21:1", "text.outside app/p.html:1:10"],
        ),
    ],
    "asset.absent": [
        (
            "no sound, nothing stands in",
            sounding(
                {"app/s/en/bell.ogg": "a", "app/s/en/wind.ogg": "b", "app/s/de/bell.ogg": "c"},
                "own = true",
            ),
            ["asset.absent lemmar.toml:19:1 de"],
        ),
        (
            "the default stands in",
            sounding(
                {"app/s/en/bell.ogg": "a", "app/s/en/wind.ogg": "b", "app/s/de/bell.ogg": "c"}
            ),
            [],
        ),
        (
            "data that is there for none but the other",
            one(
                {"app/d/de.json": "1"}, catalog='  [[client.asset]]\n  files = "d/{locale}.json"\n'
            ),
            ["asset.absent lemmar.toml:19:1 en"],
        ),
    ],
    "asset.orphan": [
        (
            "of no locale, of a locale that nobody can get, of a name that the source has not",
            sounding(
                {
                    "app/s/en/bell.ogg": "a",
                    "app/s/de/bell.ogg": "b",
                    "app/s/fr/bell.ogg": "c",
                    "app/s/shared!/x.ogg": "d",
                    "app/s/de/y.ogg": "e",
                }
            ),
            [
                "asset.orphan app/s/de/y.ogg:1:1",
                "asset.orphan app/s/fr/bell.ogg:1:1 fr",
                "asset.orphan app/s/shared!/x.ogg:1:1",
            ],
        ),
        (
            "in another spelling",
            sounding(
                {"app/s/en/bell.ogg": "a", "app/s/de_DE/bell.ogg": "b"},
                'spelled = { de_DE = "de" }',
            ),
            [],
        ),
    ],
    "asset.copied": [
        (
            "byte for byte",
            sounding(
                {
                    "app/s/en/bell.ogg": "a",
                    "app/s/de/bell.ogg": "a",
                    "app/s/en/logo.ogg": "b",
                    "app/s/de/logo.ogg": "b",
                },
                'same = ["logo*"]',
            ),
            ["asset.copied app/s/de/bell.ogg:1:1 de"],
        ),
        ("almost", sounding({"app/s/en/bell.ogg": "a", "app/s/de/bell.ogg": "a "}), []),
    ],
    "asset.unlisted": [
        (
            "a table names what is not there",
            tabled('{"en": "s/a.ogg", "de": {"bell": "s/b.ogg"}}'),
            ["asset.unlisted app/t.json:1:34 de"],
        ),
        (
            "a table that cannot be read",
            tabled('{"en": "s/a.ogg"'),
            ["asset.unlisted lemmar.toml:19:1"],
        ),
        (
            "all is there, and one stands in for the other",
            tabled('{"en": "s/a.ogg", "de": "s/a.ogg"}'),
            [],
        ),
        (
            "in code",
            tabled(
                "export const voices = { en: 's/a.ogg', de: 's/c.ogg' }",
                "t.ts",
                'symbol = "voices"',
            ),
            ["asset.unlisted app/t.ts:1:44 de"],
        ),
    ],
    "catalog.too-big": [
        (
            "more than the budget",
            budgeted("60 B"),
            ["catalog.too-big lemmar.toml:10:1"],
        ),
        ("just as much", budgeted("0.1 KB"), []),
    ],
    "font.glyph": [
        (
            "no sign for ü",
            drawn({"app/f.bdf": bdf(ASCII)}),
            ["font.alphabet lemmar.toml:19:1 en", "font.glyph app/w/de.json:3:3 de"][1:],
        ),
        (
            "in the fallback",
            drawn({"app/f.bdf": bdf(ASCII), "app/g.fnt": fnt("üÜöÖäÄß")}, 'fallback = ["g.fnt"]'),
            [],
        ),
        (
            "in capital letters",
            drawn({"app/f.bdf": bdf(ASCII + "üöäßÖÄ")}, "uppercase = true"),
            ["font.glyph app/w/de.json:3:3 de"],
        ),
        (
            "a font that is not there, and one that is none",
            drawn({"app/f.bdf": "nothing"}, 'fallback = ["gone.ttf"]'),
            ["font.glyph lemmar.toml:19:1", "font.glyph lemmar.toml:19:1"],
        ),
        ("not shown in it", drawn({"app/f.bdf": bdf(ASCII)}, 'locales = ["en"]'), []),
    ],
    "font.subset": [
        (
            "cut before the text was written",
            drawn(
                {"app/f.bdf": bdf(ASCII), "app/whole.bdf": bdf(ASCII + "ü")},
                'cut-from = ["whole.bdf"]',
            ),
            ["font.subset app/w/de.json:3:3 de"],
        ),
        (
            "neither has it",
            drawn(
                {"app/f.bdf": bdf(ASCII), "app/whole.bdf": bdf(ASCII)}, 'cut-from = ["whole.bdf"]'
            ),
            ["font.glyph app/w/de.json:3:3 de"],
        ),
    ],
    "font.alphabet": [
        (
            "letters that no text uses yet",
            drawn({"app/f.bdf": bdf(ASCII + "ü")}),
            ["font.alphabet lemmar.toml:19:1 de"],
        ),
        ("the whole alphabet", drawn({"app/f.bdf": bdf(ASCII + "äöüß")}), []),
    ],
    "font.mark": [
        (
            "Arabic letters that do not join",
            drawn(
                {"app/f.ttf": outlines(ASCII + AR), **ARABIC_FILES},
                shipping="en de ar",
                files="f.ttf",
            ),
            ["font.mark lemmar.toml:19:1 ar"],
        ),
        (
            "a mark that has no place",
            drawn(
                {
                    "app/f.ttf": outlines(ASCII + "äöüß\u0301"),
                    "app/w/de.json": DE.replace("Hütte", "Hütte x\u0301"),
                },
                files="f.ttf",
            ),
            ["font.mark lemmar.toml:19:1 de"],
        ),
        (
            "with tables for both",
            drawn(
                {
                    "app/f.ttf": outlines(ASCII + AR + "\u0301", FEATURES),
                    **ARABIC_FILES,
                    "app/w/de.json": DE.replace("Hütte", "Hütte x\u0301"),
                },
                shipping="en de ar",
                files="f.ttf",
            ),
            [],
        ),
    ],
    "message.overflows": [
        (
            "wider than its source by more than is allowed",
            expanded({"app/w/de.json": DE.replace("Lager", "Matratzenlager")}, "1.4"),
            ["message.overflows app/w/de.json:2:3 de/bunk"],
        ),
        (
            "five columns more are free",
            expanded({"app/w/de.json": DE.replace("Lager", "Bettlager")}, "1.4"),
            [],
        ),
        (
            "wider than its box",
            drawn(
                {"app/f.fnt": fnt(ASCII + "äöüß")},
                files="f.fnt",
                box='keys = ["b*"]\nwidth = 39\nfont = "f.fnt"\nsize = 10',
            ),
            ["message.overflows app/w/de.json:2:3 de/bunk"],
        ),
        (
            "as wide as its box",
            drawn(
                {"app/f.fnt": fnt(ASCII + "äöüß")},
                files="f.fnt",
                box='keys = ["b*"]\nwidth = 40\nfont = "f.fnt"\nsize = 10',
            ),
            [],
        ),
    ],
    "catalog.composed-clash": [
        (
            "two fragments disagree",
            one(
                FRAGMENTS | {"app/base/de.json": '{"bunk": "Lager", "hut.name": "Haus"}'},
                claim=claims(SUP) + COMPOSED,
            ),
            [
                "catalog.composed-clash app/cards/hut/de.json:1:2 de/hut.name",
                "catalog.composed-stale app/w/de.json:1:1 de",
            ],
        ),
        (
            "the first counts",
            one(
                FRAGMENTS | {"app/base/en.json": '{"bunk": "Bunk", "hut": {"name": "Hut"}}'},
                claim=claims(SUP) + COMPOSED,
            ),
            [],
        ),
        (
            "the charter says which counts",
            one(
                FRAGMENTS | {"app/base/de.json": '{"bunk": "Lager", "hut": {"name": "Haus"}}'},
                claim=claims(SUP) + COMPOSED + '  clash = "last"\n',
            ),
            [],
        ),
    ],
    "key.list-stale": [
        (
            "both ways",
            one(
                {"app/keys.ts": 'export const Words = ["bunk", "gone"];\n'},
                claim=claims(SUP) + KEY_LIST,
            ),
            ["key.list-stale app/keys.ts:1:31"],
        ),
        (
            "written in another way",
            one(
                {"app/keys.ts": "export enum Words { None, Bunk, HUT }\n"},
                claim=claims(SUP) + KEY_LIST + '  take = "members"\n',
            ),
            [],
        ),
        (
            "a list that is not there",
            one(claim=claims(SUP) + KEY_LIST),
            ["key.list-stale lemmar.toml:25:1"],
        ),
    ],
    "roster.uncharted": [
        (
            "a client that nobody chartered",
            one({f"tool/locales/{tag}.json": '{"a": "A", "b": "B"}' for tag in ("en", "de")}),
            ["roster.uncharted tool/locales/de.json:1:1"],
        ),
        (
            "data by country",
            one({f"tool/data/{code}.json": '{"a": 1}' for code in ("us", "de", "jp")}),
            [],
        ),
    ],
    "roster.hollow": [
        (
            "no catalog at all",
            one({"app/locales.json": '["en", "de", "fr"]'}, **THREE),
            ["roster.hollow app/locales.json:1:14 fr"],
        ),
        (
            "off the roster, where users can choose it",
            one(
                {"app/locales.json": '["en", "de", "uk"]', "app/menu.json": '["en", "de", "uk"]'},
                claim=claims(SUP, OFF),
            ),
            ["roster.hollow app/locales.json:1:14 uk"],
        ),
        (
            "off the roster, where no picker has it",
            one(
                {"app/locales.json": '["en", "de", "uk"]', "app/menu.json": BOTH},
                claim=claims(SUP, OFF),
            ),
            ["roster.surplus app/locales.json:1:14 uk"],
        ),
        (
            "all of it inherited",
            one({"app/locales.json": '["en", "de", "de-CH"]'}, shipping="en de de-CH"),
            [],
        ),
    ],
    "message.renamed": [
        (
            "in the source alone",
            one(
                {
                    "app/w/en.json": EN.replace('"hut"', '"cabin.hut"'),
                    "app/w/fr.json": DE,
                    "app/locales.json": '["en", "de", "fr"]',
                },
                **THREE,
            ),
            ["message.renamed app/w/en.json:3:3 cabin.hut"],
        ),
        (
            "in one translation of three",
            one(
                {
                    "app/w/de.json": DE.replace('"hut"', '"huts"'),
                    "app/w/fr.json": DE,
                    "app/w/it.json": DE,
                    "app/locales.json": '["en", "de", "fr", "it"]',
                },
                shipping="en de fr it",
            ),
            [
                "message.missing app/w/de.json:2:18 de/hut",
                "message.surplus app/w/de.json:3:3 de/huts",
            ],
        ),
        (
            "dropped, and another one is new",
            one({"app/w/en.json": EN.replace('"hut": "Hut {{name}}"', '"stove": "Stove"')}),
            [
                "message.missing app/w/de.json:2:18 de/stove",
                "message.surplus app/w/de.json:3:3 de/hut",
            ],
        ),
    ],
    "catalog.other-language": [
        (
            "two files were swapped",
            one(
                {
                    "app/w/en.json": prose("en"),
                    "app/w/de.json": prose("fr"),
                    "app/w/fr.json": prose("de"),
                    "app/locales.json": '["en", "de", "fr"]',
                },
                **THREE,
            ),
            [
                "catalog.other-language app/w/de.json:1:1 de",
                "catalog.other-language app/w/fr.json:1:1 fr",
            ],
        ),
        (
            "as they should be",
            one(
                {
                    "app/w/en.json": prose("en"),
                    "app/w/de.json": prose("de"),
                    "app/w/fr.json": prose("fr"),
                    "app/locales.json": '["en", "de", "fr"]',
                },
                **THREE,
            ),
            [],
        ),
    ],
    "message.wrong-script": [
        (
            "a locale that is in another script in all of its small files",
            one(
                {
                    "app/v/en/bunk.json": '{"a": "Move up", "b": "Move down", "c": "Next step", "d": "Last step", "e": "Your bunk", "f": "Your hut"}',
                    "app/v/sr/bunk.json": '{"a": "Pomeri gore", "b": "Pomeri dole", "c": "Korak dalje", "d": "Korak nazad", "e": "Tvoj krevet", "f": "Tvoj dom"}',
                    "app/v/en/hut.json": '{"a": "Stairs here", "b": "Snow here", "c": "Water here", "d": "Ask the warden", "e": "Quiet at night", "f": "Drinking water"}',
                    "app/v/sr/hut.json": '{"a": "Stepenice ovde", "b": "Sneg ovde", "c": "Voda ovde", "d": "Pitaj domara", "e": "Tiho je posle deset", "f": "Voda za piće"}',
                    "app/locales.json": '["en", "sr"]',
                },
                files="v/{locale}/{part}.json",
                shipping="en sr",
            ),
            [
                "message.wrong-script app/v/sr/bunk.json:1:1 sr/bunk",
                "message.wrong-script app/v/sr/hut.json:1:1 sr/hut",
            ],
        ),
        (
            "katakana in a catalog for children",
            one(
                {
                    "app/v/en.json": '{"a": "Privacy Policy here", "b": "Ask at the hut"}',
                    "app/v/ja-Hira.json": '{"a": "プライバシー・ポリシー", "b": "こやで きいてね"}',
                    "app/locales.json": '["en", "ja-Hira"]',
                },
                files="v/{locale}.json",
                shipping="en ja-Hira",
            ),
            [],
        ),
        (
            "traditional characters for simplified ones",
            one(
                {
                    "app/v/en.json": '{"a": "Closed until the snow melts", "b": "Ask at the hut", "c": "Opening hours"}',
                    "app/v/zh-Hans.json": '{"a": "關閉至積雪融化", "b": "請在山屋詢問", "c": "開放時間"}',
                    "app/locales.json": '["en", "zh-Hans"]',
                },
                files="v/{locale}.json",
                shipping="en zh-Hans",
            ),
            ["message.wrong-script app/v/zh-Hans.json:1:1 zh-Hans"],
        ),
        (
            "simplified ones, and characters that are both",
            one(
                {
                    "app/v/en.json": '{"a": "Closed until the snow melts", "b": "Ask at the hut", "c": "Behind the counter, inside"}',
                    "app/v/zh-Hans.json": '{"a": "关闭至积雪融化", "b": "请在山屋询问", "c": "台后面干著里"}',
                    "app/locales.json": '["en", "zh-Hans"]',
                },
                files="v/{locale}.json",
                shipping="en zh-Hans",
            ),
            [],
        ),
    ],
    "catalog.twin": [
        (
            "words that two languages share",
            one(
                {
                    "app/v/en.json": '{"a": "Rating", "b": "Required", "c": "Stars"}',
                    "app/v/da.json": '{"a": "Vurdering", "b": "Obligatorisk", "c": "Stjerner"}',
                    "app/v/nb.json": '{"a": "Vurdering", "b": "Obligatorisk", "c": "Stjerner"}',
                    "app/locales.json": '["en", "da", "nb"]',
                },
                files="v/{locale}.json",
                shipping="en da nb",
            ),
            [],
        ),
        (
            "a copy of another language",
            one(
                {
                    "app/w/en.json": WORDS,
                    "app/w/de.json": WORTE,
                    "app/w/fr.json": WORTE,
                    "app/locales.json": '["en", "de", "fr"]',
                },
                **THREE,
            ),
            ["catalog.twin app/w/fr.json:1:1 fr"],
        ),
        (
            "a region of the same language",
            one(
                {
                    "app/w/en.json": WORDS,
                    "app/w/de.json": WORTE,
                    "app/w/de-AT.json": WORTE,
                    "app/locales.json": '["en", "de", "de-AT"]',
                },
                shipping="en de de-AT",
            ),
            [],
        ),
        (
            "one text differs",
            one(
                {
                    "app/w/en.json": WORDS,
                    "app/w/de.json": WORTE,
                    "app/w/fr.json": WORTE.replace("Lager", "Lit"),
                    "app/locales.json": '["en", "de", "fr"]',
                },
                **THREE,
            ),
            [],
        ),
    ],
    "catalog.conflict": [
        (
            "in a picker, of which either side has a part",
            one(
                {"app/menu.json": '[\n<<<<<<< a\n"en"\n=======\n"de"\n>>>>>>> b\n]'},
                claim=claims(SUP, OFF),
            ),
            ["catalog.conflict app/menu.json:2:1"],
        ),
        (
            "in a catalog, of which both sides are read",
            one({"app/w/de.json": MERGED}),
            ["catalog.conflict app/w/de.json:2:1 de"],
        ),
        (
            "in a list of locales",
            one({"app/locales.json": '[\n<<<<<<< a\n"en", "de"\n=======\n"en"\n>>>>>>> b\n]\n'}),
            ["catalog.conflict app/locales.json:2:1"],
        ),
        (
            "signs in a text, and lines of signs that are no merge",
            one({"app/w/de.json": DE.replace("Lager", "<<<<<<< Lager >>>>>>>") + "\n\n"}),
            [],
        ),
    ],
    "roster.orphan": [
        ("in no claim", one({"app/w/fr.json": DE}), ["roster.orphan app/w/fr.json:1:1 fr"]),
        (
            "on the roster: absent says it",
            one({"app/w/fr.json": DE}, **THREE),
            ["roster.absent app/locales.json:1:2 fr"],
        ),
    ],
    "roster.unmirrored": [
        (
            "it says no",
            one(
                {
                    "app/locales.json": ARABIC_TOO,
                    "app/w/ar.json": ARABIC,
                    "app/look.yaml": "width: 3\nmirrored: no\n",
                },
                shipping="en de ar",
                mirrored="yes",
                more=MIRRORED,
            ),
            ["roster.unmirrored app/look.yaml:2:11 ar"],
        ),
        (
            "it says yes",
            one(
                {
                    "app/locales.json": ARABIC_TOO,
                    "app/w/ar.json": ARABIC,
                    "app/look.yaml": "mirrored: true\n",
                },
                shipping="en de ar",
                mirrored="yes",
                more=MIRRORED,
            ),
            [],
        ),
        (
            "the place is not there",
            one(
                {"app/locales.json": ARABIC_TOO, "app/w/ar.json": ARABIC},
                shipping="en de ar",
                mirrored="yes",
                more=MIRRORED,
            ),
            ["roster.unreadable-claim lemmar.toml:27:1"],
        ),
        (
            "on trial",
            one(
                {"app/locales.json": ARABIC_TOO, "app/w/ar.json": ARABIC},
                shipping="en de",
                trial="{ ar = 0.5 }",
            ),
            [],
        ),
    ],
    "roster.unstated": [
        (
            "no claim says whether layouts are mirrored",
            one(
                {"app/locales.json": ARABIC_TOO, "app/w/ar.json": ARABIC},
                shipping="en de ar",
                mirrored="yes",
            ),
            ["roster.unstated lemmar.toml:10:1"],
        ),
        (
            "a reason instead",
            one(
                {
                    "lemmar.toml": charter(shipping="en de ar", mirrored="yes").replace(
                        "assumes = { ", 'assumes = { mirrored = "the library does it", '
                    ),
                    "app/locales.json": ARABIC_TOO,
                    "app/w/ar.json": ARABIC,
                }
            ),
            [],
        ),
        (
            "a platform that mirrors by itself",
            one(
                {
                    "lemmar.toml": charter(shipping="en de ar", mirrored="yes", platform="lproj"),
                    "app/locales.json": ARABIC_TOO,
                    "app/w/ar.json": ARABIC,
                }
            ),
            [],
        ),
    ],
    "roster.unclaimed": [("no claim", one(claim=""), ["roster.unclaimed lemmar.toml:10:1"])],
    "roster.unreadable-claim": [
        (
            "its file was moved",
            one(
                {
                    "app/src/i18n/list.ts": "export const LOCALES = ['en', 'de'];\n",
                    "app/src/x.ts": "import {LOCALES} from './i18n/list';\n",
                },
                claim='\n  [[client.claim]]\n  states = "supported"\n  file = "src/list.ts"\n  symbol = "LOCALES"\n',
            ),
            ["roster.unreadable-claim lemmar.toml:22:1"],
        ),
        (
            "partly computed, beside a picker that has more",
            one(
                {
                    "app/l.ts": 'export const all = ["en",\n  ...more];\n',
                    "app/menu.json": BOTH,
                },
                claim='\n  [[client.claim]]\n  states = "supported"\n  file = "l.ts"\n  symbol = "all"\n'
                + claims(OFF),
                shipping="en",
            ),
            ["roster.unreadable-claim app/l.ts:2:6"],
        ),
        (
            "no file",
            one(claim=claims(SUP, ("offered", "gone.json"))),
            ["roster.unreadable-claim lemmar.toml:27:1"],
        ),
        (
            "partly computed",
            one(
                {"app/l.ts": 'export const all = ["en", "de",\n  ...more];\n'},
                claim='\n  [[client.claim]]\n  states = "supported"\n  file = "l.ts"\n  symbol = "all"\n',
            ),
            ["roster.unreadable-claim app/l.ts:2:6"],
        ),
        (
            "empty",
            one({"app/menu.json": "[]"}, claim=claims(SUP, OFF)),
            ["roster.unreadable-claim app/menu.json:1:1"],
        ),
    ],
    "chain.cycle": [
        (
            "two links that lead to each other",
            one(
                {"app/chain.json": '{"de": ["en"],\n "en": ["de"]}'},
                claim=claims(SUP) + CHAIN + "  transitive = true\n",
            ),
            ["chain.cycle app/chain.json:1:9"],
        ),
        (
            "links that end",
            one(
                {"app/chain.json": '{"de": "en", "*": ["en"]}'},
                claim=claims(SUP) + CHAIN + "  transitive = true\n",
            ),
            [],
        ),
    ],
    "chain.unshipped": [
        (
            "a link that was never shipped",
            one(
                {"app/chain.json": '{"de": ["nl",\n "en"], "default": "en"}'},
                claim=claims(SUP) + CHAIN,
            ),
            ["chain.unshipped app/chain.json:1:9 nl"],
        ),
        (
            "all links are there",
            one({"app/chain.json": '{"de": "en", "*": ["en"]}'}, claim=claims(SUP) + CHAIN),
            [],
        ),
    ],
    "chain.landing": [
        (
            "a region that is not cut off",
            asked({"de-CH": "de"}, more=EXACT),
            ["chain.landing app/locales.json:1:2 de"],
        ),
        ("a region that is", asked({"de-CH": "de", "de-AT,en": "de", "nl": "en"}), []),
        (
            "what the chain says of it is told where the chain says it",
            asked(
                {"nl-BE": "en", "de-CH": "de"},
                {"app/chain.json": '{"de": "en",\n "nl": ["de"]}'},
                claim=claims(SUP) + CHAIN,
            ),
            ["chain.landing app/chain.json:2:9 en"],
        ),
        (
            "a default that is not the charter's explains it",
            asked(
                {"nl": "en"},
                {"app/default.json": '["de"]'},
                claim=claims(SUP, ("default", "default.json")),
            ),
            ["chain.default app/default.json:1:2 de"],
        ),
        (
            "catalogs that are there and never asked, once",
            asked(
                {},
                FOUR,
                shipping="en de fr de-AT pt-BR",
                more='  [client.runtime]\n  lookup = "primary"\n',
            )
            | {
                "app/locales.json": '["en", "de", "fr", "de-AT", "pt-BR"]',
                "app/w/pt-BR.json": EN,
            },
            [
                "chain.landing app/locales.json:1:2 pt-BR",
            ],
        ),
    ],
    "chain.landing-differs": [
        (
            "one cuts the region off, the other does not",
            asked({"de-CH": "agree"}, more=SECOND),
            ["chain.landing-differs lemmar.toml:11:1"],
        ),
        ("both have it", asked({"de": "agree", "en": "agree"}, more=SECOND), []),
    ],
    "chain.unstated": [
        (
            "the default, of two clients at once",
            one(
                {
                    "lemmar.toml": unassumed(charter(more=SECOND)),
                    "app/default.json": '{"home": "de"}',
                }
            ),
            ["chain.unstated lemmar.toml:10:1"],
        ),
        (
            "a claim states it",
            one(
                {
                    "lemmar.toml": unassumed(charter(more=DEFAULT)),
                    "app/default.json": '{"home": "en"}',
                }
            ),
            [],
        ),
        (
            "how a request falls back",
            one(
                {
                    "lemmar.toml": unassumed(charter(more=DEFAULT)).replace(
                        'platform = "browser"\n', ""
                    ),
                    "app/default.json": '{"home": "en"}',
                }
            ),
            ["chain.unstated lemmar.toml:10:1"],
        ),
        (
            "what a missing text shows, where one is missing",
            one(
                {
                    "lemmar.toml": unassumed(charter(more=DEFAULT + EXACT)).replace(
                        'platform = "browser"\n', ""
                    ),
                    "app/default.json": '{"home": "en"}',
                    "app/w/de.json": '{"hut": "Hütte {{name}}"}',
                }
            ),
            ["message.missing app/w/de.json:1:1 de/bunk", "chain.unstated lemmar.toml:10:1"],
        ),
        (
            "stated by the runtime",
            one(
                {
                    "lemmar.toml": unassumed(
                        charter(more=DEFAULT + EXACT + '  on-miss = "source"\n')
                    ).replace('platform = "browser"\n', ""),
                    "app/default.json": '{"home": "en"}',
                    "app/w/de.json": '{"hut": "Hütte {{name}}"}',
                }
            ),
            ["message.missing app/w/de.json:1:1 de/bunk"],
        ),
    ],
    "chain.diverges": [
        (
            "a chain claim that leads elsewhere",
            chained(
                'de-AT = ["de", "en"]',
                FOUR | {"app/chain.json": '{"de-AT":\n ["fr"]}'},
                shipping="en de fr de-AT",
                claim=claims(SUP) + CHAIN,
            ),
            ["chain.diverges app/chain.json:2:3 de-AT"],
        ),
        (
            "a parent on the way",
            chained("", FOUR, shipping="en de fr de-AT"),
            [],
        ),
        (
            "as the charter has it",
            chained('de-AT = ["de", "en"]', FOUR, shipping="en de fr de-AT"),
            [],
        ),
    ],
    "chain.crosses-script": [
        (
            "through simplified characters",
            chained('zh-Hant = ["zh-Hans", "en"]'),
            ["chain.crosses-script lemmar.toml:10:1 zh-Hant"],
        ),
        ("straight to the last", chained('zh-Hant = ["en"]'), []),
    ],
    "chain.dead-end": [
        (
            "a default without a catalog",
            {
                name: str(text).replace('default = ["en"]', 'default = ["fr"]')
                for name, text in one(
                    {
                        "app/default.json": '{"home": "fr"}',
                        "app/locales.json": '["en", "de", "fr"]',
                    },
                    claim=claims(SUP) + DEFAULT,
                    **THREE,
                ).items()
            },
            [
                "chain.dead-end app/default.json:1:10 fr",
                "roster.hollow app/locales.json:1:14 fr",
            ],
        ),
        (
            "a wrong default explains it",
            one({"app/default.json": '{"home": "nl"}'}, claim=claims(SUP) + DEFAULT),
            ["chain.default app/default.json:1:10 nl"],
        ),
        (
            "a default with one",
            one({"app/default.json": '{"home": "en"}'}, claim=claims(SUP) + DEFAULT),
            [],
        ),
    ],
    "chain.unreachable": [
        (
            "only the language of a request is used",
            asked({}, files_=FOUR, shipping="en de fr de-AT", more=PRIMARY),
            ["chain.unreachable app/w/de-AT.json:1:1 de-AT"],
        ),
        ("each is asked", asked({}, files_=FOUR, shipping="en de fr de-AT"), []),
    ],
    "chain.default": [
        (
            "it has none",
            asked(
                {"fr": "en"},
                {"app/w/de.json": '{"hut": "Hütte {{name}}"}'},
                more='  [client.runtime]\n  default = "none"\n',
            ),
            ["chain.default lemmar.toml:28:1 en", "message.missing app/w/de.json:1:1 de/bunk"],
        ),
        (
            "another",
            one({"app/default.json": '{"home": "de"}'}, claim=claims(SUP) + DEFAULT),
            ["chain.default app/default.json:1:10 de"],
        ),
        ("the same", one({"app/default.json": '{"home": "en"}'}, claim=claims(SUP) + DEFAULT), []),
    ],
    "tag.malformed": [
        (
            "a word",
            one({"app/locales.json": '["en", "de", "no locale at all"]'}),
            ["tag.malformed app/locales.json:1:14"],
        ),
        (
            "a header",
            sheet("Key\ten\tde\tno tag\nbunk\tBunk\tLager\tx\n"),
            ["tag.malformed app/w.tsv:1:11"],
        ),
    ],
    "tag.noncanonical": [
        (
            "a folder that older devices do not find",
            android(
                {"app/values/s.xml": xml(SNOW), "app/values-he/s.xml": xml(SHELEG)},
                shipping="en he",
            ),
            ["tag.noncanonical app/values-he/s.xml:1:1 he"],
        ),
        (
            "a folder for each age",
            android(
                {
                    "app/values/s.xml": xml(SNOW),
                    "app/values-he/s.xml": xml(SHELEG),
                    "app/values-iw/s.xml": xml(SHELEG),
                },
                shipping="en he",
            ),
            [],
        ),
        (
            "case",
            one({"app/locales.json": '["en", "DE"]'}),
            ["tag.noncanonical app/locales.json:1:8 de"],
        ),
        (
            "separator",
            one(
                {"app/locales.json": '["en", "de", "pt_BR"]', "app/w/pt-BR.json": DE},
                shipping="en de pt-BR",
            ),
            ["tag.noncanonical app/locales.json:1:14 pt-BR"],
        ),
        (
            "a folder in its platform's way",
            android(
                {
                    f"app/values{tag}/s.xml": xml('<string name="a">A</string>')
                    for tag in ("", "-pt-rBR")
                },
                shipping="en pt-BR",
            ),
            [],
        ),
    ],
    "tag.unregistered": [
        (
            "a subtag that nobody knows",
            one({"app/locales.json": '["en", "de", "xx-Xxxx"]'}),
            ["tag.unregistered app/locales.json:1:14"],
        ),
        (
            "a slip that tells what was meant",
            one(
                {"app/locales.json": '["en", "de", "zh-Hnas"]', "app/w/zh-Hans.json": DE},
                shipping="en de zh-Hans",
            ),
            ["tag.unregistered app/locales.json:1:14 zh-Hans"],
        ),
        (
            "private use",
            one(
                {"app/locales.json": '["en", "de", "qaa"]', "app/w/qaa.json": DE},
                shipping="en de qaa",
            ),
            [],
        ),
        (
            "a file's name",
            one({"app/w/xqz.json": "{}"}),
            ["tag.unregistered app/w/xqz.json:1:1"],
        ),
    ],
    "tag.region-as-language": [
        (
            "cn, and it counts as what was meant",
            one(
                {"app/locales.json": '["en", "de", "cn"]', "app/w/zh-Hans.json": DE},
                shipping="en de zh-Hans",
            ),
            ["tag.region-as-language app/locales.json:1:14 zh-Hans"],
        ),
        (
            "ca is Catalan",
            one(
                {"app/locales.json": '["en", "de", "ca"]', "app/w/ca.json": DE}, shipping="en de ca"
            ),
            [],
        ),
    ],
    "tag.deprecated": [
        (
            "iw in a web client",
            one(
                {"app/locales.json": '["en", "de", "iw"]', "app/w/he.json": DE}, shipping="en de he"
            ),
            ["tag.deprecated app/locales.json:1:14 he"],
        ),
        (
            "iw where it is right",
            android(
                {
                    f"app/values{tag}/s.xml": xml('<string name="a">A</string>')
                    for tag in ("", "-iw")
                },
                shipping="en he",
            ),
            [],
        ),
    ],
    "tag.overspecified": [
        (
            "en-Latn",
            one({"app/locales.json": '["en-Latn", "de"]'}),
            ["tag.overspecified app/locales.json:1:2 en"],
        ),
        (
            "sr-Latn",
            one(
                {"app/locales.json": '["en", "de", "sr-Latn"]', "app/w/sr-Latn.json": DE},
                shipping="en de sr-Latn",
            ),
            [],
        ),
    ],
    "tag.ambiguous": [
        (
            "readers of the other script are given its texts",
            one(
                {
                    "app/locales.json": '["en", "zh", "zh-Hant"]',
                    "app/w/de.json": "",
                    "app/w/zh.json": DE,
                    "app/w/zh-Hant.json": DE.replace("Lager", "床"),
                },
                shipping="en zh-Hans zh-Hant",
                catalog='  except = ["w/de.json"]\n',
            ),
            ["tag.ambiguous app/locales.json:1:8 zh"],
        ),
        (
            "zh, where the roster has scripts",
            one(
                {"app/locales.json": '["en", "de", "zh"]', "app/w/zh-Hans.json": DE},
                shipping="en de zh-Hans",
            ),
            ["tag.ambiguous app/locales.json:1:14 zh"],
        ),
        (
            "zh, where it has none",
            one(
                {"app/locales.json": '["en", "de", "zh"]', "app/w/zh.json": DE}, shipping="en de zh"
            ),
            [],
        ),
        (
            "zh-TW says enough",
            one(
                {"app/locales.json": '["en", "de", "zh-TW"]', "app/w/zh-TW.json": DE},
                shipping="en de zh-Hant",
            ),
            [],
        ),
    ],
    "tag.twice": [
        (
            "one claim",
            one({"app/locales.json": '["en", "de", "DE"]'}),
            ["tag.twice app/locales.json:1:14 de"],
        ),
        (
            "two columns",
            sheet("Key\ten\tde\tde\nbunk\tBunk\tLager\tLager\n"),
            ["tag.twice app/w.tsv:1:11 de"],
        ),
        (
            "two files",
            android(
                {
                    f"app/values{tag}/s.xml": xml('<string name="a">A</string>')
                    for tag in ("", "-de", "-b+de")
                }
            ),
            ["tag.twice app/values-de/s.xml:1:1 de"],
        ),
    ],
    "catalog.absent": [
        (
            "a part",
            one(
                {"app/p/en/b.json": EN, "app/p/en/h.json": EN, "app/p/de/b.json": DE},
                files="p/{locale}/{part}.json",
            ),
            ["catalog.absent app/p/de/h.json:1:1 de/h"],
        ),
        (
            "the catalog goes without",
            one(
                {
                    "app/p/en/b.json": EN,
                    "app/p/en/h.json": '{"pass": "Pass"}',
                    "app/p/de/b.json": DE,
                },
                files="p/{locale}/b.json",
                catalog='\n  [[client.catalog]]\n  files = "p/{locale}/h.json"\n  without = { de = "not yet" }\n',
            ),
            [],
        ),
    ],
    "catalog.no-match": [
        (
            "nothing there",
            one(catalog='\n  [[client.catalog]]\n  files = "old/{locale}.json"\n'),
            ["catalog.no-match lemmar.toml:20:1"],
        ),
    ],
    "catalog.opaque": [
        (
            "functions that build texts",
            one(
                {
                    "app/v/en.js": f"{MODULE}\nexport const free = (n) => `There are ${{n}} bunks left`;",
                    "app/v/de.js": MODULE,
                },
                files="v/{locale}.js",
            ),
            ["catalog.opaque app/v/en.js:3:28"],
        ),
        (
            "a map of texts",
            one({f"app/v/{tag}.js": MODULE for tag in ("en", "de")}, files="v/{locale}.js"),
            [],
        ),
    ],
    "catalog.not-built": [
        (
            "the build has not run",
            one(catalog='\n  [[client.catalog]]\n  files = "dist/{locale}.json"\n  built = true\n'),
            ["catalog.not-built lemmar.toml:20:1"],
        ),
        (
            "the build has run",
            one(
                {"app/dist/en.json": '{"c": "Cold"}', "app/dist/de.json": '{"c": "Kalt"}'},
                catalog='\n  [[client.catalog]]\n  files = "dist/{locale}.json"\n  built = true\n',
            ),
            [],
        ),
    ],
    "catalog.unreadable": [
        ("empty file", one({"app/w/de.json": ""}), ["catalog.unreadable app/w/de.json:1:1 de"]),
        ("a list", one({"app/w/de.json": "\n [1]"}), ["catalog.unreadable app/w/de.json:2:2 de"]),
        (
            "binary",
            sheet("a\0b\n"),
            [
                "catalog.unreadable app/w.tsv:1:1",
                "roster.absent lemmar.toml:10:1 de",
                "roster.absent lemmar.toml:10:1 en",
            ],
        ),
    ],
    "catalog.damaged": [
        (
            "a comma too many",
            one({"app/w/de.json": '{"bunk": "Lager",\n "hut": "{{name}}",}'}),
            ["catalog.damaged app/w/de.json:2:19 de"],
        ),
        (
            "a comma lost, and a text missing",
            one({"app/w/de.json": '{"a": "Lager"\n "hut": "{{name}}"}'}),
            ["catalog.damaged app/w/de.json:2:2 de", "message.surplus app/w/de.json:1:2 de/a"],
        ),
        (
            "a comment in JSON for people",
            one(
                {"app/p/en.jsonc": "// all huts\n" + EN, "app/p/de.jsonc": DE},
                files="p/{locale}.jsonc",
            ),
            [],
        ),
    ],
    "catalog.encoding": [
        (
            "bytes of another encoding",
            one({"app/w/de.json": DE.encode("latin-1")}),
            ["catalog.encoding app/w/de.json:3:12 de"],
        ),
        (
            "a mark where it harms",
            one({"app/w/de.json": b"\xef\xbb\xbf" + DE.encode()}),
            ["catalog.encoding app/w/de.json:1:1 de"],
        ),
        (
            "two bytes a sign, without a mark",
            one({"app/w/de.json": DE.encode("utf-16-le")}),
            ["catalog.encoding app/w/de.json:1:1 de"],
        ),
        (
            "two bytes a sign, with a mark",
            one({"app/w/de.json": DE.encode("utf-16")}),
            ["catalog.encoding app/w/de.json:1:1 de"],
        ),
        (
            "a mark before the code of a page",
            one(
                {
                    "app/v/en.php": "<?php return ['bunk' => 'Bunk'];\n",
                    "app/v/de.php": b"\xef\xbb\xbf" + b"<?php return ['bunk' => 'Lager'];\n",
                },
                files="v/{locale}.php",
            ),
            ["catalog.encoding app/v/de.php:1:1 de"],
        ),
    ],
    "catalog.duplicate-key": [
        (
            "another text",
            one({"app/w/de.json": DE.replace("{\n", '{\n  "bunk": "Bett",\n')}),
            ["catalog.duplicate-key app/w/de.json:3:3 de/bunk"],
        ),
        (
            "the same key in two branches",
            one(
                {
                    f"app/w/{tag}.json": '{"a": {"x": "%s"}, "b": {"x": "%s"}}' % (tag, tag)
                    for tag in ("en", "de")
                }
            ),
            [],
        ),
    ],
    "catalog.key-clash": [
        (
            "a reference in the source that is written out elsewhere",
            one(
                {
                    "app/y/en.ts": "import {more} from './more';\nexport default {a: 'A', c: 'C', b: more};\n",
                    "app/y/de.ts": "export default {a: 'B', c: 'D', b: {x: 'X', y: 'Y'}};\n",
                },
                files="y/{locale}.ts",
            ),
            [],
        ),
        (
            "a text and a branch in code",
            one(
                {
                    "app/y/en.php": "<?php\nreturn [\n  'menu' => ['a' => 'A', 'b' => 'B'],\n  'x' => 'X',\n];\n",
                    "app/y/de.php": "<?php\nreturn [\n  'menu' => 'M',\n  'x' => 'Y',\n];\n",
                },
                files="y/{locale}.php",
            ),
            ["catalog.key-clash app/y/de.php:3:3 de/menu"],
        ),
        (
            "keys that are sentences, with their dots and without",
            one(
                {
                    "app/w/en.json": '{"It is full.": "It is full.", "Ask. Then wait": "Ask. Then wait"}',
                    "app/w/de.json": '{"It is full": "Voll", "It is full.": "Voll.", "Ask. Then wait": "Bitte warten"}',
                }
            ),
            ["message.surplus app/w/de.json:1:2 de/It is full"],
        ),
        (
            "text and branch",
            one(
                {
                    "app/w/en.json": '{"a": "Hut", "b": {"c": "x"}}',
                    "app/w/de.json": '{"a": {"b": "Hütte"}, "b": {"c": "y"}}',
                }
            ),
            ["catalog.key-clash app/w/de.json:1:8 de/a"],
        ),
        (
            "flat keys with dots",
            one(
                {
                    f"app/w/{tag}.json": '{"a": "%s", "a.b": "%s"}' % (tag, tag)
                    for tag in ("en", "de")
                }
            ),
            [],
        ),
    ],
    "catalog.typed-key": [
        (
            "many keys of one file",
            one(
                {
                    "app/y/en.yml": "".join(f'"{n}": Bunk\n' for n in range(400, 412)),
                    "app/y/de.yml": "".join(f"{n}: Lager\n" for n in range(400, 412)),
                },
                files="y/{locale}.yml",
            ),
            ["catalog.typed-key app/y/de.yml:1:1 de/400"],
        ),
        (
            "Norwegian without quotes",
            one(
                {
                    "app/w.yml": "en:\n  bunk: Bunk\nno:\n  bunk: Seng\n",
                    "app/locales.json": '["en", "no"]',
                },
                files="w.yml",
                shipping="en no",
                catalog='  layout = "locale-rooted"\n',
            ),
            ["catalog.typed-key app/w.yml:3:1 no"],
        ),
        (
            "Norwegian in quotes",
            one(
                {
                    "app/w.yml": 'en:\n  bunk: Bunk\n"no":\n  bunk: Seng\n',
                    "app/locales.json": '["en", "no"]',
                },
                files="w.yml",
                shipping="en no",
                catalog='  layout = "locale-rooted"\n',
            ),
            [],
        ),
    ],
    "catalog.ragged-row": [
        (
            "a separator too many",
            sheet("Key\ten\tde\nbunk\tBu\tnk\tLager\nhut\tHut\tHütte\n"),
            ["catalog.ragged-row app/w.tsv:2:1 bunk"],
        ),
        ("a separator in quotes", sheet('Key\ten\tde\nbunk\t"Bu\tnk"\tLager\n'), []),
    ],
    "catalog.mark-differs": [
        (
            "the language without its region",
            {
                "lemmar.toml": charter("w/{locale}.arb", shipping="en pt-PT"),
                "app/locales.json": '["en", "pt-PT"]',
                "app/w/en.arb": '{"@@locale": "en", "a": "x"}',
                "app/w/pt-PT.arb": '{"@@locale": "pt", "a": "y"}',
            },
            [],
        ),
        (
            "a region of the language that the name gives alone",
            {
                "lemmar.toml": charter("w/{locale}.arb", shipping="en pt"),
                "app/locales.json": '["en", "pt"]',
                "app/w/en.arb": '{"@@locale": "en", "a": "x"}',
                "app/w/pt.arb": '{"@@locale": "pt_PT", "a": "y"}',
            },
            [],
        ),
        (
            "a region that is not the name's",
            {
                "lemmar.toml": charter("w/{locale}.arb", shipping="en pt-PT"),
                "app/locales.json": '["en", "pt-PT"]',
                "app/w/en.arb": '{"@@locale": "en", "a": "x"}',
                "app/w/pt-PT.arb": '{"@@locale": "pt_BR", "a": "y"}',
            },
            ["catalog.mark-differs app/w/pt-PT.arb:1:15 pt-PT"],
        ),
        (
            "the language without its region, where the roster has both",
            {
                "lemmar.toml": charter("w/{locale}.arb", shipping="en pt pt-BR"),
                "app/locales.json": '["en", "pt", "pt-BR"]',
                "app/w/en.arb": '{"@@locale": "en", "a": "x"}',
                "app/w/pt.arb": '{"@@locale": "pt_BR", "a": "y"}',
                "app/w/pt-BR.arb": '{"@@locale": "pt-BR", "a": "z"}',
            },
            ["catalog.mark-differs app/w/pt.arb:1:15 pt"],
        ),
        (
            "Chinese by a region, in which others cannot say the script",
            {
                "lemmar.toml": charter("w/{locale}.arb", shipping="en zh-Hans zh-CN"),
                "app/locales.json": '["en", "zh-Hans", "zh-CN"]',
                "app/w/en.arb": '{"@@locale": "en", "a": "x"}',
                "app/w/zh-Hans.arb": '{"@@locale": "zh_CN", "a": "y"}',
                "app/w/zh-CN.arb": '{"@@locale": "zh_CN", "a": "z"}',
            },
            [],
        ),
        (
            "one of Norwegian's two names for the other",
            {
                "lemmar.toml": charter("w/{locale}.arb", shipping="en no"),
                "app/locales.json": '["en", "no"]',
                "app/w/en.arb": '{"@@locale": "en", "a": "x"}',
                "app/w/no.arb": '{"@@locale": "nb", "a": "y"}',
            },
            [],
        ),
        (
            "copied from another",
            android(
                {
                    "app/values/s.xml": xml('<string name="a">A</string>'),
                    "app/values-de/s.xml": '<resources xmlns:tools="http://schemas.android.com/tools" tools:locale="fr"><string name="a">B</string></resources>',
                }
            ),
            ["catalog.mark-differs app/values-de/s.xml:1:73 de"],
        ),
    ],
    "catalog.below-threshold": [
        (
            "below",
            one(
                {"app/w/uk.json": '{"bunk": "Місце"}', "app/locales.json": '["en", "de", "uk"]'},
                trial="{ uk = 0.6 }",
            ),
            ["catalog.below-threshold app/w/uk.json:1:1 uk"],
        ),
        (
            "just there",
            one(
                {"app/w/uk.json": '{"bunk": "Місце"}', "app/locales.json": '["en", "de", "uk"]'},
                trial="{ uk = 0.5 }",
            ),
            [],
        ),
    ],
    "catalog.layout-differs": [
        (
            "a part that the source and most others lack",
            one(
                {
                    "app/locales.json": '["en", "de", "fr"]',
                    **{f"app/p/{tag}/b.json": DE for tag in ("en", "de", "fr")},
                    "app/p/de/old.json": DE,
                },
                files="p/{locale}/{part}.json",
                shipping="en de fr",
                more='[gate]\nseverity = { "message.same-as-source" = "off", "message.inconsistent" = "off" }\n',
            ),
            ["catalog.layout-differs app/p/de/old.json:1:1 de/old"],
        ),
    ],
    "catalog.no-source": [
        (
            "a part that half of the locales have",
            one(
                {"app/p/en/b.json": EN, "app/p/de/b.json": DE, "app/p/de/new.json": DE},
                files="p/{locale}/{part}.json",
            ),
            ["catalog.no-source app/p/de/new.json:1:1 new"],
        ),
        (
            "no source at all",
            one(
                {"app/locales.json": '["de"]', "app/p/de.json": DE, "app/p/fr.json": DE},
                files="p/{locale}.json",
            )
            | {
                "lemmar.toml": charter(
                    files="p/{locale}.json", catalog='  without = { fr = "x" }\n'
                ).replace("locales.json", "all.json"),
                "app/all.json": '["en", "de"]',
            },
            ["catalog.no-source app/p/de.json:1:1 en", "roster.orphan app/p/fr.json:1:1 fr"],
        ),
        (
            "files that carry the source themselves",
            one({"app/po/de.po": 'msgid "Bunk"\nmsgstr "Lager"\n'}, files="po/{locale}.po"),
            [],
        ),
    ],
    "catalog.thin-source": [
        (
            "a remnant",
            one({"app/w/en.json": '{"bunk": "Bunk"}', "app/w/de.json": DE[:-2] + ', "a": "b"}\n'}),
            ["catalog.thin-source app/w/en.json:1:1 en"],
        ),
        (
            "nothing",
            one({"app/w/en.json": "{}"}),
            ["catalog.thin-source app/w/en.json:1:1 en"],
        ),
        (
            "patterns that each locale has, and the source leaves to its runtime",
            one(
                {
                    "app/w/en.json": "{}",
                    "app/w/de.json": '{"number.group": ".", "number.list": ";"}',
                },
                catalog='  requires-own = ["number.*"]\n',
            ),
            [],
        ),
        (
            "keys that are the source's texts",
            one({"app/w/en.json": "{}", "app/w/de.json": '{"Take a bunk": "Lager nehmen"}'}),
            ["message.surplus app/w/de.json:1:2 de/Take a bunk"],
        ),
        (
            "a key too many",
            one({"app/w/de.json": DE[:-2] + ', "a": "b"}\n'}),
            ["message.surplus app/w/de.json:4:3 de/a"],
        ),
    ],
    "message.missing": [
        (
            "another catalog of the client has the key, and is asked apart",
            one(BERTHS, catalog=APART),
            ["message.missing app/x/de.json:1:17 de/bunk"],
        ),
        ("it lies over the one before it", one(BERTHS, catalog=f"{APART}  over = true\n"), []),
        (
            "it lies over one that is named",
            one(
                {
                    **BERTHS,
                    "lemmar.toml": charter(catalog=f'{APART}  over = "huts"\n').replace(
                        "  [[client.catalog]]\n", '  [[client.catalog]]\n  name = "huts"\n', 1
                    ),
                }
            ),
            [],
        ),
        (
            "the source lies in a folder of its own",
            one(
                {"app/x/en.json": EN, "app/v/de.json": '{"hut": "Hütte {{name}}"}'},
                files="v/{locale}.json",
                catalog=APART,
            ),
            ["message.missing app/v/de.json:1:1 de/bunk"],
        ),
        (
            "a flat file with a list beside it has the same keys as one that is flat throughout",
            one(
                {
                    "app/w/en.json": '{"hut.name": "Hut", "hut.bunk": "Bunk", "about.us": "About us"}',
                    "app/w/de.json": '{"@meta": {"authors": ["a", "b"]}, "hut.name": "Hütte", "hut.bunk": "Lager", "about.us": "Wir"}',
                }
            ),
            ["message.surplus app/w/de.json:1:12 de/@meta.authors"],
        ),
        (
            "a nested file has the same keys as a flat one",
            one(
                {
                    "app/w/en.json": '{"hut.name": "Hut", "hut.bunk": "Bunk"}',
                    "app/w/de.json": '{"hut": {"name": "Hütte", "bunk": "Lager"}}',
                }
            ),
            [],
        ),
        (
            "a pattern of numbers that is left to the parent",
            one(
                {
                    "app/locales.json": '["en", "de", "de-AT"]',
                    "app/w/de.json": DE.rstrip().rstrip("}") + ', "number.group": "."}',
                    "app/w/de-AT.json": "{}",
                },
                shipping="en de de-AT",
                catalog='  requires-own = ["number.*"]\n',
            ),
            ["message.missing app/w/de-AT.json:1:1 de-AT/number.group"],
        ),
        (
            "one that each locale has, and the source leaves to its runtime",
            one(
                {"app/w/de.json": DE.rstrip().rstrip("}") + ', "number.group": "."}'},
                catalog='  requires-own = ["number.*"]\n',
            ),
            [],
        ),
        (
            "after the nearest key before it",
            one({"app/w/de.json": '{\n  "bunk": "Lager"\n}\n'}),
            ["message.missing app/w/de.json:2:18 de/hut"],
        ),
        (
            "an empty cell",
            sheet("Key\ten\tde\nbunk\tBunk\tLager\nhut\tHut\t\n"),
            ["message.missing app/w.tsv:3:9 de/hut"],
        ),
        (
            "a whole column",
            sheet("Key\ten\tde\nbunk\tBunk\t\nhut\tHut\t\n"),
            ["message.missing app/w.tsv:1:8 de"],
        ),
        (
            "what a shipping locale leaves to a parent that is on trial",
            one(
                {
                    "app/locales.json": '["en", "de", "de-AT"]',
                    "app/w/de-AT.json": '{"bunk": "Lager"}',
                    "app/w/de.json": '{"bunk": "Lager"}',
                },
                shipping="en de-AT",
                trial="{ de = 0.1 }",
            ),
            ["message.missing app/w/de-AT.json:1:17 de-AT/hut"],
        ),
        (
            "missing in the parent only once",
            one(
                {
                    "app/locales.json": '["en", "de", "de-AT"]',
                    "app/w/de-AT.json": "{}",
                    "app/w/de.json": '{"bunk": "Lager"}',
                },
                shipping="en de de-AT",
            ),
            ["message.missing app/w/de.json:1:17 de/hut"],
        ),
        (
            "not to be translated",
            android(
                {
                    "app/values/s.xml": xml(
                        '<string name="a">A</string>',
                        '<string name="b" translatable="false">B</string>',
                    ),
                    "app/values-de/s.xml": xml('<string name="a">A</string>'),
                }
            ),
            [],
        ),
        (
            "files that carry the source themselves",
            one(
                {
                    "app/po/de.po": 'msgid "Bunk"\nmsgstr "Lager"\n\nmsgid "Hut %s"\nmsgstr ""\n',
                    "app/po/fr.po": 'msgid "Bunk"\nmsgstr "Couchage"\n\n#, fuzzy\nmsgid "Hut %s"\nmsgstr "Refuge %s"\n',
                    "app/locales.json": '["en", "de", "fr"]',
                },
                files="po/{locale}.po",
                platform="posix",
                **THREE,
            ),
            [
                "message.missing app/po/de.po:4:1 de/Hut %s",
                "message.unreviewed app/po/fr.po:5:1 fr/Hut %s",
            ],
        ),
        (
            "files that carry the source, whole",
            one(
                {
                    "app/po/de.po": 'msgid "Bunk"\nmsgstr "Lager"\n',
                    "app/locales.json": '["en", "de"]',
                },
                files="po/{locale}.po",
                platform="posix",
            ),
            [],
        ),
    ],
    "message.surplus": [
        (
            "most keys of a file",
            one(
                {
                    "app/locales.json": '["en", "de", "fr"]',
                    "app/w/de.json": DE[:-3]
                    + "".join(f',\n  "old{n}": "alt"' for n in range(12))
                    + "}",
                    "app/w/fr.json": DE,
                },
                **THREE,
            ),
            ["message.surplus app/w/de.json:1:1 de"],
        ),
        (
            "in two locales",
            one(
                {
                    "app/locales.json": '["en", "de", "fr"]',
                    "app/w/de.json": DE.replace("{\n", '{\n  "old": "alt",\n'),
                    "app/w/fr.json": DE.replace("{\n", '{\n  "old": "vieux",\n'),
                },
                **THREE,
            ),
            ["message.surplus app/w/de.json:2:3 de/old"],
        ),
    ],
    "message.empty": [
        (
            "the source computes it, and the locale gives nothing",
            one(
                {
                    "app/v/en.js": "export default { ordinal: (n) => n > 1 ? 'th' : 'st', hut: 'Hut' };",
                    "app/v/de.js": "export default { ordinal: () => '', hut: 'Hütte' };",
                },
                files="v/{locale}.js",
            ),
            [],
        ),
        (
            "a separator that is a blank here",
            one(
                {
                    "app/w/en.json": EN.replace("Bunk", ","),
                    "app/w/de.json": DE.replace("Lager", " "),
                }
            ),
            [],
        ),
        (
            "blanks only",
            one({"app/w/de.json": DE.replace("Lager", " ")}),
            ["message.empty app/w/de.json:2:3 de/bunk"],
        ),
        (
            "blanks in the source as well",
            one(
                {
                    "app/w/en.json": EN.replace("Bunk", " "),
                    "app/w/de.json": DE.replace("Lager", " "),
                }
            ),
            [],
        ),
        (
            "a blank text",
            one({"app/w/de.json": DE.replace("Lager", "")}),
            ["message.empty app/w/de.json:2:3 de/bunk"],
        ),
        (
            "blank in the source too",
            one(
                {"app/w/de.json": DE.replace("Lager", ""), "app/w/en.json": EN.replace("Bunk", "")}
            ),
            [],
        ),
    ],
    "message.argument-lost": [
        (
            "lost",
            one({"app/w/de.json": DE.replace(" {{name}}", "")}),
            ["message.argument-lost app/w/de.json:3:3 de/hut"],
        ),
        (
            "another name",
            one({"app/w/de.json": DE.replace("{{name}}", "{{ort}}")}),
            ["message.argument-lost app/w/de.json:3:3 de/hut"],
        ),
        ("blanks inside", one({"app/w/de.json": DE.replace("{{name}}", "{{ name }}")}), []),
        (
            "another order",
            android(
                {
                    "app/values/s.xml": xml('<string name="a">%1$s in %2$d</string>'),
                    "app/values-de/s.xml": xml('<string name="a">%2$d von %1$s</string>'),
                }
            ),
            [],
        ),
        (
            "percent in prose",
            android(
                {
                    "app/values/s.xml": xml('<string name="a">50 % off</string>'),
                    "app/values-de/s.xml": xml('<string name="a">50 % ab</string>'),
                }
            ),
            [],
        ),
        (
            "in a PO file, against its msgid",
            one(
                {
                    "app/po/de.po": 'msgid "Hut %s"\nmsgstr "Hütte"\n',
                    "app/locales.json": '["en", "de"]',
                },
                files="po/{locale}.po",
                platform="posix",
            ),
            ["message.argument-lost app/po/de.po:1:1 de/Hut %s"],
        ),
        (
            "code, of which nobody knows what it takes",
            one(
                {
                    "app/c/en.ts": 'export default { a: "Hut {{n}}" };',
                    "app/c/de.ts": "export default { a: t(`Hütte`) };",
                },
                files="c/{locale}.ts",
            ),
            [],
        ),
    ],
    "message.argument-added": [
        (
            "added",
            one({"app/w/de.json": DE.replace("Lager", "Lager {{n}}")}),
            ["message.argument-added app/w/de.json:2:3 de/bunk"],
        ),
        ("escaped", sheet("Key\ten\tde\nbunk\tBunk\t{{Lager}}\n"), []),
    ],
    "waiver.expired": [
        (
            "its day has passed",
            one(
                {"app/w/de.json": '{\n  "bunk": "Lager"\n}\n'},
                more=waiver(rule="message.missing", until="2026-11-24", reason="x"),
            ),
            ["message.missing app/w/de.json:2:18 de/hut", "waiver.expired lemmar.toml:25:1"],
        ),
        (
            "its last day",
            one(
                {"app/w/de.json": '{\n  "bunk": "Lager"\n}\n'},
                more=waiver(rule="message.missing", until="2026-11-25", reason="x"),
            ),
            ["message.missing app/w/de.json:2:18 de/hut (waived)"],
        ),
    ],
    "waiver.idle": [
        (
            "matches nothing",
            one(more=waiver(rule="message.missing", until="2027-11-24", reason="x", key="h*")),
            ["waiver.idle lemmar.toml:25:1"],
        ),
        (
            "narrowed to another locale",
            one(
                {"app/w/de.json": '{\n  "bunk": "Lager"\n}\n'},
                more=waiver(rule="message.missing", until="2027-11-24", reason="x", locale="fr"),
            ),
            ["message.missing app/w/de.json:2:18 de/hut", "waiver.idle lemmar.toml:25:1"],
        ),
    ],
}


@pytest.mark.parametrize(
    ("files", "expected"),
    [
        pytest.param(files, expected, id=f"{name}: {case}")
        for name, rows in CASES.items()
        for case, files, expected in rows
    ],
)
def test_findings(repo: Repo, files: dict[str, str | bytes], expected: list[str]) -> None:
    assert sorted(repo.write(files).found()) == sorted(expected)


def test_every_rule_has_a_row_that_fires() -> None:
    fires = {
        line.split()[0] for rows in CASES.values() for _, _, expected in rows for line in expected
    }
    assert set(all_rules()) == fires | set(EXAMPLES)
    assert set(CASES) - {"sound"} == set(all_rules()) - set(EXAMPLES) | set(CASES) & set(EXAMPLES)


def test_every_rule_is_explained() -> None:
    for rule in all_rules().values():
        assert rule.summary.endswith(".") and "To fix:" in rule.manual.replace("\n", " "), rule.name


def test_severity_can_be_changed_and_a_rule_that_is_off_hides_nothing(repo: Repo) -> None:
    files = one({"app/locales.json": '["en", "de", "fr"]'}, **THREE)
    gate = '\n[gate]\nfail-on = "warning"\nseverity = { "roster.hollow" = "off", "catalog.absent" = "off", "message.missing" = "note" }\n'
    repo.write(files | {"lemmar.toml": str(files["lemmar.toml"]) + gate})
    data = repo.audit()
    assert [(finding["rule"], finding["severity"]) for finding in data["findings"]] == [
        ("message.missing", "note")
    ]
    assert data["verdict"] == "clear"


def test_a_finding_hides_only_what_is_no_more_severe(repo: Repo) -> None:
    files = one({"app/locales.json": '["en", "de", "fr"]'}, **THREE)
    gate = '\n[gate]\nseverity = { "roster.hollow" = "note" }\n'
    rules = {
        finding["rule"]
        for finding in repo.write(
            files | {"lemmar.toml": str(files["lemmar.toml"]) + gate}
        ).audit()["findings"]
    }
    assert rules == {"roster.hollow", "catalog.absent"}


def test_a_shared_catalog_is_reported_once_for_all_its_clients(repo: Repo) -> None:
    head = charter() + '\n[[catalog]]\nname = "words"\nfiles = "words/{locale}.json"\n'
    second = (
        '\n[[client]]\nname = "desk"\nkind = "desktop"\nroot = "app"\nuses = ["words"]\nassumes = { default = "-", chain = "-", on-miss = "-" }\n'
        + claims(SUP)
    )
    head = head.replace('root = "app"', 'root = "app"\nuses = ["words"]')
    repo.write(
        one(
            {
                "lemmar.toml": head + second,
                "words/en.json": '{"w": "One", "v": "Two"}',
                "words/de.json": '{"w": "Eins"}',
            }
        )
    )
    findings = repo.audit()["findings"]
    assert [(finding["rule"], finding["clients"], finding["key"]) for finding in findings] == [
        ("message.missing", ["app", "desk"], "v")
    ]


def test_the_order_of_files_changes_nothing(
    repo: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    files = one(
        {"app/w/de.json": '{"bunk": ""}', "app/w/fr.json": "{", "app/w/it.json": DE},
        shipping="en de fr",
    )
    backwards = Repo(tmp_path_factory.mktemp("backwards"))
    assert repo.write(files).audit() == backwards.write(dict(reversed(files.items()))).audit()


def test_a_form_that_the_source_has_for_nothing_is_reported_there_only(repo: Repo) -> None:
    source = {
        f"{key}_{form}": "{{count}} bunks"
        for key in ("bunk", "hut")
        for form in ("one", "many", "other")
    }
    other = {key: text.replace("bunks", "Kojen") for key, text in source.items()}
    repo.write(
        {
            "lemmar.toml": charter(shipping="en de hu"),
            "app/locales.json": '["en", "de", "hu"]',
            "app/w/en.json": json.dumps(
                source | {"snow_one": "{{count}} day", "snow_other": "{{count}} days"}
            ),
            "app/w/de.json": json.dumps(
                other
                | {
                    "snow_one": "{{count}} Tag",
                    "snow_few": "{{count}} Tage",
                    "snow_other": "{{count}} Tage",
                }
            ),
            "app/w/hu.json": json.dumps(
                other | {"snow_one": "{{count}} nap", "snow_other": "{{count}} nap"}
            ),
        }
    )
    found = [line for line in repo.found() if line.startswith("message.plural-surplus")]
    assert [line.rpartition(" ")[2] for line in found] == ["de/snow", "en/bunk", "en/hut"]


def test_who_has_translated_a_file_is_no_message(repo: Repo) -> None:
    about = '{"@metadata": {"authors": ["Ann", "Bo"]}, "a": "%s"}'
    repo.write(
        {
            "lemmar.toml": charter(),
            "app/locales.json": '["en", "de"]',
            "app/w/en.json": about % "Bunk",
            "app/w/de.json": about % "Koje",
        }
    )
    assert repo.found() == []
    repo.write({"app/w/de.json": '{"@metadata": "Worte", "a": "Koje"}'})
    assert repo.found() == ["message.surplus app/w/de.json:1:2 de/@metadata"]


def test_where_moved_files_are(repo: Repo) -> None:
    """Of a catalog all of whose files were moved, and of one file; in one finding each."""
    files = one(
        files="w/{locale}.json", catalog='  [[client.catalog]]\n  files = "y/{locale}.json"\n'
    )
    repo.write({**files, "app/v/x/en.json": EN, "app/v/x/de.json": DE})
    findings = repo.audit()["findings"]
    assert [finding["rule"] for finding in findings] == ["catalog.no-match"]
    assert "in app; 2 files of its shape are in app/v/x now" in findings[0]["message"]
    (repo.root / "app/v/x/en.json").unlink()
    findings = repo.write({"app/y/en.json": EN}).audit()["findings"]
    assert [finding["rule"] for finding in findings] == ["catalog.absent"]
    assert "its file may be app/v/x/de.json now" in findings[0]["message"]
    (repo.root / "app/y/en.json").unlink()
    (repo.root / "app/w/de.json").unlink()
    (repo.root / "app/w/en.json").unlink()
    assert "1 file of its shape is in app/v/x now" in repo.run("audit").err


def test_a_client_without_a_default(repo: Repo) -> None:
    """What it does not support nothing answers, and where a text is missing its raw key is seen."""
    repo.write(
        asked(
            {"fr": "agree"},
            {"app/w/de.json": '{"hut": "Hütte {{name}}"}'},
            more='  [client.runtime]\n  default = "none"\n',
        )
    )
    row = {
        "client": "app",
        "request": "fr",
        "landing": "nothing",
        "step": "no default",
        "consulted": [],
    }
    (found,) = repo.run("landing", "fr", "--format", "json").data["rows"]
    assert {name: found[name] for name in row} == row
    assert "it has no default, so nothing answers" in repo.run("landing", "fr", "--explain").out
    assert re.search(r"de +# bunk", repo.run("peek", "bunk").out)
    rows = repo.run("chain", "de", "--format", "json").data["rows"]
    assert [row["consulted"] for row in rows] == [["de"]]
    assert re.search(r"default +none +✓ charter", repo.run("client", "app").out)
    assert "its default is none" in repo.run("client", "app").out
