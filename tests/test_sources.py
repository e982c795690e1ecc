"""The source of each client: whatever it is called there, a lost placeholder is found; and shares and exceptions of a client's own."""

from __future__ import annotations

import json

import pytest

from .conftest import Repo, charter

SOUND = {"night": "{n} nights", "hut": "Hut"}
LOST = {"night": "Nächte", "hut": "Hütte"}
NO_CLAIM = '  [client.runtime]\n  supported = "files"\n'


def words(texts: dict[str, str]) -> str:
    return json.dumps(texts, ensure_ascii=False, indent=0)


def resx(texts: dict[str, str]) -> str:
    rows = "\n".join(
        f'<data name="{key}"><value>{text}</value></data>' for key, text in texts.items()
    )
    return f"<root>\n{rows}\n</root>\n"


def sourced(tag: str, *rest: str, text: str = "") -> str:
    """A charter whose client is written in *tag*."""
    line = f'source = "{tag}"\n' if tag else ""
    return text.replace('platform = "browser"\n', f'platform = "browser"\n{line}', 1) + "".join(
        rest
    )


JSON = charter(claim="", catalog='  syntax = "brace"\n', more=NO_CLAIM)


@pytest.mark.parametrize(
    ("files", "expected"),
    [
        pytest.param(
            {"lemmar.toml": JSON, "app/w/en-US.json": words(SOUND), "app/w/de.json": words(LOST)},
            ["message.argument-lost app/w/de.json:2:1 de/night"],
            id="the source has a region here",
        ),
        pytest.param(
            {
                "lemmar.toml": charter(
                    "T[.{locale}].resx", claim="", catalog='  syntax = "brace"\n', platform="dotnet"
                ),
                "app/T.resx": resx(SOUND),
                "app/T.en-US.resx": resx({"hut": "Cabin"}),
                "app/T.de.resx": resx(LOST),
            },
            [
                "message.argument-lost app/T.de.resx:2:13 de/night",
                "roster.surplus app/T.en-US.resx:1:1 en-US",
            ],
            id="an unmarked file, and a regional variant beside it",
        ),
        pytest.param(
            {
                "lemmar.toml": sourced("en-CH", text=JSON),
                "app/w/en-CH.json": words(SOUND),
                "app/w/de.json": words(LOST),
            },
            ["message.argument-lost app/w/de.json:2:1 de/night"],
            id="a region that is not the likely one, as the charter says",
        ),
        pytest.param(
            {
                "lemmar.toml": sourced("de", text=JSON),
                "app/w/en.json": words({"night": "Nights"}),
                "app/w/de.json": words({"night": "{n} Nächte", "hut": "Hütte"}),
            },
            [
                "message.argument-lost app/w/en.json:2:1 en/night",
                "message.missing app/w/en.json:2:18 en/hut",
            ],
            id="another language, which the product's source is translated from",
        ),
        pytest.param(
            {
                "lemmar.toml": charter(
                    "po/{locale}.po",
                    claim="",
                    more=NO_CLAIM,
                    catalog='  syntax = "brace"\n  spelling = "posix"\n',
                ),
                "app/po/en_US.po": 'msgid "{n} nights"\nmsgstr ""\n',
                "app/po/de.po": 'msgid "{n} nights"\nmsgstr "Nächte"\n',
            },
            ["message.argument-lost app/po/de.po:1:1 de/{n} nights"],
            id="files that carry the source, and one of its own with a region",
        ),
        pytest.param(
            {
                "lemmar.toml": sourced(
                    "", '\n  [[client.catalog]]\n  files = "v/{locale}.json"\n', text=JSON
                ),
                "app/w/en-US.json": words({"hut": "Hut"}),
                "app/w/de.json": words({"hut": "Hütte"}),
                "app/v/en-US.json": words({"bunk": "Bunk"}),
                "app/v/de.json": words({"bunk": ""}),
            },
            ["message.empty app/v/de.json:2:1 de/bunk"],
            id="one name of the source in all catalogs of a client",
        ),
    ],
)
def test_texts_are_compared_with_the_source_of_their_client(
    repo: Repo, files: dict[str, str], expected: list[str]
) -> None:
    assert sorted(repo.write(files).found()) == sorted(expected)


def test_a_shared_catalog_calls_the_source_as_the_client_does(repo: Repo) -> None:
    shared = '\n[[catalog]]\nname = "all"\nfiles = "all/{locale}.json"\nsyntax = "brace"\n'
    text = JSON.replace('root = "app"', 'root = "app"\nuses = ["all"]') + shared
    repo.write(
        {
            "lemmar.toml": text,
            "all/en.json": words({"stove": "{n} stoves"}),
            "all/de.json": words({"stove": "Öfen"}),
            "app/w/en-US.json": words({"hut": "Hut"}),
            "app/w/de.json": words({"hut": "Hütte"}),
        }
    )
    assert repo.found() == ["message.argument-lost all/de.json:2:1 de/stove"]


def test_what_users_see_of_a_client_in_another_language_is_foreign(repo: Repo) -> None:
    fallback = JSON.replace('default = ["en"]', 'default = ["en"]\nde = ["en"]')
    repo.write(
        {
            "lemmar.toml": sourced("de", text=fallback),
            "app/w/en.json": words({"hut": "Hut"}),
            "app/w/de.json": words({"hut": "Hütte", "night": "Nacht"}),
        }
    )
    cells = {row["locale"]: row for row in repo.run("grid", "--format", "json").data["rows"]}
    assert (cells["en"]["own"], cells["en"]["key"], cells["de"]["own"]) == (1, 1, 2)


OWN = 'platform = "browser"\ntrial = { de = 0.33 }\n'


@pytest.mark.parametrize(
    ("share", "own", "expected"),
    [
        ("0.33", ["a"], []),
        ("0.34", ["a"], ["catalog.below-threshold app/w/de.json:1:1 de"]),
        ("0.33", [], ["catalog.below-threshold app/w/de.json:1:1 de"]),
    ],
)
def test_a_client_has_a_share_of_its_own(
    repo: Repo, share: str, own: list[str], expected: list[str]
) -> None:
    """Though the locale ships elsewhere: this client may not get worse."""
    text = JSON.replace('platform = "browser"\n', OWN.replace("0.33", share))
    texts = {"a": "Lager", "b": "Ofen", "c": "Wasser"}
    repo.write(
        {
            "lemmar.toml": text,
            "app/w/en.json": words({"a": "Bunk", "b": "Stove", "c": "Water"}),
            "app/w/de.json": words({key: texts[key] if key in own else "" for key in texts}),
        }
    )
    assert [line for line in repo.found() if "message.empty" not in line] == expected


def test_a_share_belongs_to_a_locale_of_the_roster(repo: Repo) -> None:
    text = JSON.replace('platform = "browser"\n', 'platform = "browser"\ntrial = { dee = 0.3 }\n')
    ran = repo.write({"lemmar.toml": text}).run("audit")
    assert ran.code == 2
    assert "lemmar.toml:15: 'dee' is not on the roster; did you mean 'de'?" in ran.err


def test_exceptions_are_no_catalogs(repo: Repo) -> None:
    files = {
        "app/w/en.json": words({"hut": "Hut"}),
        "app/w/de.json": words({"hut": "Hütte"}),
        "app/w/languages.json": words({"de": "Deutsch"}),
    }
    excepting = JSON.replace(
        '"w/{locale}.json"\n', '"w/{locale}.json"\n  except = ["w/l*.json"]\n', 1
    )
    repo.write({**files, "lemmar.toml": JSON})
    assert any("languages.json" in line for line in repo.found())
    repo.write({"lemmar.toml": excepting})
    assert repo.found() == []
    repo.write({"lemmar.toml": excepting.replace("w/l*", "/l*")})
    ran = repo.run("audit")
    assert ran.code == 2
    assert "lemmar.toml:19: a pattern is relative" in ran.err


@pytest.mark.parametrize("part", ["Hut", "my_hut", "a_b"])
def test_a_sign_in_a_name_may_belong_to_part_or_locale(repo: Repo, part: str) -> None:
    """``BR`` is a language as well; the longest locale that is one counts."""
    files = {"en": {"hut": "Hut"}, "pt_BR": {"hut": "Cabana"}, "sr_Latn_RS": {"hut": "Koliba"}}
    claim = '  [[client.claim]]\n  states = "supported"\n  files = "w/{part}_{locale}.json"\n'
    text = charter(
        "w/{part}_{locale}.json",
        "en pt-BR sr-Latn-RS",
        catalog='  spelling = "posix"\n',
        claim=claim,
    )
    text = text.replace('states = "supported"', 'states = "supported"\n  spelling = "posix"')
    repo.write({f"app/w/{part}_{tag}.json": words(texts) for tag, texts in files.items()})
    assert repo.write({"lemmar.toml": text}).found() == []
    rows = repo.run("grid", "--format", "json").data["rows"]
    assert {row["locale"]: row["own"] for row in rows} == {"en": 1, "pt-BR": 1, "sr-Latn-RS": 1}


def test_a_habit_of_writing_is_one_finding(repo: Repo) -> None:
    tags = ("pt-BR", "de-AT", "zh-Hant")
    repo.write(
        {
            "lemmar.toml": charter(shipping=" ".join(("en", *tags))),
            "app/locales.json": json.dumps(["en", *(tag.lower() for tag in tags)]),
            **{f"app/w/{tag}.json": words({"hut": f"Hut {tag}"}) for tag in ("en", *tags)},
        }
    )
    findings = [
        finding for finding in repo.audit()["findings"] if finding["rule"].startswith("tag.")
    ]
    assert [(finding["rule"], len(finding["related"])) for finding in findings] == [
        ("tag.noncanonical", 2)
    ]
    assert (
        "3 locales in app/locales.json are not written as the place requires"
        in findings[0]["message"]
    )


def test_a_stub_of_the_source_hides_nothing(repo: Repo) -> None:
    """Where translations carry the source's texts, its own file may lack them: they are compared all the same."""
    entry = 'msgid "{n} nights"\nmsgstr "%s"\n\nmsgid "Hut"\nmsgstr "Hütte"\n'
    head = 'msgid ""\nmsgstr ""\n\n'
    repo.write(
        {
            "lemmar.toml": charter("po/{locale}.po", "en de fr", claim="", more=NO_CLAIM).replace(
                '"po/{locale}.po"', '"po/{locale}.po"\n  syntax = "brace"'
            ),
            "app/po/en.po": head,
            "app/po/de.po": head + entry % "Nächte",
            "app/po/fr.po": head + entry % "{n} nuits" + '\nmsgid "Old"\nmsgstr "Vieux"\n',
        }
    )
    found = [line for line in repo.found() if "same" not in line]
    assert found[0] == "message.argument-lost app/po/de.po:4:1 de/{n} nights"


@pytest.mark.parametrize(
    "handed",
    [
        'export { default } from "../base/{0}";\n',
        'import words from "../base/{0}";\nexport default words;\n',
        'module.exports = require("../base/{0}");\n',
    ],
)
def test_a_file_that_hands_on_another_one_s_texts_has_them(repo: Repo, handed: str) -> None:
    files = {
        f"app/{folder}/{tag}.js": text
        for tag, words in (("en", "Bunk"), ("de", "Lager"))
        for folder, text in (
            ("base", f'export default {{ bunk: "{words}" }};\n'),
            ("w", handed.replace("{0}", tag)),
        )
    }
    repo.write(files | {"lemmar.toml": charter("w/{locale}.js", claim="")})
    assert "catalog.unreadable" not in {each["rule"] for each in repo.audit()["findings"]}
    assert "Lager" in repo.run("peek", "bunk").out


#: Files of code that are catalogs, and what is said of what cannot be read of them; an empty text where all is.
WHOLE = "{ one: 'A first text', two: 'A second text' }"
OPAQUE = [
    ("js", f"export default {WHOLE};\n", ""),
    ("js", f"// Some words here\nimport x from './the other file';\nexport default {WHOLE};\n", ""),
    ("js", f"'use strict';\nconst more = require('./the other file');\nmodule.exports = {WHOLE};\n", ""),
    ("js", f"export default {WHOLE};\nfunction plural(n) {{ return n > 3 ? 'many' : 'one'; }}\n", ""),
    ("js", f"export default {WHOLE};\nthrow new Error('No such language here');\n", ""),
    ("ts", "const base = { hut: 'The old hut' };\nexport default { ...base, one: 'A first text' };\n", ""),
    ("ts", f"export default {WHOLE};\nexport function free(n) {{ return n ? 'Many huts left' : 'No hut left'; }}\n", "2 texts of this file"),
    ("mjs", f"export default {WHOLE};\nexport const free = (n) => `There are ${{n}} huts left`;\n", "1 text of this file"),
    ("php", "<?php // Some words here\nreturn ['one' => 'A first text', 'two' => 'A second text'];\n", ""),
    ("php", "<?php\n$t['one'] = 'A first text';\n$t['two'] = 'A second text';\n", ""),
    ("php", "<?php\n$t = ['one' => 'A first text'];\nfunction free($n) { return $n ? 'Many huts left' : 'No hut left'; }\n", "2 texts of this file"),
    ("py", '"""Words of the module."""\nTEXTS = {"one": "A first text"}\n', ""),
    ("py", 'TEXTS = {"one": "A first text"}\n\ndef free(n):\n    """Words on it."""\n    return "Many huts left" if n else "No hut left"\n', "2 texts of this file"),
    ("dart", "/// Some words here\nconst texts = {'one': 'A first text'};\n", ""),
    ("dart", "const texts = {'one': 'A first text'};\nclass More { String get free => 'Many huts left'; }\n", "1 text of this file"),
    ("js", f"export default {{ one: 'A first text' }};\n{'var x = [1, 2, 3].map((n) => n + 1);' * 80}\n", "bytes of code 1 message"),
    ("js", f"export default {{ one: 'A first text' }};\n{'// a long remark on the text above' * 80}\n", ""),
]  # fmt: skip


@pytest.mark.parametrize(("suffix", "text", "said"), OPAQUE)
def test_what_of_a_file_of_code_is_passed_over(
    repo: Repo, suffix: str, text: str, said: str
) -> None:
    files = {f"app/w/{tag}.{suffix}": text for tag in ("en", "de")}
    head = charter(f"w/{{locale}}.{suffix}", catalog='  format = "code"\n')
    found = repo.write(files | {"lemmar.toml": head, "app/locales.json": '["en", "de"]'}).run(
        "audit", "--format", "json"
    )
    opaque = [each for each in found.data["findings"] if each["rule"] == "catalog.opaque"]
    assert [said in each["message"] and "1 more file" in each["message"] for each in opaque] == (
        [True] if said else []
    )
    assert found.code == (3 if said else found.code) and bool(found.data["unfinished"]) == bool(
        said
    )


#: Modules as compilers leave them, and functions that return one literal: all of them hold the same two texts.
COMPILED = [
    ("js", "exports.one = 'A text'; exports.two = 'Another one';"),
    ("js", "module.exports.one = 'A text'; module.exports.two = function () { return 'Another one'; };"),
    ("js", 'Object.defineProperty(exports, "one", { value: "A text" });\nObject.defineProperty(exports, "two", { get: function () { return "Another one"; } });'),
    ("js", 'Object.defineProperty(exports, "one", { get() { return "A text"; } });\nexports.two = () => "Another one";'),
    ("js", "module.exports = function () { return { one: 'A text', two: () => 'Another one' }; };"),
    ("mjs", "export const one = 'A text';\nexport function two() { return 'Another one'; }"),
    ("ts", "export const one = (): string => 'A text';\nexport const two = `Another one`;"),
    ("ts", "export default () => ({ one: 'A text', two() { return 'Another one'; } });"),
    ("php", "<?php\nreturn ['one' => fn() => 'A text', 'two' => function () { return 'Another one'; }];"),
    ("py", 'TEXTS = {"one": lambda: "A text", "two": "Another one"}'),
]  # fmt: skip


@pytest.mark.parametrize(("suffix", "text"), COMPILED)
def test_compiled_modules_and_functions_that_return_a_literal(
    repo: Repo, suffix: str, text: str
) -> None:
    ran = repo.write({f"en.{suffix}": text}).run("read", "--format", "jsonl", f"en.{suffix}")
    rows = [json.loads(line) for line in ran.out.splitlines()]
    assert [(row.get("key"), row.get("text"), row.get("defect")) for row in rows] == [
        ("one", "A text", None),
        ("two", "Another one", None),
    ]


@pytest.mark.parametrize(
    ("tag", "forms", "lacks"),
    [
        ("fr", 2, None),
        ("it", 2, None),
        ("pt-BR", 2, None),
        ("fr", 3, None),
        ("uk", 3, None),
        ("uk", 2, "'many'"),
        ("cs", 2, "'other'"),
    ],
)
def test_numbered_forms_are_those_of_the_language(
    repo: Repo, tag: str, forms: int, lacks: str | None
) -> None:
    """As many as whole numbers up to a thousand reach, or one more for millions."""

    def texts(number: int) -> str:
        return json.dumps(
            {"free": {str(index): f"{{{{n}}}} free {index}" for index in range(number)}}
        )

    files = {
        "app/w/en.json": texts(2),
        "app/w/sl.json": texts(4),
        f"app/w/{tag}.json": texts(forms),
    }
    head = charter(shipping=f"en sl {tag}")
    repo.write(files | {"lemmar.toml": head, "app/locales.json": json.dumps(["en", "sl", tag])})
    found = [each for each in repo.audit()["findings"] if each["rule"] == "message.plural-missing"]
    assert [lacks in each["message"] for each in found if lacks] == ([True] if lacks else []), found
    assert bool(found) == (lacks is not None)
