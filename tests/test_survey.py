"""The survey: what practitioners' monorepos look like, what is drawn up for each, and what must not be made of what is none."""

from __future__ import annotations

import csv
import io
import json
import os
import tomllib
from collections.abc import Mapping
from typing import Any

import pytest

from lemmar.demo import monorepo_files

from .conftest import Repo

Files = Mapping[str, Any]
WORDS = {
    "en": ("Stove", "Water", "Bunk"),
    "de": ("Ofen", "Wasser", "Lager"),
    "fr": ("Poêle", "Eau", "Lit"),
    "pt-BR": ("Fogão", "Água", "Beliche"),
}
TAGS = tuple(WORDS)


def texts(tag: str) -> dict[str, str]:
    return dict(zip(("stove", "water", "bunk"), WORDS[tag], strict=True))


def as_json(tag: str) -> str:
    return json.dumps(texts(tag), ensure_ascii=False)


def as_po(tag: str) -> str:
    rows = "".join(
        f'\nmsgid "{source}"\nmsgstr "{text}"\n'
        for source, text in zip(WORDS["en"], WORDS[tag], strict=True)
    )
    return f'msgid ""\nmsgstr "Language: {tag.replace("-", "_")}\\n"\n{rows}'


def as_resx(tag: str) -> str:
    return (
        "<root>"
        + "".join(
            f'<data name="{key}"><value>{text}</value></data>' for key, text in texts(tag).items()
        )
        + "</root>"
    )


def as_android(tag: str) -> str:
    return (
        "<resources>"
        + "".join(f'<string name="{key}">{text}</string>' for key, text in texts(tag).items())
        + "</resources>"
    )


def as_php(tag: str) -> str:
    return (
        "<?php return ["
        + ", ".join(f"'{key}' => '{text}'" for key, text in texts(tag).items())
        + "];"
    )


def as_yaml(tag: str) -> str:
    return f"{tag}:\n" + "".join(f"  {key}: {text}\n" for key, text in texts(tag).items())


def as_xliff(tag: str) -> str:
    target = "" if tag == "en" else f' target-language="{tag}"'
    units = "".join(
        f'<trans-unit id="{key}"><source>{texts("en")[key]}</source>'
        + ("" if tag == "en" else f"<target>{text}</target>")
        + "</trans-unit>"
        for key, text in texts(tag).items()
    )
    return f'<xliff version="1.2"><file source-language="en"{target}><body>{units}</body></file></xliff>'


def as_strings(tag: str) -> str:
    return "".join(f'"{key}" = "{text}";\n' for key, text in texts(tag).items())


def as_properties(tag: str) -> str:
    return "".join(f"{key}={text}\n" for key, text in texts(tag).items())


SHEET = "Key,Notes,en,de,fr,pt-BR\n" + "".join(
    f"{key},," + ",".join(texts(tag)[key] for tag in TAGS) + "\n" for key in texts("en")
)
LIST = '["en", "de", "fr", "pt-BR"]'
OTHERS = TAGS[1:]

#: A monorepo; its clients' names; its catalogs as pattern and layout or spelling; its claims as state, file and selector.
CASES: list[tuple[str, Files, list[str], list[str]]] = [
    (
        "web: a file a locale, a constant, a picker",
        {
            "site/package.json": "{}",
            **{f"site/src/locales/{tag}.json": as_json(tag) for tag in TAGS},
            "site/src/i18n.ts": f'export const tongues = {LIST} as const;\nexport const defaultTongue = "en";\n',
            "site/src/Menu.tsx": 'const entries = [{tag: "en", words: "English"}, {tag: "de", words: "Deutsch"}, {tag: "fr", words: "Français"},'
            ' {tag: "pt-BR", words: "Português (Brasil)"}];',
        },
        ["site src/locales/{locale}.json"],
        ["supported src/i18n.ts", "default src/i18n.ts", "offered src/Menu.tsx"],
    ),
    (
        "web: a folder a locale, options of a call",
        {
            "site/package.json": "{}",
            **{
                f"site/public/locales/{tag}/{part}.json": as_json(tag)
                for tag in TAGS
                for part in ("common", "hut")
            },
            "site/src/start.js": f"startUp({{ supported: {LIST}, fallbackTongue: 'en' }});\n",
        },
        ["site public/locales/{locale}/{part}.json"],
        ["supported src/start.js", "default src/start.js"],
    ),
    (
        "web: texts in code, underscores",
        {
            "site/package.json": "{}",
            **{
                f"site/src/lang/{tag.replace('-', '_')}.ts": f"export default {as_json(tag)};\n"
                for tag in TAGS
            },
            "site/src/lang/index.ts": 'export const languages = {en: "English", de: "Deutsch", fr: "Français", pt_BR: "Português"};\n',
        },
        ["site src/lang/{locale}.ts"],
        ["supported src/lang/index.ts"],
    ),
    (
        "web: arrays of PHP, a constant in a class",
        {
            "ledger/composer.json": "{}",
            **{f"ledger/lang/{tag}/booking.php": as_php(tag) for tag in TAGS},
            "ledger/config/Tongues.php": "<?php final class Tongues { const ALL = ['en', 'de', 'fr', 'pt-BR']; }",
        },
        ["ledger lang/{locale}/booking.php"],
        ["supported config/Tongues.php"],
    ),
    (
        "web: YAML under its locale, a setting",
        {
            "board/Gemfile": "",
            **{f"board/config/locales/{tag}.yml": as_yaml(tag) for tag in TAGS},
            "board/config/application.rb": 'config.available_locales = [:en, :de, :fr, :"pt-BR"]\nconfig.default_locale = :en\n',
        },
        ["board config/locales/{locale}.yml locale-rooted"],
        ["supported config/application.rb", "default config/application.rb"],
    ),
    (
        "android",
        {
            "app/settings.gradle": "",
            "app/app/build.gradle": "",
            "app/app/src/main/AndroidManifest.xml": "<manifest/>",
            "app/app/src/main/res/values/strings.xml": as_android("en"),
            **{
                f"app/app/src/main/res/values-{tag.replace('-', '-r')}/strings.xml": as_android(tag)
                for tag in OTHERS
            },
            "app/app/src/main/res/values-night/colors.xml": '<resources><color name="sky">#000</color></resources>',
        },
        ["app app/src/main/res/values[-{locale}]/strings.xml"],
        [],
    ),
    (
        "lproj, a property list",
        {
            "pocket/Pocket.xcodeproj/project.pbxproj": '{ knownRegions = (en, de, fr, "pt-BR"); developmentRegion = en; }',
            **{f"pocket/Pocket/{tag}.lproj/Localizable.strings": as_strings(tag) for tag in TAGS},
            "pocket/Pocket/Info.plist": "<plist><dict><key>CFBundleLocalizations</key><array>"
            + "".join(f"<string>{tag}</string>" for tag in TAGS)
            + "</array></dict></plist>",
        },
        ["pocket Pocket/{locale}.lproj/Localizable.strings"],
        [
            "supported Pocket.xcodeproj/project.pbxproj",
            "supported Pocket/Info.plist",
            "default Pocket.xcodeproj/project.pbxproj",
        ],
    ),
    (
        "arb and Dart",
        {
            "eye/pubspec.yaml": "name: eye\n",
            **{
                f"eye/lib/l10n/app_{tag.replace('-', '_')}.arb": json.dumps(
                    {"@@locale": tag.replace("-", "_"), **texts(tag)}
                )
                for tag in TAGS
            },
            "eye/lib/main.dart": "const tongues = [Locale('en'), Locale('de'), Locale('fr'), Locale('pt', 'BR')];\n",
        },
        ["eye lib/l10n/app_{locale}.arb"],
        ["supported lib/main.dart"],
    ),
    (
        "resx, an array in C#",
        {
            "desk/Desk.csproj": "<Project/>",
            "desk/Texts.resx": as_resx("en"),
            **{f"desk/Texts.{tag}.resx": as_resx(tag) for tag in OTHERS},
            "desk/Tongues.cs": 'static class Tongues { public static readonly string[] All = { "en", "de", "fr", "pt-BR" }; }',
        },
        ["desk Texts[.{locale}].resx"],
        ["supported Tongues.cs"],
    ),
    (
        "properties, a list in Java",
        {
            "server/pom.xml": "<project/>",
            "server/src/main/resources/messages.properties": as_properties("en"),
            **{
                f"server/src/main/resources/messages_{tag.replace('-', '_')}.properties": as_properties(
                    tag
                )
                for tag in OTHERS
            },
            "server/src/main/java/Tongues.java": 'class Tongues { static final List<String> ALL = List.of("en", "de", "fr", "pt-BR"); }',
        },
        ["server src/main/resources/messages[_{locale}].properties"],
        ["supported src/main/java/Tongues.java"],
    ),
    (
        "PO, pairs in Python",
        {
            "letters/pyproject.toml": "",
            **{
                f"letters/locale/{tag.replace('-', '_')}/LC_MESSAGES/letters.po": as_po(tag)
                for tag in OTHERS
            },
            "letters/settings.py": 'LANGUAGES = [("en", "English"), ("de", "Deutsch"), ("fr", "Français"), ("pt-br", "Português")]\n',
        },
        ["letters locale/{locale}/LC_MESSAGES/letters.po"],
        ["offered settings.py"],
    ),
    (
        "a sheet and an enumeration",
        {
            "game/project.godot": "",
            "game/words.csv": SHEET,
            "game/tongue.gd": 'const TONGUES = ["en", "de", "fr", "pt-BR"]\n',
        },
        ["game words.csv"],
        ["supported tongue.gd", "supported words.csv"],
    ),
    (
        "one file for all, keys of a table in Go",
        {
            "api/go.mod": "module api\n",
            "api/words.json": json.dumps({tag: texts(tag) for tag in TAGS}),
            "api/tongues.go": 'package api\nvar Tongues = []string{"en", "de", "fr", "pt-BR"}\n',
        },
        ["api words.json locale-rooted"],
        ["supported tongues.go"],
    ),
    (
        "many parts, each in a folder of its own",
        {
            "hub/setup.py": "",
            **{
                f"hub/parts/{part}/texts/{tag}.json": as_json(tag)
                for part in ("hut", "meal", "trail", "weather")
                for tag in TAGS
            },
        },
        ["hub parts/{part}/texts/{locale}.json"],
        ["supported parts/{part}/texts/{locale}.json"],
    ),
    (
        "no project file, two clients",
        {
            **{
                f"clients/{name}/words/{tag}.toml": "".join(
                    f'{key} = "{text}"\n' for key, text in texts(tag).items()
                )
                for name in ("a", "b")
                for tag in TAGS
            },
            "clients/a/tongues.kt": 'val tongues = listOf("en", "de", "fr", "pt-BR")\n',
        },
        ["a words/{locale}.toml", "b words/{locale}.toml"],
        ["supported tongues.kt", "supported words/{locale}.toml"],
    ),
]


def surveyed(repo: Repo) -> tuple[list[str], list[str]]:
    rows = [
        row
        for row in csv.DictReader(io.StringIO(repo.run("survey", "--format", "csv").out))
        if row["what"] != "question"
    ]
    written = (
        (repo.root / "lemmar.toml").read_text() if (repo.root / "lemmar.toml").exists() else ""
    )
    assert not written
    catalogs = [f"{row['client']} {row['where']}" for row in rows if row["what"] == "catalog"]
    return catalogs, [row["states"] for row in rows if row["what"] == "claim"]


@pytest.mark.parametrize(
    ("files", "catalogs", "claims"), [pytest.param(*case[1:], id=case[0]) for case in CASES]
)
def test_layouts(repo: Repo, files: Files, catalogs: list[str], claims: list[str]) -> None:
    found, states = surveyed(repo.write(dict(files)))
    assert found == [" ".join(line.split()[:2]) for line in catalogs]
    assert states == [line.split()[0] for line in claims]
    assert repo.run("survey", "--write").code == 0
    charter = (repo.root / "lemmar.toml").read_text()
    for line in claims:
        assert line.split()[1] in charter
    for line in catalogs:
        assert " ".join(line.split()[2:]) in charter
    verdict = repo.audit()
    assert (
        verdict["verdict"],
        [finding["message"] for finding in verdict["findings"] if finding["severity"] == "error"],
    ) == ("clear", [])
    assert repo.run("survey").out == "the charter has everything that the survey finds\n"


CASES += [
    (
        "web: the options of a call name the chain",
        {
            "site/package.json": "{}",
            **{f"site/src/texts/{tag}.json": as_json(tag) for tag in TAGS},
            "site/src/start.ts": f"startUp({{ fallback: {{ 'pt-BR': ['en'], default: ['en'] }}, supported: {LIST} }});\n",
        },
        ["site src/texts/{locale}.json"],
        ["supported src/start.ts", "chain src/start.ts"],
    ),
    (
        "xliff and a build manifest",
        {
            "portal/package.json": "{}",
            "portal/build.json": json.dumps(
                {
                    "languages": {
                        "source": "en",
                        "built": {tag: f"words/m.{tag}.xlf" for tag in OTHERS},
                    }
                }
            ),
            "portal/words/m.xlf": as_xliff("en"),
            **{f"portal/words/m.{tag}.xlf": as_xliff(tag) for tag in OTHERS},
        },
        ["portal words/m[.{locale}].xlf"],
        ["supported build.json", "source build.json"],
    ),
    (
        "a page with a list of options",
        {
            "page/index.html": "<select>"
            + "".join(f'<option value="{tag}">{tag}</option>' for tag in TAGS)
            + "</select>",
            **{f"page/lang/{tag}.json": as_json(tag) for tag in TAGS},
        },
        ["page lang/{locale}.json"],
        ["supported index.html"],
    ),
    (
        "Swift and one file for all",
        {
            "glance/Package.swift": "",
            "glance/Sources/Words.xcstrings": json.dumps(
                {
                    "sourceLanguage": "en",
                    "strings": {
                        key: {
                            "localizations": {
                                tag: {
                                    "stringUnit": {"state": "translated", "value": texts(tag)[key]}
                                }
                                for tag in TAGS
                            }
                        }
                        for key in texts("en")
                    },
                }
            ),
            "glance/Sources/Tongues.swift": 'enum Tongues { static let all = ["en", "de", "fr", "pt-BR"] }',
        },
        ["glance Sources/Words.xcstrings"],
        ["supported Sources/Tongues.swift"],
    ),
    (
        "Lua, posix spellings",
        {
            "cards/project.godot": "",
            **{f"cards/words/words_{tag.replace('-', '_')}.json": as_json(tag) for tag in TAGS},
            "cards/tongues.lua": 'return { "en", "de", "fr", "pt_BR" }\n',
        },
        ["cards words/words_{locale}.json"],
        ["supported tongues.lua"],
    ),
]

NONE: list[tuple[str, Files]] = [
    (
        "countries",
        {
            f"data/{code}.json": '{"name": "x", "area": "y"}'
            for code in ("us", "de", "jp", "fr", "gb", "cn")
        },
    ),
    (
        "modules named like languages",
        {f"lib/{name}/index.json": '{"a": "b"}' for name in ("es", "lib", "cjs", "umd", "types")},
    ),
    ("pages in two languages", {f"docs/{tag}/index.html": "<p>x</p>" for tag in TAGS}),
    ("numbers", {f"locales/{tag}.json": '{"a": "1", "b": "2.5"}' for tag in TAGS}),
    (
        "keys that have nothing in common",
        {f"data/{tag}.json": f'{{"{tag}1": "x", "{tag}2": "y"}}' for tag in TAGS},
    ),
    ("fetched packages", {f"node_modules/x/locales/{tag}.json": as_json(tag) for tag in TAGS}),
]


@pytest.mark.parametrize("files", [pytest.param(files, id=name) for name, files in NONE])
def test_what_is_no_catalog_is_none(repo: Repo, files: Files) -> None:
    ran = repo.write(dict(files)).run("survey")
    assert ran.code != 0 and "no catalog was found" in ran.err


@pytest.mark.parametrize(
    "code",
    [
        'export const countries = ["DE", "FR", "BR", "GB"];',
        'export const currencies = ["eur", "usd", "brl"];',
        'export const rtlTongues = ["en", "de", "fr", "pt-BR"];',
        'export const some = ["en", makeTongue()];',
        'export const one = ["en"];',
    ],
)
def test_other_lists_are_no_claims(repo: Repo, code: str) -> None:
    repo.write(
        {
            "site/package.json": "{}",
            **{f"site/locales/{tag}.json": as_json(tag) for tag in TAGS},
            "site/lists.ts": code,
        }
    )
    rows = list(csv.DictReader(io.StringIO(repo.run("survey", "--format", "csv").out)))
    assert [row["where"] for row in rows if row["what"] == "claim"] == ["site/locales/de.json"]


def test_the_demo_without_its_charter_lacks_only_what_is_on_trial_and_every_claim_is_found(
    repo: Repo,
) -> None:
    files: dict[str, Any] = dict(monorepo_files(sound=True))
    by_hand = str(files.pop("lemmar.toml"))
    repo.write(files)
    assert repo.run("survey", "--write").code == 0
    findings = repo.audit()["findings"]
    assumed = repo.audit()["assumed"]["default"]
    assert assumed == ["hut-cards"]
    gaps = {(finding["rule"], finding["locale"]) for finding in findings} - {
        ("chain.unstated", None)
    }
    assert gaps == {("message.missing", "sl"), ("message.missing", "uk")}
    drawn = (repo.root / "lemmar.toml").read_text()
    wanted = [
        line.split("=")[1].strip()
        for line in by_hand.split("\n")
        if line.strip().startswith(("symbol", "pointer", "xpath"))
    ]
    assert [selector for selector in wanted if selector not in drawn] == []
    assert drawn.count("[[client]]") == by_hand.count("[[client]]")


def test_a_charter_is_never_overwritten_and_news_are_told(repo: Repo) -> None:
    repo.write(
        {"site/package.json": "{}", **{f"site/locales/{tag}.json": as_json(tag) for tag in TAGS}}
    )
    repo.run("survey", "--write")
    before = (repo.root / "lemmar.toml").read_bytes()
    refused = repo.run("survey", "--write")
    assert refused.code != 0 and "never overwritten" in refused.err
    more: dict[str, Any] = {f"tool/locales/{tag}.json": as_json(tag) for tag in TAGS}
    repo.write(more | {f"site/more/{tag}.json": as_json(tag) for tag in TAGS})
    told = repo.run("survey").out
    assert (
        "tool" in told
        and "site/more/de.json" in told
        and (repo.root / "lemmar.toml").read_bytes() == before
    )
    assert "is not a folder" in repo.run("survey", "gone").err


def test_code_that_a_build_has_packed_holds_no_claim(repo: Repo) -> None:
    line = 'export const tongues = ["en", "de"];'
    files = {f"site/w/{tag}.json": '{"bunk": "Bunk"}' for tag in ("en", "de")}
    assert "symbol tongues" in repo.write(files | {"site/src/main.js": line}).run("survey").out
    packed = line + "".join(f"function f{n}(a){{return a+{n}}}" for n in range(1_000))
    assert "symbol tongues" not in repo.write({"site/src/main.js": packed}).run("survey").out


def test_a_request_that_is_cut_is_a_question(repo: Repo) -> None:
    repo.write(
        {"site/package.json": "{}", **{f"site/locales/{tag}.json": as_json(tag) for tag in TAGS}}
    )
    repo.write({"site/pick.js": "export const pick = () => navigator.language.split('-')[0];\n"})
    out = repo.run("survey").out.replace("\n", " ")
    assert "site/pick.js:1" in out and "set lookup = 'primary'" in out


def test_two_forms_side_by_side_are_two_locales(repo: Repo) -> None:
    names = {"en": "en", "pt": "pt-BR", "pt-BR": "pt-BR", "zh-TW": "de", "zh-Hans": "fr"}
    repo.write(
        {
            "site/package.json": "{}",
            **{f"site/locales/{name}.json": as_json(tag) for name, tag in names.items()},
        }
    )
    repo.run("survey", "--write")
    assert (
        'shipping = ["en", "pt", "pt-BR", "zh-Hans", "zh-TW"]'
        in (repo.root / "lemmar.toml").read_text()
    )
    assert repo.audit()["verdict"] == "clear"


def test_broken_and_huge_files_neither_stop_it_nor_hide_the_rest(repo: Repo) -> None:
    repo.write({"site/package.json": "{}"})
    repo.write({f"site/locales/{tag}.json": as_json(tag) for tag in TAGS})
    repo.write(
        {
            "site/locales/it.json": "[" * 200_000,
            "site/locales/es.json": "",
            "site/locales/nl.json": '{"stove": "Kachel", "water"',
            "site/blob.json": bytes(range(256)) * 20_000,
            "site/deep.ts": "export const x = [" + "(" * 20_000 + '"de", "en"];',
            "site/tongues.ts": 'export const tongues = ["en", "de", "fr", "pt-BR"];',
        }
    )
    os.mkfifo(repo.root / "site/locales/sv.json")
    ran = repo.run("survey", "--format", "csv")
    assert (ran.code, ran.err) == (0, "")
    rows = list(csv.DictReader(io.StringIO(ran.out)))
    assert [row["where"] for row in rows if row["what"] == "catalog"] == ["locales/{locale}.json"]
    assert any(row["where"].startswith("site/tongues.ts") for row in rows)


def test_a_charter_in_several_files_says_the_same(repo: Repo) -> None:
    for root in ("clients/huts", "clients/lifts", "tools/desk"):
        repo.write(
            {
                f"{root}/locales/en.json": '{"a": "A bunk"}',
                f"{root}/locales/de.json": '{"a": "Koje", "b": "Alt"}',
            }
        )
        repo.write({f"{root}/package.json": json.dumps({"name": root.rpartition("/")[2]})})
    assert "give both" in repo.run("survey", "--split").err
    assert repo.run("survey", "--write").code == 0
    whole = repo.audit()
    assert whole["findings"]
    assert (repo.root / "lemmar.toml").read_text().startswith("#:schema ./lemmar.schema.json\n")
    (repo.root / "lemmar.toml").unlink()
    repo.write({"clients/huts/lemmar-client.toml": ""})
    ran = repo.run("survey", "--write", "--split")
    assert ran.code == 2 and "lemmar-client.toml already; it is never overwritten" in ran.err
    (repo.root / "clients/huts/lemmar-client.toml").unlink()
    ran = repo.run("survey", "--write", "--split")
    assert (ran.code, "and 3 files that it includes" in ran.err) == (0, True)
    charter = tomllib.loads((repo.root / "lemmar.toml").read_text())
    assert charter["charter"]["include"] == [
        "clients/*/lemmar-client.toml",
        "tools/desk/lemmar-client.toml",
    ]
    assert "client" not in charter
    split = repo.audit()
    assert [finding["fingerprint"] for finding in split["findings"]] == [
        finding["fingerprint"] for finding in whole["findings"]
    ]
    assert split["clients"] == whole["clients"]


@pytest.mark.parametrize("split", [(), ("--split",)])
def test_a_charter_is_no_list_of_locales(repo: Repo, split: tuple[str, ...]) -> None:
    """Neither that of a client that is the whole folder, nor one further down, nor what it includes."""
    lists = '{"locales": ["en", "de", "fr"]}'
    words = {f"words/{tag}.json": as_json(tag) for tag in TAGS}
    repo.write({"package.json": lists, **words})
    repo.write({f"huts/{file}": text for file, text in {"package.json": lists, **words}.items()})
    assert repo.run("survey", "--write", *split).code == 0
    repo.write(
        {
            "huts/lemmar.toml": '[charter]\nversion = 1\nsource = "en"\n[roster]\nshipping = ["en", "de", "fr"]\n'
        }
    )
    ran = repo.run("survey", "--check")
    assert (ran.code, ran.out.strip()) == (0, "the charter has everything that the survey finds")
