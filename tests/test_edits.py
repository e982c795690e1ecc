"""Edits of catalogs and lists: an edit that is read again gives what was meant and nothing else; one that is undone leaves the bytes as they were."""

from __future__ import annotations

import io
import re
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar import formats
from lemmar.documents.rows import Row, inserted, removed
from lemmar.documents.splicing import EditError, spliced
from lemmar.formats import Model, NewEntry, ReadOptions, Where
from lemmar.formats._plural_headers import plural_header, read_header
from lemmar.tags import LanguageTag, whole_numbers
from lemmar.tags.tables import table

XLIFF = '<xliff version="1.2"><file source-language="en" target-language="de" original="a"><body>\n'
TS = '<TS version="2.1" language="de">\n<context>\n    <name>Hut</name>\n'
#: A sound file of each format with two entries, as its readers want it: name, how it is read, its text.
SOUND: list[tuple[str, ReadOptions, str]] = [
    (
        "json",
        ReadOptions(suffix=".json"),
        '{\n  "hut": {\n    "list": "Hütten",\n    "near": "In der Nähe"\n  }\n}\n',
    ),
    ("json", ReadOptions(suffix=".json"), '{"a": "Hütte", "b": "Ofen"}'),
    (
        "json",
        ReadOptions("locale-rooted", suffix=".json"),
        '{\n  "de": {\n    "a": "Hütte",\n    "b": "Ofen"\n  },\n  "fr": {\n    "a": "Cabane",\n    "b": "Poêle"\n  }\n}\n',
    ),
    (
        "json",
        ReadOptions(
            "records", suffix=".json", fields={"list": "/rows", "key": "id", "text": "words"}
        ),
        '{\n "rows": [\n  {"id": "a", "words": "Hütte"},\n  {"id": "b", "words": "Ofen"}\n ]\n}\n',
    ),
    (
        "arb",
        ReadOptions(suffix=".arb"),
        '{\n  "@@locale": "de",\n  "a": "Hütte",\n  "b": "Ofen"\n}\n',
    ),
    ("yaml", ReadOptions(suffix=".yml"), "# Hütten\na: Hütte\nb: Ofen # warm\n"),
    (
        "yaml",
        ReadOptions("locale-rooted", suffix=".yml"),
        "de:\r\n  hut:\r\n    a: Hütte\r\n    b: 'Ofen'\r\n",
    ),
    ("toml", ReadOptions(suffix=".toml"), '[hut]\na = "Hütte"\nb = "Ofen"\n'),
    ("code", ReadOptions(suffix=".ts"), "export default {\n  a: 'Hütte',\n  b: 'Ofen',\n};\n"),
    (
        "code",
        ReadOptions(suffix=".php"),
        "<?php\n\nreturn [\n    'a' => 'Hütte',\n    'b' => 'Ofen',\n];\n",
    ),
    ("code", ReadOptions(suffix=".py"), 'TEXTS = {\n    "a": "Hütte",\n    "b": "Ofen",\n}\n'),
    ("code", ReadOptions(suffix=".dart"), "const texts = {\n  'a': 'Hütte',\n  'b': 'Ofen',\n};\n"),
    ("properties", ReadOptions(suffix=".properties"), "! Hütten\n\n# one\na = Hütte\nb = Ofen"),
    (
        "strings",
        ReadOptions(suffix=".strings"),
        '/* Words */\n\n/* one */\n"a" = "Hütte";\n"b" = "Ofen";\n',
    ),
    (
        "resx",
        ReadOptions(suffix=".resx"),
        '<root>\n  <data name="a" xml:space="preserve">\n    <value>Hütte</value>\n  </data>\n  <data name="b" xml:space="preserve">\n    <value>Ofen</value>\n  </data>\n</root>\n',
    ),
    (
        "xaml",
        ReadOptions(suffix=".xaml"),
        '<ResourceDictionary xmlns:x="http://schemas.microsoft.com/winfx/2006/xaml" xmlns:s="clr-namespace:System;assembly=mscorlib" xml:space="preserve">\n    <s:String x:Key="a">Hütte</s:String>\n    <s:String x:Key="b">Ofen</s:String>\n</ResourceDictionary>\n',
    ),
    (
        "android-xml",
        ReadOptions(suffix=".xml"),
        '<resources>\n    <!-- one -->\n    <string name="a">Hütte</string>\n    <string name="b">Ofen</string>\n</resources>\n',
    ),
    (
        "po",
        ReadOptions(suffix=".po"),
        'msgid ""\nmsgstr ""\n"Language: de\\n"\n"Content-Type: text/plain; charset=UTF-8\\n"\n\n#. one\nmsgid "a"\nmsgstr "Hütte"\n\nmsgid "b"\nmsgstr "Ofen"\n',
    ),
    (
        "xliff",
        ReadOptions(suffix=".xlf"),
        f'{XLIFF}  <trans-unit id="a">\n    <source>Hut</source>\n    <target>Hütte</target>\n  </trans-unit>\n  <trans-unit id="b">\n    <source>Stove</source>\n    <target>Ofen</target>\n  </trans-unit>\n</body></file></xliff>\n',
    ),
    (
        "xliff",
        ReadOptions(suffix=".xlf"),
        '<xliff version="2.1" srcLang="en" trgLang="de">\n<file id="f">\n  <unit id="a">\n    <segment>\n      <source>Hut</source>\n      <target>Hütte</target>\n    </segment>\n  </unit>\n  <unit id="b">\n    <segment>\n      <source>Stove</source>\n      <target>Ofen</target>\n    </segment>\n  </unit>\n</file>\n</xliff>\n',
    ),
    (
        "ts-xml",
        ReadOptions(suffix=".ts"),
        f"{TS}    <message>\n        <source>a</source>\n        <translation>Hütte</translation>\n    </message>\n    <message>\n        <source>b</source>\n        <translation>Ofen</translation>\n    </message>\n</context>\n</TS>\n",
    ),
    (
        "stringsdict",
        ReadOptions(suffix=".stringsdict"),
        '<?xml version="1.0" encoding="UTF-8"?>\n<plist version="1.0">\n<dict>\n'
        + "".join(
            f"\t<key>{key}</key>\n\t<dict>\n\t\t<key>NSStringLocalizedFormatKey</key>\n\t\t<string>{text}</string>\n\t</dict>\n"
            for key, text in (("a", "Hütte"), ("b", "Ofen"))
        )
        + "</dict>\n</plist>\n",
    ),
    ("sheet", ReadOptions("columns", suffix=".csv"), "Key,en,de\na,Hut,Hütte\nb,Stove,Ofen\n"),
    (
        "sheet",
        ReadOptions("columns", suffix=".tsv"),
        '"Key"\t"en"\t"de"\r\n"a"\t"Hut"\t"Hütte"\r\n',
    ),
]
#: In files of several locales the one that is edited.
LABEL = {"locale-rooted": "de", "columns": "de"}
NAMES = [
    f"{name}{options.suffix}-{options.layout}-{at}" for at, (name, options, _) in enumerate(SOUND)
]
KEYS = st.from_regex(r"\A[a-z]{3,8}[0-9]\Z")
TEXTS = st.text(
    st.characters(codec="utf-8", exclude_categories=("Cc", "Cs", "Zl", "Zp", "Co", "Cn")),
    min_size=1,
).map(lambda text: text.strip() or "x")


def held(name: str, options: ReadOptions, data: bytes) -> dict[str, str | None]:
    """The texts of the column that is edited."""
    reading = formats.load(name).read(data, options)
    assert not reading.defects
    label = LABEL.get(options.layout)
    return next(
        dict(zip(column.keys, column.texts, strict=True))
        for column in reading.columns
        if column.label == label
    )


def key_in(name: str, options: ReadOptions, key: str) -> str:
    """A key as the format would have it beside those that are there."""
    if name == "ts-xml":
        return f"Hut\x04{key}"
    nested = name == "toml" or (name == "json" and options.layout == "by-file")
    return f"hut.{key}" if nested or (name, options.layout) == ("yaml", "locale-rooted") else key


@pytest.mark.parametrize(("name", "options", "text"), SOUND, ids=NAMES)
@given(st.dictionaries(KEYS, TEXTS, min_size=1, max_size=4), st.sampled_from(("\n", "\r\n")))
def test_what_is_added_is_read_and_what_is_taken_out_again_leaves_the_bytes(
    name: str, options: ReadOptions, text: str, new: dict[str, str], line_end: str
) -> None:
    form = formats.load(name)
    data = text.replace("\r\n", "\n").replace("\n", line_end).encode("utf-8")
    before = held(name, options, data)
    if name == "json" and '"hut"' not in text:
        new = {f"{key}": words for key, words in new.items()}
        entries = [NewEntry(key, words, source="Source") for key, words in new.items()]
    else:
        entries = [
            NewEntry(key_in(name, options, key), words, source="Source")
            for key, words in new.items()
        ]
    where = Where(options, LABEL.get(options.layout), [*before, *(each.key for each in entries)])
    made = form.added(data, where, entries)
    assert held(name, options, made) == before | {each.key: each.text for each in entries}
    assert form.added(made, where, entries) == made
    assert form.removed(made, where, {each.key for each in entries}) == data


@pytest.mark.parametrize(("name", "options", "text"), SOUND, ids=NAMES)
@given(TEXTS)
def test_a_text_is_replaced_and_nothing_else(
    name: str, options: ReadOptions, text: str, words: str
) -> None:
    form, data = formats.load(name), text.encode("utf-8")
    before = held(name, options, data)
    key = next(iter(before))
    where = Where(options, LABEL.get(options.layout))
    made = form.with_texts(data, where, {key: words})
    assert held(name, options, made) == before | {key: words}
    assert form.with_texts(made, where, {key: before[key] or ""}).count(b"\n") == data.count(b"\n")


@pytest.mark.parametrize(("name", "options", "text"), SOUND, ids=NAMES)
def test_what_is_taken_out_is_gone_with_its_comment(
    name: str, options: ReadOptions, text: str
) -> None:
    form, data = formats.load(name), text.encode("utf-8")
    before = held(name, options, data)
    key, *_rest = before
    made = form.removed(data, Where(options, LABEL.get(options.layout)), {key})
    left = held(name, options, made) if name != "sheet" else {}
    assert {name_: words for name_, words in left.items() if words is not None} == {
        name_: words for name_, words in before.items() if name_ != key and name != "sheet"
    }
    assert b"one" not in made


DAMAGED = [
    ("json", ".json", '{"a": "Hütte",\n "b": }'),
    ("strings", ".strings", '"a" = "Hütte"\n"b" = "Ofen";\n'),
    ("android-xml", ".xml", "<resources><string name='a'>x & y</string></resources>"),
    ("po", ".po", 'msgid "a"\nmsgstr "Hütte\n'),
    ("yaml", ".yml", "a: Hütte\n\tb: Ofen\n"),
    ("sheet", ".csv", "Key,en,de\na,Hut\n"),
    ("code", ".ts", "export default { a: 'x', b: };"),
]


@pytest.mark.parametrize(("name", "suffix", "text"), DAMAGED, ids=[row[0] for row in DAMAGED])
def test_a_damaged_file_is_refused_with_its_place(name: str, suffix: str, text: str) -> None:
    layout = "columns" if name == "sheet" else "by-file"
    where = Where(ReadOptions(layout, suffix=suffix), "de" if name == "sheet" else None)
    with pytest.raises(EditError) as refused:
        formats.load(name).added(text.encode(), where, [NewEntry("zz", "x")])
    assert refused.value.line is not None and str(refused.value)


def model(text: str, options: ReadOptions, new: str = "hr") -> Model:
    """A German file after which one for *new* is made."""
    return Model(
        text,
        options,
        LanguageTag.parse("de"),
        LanguageTag.parse(new),
        new,
        lambda words: re.sub(r"\bde\b", new, words),
    )


@pytest.mark.parametrize(("name", "options", "text"), SOUND, ids=NAMES)
def test_a_file_for_another_locale_has_no_texts_and_nothing_wrong(
    name: str, options: ReadOptions, text: str
) -> None:
    form = formats.load(name)
    assert form.writes.edits is not None
    if name == "sheet":
        with pytest.raises(EditError):
            form.writes.edits.blank(model(text, options))
        return
    made = form.writes.edits.blank(model(text, options))
    reading = form.read(made.encode("utf-8"), options)
    assert not reading.defects and [set(each.texts) - {None} for each in reading.columns] == [set()]
    assert "Hütte" not in made and "Ofen" not in made
    assert all(column.mark in (None, "hr") for column in reading.columns)


SEVERAL = [
    (
        "json",
        ReadOptions("locale-rooted", suffix=".json"),
        '{\n  "de": {\n    "a": "x"\n  },\n  "fr": {\n    "a": "y"\n  }\n}\n',
    ),
    (
        "json",
        ReadOptions("locale-leaved", suffix=".json"),
        '{\n  "a": {\n    "en": "x",\n    "de": "y"\n  },\n  "b": {"en": "x", "de": "y"}\n}\n',
    ),
    (
        "yaml",
        ReadOptions("locale-leaved", suffix=".yml"),
        "a:\n  en: x\n  de: y\nb:\n  en: x\n  de: y\n",
    ),
    ("toml", ReadOptions("locale-rooted", suffix=".toml"), '[en]\na = "x"\n\n[de]\na = "y"\n'),
    (
        "code",
        ReadOptions("locale-rooted", suffix=".js"),
        "module.exports = {\n  en: { a: 'x' },\n  de: { a: 'y' },\n};\n",
    ),
    ("sheet", ReadOptions("columns", suffix=".csv"), "Key,en,de,Owner\na,x,y,me\n"),
    (
        "json",
        ReadOptions(
            "records", suffix=".json", fields={"list": "", "key": "id", "text": "t", "locale": "l"}
        ),
        '[\n  {"id": "a", "l": "en", "t": "x"},\n  {"id": "a", "l": "de", "t": "y"}\n]\n',
    ),
    (
        "xcstrings",
        ReadOptions("locale-leaved", suffix=".xcstrings"),
        '{\n  "sourceLanguage" : "en",\n  "strings" : {\n    "a" : {\n      "localizations" : {\n        "de" : {\n          "stringUnit" : {\n            "state" : "translated",\n            "value" : "y"\n          }\n        }\n      }\n    }\n  },\n  "version" : "1.0"\n}\n',
    ),
]


@pytest.mark.parametrize(
    ("name", "options", "text"), SEVERAL, ids=[f"{row[0]}-{row[1].layout}" for row in SEVERAL]
)
def test_a_locale_is_put_into_a_file_of_several_and_taken_out_and_called_otherwise(
    name: str, options: ReadOptions, text: str
) -> None:
    edits = formats.load(name).writes.edits
    assert edits is not None and edits.take_in and edits.leave_out and edits.rename
    made = spliced(text, edits.take_in(model(text, options)))
    labels = [column.label for column in formats.load(name).read(made.encode(), options).columns]
    assert "hr" in labels
    assert spliced(made, edits.leave_out(made, options, "hr")) == text
    renamed = spliced(text, edits.rename(text, options, "de", "de-AT"))
    again = [column.label for column in formats.load(name).read(renamed.encode(), options).columns]
    assert "de-AT" in again and "de" not in again
    back = spliced(renamed, edits.rename(renamed, options, "de-AT", "de"))
    assert back.replace('"de":', "de:") == text.replace('"de":', "de:")


def test_a_workbook_gets_a_column_and_loses_it() -> None:
    openpyxl = pytest.importorskip("openpyxl")
    from lemmar.formats.sheet import edited_workbook

    book = openpyxl.Workbook()
    for row in (("Key", "en", "de", "Owner"), ("a", "x", "y", "me")):
        book.active.append(row)
    stream = io.BytesIO()
    book.save(stream)
    options = ReadOptions("columns", suffix=".xlsx", columns={"key": "Key", "ignore": ["Owner"]})
    more = edited_workbook(stream.getvalue(), options, None, "hr")
    form = formats.load("sheet")
    assert [each.label for each in form.read(more, options).columns] == ["en", "de", "hr"]
    named = edited_workbook(more, options, "hr", "sl")
    assert [each.label for each in form.read(named, options).columns] == ["en", "de", "sl"]
    less = edited_workbook(named, options, "sl", None)
    assert [each.label for each in form.read(less, options).columns] == ["en", "de"]


ITEMS = st.lists(st.from_regex(r"\A[a-z]{1,5}\Z"), min_size=1, max_size=6, unique=True)
LISTS: list[tuple[str, str, str, str]] = [
    # what opens it, what parts items, what closes it, the sign
    ("[", ", ", "]", ","),
    ("[\n  ", ",\n  ", "\n]", ","),
    ("[\n  ", ",\n  ", ",\n]", ","),
    ("{\r\n\t", ",\r\n\t", "\r\n}", ","),
    ("(", "; ", ")", ";"),
    ("<a>\n  ", "\n  ", "\n</a>", ""),
    ("case\n    ", "\n\n    ", "\nend", ""),
    ("enum {\n    ", ",\n    ", ";\n}", ","),
]


def laid(opening: str, gap: str, closing: str, items: list[str], sign: str) -> tuple[str, Row]:
    """A list as text, and its row."""
    text, spans = opening, []
    for number, item in enumerate(items):
        text += gap if number else ""
        spans.append((len(text), len(text) + len(item)))
        text += item
    return text + closing, Row((len(opening), len(text)), tuple(spans), sign)


@pytest.mark.parametrize(("opening", "gap", "closing", "sign"), LISTS)
@given(
    ITEMS,
    st.integers(0, 6),
    st.lists(st.from_regex(r"\A[A-Z]{1,4}\Z"), min_size=1, max_size=3, unique=True),
)
def test_an_item_put_in_and_taken_out_leaves_the_text(
    opening: str, gap: str, closing: str, sign: str, items: list[str], at: int, new: list[str]
) -> None:
    if len(items) == 1 and (opening, closing[:1]) != ("[\n  ", "\n"):
        items = [*items, "zzzzzz"]  # one alone does not show how two stand beside each other
    after = min(at, len(items)) - 1
    text, row = laid(opening, gap, closing, items, sign)
    made = spliced(text, inserted(text, row, new, after))
    wanted = [*items[: after + 1], *new, *items[after + 1 :]]
    expected, more = laid(opening, gap, closing, wanted, sign)
    assert made == expected
    gone = range(after + 1, after + 1 + len(new))
    assert spliced(made, removed(made, more, gone)) == text


@pytest.mark.parametrize("language", list(table("plurals")["cardinal"]))
def test_a_plural_header_numbers_the_forms_as_cldr_has_them(language: str) -> None:
    tag = LanguageTag.parse(language)
    header = read_header(plural_header(tag))
    reached: Any = whole_numbers(tag, "cardinal")
    names = list(reached)
    assert header is not None and header.forms == len(names)
    for name, numbers in reached.items():
        assert {names[header.form(number)] for number in numbers} == {name}


@pytest.mark.parametrize(
    "lines, text, expected",
    [
        ('""\n"Nights in the "\n"hut "', "Nights in the hut", '""\n"Nights in the "\n"hut"'),
        (
            '""\n"Nights in the "\n"hut"',
            "Three nights in the hut",
            '""\n"Three nights in the "\n"hut"',
        ),
        ('"Nights\\n"\n"in the hut"', "Nights\nin a hut", '"Nights\\n"\n"in a hut"'),
        ('"Nights "\n"in "\n"huts"', "Nights huts", '"Nights "\n"huts"'),
        ('"Nights "\n"in huts"', "Öfen", '"Öfen"'),
        ('"Nights \\7"\n"x"', "Nights \a5x", None),
    ],
)
def test_a_text_of_several_lines_stays_on_them(lines: str, text: str, expected: str | None) -> None:
    data = f'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n\nmsgid "a"\nmsgstr {lines}\n'.encode()
    form, where = formats.load("po"), Where(ReadOptions(suffix=".po"), None)
    edited = form.with_texts(data, where, {"a": text})
    assert form.read(edited, where.options).columns[0].texts[0] == text
    if expected is not None:
        assert edited.decode().endswith(f"\nmsgstr {expected}\n")


@given(
    st.lists(st.text('ab "\\\n\x07', max_size=4), min_size=2, max_size=4),
    st.text('ab "\\\n\x075', min_size=1, max_size=9),
)
def test_a_text_of_several_lines_reads_as_it_was_meant(lines: list[str], text: str) -> None:
    quoted = "\n".join(
        '"'
        + line.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n").replace("\x07", "\\7")
        + '"'
        for line in lines
    )
    data = f'msgid ""\nmsgstr "Content-Type: text/plain; charset=UTF-8\\n"\n\nmsgid "a"\nmsgstr {quoted}\n\nmsgid "b"\nmsgstr "c"\n'.encode()
    form, where = formats.load("po"), Where(ReadOptions(suffix=".po"), None)
    if form.read(data, where.options).columns[0].texts[0]:
        edited = form.read(form.with_texts(data, where, {"a": text}), where.options)
        assert [tuple(column.texts) for column in edited.columns] == [
            (text, "c")
        ] and not edited.defects


def test_every_format_that_is_edited_has_a_sound_file() -> None:
    edited = {each.name for each in formats.every() if each.writes.edits and each.writes.edits.add}
    assert edited <= {name for name, *_ in SOUND}
