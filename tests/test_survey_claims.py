"""Where clients state their locales, as practitioners write it; and what looks like it and is none."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.survey.claims import _QUOTED, _TO_BLANKS

from .conftest import Repo
from .test_survey import TAGS, as_json

CATALOGS = {
    "c/package.json": "{}",
    **{f"c/locales/{tag}.json": as_json(tag) for tag in TAGS},
}
LIST = "['en', 'de', 'fr', 'pt-BR']"

#: A name, a file, its text, and what is claimed there.
CLAIMS: list[tuple[str, str, str, str]] = [
    (
        "gradle resConfigs",
        "c/build.gradle",
        'android {\n  defaultConfig {\n    resConfigs "en", "de", "fr", "pt-rBR"\n  }\n}\n',
        "supported",
    ),
    (
        "gradle kts",
        "c/build.gradle.kts",
        'android {\n  defaultConfig {\n    resourceConfigurations += listOf("en", "de", "fr", "pt")\n  }\n}\n',
        "supported",
    ),
    ("gradle list", "c/build.gradle", "ext.tongues = ['en', 'de', 'fr', 'pt-BR']\n", "supported"),
    (
        "cmake set",
        "c/CMakeLists.txt",
        "project(x)\nset(TONGUES\n  de\n  en fr\n  pt_BR\n)\n",
        "supported",
    ),
    (
        "cmake files",
        "c/CMakeLists.txt",
        "set(TS_FILES l/app_de.ts l/app_en.ts l/app_fr.ts l/app_pt_BR.ts)\n",
        "supported",
    ),
    (
        "qmake",
        "c/c.pro",
        "TRANSLATIONS += l/app_de.ts \\\n  l/app_en.ts \\\n  l/app_fr.ts l/app_pt_BR.ts\nSOURCES = a.cpp\n",
        "supported",
    ),
    ("linguas", "c/po/LINGUAS", "# comment\nen de\nfr pt_BR\n", "supported"),
    ("makefile", "c/Makefile", "LANGS = en de fr pt_BR\nall:\n\techo\n", "supported"),
    (
        "pbxproj",
        "c/C.xcodeproj/project.pbxproj",
        '// !$*UTF8*$!\n{ objects = { A = { isa = PBXProject; developmentRegion = en; knownRegions = ( en, Base, de, fr, "pt-BR", ); }; }; }\n',
        "supported default",
    ),
    (
        "godot",
        "c/project.godot",
        'config_version=5\n[internationalization]\nlocale/translations=PackedStringArray("res://w.en.translation", "res://w.de.translation", "res://w.fr.translation", "res://w.pt_BR.translation")\nlocale/fallback="en"\n',
        "supported default",
    ),
    (
        "ini",
        "c/app.ini",
        "[ui]\nlanguages=en,de,fr,pt-BR\ndefault_language=en\n",
        "supported default",
    ),
    ("ini ;", "c/app.ini", "[ui]\nlanguages = en;de;fr;pt-BR\n", "supported"),
    (
        "ini quoted array",
        "c/Game.ini",
        '[/Settings]\nLocales=("en","de","fr","pt-BR")\n',
        "supported",
    ),
    (
        "xml elements",
        "c/conf/game.xml",
        "<game><tongues><tongue>en</tongue><tongue>de</tongue><tongue>fr</tongue><tongue>pt-BR</tongue></tongues><fallback>en</fallback></game>",
        "supported default",
    ),
    (
        "xml attribute",
        "c/conf/langs.config",
        "<config><language code='en' name='English'/><language code='de' name='Deutsch'/><language code='fr'/><language code='pt-BR'/></config>",
        "supported",
    ),
    (
        "xml text ,",
        "c/App.props",
        "<Project><PropertyGroup><Tongues>en;de;fr;pt-BR</Tongues></PropertyGroup></Project>",
        "supported",
    ),
    (
        "startup map",
        "c/src/main.js",
        "start({ tongues: ['en','de','fr','pt-BR'], fallback: { 'pt-BR': ['en'], default: ['en'] }, defaultTongue: 'en' });\n",
        "supported chain default",
    ),
    (
        "startup map one",
        "c/src/main.js",
        "start({ supported: ['en','de','fr','pt-BR'], fallback: 'en' });\n",
        "supported default",
    ),
    (
        "repeated",
        "c/src/Main.java",
        'class Main { void go() { addTongue("en"); addTongue("de"); addTongue("fr"); addTongue("pt","BR"); other("x"); } }\n',
        "supported",
    ),
    (
        "repeated labels",
        "c/src/main.py",
        'register("en", "English")\nregister("de", "Deutsch")\nregister("fr", "Français")\nregister("pt-BR", "Português")\n',
        "supported",
    ),
    (
        "enum",
        "c/src/Tongue.cs",
        "public enum Tongue { English, German, French, Portuguese }\n",
        "supported",
    ),
    (
        "enum ts",
        "c/src/t.ts",
        "export enum Tongue { English = 'en', German = 'de', French = 'fr', Portuguese = 'pt-BR' }\n",
        "supported",
    ),
    ("split ;", "c/src/t.go", 'package t\nconst Tongues = "en;de;fr;pt-BR"\n', "supported"),
    ("split |", "c/src/t.ts", "export const tongues = 'en|de|fr|pt-BR'.split('|');\n", "supported"),
    (
        "split plain",
        "c/src/T.kt",
        'object T { const val TONGUES = "en,de,fr,pt-BR" }\n',
        "supported",
    ),
    (
        "const chain",
        "c/src/t.ts",
        "export const tongues = ['en','de','fr','pt-BR'];\nexport const next = { 'pt-BR': 'en', fr: 'en', de: 'en' };\n",
        "supported chain",
    ),
    (
        "default by name",
        "c/src/t.ts",
        "export const tongues = ['en','de','fr','pt-BR'];\nexport const sourceTongue = 'de';\nexport const defaultTongue = 'en';\n",
        "supported source default",
    ),
    (
        "default alone",
        "c/src/t.ts",
        "export const tongues = ['en','de','fr','pt-BR'];\nconst tongue = 'en';\n",
        "supported default",
    ),
    (
        "labels only",
        "c/src/t.ts",
        "export const tongues = { en: 'English', de: 'Deutsch', fr: 'Français', 'pt-BR': 'Português' };\n",
        "supported",
    ),
    (
        "rows",
        "c/src/t.ts",
        "export const tongues = [{code:'en',label:'English'},{code:'de',label:'Deutsch'},{code:'fr',label:'Français'},{code:'pt-BR',label:'Português'}];\n",
        "supported",
    ),
    ("swift", "c/src/T.swift", 'let tongues = ["en", "de", "fr", "pt-BR"]\n', "supported"),
    (
        "dart",
        "c/lib/t.dart",
        "const tongues = <Locale>[Locale('en'), Locale('de'), Locale('fr'), Locale('pt', 'BR')];\n",
        "supported",
    ),
    (
        "ruby",
        "c/config/app.rb",
        "config.i18n.available_locales = [:en, :de, :fr, :'pt-BR']\nconfig.i18n.default_locale = :en\n",
        "supported default",
    ),
    ("ruby2", "c/config/app.rb", "I18n.available_locales = %i[en de fr pt-BR]\n", "supported"),
    (
        "python",
        "c/app/settings.py",
        "LANGUAGES = [('en','English'),('de','Deutsch'),('fr','Français'),('pt-BR','Português')]\nLANGUAGE_CODE = 'en'\n",
        "supported default",
    ),
    (
        "yaml",
        "c/conf.yml",
        "site:\n  languages: [en, de, fr, pt-BR]\n  default: en\n",
        "supported default",
    ),
    (
        "toml",
        "c/conf.toml",
        "[site]\nlanguages = ['en', 'de', 'fr', 'pt-BR']\ndefault = 'en'\n",
        "supported default",
    ),
    (
        "json",
        "c/conf.json",
        '{"i18n":{"locales":["en","de","fr","pt-BR"],"defaultLocale":"en"}}',
        "supported default",
    ),
    ("lua", "c/conf.lua", 'tongues = { "en", "de", "fr", "pt-BR" }\n', "supported"),
    (
        "cpp",
        "c/src/t.cpp",
        'static const char* kTongues[] = {"en", "de", "fr", "pt-BR"};\n',
        "supported",
    ),
    ("gd", "c/t.gd", 'const TONGUES = ["en", "de", "fr", "pt_BR"]\n', "supported"),
    (
        "html select",
        "c/index.html",
        '<select><option value="en">English</option><option value="de">Deutsch</option><option value="fr">Français</option><option value="pt-BR">Português</option></select>',
        "supported",
    ),
    (
        "switch",
        "c/src/t.ts",
        "function file(t) { switch (t) { case 'en': return 1; case 'de': return 2; case 'fr': return 3; case 'pt-BR': return 4; } }\n",
        "supported",
    ),
    (
        "php",
        "c/src/t.php",
        "<?php const TONGUES = ['en', 'de', 'fr', 'pt-BR'];\ndefine('DEFAULT_TONGUE', 'en');\n",
        "supported",
    ),
]

OTHER_LISTS: list[tuple[str, str, str]] = [
    ("countries", "c/src/t.ts", "export const countries = ['DE','FR','BR','US'];\n"),
    ("countries low", "c/src/countries.ts", "export const all = ['de','fr','br','us','en'];\n"),
    (
        "currencies",
        "c/src/t.ts",
        "export const currencies = {en:'USD',de:'EUR',fr:'EUR','pt-BR':'BRL'};\n",
    ),
    ("voices", "c/src/t.ts", "export const voices = ['en','de','fr','pt-BR'];\n"),
    ("speech", "c/src/speech.ts", "export const tongues = ['en','de','fr','pt-BR'];\n"),
    ("keyboards", "c/src/t.ts", "export const keyboardLayouts = ['en','de','fr','pt-BR'];\n"),
    ("rtl", "c/src/t.ts", "const rtlTongues = ['en','de','fr','pt-BR'];\n"),
    ("test", "c/tests/t.ts", "export const tongues = ['en','de','fr','pt-BR'];\n"),
    ("spec", "c/src/t.test.ts", "export const tongues = ['en','de','fr','pt-BR'];\n"),
    (
        "validates",
        "c/app/m.rb",
        "validates :level, inclusion: %w[low mid high]\nvalidates :tongue, inclusion: %w[en de fr pt-BR]\n",
    ),
    ("map tiles", "c/src/t.ts", "export const tileTongues = ['en','de','fr','pt-BR'];\n"),
    ("licences", "c/src/licenses.json", '{"en":"MIT","de":"MIT","fr":"MIT","pt-BR":"MIT"}'),
    ("picker in catalog", "c/locales/extra/x.json", '{"a":1}'),
    ("countries yaml", "c/conf/regions.yml", "countries: [de, fr, br, us, en]\n"),
    ("wiki", "c/src/wiki.ts", "export const editions = ['en','de','fr','pt'];\n"),
    ("plural", "c/src/plurals.ts", "export const rules = {en: 1, de: 1, fr: 2, 'pt-BR': 2};\n"),
    ("changelog", "c/CHANGELOG.yml", "changes: [en, de, fr, pt-BR]\n"),
    ("stopwords", "c/src/stopwords.py", "LANGS = ['en','de','fr','pt']\n"),
    ("phone", "c/src/t.ts", "export const phoneFormats = {en:'a',de:'b',fr:'c','pt-BR':'d'};\n"),
    ("variable names", "c/src/t.ts", "const [en, de, fr] = f();\n g('a','en');\n"),
]


def claimed(repo: Repo, files: dict[str, str]) -> list[dict[str, Any]]:
    ran = repo.write({**CATALOGS, **files}).run("survey", "--format", "json")
    assert ran.code == 0, ran.err
    rows: list[dict[str, Any]] = [row for row in ran.data["rows"] if row["what"] == "claim"]
    return [row for row in rows if not row["where"].startswith("c/locales/")]


@pytest.mark.parametrize(
    ("file", "text", "states"), [pytest.param(*row[1:], id=row[0]) for row in CLAIMS]
)
def test_claims_are_found_and_read_back(repo: Repo, file: str, text: str, states: str) -> None:
    """What the survey writes down is what the audit then reads: nothing is split, unread or misspelt."""
    rows = claimed(repo, {file: text})
    assert sorted(row["states"] for row in rows) == sorted(states.split())
    assert all(row["where"].startswith(f"{file}:") for row in rows)
    assert repo.run("survey", "--write").code == 0
    found = [line for line in repo.found() if line.startswith(("tag.", "roster."))]
    assert [line for line in found if "roster.absent" not in line or " pt-BR" not in line] == []


@pytest.mark.parametrize(
    ("file", "text"), [pytest.param(*row[1:], id=row[0]) for row in OTHER_LISTS]
)
def test_other_lists_are_none(repo: Repo, file: str, text: str) -> None:
    assert claimed(repo, {file: text}) == []


def test_copied_libraries_claim_nothing(repo: Repo) -> None:
    library = {"c/libs/x/LICENSE": "", "c/libs/x/words.js": f"export const tongues = {LIST};\n"}
    assert claimed(repo, library) == []
    assert claimed(repo, {"c/own/words.js": f"export const tongues = {LIST};\n"})


def test_a_call_that_is_made_for_other_things_too_is_no_claim(repo: Repo) -> None:
    calls = "".join(f"add('{tag}');\n" for tag in TAGS)
    assert [row["states"] for row in claimed(repo, {"c/a.js": calls})] == ["supported"]
    assert claimed(repo, {"c/a.js": calls + "add('a name');\n"}) == []


def test_the_source_does_not_shadow_the_default(repo: Repo) -> None:
    code = f"export const tongues = {LIST};\nconst sourceTongue = 'de';\nconst homeTongue = 'en';\n"
    rows = {row["states"]: row["locales"] for row in claimed(repo, {"c/a.ts": code})}
    assert (rows["source"], rows["default"]) == ("de", "en")


def test_the_only_locale_beside_a_list_is_asked(repo: Repo) -> None:
    code = f"export const tongues = {LIST};\nconst tongue = 'en';\n"
    rows = claimed(repo, {"c/a.ts": code})
    assert [row["states"] for row in rows] == ["supported", "default"]
    questions = repo.run("survey").out
    assert "is this the locale that users get of whom nothing else is known?" in questions


def test_a_new_list_is_news_and_nothing_else_is(repo: Repo) -> None:
    repo.write({**CATALOGS, "c/a.ts": f"export const tongues = {LIST};\n"})
    assert repo.run("survey", "--write").code == 0
    assert "the charter has everything that the survey finds" in repo.run("survey").out
    assert repo.run("survey", "--check").code == 0
    repo.write({"c/pick.json": json.dumps({"menu": [{"tag": tag} for tag in TAGS]})})
    ran = repo.run("survey", "--check")
    assert ran.code == 1
    assert "c/pick.json:1" in ran.out and "offers 4 locales" in ran.out
    repo.write({"c/pick.json": '["en", "de", "fr"]'})
    assert "offers 3 locales" in repo.run("survey", "--check").out, "a new list that is not whole"
    (repo.root / "c/pick.json").unlink()
    repo.write({"c/a.ts": "export const others = 1;\n"})
    assert repo.run("survey", "--check").code == 1, "a claim that is gone"


@given(
    st.lists(
        st.sampled_from(
            [b"de", b"pt-BR", b"en_US", b'"', b"'", b" ", b",", b":", b"x", b"\n", b"|", b"\xc3"]
        )
    ).map(b"".join)
)
def test_the_cheap_look_at_code_sees_all_that_stands_in_it_as_literals(data: bytes) -> None:
    assert set(_QUOTED.findall(data)) <= set(data.translate(_TO_BLANKS).split())
