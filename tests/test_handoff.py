"""Work for translators, and their answers: briefs in every form, filled in well and badly, taken back; nothing is lost, and only texts change."""

from __future__ import annotations

import csv
import io
import json
import random
import subprocess
from collections import Counter
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree

from lemmar.demo.monorepo import monorepo_files
from lemmar.handoff import forms
from lemmar.handoff.answers import FATES
from lemmar.handoff.hints import Memory
from lemmar.handoff.plainly import plainly, with_apostrophe, without_apostrophe
from lemmar.handoff.texts import Text
from lemmar.syntax import NotWrittenError, load, names, neutral, pieces, written
from lemmar.tags import Tag

from .conftest import Repo, charter, share, with_clients

DAY = ("--today", "2026-11-25")
FORMS = forms.names()
CORE = "{urn:oasis:names:tc:xliff:document:2.0}"
OLD = "{urn:oasis:names:tc:xliff:document:1.2}"


# ------------------------------------------------------------------------------------------------------------- neutral texts


@pytest.mark.parametrize(
    ("syntax", "text", "forms"),
    [
        ("printf", "Led by %s, %d%% full", {"": "Led by {1}, {2}% full"}),
        ("printf", "%2$s in %1$s", {"": "{2} in {1}"}),
        ("printf", "%(name)s is 100% sure", {"": "{name} is 100% sure"}),
        ("printf", "100% sure", {"": "100% sure"}),
        ("printf", "%*d", None),
        ("brace", "{} of {}", {"": "{0} of {1}"}),
        ("brace", "{{not}} {name}", None),
        ("double-brace", "Led by {{ name }}", {"": "Led by {name}"}),
        ("icu", "It''s {name}'s {n, number}", {"": "It's {name}'s {n}"}),
        ("icu", "{n, plural, one {# bunk} other {# bunks}}", {"one": "{n} bunk", "other": "{n} bunks"}),
        ("icu", "{n, plural, =0 {none} other {# bunks}}", None),
        ("icu", "{who, select, she {She} other {They}}", None),
        ("icu", "a {n, plural, one {b} other {c}}", None),
        ("mf2", ".input {$n :number}\n.match $n\none {{{$n} bunk}}\n* {{{$n} bunks}}", {"one": "{n} bunk", "other": "{n} bunks"}),
        ("mf2", "Led by {$name}", {"": "Led by {name}"}),
        ("mf2", r"\{{$name}", None),
        ("colon", "Until :time, at 12:30", {"": "Until {time}, at 12:30"}),
        ("percent-number", "%1 of %2", {"": "{1} of {2}"}),
        ("plain", "{name} %s", None),
    ],
)  # fmt: skip
def test_neutral(syntax: str, text: str, forms: dict[str, str] | None) -> None:
    found = neutral(load(syntax), {"": text})
    assert (dict(found.forms) if found is not None else None) == forms
    if found is not None:
        again = written(load(syntax), found, found.forms, {})
        assert neutral(load(syntax), again) is not None
        assert load(syntax).shape(again[""]).arguments == load(syntax).shape(text).arguments


def test_what_is_moved_gets_its_number() -> None:
    for syntax, text, moved, wanted in (
        ("printf", "%s in %s", "{2}: {1}", "%2$s: %1$s"),
        ("printf", "%-5.2f and %d", "{2} {1}", "%2$d %1$-5.2f"),
        ("brace", "{} of {:>3}", "{1}/{0}", "{1:>3}/{0}"),
        ("icu", "{a} and {b}", "l'{b}, {a}", "l''{b}, {a}"),
    ):
        found = neutral(load(syntax), {"": text})
        assert found is not None
        assert written(load(syntax), found, {"": moved}, {})[""] == wanted


def test_a_text_that_would_be_read_otherwise_is_refused() -> None:
    found = neutral(load("icu"), {"": "{n, plural, one {# bunk} other {# bunks}}"})
    assert found is not None
    for text in ("{other}", "{n} # {x", "#{n}"):
        with pytest.raises(NotWrittenError):
            written(load("icu"), found, {"one": "{n}", "other": text}, {})


@given(st.sampled_from(names()), st.text(alphabet="ab %{}'$:1snd#@_\\<>|", max_size=20))
def test_pieces_are_the_whole_text(syntax: str, text: str) -> None:
    found = pieces(load(syntax), text)
    if found is not None and not any(
        "'" in each.text or "%" in each.text for each in found if not each.name
    ):
        assert "".join(each.text for each in found).replace("%", "").replace(
            "'", ""
        ) == text.replace("%", "").replace("'", "")


@given(
    st.sampled_from([name for name in names() if name != "plain"]),
    st.text(alphabet="ab %{}'$:1snd#@_ ", max_size=20),
    st.randoms(),
)
def test_what_is_written_is_read_again(syntax: str, text: str, source: random.Random) -> None:
    """A neutral text in another order of words is written so that it is read as the same; or it is refused."""
    found = neutral(load(syntax), {"": text})
    if found is None or "" not in found.forms:
        return
    words = found.forms[""].split(" ")
    source.shuffle(words)
    moved = {"": " ".join(words)}
    try:
        made = written(load(syntax), found, moved, {})
    except NotWrittenError:
        return
    again = neutral(load(syntax), made)
    assert again is not None
    assert dict(again.forms) == moved


@given(st.text(alphabet="=+-@'\ta\u201c\u2019 ", max_size=8))
def test_a_cell_is_no_formula_and_comes_back(text: str) -> None:
    assert with_apostrophe(text)[:1] not in ("=", "+", "-", "@", "\t")
    assert without_apostrophe(with_apostrophe(text)) == text
    assert plainly(plainly(text)) == plainly(text)


@given(
    st.lists(st.text(alphabet="ab cd", min_size=1, max_size=12), max_size=12),
    st.text(alphabet="ab cd", min_size=1, max_size=12),
)
def test_what_is_similar_is_what_comparing_with_every_text_gives(
    sources: list[str], asked: str
) -> None:
    """Texts are looked for by their words; of a few texts those that share a word are all of them."""
    from rapidfuzz import fuzz

    def text(words: str) -> Text:
        return Text(words, {"": words}, (), "", (), "", None, ())

    memory = Memory([], Tag("de"), frozenset())
    for number, words in enumerate(sources):
        memory.keep(words, f"said {number}")
    scored = [
        (fuzz.ratio(asked, words), number)
        for number, words in enumerate(sources)
        if set(words.split()) & set(asked.split())
    ]
    wanted = sorted(
        (each for each in scored if each[0] >= 75), key=lambda each: (-each[0], each[1])
    )[:3]
    assert [each.translation for each in memory.alike(text(asked))] == [
        f"said {number}" for _, number in wanted
    ]


# -------------------------------------------------------------------------------------------------------------------- briefs


#: Clients of the demo with each sort of catalog that has work in it.
SOME = (
    "booking-site",
    "ridge-pocket",
    "trail-pocket",
    "summit-trail",
    "warden-ledger",
    "map-portal",
)


@pytest.fixture(scope="module")
def faulty(tmp_path_factory: pytest.TempPathFactory) -> Repo:
    """Some of the demo with its planted mistakes, and a brief of it in each form."""
    return with_briefs(
        Repo(tmp_path_factory.mktemp("faulty")), with_clients(monorepo_files(sound=False), SOME)
    )


@pytest.fixture(scope="module")
def whole(tmp_path_factory: pytest.TempPathFactory) -> Repo:
    """The same of all of it."""
    return with_briefs(Repo(tmp_path_factory.mktemp("whole")), monorepo_files(sound=False))


def with_briefs(repo: Repo, files: Mapping[str, str | bytes]) -> Repo:
    repo.write(files)
    for form in FORMS:
        assert repo.run("brief", "--as", form, "-o", f"out/{form}").code == 0
    return repo


def copy(faulty: Repo, folder: Path) -> Repo:
    repo = Repo(folder)
    for path in faulty.root.rglob("*"):
        if path.is_file() and path.suffix != ".xlsx":
            repo.write({path.relative_to(faulty.root).as_posix(): path.read_bytes()})
    return repo


def rows_of(data: bytes) -> list[list[str]]:
    return list(csv.reader(io.StringIO(data.decode("utf-8-sig"))))


def sheet(rows: list[list[str]]) -> bytes:
    out = io.StringIO()
    csv.writer(out, lineterminator="\r\n").writerows(rows)
    return out.getvalue().encode("utf-8-sig")


def column(rows: list[list[str]], heading: str) -> int:
    return next(
        index
        for index, name in enumerate(rows[0])
        if name == heading or name.endswith(f"({heading})")
    )


#: What a translator writes into Ukrainian: enough letters of its own for every text, placeholders where the source has them.
def translated(source: str) -> str:
    import re

    found = " ".join(re.findall(r"\{[^{}]*\}", source))
    return f"Їжа для гостей {len(source)} {found}".strip()


def filled(
    rows: list[list[str]], words: Callable[[str], str] = translated, heading: str = "uk"
) -> list[list[str]]:
    target, source, state = column(rows, heading), column(rows, "en"), column(rows, "state")
    made = [list(row) for row in rows]
    for row in made[1:]:
        row[target], row[state] = words(row[source]), "translated"
    return made


def fates(ran: Any) -> Counter[str]:
    return Counter(row["fate"] for row in ran.data["rows"] if row["kind"] == "answer")


def reasons(ran: Any) -> list[str]:
    return [
        row["text"]
        for row in ran.data["rows"]
        if row["kind"] == "answer" and row["fate"] != "taken"
    ]


def intake(repo: Repo, *arguments: str) -> Any:
    ran = repo.run("intake", *arguments, "--format", "json", *DAY)
    assert ran.code == 0, ran.err
    return ran


def test_the_counts_are_those_of_the_files(whole: Repo) -> None:
    rows = whole.run("brief", "--format", "json").data["rows"]
    by_locale: Counter[str] = Counter()
    for row in rows:
        by_locale[row["locale"]] += row["texts"]
    for locale, texts in by_locale.items():
        held = rows_of((whole.root / f"out/csv/brief.{locale}.csv").read_bytes())
        assert len(held) - 1 == texts
        assert len({row[0] for row in held[1:]}) == texts
    assert {row["reason"] for row in rows} == {"missing", "blank", "stale", "unreviewed"}
    assert "it" in by_locale  # a text that is marked as a guess


def test_one_text_is_asked_for_once_with_what_is_known_of_it(whole: Repo) -> None:
    rows = rows_of((whole.root / "out/csv/brief.it.csv").read_bytes())
    row = next(row for row in rows if "Last gondola at {time}" in row)
    known = dict(zip(rows[0], row, strict=True))
    assert known["at most"] == "60"
    assert known["filled in"] == "{time}: such as 14:30"
    assert known["similar"] == "Ultima cabinovia alle {time}  (Last gondola at {time}, 100 %)"
    assert known["used in"].startswith(
        "booking-site: hut: trail.lift (clients/booking-site/src/locales/en/hut.json:"
    )


def test_xliff_2_holds_the_standards_constraints(faulty: Repo) -> None:
    """XLIFF 2.1 core: 4.2.2.2 (srcLang, trgLang), 4.2.2.5 (unit ids are unique), 4.2.2.9 to 4.2.2.12 (order of children), 4.3.1.11 (dataRef points
    into the unit's originalData), 4.3.1.21 (ids of codes are unique in a unit and match between source and target), 4.3.1.27 (states), 5.8 (sizes).
    """
    for path in (faulty.root / "out/xliff2").iterdir():
        root = etree.parse(path).getroot()
        assert root.tag == f"{CORE}xliff"
        assert (root.get("version"), root.get("srcLang")) == ("2.1", "en")
        assert path.name == f"brief.{root.get('trgLang')}.xlf"
        units = list(root.iter(f"{CORE}unit"))
        names = [unit.get("id") or "" for unit in units]
        assert names
        assert len(set(names)) == len(names)
        for unit in units:
            order = [etree.QName(child).localname for child in unit]
            assert order == sorted(order, key=["notes", "originalData", "segment"].index)
            data = {each.get("id") for each in unit.iter(f"{CORE}data")}
            (segment,) = unit.iter(f"{CORE}segment")
            assert segment.get("state") in ("initial", "translated", "reviewed", "final")
            assert [etree.QName(child).localname for child in segment] in (
                ["source"],
                ["source", "target"],
            )
            codes = {
                side: [each.get("id") for each in unit.iterfind(f".//{CORE}{side}/{CORE}ph")]
                for side in ("source", "target")
            }
            assert len(set(codes["source"])) == len(codes["source"])
            assert all(each.get("dataRef") in data for each in unit.iter(f"{CORE}ph"))
            assert all(
                each.get("type") == "ui" and each.get("subType") == "xlf:var"
                for each in unit.iter(f"{CORE}ph")
            )
            limit = unit.get("{urn:oasis:names:tc:xliff:sizerestriction:2.0}sizeRestriction")
            assert limit is None or limit.isdigit()
        has_limit = any(
            name.endswith("sizeRestriction") for unit in units for name in map(str, unit.attrib)
        )
        assert has_limit == bool(
            root.findall(".//{urn:oasis:names:tc:xliff:sizerestriction:2.0}profiles")
        )


def test_xliff_1_holds_the_standards_constraints(faulty: Repo) -> None:
    """XLIFF 1.2: 2.2 (file's required attributes), 2.4 (trans-unit: source, target, notes in this order), 2.5 (states, size units, ids of codes)."""
    states = {"needs-translation", "needs-review-translation", "translated", "signed-off", "final"}
    for path in (faulty.root / "out/xliff1").iterdir():
        root = etree.parse(path).getroot()
        assert root.tag == f"{OLD}xliff"
        assert root.get("version") == "1.2"
        (file,) = root.findall(f"{OLD}file")
        assert all(
            file.get(name)
            for name in ("original", "source-language", "datatype", "target-language")
        )
        assert [etree.QName(child).localname for child in file] == ["body"]
        units = list(root.iter(f"{OLD}trans-unit"))
        assert len({unit.get("id") for unit in units}) == len(units)
        for unit in units:
            order = [etree.QName(child).localname for child in unit]
            assert order[:2] == ["source", "target"]
            assert set(order[2:]) <= {"note"}
            assert unit.find(f"{OLD}target").get("state") in states
            assert all((each.get("ctype") or "").startswith("x-") for each in unit.iter(f"{OLD}x"))
            assert (unit.get("maxwidth") is None) == (unit.get("size-unit") is None)


def test_po_and_sheets_are_read_by_others(faulty: Repo) -> None:
    import openpyxl
    import polib

    for path in (faulty.root / "out/csv").iterdir():
        rows = rows_of(path.read_bytes())
        locale = path.name.split(".")[1]
        ids = {row[0].partition(".")[0] for row in rows[1:]}
        po = polib.pofile(str(faulty.root / f"out/po/brief.{locale}.po"))
        assert {entry.msgctxt for entry in po} == ids
        assert po.metadata["Content-Type"] == "text/plain; charset=UTF-8"
        book = openpyxl.load_workbook(faulty.root / f"out/xlsx/brief.{locale}.xlsx")
        texts = book["texts"]
        cells = [[str(cell.value or "") for cell in row] for row in texts.iter_rows()]
        assert [row[0] for row in cells] == [row[0] for row in rows]
        assert texts.freeze_panes is not None
        assert texts.protection.sheet
        target = column(cells, locale)
        assert not texts.cell(2, target + 1).protection.locked
        assert texts.cell(2, 1).protection.locked
        assert [each.formula1 for each in texts.data_validations.dataValidation] == [
            '"initial,translated,reviewed,final"'
        ]
        assert not any(cell.data_type == "f" for row in texts.iter_rows() for cell in row)
        assert "notes" in book.sheetnames


def test_the_same_brief_gives_the_same_bytes(faulty: Repo, tmp_path: Path) -> None:
    for form in FORMS:
        faulty.run("brief", "uk", "--as", form, "-o", str(tmp_path / form))
        for path in (tmp_path / form).iterdir():
            assert path.read_bytes() == (faulty.root / f"out/{form}" / path.name).read_bytes()


def test_a_brief_leaves_out_what_is_with_translators(faulty: Repo, tmp_path: Path) -> None:
    for form in FORMS:
        ran = faulty.run("brief", "uk", "--after", f"out/{form}", "--format", "json")
        assert ran.data["rows"] == [], form
    half = rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes())[:4]
    (tmp_path / "brief.uk.csv").write_bytes(sheet(half))
    ran = faulty.run("brief", "uk", "--after", str(tmp_path), "--format", "json")
    whole = faulty.run("brief", "uk", "--format", "json")
    assert (
        sum(row["texts"] for row in whole.data["rows"])
        - sum(row["texts"] for row in ran.data["rows"])
        == 3
    )


def test_a_brief_is_held_to_clients_keys_and_rules(whole: Repo) -> None:
    def texts(*arguments: str) -> int:
        return sum(
            row["texts"] for row in whole.run("brief", "--format", "json", *arguments).data["rows"]
        )

    assert 0 < texts("--only", "client=map-portal") < texts()
    assert texts("--only", "rule=message.stale") == texts("--only", "rule=stale") > 0
    assert texts("--only", "key=no.such.*") == 0
    assert whole.run("brief", "--only", "word=x").code == 2


def test_a_brief_is_never_written_over_one(faulty: Repo) -> None:
    ran = faulty.run("brief", "uk", "--as", "csv", "-o", "out/csv")
    assert ran.code == 2
    assert "is there already" in ran.err


# ------------------------------------------------------------------------------------------------------------ filled in well


def fill_xliff(data: bytes, words: Callable[[str], str]) -> bytes:
    root = etree.fromstring(data)
    for unit in [*root.iter(f"{CORE}unit"), *root.iter(f"{OLD}trans-unit")]:
        space = CORE if unit.tag.startswith(CORE) else OLD
        holder = unit if space == OLD else next(unit.iter(f"{CORE}segment"))
        source = holder.find(f"{space}source")
        assert source is not None
        plain = (source.text or "") + "".join(
            f"{each.get('equiv') or each.get('equiv-text')}{each.tail or ''}" for each in source
        )
        target = holder.find(f"{space}target")
        if target is None:
            target = etree.SubElement(holder, f"{space}target")
        for child in list(target):
            target.remove(child)
        target.text = words(plain)
        (target if space == OLD else holder).set("state", "translated")
    return etree.tostring(root, xml_declaration=True, encoding="utf-8")


def fill_po(path: Path, words: Callable[[str], str]) -> bytes:
    import polib

    po = polib.pofile(str(path))
    for entry in po:
        entry.flags = [flag for flag in entry.flags if flag != "fuzzy"]
        if entry.msgid_plural:
            entry.msgstr_plural = {
                number: words(entry.msgid_plural) for number in entry.msgstr_plural
            }
        else:
            entry.msgstr = words(entry.msgid)
    return str(po).encode("utf-8")


def fill_xlsx(path: Path, words: Callable[[str], str], heading: str) -> bytes:
    import openpyxl

    book = openpyxl.load_workbook(path)
    texts = book["texts"]
    cells = [[str(cell.value or "") for cell in row] for row in texts.iter_rows()]
    for number, row in enumerate(filled(cells, words, heading)[1:], start=2):
        for place, value in enumerate(row, start=1):
            texts.cell(number, place).value = value or None
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


def fill(faulty: Repo, form: str, locale: str, words: Callable[[str], str]) -> bytes:
    path = next((faulty.root / f"out/{form}").glob(f"brief.{locale}.*"))
    if form == "po":
        return fill_po(path, words)
    if form == "xlsx":
        return fill_xlsx(path, words, locale)
    if form == "csv":
        return sheet(filled(rows_of(path.read_bytes()), words, locale))
    return fill_xliff(path.read_bytes(), words)


@pytest.mark.deep
@pytest.mark.parametrize("form", FORMS)
def test_answers_complete_a_locale_and_only_texts_change(
    faulty: Repo, tmp_path: Path, form: str
) -> None:
    repo = copy(faulty, tmp_path)
    before = repo.audit()
    name = next((faulty.root / f"out/{form}").glob("brief.uk.*")).name
    repo.write({name: fill(faulty, form, "uk", translated)})
    ran = intake(repo, name, "--write")
    assert set(fates(ran)) == {"taken"}, reasons(ran)
    after = repo.audit()
    lacking = {"message.missing", "message.empty", "message.unreviewed", "catalog.below-threshold"}
    left = [
        each for each in after["findings"] if each["locale"] == "uk" and each["rule"] in lacking
    ]
    assert left == []
    known = {each["fingerprint"] for each in before["findings"]}
    new = [
        each
        for each in after["findings"]
        if each["fingerprint"] not in known and each["severity"] != "note"
    ]
    assert new == []
    assert repo.run("brief", "uk", "--format", "json").data["rows"] == []
    again = intake(repo, name)
    assert set(fates(again)) == {"there"}
    assert "there is nothing to change" in again.err


def test_every_client_gets_its_own_syntax(whole: Repo, tmp_path: Path) -> None:
    repo = copy(whole, tmp_path)
    rows = rows_of((repo.root / "out/csv/brief.uk.csv").read_bytes())
    repo.write({"brief.uk.csv": sheet(filled(rows))})
    intake(repo, "brief.uk.csv", "--write")
    wanted = {
        "clients/booking-site/src/locales/uk/booking.json": "{{price}}",
        "clients/ridge-pocket/Pocket/uk.lproj/Booking.strings": "%@",
        "clients/warden-ledger/lang/uk/booking.php": ":price",
        "clients/valley-kiosk/signs/uk.json": "${price}",
        "services/letter-service/locale/uk/LC_MESSAGES/letters.po": "%(price)s",
    }
    text = translated("A deposit of {price} keeps the bunk").replace("{price}", "")
    for file, placeholder in wanted.items():
        assert f"{text}{placeholder}" in (repo.root / file).read_text("utf-8"), file


PLURALS = {
    "app/locales.json": '["en", "uk"]',
    "app/w/en.json": '{"free_one": "{{count}} bunk free", "free_other": "{{count}} bunks free"}\n',
    "app/w/uk.json": "{}\n",
    "droid/values/strings.xml": '<resources>\n  <plurals name="free">\n    <item quantity="one">%1$d bunk free</item>\n'
    '    <item quantity="other">%1$d bunks free</item>\n  </plurals>\n</resources>\n',
    "droid/values-uk/strings.xml": "<resources>\n</resources>\n",
    "flow/en.arb": '{"free": "{n, plural, one {# bunk free} other {# bunks free}}"}\n',
    "flow/uk.arb": "{}\n",
    "post/uk.po": 'msgid ""\nmsgstr ""\n"Language: uk\\n"\n"Content-Type: text/plain; charset=UTF-8\\n"\n'
    '"Plural-Forms: nplurals=3; plural=(n%10==1 && n%100!=11 ? 0 : n%10>=2 && n%10<=4 && (n%100<12 || n%100>14) ? 1 : 2);\\n"\n\n'
    'msgid "%(n)d bunk free"\nmsgid_plural "%(n)d bunks free"\nmsgstr[0] ""\nmsgstr[1] ""\nmsgstr[2] ""\n',
}
MORE = """
[[client]]
name = "droid"
kind = "mobile"
root = "droid"
platform = "android"
assumes = { default = "-" }
  [[client.catalog]]
  files = "values[-{locale}]/strings.xml"
[[client]]
name = "flow"
kind = "mobile"
root = "flow"
assumes = { default = "-" }
  [client.runtime]
  supported = "files"
  lookup = "exact"
  [[client.catalog]]
  files = "{locale}.arb"
  syntax = "icu"
[[client]]
name = "post"
kind = "service"
root = "post"
platform = "posix"
assumes = { default = "-" }
  [[client.catalog]]
  files = "{locale}.po"
"""


@pytest.mark.parametrize("form", FORMS)
def test_forms_by_number_are_asked_for_once_and_written_as_each_format_has_them(
    repo: Repo, form: str
) -> None:
    repo.write({**PLURALS, "lemmar.toml": charter(shipping="en uk", more=MORE)})
    assert repo.run("brief", "uk", "--as", form, "-o", "out").code == 0
    name = next(path for path in (repo.root / "out").iterdir()).name
    said = {
        "one": "{count} вільне місце",
        "few": "{count} вільні місця",
        "many": "{count} вільних місць",
        "other": "{count} вільного місця",
    }
    if form == "csv":
        rows = rows_of((repo.root / "out" / name).read_bytes())
        assert [row[1] for row in rows[1:]] == list(said)
        assert dict(zip(rows[0], rows[2], strict=True))["numbers"].startswith("2, 3, 4")
        for row in rows[1:]:
            row[column(rows, "uk")] = said[row[1]]
        data = sheet(rows)
    elif form == "po":
        import polib

        po = polib.pofile(str(repo.root / "out" / name))
        po[0].msgstr_plural = {
            number: said[each] for number, each in enumerate(("one", "few", "many"))
        }
        po[1].msgstr = said["other"]  # which only fractions take
        data = str(po).encode("utf-8")
    elif form == "xlsx":
        import openpyxl

        book = openpyxl.load_workbook(repo.root / "out" / name)
        for number in range(2, 6):
            book["texts"].cell(number, 4).value = said[str(book["texts"].cell(number, 2).value)]
        stream = io.BytesIO()
        book.save(stream)
        data = stream.getvalue()
    else:
        root = etree.fromstring((repo.root / "out" / name).read_bytes())
        for unit in [*root.iter(f"{CORE}unit"), *root.iter(f"{OLD}trans-unit")]:
            space = CORE if unit.tag.startswith(CORE) else OLD
            holder = unit if space == OLD else next(unit.iter(f"{CORE}segment"))
            target = holder.find(f"{space}target")
            target = etree.SubElement(holder, f"{space}target") if target is None else target
            target.text = said[(unit.get("id") or "").partition(".")[2]]
        data = etree.tostring(root, encoding="utf-8")
    repo.write({name: data})
    ran = intake(repo, name, "--write")
    assert set(fates(ran)) == {"taken"}, reasons(ran)
    made = {file: (repo.root / file).read_text("utf-8") for file in PLURALS}
    assert json.loads(made["app/w/uk.json"]) == {
        f"free_{form}": text.replace("{count}", "{{count}}") for form, text in said.items()
    }
    assert (
        json.loads(made["flow/uk.arb"])["free"]
        == "{n, plural, one {# вільне місце} few {# вільні місця} many {# вільних місць} other {# вільного місця}}"
    )
    assert '<item quantity="few">%1$d вільні місця</item>' in made["droid/values-uk/strings.xml"]
    assert 'msgstr[1] "%(n)d вільні місця"' in made["post/uk.po"]
    assert repo.found() == []


# ------------------------------------------------------------------------------------------------------------- badly treated


def _moved(rows: list[list[str]]) -> list[list[str]]:
    return [list(reversed(row)) for row in rows]


def _renamed(rows: list[list[str]]) -> list[list[str]]:
    names = {
        "text id": "Nr",
        "state": "Status",
        "English (en)": "Original",
        "Ukrainian (uk)": "Übersetzung",
        "remark": "Kommentar",
    }
    return [[names.get(cell, cell) for cell in rows[0]], *rows[1:]]


def _added(rows: list[list[str]]) -> list[list[str]]:
    return [
        ["who", *rows[0], "done on"],
        *([f"p{number}", *row, "2026-11-20"] for number, row in enumerate(rows[1:])),
    ]


def _left_out(*headings: str) -> Callable[[list[list[str]]], list[list[str]]]:
    def leave(rows: list[list[str]]) -> list[list[str]]:
        gone = {index for index, heading in enumerate(rows[0]) if heading in headings}
        return [[cell for index, cell in enumerate(row) if index not in gone] for row in rows]

    return leave


def _only_two(rows: list[list[str]]) -> list[list[str]]:
    source, target = column(rows, "en"), column(rows, "uk")
    return [[row[source], row[target]] for row in rows]


def _title_above(rows: list[list[str]]) -> list[list[str]]:
    return [["Tarnhut, winter"], [], *rows]


def _no_head(rows: list[list[str]]) -> list[list[str]]:
    return [[row[0], row[column(rows, "en")], row[column(rows, "uk")]] for row in rows[1:]]


def _sorted(rows: list[list[str]]) -> list[list[str]]:
    return [rows[0], *sorted(rows[1:], key=lambda row: row[1][::-1])]


def _smart(rows: list[list[str]]) -> list[list[str]]:
    signs = str.maketrans({"'": "\u2019", '"': "\u201d", "-": "\u2013", " ": "\u00a0"})
    source = column(rows, "en")
    return [
        rows[0],
        *(
            [cell.translate(signs) if index == source else cell for index, cell in enumerate(row)]
            for row in rows[1:]
        ),
    ]


WELL = {
    "moved": _moved,
    "renamed": _renamed,
    "added": _added,
    "no id": _left_out("text id"),
    "no state and no notes": _left_out("state", "remark", "about", "used in", "similar"),
    "source and translation alone": _only_two,
    "a title above": _title_above,
    "no heading": _no_head,
    "sorted": _sorted,
    "smart signs": _smart,
}


@pytest.mark.deep
@pytest.mark.parametrize("name", WELL)
def test_a_sheet_is_understood_however_it_was_treated(
    faulty: Repo, tmp_path: Path, name: str
) -> None:
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    repo = copy(faulty, tmp_path)
    repo.write({"brief.uk.csv": sheet(WELL[name](rows))})
    ran = intake(repo, "brief.uk.csv")
    assert sum(fates(ran).values()) == len(rows) - 1
    assert set(fates(ran)) == {"taken"}, reasons(ran)


@pytest.mark.parametrize(
    "encoding", ["utf-8", "utf-16", "utf-16-le", "cp1251", "koi8_u", "utf-8-sig"]
)
@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_a_sheet_is_read_in_another_encoding_and_with_another_separator(
    faulty: Repo, tmp_path: Path, encoding: str, separator: str
) -> None:
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    out = io.StringIO()
    csv.writer(out, delimiter=separator).writerows(rows)
    repo = copy(faulty, tmp_path)
    repo.write({"brief.uk.csv": out.getvalue().encode(encoding, "replace")})
    ran = intake(repo, "brief.uk.csv", "--write")
    assert set(fates(ran)) == {"taken"}, reasons(ran)
    assert "Їжа для гостей" in (
        repo.root / "clients/booking-site/src/locales/uk/booking.json"
    ).read_text("utf-8")


def treated(
    faulty: Repo, tmp_path: Path, change: Callable[[list[list[str]]], object]
) -> tuple[Repo, Any, list[list[str]]]:
    """A sheet that a translator has filled in, with one thing changed; what taking it says."""
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    change(rows)
    repo = copy(faulty, tmp_path)
    repo.write({"brief.uk.csv": sheet(rows)})
    return repo, intake(repo, "brief.uk.csv", "--back", "back", "--write"), rows


def _at(rows: list[list[str]], source: str) -> list[str]:
    return next(row for row in rows if row[column(rows, "en")] == source)


@pytest.mark.deep
@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("Їжа без ціни", "{price} of the source is missing"),
        ("Їжа {Price}", "{Price} is no placeholder of the source, which has {price}; did you mean 'price'?"),
        ("Їжа {price", "a brace stands alone; write each placeholder as the source has it"),
        ("Їжа {price} <b>так</b>", "<b> is added"),
        ("Food {price}", "it contains no Cyrillic script; mark it 'final' if that is intended"),
        ("Їжа {price} " + "дуже " * 20, "has 111 characters; at most 60 are allowed"),
        ("Їжа {price} " + "дуже " * 90, "it has 462 characters, and the source 35; mark it 'final' if that is intended"),
        ("\ufffdжа {price}", "it has a character that was lost on the way (U+FFFD)"),
        ("– {price} –", "has no letter or digit"),
        ("Їжа\x07 {price}", "has the control character U+0007"),
    ],
)  # fmt: skip
def test_what_is_not_sound_is_held_back_with_the_reason(
    faulty: Repo, tmp_path: Path, text: str, reason: str
) -> None:
    def change(rows: list[list[str]]) -> None:
        _at(rows, "A deposit of {price} keeps the bunk")[column(rows, "uk")] = text

    repo, ran, rows = treated(faulty, tmp_path, change)
    assert fates(ran) == {"held": 1, "taken": len(rows) - 2}
    assert reason in reasons(ran)[0]
    sent = rows_of((repo.root / "back/back.uk.csv").read_bytes())
    assert len(sent) == 2
    assert reason in sent[1][column(sent, "sent back")]
    assert sent[1][column(sent, "uk")] == text.replace("\x07", "\x07")
    sent[1][column(sent, "uk")] = "Їжа за {price}"
    repo.write({"again.uk.csv": sheet(sent)})
    again = intake(repo, "again.uk.csv", "--write")
    assert fates(again) == {"taken": 1}
    assert repo.run("brief", "uk", "--format", "json").data["rows"] == []


@pytest.mark.parametrize(
    ("text", "taken"),
    [
        ("  Їжа { price }  ", "Їжа {price}"),
        ("Їжа \uff5bprice\uff5d", "Їжа {price}"),
        ("Їжа\n{price}", "Їжа {price}"),
        ("И\u0306жа {price}", "Йжа {price}"),
    ],
)  # fmt: skip
def test_what_programs_change_in_a_text_is_put_right(
    faulty: Repo, tmp_path: Path, text: str, taken: str
) -> None:
    def change(rows: list[list[str]]) -> None:
        _at(rows, "A deposit of {price} keeps the bunk")[column(rows, "uk")] = text

    repo, ran, _ = treated(faulty, tmp_path, change)
    assert set(fates(ran)) == {"taken"}
    assert taken.replace("{price}", ":price") in (
        repo.root / "clients/warden-ledger/lang/uk/booking.php"
    ).read_text("utf-8")


def test_every_row_is_accounted_for(faulty: Repo, tmp_path: Path) -> None:
    def change(rows: list[list[str]]) -> None:
        target, source = column(rows, "uk"), column(rows, "en")
        rows[1][target] = ""
        rows.append(list(rows[2]))  # the same once more
        rows.append(
            [*rows[3][:target], "Їжа інша", *rows[3][target + 1 :]]
        )  # another text for the same
        strange = ["" for _ in rows[0]]
        strange[0], strange[source], strange[target] = "t-aaaaaaaaaa", "No such text", "Немає"
        rows.append(strange)

    repo, ran, rows = treated(faulty, tmp_path, change)
    assert fates(ran) == {"open": 1, "same": 1, "disagree": 2, "unknown": 1, "taken": len(rows) - 6}
    assert sum(fates(ran).values()) == len(rows) - 1
    question = rows_of((repo.root / "back/questions.uk.csv").read_bytes())
    assert len(question) == 2
    assert "'Їжа інша'" in question[1][column(question, "sent back")]
    unplaced = rows_of((repo.root / "back/unplaced.csv").read_bytes())
    assert unplaced[1][2:5] == ["t-aaaaaaaaaa", "No such text", "Немає"]


def test_files_that_disagree_are_asked_about(faulty: Repo, tmp_path: Path) -> None:
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    other = [list(row) for row in rows]
    other[1][column(rows, "uk")] = "Їжа від іншого"
    repo = copy(faulty, tmp_path)
    repo.write({"a.uk.csv": sheet(rows), "b.uk.csv": sheet(other)})
    ran = intake(repo, "a.uk.csv", "b.uk.csv")
    assert fates(ran) == {"disagree": 2, "same": len(rows) - 2, "taken": len(rows) - 2}
    reverse = intake(repo, "b.uk.csv", "a.uk.csv")
    assert fates(reverse) == fates(ran)


def test_two_columns_that_could_be_meant_are_not_guessed_between(
    faulty: Repo, tmp_path: Path
) -> None:
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    target = column(rows, "uk")
    made = [[*row, row[target]] for row in rows]
    made[0][target], made[0][-1] = "first", "second"
    repo = copy(faulty, tmp_path)
    repo.write({"brief.uk.csv": sheet(made)})
    ran = repo.run("intake", "brief.uk.csv")
    assert "could each hold the translations" in ran.out
    assert "there is nothing to change" in ran.err


def test_a_source_that_was_changed_meanwhile_is_told(faulty: Repo, tmp_path: Path) -> None:
    repo = copy(faulty, tmp_path)
    rows = filled(rows_of((repo.root / "out/csv/brief.uk.csv").read_bytes()))
    for path in [*repo.root.glob("clients/**/*"), *repo.root.glob("services/**/*")]:
        if path.is_file() and b"Choose a bunk" in path.read_bytes():
            path.write_bytes(path.read_bytes().replace(b"Choose a bunk", b"Choose your bunk"))
    repo.write({"brief.uk.csv": sheet(rows)})
    ran = intake(repo, "brief.uk.csv")
    assert fates(ran) == {"unknown": 1, "taken": len(rows) - 2}
    assert reasons(ran) == ["the source has been changed since: it says 'Choose your bunk' now"]


def test_texts_in_another_language_are_held_back(faulty: Repo, tmp_path: Path) -> None:
    german = "Das ist nicht der Platz, der für die Gäste und mit dem Frühstück ist, aber auch wenn sie es so haben wollen {}"
    rows = filled(
        rows_of((faulty.root / "out/csv/brief.pt-BR.csv").read_bytes()),
        lambda source: german,
        "pt-BR",
    )
    repo = copy(faulty, tmp_path)
    repo.write({"brief.pt-BR.csv": sheet(rows)})
    ran = intake(repo, "brief.pt-BR.csv")
    assert set(fates(ran)) == {"held"}
    assert "the texts of this file are in German, not in Brazilian Portuguese" in reasons(ran)[0]


def test_a_text_that_stays_as_it_is_must_be_final(faulty: Repo, tmp_path: Path) -> None:
    for state, fate in (("translated", "held"), ("final", "taken")):
        rows = rows_of((faulty.root / "out/csv/brief.it.csv").read_bytes())
        row = _at(rows, "Stairs to the bunks")
        row[column(rows, "it")], row[column(rows, "state")] = "Stairs to the bunks", state
        repo = copy(faulty, tmp_path / state)
        repo.write({"brief.it.csv": sheet([rows[0], row])})
        assert fates(intake(repo, "brief.it.csv")) == {fate: 1}


def test_a_text_that_somebody_else_has_written_is_not_written_over(
    faulty: Repo, tmp_path: Path
) -> None:
    repo = copy(faulty, tmp_path)
    rows = filled(rows_of((repo.root / "out/csv/brief.uk.csv").read_bytes()))
    repo.write({"brief.uk.csv": sheet(rows)})
    intake(repo, "brief.uk.csv", "--write")
    rows[1][column(rows, "uk")] = "Їжа зовсім інша"
    repo.write({"brief.uk.csv": sheet(rows)})
    ran = intake(repo, "brief.uk.csv")
    assert fates(ran) == {"held": 1, "there": len(rows) - 2}
    assert "has another text by now" in reasons(ran)[0]
    assert fates(intake(repo, "brief.uk.csv", "--replace")) == {"taken": 1, "there": len(rows) - 2}


def test_a_file_must_say_its_locale(faulty: Repo, tmp_path: Path) -> None:
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    rows[0][column(rows, "uk")] = "translation"
    repo = copy(faulty, tmp_path)
    repo.write({"answers.csv": sheet(rows)})
    ran = repo.run("intake", "answers.csv")
    assert (ran.code, "name it with --locale" in ran.err) == (2, True)
    assert set(fates(intake(repo, "answers.csv", "--locale", "uk"))) == {"taken"}


def test_an_xliff_that_another_program_wrote_is_read(faulty: Repo, tmp_path: Path) -> None:
    """Segments cut and marked, notes dropped, codes of its own, another version of the standard, another prefix."""
    rows = rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes())
    name = _at(rows, "A deposit of {price} keeps the bunk")[0]
    cut = (
        f'<?xml version="1.0"?><x:xliff xmlns:x="urn:oasis:names:tc:xliff:document:2.0" version="2.0" srcLang="en" trgLang="uk-UA">'
        f'<x:file id="f"><x:group id="g"><x:unit id="{name}"><x:originalData><x:data id="d1">{{price}}</x:data></x:originalData>'
        '<x:segment state="final"><x:source>A deposit </x:source><x:target>Застава <x:mrk id="m" type="term">за</x:mrk> </x:target></x:segment>'
        '<x:segment state="translated"><x:source>of <x:ph id="1" dataRef="d1"/> keeps the bunk</x:source>'
        '<x:target><x:ph id="1"/> тримає місце</x:target></x:segment></x:unit></x:group></x:file></x:xliff>'
    )
    old = (
        '<xliff version="1.2"><file source-language="en" target-language="uk" datatype="plaintext" original="o"><body>'
        f'<trans-unit id="{name}"><source>A deposit of <x id="1"/> keeps the bunk</source><seg-source>A</seg-source>'
        '<target state="translated">Застава <g id="9">за</g> {price} тримає місце</target></trans-unit></body></file></xliff>'
    )
    for text in (cut, old):
        repo = copy(faulty, tmp_path / str(len(text)))
        repo.write({"back.xlf": text})
        ran = intake(repo, "back.xlf", "--write")
        assert fates(ran) == {"taken": 1}, reasons(ran)
        assert "Застава за :price тримає місце" in (
            repo.root / "clients/warden-ledger/lang/uk/booking.php"
        ).read_text("utf-8")


def test_what_is_no_answer_at_all_is_refused_plainly(repo: Repo, faulty: Repo) -> None:
    for name, data, words in (
        ("a.xlsx", b"PK\x03\x04broken", "damaged"),
        ("a.uk.csv", b"", "no rows"),
        ("a.bin", b"\x00\x01", "none of the forms"),
        ("a.xlf", b"<xliff", "which locale"),
        ("a.uk.xlf", b"<xliff version='2.0'><unit id='t'>", "line 1"),
    ):
        faulty.write({name: data})
        ran = (
            faulty.run("intake", name, "--locale", "uk")
            if "uk" not in name and "xlf" not in name
            else faulty.run("intake", name)
        )
        assert words in ran.out + ran.err, (name, ran.out, ran.err)
        (faulty.root / name).unlink()
    assert faulty.run("intake", "no-such.csv").code == 2


def test_texts_that_are_there_are_not_asked_for_again(whole: Repo) -> None:
    said = " ".join(whole.run("brief").out.split())
    assert "weather-eye: 9 texts of it are there under an old key" in said
    assert (
        "summit-trail: 44 texts of it are there and never asked for, in 'de-AT'; see 'lemmar chain de-AT'"
        in said
    )


def test_what_one_catalog_takes_does_not_hang_on_what_is_wrong_in_another(
    faulty: Repo, tmp_path: Path
) -> None:
    """A term makes one text after the other wrong; the audit is asked until it has nothing against what is left."""
    repo = copy(faulty, tmp_path)
    text = (repo.root / "lemmar.toml").read_text("utf-8")
    repo.write({"lemmar.toml": f'{text}\n[[term]]\nword = "bunk"\nagreed = {{ uk = ["місце"] }}\n'})
    rows = rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes())
    repo.write({"brief.uk.csv": sheet(filled(rows))})
    ran = intake(repo, "brief.uk.csv", "--write")
    assert fates(ran) == {"held": 2, "taken": len(rows) - 3}
    assert all("'bunk' is to be translated" in reason for reason in reasons(ran))
    assert not [
        each
        for each in repo.audit()["findings"]
        if each["rule"] == "message.term" and "Їжа" in each["effect"]
    ]


@pytest.mark.parametrize("form", ["xliff2", "xliff1", "po", "csv", "xlsx"])
def test_a_hostile_file_ends_in_words(faulty: Repo, tmp_path: Path, form: str) -> None:
    """Deep, wide, long, empty, of odd characters, with entities: each is read within bounds, and nothing of it goes into a catalog."""
    name = rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes())[1][0]
    unit = '<unit id="{}"><segment><source>a</source><target>{}</target></segment></unit>'
    old = '<trans-unit id="{}"><source>a</source><target>{}</target></trans-unit>'
    head = {
        "xliff2": '<xliff version="2.1" srcLang="en" trgLang="uk"><file id="f">{}</file></xliff>',
        "xliff1": '<xliff version="1.2"><file source-language="en" target-language="uk"><body>{}</body></file></xliff>',
    }
    files: list[Any]
    if form in head:
        one = unit if form == "xliff2" else old
        bomb = '<!DOCTYPE x [<!ENTITY a "' + "a" * 999 + '"><!ENTITY b "' + "&a;" * 999 + '">]>'
        files = [
            head[form].format(one.format(name, inside))
            for inside in (
                "<g>" * 5_000,
                '<cp hex="zz"/><cp hex="D800"/><cp hex="999999999"/>',
                '<ph id="x"/>' * 5_000,
                "{ " * 50_000,
            )
        ]
        files += [
            bomb + head[form].format(one.format(name, "&b;")),
            head[form].format("<group>" * 5_000),
            head[form].format(""),
        ]
    elif form == "po":
        files = [
            f'msgid ""\nmsgstr "Language: uk\\n"\n\nmsgctxt "{name}"\nmsgid "a"\nmsgstr "{text}"\n'
            for text in ("{ " * 50_000, "\\0", " " * 100_000 + "a")
        ] + ["msgid msgstr" * 10_000, b"msgid \xff msgstr"]
    elif form == "csv":
        files = [
            f"text id,English (en),Ukrainian (uk)\n{name},a,{text}\n"
            for text in ("{" + " " * 100_000, '"' * 10_001, "a" + " " * 100_000 + "a", "\x00")
        ]
        files += [
            "a," * 100_000,
            "a\n" * 100_000,
            f"{name};" * 20_000,
            b"\xff\xfe\x00",
            ("used in: (" * 20_000) + "\n" + "x,y",
        ]
    else:
        files = [b"PK\x03\x04", b"PK\x03\x04" + b"\0" * 1_000]
    repo = copy(faulty, tmp_path)
    before = {
        path: path.read_bytes() for path in (repo.root / "clients").rglob("*") if path.is_file()
    }
    for number, text in enumerate(files):
        suffix = {"xliff2": "xlf", "xliff1": "xlf"}.get(form, form)
        repo.write({f"{number}.uk.{suffix}": text})
        ran = repo.run("intake", f"{number}.uk.{suffix}", "--write", *DAY)
        assert ran.code in (0, 2), (number, ran.err)
        assert "Traceback" not in ran.err
    assert {path: path.read_bytes() for path in before} == before


@settings(max_examples=share(40))
@given(st.randoms(use_true_random=False))
def test_nothing_is_lost_of_any_sheet(
    faulty: Repo, tmp_path_factory: pytest.TempPathFactory, source: random.Random
) -> None:
    """Rows dropped, doubled, shuffled, cut, emptied, with signs thrown in: each is accounted for, and no catalog gets worse."""
    rows = filled(rows_of((faulty.root / "out/csv/brief.uk.csv").read_bytes()))
    head, body = rows[0], [list(row) for row in rows[1:]]
    for _ in range(source.randint(1, 8)):
        row = source.choice(body)
        place = source.randrange(len(row))
        what = source.randrange(6)
        if what == 0:
            body.append(list(row))
        elif what == 1 and len(body) > 1:
            body.remove(row)
        elif what == 2:
            source.shuffle(body)
        elif what == 3:
            row[place] = row[place][: source.randint(0, len(row[place]))]
        elif what == 4:
            at = source.randint(0, len(row[place]))
            row[place] = (
                row[place][:at]
                + source.choice(["{", "}", "<b>", "\n", '"', ";", "Їж", "x", "\u202e"])
                + row[place][at:]
            )
        else:
            row[place] = source.choice(["", source.choice(body)[place]])
    repo = Repo(tmp_path_factory.mktemp("lost"))
    copy(faulty, repo.root)
    repo.write({"brief.uk.csv": sheet([head, *body])})
    before = {each["fingerprint"] for each in repo.audit()["findings"]}
    ran = repo.run("intake", "brief.uk.csv", "--format", "json", "--write", *DAY)
    assert ran.code == 0, ran.err
    held = [
        row
        for row in body
        if any(row[column(rows, name)].strip() for name in ("text id", "en", "uk"))
    ]
    if "answer" in {row["kind"] for row in ran.data["rows"]}:
        assert sum(fates(ran).values()) == len(held)
    assert set(fates(ran)) <= set(FATES)
    after = [each for each in repo.audit()["findings"] if each["fingerprint"] not in before]
    assert [
        each
        for each in after
        if each["severity"] != "note" and each["rule"] != "message.same-as-source"
    ] == []


# ------------------------------------------------------------------------------------------------------------------- history


def git(repo: Repo, *arguments: str) -> str:
    done = subprocess.run(
        ["git", "-c", "user.name=t", "-c", "user.email=t@t.example", "-c", "commit.gpgsign=false", *arguments],
        cwd=repo.root, check=True, capture_output=True, text=True,
    )  # fmt: skip
    return done.stdout


def commit(repo: Repo, files: dict[str, str]) -> None:
    repo.write(files)
    git(repo, "add", "-A")
    git(repo, "commit", "-qm", "x")


@pytest.fixture
def past(repo: Repo) -> Repo:
    """A source whose second text was changed after its translation, and whose third was changed with it."""
    git(repo, "init", "-q", "-b", "main")
    start = {"a": "One hut", "b": "Two huts", "c": "Three huts", "d": "Four huts"}
    german = {"a": "Eine Hütte", "b": "Zwei Hütten", "c": "Drei Hütten", "d": "Vier Hütten"}
    commit(
        repo,
        {
            "lemmar.toml": charter(),
            "app/locales.json": '["en", "de"]',
            "app/w/en.json": json.dumps(start),
            "app/w/de.json": json.dumps(german),
        },
    )
    commit(repo, {"app/w/en.json": json.dumps(start | {"b": "Two small huts", "d": "Four  huts"})})
    both = {"b": "Two small huts", "c": "Three small huts"}
    commit(
        repo,
        {
            "app/w/en.json": json.dumps(start | both),
            "app/w/de.json": json.dumps(german | {"c": "Drei kleine Hütten"}, ensure_ascii=False),
        },
    )
    return repo


def stale(repo: Repo, *arguments: str) -> list[str]:
    ran = repo.run(
        "brief", "de", "--as", "csv", "-o", f"out{len(list(repo.root.glob('out*')))}", *arguments
    )
    assert ran.code == 0, ran.err
    last = f"out{len(list(repo.root.glob('out*'))) - 1}/brief.de.csv"
    path = repo.root / last
    return sorted(row[1] for row in rows_of(path.read_bytes())[1:]) if path.exists() else []


def test_a_source_that_was_changed_after_its_translation_is_stale(past: Repo) -> None:
    assert stale(past) == ["Two small huts"]


def test_what_is_not_committed_counts(past: Repo) -> None:
    past.write(
        {
            "app/w/en.json": (past.root / "app/w/en.json")
            .read_text()
            .replace("One hut", "One old hut")
        }
    )
    assert stale(past) == ["One old hut", "Two small huts"]
    past.write(
        {
            "app/w/de.json": (past.root / "app/w/de.json")
            .read_text()
            .replace("Zwei H", "Zwei kleine H")
        }
    )
    assert stale(past) == ["One old hut"]


def test_a_file_that_was_broken_for_a_while_keeps_its_past(past: Repo) -> None:
    for name in ("de", "en"):
        whole = (past.root / f"app/w/{name}.json").read_text("utf-8")
        commit(past, {f"app/w/{name}.json": whole[:20]})
        commit(past, {f"app/w/{name}.json": whole})
    assert stale(past) == ["Two small huts"]


def test_a_file_that_was_moved_keeps_its_past(past: Repo) -> None:
    (past.root / "app/w").rename(past.root / "app/words")
    commit(past, {"lemmar.toml": charter(files="words/{locale}.json")})
    assert stale(past) == ["Two small huts"]


def test_a_history_that_ends_too_early_is_told(
    past: Repo, tmp_path_factory: pytest.TempPathFactory
) -> None:
    ran = past.run("brief", "de", "--depth", "1")
    assert "whether 3 translations are older than their source is not known" in " ".join(
        ran.out.split()
    )
    folder = tmp_path_factory.mktemp("shallow")
    subprocess.run(
        ["git", "clone", "-q", "--depth", "1", f"file://{past.root}", str(folder / "c")],
        check=True,
        capture_output=True,
    )
    ran = Repo(folder / "c").run("brief", "de")
    assert "is not known" in ran.out
    assert "is not known" not in past.run("brief", "de").out


def test_intake_takes_what_is_stale_by_its_history(past: Repo) -> None:
    past.run("brief", "de", "--as", "csv", "-o", "out")
    rows = rows_of((past.root / "out/brief.de.csv").read_bytes())
    assert rows[1][column(rows, "so far")] == "Zwei Hütten"
    past.write({"brief.de.csv": sheet(filled(rows, lambda _source: "Zwei kleine Hütten", "de"))})
    assert fates(intake(past, "brief.de.csv", "--write")) == {"taken": 1}
    assert json.loads((past.root / "app/w/de.json").read_text())["b"] == "Zwei kleine Hütten"
    commit(past, {})
    assert stale(past) == []


# --------------------------------------------------------------------------------------------------------------------- terms


TERM = """
[[term]]
word = "bunk"
forms = "bunks?"
agreed = { de = ["Lager", "Schlafplatz"], zh-Hans = ["铺位"], ko = ["침대"] }
inflected = { de = 'Schlafpl(a|ä)tz\\w*' }
avoid = { de = ["Bett"] }
note = "a place to sleep"

[[term]]
word = "Tarnhut"
keeps = true
"""


@pytest.mark.parametrize(
    ("locale", "source", "text", "said"),
    [
        ("de", "Take a bunk", "Das Lager nehmen", ""),
        ("de", "Two bunks", "Zwei Schlafplätze", ""),
        ("de", "BUNK", "SCHLAFPLATZ", ""),
        ("de", "Take a bunk", "Den Platz nehmen", "lacks 'Lager' or 'Schlafplatz', as 'bunk' is to be translated"),
        ("de", "Take a bunk", "Das Lager im Bett", "has 'Bett' for 'bunk', which is to be avoided; 'Lager' or 'Schlafplatz' is agreed"),
        ("de", "A bunkhouse", "Ein Haus", ""),
        ("de", "Take a bunk", "Lagerfeuer", "lacks 'Lager' or 'Schlafplatz', as 'bunk' is to be translated"),
        ("zh-Hans", "Take a bunk", "选择铺位吧", ""),
        ("zh-Hans", "Take a bunk", "选择床", "lacks '铺位', as 'bunk' is to be translated"),
        ("ko", "Take a bunk", "침대를 고르기", ""),
        ("fr", "Take a bunk", "Prendre un lit", ""),
        ("fr", "Welcome to Tarnhut", "Bienvenue à Tarnhut", ""),
        ("fr", "Welcome to Tarnhut", "Bienvenue à la cabane", "lacks 'Tarnhut', which stays as it is in every language"),
    ],
)  # fmt: skip
def test_terms(repo: Repo, locale: str, source: str, text: str, said: str) -> None:
    files = {
        "lemmar.toml": charter(shipping="en de zh-Hans ko fr", claim=SUPPORTS_FILES, more=TERM),
        **{
            f"app/w/{tag}.json": json.dumps({"other": "…", "key": "…"})
            for tag in ("de", "zh-Hans", "ko", "fr")
        },
    }
    files |= {
        "app/w/en.json": json.dumps({"other": "…", "key": source}),
        f"app/w/{locale}.json": json.dumps({"other": "…", "key": text}),
    }
    if locale != "de":
        files["app/w/de.json"] = json.dumps({"other": "…"})
    for tag in {"de", "zh-Hans", "ko", "fr"} - {locale}:
        files[f"app/w/{tag}.json"] = json.dumps({"other": "…"})
    found = [
        each["message"]
        for each in repo.write(files).audit()["findings"]
        if each["rule"] == "message.term"
    ]
    assert found == ([f"'key' in {locale!r} {said}"] if said else [])


SUPPORTS_FILES = '\n  [[client.claim]]\n  states = "supported"\n  files = "w/{locale}.json"\n'


def test_a_term_that_most_texts_of_a_catalog_lack_is_one_finding(repo: Repo) -> None:
    source = {f"k{number}": f"The bunk number {number} is free" for number in range(14)}
    german = {
        key: text.replace("The bunk", "Das Bett").replace("is free", "ist frei")
        for key, text in source.items()
    }
    more = '\n[[term]]\nword = "bunk"\nagreed = { de = ["Lager"] }\n'
    repo.write(
        {
            "lemmar.toml": charter(more=more),
            "app/locales.json": '["en", "de"]',
            "app/w/en.json": json.dumps(source),
            "app/w/de.json": json.dumps(german),
        }
    )
    (found,) = repo.audit()["findings"]
    assert (
        found["message"]
        == "14 of 14 texts in 'de' with 'bunk' in their source lack 'Lager', as 'bunk' is to be translated"
    )


def test_a_brief_names_the_terms_that_occur(repo: Repo) -> None:
    repo.write({"lemmar.toml": charter(shipping="en de zh-Hans ko", more=TERM), "app/locales.json": '["en", "de", "zh-Hans", "ko"]',
                "app/w/en.json": '{"a": "Take a bunk at Tarnhut"}', "app/w/de.json": "{}"})  # fmt: skip
    repo.run("brief", "de", "--as", "csv", "-o", "out")
    rows = rows_of((repo.root / "out/brief.de.csv").read_bytes())
    said = "bunk: Lager or Schlafplatz; not Bett; a place to sleep\nTarnhut: stays as it is"
    assert rows[1][column(rows, "terms")] == said


def test_terms_are_proposed_from_what_is_said_consistently(repo: Repo) -> None:
    assert repo.write(monorepo_files(sound=True)).audit()["verdict"] == "clear"
    ran = repo.run("terms", "--format", "json")
    found = {(row["word"], row["locale"]): row for row in ran.data["rows"]}
    assert found["bunk", "it"]["translation"] == "cuccetta"
    assert found["bunk", "zh-Hans"]["translation"] == "铺位"
    text = repo.run("terms", "bunk").out
    tables = text[text.index("[[term]]") :]
    (repo.root / "lemmar.toml").write_text(
        (repo.root / "lemmar.toml").read_text("utf-8") + "\n" + tables, "utf-8"
    )
    findings = [each for each in repo.audit()["findings"] if each["rule"] == "message.term"]
    assert {each["locale"] for each in findings} <= {
        "zh-Hans",
        "ar",
    }  # where it holds for five of seven texts
    assert "bunk" not in {
        row["word"]
        for row in repo.run("terms", "--format", "json").data["rows"]
        if row["known"] == "proposed"
    }


@pytest.mark.parametrize(
    ("table", "words"),
    [
        ('word = "a"', "says nothing"),
        ('word = "a"\nkeeps = true\nagreed = { de = ["b"] }', "leave 'keeps' or 'agreed' out"),
        ('word = "a"\nagreed = { cn = ["b"] }', "write 'zh-Hans'"),
        ('word = "a"\nkeeps = true\nforms = "("', "cannot be read"),
        ('word = "a"\nagreed = { de = "b" }', "wants a list, found a text"),
    ],
)  # fmt: skip
def test_what_is_wrong_with_a_term_is_said(repo: Repo, table: str, words: str) -> None:
    repo.write({"lemmar.toml": charter(more=f"\n[[term]]\n{table}\n")})
    ran = repo.run("charter")
    assert (ran.code, words in ran.out + ran.err) == (2, True)


# ----------------------------------------------------------------------------------------------------------------- documents


STORE = """
  [[client.catalog]]
  files = "store/{locale}/{key}.md"
  format = "document"
  limits = { title = 12, "*" = 400 }
"""


def store(**more: str) -> dict[str, str | bytes]:
    files: dict[str, str | bytes] = {
        "lemmar.toml": charter(catalog=STORE.replace("  [[client.catalog]]\n", "", 1) and STORE),
        "app/locales.json": '["en", "de"]',
        "app/w/en.json": "{}",
        "app/w/de.json": "{}",
        "app/store/en/title.md": "Mountain huts\n",
        "app/store/en/about.md": "# Huts\n\nBunks in a chain of huts.\n",
        "app/store/de/title.md": "Berghütten\n",
        "app/store/de/about.md": "# Hütten\n\nLager in einer Kette von Hütten.\n",
    }
    return files | {f"app/store/{name.replace('__', '/')}.md": text for name, text in more.items()}


def test_a_document_is_a_message(repo: Repo) -> None:
    assert repo.write(store()).found() == ["message.too-long app/store/en/title.md:1:1 en/title"]
    repo.write(
        store(de__title="", en__title="Huts\n", de__about="Mountain huts in which one can sleep\n")
    )
    assert repo.found() == ["message.empty app/store/de/title.md:1:1 de/title"]
    (repo.root / "app/store/de/about.md").unlink()
    repo.write(store(en__title="Huts\n"))
    (repo.root / "app/store/de/about.md").unlink()
    assert repo.found() == ["message.missing app/store/de/about.md:1:1 de/about"]
    repo.write({"app/store/de/gone.md": "Weg\n", "app/store/de/about.md": "\tHütten \n"})
    assert repo.found() == [
        "message.edge-space app/store/de/about.md:1:1 de/about",
        "message.surplus app/store/de/gone.md:1:1 de/gone",
    ]


def test_documents_go_out_and_come_back(repo: Repo) -> None:
    repo.write(store(en__title="Huts\n"))
    for name in ("title", "about"):
        (repo.root / f"app/store/de/{name}.md").unlink()
    repo.run("brief", "de", "--as", "csv", "-o", "out")
    rows = rows_of((repo.root / "out/brief.de.csv").read_bytes())
    assert {row[1]: row[column(rows, "at most")] for row in rows[1:]} == {
        "Huts": "12",
        "# Huts\n\nBunks in a chain of huts.": "400",
    }
    for row in rows[1:]:
        row[column(rows, "de")] = (
            row[1]
            .replace("Huts", "Hütten")
            .replace("Bunks in a chain of huts", "Lager in einer Kette")
        )
    repo.write({"brief.de.csv": sheet(rows)})
    assert fates(intake(repo, "brief.de.csv", "--write")) == {"taken": 2}
    assert (repo.root / "app/store/de/about.md").read_text(
        "utf-8"
    ) == "# Hütten\n\nLager in einer Kette.\n"
    assert repo.found() == []


def test_a_locale_is_enrolled_without_documents(repo: Repo) -> None:
    repo.write(store(en__title="Huts\n"))
    ran = repo.run("enroll", "fr", "--write", *DAY)
    assert ran.code == 0, ran.err
    assert not (repo.root / "app/store/fr").exists()
    assert "app/w/fr.json" in ran.out


# ------------------------------------------------------------------------------------------------- composed catalogs, key lists


FROM = """
  [[client.composed]]
  into = "w/{locale}.json"
  from = ["base/{locale}.json", "cards/{part+}/{locale}.json"]
  under = "{part}"

  [[client.key-list]]
  file = "keys.ts"
  symbol = "Words"
  take = "values"

  [[client.key-list]]
  file = "Keys.cs"
  symbol = "Keys"
  take = "members"
"""


def composed(**more: str) -> dict[str, str | bytes]:
    return {
        "lemmar.toml": charter(claim=SUPPORTS_FILES + FROM),
        "app/base/en.json": '{"bunk": "Bunk"}\n',
        "app/base/de.json": '{"bunk": "Lager"}\n',
        "app/cards/hut/card/en.json": '{"title": "Hut", "sub": {"line": "High"}}\n',
        "app/cards/hut/card/de.json": '{"title": "Hütte", "sub": {"line": "Hoch"}}\n',
        "app/w/en.json": '{\n  "bunk": "Bunk",\n  "hut": {\n    "card": {\n      "title": "Old hut"\n    }\n  },\n  "gone": "Gone"\n}\n',
        "app/keys.ts": 'export const Words = {\n  BUNK: "bunk",\n  HUT_CARD_TITLE: "hut.card.title",\n  GONE: "gone",\n} as const;\n',
        "app/Keys.cs": "public enum Keys\n{\n    Bunk,\n    HutCardTitle,\n}\n",
        **more,
    }


def test_what_is_composed_is_made_anew(repo: Repo) -> None:
    repo.write(composed())
    ran = repo.run("compose", "--write", *DAY)
    assert ran.code == 0, ran.err
    assert repo.found() == []
    assert (repo.root / "app/w/de.json").read_text("utf-8") == (
        '{\n  "bunk": "Lager",\n  "hut": {\n    "card": {\n      "title": "Hütte",\n      "sub": {\n        "line": "Hoch"\n      }\n    }\n  }\n}\n'
    )
    assert (repo.root / "app/keys.ts").read_text("utf-8") == (
        'export const Words = {\n  BUNK: "bunk",\n  HUT_CARD_TITLE: "hut.card.title",\n  HUT_CARD_SUB_LINE: "hut.card.sub.line",\n} as const;\n'
    )
    assert (repo.root / "app/Keys.cs").read_text(
        "utf-8"
    ) == "public enum Keys\n{\n    Bunk,\n    HutCardTitle,\n    HutCardSubLine,\n}\n"
    assert "there is nothing to change" in repo.run("compose", *DAY).err


def test_answers_go_into_fragments_as_well(repo: Repo) -> None:
    repo.write(composed())
    repo.run("compose", "--write", *DAY)
    repo.write(
        {
            "app/base/en.json": '{"bunk": "Bunk", "lift": "Lift"}\n',
            "app/cards/map/en.json": '{"title": "Map"}\n',
        }
    )
    repo.run("compose", "--write", *DAY)
    repo.run("brief", "de", "--as", "csv", "-o", "out")
    rows = rows_of((repo.root / "out/brief.de.csv").read_bytes())
    assert {row[1] for row in rows[1:]} == {"Lift", "Map"}
    for row in rows[1:]:
        row[column(rows, "de")] = {"Lift": "Aufzug", "Map": "Karte"}[row[1]]
    repo.write({"brief.de.csv": sheet(rows)})
    assert fates(intake(repo, "brief.de.csv", "--write")) == {"taken": 2}
    assert json.loads((repo.root / "app/base/de.json").read_text("utf-8")) == {
        "bunk": "Lager",
        "lift": "Aufzug",
    }
    assert json.loads((repo.root / "app/cards/map/de.json").read_text("utf-8")) == {
        "title": "Karte"
    }
    assert repo.found() == []


def test_a_retired_locale_takes_its_fragments_along(repo: Repo) -> None:
    repo.write(composed())
    repo.run("compose", "--write", *DAY)
    assert repo.run("retire", "de", "--drop-files", "--write", *DAY).code == 0
    assert not list(repo.root.rglob("de.json"))
    assert repo.found() == []


def test_fragments_that_clash_are_not_composed(repo: Repo) -> None:
    repo.write(composed() | {"app/base/de.json": '{"bunk": "Lager", "hut.card.title": "Haus"}\n'})
    ran = repo.run("compose", *DAY)
    assert "has another text in app/base/de.json" in " ".join(ran.out.split())
    assert "+++ b/app/w/de.json" not in ran.out


@pytest.mark.parametrize("suffix", ["json", "yaml", "properties", "strings", "arb", "xml"])
def test_catalogs_are_composed_in_each_format(repo: Repo, suffix: str) -> None:
    texts = {
        "json": '{{"{}": "{}"}}\n',
        "yaml": "{}: {}\n",
        "properties": "{}={}\n",
        "strings": '"{}" = "{}";\n',
        "arb": '{{"{}": "{}"}}\n',
        "xml": '<resources>\n  <string name="{}">{}</string>\n</resources>\n',
    }[suffix]
    tables = f'  [[client.composed]]\n  into = "w/{{locale}}.{suffix}"\n  from = ["a/{{locale}}.{suffix}", "b/{{locale}}.{suffix}"]\n'
    claim = SUPPORTS_FILES.replace(".json", f".{suffix}")
    repo.write({
        "lemmar.toml": charter(files=f"w/{{locale}}.{suffix}", claim=claim + tables),
        **{f"app/a/{tag}.{suffix}": texts.format("one", f"First {tag}") for tag in ("en", "de")},
        **{f"app/b/{tag}.{suffix}": texts.format("two", f"Second {tag}") for tag in ("en", "de")},
        f"app/w/en.{suffix}": texts.format("one", "Old"),
        f"app/w/de.{suffix}": texts.format("one", "First de"),
    })  # fmt: skip
    assert [line.split()[0] for line in repo.found()] == [
        "catalog.composed-stale",
        "catalog.composed-stale",
    ]
    assert repo.run("compose", "--write", *DAY).code == 0
    assert repo.found() == []
