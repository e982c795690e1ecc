"""``make fuzz``: structure-aware mutations of small catalogs of every format; no crash, no hang, every place inside the file.

``python tools/fuzz.py [--seconds N] [--seed N] [--format NAME]`` stops at the first fault with the bytes that caused it.
"""

from __future__ import annotations

import argparse
import random
import sys
import time
from pathlib import Path

from lemmar import formats
from lemmar.model import ReadOptions
from lemmar.text import Lines, decode

#: A small sound file of each format, with its rarer pieces.
SEEDS = {
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
_SECONDS_FOR_ONE = 5.0


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


_PIECES = (
    *(b"\"", b"'", b"{", b"}", b"[", b"]", b"<", b">", b"</", b"<!--", b"-->", b"<![CDATA[", b"]]>", b"&", b"&a;", b"\\", b"\\u", b"\\ud800", b":", b",", b";", b"="),
    *(b"\n", b"\t", b"\0", b"\x1b", b"- ", b"? ", b"|", b">", b"*a", b"&a ", b"!!python/object:os.system ", b"<<: ", b"---\n", b"msgid \"\"\n", b"msgstr[9] \"\"\n"),
    *("\u202e".encode(), "é".encode(), b"\xe9", b"<a>", b"<!DOCTYPE r [<!ENTITY a \"aaaa\">]>", b"[[a]]\n", b"a.b.c = 1\n", b"/*", b"*/", b"//", b"#", b"@"),
)  # fmt: skip


def check(name: str, data: bytes) -> str | None:
    """Reads *data*; gives what is wrong with what came of it."""
    start = time.perf_counter()
    reader = formats.load(name)
    options = ReadOptions(layout=reader.layouts[0], suffix={"sheet": ".csv", "code": ".ts"}.get(name, ""))
    reading = reader.read(data, options)
    text = decode(data).text
    lines = Lines(text).place(len(text))[0] + 1
    for defect in reading.defects:
        if not (1 <= defect.line <= lines and defect.column >= 1):
            return f"the defect {defect} lies outside of the file"
    for column in reading.columns:
        if len(column.keys) != len(column.texts) or len(column.keys.all) != len(column.keys):
            return "keys and texts do not run parallel"
        for site in reader.locate(data, options, [(column.label, key) for key in column.keys]).values():
            spans = [span for span in (site.key, site.text, site.entry) if span]
            if not all(0 <= first <= last <= len(data) for first, last in spans):
                return f"the site {site} lies outside of the file"
    seconds = time.perf_counter() - start
    return f"it took {seconds:.1f} seconds" if seconds > _SECONDS_FOR_ONE else None


def main() -> None:
    """Mutates and reads until the time is up."""
    parser = argparse.ArgumentParser(description="mutations of small catalogs of every format")
    parser.add_argument("--seconds", type=float, default=20.0)
    parser.add_argument("--seed", type=int, default=7)
    parser.add_argument("--format", dest="only", choices=sorted(SEEDS))
    arguments = parser.parse_args()
    chance = random.Random(arguments.seed)
    names = [arguments.only] if arguments.only else sorted(SEEDS)
    end, count = time.perf_counter() + arguments.seconds, 0
    while time.perf_counter() < end:
        name = names[count % len(names)]
        data = mutated(SEEDS[name].encode(), chance)
        count += 1
        try:
            wrong = check(name, data)
        except Exception as error:  # whatever it is, it is a bug: keep the bytes
            wrong = f"{type(error).__name__}: {error}"
        if wrong:
            found = Path("fuzz-found.bin")
            found.write_bytes(data)
            sys.exit(f"{name}: {wrong}; the bytes are in {found}: {data[:300]!r}")
    print(f"{count:,} mutants of {len(names)} formats, no fault")


if __name__ == "__main__":
    main()
