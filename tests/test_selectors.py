"""Claim selectors: what each finds, at which line and column, and what it says it cannot read."""

from __future__ import annotations

import pytest

from lemmar.basics.errors import IncompleteError
from lemmar.selectors import Pick, Selection, load, names

PLIST = '<?xml version="1.0"?>\n<plist version="1.0">\n<dict>\n<key>Tongues</key>\n<array><string>en</string>\n<string>de</string></array>\n</dict>\n</plist>\n'
TS = 'import { more } from "./more";\nconst base = ["en", `de`] as const;\n'
CS = "class D {{ {} }}"

CASES: list[tuple[str, Pick, str, list[str]]] = [
    (
        "call",
        Pick("use", None, ".ts"),
        'use("de");\nother("fr"); use("en");',
        ["1:5 de", "2:18 en"],
    ),
    (
        "call",
        Pick("Locale", None, ".java"),
        'class A { Object a = new Locale("de", "AT"); }',
        ["1:33 de-AT"],
    ),
    (
        "call",
        Pick("init", None, ".ts", pointer="/0/fallback"),
        'init({ fallback: "en" });',
        ["1:18 en"],
    ),
    ("call", Pick("used", None, ".ts"), 'use("de");', ["1:1 !nothing in the file calls 'used'"]),
    ("pointer", Pick("/a", None, ".json"), '{"a": ["en",\n "de"]}', ["1:8 en", "2:2 de"]),
    (
        "pointer",
        Pick("/a/*/tag", None, ".json"),
        '{"a": [{"tag": "en"}, {"tag": "de"}]}',
        ["1:16 en", "1:31 de"],
    ),
    (
        "pointer",
        Pick("/a", "field:tag", ".json"),
        '{"a": [{"tag": "en"}, {"no": "de"}]}',
        ["1:16 en", "1:23 !there is no field 'tag' here"],
    ),
    (
        "pointer",
        Pick("/a", None, ".json"),
        '{"a": {"en": {"n": 1}, "de": {}}}',
        ["1:8 en", "1:24 de"],
    ),
    ("pointer", Pick("/a", None, ".json"), '{"a": {"x": "en", "y": "de"}}', ["1:13 en", "1:24 de"]),
    (
        "pointer",
        Pick("/a", "keys", ".json"),
        '{"a": {"en": "x", "de": "y"}}',
        ["1:8 en", "1:19 de"],
    ),
    ("pointer", Pick("/a~1b/1", None, ".json"), '{"a/b": ["en", "de"]}', ["1:16 de"]),
    (
        "pointer",
        Pick("/a", "item:0", ".json"),
        '{"a": [["en", "E"], ["de", "D"]]}',
        ["1:9 en", "1:22 de"],
    ),
    ("pointer", Pick("/b", None, ".json"), '{"a": 1}', ["1:1 !there is no 'b' at the top"]),
    ("pointer", Pick("/Tongues", None, ".plist"), PLIST, ["5:8 en", "6:1 de"]),
    (
        "pointer",
        Pick("/tongues", None, ".plist"),
        '{ tongues = (en, "de");\n}',
        ["1:14 en", "1:18 de"],
    ),
    (
        "pointer",
        Pick("/objects/*/knownRegions", None, ".pbxproj"),
        "// !$*UTF8*$!\n{ objects = { A1 /* P */ = {\nknownRegions = (en, Base); }; }; }",
        ["3:17 en", "3:21 Base"],
    ),
    (
        "xpath",
        Pick("//locale/@a:name", None, ".xml"),
        '<l xmlns:a="u">\n<locale a:name="en"/>\n<locale a:name="de"/></l>',
        ["2:17 en", "3:17 de"],
    ),
    ("xpath", Pick("//b", None, ".xml"), "<a><b>en</b>\n<b> de </b></a>", ["1:7 en", "2:5 de"]),
    (
        "xpath",
        Pick("//c", None, ".xml"),
        "<a><b></a>",
        ["1:11 !Opening and ending tag mismatch: b line 1 and a"],
    ),
    ("match", Pick(r"^lang (?P<locale>\S+)$"), "lang en\nno\nlang de\n", ["1:6 en", "3:6 de"]),
    (
        "header",
        Pick("", None, ".tsv", {"key": "Key", "ignore": ("Notes",)}),
        "Key\tNotes\ten\tde\nk\tx\ty\n",
        ["1:11 en", "1:14 de"],
    ),
    ("header", Pick("", None, ".csv"), "Key,Notes,en,pt-BR\n", ["1:11 en", "1:14 pt-BR"]),
    # TypeScript and JavaScript
    (
        "symbol",
        Pick("a", None, ".ts"),
        TS + 'export const a = [...base, "fr", ...more, Tongue.Italian];',
        [
            "2:15 en",
            "2:21 de",
            "3:28 fr",
            "3:50 Italian",
            "3:37 !'more' comes from another file or is computed",
        ],
    ),
    (
        "symbol",
        Pick("A.b", "keys", ".ts"),
        'class A { static readonly b = Object.freeze({ en: "E", "de-AT": "D" }); }',
        ["1:47 en", "1:56 de-AT"],
    ),
    (
        "symbol",
        Pick("T", None, ".ts"),
        'type T = "en" | "de"\n | "fr";',
        ["1:10 en", "1:17 de", "2:4 fr"],
    ),
    ("symbol", Pick("T", None, ".ts"), 'enum T { En = "en", De = "de" }', ["1:15 en", "1:26 de"]),
    ("symbol", Pick("T", "members", ".ts"), "enum T { en, de }", ["1:10 en", "1:14 de"]),
    (
        "symbol",
        Pick("*.tongues", None, ".js"),
        'export default { tongues: "en,de".split(",") }',
        ["1:27 en", "1:27 de"],
    ),
    (
        "symbol",
        Pick("*", None, ".js"),
        'module.exports = new Set(["en", new Intl.Locale("de", "AT")]);',
        ["1:27 en", "1:49 de-AT"],
    ),
    (
        "symbol",
        Pick("m", "keys", ".js"),
        'const m = new Map([["en", 1], ["de", 2]]);',
        ["1:21 en", "1:32 de"],
    ),
    (
        "symbol",
        Pick("m", "field:tag", ".tsx"),
        'const m = [{ tag: "en" }];\nconst V = () => <b onClick={x}>é</b>;\n',
        ["1:19 en"],
    ),
    ("symbol", Pick("a", None, ".js"), 'const a = "d" + "e"; const b = `d${x}`;', ["1:11 de"]),
    (
        "symbol",
        Pick("b", None, ".js"),
        "const é = 1; const b = [`d${x}`];",
        ["1:25 !'`d${x}`' is computed, which is only known when the program runs"],
    ),
    (
        "symbol",
        Pick("a", None, ".js"),
        "const a = b; const b = a;",
        ["1:11 !it is nested or refers to itself too deeply"],
    ),
    (
        "symbol",
        Pick("zz", None, ".ts"),
        "const a = ",
        ["1:1 !there is no 'zz' in the file; the file has syntax errors"],
    ),
    # Python
    (
        "symbol",
        Pick("T", None, ".py"),
        'A = ["en"]\nT = (*A, "de" "-AT", x)',
        ["1:6 en", "2:10 de-AT", "2:22 !'x' comes from another file or is computed"],
    ),
    (
        "symbol",
        Pick("L.ALL", None, ".py"),
        'class L:\n    ALL = frozenset({"en", "de"})',
        ["2:22 en", "2:28 de"],
    ),
    (
        "symbol",
        Pick("L", None, ".py"),
        'class L(Enum):\n    EN = "en"\n    DE = "de"',
        ["2:10 en", "3:10 de"],
    ),
    ("symbol", Pick("T", "item:0", ".py"), 'T = [("en", "E"), ("de", "D")]', ["1:7 en", "1:20 de"]),
    # PHP
    (
        "symbol",
        Pick("A.B", None, ".php"),
        "<?php class A { const B = ['en', \"de\"]; }",
        ["1:28 en", "1:34 de"],
    ),
    (
        "symbol",
        Pick("*", "keys", ".php"),
        "<?php\nreturn ['en' => 'E', 'de' => 'D'];",
        ["2:9 en", "2:22 de"],
    ),
    # C#
    (
        "symbol",
        Pick("D.A", None, ".cs"),
        CS.format('static string[] A = { "en", "de" };'),
        ["1:33 en", "1:39 de"],
    ),
    (
        "symbol",
        Pick("A", None, ".cs"),
        CS.format(
            'static List<CultureInfo> A => new List<CultureInfo> { new CultureInfo("en"), CultureInfo.GetCultureInfo("de") };'
        ),
        ["1:81 en", "1:115 de"],
    ),
    (
        "symbol",
        Pick("A", "keys", ".cs"),
        CS.format('static Dictionary<string, string> A = new() { ["en"] = "E", { "de", "D" } };'),
        ["1:58 en", "1:73 de"],
    ),
    (
        "symbol",
        Pick("A", "members", ".cs"),
        "enum A { English, German = 4 }",
        ["1:10 English", "1:19 German"],
    ),
    (
        "symbol",
        Pick("A", None, ".cs"),
        CS.format('const string B = "en"; static string[] A = [B, "de", ..C]; '),
        ["1:28 en", "1:58 de", "1:66 !'C' comes from another file or is computed"],
    ),
    (
        "symbol",
        Pick("A", None, ".cs"),
        CS.format("static string[] A = \"en;de\".Split(';');"),
        ["1:31 en", "1:31 de"],
    ),
    (
        "symbol",
        Pick("F.Home", None, ".cs"),
        "enum T { English }\nclass F { const T Home = T.English; }",
        ["2:28 English"],
    ),
]


def shown(selection: Selection) -> list[str]:
    values = [f"{value.line}:{value.column} {value.text}" for value in selection.values]
    return values + [
        f"{defect.line}:{defect.column} !{defect.detail}" for defect in selection.defects
    ]


@pytest.mark.parametrize(
    ("name", "pick", "text", "expected"),
    [pytest.param(*case, id=f"{case[0]} {case[1].text} {case[2][:30]!r}") for case in CASES],
)
def test_selected(name: str, pick: Pick, text: str, expected: list[str]) -> None:
    assert load(name).check(pick) is None
    assert shown(load(name).select(text.encode(), pick)) == expected


WRONG = [
    ("pointer", Pick("a", None, ".json")),
    ("pointer", Pick("/a", "all", ".json")),
    ("xpath", Pick("//[")),
    ("match", Pick("(")),
    ("match", Pick("x")),
    ("symbol", Pick("a", None, ".cobol")),
    ("symbol", Pick("a", "case", ".ts")),
]


@pytest.mark.parametrize(("name", "pick"), WRONG)
def test_what_cannot_be_asked_is_told_by_the_charter(name: str, pick: Pick) -> None:
    wrong = load(name).check(pick)
    assert wrong is not None and wrong[0] in (name, "take")


def test_an_expression_that_would_run_for_ever_ends_in_no_answer() -> None:
    with pytest.raises(IncompleteError, match="longer than 2 seconds"):
        load("match").select(b"ab" * 30 + b"zc", Pick(r"(?P<locale>((a|b|ab)*)*c)"))


def test_every_selector_has_a_row() -> None:
    by_files = {name for name in names() if load(name).of_files is not None}
    assert {name for name, *_ in CASES} == set(names()) - by_files
