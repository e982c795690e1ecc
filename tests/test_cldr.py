"""What CLDR and the registry know of tags: tables from the standards' own examples, and properties over all that is registered."""

from __future__ import annotations

import itertools
import subprocess
import sys
from typing import Literal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.tags import (
    LanguageTag,
    direction,
    distance,
    lookup,
    meant,
    nearest,
    plural_categories,
    plural_category,
    read_spelling,
    same_locale,
    whole_number_categories,
    whole_numbers,
    write_spelling,
)
from lemmar.tags.describing import compare, describe
from lemmar.tags.plurals import MOST_COUNTED, Kind, operands
from lemmar.tags.tables import table

parse = LanguageTag.parse

# RFC 5646 appendix A and section 2.2.9; the registry of the tables' date.
VALID = [
    "de",
    "zh-Hant",
    "sl-rozaj-biske",
    "de-CH-1901",
    "es-419",
    "qaa-Qaaa-QM-x-southern",
    "i-klingon",
    "en-GB-oed",
    "zh-yue-HK",
    "x-whatever",
    "zxx",
    "sr-Latn-QM",
    "en-a-bbb-x-a-ccc",
]
INVALID = {
    "de-DE-1901-1901": "duplicate-variant",
    "en-a-bbb-a-ccc": "duplicate-singleton",
    "cn": "unregistered",
    "en-UK": "unregistered",
    "zh-Hnas": "unregistered",
    "deu": "unregistered",
    "de-fantasy1": "unregistered",
    "ar-yue": "extlang",
    "abcd": "unregistered",
    "en-999": "unregistered",
}


@pytest.mark.parametrize("text", VALID)
def test_valid(text: str) -> None:
    assert parse(text).valid


@pytest.mark.parametrize(("text", "kind"), INVALID.items())
def test_invalid_with_its_kind(text: str, kind: str) -> None:
    found = [problem for problem in parse(text).problems() if problem.invalid]
    assert not parse(text).valid and found[0].kind == kind and found[0].advice


ADVICE = {
    "iw": "deprecated",
    "en-Latn": "overspecified",
    "zh-cmn": "preferred",
    "i-klingon": "preferred",
    "i-default": "deprecated",
    "ru-1901": "prefix",
    "de-DD": "deprecated",
}


@pytest.mark.parametrize(("text", "kind"), ADVICE.items())
def test_valid_and_not_at_its_best(text: str, kind: str) -> None:
    assert parse(text).valid and [problem.kind for problem in parse(text).problems()] == [kind]


# UTS 35 Annex C: its examples, and a row for each kind of alias.
CANONICAL = {
    "sl-ROZAJ-1994-biske": "sl-1994-biske-rozaj",
    "iw-IL": "he-IL",
    "sh": "sr-Latn",
    "sh-Cyrl": "sr-Cyrl",
    "mo": "ro",
    "cmn": "zh",
    "zh-cmn-Hans": "zh-Hans",
    "zh-yue-HK": "yue-HK",
    "zh-min-nan": "nan",
    "zh-min": "nan-x-zh-min",
    "en-GB-oed": "en-GB-oxendict",
    "i-default": "en-x-i-default",
    "i-klingon": "tlh",
    "art-lojban-x-a": "jbo-x-a",
    "sgn-US": "ase",
    "hy-arevmda": "hyw",
    "hy-arevela": "hy",
    "ja-Latn-hepburn-heploc": "ja-Latn-alalc97",
    "el-polytoni": "el-polyton",
    "deu-840": "de-US",
    "ru-SU": "ru-RU",
    "hy-SU": "hy-AM",
    "und-Armn-SU": "und-Armn-AM",
    "en-YU": "en-RS",
    "en-Qaai": "en-Zinh",
    "en-u-kn-true": "en-u-kn",
    "en-u-kn-yes": "en-u-kn",
    "en-u-ks-primary": "en-u-ks-level1",
    "en-u-ca-islamicc": "en-u-ca-islamic-civil",
    "en-u-foo-bar-nu-thai-ca-buddhist": "en-u-bar-foo-ca-buddhist-nu-thai",
    "en-u-ca-buddhist-ca-gregory": "en-u-ca-buddhist",
    "en-u-sd-cn11": "en-u-sd-cnbj",
    "en-u-rg-cn71": "en-u-rg-twzzzz",
    "en-u-tz-usnavajo": "en-u-tz-usden",
    "en-b-warble-a-babble-x-warble": "en-a-babble-b-warble-x-warble",
    "und-t-iw-m0-ies-jes": "und-t-he-m0-iesjes",
    "en-t-sh-rs": "en-t-sr-latn-rs",
    "x-foo": "x-foo",
    "no-NO": "no-NO",
}


@pytest.mark.parametrize(("text", "expected"), CANONICAL.items())
def test_canonical(text: str, expected: str) -> None:
    assert str(parse(text).canonical()) == expected


# UTS 35 Likely Subtags: maximized, and minimized with the region favoured.
LIKELY = {
    "zh": ("zh-Hans-CN", "zh"),
    "zh-TW": ("zh-Hant-TW", "zh-TW"),
    "zh-Hant": ("zh-Hant-TW", "zh-TW"),
    "zh-HK": ("zh-Hant-HK", "zh-HK"),
    "sr": ("sr-Cyrl-RS", "sr"),
    "sr-ME": ("sr-Latn-ME", "sr-ME"),
    "sr-Latn": ("sr-Latn-RS", "sr-Latn"),
    "az-IR": ("az-Arab-IR", "az-IR"),
    "und-CH": ("de-Latn-CH", "de-CH"),
    "und": ("en-Latn-US", "en"),
    "und-Thai": ("th-Thai-TH", "th"),
    "pt": ("pt-Latn-BR", "pt"),
    "pa-PK": ("pa-Arab-PK", "pa-PK"),
    "iw": ("he-Hebr-IL", "he"),
    "tlh": ("tlh", "tlh"),
    "en-Shaw": ("en-Shaw-GB", "en-Shaw"),
    "de-1996": ("de-Latn-DE-1996", "de-1996"),
    "x-a": ("x-a", "x-a"),
}


@pytest.mark.parametrize(("text", "expected"), LIKELY.items())
def test_likely(text: str, expected: tuple[str, str]) -> None:
    assert (str(parse(text).maximized()), str(parse(text).minimized())) == expected


PARENTS = {
    "de-AT": "de",
    "en-AU": "en-001 en",
    "en-US": "en",
    "en-150": "en-001 en",
    "es-MX": "es-419 es",
    "es-ES": "es",
    "pt-PT": "pt",
    "pt-AO": "pt-PT pt",
    "zh-Hant-HK": "zh-Hant",
    "zh-Hant": "",
    "zh-Hans-SG": "zh-Hans zh",
    "sr-Latn-ME": "sr-Latn",
    "sr-Cyrl-ME": "sr-Cyrl sr",
    "nb": "no",
    "nn-NO": "nn no",
    "az-Cyrl": "",
    "hi-Latn": "en-IN en-001 en",
    "ca-ES-valencia": "ca-ES ca",
    "de-CH-u-co-phonebk": "de-CH de",
    "en": "",
    "x-a": "",
}


@pytest.mark.parametrize(("text", "expected"), PARENTS.items())
def test_parents(text: str, expected: str) -> None:
    assert " ".join(map(str, parse(text).parents())) == expected


SAME = [
    ("zh-TW", "zh-Hant", True),
    ("pt", "pt-BR", True),
    ("iw", "he", True),
    ("pt", "pt-PT", False),
    ("sr", "sr-Latn", False),
    ("no", "nb", False),
    ("en", "en-GB", False),
    ("tl", "fil", True),
]


@pytest.mark.parametrize(("a", "b", "same"), SAME)
def test_same_locale(a: str, b: str, same: bool) -> None:
    assert same_locale(parse(a), parse(b)) is same_locale(parse(b), parse(a)) is same
    assert compare(parse(a), parse(b)).same is same


def test_direction() -> None:
    assert {
        text: direction(parse(text))
        for text in ("ar", "he", "ur", "az", "az-Arab", "uz-AF", "yi-Latn", "dv")
    } == {
        "ar": "rtl",
        "he": "rtl",
        "ur": "rtl",
        "az": "ltr",
        "az-Arab": "rtl",
        "uz-AF": "rtl",
        "yi-Latn": "ltr",
        "dv": "rtl",
    }


# UTS 35 part 3: operands, and the samples of the language plural rules.
OPERANDS = {
    "1": (1, True, 0, 0, 0, 0, 0),
    "1.0": (1, True, 1, 0, 0, 0, 0),
    "1.230": (1, False, 3, 2, 230, 23, 0),
    "1c6": (1_000_000, True, 0, 0, 0, 0, 6),
    "1.2c6": (1_200_000, True, 0, 0, 0, 0, 6),
    "1.20050c3": (1200, False, 2, 1, 50, 5, 3),
    "123.45": (123, False, 2, 2, 45, 45, 0),
}
PLURALS = [
    ("en", "cardinal", "one other", {"1": "one", "1.0": "other", "0": "other"}),
    (
        "en",
        "ordinal",
        "one two few other",
        {"1": "one", "2": "two", "3": "few", "11": "other", "21": "one", "113": "other"},
    ),
    (
        "pl",
        "cardinal",
        "one few many other",
        {"1": "one", "2": "few", "12": "many", "22": "few", "1.5": "other"},
    ),
    (
        "ar",
        "cardinal",
        "zero one two few many other",
        {"0": "zero", "2": "two", "3": "few", "11": "many", "100": "other", "103": "few"},
    ),
    (
        "fr",
        "cardinal",
        "one many other",
        {"0": "one", "1.5": "one", "2": "other", "1000000": "many", "1c6": "many", "1.5c6": "many"},
    ),
    (
        "lv",
        "cardinal",
        "zero one other",
        {"0": "zero", "1": "one", "0.1": "one", "11": "zero", "21": "one", "2": "other"},
    ),
    (
        "sl",
        "cardinal",
        "one two few other",
        {"101": "one", "2": "two", "3": "few", "5": "other", "1.5": "few"},
    ),
    ("cs", "cardinal", "one few many other", {"1.5": "many", "2": "few", "5": "other"}),
    ("ja", "cardinal", "other", {"1": "other"}),
    ("pt-PT", "cardinal", "one many other", {"0": "other", "1": "one"}),
    ("pt-AO", "cardinal", "one many other", {"0": "one"}),
    ("iw-IL", "cardinal", "one two other", {"2": "two"}),
    ("sh", "cardinal", "one few other", {"2": "few"}),
    ("cy", "ordinal", "zero one two few many other", {"0": "zero", "5": "many", "7": "zero"}),
    ("tlh", "cardinal", "other", {"1": "other"}),
]


@pytest.mark.parametrize(("text", "expected"), OPERANDS.items())
def test_operands(text: str, expected: tuple[object, ...]) -> None:
    assert tuple(operands(text)) == expected
    assert operands(f"-{text}") == operands(text)


@pytest.mark.parametrize("text", ["", "one", "1,5", "٣", "1e", "1.2.3", "9" * 50, "1c100"])
def test_what_is_no_number_is_an_error(text: str) -> None:
    with pytest.raises(ValueError, match="is no number"):
        operands(text)


@pytest.mark.parametrize(("tag", "kind", "categories", "samples"), PLURALS)
def test_plurals(tag: str, kind: Kind, categories: str, samples: dict[str, str]) -> None:
    assert plural_categories(parse(tag), kind) == tuple(categories.split())
    assert {number: plural_category(parse(tag), number, kind) for number in samples} == samples


def test_whole_number_categories() -> None:
    found = {
        tag: whole_number_categories(parse(tag), "cardinal")
        for tag in ("cs", "lt", "fr", "pl", "ja")
    }
    assert found == {
        "cs": ("one", "few", "other"),
        "lt": ("one", "few", "other"),
        "fr": ("one", "many", "other"),
        "pl": ("one", "few", "many"),
        "ja": ("other",),
    }


@pytest.mark.parametrize("kind", ["cardinal", "ordinal"])
def test_whole_numbers_fall_into_categories_that_whole_numbers_reach(kind: Kind) -> None:
    samples = ("0", "1", "2", "7", "11", "21", "103", "1000000")
    for text, number in itertools.product(table("plurals")[kind], samples):
        tag = parse(text)
        assert plural_category(tag, number, kind) in whole_number_categories(tag, kind)


NEAREST = [
    ("en-AU", "en-US en-GB", "en-GB"),
    ("en-CA", "en-US en-GB", "en-US"),
    ("es-AR", "es es-419", "es-419"),
    ("es-ES", "es-419 es", "es"),
    ("zh-HK", "zh-Hans zh-Hant", "zh-Hant"),
    ("zh", "zh-Hant", None),
    ("sr-ME", "sr", "sr"),
    ("nb", "da no", "no"),
    ("nn", "da en", None),
    ("lb", "fr de", "de"),
    ("de", "gsw", None),
    ("gsw", "de", "de"),
    ("fr-CH", "fr-CA fr", "fr-CA"),
    ("pt-AO", "pt-BR pt-PT", "pt-PT"),
    ("ja", "en", None),
    ("uk-UA,ru", "ru uk", "uk"),
    ("ja,fr", "fr en", "fr"),
    ("und", "en", None),
    ("x-a", "x-a en", "x-a"),
    ("not a tag,de", "de", "de"),
    ("en-IN", "en en-GB en-US", "en-GB"),
    ("de", "", None),
]


@pytest.mark.parametrize(("wishes", "supported", "expected"), NEAREST)
def test_nearest(wishes: str, supported: str, expected: str | None) -> None:
    assert nearest(wishes.split(","), supported.split()) == expected


def test_distance_is_nothing_to_itself_and_the_default_is_given_back() -> None:
    assert distance(parse("de"), parse("de")) == 0 and nearest(["ja"], ["de"], "de") == "de"


MEANT = {
    "cn": "zh-Hans",
    "jp": "ja",
    "ua": "uk",
    "cz": "cs",
    "gr": "el",
    "dk": "da",
    "at": "de-AT",
    "usa": "en",
    "cn-Hant": "zh-Hant",
    "de_AT": "de-AT",
    "German": "de",
    "germany": "de",
    "ChineseSimplified": "zh-Hans",
    "zh-Hnas": "zh-Hans",
    "ed": "de",
    "deu": "de",
    "ger": "de",
    "en-UK": "en-GB",
    "Swiss German": "gsw",
    "français": "fr",
}


@pytest.mark.parametrize(("text", "expected"), MEANT.items())
def test_meant(text: str, expected: str) -> None:
    found = meant(text)
    assert str(found[0].tag) == expected and found[0].reason


@pytest.mark.parametrize("text", ["de", "zh-Hant", "iw", "no-such-thing", "", "xx"])
def test_nothing_is_guessed_for_what_is_valid_or_unknown(text: str) -> None:
    assert not [each for each in meant(text) if each.how in ("region", "spelling", "name")]


NAMED = {
    "ChineseSimplified": "zh-Hans",
    "Chinese (Simplified)": "zh-Hans",
    "simplified_chinese": "zh-Hans",
    "Deutsch": "de",
    "AustrianGerman": "de-AT",
    "German (Austria)": "de-AT",
    "Portuguese (Brazil)": "pt-BR",
    "SerbianLatin": "sr-Latn",
    "українська": "uk",
    "简体中文": "zh-Hans",
    "Norwegian Bokmål": "nb",
    "Klingonese": None,
    "Latin": "la",
    "": None,
}


@pytest.mark.parametrize(("text", "expected"), NAMED.items())
def test_names(text: str, expected: str | None) -> None:
    found = read_spelling(text, "name")
    assert (str(found) if found else None) == expected


def test_description() -> None:
    found = describe("pt-br")
    assert (
        found.valid
        and found.facts["canonical"] == "pt-BR"
        and found.facts["plurals"]["cardinal"]["many"] == ["1000000", "1c6"]
    )
    assert found.facts["spellings"]["android"] == "pt-rBR" and found.facts["own"]
    wrong = describe("zh_CN")
    assert wrong.fault and wrong.read_as["posix"] == "zh-CN" and str(wrong.meant[0].tag) == "zh-CN"


# ------------------------------------------------------------------------------------------------------------------ properties

_registry = table("registry")
_tags = st.builds(
    lambda language, script, region, variant, rest: "-".join(
        part for part in (language, script, region, variant, rest) if part
    ),
    st.sampled_from(
        [
            *_registry["language"].split()[::37],
            *list(table("aliases")["language"])[::5],
            "und",
            "zh",
            "sr",
            "sh",
            "sgn",
        ]
    ),
    st.sampled_from(["", "", *_registry["script"].split()[::9]]),
    st.sampled_from(["", "", *_registry["region"].split()[::5]]),
    st.sampled_from(["", "", *list(_registry["variant"])[::4]]),
    st.sampled_from(
        ["", "", "u-ca-gregorian-kn-yes", "t-iw-m0-names", "x-private", "a-bbb-u-rg-cn71"]
    ),
).filter(lambda text: _is_tag(text))


def _is_tag(text: str) -> bool:
    try:
        parse(text)
    except ValueError:
        return False
    return True


@given(_tags)
def test_canonical_is_a_fixed_point(text: str) -> None:
    found = parse(text).canonical()
    assert found.canonical() == found and parse(str(found)) == found


@given(_tags)
def test_maximizing_what_was_minimized_gives_the_same(text: str) -> None:
    whole = parse(text).maximized()
    assert whole.minimized().maximized() == whole == whole.maximized()
    assert len(str(whole.minimized())) <= len(str(whole))


@given(_tags)
def test_parents_come_to_an_end_and_never_back(text: str) -> None:
    found = parse(text).parents()
    assert parse(text) not in found and len(set(found)) == len(found) < 9


@given(st.lists(_tags, max_size=3), st.lists(_tags, max_size=5))
def test_what_answers_is_available(wishes: list[str], available: list[str]) -> None:
    assert lookup(wishes, available) in {*available, None}
    assert nearest(wishes, available) in {*available, None}


@given(_tags, st.sampled_from(["bcp47", "lproj", "java", "android", "dotnet"]))
def test_every_spelling_reads_back_what_it_writes(text: str, spelling: str) -> None:
    tag = parse(text).canonical()
    if tag.extensions or tag.private_use or tag.extlangs or (spelling == "java" and tag.variants):
        return
    if spelling == "dotnet" and tag.language == "sr":
        return
    found = read_spelling(write_spelling(tag, spelling), spelling)
    assert found is not None and found.canonical() == tag


def test_importing_the_package_reads_no_table() -> None:
    code = "import sys, lemmar.tags; print({'json', 'typing', 'msgspec', 'lemmar.tags.tables'} & set(sys.modules))"
    assert (
        subprocess.run([sys.executable, "-c", code], capture_output=True, text=True).stdout
        == "set()\n"
    )


@pytest.mark.parametrize("kind", ["cardinal", "ordinal"])
def test_the_numbers_of_a_category_by_sets_and_one_by_one(
    kind: Literal["cardinal", "ordinal"],
) -> None:
    """The short way by sets of numbers, against asking for each number, in all languages that have rules."""
    for name in table("plurals")[kind]:
        tag = LanguageTag.parse(name)
        by_one: dict[str, set[int]] = {}
        for number in range(MOST_COUNTED + 1):
            by_one.setdefault(plural_category(tag, str(number), kind), set()).add(number)
        assert whole_numbers(tag, kind) == by_one
