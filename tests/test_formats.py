"""The catalog formats: each case a file and all that is read of it, with the line and column of every entry; then properties."""

from __future__ import annotations

import importlib.util
import io
import json
import plistlib
import zipfile
from pathlib import Path
from typing import Any

import openpyxl
import polib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lemmar import formats
from lemmar.basics.text import Lines, decode
from lemmar.formats import Column, Keys, Rare, Reading, ReadOptions, form_names, read_header
from lemmar.inventory import plurals
from lemmar.tags import LanguageTag

from .conftest import Repo, share

ROOT = Path(__file__).parents[1]


def _fuzzing() -> Any:
    """The small sound files that the fuzzer mutates."""
    spec = importlib.util.spec_from_file_location(
        "fuzz", ROOT / "tools" / "fuzzing" / "catalogs.py"
    )
    assert spec is not None and spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


SEEDS: dict[str, str] = _fuzzing().SEEDS
SOUND: list[tuple[str, dict[str, Any], str]] = _fuzzing().SOUND


def read(name: str, data: bytes, **options: Any) -> Reading:
    return formats.load(name).read(data, ReadOptions(**options))


def shown(name: str, text: str | bytes, **options: Any) -> list[str]:
    """Each entry as ``line:column key=text`` and each defect as ``line:column !kind``, as the file has them."""
    data = text.encode("utf-8") if isinstance(text, str) else text
    reading = read(name, data, **options)
    wanted = [(column.label, key) for column in reading.columns for key in column.keys]
    sites = formats.load(name).locate(data, ReadOptions(**options), wanted)
    lines = []
    for column in reading.columns:
        for index, key in enumerate(column.keys):
            site = sites[column.label, key]
            forms = column.rare.forms.get(index)
            label = f"{column.label}:" if column.label else ""
            rest = "".join(
                f" #{kind}={getattr(column.rare, kind)[index]}"
                for kind in ("comment", "limit", "fixed")
                if index in getattr(column.rare, kind)
            )
            lines.append(
                f"{site.line}:{site.column} {label}{key}={forms or column.texts[index]}{rest}"
            )
    return lines + [f"{defect.line}:{defect.column} !{defect.kind}" for defect in reading.defects]


SHEET = {
    "layout": "columns",
    "suffix": ".tsv",
    "columns": {"key": "Key", "description": "Notes", "limit": "Max"},
}
CASES: list[tuple[str, str | bytes, dict[str, Any], list[str]]] = [
    # documents
    (
        "document",
        "Huts near you\n\nSleep well.\n",
        {"key": "title"},
        ["1:1 title=Huts near you\n\nSleep well."],
    ),
    ("document", "a\0b", {"key": "title"}, ["1:1 !unreadable"]),
    # JSON
    (
        "json",
        '{"a": "x", "b": {"c": "y", "d.e": null}}',
        {},
        ["1:2 a=x", "1:18 b.c=y", "1:28 b.d\\.e=None"],
    ),
    ("json", '{"a.b": "x"}', {}, ["1:2 a.b=x"]),
    ("json", '{"a.b": "x", "c": {"d": "y"}}', {}, ["1:2 a.b=x", "1:20 c.d=y"]),
    ("json", '{"a.b": "x", "a": {"b": "y"}}', {}, ["1:2 a\\.b=x", "1:20 a.b=y"]),
    ("json", '{"a.b": {"c": "x"}, "": "y"}', {}, ["1:10 a\\.b.c=x", "1:21 =y"]),
    (
        "json",
        '{"de": {"a.b": "x", "a": {"b": "y"}}}',
        {"layout": "locale-rooted"},
        ["1:9 de:a\\.b=x", "1:27 de:a.b=y"],
    ),
    (
        "json",
        '{"n": 1.50, "t": true, "l": ["p", "q"]}',
        {},
        ["1:2 n=1.50", "1:13 t=true", "1:24 l={'0': 'p', '1': 'q'}"],
    ),
    ("json", '{"s": [{"t": "x"}]}', {}, ["1:9 s.0.t=x"]),
    ("json", '{\r\n"a": "x\\ud83d\\ude00",\r"b": "\u2028"}', {}, ["2:1 a=x😀", "3:1 b=\u2028"]),
    ("json", '{"a": "x", "b": "y", "a": "z"}', {}, ["1:22 a=z", "1:12 b=y", "1:22 !duplicate-key"]),
    (
        "json",
        '{"a": "\\"k\\": v", "b" : "y", "b": "y"}',
        {},
        ['1:2 a="k": v', "1:30 b=y", "1:30 !duplicate-key"],
    ),
    ("json", '{"a": "x", "a": {"b": "y"}}', {}, ["1:18 a.b=y", "1:12 !key-clash"]),
    ("json", '{"a": "x" "b": "y",\n "c": }', {}, ["1:2 a=x", "1:11 b=y", "1:11 !damaged"]),
    ("json", '{"a": "x\n "b": "y"}', {}, ["1:2 a=x", "2:2 b=y", "1:7 !damaged"]),
    ("json", '// why\n{"a": "x", /* b */}', {"suffix": ".jsonc"}, ["2:2 a=x"]),
    ("json", '// why\n{"a": "x"}', {}, ["2:2 a=x", "1:1 !damaged"]),
    ("json", b"\xef\xbb\xbf" + b'{"a": "x"}', {}, ["1:2 a=x", "1:1 !encoding"]),
    ("strings", '"a" = "x\0y";\n"b" = "z";', {}, ["1:1 a=x\0y", "2:1 b=z", "1:9 !damaged"]),
    (
        "po",
        'msgid "a"\nmsgstr "x\0"\n\nmsgid "b"\nmsgstr "z"\n',
        {},
        ["1:1 a=x\0", "4:1 b=z", "2:10 !damaged"],
    ),
    (
        "android-xml",
        '<resources><item type="string" name="i">X</item><item type="id" name="z"/>'
        '<array name="n"><item>@id/x</item><item>12</item></array></resources>',
        {},
        ["1:38 i=X"],
    ),
    (
        "android-xml",
        '<resources><string name="s">It <a href="u v">x</a> "q  r"</string></resources>',
        {},
        ['1:26 s=It <a href="u v">x</a> q  r'],
    ),
    (
        "android-xml",
        '<resources><string name="s">\ue000 <b>x</b></string></resources>',
        {},
        ["1:26 s=\ue000 <b>x</b>"],
    ),
    (
        "android-xml",
        '<resources><array name="n"><item>Yes</item><item>No</item></array></resources>',
        {},
        ["1:25 n={'0': 'Yes', '1': 'No'}"],
    ),
    ("json", b'{"a": "\xe9"}', {}, ["1:2 a=\ufffd", "1:8 !encoding"]),
    ("json", '{"a": "é"}'.encode("latin-1"), {"encoding": "latin-1"}, ["1:2 a=é"]),
    ("json", "", {}, ["1:1 !unreadable"]),
    ("json", "nothing", {}, ["1:1 !unreadable"]),
    (
        "json",
        '{"bunk": {"en": "Bunk", "de": "Lager"}}',
        {"layout": "locale-leaved"},
        ["1:11 en:bunk=Bunk", "1:25 de:bunk=Lager"],
    ),
    (
        "json",
        '{"en": {"a": {"b": "x"}}, "de": {"a": {"b": "y"}}}',
        {"layout": "locale-rooted"},
        ["1:15 en:a.b=x", "1:40 de:a.b=y"],
    ),
    # strings
    (
        "strings",
        '/* On the door */\n"a" = "x";\n\n// no\n\nb = \'y\';',
        {},
        ["2:1 a=x #comment=On the door", "6:1 b=y"],
    ),
    ("strings", '"a\\"b" = "x\\n\\U00e9\\101";', {}, ['1:1 a"b=x\néA']),
    ("strings", '"a";', {}, ["1:1 a=a"]),
    ("strings", '"a" = "x"\n"b" = "y";', {}, ["1:1 a=x", "2:1 b=y", "1:10 !damaged"]),
    ("strings", '"a" = "x;\n"b" = "y";\n"c" = "z";', {}, ["2:1 b=y", "3:1 c=z", "1:7 !damaged"]),
    ("strings", '"a" "x";\n"b" = "y";', {}, ["2:1 b=y", "1:4 !damaged"]),
    ("strings", '"a" = "x";\n/* never closed', {}, ["1:1 a=x", "2:1 !damaged"]),
    ("strings", '"a" = "x";\n"a" = "x";', {}, ["2:1 a=x", "2:1 !duplicate-key"]),
    ("strings", '"a" = "ü";'.encode("utf-16"), {}, ["1:1 a=ü"]),
    ("strings", '"a" = "ü";'.encode("utf-16-be"), {}, ["1:1 a=ü"]),
    ("strings", b'"a" = "\xfc";', {}, ["1:1 a=\ufffd", "1:8 !encoding"]),
    ("strings", "", {}, []),
    # RESX
    (
        "resx",
        '<root>\n  <data name="a b" xml:space="preserve">\n    <value> x &amp; y </value>\n    <comment>c</comment>\n  </data>\n</root>',
        {},
        ["2:15 a b= x & y  #comment=c"],
    ),
    (
        "resx",
        '<root><!-- <data name="z"><value>q</value></data> --><data name="a"><value/></data></root>',
        {},
        ["1:66 a="],
    ),
    (
        "resx",
        '<root><data name="p" type="x"><value>1</value></data><data name="&gt;&gt;q"><value>1</value></data><data name="r"/></root>',
        {},
        ["1:112 r="],
    ),
    (
        "resx",
        '<root><data name="a"><value>x</value></data>\n<data name="a"><value>y</value></data></root>',
        {},
        ["2:13 a=y", "2:13 !duplicate-key"],
    ),
    (
        "resx",
        '<root><data name="a"><value>x</value></data><data',
        {},
        ["1:19 a=x", "1:50 !damaged"],
    ),
    ("resx", "<other/>", {}, ["1:1 !unreadable"]),
    # Android
    (
        "android-xml",
        '<resources>\n<!-- why --><string name="a">It\\\'s "two  sp"\n  on\\u0041 </string></resources>',
        {},
        ["2:27 a=It's two  sp onA #comment=why"],
    ),
    (
        "android-xml",
        '<resources><string name="a">x &lt;b> <b>y</b> <xliff:g xmlns:xliff="urn:oasis:names:tc:xliff:document:1.2" id="n">%1$s</xliff:g></string></resources>',
        {},
        ["1:26 a=x <b> <b>y</b> %1$s"],
    ),
    (
        "android-xml",
        '<resources><plurals name="p"><item quantity="one">1</item><item quantity="other">%d</item></plurals></resources>',
        {},
        ["1:27 p={'one': '1', 'other': '%d'}"],
    ),
    (
        "android-xml",
        '<resources><string-array name="p"><item>x</item><item>y</item></string-array><color name="c">#fff</color></resources>',
        {},
        ["1:32 p={'0': 'x', '1': 'y'}"],
    ),
    (
        "android-xml",
        '<resources><string name="a" translatable="false">x</string><string name="b" product="tablet">y</string></resources>',
        {},
        ["1:26 a=x #fixed=True", "1:74 b[tablet]=y"],
    ),
    (
        "android-xml",
        '<!DOCTYPE resources [<!ENTITY app "Tarnhut">]>\n<resources><string name="a">&app; &#65;</string></resources>',
        {},
        ["2:26 a=Tarnhut A"],
    ),
    (
        "android-xml",
        '<resources><string name="a">x</string>\n<string name="b">y</strin></resources>',
        {},
        ["1:26 a=x", "2:15 b=y", "2:27 !damaged"],
    ),
    # YAML
    (
        "yaml",
        "en:\n  a: Bunk\n  b: |\n    two\n    lines\n  c: >-\n    fold\n    ed\n  n: ~\n  t: 1_0\n",
        {"layout": "locale-rooted"},
        [
            "2:3 en:a=Bunk",
            "3:3 en:b=two\nlines\n",
            "6:3 en:c=fold ed",
            "9:3 en:n=None",
            "10:3 en:t=1_0",
        ],
    ),
    (
        "yaml",
        "x: &b {p: one, q: two}\ny:\n  <<: *b\n  q: three\nl: [a, b]\n",
        {},
        [
            "1:8 x.p=one",
            "1:16 x.q=two",
            "1:8 y.p=one",
            "4:3 y.q=three",
            "5:1 l={'0': 'a', '1': 'b'}",
        ],
    ),
    ("yaml", 'a: x\nb: "open\nc: y\n', {}, ["1:1 a=x", "3:1 c=y", "2:4 !damaged"]),
    ("yaml", "a: x\n  b: : y\nc: z\n", {}, ["1:1 a=x", "3:1 c=z", "2:4 !damaged"]),
    ("yaml", "a: x\na: y\n", {}, ["2:1 a=y", "2:1 !duplicate-key"]),
    (
        "yaml",
        'no: x\n"on": y\n1.5: z\n',
        {},
        ["1:1 no=x", "2:1 on=y", "3:1 1.5=z", "1:1 !typed-key", "3:1 !typed-key"],
    ),
    ("yaml", "a: !!python/object/apply:os.system x\n", {}, ["1:1 a=x", "1:4 !damaged"]),
    ("yaml", "a: x\nb: @y\n", {}, ["1:1 a=x", "2:4 !damaged"]),
    ("yaml", "a: &a [*a]\n", {}, ["1:1 a=None", "1:8 !damaged"]),
    ("yaml", "- a\n", {}, ["1:1 !unreadable"]),
    # TOML
    (
        "toml",
        'a = "x"\n[b.c]\nd = """two\nlines"""\n"q r" = \'y\'\n[[t]]\nn = 1\n',
        {},
        ["1:1 a=x", "3:1 b.c.d=two\nlines", "5:1 b.c.q r=y", "7:1 t.0.n=1"],
    ),
    (
        "toml",
        'a = "x"\na = "y"\nb =\nc = "z"\n',
        {},
        ["2:1 a=y", "4:1 c=z", "2:1 !duplicate-key", "3:1 !damaged"],
    ),
    # ARB
    (
        "arb",
        '{"@@locale": "de", "a": "x",\n "@a": {"description": "why"}, "b": "y"}',
        {},
        ["1:20 a=x #comment=why", "2:32 b=y"],
    ),
    ("arb", '{"a": "x", "a": "y"}', {}, ["1:12 a=y", "1:12 !duplicate-key"]),
    # properties
    (
        "properties",
        "# why\na = x\\\n   y\\u00e9\nb:z\nc  w\\:\n! no\n\nd\\ e=\\t1\n",
        {},
        ["2:1 a=xyé #comment=why", "4:1 b=z", "5:1 c=w:", "8:1 d e=\t1"],
    ),
    ("properties", b"a=\xe9\nb=\n", {}, ["1:1 a=é", "2:1 b="]),
    ("properties", "a=é\r\nb = \\\\\r\nc=1", {}, ["1:1 a=é", "2:1 b=\\", "3:1 c=1"]),
    ("properties", "a=1\na=1\n", {}, ["2:1 a=1", "2:1 !duplicate-key"]),
    ("properties", "a=\\u12\n", {}, ["1:1 a=u12", "1:3 !damaged"]),
    ("properties", "\ufeffa=1\n", {}, ["1:1 a=1", "1:1 !encoding"]),
    # PO
    (
        "po",
        'msgid ""\nmsgstr "Language: pl\\n"\n\n#. why\nmsgctxt "m"\nmsgid "Open"\nmsgstr "Ot"\n"\\"w"\n',
        {},
        ['6:1 m\x04Open=Ot"w #comment=why'],
    ),
    (
        "po",
        'msgid ""\nmsgstr "Language: pl\\n"\nmsgid "n"\nmsgid_plural "ns"\nmsgstr[0] "a"\nmsgstr[1] "b"\nmsgstr[2] "c"\n',
        {},
        ["3:1 n={'one': 'a', 'few': 'b', 'many': 'c'}"],
    ),
    (
        "po",
        '#, fuzzy\nmsgid "x"\nmsgstr "y"\n#~ msgid "old"\n#~ msgstr "z"\nmsgid "e"\nmsgstr ""\n',
        {},
        ["2:1 x=None", "6:1 e=None"],
    ),
    (
        "po",
        'msgid "a"\nmsgstr "b\nmsgid "c"\nmsgstr "d"\n',
        {},
        ["1:1 a=b", "3:1 c=d", "2:8 !damaged"],
    ),
    ("po", 'msgid "a"\nmsgstr "b"\nmsgid "a"\nmsgstr "c"\n', {}, ["3:1 a=c", "3:1 !duplicate-key"]),
    # XLIFF
    (
        "xliff",
        '<xliff version="1.2"><file source-language="en" target-language="de"><body>\n'
        '<trans-unit id="a"><source>A <g id="1">x</g></source><target>B <g id="1">y</g></target><note>n</note></trans-unit>\n'
        '<trans-unit id="b" translate="no"><source>q</source><target/></trans-unit></body></file></xliff>',
        {},
        ['2:17 a=B <g id="1">y</g> #comment=n', "3:17 b=None #fixed=True"],
    ),
    (
        "xliff",
        '<xliff xmlns="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="en" trgLang="fr"><file id="f">\n'
        '<unit id="u"><segment><source>A. </source><target>B. </target></segment>'
        "<segment><source>C</source><target>D</target></segment></unit></file></xliff>",
        {},
        ["2:11 u=B. D"],
    ),
    (
        "xliff",
        '<xliff version="1.2"><file source-language="en"><body><trans-unit id="a"><source>A</source></trans-unit></body></file></xliff>',
        {},
        ["1:71 a=A"],
    ),
    ("xliff", "<other/>", {}, ["1:1 !unreadable"]),
    # TS
    (
        "ts-xml",
        '<TS language="pl"><context><name>D</name>\n<message><source>a</source><comment>c</comment>'
        "<translation>b</translation></message>\n<message><source>x</source>"
        '<translation type="unfinished"></translation></message>\n<message><source>o</source>'
        '<translation type="vanished">o</translation></message></context></TS>',
        {},
        ["2:10 D\x04a\x04c=b", "3:10 D\x04x=None"],
    ),
    # XAML
    (
        "xaml",
        '<ResourceDictionary xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml" xmlns:s="u">\n'
        '<!-- c --><s:String x:Key="A">x  &amp;\n y</s:String><Style x:Key="q"/></ResourceDictionary>',
        {},
        ["2:28 A=x & y #comment=c"],
    ),
    # string catalogs and dictionaries
    (
        "xcstrings",
        '{"sourceLanguage": "en", "strings": {\n"Bunk": {"comment": "c", "localizations": {"de": {"stringUnit": {"value": "Lager"}}}}}}',
        {"layout": "locale-leaved"},
        ["2:1 en:Bunk=Bunk #comment=c", "2:1 de:Bunk=Lager #comment=c"],
    ),
    (
        "stringsdict",
        "<plist><dict>\n<key>huts</key><dict><key>NSStringLocalizedFormatKey</key><string>In %#@n@!</string>"
        "<key>n</key><dict><key>one</key><string>%d hut</string><key>other</key><string>%d huts</string></dict></dict></dict></plist>",
        {},
        ["2:1 huts={'one': 'In %d hut!', 'other': 'In %d huts!'}"],
    ),
    # code
    (
        "code",
        'export default {\n a: "x", b: { c: `y`, d: f(`z`) }, "e": "p" + "q", l: ["r"] } as const;',
        {"suffix": ".ts"},
        [
            "2:2 a=x",
            "2:15 b.c=y",
            "2:23 b.d=f(`z`)",
            "2:36 e=pq",
            "2:52 l={'0': 'r'}",
            "2:26 !computed",
        ],
    ),
    ("code", 'const de = { "ü": "é" };\nexport { de };', {"suffix": ".js"}, ["1:14 ü=é"]),
    ("code", 'register("de", { a: "x" });', {"suffix": ".js"}, ["1:18 a=x"]),
    ("code", "export default { a: '\\ud83d\\ude00' };", {"suffix": ".ts"}, ["1:18 a=😀"]),
    ("code", "const m = {'a': '\\ud83d\\ude00'};", {"suffix": ".dart"}, ["1:12 a=😀"]),
    (
        "android-xml",
        '<resources><string name="a">\\ud83d\\ude00</string></resources>',
        {},
        ["1:26 a=😀"],
    ),
    (
        "code",
        "module.exports = { a: 'x', a: 'y' };",
        {"suffix": ".cjs"},
        ["1:28 a=y", "1:28 !duplicate-key"],
    ),
    (
        "code",
        "<?php\nreturn [\n 'a' => 'It\\'s', 'b' => ['c' => \"x\\n\" . 'y', 'd' => fn ($n) => $n],\n 'h' => <<<EOT\n  two\n  EOT,\n];",
        {"suffix": ".php"},
        ["3:2 a=It's", "3:26 b.c=x\ny", "3:46 b.d=fn ($n) => $n", "4:2 h=two", "3:53 !computed"],
    ),
    (
        "code",
        'TEXTS = {"a": "x" "y", "b": f"{z}"}\n',
        {"suffix": ".py"},
        ["1:10 a=xy", '1:24 b=f"{z}"', "1:29 !computed"],
    ),
    ("code", "function f() {}", {"suffix": ".js"}, ["1:1 !unreadable"]),
    (
        "properties",
        "a\\\n  b = x\nc \\\r\n = y\n\\\n# no\nd\u00a0e f\n",
        {},
        ["1:1 ab=x", "3:1 c=y", "7:1 d\u00a0e=f #comment=no"],
    ),
    ("yaml", "\ufeff\ufeffa: x\n", {}, ["1:1 !unreadable"]),
    (
        "code",
        "<?php\nreturn array_merge(require 'x.php', ['a' => 'A'],\n ['b' => ['c' => 'C']] + $d);",
        {"suffix": ".php"},
        ["2:38 a=A", "3:11 b.c=C", "2:20 !computed", "3:26 !computed"],
    ),
    ("code", "<?php return array_merge($a, $b);", {"suffix": ".php"}, ["1:14 !unreadable"]),
    (
        "code",
        "export default { ...base, a: 'A', b: { ...more, c: 'C' } };",
        {"suffix": ".js"},
        ["1:27 a=A", "1:49 b.c=C", "1:18 !computed", "1:40 !computed"],
    ),
    (
        "code",
        "const Map de = {'a': 'x' \"y\", 'b': r'p\\n', 'c': {'d': '''\nq'''}, 'e': '$n'};",
        {"suffix": ".dart"},
        ["1:17 a=xy", "1:31 b=p\\n", "1:50 c.d=q", "2:8 e='$n'", "2:13 !computed"],
    ),
    (
        "code",
        "<?php\n$t = array();\n$t['a'] = 'x';\n$t['b']['c'] = 'y';\n$t['b']['d'] = 'z';\n",
        {"suffix": ".php"},
        ["3:4 a=x", "4:9 b.c=y", "5:9 b.d=z"],
    ),
    (
        "code",
        "const w = { a: {} };\nw.a = { b: 'x' };\nwindow.w = w;\nexport default w;",
        {"suffix": ".js"},
        ["2:9 a.b=x"],
    ),
    (
        "code",
        "(function (g, f) { module.exports = f(); })(this, function () { var de = { a: 'x' }; return de; });",
        {"suffix": ".js"},
        ["1:76 a=x"],
    ),
    (
        "code",
        'export default {\n a: "x"\n b: "é",\n c: "z,\n d: "w",\n};\n',
        {"suffix": ".ts"},
        ["2:2 a=x", "3:2 b=é", "4:2 c=z,", "5:2 d=w", "2:5 !damaged"],
    ),
    (
        "code",
        "<?php return ['a' => 'x' 'b' => 'y'];",
        {"suffix": ".php"},
        ["1:15 a=x", "1:26 b=y", "1:22 !damaged"],
    ),
    ("strings", plistlib.dumps({"a": "x"}, fmt=plistlib.FMT_BINARY), {}, ["1:1 a=x"]),
    ("strings", b"<plist><dict>\n<key>a</key><string>x</string></dict></plist>", {}, ["2:1 a=x"]),
    ("strings", b"bplist00nothing", {}, ["1:1 !unreadable"]),
    (
        "sheet",
        "Hut texts;;\nKey;en;de\nk;x;y\n",
        {"layout": "columns", "suffix": ".csv"},
        ["3:3 en:k=x", "3:5 de:k=y"],
    ),
    (
        "sheet",
        "en,id,de\nx,k,y\n",
        {"layout": "columns", "suffix": ".csv"},
        ["2:1 en:k=x", "2:5 de:k=y"],
    ),
    # sheets
    (
        "sheet",
        "Key\tNotes\tMax\ten\tde\nk\tn\t9\tx\t\n",
        SHEET,
        ["2:7 en:k=x #comment=n #limit=9", "2:9 de:k=None #comment=n #limit=9"],
    ),
    (
        "sheet",
        'Key;en;de\nk;"x;""y""\nz";b\n',
        {"layout": "columns", "suffix": ".csv"},
        ['2:3 en:k=x;"y"\nz', "3:4 de:k=b"],
    ),
    (
        "sheet",
        "Key,en\nk,x,y\nl\n,z\n",
        {"layout": "columns", "suffix": ".csv"},
        ["2:3 en:k=x", "3:1 en:l=None", "2:1 !ragged-row", "3:1 !ragged-row", "4:1 !damaged"],
    ),
    (
        "sheet",
        'Key,en\nk,"x\nl,y\n',
        {"layout": "columns", "suffix": ".csv"},
        ['2:3 en:k="x', "3:3 en:l=y", "2:1 !damaged"],
    ),
    (
        "sheet",
        "Key,en\nk,x\nk,x\n",
        {"layout": "columns", "suffix": ".csv"},
        ["3:3 en:k=x", "3:1 !duplicate-key"],
    ),
    (
        "sheet",
        'Key,en\nk,5" tall\nl,"open\n',
        {"layout": "columns", "suffix": ".csv"},
        ['2:3 en:k=5" tall', '3:3 en:l="open', "3:1 !damaged"],
    ),
    ("sheet", "Id,en\nk,x\n", SHEET | {"suffix": ".csv"}, ["1:1 !unreadable"]),
    ("sheet", "", {"layout": "columns"}, ["1:1 !unreadable"]),
]


@pytest.mark.parametrize(
    ("name", "text", "options", "expected"),
    [pytest.param(*case, id=f"{case[0]} {str(case[1])[:40]!r}") for case in CASES],
)
def test_reading(
    name: str, text: str | bytes, options: dict[str, Any], expected: list[str]
) -> None:
    assert shown(name, text, **options) == expected


_texts = st.text(
    st.characters(exclude_categories=("Cs", "Cc"), exclude_characters="\ufffe\uffff"), max_size=12
)
_keys = st.text("abcdefgh_", min_size=1, max_size=6)
_entries = st.dictionaries(_keys, _texts, min_size=1, max_size=6)


def _written(name: str, entries: dict[str, str]) -> bytes:
    from xml.sax.saxutils import escape

    if name == "json":
        return json.dumps(entries, ensure_ascii=False, indent=1).encode()
    if name == "strings":
        lines = [
            f'"{key}" = "{text.replace(chr(92), chr(92) * 2).replace(chr(34), chr(92) + chr(34))}";'
            for key, text in entries.items()
        ]
        return "\n".join(lines).encode()
    if name == "properties":
        escaped = ((key, text.replace("\\", "\\\\")) for key, text in entries.items())
        return "".join(
            f"{key}={chr(92) if text[:1].isspace() else ''}{text}\n" for key, text in escaped
        ).encode()
    if name == "po":
        quoted = ((key, json.dumps(text, ensure_ascii=False)) for key, text in entries.items())
        head = 'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n'
        return (head + "".join(f'msgid "{key}"\nmsgstr {text}\n' for key, text in quoted)).encode()
    if name in ("yaml", "toml"):
        sign = ":" if name == "yaml" else " ="
        special = {ord(sign): f"\\u{ord(sign):04x}" for sign in "\u2028\u2029\ufeff"}
        dumped = {key: json.dumps(text, ensure_ascii=False) for key, text in entries.items()}
        return "".join(
            f'"{key}"{sign} {text.translate(special)}\n' for key, text in dumped.items()
        ).encode()
    if name == "resx":
        rows = "".join(
            f'<data name="{key}"><value>{escape(text)}</value></data>'
            for key, text in entries.items()
        )
        return f"<root>{rows}</root>".encode()
    rows = "".join(
        f'<string name="{key}">"{escape(text.replace(chr(92), chr(92) * 2).replace(chr(34), chr(92) + chr(34)))}"</string>\n'
        for key, text in entries.items()
    )
    return f"<resources>{rows}</resources>".encode()


@pytest.mark.parametrize(
    "name", ["json", "strings", "resx", "android-xml", "properties", "po", "yaml", "toml"]
)
@settings(max_examples=share(60))
@given(entries=_entries)
def test_what_is_written_is_read_and_each_key_stands_in_its_span(
    name: str, entries: dict[str, str]
) -> None:
    data = _written(name, entries)
    reading = read(name, data)
    wanted = {key: text or None for key, text in entries.items()} if name == "po" else entries
    assert dict(zip(reading.columns[0].keys, reading.columns[0].texts, strict=True)) == wanted
    assert not reading.defects
    for (_, key), site in (
        formats.load(name).locate(data, ReadOptions(), [(None, key) for key in entries]).items()
    ):
        start, end = site.key
        assert data[start:end].decode().strip('"') == key
        assert site.text is not None and site.entry[0] <= site.key[0] <= site.text[0] <= site.text[
            1
        ] <= site.entry[1] <= len(data)


@pytest.mark.parametrize("name", formats.names())
@settings(max_examples=share(80))
@given(
    data=st.one_of(
        st.binary(max_size=80), st.text('{}[]":,<>/=;\t\n "a&\\', max_size=60).map(str.encode)
    )
)
def test_any_bytes_give_entries_and_defects_at_places_inside_the_file(
    name: str, data: bytes
) -> None:
    options = ReadOptions(
        layout=formats.load(name).layouts[0], suffix={"sheet": ".csv", "code": ".ts"}.get(name, "")
    )
    reading = formats.load(name).read(data, options)
    decoded = decode(data)
    last = Lines(decoded.text).place(len(decoded.text))[0]
    for defect in reading.defects:
        assert 1 <= defect.line <= last + 1 and defect.column >= 1, defect
    for column in reading.columns:
        assert len(column.keys) == len(column.texts) == len(column.key_set)
        sites = formats.load(name).locate(
            data, options, [(column.label, key) for key in column.keys]
        )
        assert all(1 <= site.line <= last for site in sites.values())


def test_the_format_is_seen_from_name_and_contents() -> None:
    cases = {
        ("a.json", b"{}"): "json",
        ("s.xml", b"<resources/>"): "android-xml",
        ("x.txt", b"{}"): None,
        ("T.RESX", b""): "resx",
    }
    for (file, data), expected in cases.items():
        found = formats.guess(file, data)
        assert (found.name if found else None) == expected
    assert formats.likely(b'"a" = "b";') == ("strings",)


def entries_of(reading: Reading) -> dict[tuple[str | None, str | None, str], Any]:
    return {
        (column.label, column.part, key): (text, column.rare.forms.get(index))
        for column in reading.columns
        for index, (key, text) in enumerate(zip(column.keys, column.texts, strict=True))
    }


_hard = st.lists(
    st.sampled_from(
        [
            *(
                "word",
                "é",
                "שלום",
                "\u202b",
                "🏔",
                "\U0001f9d7\u200d",
                "%",
                "%s",
                "{",
                "}}",
                "{{x}}",
                "$n",
                "${x}",
            ),
            *(
                '"',
                "'",
                '""',
                "\\",
                "\\n",
                "\n",
                "\r\n",
                "\t",
                " ",
                "  ",
                "&",
                "<",
                ">",
                "<b>",
                "&amp;",
                "]]>",
                ":",
            ),
            *(
                "#",
                "- ",
                ",",
                ";",
                "|",
                "*a",
                "@x",
                "?",
                "!",
                "=",
                "~",
                "no",
                "1",
                "`",
                "<!--",
                "\u2028",
                "\x7f",
                "\xa0",
            ),
        ]
    ),
    max_size=6,
).map("".join)
_PLACES = [  # of formats whose way of writing depends on the file
    *((name, SEEDS[name], {}) for name in sorted(SEEDS)),
    ("code", "<?php\nreturn ['a' => 'x', 'b' => \"y\", 'c' => ['d' => 'z']];\n", {"suffix": ".php"}),
    ("code", "const Map de = {'a': 'x', \"b\": r'p', 'c': {'d': \'\'\'q\'\'\'}};\n", {"suffix": ".dart"}),
    ("code", "TEXTS = {'a': 'x', \"b\": 'y', 'c': {'d': \"\"\"z\"\"\"}}\n", {"suffix": ".py"}),
    ("code", "export default { a: 'x', b: `y`, c: { d: \"p\" + 'q' } };\n", {"suffix": ".js"}),
    ("yaml", "a: x\nb: 'y'\nl:\n  - p  # one\n  - q\n# behind\nc: |\n  two\n  lines\nd: {e: f, g: h}\n", {}),
    ("sheet", 'Key;de;fr\na;x;"y"\nb;p;q\n', {"suffix": ".csv"}),
    ("sheet", "Key\tde\tfr\na\tx\ty\nb\tp\tq\n", {"suffix": ".tsv"}),
    ("strings", '<plist><dict><key>a</key><string>x</string><key>b</key><string>y</string></dict></plist>', {}),
    ("resx", "<root><data name='a'><value>x</value></data><data name='b'><comment>c</comment></data></root>", {}),
    ("properties", "a=\\\n  x\nb : y\nc z\n", {}),
]  # fmt: skip


@pytest.mark.parametrize(("name", "seed", "how"), _PLACES)
@settings(max_examples=share(60))
@given(
    text=_hard,
    ends=st.sampled_from(["\n", "\r\n"]),
    encoding=st.sampled_from(["", "utf-16", "latin-1"]),
)
def test_a_text_that_is_replaced_is_read_again_and_nothing_else_changes(
    name: str, seed: str, how: dict[str, Any], text: str, ends: str, encoding: str
) -> None:
    form = formats.load(name)
    if encoding == "utf-16" and form.reads.takes_wide == "":
        encoding = ""
    if encoding == "latin-1" and (
        form.writes.escape is None or not seed.isascii() or "<" in seed[:9]
    ):
        encoding = ""
    seed = seed.replace("#, fuzzy\n", "").replace("f: *d\n", "").replace("  <<: *d\n", "  i: j\n")
    data = seed.replace("\n", ends).encode(encoding or "utf-8")
    kind = {"sheet": ".csv", "code": ".ts"}.get(name, "")
    options = ReadOptions(
        **{"layout": form.layouts[0], "suffix": kind, "encoding": encoding or None, **how}
    )
    before = form.read(data, options)
    old = entries_of(before)
    sites = form.locate(data, options, [(label, key) for label, _, key in old])
    assert any(site.text is not None for site in sites.values())
    for (label, part, key), (_, forms) in old.items():
        if sites[label, key].text is None:
            with pytest.raises(ValueError, match="no text"):
                form.replaced(data, options, {(label, key): text})
            continue
        try:
            changed = form.replaced(data, options, {(label, key): text})
        except ValueError:
            continue
        reading = form.read(changed, options)
        found = entries_of(reading)
        assert {entry for entry in old if old[entry] != found.get(entry)} <= {(label, part, key)}, (
            changed
        )
        kinds, known = ([defect.kind for defect in each.defects] for each in (reading, before))
        assert (
            found.keys() == old.keys() and len(kinds) <= len(known) and set(kinds) <= set(known)
        ), (changed, reading.defects)
        if not forms:
            assert found[label, part, key] == (text, None), (changed, old[label, part, key])


def test_a_text_that_a_format_cannot_hold_is_refused() -> None:
    for name, data, text in [
        ("resx", b"<root><data name='a'><value>x</value></data></root>", "\x01"),
        ("po", b'msgid "a"\nmsgstr "x"\n', ""),
        ("xaml", SEEDS["xaml"].encode(), " x"),
        ("toml", b'a = "x"\n', "\ud800"),
    ]:
        form = formats.load(name)
        (column,) = form.read(data, ReadOptions()).columns
        with pytest.raises(ValueError, match=r"\w"):
            form.replaced(data, ReadOptions(), {(None, column.keys[0]): text})


# ------------------------------------------------------------------------------------------------------------- workbooks, records


def workbook(*sheets: tuple[str, list[list[Any]]]) -> bytes:
    book = openpyxl.Workbook()
    del book[book.sheetnames[0]]
    for title, rows in sheets:
        sheet = book.create_sheet(title)
        for row in rows:
            sheet.append(row)
    buffer = io.BytesIO()
    book.save(buffer)
    return buffer.getvalue()


XLSX = {"layout": "columns", "suffix": ".xlsx"}
WORKBOOKS: list[tuple[str, bytes, list[str]]] = [
    (
        "a title, a blank row, numbers, a comment",
        workbook(
            (
                "T",
                [
                    ["Hut texts"],
                    [],
                    ["Key", "Notes", "en", "de-AT"],
                    ["a", "n", "x", None],
                    ["b", None, 5, True],
                ],
            )
        ),
        ["4:3 en:a=x #comment=n", "5:3 en:b=5", "4:4 de-AT:a=None #comment=n", "5:4 de-AT:b=TRUE"],
    ),
    (
        "a key twice, a cell too many",
        workbook(("T", [["Key", "en"], ["a", "x"], ["a", "y", "z"]])),
        ["3:2 en:a=y", "3:1 !duplicate-key", "3:1 !ragged-row"],
    ),
    ("no header", workbook(("T", [["what", "ever"]])), ["1:1 !unreadable"]),
    ("no workbook", b"PK\x03\x04nothing", ["1:1 !unreadable"]),
    ("the old form", b"\xd0\xcf\x11\xe0" + bytes(600), ["1:1 !unreadable"]),
]


@pytest.mark.parametrize(
    ("data", "expected"), [pytest.param(*case[1:], id=case[0]) for case in WORKBOOKS]
)
def test_workbooks(data: bytes, expected: list[str]) -> None:
    assert shown("sheet", data, **XLSX) == expected


def test_the_sheets_of_a_workbook_are_parts() -> None:
    data = workbook(
        ("Huts", [["Key", "en"], ["a", "x"]]),
        ("About", [["made by"]]),
        ("Trails", [["Key", "en"], ["a", "y"]]),
    )
    columns = read("sheet", data, **XLSX).columns
    assert [(column.part, column.label, column.texts) for column in columns] == [
        ("Huts", "en", ("x",)),
        ("Trails", "en", ("y",)),
    ]


def test_a_workbook_with_a_bomb_is_refused() -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("../../outside.xml", "x")
        archive.writestr("xl/workbook.xml", b" " * (200 * 1024 * 1024))
    assert "unpacks to more" in read("sheet", buffer.getvalue(), **XLSX).defects[0].detail
    entity = io.BytesIO()
    with zipfile.ZipFile(entity, "w") as archive:
        archive.writestr("xl/workbook.xml", '<!DOCTYPE x [<!ENTITY a "b">]><x>&a;</x>')
    assert "declares entities" in read("sheet", entity.getvalue(), **XLSX).defects[0].detail


RECORDS = {"layout": "records", "fields": {"list": "/rows", "key": "n", "text": "t"}}
RECORD_CASES: list[tuple[str, str, dict[str, Any], list[str]]] = [
    (
        "json",
        '{"rows": [{"n": 1, "t": "x"},\n {"n": 2, "t": null}, {"n": 3}]}',
        RECORDS,
        ["1:17 1=x", "2:8 2=None", "2:29 3=None"],
    ),
    (
        "json",
        '{"rows": [{"n": 1, "t": "x"}]}',
        RECORDS | {"names": {"1": "hut.stove"}},
        ["1:17 hut.stove=x"],
    ),
    (
        "yaml",
        "rows:\n- {n: a, t: x, l: de}\n- {n: a, t: y, l: fr}\n- {t: z, l: fr}\n- {n: b, t: z}\n",
        {"layout": "records", "fields": {"list": "/rows", "key": "n", "text": "t", "locale": "l"}},
        ["2:7 de:a=x", "3:7 fr:a=y", "4:3 !damaged", "5:3 !damaged"],
    ),
    (
        "json",
        '[{"n": "a", "t": "x"}, {"n": "a", "t": "x"}]',
        RECORDS | {"fields": {"key": "n", "text": "t"}},
        ["1:30 a=x", "1:30 !duplicate-key"],
    ),
    ("json", '{"other": []}', RECORDS, ["1:1 !unreadable"]),
    (
        "json",
        '{"rows": [{"n": 1, "t": {"one": "x", "other": "y"}}]}',
        RECORDS,
        ["1:17 1={'one': 'x', 'other': 'y'}"],
    ),
]


@pytest.mark.parametrize(("name", "text", "options", "expected"), RECORD_CASES)
def test_records(name: str, text: str, options: dict[str, Any], expected: list[str]) -> None:
    assert shown(name, text, **options) == expected


# --------------------------------------------------------------------------------------------------------- plurals in keys

PLURALS: list[tuple[str, list[str], dict[str, Any]]] = [
    ("suffixes", ["a_one", "a_other", "b"], {"a": {"one": "a_one", "other": "a_other"}, "b": "b"}),
    (
        "a suffix without its other",
        ["step_one", "step_two"],
        {"step_one": "step_one", "step_two": "step_two"},
    ),
    ("other alone is a name", ["sort_other", "b"], {"sort_other": "sort_other", "b": "b"}),
    (
        "the base is a message of its own",
        ["a", "a_one", "a_other"],
        {"a": "a", "a_one": "a_one", "a_other": "a_other"},
    ),
    (
        "sub-keys",
        ["a.b.one", "a.b.other", "a.c"],
        {"a.b": {"one": "a.b.one", "other": "a.b.other"}, "a.c": "a.c"},
    ),
    (
        "a branch with more than forms",
        ["a.one", "a.other", "a.title"],
        {"a.one": "a.one", "a.other": "a.other", "a.title": "a.title"},
    ),
    ("the older way", ["hut", "hut_plural"], {"hut": {"one": "hut", "other": "hut_plural"}}),
]


@pytest.mark.parametrize(
    ("keys", "expected"), [pytest.param(*case[1:], id=case[0]) for case in PLURALS]
)
def test_plural_forms_that_keys_spell(keys: list[str], expected: dict[str, Any]) -> None:
    column = Column(None, Keys(keys), tuple(keys))
    folded = plurals.fold(column, plurals.spelled([("en", column.keys)]), "en")
    forms = folded.rare.forms
    assert {
        key: forms.get(index, folded.texts[index]) for index, key in enumerate(folded.keys)
    } == expected


def test_numbered_forms_are_the_language_s_categories_in_their_order() -> None:
    english, polish = Keys(["hut", "hut_plural"]), Keys(["hut_0", "hut_1", "hut_2"])
    column = Column(None, polish, ("x", "y", "z"), Rare(comment={1: "c"}))
    folded = plurals.fold(column, plurals.spelled([("en", english), ("pl", polish)]), "pl")
    assert folded.rare == Rare(forms={0: {"one": "x", "few": "y", "many": "z"}}, comment={0: "c"})


BOTH = ["hut", "hut_plural"]


@pytest.mark.parametrize(
    ("tag", "keys", "expected"),
    [
        ("ja", BOTH, {"other": "hut"}),
        ("ja", ["hut"], {"other": "hut"}),
        ("de", ["hut"], {"one": "hut"}),
        (
            "ru",
            ["hut", "hut_plural_2", "hut_plural_5"],
            {"one": "hut", "few": "hut_plural_2", "many": "hut_plural_5"},
        ),
        ("ru", ["hut_0", "hut_1", "hut_2"], {"one": "hut_0", "few": "hut_1", "many": "hut_2"}),
    ],
)
def test_the_older_way_in_languages_of_one_form_and_of_many(
    tag: str, keys: list[str], expected: dict[str, str]
) -> None:
    column = Column(None, Keys(keys), tuple(keys))
    every = [("en", Keys(BOTH)), ("fr", Keys(BOTH)), (tag, column.keys)]
    assert plurals.fold(column, plurals.spelled(every), tag).rare.forms == {0: expected}


def test_a_key_that_few_locales_have_a_second_form_of_is_no_plural() -> None:
    every = [("en", Keys(["hut"])), ("fr", Keys(["hut"])), ("de", Keys(BOTH))]
    assert not plurals.spelled(every)


def test_the_place_of_a_message_is_that_of_its_form_for_other() -> None:
    data = b'{"a_one": "x",\n "a_other": "y"}'
    site = plurals.locate(formats.load("json"), data, ReadOptions(), [(None, "a")])[None, "a"]
    assert (site.line, site.column) == (2, 2)


# --------------------------------------------------------------------------------------------------- short ways and long ways


SUFFIXES = {"sheet": ".csv", "code": ".ts"}
QUICK = [name for name in formats.names() if formats.load(name).reads.quick is not None]
SEVERAL = [name for name in QUICK if not formats.load(name).habits.is_whole]
_LINES = (
    *(
        "a=b",
        "# c",
        "k : v \\",
        '"k" = "v";',
        "/* c */",
        'msgid "a"',
        'msgstr "b"',
        "#, fuzzy",
        "k,v",
        'k,"v, w",',
        '{"a": "b"}',
        "a: {b.c: [d, ~, {e: 1}]}",
        "a.b: *x",
        'c: { "d.e": ["f", null, `g`] },',
        "...a,",
    ),
    *(
        '<string name="a">x</string>',
        '<data name="a"><value>x &amp; y</value></data>',
        "<!-- c -->",
        "é",
        "]]>",
        "&a;",
        "",
    ),
)


@pytest.mark.parametrize("name", QUICK)
@settings(max_examples=share(150))
@given(
    cut=st.integers(0, 400),
    put=st.lists(st.sampled_from(_LINES), max_size=3),
    end=st.sampled_from(["\n", "\r\n", "\r", "\u2028"]),
    mark=st.sampled_from([b"", b"\xef\xbb\xbf"]),
    bad=st.sampled_from([b"", b"\xe9"]),
    layout=st.integers(0, 3),
)
def test_a_quick_reader_gives_what_the_careful_way_gives(
    name: str, cut: int, put: list[str], end: str, mark: bytes, bad: bytes, layout: int
) -> None:
    form = formats.load(name)
    seed = SEEDS[name]
    text = seed[:cut] + "\n".join(put) + seed[cut:]
    data = mark + text.replace("\n", end).encode() + bad
    way = form.layouts[layout % len(form.layouts)] if layout else form.layouts[0]
    options = ReadOptions(layout=way, suffix=SUFFIXES.get(name, ""))
    assert form.reads.quick is not None
    found = form.reads.quick(data, options)
    assert found is None or found == form.read_carefully(data, options)


_ROWS = (("a", "x"), ("b", "y"), ("c", "z"))
PLAIN = {
    "toml": lambda: "".join(f'{key} = "{text}"\n' for key, text in _ROWS),
    "xcstrings": lambda: json.dumps(
        {
            "sourceLanguage": "en",
            "strings": {
                key: {"localizations": {"en": {"stringUnit": {"state": "new", "value": text}}}}
                for key, text in _ROWS
            },
        }
    ),
    "json": lambda: json.dumps(dict(_ROWS)),
    "stringsdict": lambda: (
        "<plist><dict>"
        + "".join(
            f"<key>{key}</key><dict><key>NSStringLocalizedFormatKey</key><string>%#@n@</string><key>n</key><dict>"
            f"<key>other</key><string>{text}</string></dict></dict>"
            for key, text in _ROWS
        )
        + "</dict></plist>"
    ),
    "yaml": lambda: "".join(f"{key}: {text}\n" for key, text in _ROWS),
    "code": lambda: f"export default {json.dumps(dict(_ROWS))};\n",
    "arb": lambda: json.dumps({"@@locale": "de", **dict(_ROWS)}),
    "strings": lambda: "".join(f'"{key}" = "{text}";\n' for key, text in _ROWS),
    "properties": lambda: "".join(f"{key} = {text}\n" for key, text in _ROWS),
    "po": lambda: "\n".join(f'msgid "{key}"\nmsgstr "{text}"\n' for key, text in _ROWS),
    "sheet": lambda: "Key,en\n" + "".join(f"{key},{text}\n" for key, text in _ROWS),
    "android-xml": lambda: _xml("resources", '<string name="{}">{}</string>'),
    "resx": lambda: _xml("root", '<data name="{}"><value>{}</value></data>'),
    "xaml": lambda: _xml(
        'ResourceDictionary xmlns:s="u" xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml"',
        '<s:String x:Key="{}">{}</s:String>',
    ),
    "ts-xml": lambda: _xml(
        "TS", '<context><message id="{}"><translation>{}</translation></message></context>'
    ),
    "xliff": lambda: _xml(
        'xliff version="1.2"',
        '<trans-unit id="{}"><source>{}</source></trans-unit>',
        ("file", "body"),
    ),
}


def _xml(root: str, entry: str, inside: tuple[str, ...] = ()) -> str:
    opened = "".join(f"<{name}>" for name in inside)
    closed = "".join(f"</{name}>" for name in reversed(inside))
    entries = "\n".join(entry.format(*row) for row in _ROWS)
    return f"<{root}>{opened}{entries}{closed}</{root.split()[0]}>"


_MORE = (
    *("a: x\n", "  ", "\n", "[b]\n", "a = 'q'\n", "[a]\n", "b.c = 'q'\n", '"a" = "q";\n', "/* q */", "// q\n", "/*", "# q\n", "#", ","),
    *('"a": "q",', '{"id": "a", "words": "q"},', '{"id": 1, "words": "q"},', "{", "}", "[", "]", "null", "1", '"', "'", "\\", "é", "\0", "\x0b", "\u2028", "\ud7ff"),
    *('"e": {"localizations": {"it": {}}},', '"e": {"localizations": {"it": {"stringUnit": {"value": 1}}}},', '"state": "new",', '"comment": 1,'),
)  # fmt: skip


def test_what_stands_before_the_comments_at_the_end_is_not_overlooked() -> None:
    text = b'"a" = "x";;\n/* end */\n'
    assert formats.load("strings").reads.quick(text, ReadOptions()) is None  # type: ignore[misc]


@pytest.mark.parametrize(("name", "how", "text"), SOUND)
def test_a_sound_file_is_read_the_short_way(name: str, how: dict[str, Any], text: str) -> None:
    form, options = formats.load(name), ReadOptions(**how)
    assert form.reads.quick is not None
    found = form.reads.quick(text.encode(), options)
    assert found is not None and found == form.read_carefully(text.encode(), options)


@settings(max_examples=share(1_500))
@given(
    which=st.integers(0, len(SOUND) - 1),
    edits=st.lists(
        st.tuples(st.integers(0, 700), st.integers(0, 12), st.sampled_from(["", *_MORE])),
        min_size=1,
        max_size=3,
    ),
    repeat=st.booleans(),
)
def test_what_is_read_the_short_way_is_what_the_careful_way_reads(
    which: int, edits: list[tuple[int, int, str]], repeat: bool
) -> None:
    name, how, text = SOUND[which]
    for at, length, put in edits:
        at %= len(text) + 1
        piece = text[at : at + length]
        text = text[:at] + (piece * 2 if repeat and not put else put) + text[at + length :]
    form, options = formats.load(name), ReadOptions(**how)
    assert form.reads.quick is not None
    found = form.reads.quick(text.encode(), options)
    assert found is None or found == form.read_carefully(text.encode(), options)


SPOTTED = [form.name for form in formats.every() if form.finds.spot or form.finds.stands]


@settings(max_examples=share(1_000))
@given(
    which=st.integers(0, 10_000),
    edits=st.lists(
        st.tuples(st.integers(0, 700), st.integers(0, 12), st.sampled_from(["", *_MORE])),
        max_size=3,
    ),
)
def test_where_a_key_stands_is_the_same_by_both_ways(
    which: int, edits: list[tuple[int, int, str]]
) -> None:
    texts = [(name, how, text) for name, how, text in SOUND if name in SPOTTED]
    texts += [(name, {}, text) for name, text in SEEDS.items() if name in SPOTTED]
    name, how, text = texts[which % len(texts)]
    for at, length, put in edits:
        at %= len(text) + 1
        text = text[:at] + (put or text[at : at + length] * 2) + text[at + length :]
    form, options, data = formats.load(name), ReadOptions(**how), text.encode()
    for column in form.read(data, options).columns:
        for key in (*column.keys, "none", "a"):
            wanted = {(column.label, key)}
            assert form.locate(data, options, wanted) == form.locate_carefully(
                data, options, wanted
            )


@pytest.mark.parametrize("name", SEVERAL)
def test_a_quick_reader_reads_a_plain_file(name: str) -> None:
    form = formats.load(name)
    data = PLAIN[name]().encode()
    options = ReadOptions(layout=form.layouts[0], suffix=SUFFIXES.get(name, ""))
    assert form.reads.quick is not None
    found = form.reads.quick(data, options)
    assert found is not None and found == form.read_carefully(data, options)
    assert len(found.columns[0].keys) == 3


@settings(max_examples=share(60))
@given(
    st.lists(
        st.tuples(
            st.text('abc"\\\n%é', min_size=1, max_size=8),
            st.text('xyz"\\\n\té', max_size=8),
            st.sampled_from(["", "# c\n", "#. d\n#: f:1\n", "#: f:1\n#, fuzzy\n", "#, c-format\n"]),
            st.sampled_from([None, "menu"]),
        ),
        max_size=6,
    )
)
def test_the_short_way_through_po_gives_what_the_long_way_gives(
    rows: list[tuple[str, str, str, str | None]],
) -> None:
    def quoted(text: str) -> str:
        escaped = text.replace("\\", "\\\\").replace('"', '\\"').replace("\t", "\\t")
        pieces = escaped.split("\n")
        return (
            '""\n' + "\n".join(f'"{piece}\\n"' for piece in pieces[:-1]) + f'\n"{pieces[-1]}"'
            if len(pieces) > 1
            else f'"{escaped}"'
        )

    text = 'msgid ""\nmsgstr "Language: de\\n"\n'
    for source, target, comment, context in rows:
        text += (
            f"\n{comment}"
            + (f'msgctxt "{context}"\n' if context else "")
            + f"msgid {quoted(source)}\nmsgstr {quoted(target)}\n"
        )
    short, long = read("po", text.encode()), read("po", text.replace("\n", "\r\n").encode())
    assert entries_of(short) == entries_of(long)
    assert [column.rare for column in short.columns] == [column.rare for column in long.columns]
    reference = polib.pofile(text)
    wanted = {
        (f"{entry.msgctxt}\x04" if entry.msgctxt else "") + entry.msgid: None
        if "fuzzy" in entry.flags
        else entry.msgstr or None
        for entry in reference
    }
    assert {key: text for (_, _, key), (text, _) in entries_of(short).items()} == wanted


@settings(max_examples=share(40))
@given(
    st.lists(
        st.tuples(
            st.text("abc", min_size=1),
            st.text("xyz é\n", min_size=1),
            st.sampled_from([None, "new", "final"]),
        ),
        max_size=5,
    ),
    st.sampled_from(["1.2", "2.0"]),
)
def test_the_short_way_through_xliff_gives_what_the_long_way_gives(
    rows: list[tuple[str, str, str | None]], version: str
) -> None:
    units = ""
    for key, text, state in rows:
        mark = f' state="{state}"' if state else ""
        if version == "1.2":
            units += f'<trans-unit id="{key}"><source>{key}</source><target{mark}>{text}</target><note>n</note></trans-unit>\n'
        else:
            units += f'<unit id="{key}"><segment{mark}><source>{key}</source><target>{text}</target></segment></unit>\n'
    around = {
        "1.2": '<xliff version="1.2"><file source-language="en" target-language="de"><body>\n{}</body></file></xliff>',
        "2.0": '<xliff version="2.0" srcLang="en" trgLang="de"><file id="f">\n{}</file></xliff>',
    }[version]
    short = read("xliff", around.format(units).encode())
    long = read("xliff", around.format(units + "<!-- c -->").encode())
    assert entries_of(short) == entries_of(long)
    assert [(column.mark, column.rare) for column in short.columns] == [
        (column.mark, column.rare) for column in long.columns
    ]


@pytest.mark.parametrize(
    ("name", "content", "told"),
    [
        ("de.yml", "a: x\nb: @y\n", "de.yml:2:4  an unquoted text cannot begin with '@'"),
        ("de.yml", "a: x\nb: c: d\n", "de.yml:2:5  a ':' where no key can stand"),
        ("strings.xml", "<resources><string name='a'>A & B</string></resources>", "a bare '&'"),
        ("strings.xml", "<resources><string name='a'>A &B c</string></resources>", "that no ';'"),
    ],
)
def test_faults_of_syntax_are_told_in_plain_words(
    repo: Repo, name: str, content: str, told: str
) -> None:
    assert told in repo.write({name: content}).run("read", name).out


SLAVIC = "nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || n%100>=20) ? 1 : 2);"
HEADERS = [
    # the header, the language, what its forms stand for, what it lacks
    ("nplurals=2; plural=(n != 1);", "de", "one other", ""),
    ("nplurals=2; plural=(n != 1);", "pt-BR", "one other", ""),
    ("nplurals=2; plural=(n > 1);", "fr", "one other", ""),
    ("nplurals=2; plural=(n > 1);", "tr", "one other", ""),
    ("nplurals=2; plural=n%10!=1 || n%100==11;", "is", "one other", ""),
    ("nplurals=2; plural=(n % 10 == 1 && n % 100 != 11) ? 0 : 1;", "mk", "one other", ""),
    ("nplurals=1; plural=0;", "ja", "other", ""),
    (
        "nplurals=3; plural=(n==1 ? 0 : n%10>=2 && n%10<=4 && (n%100<10 || n%100>=20) ? 1 : 2);",
        "pl",
        "one few many",
        "",
    ),
    (SLAVIC, "ru", "one few many", ""),
    (SLAVIC, "uk", "one few many", ""),
    (SLAVIC, "hr", "one few other", ""),
    ("nplurals=3; plural=(n==1) ? 0 : (n>=2 && n<=4) ? 1 : 2;", "cs", "one few other", ""),
    ("nplurals=3; plural=(n==1) ? 0 : (n>=2 && n<=4) ? 1 : 2;", "sk", "one few other", ""),
    (
        "nplurals=4; plural=(n%100==1 ? 0 : n%100==2 ? 1 : n%100==3 || n%100==4 ? 2 : 3);",
        "sl",
        "one two few other",
        "",
    ),
    (
        "nplurals=4; plural=(n%100==1 ? 1 : n%100==2 ? 2 : n%100==3 || n%100==4 ? 3 : 0);",
        "sl",
        "other one two few",
        "",
    ),
    ("nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n != 0 ? 1 : 2);", "lv", "one other zero", ""),
    (
        "nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n%10>=2 && (n%100<10 || n%100>=20) ? 1 : 2);",
        "lt",
        "one few other",
        "",
    ),
    (
        "nplurals=3; plural=(n==1 ? 0 : (n==0 || (n%100 > 0 && n%100 < 20)) ? 1 : 2);",
        "ro",
        "one few other",
        "",
    ),
    (
        "nplurals=5; plural=n==1 ? 0 : n==2 ? 1 : n<7 ? 2 : n<11 ? 3 : 4;",
        "ga",
        "one two few many other",
        "",
    ),
    (
        "nplurals=4; plural=(n==1 || n==11) ? 0 : (n==2 || n==12) ? 1 : (n > 2 && n < 20) ? 2 : 3;",
        "gd",
        "one two few other",
        "",
    ),
    (
        "nplurals=6; plural=n==0 ? 0 : n==1 ? 1 : n==2 ? 2 : n%100>=3 && n%100<=10 ? 3 : n%100>=11 ? 4 : 5;",
        "ar",
        "zero one two few many other",
        "",
    ),
    # too few, and wrong
    ("nplurals=2; plural=(n != 1);", "ru", "one many", "few"),
    ("nplurals=2; plural=(n != 1);", "he", "one other", "two"),
    ("nplurals=1; plural=0;", "de", "other", "one"),
]


@pytest.mark.parametrize(("header", "language", "names", "lacking"), HEADERS)
def test_plural_headers_against_cldr(header: str, language: str, names: str, lacking: str) -> None:
    read = read_header(header)
    assert read is not None
    assert form_names(read, LanguageTag.parse(language)) == (
        tuple(names.split()),
        tuple(lacking.split()),
    )


@pytest.mark.parametrize(
    "header",
    [
        "",
        "nplurals=2",
        "nplurals=2; plural=;",
        "nplurals=2; plural=n ? 0;",
        "nplurals=2; plural=(n;",
        "nplurals=2; plural=n n;",
        "nplurals=2; plural=__import__('os');",
        "nplurals=2; plural=m != 1;",
        f"nplurals=2; plural={'(' * 200}n{')' * 200};",
        f"nplurals=2; plural={'!' * 400}n;",
    ],
)
def test_headers_that_cannot_be_read(header: str) -> None:
    assert read_header(header) is None


def test_a_header_divides_by_nothing() -> None:
    read = read_header("nplurals=2; plural=n % 0 + n / 0 - 1 * 2;")
    assert read is not None and isinstance(read.form(7), int)


_leaf = st.one_of(st.text("ab.é ", max_size=4), st.none(), st.integers(0, 9), st.booleans())
_tree = st.recursive(
    _leaf,
    lambda inner: st.one_of(
        st.lists(inner, max_size=3), st.dictionaries(st.text("ab.", max_size=3), inner, max_size=3)
    ),
    max_leaves=12,
)


@pytest.mark.parametrize(
    ("name", "suffix", "around"), [("yaml", ".yaml", "{}"), ("code", ".ts", "export default {};")]
)
@settings(max_examples=share(200))
@given(st.dictionaries(st.text("ab.", max_size=3), _tree, max_size=4))
def test_a_tree_is_the_same_by_the_short_way(
    name: str, suffix: str, around: str, tree: dict[str, Any]
) -> None:
    data = around.replace("{}", json.dumps(tree, ensure_ascii=False)).encode()
    form, options = formats.load(name), ReadOptions(suffix=suffix)
    assert form.reads.quick is not None
    found = form.reads.quick(data, options)
    assert found is None or found == form.read_carefully(data, options)


def test_every_format_has_a_row() -> None:
    assert {name for name, *_ in CASES} == set(formats.names())
