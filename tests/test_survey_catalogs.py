"""Every file that a person would call a catalog ends in a catalog, is set aside with the reason, or is a question; and what looks like one."""

from __future__ import annotations

import json
from typing import Any

import pytest

from lemmar.charter.reading import parse
from lemmar.formats import Column, Keys
from lemmar.inventory import gather
from lemmar.inventory.aside import is_spare
from lemmar.inventory.readings import Readings
from lemmar.survey.contents import is_pseudo
from lemmar.survey.paths import slots
from lemmar.survey.syntaxes import unknown_form
from lemmar.trees.folder import FolderTree

from .conftest import Repo
from .test_survey import (
    OTHERS,
    TAGS,
    Files,
    as_android,
    as_json,
    as_php,
    as_po,
    as_resx,
    as_strings,
    as_xliff,
    texts,
)


def reported(repo: Repo) -> list[str]:
    """The findings, but for what a draft can only assume."""
    return [
        line for line in repo.found() if not line.startswith(("chain.unstated", "roster.unstated"))
    ]


def column_of(texts_: list[str]) -> Column:
    """A column with those texts under keys of numbers."""
    return Column(None, Keys(map(str, range(len(texts_)))), tuple(texts_))


def as_text(value: Any) -> str:
    return json.dumps(value, ensure_ascii=False)


def others(tag: str) -> dict[str, str]:
    return {
        f"k{number}": f"{word} {tag}" for number, word in enumerate(("ash", "oak", "elm", "fir"))
    }


def as_labels(tag: str) -> str:
    rows = "".join(f"$labels['{key}'] = '{text}';\n" for key, text in texts(tag).items())
    return f"<?php\n$labels = array();\n{rows}"


def as_xliff_2(tag: str) -> str:
    units = "".join(
        f'<unit id="{key}"><segment><source>{texts("en")[key]}</source><target>{text}</target></segment></unit>'
        for key, text in texts(tag).items()
    )
    return f'<xliff version="2.0" srcLang="en" trgLang="{tag}"><file id="a">{units}</file></xliff>'


def in_words(tag: str) -> str:
    return dict(zip(TAGS, ("english", "german", "french", "portuguese"), strict=True))[tag]


def disguised(text: str) -> str:
    return f"[[{text.translate(str.maketrans('aeiouEoSWB', 'áéíóúÉöŞŴƁ'))} ~~~]]"


WEB: Files = {"s/package.json": "{}"}
GAME: Files = {"g/project.godot": ""}
PLAIN = {f"s/locales/{tag}.json": as_json(tag) for tag in TAGS}

#: A monorepo; its catalogs as client and pattern with settings that must be there; the findings of its first audit.
CASES: list[tuple[str, Files, list[str], list[str]]] = [
    (
        "two catalogs in one folder",
        {
            **WEB,
            **{f"s/l/{tag}.json": as_json(tag) for tag in TAGS},
            **{f"s/l/sensor.{tag}.json": as_text(others(tag)) for tag in TAGS},
        },
        ["s l/sensor.{locale}.json", 's l/{locale}.json | except = ["l/sensor.*.json"]'],
        [],
    ),
    (
        "names with a region, and packed neighbours",
        {
            **WEB,
            "s/lang/english.json": as_json("en"),
            "s/lang/german.json": as_json("de"),
            "s/lang/portuguese-br.json": as_json("pt-BR"),
            "s/lang/german.min.json": as_json("de"),
        },
        [
            's lang/{locale}.json | spelling = "name" | spelled = { portuguese-br = "pt-BR" }'
            ' | except = ["lang/*.min.json"]'
        ],
        [],
    ),
    (
        "a manifest in the folder of each locale",
        {
            **WEB,
            **{f"s/locales/{tag}/index.json": as_json(tag) for tag in TAGS},
            **{f"s/locales/{tag}/package.json": '{"name": "x"}' for tag in TAGS},
        },
        ["s locales/{locale}/index.json"],
        [],
    ),
    (
        "keys that are texts, of which English spells a few in another way",
        {
            **WEB,
            "s/locales/en.json": as_text({"Colour of the hut": "Color of the hut"}),
            **{
                f"s/locales/{tag}.json": as_text(
                    {f"{text} here": f"{tag} {text}" for text in others(tag)}
                    | {"Colour of the hut": f"{tag} colour"}
                )
                for tag in TAGS
                if tag != "en"
            },
        },
        ['s locales/{locale}.json | source-text = "key"'],
        [],
    ),
    (
        "two catalogs, a sign that tags have as well",
        {
            **WEB,
            **{f"s/l/{tag}.json": as_json(tag) for tag in TAGS},
            **{f"s/l/sensor_{tag}.json": as_text(others(tag)) for tag in TAGS},
        },
        ["s l/sensor_{locale}.json", 's l/{locale}.json | except = ["l/sensor_*.json"]'],
        [],
    ),
    (
        "a list of languages among catalogs",
        {
            **WEB,
            **PLAIN,
            "s/locales/languages.json": as_text({tag: in_words(tag) for tag in TAGS}),
        },
        ['s locales/{locale}.json | except = ["locales/languages.json"]'],
        [],
    ),
    (
        "folders named in words",
        {
            "a/App/Info.plist": "<plist/>",
            "a/App/English.lproj/T.strings": as_strings("en"),
            "a/App/German.lproj/T.strings": as_strings("de"),
            "a/App/fr.lproj/T.strings": as_strings("fr"),
        },
        ["a App/{locale}.lproj/T.strings"],
        [],
    ),
    (
        "files named in words",
        {
            **WEB,
            "s/lang/english.json": as_json("en"),
            "s/lang/german.json": as_json("de"),
            "s/lang/brazilian_portuguese.json": as_json("pt-BR"),
        },
        ['s lang/{locale}.json | spelling = "name"'],
        [],
    ),
    (
        "PHP under another suffix, filled line by line",
        {"s/composer.json": "{}", **{f"s/lang/{tag}.inc": as_labels(tag) for tag in TAGS}},
        ["s lang/{locale}.inc"],
        [],
    ),
    (
        "PHP under another suffix, returned",
        {"s/composer.json": "{}", **{f"s/lang/{tag}.lang": as_php(tag) for tag in TAGS}},
        ["s lang/{locale}.lang"],
        [],
    ),
    (
        "JSON under another suffix",
        {**WEB, **{f"s/strings/{tag}/all.resjson": as_json(tag) for tag in TAGS}},
        ["s strings/{locale}/all.resjson"],
        [],
    ),
    (
        "the locale in folder and file",
        {
            "a/AndroidManifest.xml": "<manifest/>",
            "a/res/values/strings.xml": as_android("en"),
            **{f"a/res/values-{tag}/strings_{tag}.xml": as_android(tag) for tag in ("de", "fr")},
        },
        ["a res/values[-{locale}]/strings[_{locale}].xml"],
        [],
    ),
    (
        "unmarked resources beside variants of their own language",
        {
            "a/src/main/AndroidManifest.xml": "<manifest/>",
            "a/src/main/res/values/strings.xml": as_android("en"),
            "a/src/main/res/values-en/strings.xml": as_android("en"),
            "a/src/main/res/values-en-rGB/strings.xml": '<resources><string name="stove">Cooker</string></resources>',
            "a/src/main/res/values-de/strings.xml": as_android("de"),
            "a/src/main/res/values-night/strings.xml": as_android("en"),
        },
        ["a src/main/res/values[-{locale}]/strings.xml"],
        [],
    ),
    (
        "catalogs of one client with different locales",
        {
            **WEB,
            **PLAIN,
            **{f"s/extra/locales/{tag}.json": as_text(others(tag)) for tag in TAGS[:2]},
        },
        ["s extra/locales/{locale}.json | without = { fr", "s locales/{locale}.json"],
        [],
    ),
    (
        "key, locale, text",
        {
            **WEB,
            "s/src/words.json": as_text(
                {key: {tag: texts(tag)[key] for tag in TAGS} for key in texts("en")}
            ),
        },
        ['s src/words.json | layout = "locale-leaved"'],
        [],
    ),
    (
        "key, name of a language, text",
        {
            **WEB,
            "s/src/words.json": as_text(
                {key: {in_words(tag): texts(tag)[key] for tag in TAGS} for key in texts("en")}
            ),
        },
        ['s src/words.json | layout = "locale-leaved" | spelling = "name"'],
        [],
    ),
    (
        "spare copies",
        {
            **WEB,
            **PLAIN,
            "s/locales/de.orig.json": as_json("de"),
            "s/locales/de.json.bak": as_json("de"),
            "s/locales/copy of de.json": as_json("de"),
        },
        [
            's locales/{locale}.json | except = ["locales/copy of de.json", "locales/de.orig.json"]',
        ],
        [],
    ),
    (
        "names without a sign",
        {
            **WEB,
            **{
                f"s/src/lang/{name}.js": f"export default {as_json(tag)}"
                for name, tag in zip(("enUS", "deDE", "frFR", "ptBR"), TAGS, strict=True)
            },
        },
        ['s src/lang/{locale}.js | spelled = { deDE = "de-DE"'],
        [],
    ),
    (
        "maps wrapped in calls, and one handed on",
        {
            **WEB,
            **{f"s/src/lang/{tag}.js": f"export default define({as_json(tag)})" for tag in TAGS},
            "s/src/lang/pt.js": "export { default } from './pt-BR.js'",
        },
        ["s src/lang/{locale}.js"],
        [],
    ),
    (
        "one module for all",
        {
            **WEB,
            "s/src/translations.ts": f"export const words = {as_text({tag: texts(tag) for tag in TAGS})}",
        },
        ['s src/translations.ts | layout = "locale-rooted"'],
        [],
    ),
    (
        "numbered records, named in another file",
        {
            **GAME,
            **{
                f"g/data/words_{tag}.json": as_text(
                    [
                        {"id": 1000 + number, "text": text}
                        for number, text in enumerate(texts(tag).values())
                    ]
                )
                for tag in TAGS
            },
            "g/data/ids.json": as_text(
                {key: 1000 + number for number, key in enumerate(texts("en"))}
            ),
        },
        ['g data/words_{locale}.json | layout = "records" | names = "data/ids.json"'],
        [],
    ),
    (
        "records of all locales",
        {
            **GAME,
            "g/data/words.json": as_text(
                [
                    {"id": key, "lang": tag, "text": text}
                    for tag in TAGS
                    for key, text in texts(tag).items()
                ]
            ),
        },
        ['g data/words.json | layout = "records" | locale = "lang"'],
        [],
    ),
    (
        "two versions of one format",
        {
            "w/package.json": "{}",
            **{f"w/one/messages.{tag}.xlf": as_xliff(tag) for tag in OTHERS},
            **{f"w/two/messages.{tag}.xlf": as_xliff_2(tag) for tag in OTHERS},
        },
        ["w one/messages.{locale}.xlf"],
        [],
    ),
    (
        "a country's code for a language",
        {
            "w/package.json": "{}",
            **{f"w/lang/{tag}.json": as_json(tag) for tag in TAGS},
            "w/lang/ua.json": as_text({"stove": "Піч", "water": "Вода", "bunk": "Місце"}),
        },
        ["w lang/{locale}.json"],
        ["tag.region-as-language"],
    ),
    (
        "placeholders of an unknown form",
        {
            **GAME,
            **{
                f"g/lang/{tag}.json": as_text(
                    {
                        "a": f"^who^ wins {tag}",
                        "b": f"Turn ^turn^ of ^most^ {tag}",
                        "c": f"^who^ {tag}",
                    }
                )
                for tag in TAGS
            },
        },
        ['g lang/{locale}.json | syntax = "caret"'],
        [],
    ),
    (
        "Indonesian and Norwegian beside keys",
        {
            **GAME,
            "g/words.csv": "key,en,de,id,no\nstove,Stove,Ofen,Kompor,Ovn\nwater,Water,Wasser,Air,Vann\n",
        },
        ['g words.csv | columns = { key = "key" }'],
        [],
    ),
    (
        "languages in a sheet's header by name",
        {
            **GAME,
            "g/words.csv": "Key,Comment,English,German\n"
            + "".join(f"{key},,{texts('en')[key]},{texts('de')[key]}\n" for key in texts("en")),
        },
        ['g words.csv | spelling = "name" | description = "Comment"'],
        [],
    ),
    (
        "the source under a name of its own",
        {
            **WEB,
            "s/locales/base.json": as_json("en"),
            **{f"s/locales/{tag}.json": as_json(tag) for tag in OTHERS},
        },
        ['s locales/{locale}.json | spelled = { base = "en" }'],
        [],
    ),
    (
        "keys that are the source's texts",
        {
            **WEB,
            **{
                f"s/lang/{tag}.json": as_text(
                    {"All huts": f"{tag} a", "A free bunk": f"{tag} b", "Stove": f"{tag} c"}
                )
                for tag in (*OTHERS, "en-GB")
            },
        },
        ['s lang/{locale}.json | source-text = "key"'],
        [],
    ),
    (
        "a regional variant beside the source",
        {**WEB, **PLAIN, "s/locales/en-GB.json": as_text({"stove": "Cooker"})},
        ["s locales/{locale}.json"],
        [],
    ),
    (
        "a template without a locale, and a list of PO files",
        {
            "x/configure.ac": "",
            "x/po/x.pot": as_po("en"),
            **{f"x/po/{tag.replace('-', '_')}.po": as_po(tag) for tag in OTHERS},
        },
        ['x po/{locale}.po | spelling = "posix"'],
        [],
    ),
    (
        "one layout in each package of a client",
        {
            "s/manage.py": "",
            **{
                f"s/{part}/locale/{tag.replace('-', '_')}/LC_MESSAGES/all.po": as_po(tag)
                for tag in OTHERS
                for part in ("hut", "bunk", "stay")
            },
        },
        ["s {part}/locale/{locale}/LC_MESSAGES/all.po"],
        [],
    ),
    (
        "one layout in each of several clients",
        {
            **{f"clients/{name}/package.json": "{}" for name in "abc"},
            **{f"clients/{name}/l/{tag}.json": as_json(tag) for name in "abc" for tag in TAGS},
        },
        [f"{name} l/{{locale}}.json" for name in "abc"],
        [],
    ),
    (
        "a client around another one",
        {
            "package.json": "{}",
            **{f"words/{tag}.json": as_json(tag) for tag in TAGS},
            "apps/a/package.json": "{}",
            **{f"apps/a/l/{tag}.json": as_json(tag) for tag in TAGS},
        },
        ["a l/{locale}.json", "words {locale}.json"],
        [],
    ),
    (
        "underscores throughout",
        {
            **WEB,
            **{f"s/locales/{tag.replace('-', '_')}.json": as_json(tag) for tag in TAGS},
            "s/src/i18n.js": "export const tongues = ['en', 'de', 'fr', 'pt_BR'];",
        },
        ['s locales/{locale}.json | spelling = "posix"'],
        [],
    ),
]


def surveyed(repo: Repo, files: Files) -> tuple[list[dict[str, Any]], str]:
    """The rows of a survey, and the charter that it writes."""
    ran = repo.write(dict(files)).run("survey", "--format", "json")
    assert ran.code == 0, ran.err
    assert repo.run("survey", "--write").code == 0
    return ran.data["rows"], (repo.root / "lemmar.toml").read_text(encoding="utf-8")


@pytest.mark.parametrize(
    ("files", "catalogs", "findings"), [pytest.param(*case[1:], id=case[0]) for case in CASES]
)
def test_catalogs(repo: Repo, files: Files, catalogs: list[str], findings: list[str]) -> None:
    rows, written = surveyed(repo, files)
    found = [f"{row['client']} {row['where']}" for row in rows if row["what"] == "catalog"]
    assert found == [line.split(" | ")[0] for line in catalogs]
    plain = " ".join(written.split())
    for line in catalogs:
        for setting in line.split(" | ")[1:]:
            assert setting in plain, written
    assert sorted({line.split()[0] for line in reported(repo)}) == findings
    assert repo.run("survey", "--check", "--format", "json").data["rows"] == []


@pytest.mark.parametrize("files", [pytest.param(case[1], id=case[0]) for case in CASES])
def test_no_file_is_lost(repo: Repo, files: Files) -> None:
    """Of all files that are catalogs, none is left without a word: patterns match it, except it, set it aside, or a question names it."""
    rows, written = surveyed(repo, files)
    assert "the charter has everything that the survey finds" in repo.run("survey").out
    assert not any("roster.uncharted" in line for line in reported(repo))
    assert len([row for row in rows if row["what"] == "question"]) == written.count("# ? ")


ASIDE: list[tuple[str, Files, str]] = [
    (
        "packed",
        {"s/lang/bundle.js": "var t={en:{a:1},de:{a:2}};" + "f();" * 8_000},
        "code that a build has packed",
    ),
    (
        "fetched",
        {f"s/third_party/x/i18n/{tag}.json": as_json(tag) for tag in TAGS},
        "fetched libraries",
    ),
    (
        "copied",
        {
            "s/libs/picker/LICENSE": "",
            **{f"s/libs/picker/i18n/{tag}.json": as_text(others(tag)) for tag in TAGS},
        },
        "a copied library: it has a LICENSE of its own",
    ),
    (
        "packed",
        {
            "s/libs/picker/picker.min.js": "",
            **{f"s/libs/picker/i18n/{tag}.json": as_text(others(tag)) for tag in TAGS},
        },
        "a copied library: it has packed files of its own",
    ),
    (
        "built",
        {f"s/dist/locales/{tag}.json": as_json(tag) for tag in TAGS},
        "made by a build, as s/locales has the same",
    ),
    ("tests", {f"s/tests/locales/{tag}.json": as_json(tag) for tag in TAGS}, "test data"),
    (
        "manual",
        {f"s/docs/i18n/{tag}.json": as_json(tag) for tag in TAGS},
        "documentation and examples",
    ),
]


@pytest.mark.parametrize(("more", "reason"), [pytest.param(*row[1:], id=row[0]) for row in ASIDE])
def test_what_is_no_clients_own_is_set_aside_with_the_reason(
    repo: Repo, more: Files, reason: str
) -> None:
    rows, written = surveyed(repo, {**WEB, **PLAIN, **more})
    assert [row["states"] for row in rows if row["what"] == "set aside"] == [None]
    assert [row["locales"] for row in rows if row["what"] == "set aside"] == [reason]
    assert f"# {reason}" in written
    assert reported(repo) == []


def test_what_only_looks_like_it_is_kept(repo: Repo) -> None:
    """Own code lies in `libs` as well, and a build's folder may hold all that there is."""
    own = {
        "s/libs/ui/package.json": "{}",
        **{f"s/libs/ui/i18n/{tag}.json": as_text(others(tag)) for tag in TAGS},
    }
    rows, _ = surveyed(
        repo,
        {
            "s/package.json": "{}",
            **own,
            **{f"t/dist/locales/{tag}.json": as_json(tag) for tag in TAGS},
        },
    )
    assert not [row for row in rows if row["what"] == "set aside"]
    assert len([row for row in rows if row["what"] == "catalog"]) == 2


def test_test_locales_are_known_by_their_texts(repo: Repo) -> None:
    strange = {key: disguised(text) for key, text in texts("en").items()}
    files = {
        **WEB,
        **PLAIN,
        "s/locales/eo.json": as_text(strange),
        "s/locales/en-XA.json": as_json("en"),
    }
    _, written = surveyed(repo, files)
    assert 'pseudo   = ["en-XA", "eo"]' in written
    assert 'shipping = ["en", "de", "fr", "pt-BR"]' in written
    assert reported(repo) == []


@pytest.mark.parametrize(
    ("texts_", "expected"),
    [
        (["Šţöṽé", "Ŵáţéŕ", "Ɓúñķ"], True),
        (["[Stove one]", "[Water one]", "[Bunk one]"], True),
        (["Stoovee", "Waateer", "Buunk"], True),
        (["evotS", "retaW", "knuB"], True),
        (["\u202eStove\u202c", "\u202eWater\u202c", "\u202eBunk\u202c"], True),
        (["Ofen", "Wasser", "Lager"], False),
        (["Stove", "Water", "Bunk"], False),
        (["Stove (m)", "Wasser", "Lager"], False),
    ],
)
def test_disguise(texts_: list[str], expected: bool) -> None:
    assert is_pseudo(column_of(texts_), column_of(["Stove", "Water", "Bunk"])) is expected


@pytest.mark.parametrize(
    ("held", "name"),
    [
        (["%turn% of 3", "%turn%", "by %who%"], None),  # a syntax that is known
        (["#name# went", "#name#", "#n# left"], "hash"),
        (["<0> left", "<1>", "by <0>"], "angle-number"),
        (["<0>all</0> left", "<1>x</1>", "by <0>y</0>"], None),
        (["{n} of 3", "{n}", "by {who}"], None),
        (["50% off", "5 % or 6 %", "100%"], None),
        (["https://a.b/%D1%88%D0", "https://a.b/%D1%88", "https://a.b/%D2%88"], None),
        (["%turn%", "no", "others"], None),
    ],
)
def test_forms_of_placeholders_that_no_syntax_has(held: list[str], name: str | None) -> None:
    found = unknown_form(held)
    assert (found.name if found else None) == name


@pytest.mark.parametrize(
    ("file", "expected"),
    [
        ("de.orig.json", True),
        ("de.bak.json", True),
        ("copy of de.json", True),
        ("de - Copy.json", True),
        ("de copy 2.json", True),
        ("de (1).json", True),
        ("de.json", False),
        ("original_de.json", True),
        ("copyright.de.json", False),
        ("older.de.json", False),
    ],
)
def test_spare_copies(file: str, expected: bool) -> None:
    assert is_spare(file) is expected


@pytest.mark.parametrize(
    ("file", "template", "tag"),
    [
        ("l/de.json", "{locale}.json", "de"),
        ("l/messages_pt_BR.properties", "messages_{locale}.properties", "pt-BR"),
        ("l/de/de.json", "{locale}/{locale}.json", "de"),
        ("res/values-b+sr+Latn/s.xml", "values[-{locale}]/s.xml", "sr-Latn"),
        ("German.lproj/T.strings", "{locale}.lproj/T.strings", "de"),
        ("l/zhHantTW.ts", "{locale}.ts", "zh-Hant-TW"),
        ("l/simplified-chinese.json", "{locale}.json", "zh-Hans"),
        ("res/values-night/s.xml", None, None),
        ("l/common.json", None, None),
    ],
)
def test_where_a_locale_stands_in_a_path(file: str, template: str | None, tag: str | None) -> None:
    found = [(slot.template, str(slot.tag)) for slot in slots(file) if slot.kind != "rare"]
    assert (found[0] if found else (None, None)) == (template, tag)


SOURCES: list[tuple[str, Files, str, str | None]] = [
    ("stated by the files", {"w/p.json": "", **{f"w/i18n/m.{tag}.xlf": as_xliff(tag).replace('source-language="en"', 'source-language="it"') for tag in OTHERS}}, "it", None),
    ("stated by the project", {"d/D.csproj": "<Project><NeutralLanguage>de</NeutralLanguage></Project>", "d/T.resx": as_resx("de"), "d/T.en.resx": as_resx("en"), "d/T.fr.resx": as_resx("fr")}, "de", None),
    ("the unmarked file", {"d/D.csproj": "<Project/>", "d/T.resx": as_resx("en"), "d/T.en-GB.resx": as_resx("en"), "d/T.fr.resx": as_resx("fr")}, "en", None),
    ("named as a template", {"a/pubspec.yaml": "name: a", "a/l10n.yaml": "arb-dir: l\ntemplate-arb-file: app_fr.arb\n", **{f"a/l/app_{tag}.arb": as_json(tag) for tag in ("en", "de", "fr")}}, "fr", None),
    ("a whole variant, no plain one", {"s/package.json": "{}", **{f"s/l/{tag}.json": as_json(tag if tag != "en-US" else "en") for tag in ("en-US", *OTHERS)}}, "en-US", None),
    ("no English", {"s/package.json": "{}", **{f"s/l/{tag}.json": as_json(tag) for tag in OTHERS}}, "de", "There is no English"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("files", "source", "doubt"), [pytest.param(*row[1:], id=row[0]) for row in SOURCES]
)
def test_the_source(repo: Repo, files: Files, source: str, doubt: str | None) -> None:
    rows, written = surveyed(repo, files)
    assert f'source  = "{source}"' in written
    questions = [row["locales"] for row in rows if row["what"] == "question"]
    assert any("There is no English" in question for question in questions) == bool(doubt)


def test_each_client_has_its_own_source(repo: Repo) -> None:
    files = {
        "web/package.json": "{}",
        **{f"web/l/{tag}.json": as_json("en" if tag == "en-US" else tag) for tag in ("en-US", *OTHERS)},
        "lib/composer.json": "{}",
        **{f"lib/l/{tag}.json": as_json("en" if tag == "en-CH" else tag) for tag in ("en-CH", *OTHERS)},
        "app/pubspec.yaml": "name: app",
        **{f"app/l/app_{tag.replace('-', '_')}.arb": as_json(tag) for tag in TAGS},
    }  # fmt: skip
    _, written = surveyed(repo, files)
    assert 'shipping = ["en", "de", "fr", "pt-BR"]' in written
    assert written.count('source   = "en-CH"') == 1 and written.count("source ") == 2
    assert reported(repo) == []


def shared(texts_: dict[str, str], share: float) -> str:
    """A catalog of twenty messages of which a *share* is there."""
    return as_text(
        {f"k{number}": f"{texts_['stove']} {number}" for number in range(round(20 * share))}
    )


def test_what_clients_claim_ships_and_a_gap_is_a_finding(repo: Repo) -> None:
    """A locale that is there and half empty stays on the roster; one that most clients hardly have is on trial, by the median."""
    files: dict[str, str] = {}
    for name, german, french in (("a", 1.0, 0.4), ("b", 0.9, 0.3), ("c", 0.3, 0.1)):
        files[f"{name}/package.json"] = "{}"
        for tag, share in (("en", 1.0), ("de", german), ("fr", french)):
            files[f"{name}/l/{tag}.json"] = shared(texts(tag), share)
    _, written = surveyed(repo, files)
    assert 'shipping = ["en", "de"]' in written
    assert "trial    = { fr = 0.30 }" in written
    assert written.count("trial    = { fr = 0.10 }") == 1
    assert {line.split()[0] for line in reported(repo)} == {"message.missing"}
    repo.write({"c/l/fr.json": shared(texts("fr"), 0.05)})
    assert any("catalog.below-threshold c/l/fr.json" in line for line in reported(repo))


def test_chains_and_requests_are_drawn_up_where_clients_agree(repo: Repo) -> None:
    tags = ("en", "de", "de-AT", "pt-BR")
    files = {
        f"{name}/l/{tag}.json": as_json(tag if tag in TAGS else "de")
        for name in "ab"
        for tag in tags
    }
    _, written = surveyed(repo, {**files, "a/package.json": "{}", "b/package.json": "{}"})
    assert 'de-AT = ["de", "en"]' in written
    assert "# ? what should pt get?" not in written
    assert reported(repo) == []


def test_requests_on_which_clients_differ_are_asked(repo: Repo) -> None:
    files: dict[str, str] = {
        "a/package.json": "{}",
        "m/src/main/AndroidManifest.xml": "<manifest/>",
    }
    for tag in ("en", "pt-BR"):
        files[f"a/l/{tag}.json"] = as_json(tag)
        folder = "values" if tag == "en" else "values-pt-rBR"
        files[f"m/src/main/res/{folder}/strings.xml"] = as_android(tag)
    rows, written = surveyed(repo, files)
    asked = [
        row["locales"] for row in rows if row["what"] == "question" and row["where"] == "[audience]"
    ]
    assert asked == ["what should pt get? Today: en in a; pt-BR in m"]
    assert '# pt = "agree"' in written


def test_what_is_read_once_is_what_is_read_again(repo: Repo) -> None:
    """The survey keeps its readings for the trial of its charter: with them and without, a client holds the same."""
    for _, files, _, _ in CASES:
        folder = Repo(repo.root / str(len(list(repo.root.iterdir()))))
        folder.root.mkdir()
        _, written = surveyed(folder, files)
        tree = FolderTree(folder.root)
        charter, _ = parse(written.encode(), "lemmar.toml")
        readings = Readings()
        first = gather(charter, tree, readings)
        again, plain = gather(charter, tree, readings), gather(charter, tree)
        for one in (first, again):
            assert [client.found for client in one.clients] == [
                client.found for client in plain.clients
            ]


def test_keys_that_are_notes_for_translators_are_no_messages(repo: Repo) -> None:
    """Beside each message of the source stands one of its description, which nobody translates."""
    noted = texts("en") | {f"{key}___DESCRIPTION": "what it is" for key in texts("en")}
    files = {**WEB, **PLAIN, "s/locales/en.json": as_text(noted)}
    _, written = surveyed(repo, files)
    assert 'source-only-keys = ["*___DESCRIPTION"]' in written
    assert reported(repo) == []
    few = texts("en") | {"stove_hint": "what it is"}
    repo.write({"s/locales/en.json": as_text(few)})
    (repo.root / "lemmar.toml").unlink()
    assert "source-only-keys" not in surveyed(repo, {})[1]


def test_what_a_client_calls_a_beta_is_on_trial(repo: Repo) -> None:
    code = (
        "export const tongues = ['en', 'de', 'fr', 'pt-BR'];\nexport const betaTongues = ['fr'];\n"
    )
    _, written = surveyed(repo, {**WEB, **PLAIN, "s/src/tongues.ts": code})
    assert 'shipping = ["en", "de", "pt-BR"]' in written
    assert "trial    = { fr = 1.00 }" in written
    assert reported(repo) == []


def test_how_far_a_survey_is_goes_to_standard_error(repo: Repo) -> None:
    repo.write({**WEB, **PLAIN})
    plain, loud = repo.run("survey"), repo.run("survey", "-v")
    assert plain.err == "" and plain.out == loud.out
    assert "looking for catalogs in 5 files\nlooking for claims in s (1 of 1)\n" in loud.err


def test_a_folder_that_is_no_locale_and_holds_the_parts_of_one_is_audited(repo: Repo) -> None:
    """What is called by a region's code is a fault that the audit tells, not an exception."""
    parts = ("bunk", "door", "hut", "lamp", "trail")
    _, written = surveyed(
        repo,
        {
            f"a/words/{tag}/{part}.json": as_text(
                {f"{part}.{number}": f"{part} {number} {tag}" for number in range(3)}
            )
            for tag in ("en", "de", "cn")
            for part in parts
        }
        | {"a/package.json": "{}"},
    )
    assert "except" not in written
    assert [line.split()[0] for line in reported(repo)] == ["tag.region-as-language"]
