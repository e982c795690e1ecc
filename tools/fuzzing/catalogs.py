"""Catalogs of every format, mutated: nothing fails, hangs or eats memory, every place is inside the file and on the thing named."""

from __future__ import annotations

import random
import re
import time
from typing import Any

from lemmar import formats
from lemmar.basics.errors import IncompleteError
from lemmar.basics.text import Lines, decode
from lemmar.formats import Defect, Reading, ReadOptions

#: A small sound file of each format, with its rarer pieces.
SEEDS = {
    "document": "Bunks in a chain of huts.\n\nBring a sleeping bag.\n",
    "android-xml": '<resources xmlns:x="urn:oasis:names:tc:xliff:document:1.2"><!-- c --><string name="a">It\\\'s <b>x</b> <x:g id="n">%1$s</x:g></string>'
    '<plurals name="p"><item quantity="one">1</item><item quantity="other">%d</item></plurals><string-array name="l"><item>q</item></string-array></resources>',
    "arb": '{"@@locale": "de", "a": "x {n}", "@a": {"description": "d", "placeholders": {"n": {}}}, "b": "y"}',
    "code": '// c\nexport default {\n a: "x", "b": { c: `y`, d: f(1), e: ["p", \'q\'] },\n};\n',
    "json": '{"a": "x", "b": {"c": "y\\u00e9", "d": [1, 2.5, null, true]}, "e": [{"f": "z"}]}',
    "po": '# t\nmsgid ""\nmsgstr "Language: pl\\n"\n\n#, fuzzy\nmsgctxt "c"\nmsgid "a\\"b"\nmsgid_plural "as"\nmsgstr[0] "x"\nmsgstr[1] ""\n"y"\n#~ msgid "o"\n',
    "properties": "# c\na = x\\\n  y\nb:z\\u00e9\nc d\n! e\n\\=f = g\n",
    "resx": '<?xml version="1.0"?><root><data name="a" xml:space="preserve"><value>x &amp; y</value><comment>c</comment></data><data name="b"><value/></data></root>',
    "sheet": 'Key,Notes,en,de-AT\na,"n, m",x,"y ""z"""\nb,,q,\n',
    "strings": '/* c */\n"a" = "x\\n\\U00e9";\n// d\nb = \'y\';\n"c";\n',
    "stringsdict": "<plist><dict><key>h</key><dict><key>NSStringLocalizedFormatKey</key><string>%#@n@</string><key>n</key><dict><key>one</key><string>1"
    "</string><key>other</key><string>%d</string></dict></dict></dict></plist>",
    "toml": "a = \"x\"\n[b.\"c d\"]\ne = '''y\nz'''\nf = [\"p\", 1]\n[[g]]\nh = { i = 1 }\n",
    "ts-xml": '<!DOCTYPE TS><TS language="de"><context><name>D</name><message id="i" numerus="yes"><source>a</source><comment>c</comment><translation>'
    "<numerusform>x</numerusform></translation></message></context></TS>",
    "xaml": '<ResourceDictionary xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml" xmlns:s="u"><s:String x:Key="A">x</s:String></ResourceDictionary>',
    "xcstrings": '{"sourceLanguage": "en", "strings": {"a": {"localizations": {"de": {"variations": {"plural": {"one": {"stringUnit": {"value": "x"}}}}}}}}}',
    "xliff": '<xliff version="1.2"><file source-language="en" target-language="de" original="f"><body><group><trans-unit id="a" translate="no"><source>x<g id="1"/>'
    '</source><target state="new">y</target><note>n</note></trans-unit></group></body></file></xliff>',
    "yaml": "# c\na: x\nb: &d\n  c: |\n    y\n    z\n  e: 'q'\nf: *d\ng: [1, no, ~]\nh:\n  <<: *d\n",
}
#: More of some formats: other languages, another layout, a workbook.
MORE: list[tuple[str, ReadOptions, bytes]] = [
    ("code", ReadOptions(suffix=".php"), b"<?php\nreturn [\n 'a' => 'x\\'', \"b\" => [ 'c' => <<<E\n  y\n  E, 'd' => f(1)],\n];\n"),
    ("code", ReadOptions(suffix=".php"), b"<?php\n$t['a']['b'] = 'x';\n$t['a']['c'] = \"y\";\n"),
    ("code", ReadOptions(suffix=".dart"), b"const Map t = {\n 'a': 'x' \"y\", 'b': {'c': r'z', 'd': '$e'}, ...f,\n};\n"),
    ("code", ReadOptions(suffix=".py"), b"T = {'a': 'x' \"y\", 'b': {**c, 'd': f'{e}'}, 'g': [1, None]}\n"),
    (
        "json",
        ReadOptions(layout="records", fields={"list": "/r", "key": "k", "text": "t"}),
        b'{"r": [{"k": 1, "t": "x"}, {"k": 2, "t": null}]}',
    ),
    (
        "yaml",
        ReadOptions(layout="records", fields={"key": "k", "text": "t", "locale": "l"}),
        b"- {k: a, t: x, l: de}\n- k: b\n  t: |\n   y\n  l: fr\n",
    ),
    ("yaml", ReadOptions(layout="locale-rooted"), b"de:\n  a: x\n  b:\n    one: y\n    other: z\n"),
    (
        "xliff",
        ReadOptions(),
        b'<xliff version="2.0" srcLang="en" trgLang="de"><file id="f"><unit id="a"><segment state="final"><source>x</source><target>y</target></segment></unit></file></xliff>',
    ),
]
_RECORDS = {"list": "/messages", "key": "id", "text": "words"}
#: Files that are read the short way as they are: a format, how it is read, and the file.
SOUND: list[tuple[str, dict[str, Any], str]] = [
    ("json", {}, '{"a": "x", "b.c": "y", "d": {"e": "z", "f.g": ["p", "q"]}, "": "w"}'),
    ("json", {}, '{"@metadata": {"authors": ["A", "B"], "x": {"y": "z"}}, "a": "b", "c": {"d": "e"}}'),
    ("json", {"layout": "records", "fields": _RECORDS}, '{"messages": [{"id": "a", "words": "x"}, {"id": "b.c", "words": ""}]}'),
    ("code", {"suffix": ".ts"}, 'export default {\n  a: "x",\n  "b.c": \'y \\\' z\',\n  d: {\n    e: "f\\n",\n    $g: { h: "" }\n  },\n  i: "j",\n};\n'),
    ("code", {"suffix": ".js"}, "module.exports = {a: 'x', b: {c: 'y'}}\n"),
    ("code", {"suffix": ".php"}, "<?php\n\nreturn [\n    'a' => 'x \\' y',\n    \"b\" => [\n        'c.d' => \"z\",\n        'e' => [ 'f' => '' ]\n    ],\n];\n"),
    (
        "ts-xml",
        {},
        '<?xml version="1.0" encoding="utf-8"?>\n<!DOCTYPE TS>\n<TS version="2.1" language="pl">\n<context>\n <name>A&amp;b</name>\n <message>\n'
        '  <location filename="a.cpp" line="1"/>\n  <source>x %1</source>\n  <comment>c</comment>\n  <extracomment> e </extracomment>\n'
        '  <translatorcomment>t</translatorcomment>\n  <translation type="unfinished">y &lt;b&gt;</translation>\n </message>\n'
        ' <message id="k"><source>z</source><translation type="vanished">w</translation></message>\n</context>\n<context><name>B</name>\n'
        ' <message numerus="yes">\n  <source>%n</source>\n  <translation>\n   <numerusform>o &amp;lt;</numerusform>\n'
        '   <numerusform>f</numerusform>\n   <numerusform></numerusform>\n  </translation>\n </message>\n</context>\n</TS>\n',
    ),
    (
        "xaml",
        {},
        '<ResourceDictionary xmlns="http://schemas.microsoft.com/winfx/2006/xaml/presentation"\n xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml"'
        ' xmlns:s="clr-namespace:System;assembly=mscorlib">\n <s:String x:Key="a b">x &amp;  y</s:String>\n <s:String x:Key="c">z</s:String>\n'
        " <String x:Key=\"d\"> w\n</String>\n</ResourceDictionary>\n",
    ),
    (
        "android-xml",
        {},
        '<resources>\n  <string name="a">x &amp; y</string>\n  <plurals name="b">\n    <item quantity="one">%d z</item>\n    <item quantity="other">%d &lt; "w "</item>\n'
        '  </plurals>\n  <string-array name="c">\n    <item>p</item><item>q</item>\n  </string-array>\n</resources>\n',
    ),
    (
        "stringsdict",
        {},
        '<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE plist PUBLIC "-//x//y" "z">\n<plist version="1.0">\n<dict>\n <key>a</key>\n <dict>\n'
        "  <key>NSStringLocalizedFormatKey</key>\n  <string>b %#@n@ c</string>\n  <key>n</key>\n  <dict>\n   <key>NSStringFormatSpecTypeKey</key>\n"
        "   <string>NSStringPluralRuleType</string>\n   <key>one</key><string>%d d</string>\n   <key>other</key>\n   <string>%d &amp; e</string>\n"
        "  </dict>\n </dict>\n <key>f</key><dict><key>NSStringLocalizedFormatKey</key><string>%#@m@</string><key>m</key><dict><key>many</key>"
        "<string>g</string></dict></dict>\n</dict>\n</plist>\n",
    ),
    ("yaml", {}, "a: x\nb:\n  c: 'y'\n  d.e: \"z\"\n"),
    ("yaml", {}, "---\n# c\na: x y  # d\n\n\"b\":\n    c: 'it''s' # e\n    # f\n    d:\n      e: \"f: \\n\"\n    g: 1:2#3\nh: ~x\ni:\n"),
    ("yaml", {"layout": "locale-rooted"}, "'de-AT': # c\n  a: null\n\n  b: w, x:y\n# d\n'no':\n  a: 1_0\n"),
    ("yaml", {"layout": "locale-rooted"}, "de:\n  a: x\n  b.c: y\nfr:\n  a: z\n  d:\n    e: w\n"),
    ("toml", {}, "# c\na = \"x\" # d\n[b]\nc = 'y'\n[d.e]\nf-1 = \"z\"\n[b.g]\nh = ''\n"),
    ("strings", {}, '/* A\n text */\n"a" = "x";\n\n/* far */\n\n// near\n"b" = "y"; "c" = "";\n/* end */\n'),
    (
        "xcstrings",
        {"layout": "locale-leaved"},
        '{"sourceLanguage": "en", "strings": {"a": {"comment": "c", "localizations": {"de": {"stringUnit": {"state": "new", "value": "x"}}}},'
        ' "b": {"shouldTranslate": false, "localizations": {"de": {"variations": {"plural": {"one": {"stringUnit": {"state": "needs_review",'
        ' "value": "y"}}, "other": {"stringUnit": {"state": "translated", "value": "z"}}}}}, "fr": {"variations": {"device": {"watch":'
        ' {"stringUnit": {"state": "translated", "value": "w"}}}}}}}, "c": {"extractionState": "stale"}, "d": {}}, "version": "1.0"}',
    ),
    ("po", {}, '# t\nmsgid ""\nmsgstr "Language: pl\\n"\n\n#. c\n#: f:1\nmsgid "a"\nmsgstr "x"\n\n# end\n\n# more\n'),
]  # fmt: skip
#: Of processor time, for a mutant as it is; one that is pumped up to a few hundred kilobytes gets more.
_SECONDS = 4.0
_SECONDS_PUMPED = 20.0
_PUMPED = 200_000
#: What must be reported of a file that a strict parser of its format refuses, and must not be of one that it takes.
_FAULTS = {"damaged", "unreadable"}


def _strictly(name: str, data: bytes, options: ReadOptions) -> bool | None:
    """Whether a strict parser takes *data*; None where there is none for the format or it is no judge of this file."""
    if name in ("json", "arb", "xcstrings"):
        import msgspec

        try:
            return isinstance(msgspec.json.decode(data.decode("utf-8", "strict")), dict) or None
        except (msgspec.DecodeError, UnicodeDecodeError):
            return False
        except RecursionError:
            return None
    if name == "toml":
        import tomllib

        try:
            tomllib.loads(data.decode("utf-8-sig", "strict"))
        except (tomllib.TOMLDecodeError, UnicodeDecodeError):
            return False
        except RecursionError:
            return None
        return True
    if name in ("android-xml", "resx", "ts-xml", "xaml", "xliff"):
        from lxml import etree

        try:
            etree.fromstring(data, etree.XMLParser(resolve_entities=False, no_network=True))
        except (etree.XMLSyntaxError, ValueError):
            return False
        return None if b"<!" in data or b"&" in data else True
    return None


def mutated(data: bytes, chance: random.Random) -> bytes:
    """*data* with a few pieces lost, doubled, swapped, replaced or nested."""
    for _ in range(chance.randint(1, 4)):
        start = chance.randrange(len(data) + 1)
        end = min(len(data), start + chance.choice((0, 1, 1, 2, 5, 20)))
        piece = data[start:end]
        how = chance.randrange(8)
        if how == 0:
            data = data[:start] + data[end:]
        elif how == 1:
            data = data[:start] + piece * chance.choice((2, 3, 50)) + data[end:]
        elif how == 2:
            data = data[:start] + bytes([chance.randrange(256)]) + data[end:]
        elif how == 3:
            data = data[:start] + chance.choice(_PIECES) + data[end:]
        elif how == 4:
            data = data[:start] + chance.choice(_PIECES) * chance.choice((1, 1000)) + data[end:]
        elif how == 5:
            data = data[:start]
        elif how == 6:
            data = chance.choice((b"\xef\xbb\xbf", b"\xff\xfe", b"\n\n", b"")) + data
        else:
            data = data.replace(b"\n", chance.choice((b"\r\n", b"\r", "\u2028".encode(), b"\x0c")))
    return data


def pumped(data: bytes, chance: random.Random) -> bytes:
    """*data* with one short piece of it, or of what formats are made of, repeated until it is large: what is quadratic shows."""
    start = chance.randrange(len(data) + 1)
    piece = chance.choice(_PIECES) if chance.random() < 0.5 else data[start : start + chance.choice((1, 2, 3, 5, 9, 20))]
    piece = (piece + chance.choice((b"", b"", chance.choice(_PIECES)))) or b"a"
    return data[:start] + piece * (_PUMPED // len(piece)) + data[start:]


_PIECES = (
    *(b"\"", b"'", b"{", b"}", b"[", b"]", b"<", b">", b"</", b"<!--", b"-->", b"<![CDATA[", b"]]>", b"&", b"&a;", b"\\", b"\\u", b"\\ud800", b":", b",", b";", b"="),
    *(b"\n", b"\t", b"\0", b"\x1b", b"- ", b"? ", b"|", b">", b"*a", b"&a ", b"!!python/object:os.system ", b"<<: ", b"---\n", b"msgid \"\"\n", b"msgstr[9] \"\"\n"),
    *("\u202e".encode(), "é".encode(), b"\xe9", b"<a>", b"<!DOCTYPE r [<!ENTITY a \"aaaa\">]>", b"[[a]]\n", b"a.b.c = 1\n", b"/*", b"*/", b"//", b"#", b"@"),
)  # fmt: skip


def check(name: str, data: bytes, options: ReadOptions, seconds: float = _SECONDS) -> str | None:
    """Reads *data*; gives what is wrong with what came of it."""
    start = time.process_time()
    reader = formats.load(name)
    try:
        reading = reader.read(data, options)
    except IncompleteError:
        return _slow(start, seconds)
    short = reader.reads.quick(data, options) if reader.reads.quick is not None else None
    if short is not None and short != reader.read_carefully(data, options):
        return "the short way reads another thing than the careful way"
    text = decode(data).text
    lines = Lines(text).place(len(text))[0] + 1
    for defect in reading.defects:
        if not (1 <= defect.line <= lines and defect.column >= 1):
            return f"the defect {defect} lies outside of the file"
    for column in reading.columns:
        if len(column.keys) != len(column.texts) or len(column.keys.all) != len(column.keys):
            return "keys and texts do not run parallel"
        for (_, key), site in reader.locate(data, options, [(column.label, key) for key in column.keys]).items():
            if site.key is not None and not reading.defects and _plain(data, key) and not _named(data, site.key, key):
                return f"the key {key!r} is said to stand at {data[slice(*site.key)]!r}"
            spans = [span for span in (site.key, site.text, site.entry) if span]
            if not all(0 <= first <= last <= len(data) for first, last in spans):
                return f"the site {site} lies outside of the file"
    return _slow(start, seconds) or _judged(reading, _strictly(name, data, options)) or _put(name, data, options, reading)


def _put(name: str, data: bytes, options: ReadOptions, reading: Reading) -> str | None:
    """Whether a text that is put into a sound file changes anything but itself."""
    reader = formats.load(name)
    held = {
        (column.label, column.part, key): text for column in reading.columns for key, text in zip(column.keys, column.texts, strict=True)
    }
    shared = name == "yaml" and (b"*" in data or b"<<" in data)  # what an alias stands for changes with it
    names = [] if reading.defects or shared else [(label, key) for label, _, key in held]
    for label, key in names[:2] if len(set(names)) == len(names) else []:
        try:
            changed = reader.replaced(data, options, {(label, key): _WORDS})
        except ValueError:
            continue
        columns = reader.read(changed, options).columns
        found = {
            (column.label, column.part, name): text for column in columns for name, text in zip(column.keys, column.texts, strict=True)
        }
        if held.keys() != found.keys() or any(found[name] != text for name, text in held.items() if (name[0], name[2]) != (label, key)):
            return f"another text put in for {key!r} changes more: {changed[:300]!r}"
    return None


_WORDS = 'a "b" \\ é'


def _plain(data: bytes, key: str) -> bool:
    """Whether *key* is written as it is in *data*, which is ASCII, and nothing in there stands for something else."""
    return data.isascii() and re.fullmatch(r"[a-z]+(\.[a-z]+)*", key) is not None and not any(sign in data for sign in b"*&\\#@\0")


def _named(data: bytes, span: tuple[int, int], key: str) -> bool:
    return key.rpartition(".")[2].encode() in data[slice(*span)]


def _slow(start: float, most: float) -> str | None:
    seconds = time.process_time() - start
    return f"it took {seconds:.1f} seconds of processor time" if seconds > most else None


def _judged(reading: Reading, taken: bool | None) -> str | None:
    """Whether a fault is missed, or one reported that is none."""
    if taken is False and not reading.defects:
        return "a strict parser refuses the file, and nothing is reported of it"
    wrong = [defect for defect in reading.defects if defect.kind in _FAULTS and not _other_contents(defect)]
    if taken and wrong and "record" not in wrong[0].detail and any(column.keys for column in reading.columns):
        return f"a strict parser takes the file, and it is called damaged: {wrong[0]}"
    return None


def _other_contents(defect: Defect) -> bool:
    """Whether a sound file only holds something else than the format asks for."""
    return any(word in defect.detail for word in ("expected <", "holds a", "no 'strings'", "nested deeper", "byte-order"))


def _options(name: str) -> ReadOptions:
    return ReadOptions(layout=formats.load(name).layouts[0], suffix={"sheet": ".csv", "code": ".ts"}.get(name, ""))


_WORKBOOK = ReadOptions(layout="columns", suffix=".xlsx")


def workbook() -> bytes:
    """A small workbook, its parts not compressed, so that mutations reach what is in them."""
    import io
    import zipfile

    import openpyxl

    book = openpyxl.Workbook()
    sheet = book.create_sheet("Words", 0)
    for row in (["Key", "Notes", "en", "de"], ["a", "n", "x", "y"], ["b", None, 1.5, None]):
        sheet.append(row)
    packed, plain = io.BytesIO(), io.BytesIO()
    book.save(packed)
    with zipfile.ZipFile(packed) as source, zipfile.ZipFile(plain, "w", zipfile.ZIP_STORED) as target:
        for part in source.namelist():
            if "theme" not in part:
                target.writestr(part, source.read(part))
    return plain.getvalue()


class Catalogs:
    """The target: one mutant after the other, the formats in turn; each twentieth is pumped up."""

    def __init__(self, chance: random.Random, only: str | None = None) -> None:
        seeds = [(name, _options(name), SEEDS[name].encode()) for name in sorted(SEEDS)] + MORE + [("sheet", _WORKBOOK, workbook())]
        seeds += [(name, ReadOptions(**how), text.encode()) for name, how, text in SOUND]
        self._seeds = [seed for seed in seeds if only in (None, seed[0])]
        self._chance, self._count = chance, 0

    def next(self) -> tuple[str, bytes, str | None]:
        """What was tried, its bytes, and what is wrong with what came of it."""
        name, options, seed = self._seeds[self._count % len(self._seeds)]
        self._count += 1
        if self._count % 20:
            data = mutated(seed, self._chance)
            return name, data, check(name, data, options)
        data = pumped(seed, self._chance)
        return f"{name}, pumped up", data, check(name, data, options, _SECONDS_PUMPED)
