"""What is kept within one process for those who ask again is what they would be told anew."""

from __future__ import annotations

from collections.abc import Mapping

from hypothesis import given, settings
from hypothesis import strategies as st

from lemmar.formats import Column, Keys, Rare
from lemmar.inventory import locales, plurals
from lemmar.inventory.locales import Speller
from lemmar.inventory.shapes import Shapes
from lemmar.lookups import by_small_letters, names, tries
from lemmar.selectors import Value
from lemmar.syntax import load
from lemmar.tags import SPELLINGS, Tag
from lemmar.tags.language_tag import LanguageTag
from lemmar.tags.registry import problems

from .conftest import share

_LOCALES = st.sampled_from(
    [
        "de",
        "de_AT",
        "de-at",
        "iw",
        "he",
        "zh-rTW",
        "cn",
        "b+sr+Latn",
        "German",
        "en-EN",
        "x",
        "",
        "pt_br",
        "zh-Hans",
        "no",
        "ua",
        "sr@latin",
    ]
)


@settings(max_examples=share(400))
@given(st.lists(st.tuples(_LOCALES, st.sampled_from(SPELLINGS), st.integers(1, 9)), max_size=8))
def test_a_locale_is_what_it_is_in_its_spelling(asked: list[tuple[str, str, int]]) -> None:
    for text, spelling, line in asked:
        value = Value(text, line, 2)
        known = Speller(spelling, {}).read(value)
        locales._KNOWN.clear()
        assert known == Speller(spelling, {}).read(value)


@settings(max_examples=share(300))
@given(
    st.lists(
        st.tuples(
            st.sampled_from(["printf", "brace", "icu"]),
            st.dictionaries(
                st.sampled_from(["one", "few", "other", "0", "1"]),
                st.sampled_from(["%d {a}", "{b}", "%s <b>x</b>", "x", "{"]),
            ),
        ),
        max_size=6,
    )
)
def test_forms_together_have_the_shape_that_they_have_by_themselves(
    every: list[tuple[str, Mapping[str, str]]],
) -> None:
    shared = Shapes()
    for syntax, forms in every:
        column = Column(None, Keys(["a"]), ("x",), Rare(forms={0: forms} if forms else {}))
        own = Shapes()
        numbers = [shapes.of_column(column, load(syntax))[0] for shapes in (shared, own)]
        assert shared.table[numbers[0]] == own.table[numbers[1]]


_KEYS = [
    "hut",
    "hut_plural",
    "hut_0",
    "hut_1",
    "hut_2",
    "hut_one",
    "hut_other",
    "bunk.one",
    "bunk.other",
    "bunk.0",
    "bunk.1",
    "path",
]


@settings(max_examples=share(300))
@given(
    st.lists(
        st.tuples(
            st.lists(st.sampled_from(_KEYS), unique=True, min_size=1),
            st.sampled_from(["de", "pl", "ja", "ar"]),
        ),
        min_size=1,
        max_size=5,
    )
)
def test_keys_fold_as_they_do_by_themselves(every: list[tuple[list[str], str]]) -> None:
    how = plurals.spelled([(tag, Keys(keys)) for keys, tag in every])
    columns = [
        (Column(None, Keys(keys), tuple(f"{key} {tag}" for key in keys)), tag)
        for keys, tag in every
    ]
    together = [plurals.fold(column, how, tag) for column, tag in columns]
    for (column, tag), folded in zip(columns, together, strict=True):
        plurals._plan.cache_clear()
        assert folded == plurals.fold(column, how, tag)


_TAGS = st.lists(
    st.sampled_from(["de", "DE-at", "de-AT", "zh-TW", "zh-Hant", "en", "pt-BR"]), unique=True
).map(lambda tags: tuple(map(Tag, tags)))


@given(
    st.lists(st.tuples(st.sampled_from(names()), _TAGS), max_size=5),
    st.sampled_from(["de-AT", "zh-TW", "pt", "en-GB"]),
)
def test_a_lookup_tries_what_it_tries_by_itself(
    every: list[tuple[str, tuple[Tag, ...]]], request: str
) -> None:
    together = [tries(name, request, among) for name, among in every]
    for (name, among), found in zip(every, together, strict=True):
        by_small_letters.cache_clear()
        assert found == tries(name, request, among)


@given(
    st.lists(st.sampled_from(["de", "iw", "zh-Hant-TW", "en-Latn", "qq", "art-lojban"]), max_size=6)
)
def test_what_is_wrong_with_a_tag_is_always_the_same(tags: list[str]) -> None:
    found = [problems(LanguageTag.parse(tag)) for tag in tags]
    problems.cache_clear()
    assert found == [problems(LanguageTag.parse(tag)) for tag in tags]
