"""Fonts: what they can draw, how wide texts get, and the characters that texts need."""

from __future__ import annotations

import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.fonts import metrics_of, normal, ranges, read, upper
from lemmar.fonts.needs import is_drawn
from lemmar.resolve.fonts import columns, words_of
from lemmar.syntax import load
from lemmar.tags import Tag

from .conftest import Repo, charter
from .test_rules import ASCII, BOTH, DE, EN, FEATURES, bdf, fnt, one, outlines


@pytest.mark.parametrize(
    ("data", "name"),
    [
        (bdf("aü"), "f.bdf"),
        (bdf("aü").replace("\n", "\r\n"), "f.BDF"),
        (fnt("aü"), "f.fnt"),
        (outlines("aü"), "f.ttf"),
    ],
)
def test_what_a_font_can_draw(data: str | bytes, name: str) -> None:
    found = read(data.encode() if isinstance(data, str) else data, name)
    assert not found.fault
    assert found.codes == ((97, 97), (252, 252))
    assert [sign for sign in "aübö" if found.has(sign)] == ["a", "ü"]


def test_what_shapes_and_marks() -> None:
    found = read(outlines("x\u0301سر", FEATURES), "f.ttf")
    assert "arab" in found.scripts
    assert found.marks == {0x301}


@pytest.mark.parametrize("name", ["f.ttf", "f.otf", "f.woff", "f.woff2", "f.bdf", "f.fnt", "f.ttc"])
@given(st.binary(max_size=60))
def test_what_is_no_font_says_so(name: str, data: bytes) -> None:
    for held in (
        data,
        b"\0\1\0\0" + data,
        b"OTTO" + data,
        b"wOFF" + data,
        outlines("a")[: len(data) * 7],
    ):
        assert read(held, name).fault or read(held, name).codes
        metrics_of(held, name)


def test_a_table_that_claims_more_than_there_is_is_not_written_out() -> None:
    """A few bytes a group may claim a million characters each."""
    import struct

    groups = b"".join(struct.pack(">III", 0, 0x10FFFF, 1) for _ in range(500))
    table = struct.pack(">HHIII", 12, 0, 16 + len(groups), 0, 500) + groups
    cmap = struct.pack(">HHHHI", 0, 1, 3, 10, 12) + table
    head = (
        b"\0\1\0\0"
        + struct.pack(">HHHH", 1, 16, 0, 0)
        + b"cmap"
        + struct.pack(">III", 0, 28, len(cmap))
    )
    assert "claims more of them" in read(head + cmap, "f.ttf").fault
    assert metrics_of(head + cmap, "f.ttf") is None


def test_widths() -> None:
    for data, name, size in ((fnt("ab"), "f.fnt", 10), (bdf("ab"), "f.bdf", 16)):
        metrics = metrics_of(data.encode(), name)
        assert metrics is not None
        assert metrics.width("aab", size) == 24
        assert metrics.width("ab", size / 2) == 8
    kerned = fnt("ab") + "kerning first=97 second=98 amount=-3\n"
    metrics = metrics_of(kerned.encode(), "f.fnt")
    assert metrics is not None and metrics.width("aab", 10) == 21
    feature = "languagesystem DFLT dflt; feature kern { pos a b -100; pos [x y] [b] -50; } kern;"
    metrics = metrics_of(outlines("abxy", feature), "f.ttf")
    assert metrics is not None
    assert metrics.width("ab", 1000) == 900
    assert metrics.width("yb", 1000) == 950
    assert metrics.width("ba", 1000) == 1000
    assert not metrics.knows("aü")


@pytest.mark.parametrize(
    ("text", "locale", "expected"),
    [
        ("istif ılık", "tr", "İSTİF ILIK"),
        ("istif", "en", "ISTIF"),
        ("καλύβες κοντά", "el", "ΚΑΛΥΒΕΣ ΚΟΝΤΑ"),
        ("größe", "de", "GRÖSSE"),
        ("їжа", "uk", "ЇЖА"),
    ],
)
def test_capital_letters(text: str, locale: str, expected: str) -> None:
    assert upper(text, Tag(locale)) == expected


@given(st.text(max_size=40))
def test_ranges_hold_what_they_are_made_of(text: str) -> None:
    codes = set()
    for piece in filter(None, ranges(text).split(",")):
        first, _, last = piece.removeprefix("U+").partition("-")
        codes |= set(range(int(first, 16), int(last or first, 16) + 1))
    assert codes == set(map(ord, text))


@given(st.text(max_size=40))
def test_texts_are_put_together_before_they_are_drawn(text: str) -> None:
    apart = unicodedata.normalize("NFD", text)
    assert normal(apart) == normal(text)
    assert not any(is_drawn(sign) for sign in " \u00a0\u200d\ufe0f\n")


@pytest.mark.parametrize(
    ("syntax", "text", "words"),
    [
        ("icu", "{n, plural, one {# bunk} other {# bunks}} free", {"bunk", "bunks", "free"}),
        ("double-brace", "Led by {{ name }}", {"Led", "by"}),
        ("printf", "%1$s of %2$d", {"of"}),
        ("plain", "{x} it is", {"{x}", "it", "is"}),
    ],
)
def test_the_words_of_a_text(syntax: str, text: str, words: set[str]) -> None:
    assert set(words_of(load(syntax), text).split()) == words


def test_columns() -> None:
    assert [columns(text) for text in ("abc", "雪道", "e\u0301", "ａ", "")] == [3, 4, 1, 2, 0]


def test_glyphs(repo: Repo) -> None:
    repo.write(one())
    rows = repo.run("glyphs", "de", "--format", "json").data["rows"]
    assert [(row["locale"], row["ranges"]) for row in rows] == [
        ("de", "U+0048,U+004C,U+0061,U+0065,U+0067,U+0072,U+0074,U+00FC")
    ]
    assert repo.run("glyphs", "--together").out.strip().endswith("U+00FC")
    assert "fr" in repo.run("glyphs", "fr").err
    files = one(
        {"app/f.bdf": bdf(ASCII)},
        catalog='  [[client.font]]\n  files = ["f.bdf"]\n  uppercase = true\n',
    )
    assert "U+00DC" in repo.write(files).run("glyphs", "de").out


def test_without_what_reads_fonts_an_audit_is_not_complete(
    repo: Repo, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("lemmar.fonts.reading.find_spec", lambda _name: None)
    repo.write(
        one({"app/f.ttf": outlines(ASCII)}, catalog='  [[client.font]]\n  files = ["f.ttf"]\n')
    )
    ran = repo.run("audit", "--no-cache")
    assert ran.code == 3
    assert "install lemmar with its extra 'fonts'" in ran.out + ran.err


@pytest.mark.parametrize(
    ("more", "wrong"),
    [
        (
            "  [[client.box]]\n  keys = ['a']\n  width = 9\n  size = 9\n  font = 'f.png'\n",
            "'f.png' is no font that is read",
        ),
        (
            "  [[client.asset]]\n  own = true\n",
            "an asset has either 'files', a pattern, or 'table'",
        ),
        ("  [[client.asset]]\n  files = 'a/*.ogg'\n", "a pattern of assets has {locale}"),
        (
            "  [[client.asset]]\n  files = '{locale}.ogg'\n  pointer = '/a'\n",
            "'pointer' belongs to a 'table'",
        ),
        ("  [[client.font]]\n  files = ['../../x.ttf']\n", "the pattern leads out of the monorepo"),
    ],
)
def test_what_a_charter_may_not_say(repo: Repo, more: str, wrong: str) -> None:
    ran = repo.write({"lemmar.toml": charter(catalog=more)}).run("audit")
    assert ran.code == 2
    assert wrong in ran.err


@pytest.mark.parametrize("budget", ["much", "200", "KB 3", "1,5 MB"])
def test_a_budget_is_a_size(repo: Repo, budget: str) -> None:
    text = charter().replace('kind = "web"\n', f'kind = "web"\nbudget = "{budget}"\n', 1)
    assert (
        "is no size; write it as in '200 KB'" in repo.write({"lemmar.toml": text}).run("audit").err
    )


def test_grids_of_assets_and_of_sizes(repo: Repo) -> None:
    sounds = {
        "app/s/en/bell.ogg": "bell",
        "app/s/en/wind.ogg": "wind",
        "app/s/de/bell.ogg": "glocke",
    }
    files = one({**sounds}, catalog='  [[client.asset]]\n  files = "s/{locale}/{name}.ogg"\n')
    repo.write(files)
    rows = repo.run("grid", "--by", "asset", "--format", "json").data["rows"]
    assert [(row["locale"], row["own"], row["foreign"], row["absent"]) for row in rows] == [
        ("en", 2, 0, 0),
        ("de", 1, 1, 0),
    ]
    rows = repo.run("grid", "--by", "size", "--format", "json").data["rows"]
    texts = len(EN.encode())
    assert [(row["locale"], row["texts"], row["assets"]) for row in rows] == [
        ("en", texts, 8),
        ("de", texts + len(DE.encode()), 10),
    ]
    assert "1 of 2 1f" in repo.run("grid", "--by", "asset").out
    assert (
        "no client of the charter has assets"
        in repo.write({"lemmar.toml": charter(), "app/locales.json": BOTH})
        .run("grid", "--by", "asset")
        .err
    )
