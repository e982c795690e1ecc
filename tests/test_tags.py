"""Language tags: tables drawn from RFC 5646 and the platforms' documentation, and properties."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.tags import (
    SPELLINGS,
    LanguageTag,
    TagError,
    looks_like_locale,
    lookup,
    read_spelling,
    spelling_candidates,
    truncations,
    write_spelling,
)

# RFC 5646 appendix A, and section 2.1.1 for the case.
WELL_FORMED = {
    "DE": "de",
    "i-enochian": "i-enochian",
    "zh-hant": "zh-Hant",
    "ZH-CMN-HANS-CN": "zh-cmn-Hans-CN",
    "zh-yue-HK": "zh-yue-HK",
    "sl-rozaj-biske": "sl-rozaj-biske",
    "de-ch-1901": "de-CH-1901",
    "hy-latn-it-arevela": "hy-Latn-IT-arevela",
    "es-419": "es-419",
    "de-CH-x-phonebk": "de-CH-x-phonebk",
    "az-Arab-x-AZE-derbend": "az-Arab-x-aze-derbend",
    "x-Whatever": "x-whatever",
    "qaa-Qaaa-QM-x-southern": "qaa-Qaaa-QM-x-southern",
    "en-US-u-islamcal": "en-US-u-islamcal",
    "zh-CN-a-myext-x-private": "zh-CN-a-myext-x-private",
    "en-a-myext-b-another": "en-a-myext-b-another",
    "EN-gb-OED": "en-GB-oed",
    "sgn-be-fr": "sgn-BE-FR",
    "de-DE-1901-1901": "de-DE-1901-1901",
    "abcd": "abcd",
    "abcdefgh": "abcdefgh",
    "en-a-bbb-a-ccc": "en-a-bbb-a-ccc",
    "de-1996": "de-1996",
    "art-lojban": "art-lojban",
}
MALFORMED = {
    "": 0,
    "de-419-DE": 7,
    "a-DE": 0,
    "de_DE": 2,
    "de-": 3,
    "-de": 0,
    "en-x": 4,
    "en-a": 4,
    "x": 1,
    "1ab": 0,
    "en--US": 3,
    "abcdefghi": 8,
    "de\n": 2,
    "ｅn": 0,
    "de-DE ": 5,
    "İd": 0,
    "\u212ao": 0,
    "de-٣٣٣": 3,
    "en-a-b": 5,
    "zh-abc-def-ghi-jkl": 15,
    "i-unknown": 0,
}


@pytest.mark.parametrize(("text", "expected"), WELL_FORMED.items())
def test_well_formed(text: str, expected: str) -> None:
    tag = LanguageTag.parse(text)
    assert str(tag) == expected
    assert LanguageTag.parse(expected) == tag


@pytest.mark.parametrize(("text", "position"), MALFORMED.items())
def test_malformed_tells_the_place(text: str, position: int) -> None:
    with pytest.raises(TagError) as caught:
        LanguageTag.parse(text)
    assert caught.value.position == position
    assert "expected" in str(caught.value)


def test_subtags() -> None:
    tag = LanguageTag.parse("sl-Latn-it-nedis-u-ca-buddhist-x-me")
    assert (tag.language, tag.script, tag.region, tag.variants) == ("sl", "Latn", "IT", ("nedis",))
    assert (tag.extensions, tag.private_use) == ((("u", ("ca", "buddhist")),), ("me",))


SPELT = [
    ("posix", "sr_RS@latin", "sr-Latn-RS"),
    ("posix", "zh_CN.UTF-8", "zh-CN"),
    ("posix", "ca_ES@valencia", "ca-ES-valencia"),
    ("posix", "C", None),
    ("posix", "de_AT@euro", "de-AT"),
    ("java", "iw", "he"),
    ("java", "zh_TW_#Hant", "zh-Hant-TW"),
    ("java", "no_NO_NY", "nn-NO"),
    ("java", "de-AT", None),
    ("android", "zh-rTW", "zh-TW"),
    ("android", "b+sr+Latn", "sr-Latn"),
    ("android", "night", None),
    ("android", "sw600dp", None),
    ("android", "car", None),
    ("android", "mcc262-de-rDE-land", "de-DE"),
    ("android", "iw", "he"),
    ("posix", "en@quot", "en"),
    ("posix", "gez_ER@abegede", "gez-ER"),
    ("posix", "en@shaw", "en-Shaw"),
    ("java", "th_TH_TH_#u-nu-thai", "th-TH-u-nu-thai"),
    ("java", "sr__#Latn", "sr-Latn"),
    ("java", "de_CH_1996", "de-CH-1996"),
    ("lproj", "pt_BR", "pt-BR"),
    ("lproj", "German", "de"),
    ("lproj", "Base", None),
    ("dotnet", "zh-CHS", "zh-Hans"),
    ("bcp47", "de_AT", None),
    ("auto", "de-AT", "de-AT"),
    ("auto", "de_AT", "de-AT"),
    ("auto", "iw", None),
]


@pytest.mark.parametrize(("spelling", "text", "expected"), SPELT)
def test_spellings(spelling: str, text: str, expected: str | None) -> None:
    tag = read_spelling(text, spelling)
    assert (str(tag) if tag else None) == expected


def test_posix_writes_chinese_by_its_territory() -> None:
    written = {
        text: write_spelling(LanguageTag.parse(text), "posix")
        for text in ("zh-Hans", "zh-Hant", "zh-Hant-HK", "sr-Latn-RS", "zh-Hans-HK")
    }
    assert written == {
        "zh-Hans": "zh_CN",
        "zh-Hant": "zh_TW",
        "zh-Hant-HK": "zh_HK",
        "sr-Latn-RS": "sr_RS@latin",
        "zh-Hans-HK": "zh_HK@hans",
    }


def test_what_two_readings_fit_has_both() -> None:
    assert {str(tag) for tag in spelling_candidates("iw").values()} == {"iw", "he"}


_plain_tags = st.builds(
    lambda language, script, region: "-".join(part for part in (language, script, region) if part),
    st.sampled_from(["de", "sr", "zh", "fil", "pt"]),
    st.sampled_from(["", "Latn", "Hant"]),
    st.sampled_from(["", "AT", "419", "TW"]),
)


@given(_plain_tags, st.sampled_from([name for name in SPELLINGS if name not in ("posix", "name")]))
def test_what_is_written_in_a_spelling_is_read_back(tag: str, spelling: str) -> None:
    parsed = LanguageTag.parse(tag)
    assert read_spelling(write_spelling(parsed, spelling), spelling) == parsed


@given(st.one_of(st.text(max_size=20), st.from_regex(r"[a-zA-Z0-9-]{1,24}", fullmatch=True)))
def test_any_text_is_a_tag_or_an_error(text: str) -> None:
    try:
        tag = LanguageTag.parse(text)
    except TagError as error:
        assert 0 <= error.position <= len(text)
    else:
        assert LanguageTag.parse(str(tag)) == tag and str(tag).lower() == text.lower()
        assert tag.valid == (not any(problem.invalid for problem in tag.problems()))


LOOKUPS = [
    (["zh-Hant-CN-x-private1-private2"], ["zh-Hant", "zh"], "zh-Hant"),
    (["de-ch"], ["de", "en"], "de"),
    (["*", "de"], ["de"], "de"),
    (["fr-FR", "zh-Hant"], ["zh", "en"], "zh"),
    (["en-a-bbb-c-ddd"], ["en-a", "en"], "en"),
    (["x-foo-bar"], ["x-foo"], "x-foo"),
    (["x-foo"], ["x"], None),
    (["de-*-DE"], ["de-DE"], "de-DE"),
    (["*-CH", "de"], ["fr-CH", "de"], "de"),
]


@pytest.mark.parametrize(("ranges", "available", "expected"), LOOKUPS)
def test_lookup(ranges: list[str], available: list[str], expected: str | None) -> None:
    assert lookup(ranges, available) == expected


def test_truncation_takes_single_letters_with_what_follows() -> None:
    assert list(truncations("zh-Hant-CN-x-private1-private2")) == [
        "zh-Hant-CN-x-private1-private2",
        "zh-Hant-CN-x-private1",
        "zh-Hant-CN",
        "zh-Hant",
        "zh",
    ]


def test_headers() -> None:
    assert [
        word
        for word in ("en", "de-AT", "Key", "Notes", "pt_BR", "fil", "Max")
        if looks_like_locale(word)
    ] == [
        "en",
        "de-AT",
        "pt_BR",
        "fil",
    ]
