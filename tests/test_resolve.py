"""The core that says what users see: lookups, chains, effective texts, by tables and by properties. No files, no command."""

from __future__ import annotations

from array import array
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar.model import (
    NOTHING,
    Answer,
    Catalog,
    Column,
    Digest,
    File,
    Keys,
    Runtime,
    SourcePart,
    Tag,
)
from lemmar.resolve.effective import Held, Seen, effect, held, origin_of
from lemmar.resolve.lookups import LOOKUPS, tried
from lemmar.resolve.pairing import pair, same_language
from lemmar.resolve.runtimes import land


def tags(text: str) -> list[Tag]:
    return [Tag(tag) for tag in text.split()]


def landing(lookup: str, request: str, supported: list[Tag], default: Tag) -> Tag:
    return land(Runtime(lookup, "message", tuple(supported), default, {}), request).tag


LANDINGS = [
    # lookup, request, supported, landing; the default is en
    ("exact", "de", "en de", "de"),
    ("exact", "DE-at", "en de-AT", "de-AT"),
    ("exact", "de-AT", "en de", "en"),
    ("exact", "de-u-co-phonebk", "en de", "en"),
    ("primary", "de-AT", "en de de-AT", "de"),
    ("primary", "de-AT", "en de-AT", "en"),
    ("primary", "zh-Hant-TW", "en zh", "zh"),
    ("truncate", "de-AT", "en de", "de"),
    ("truncate", "de-AT", "en de de-AT", "de-AT"),
    ("truncate", "zh-Hant-TW", "en zh-Hant zh", "zh-Hant"),
    ("truncate", "zh-TW", "en zh-Hant", "en"),
    ("truncate", "de-CH-1901", "en de-CH", "de-CH"),
    ("truncate", "de-u-co-phonebk", "en de", "de"),
    ("truncate", "x-klingon", "en", "en"),
    ("truncate", "pt", "en pt-BR", "en"),
]


@pytest.mark.parametrize(("lookup", "request_", "supported", "expected"), LANDINGS)
def test_landings(lookup: str, request_: str, supported: str, expected: str) -> None:
    assert landing(lookup, request_, tags(supported), Tag("en")) == expected


@given(
    st.sampled_from(LOOKUPS),
    st.text("abcdeAT-1", max_size=12),
    st.lists(st.sampled_from(tags("de de-AT en fr zh-Hant"))),
)
def test_a_landing_is_supported_or_the_default(
    lookup: str, request_: str, supported: list[Tag]
) -> None:
    found = landing(lookup, request_, supported, Tag("nn"))
    assert found in supported or found == "nn"
    assert set(tried(lookup, request_, supported)) <= set(supported)


def test_pairs_are_told_by_canonical_case() -> None:
    assert pair(tags("de-at fr"), tags("de de-AT")) == {"de-at": "de-AT"}
    assert same_language(Tag("de-AT"), Tag("de")) and not same_language(Tag("sr-Latn"), Tag("sr"))


def catalog(tag: str, texts: dict[str, str | None], order: int = 0) -> Catalog:
    column = Column(None, Keys(texts), tuple(texts.values()), NOTHING)
    return Catalog(
        File(f"{tag}.json"), Digest(""), Tag(tag), None, order, column, array("I", [0] * len(texts))
    )


def seen(
    locale: str,
    chain: str,
    texts: dict[str, dict[str, Any]],
    on_miss: str = "key",
    on_empty: str = "blank",
) -> tuple[Answer, dict[str, tuple[Any, ...]]]:
    """The answer for *locale*, and of each message that it does not have, what stands in for it, from where, and whether it is empty."""
    catalogs = {tag: (catalog(tag, held),) for tag, held in texts.items()}
    keys = tuple(texts["en"])
    source = SourcePart(keys, frozenset(keys), frozenset(), catalogs["en"])
    held_by: dict[tuple[Tag, str | None], Held] = {
        (Tag(tag), None): held(each) for tag, each in catalogs.items()
    }
    found = effect(
        Tag(locale),
        Tag(locale),
        tags(chain),
        {None: source},
        held_by,
        Seen(on_miss, on_empty, Tag("en")),
    )
    return found.answer, {
        absence.key: (absence.origin, absence.source, absence.empty) for absence in found.absences
    }


EN = {"a": "A", "b": "B", "c": "C"}


def test_own_inherited_and_foreign() -> None:
    answer, absences = seen(
        "de-AT", "de-AT de en", {"en": EN, "de": {"a": "x", "b": "y"}, "de-AT": {"a": "z"}}
    )
    assert answer == Answer(own=1, inherited=1, foreign=1)
    assert absences == {"c": ("foreign", "en", False)}


@pytest.mark.parametrize(
    ("on_miss", "expected"),
    [("key", "key"), ("blank", "blank"), ("error", "error"), ("source", "foreign")],
)
def test_what_no_catalog_has(on_miss: str, expected: str) -> None:
    answer, absences = seen("de", "de", {"en": EN, "de": {"a": "x"}}, on_miss)
    assert (answer.complete, answer.messages, getattr(answer, expected)) == (1, 3, 2)
    assert {origin for origin, _, _ in absences.values()} == {expected}


def test_an_empty_text_is_shown_or_passed_over() -> None:
    texts = {"en": EN, "de": {"a": "", "b": "y", "c": "z"}}
    assert seen("de", "de en", texts)[1] == {"a": ("blank", "de", True)}
    assert seen("de", "de en", texts, on_empty="next")[1] == {"a": ("foreign", "en", True)}


def test_an_untranslated_text_falls_through_and_is_not_empty() -> None:
    assert seen("de", "de en", {"en": EN, "de": {"a": None, "b": "y", "c": "z"}})[1] == {
        "a": ("foreign", "en", False)
    }


def test_the_source_has_all_of_its_own() -> None:
    assert seen("en", "en", {"en": EN}) == (Answer(own=3), {})


def test_of_several_catalogs_the_later_text_counts() -> None:
    assert held(
        [catalog("de", {"a": "x", "b": ""}), catalog("de", {"a": "", "b": "y", "c": None})]
    ) == Held(frozenset({"b"}), frozenset({"a"}))


def test_origins() -> None:
    wanted = {
        ("de", "de"): "own",
        ("de-AT", "de"): "inherited",
        ("de", "de-AT"): "inherited",
        ("sr-Latn", "sr"): "foreign",
        ("de", "en"): "foreign",
    }
    assert {(tag, link): origin_of(Tag(tag), Tag(link)) for tag, link in wanted} == wanted


_texts = st.dictionaries(st.sampled_from("abcdef"), st.one_of(st.none(), st.just(""), st.just("x")))


@given(
    _texts,
    _texts,
    st.sampled_from(["key", "blank", "error", "source"]),
    st.sampled_from(["next", "blank"]),
    st.sampled_from("abcdef"),
)
def test_adding_a_text_never_lowers_a_share_and_counts_add_up(
    de: Any, at: Any, on_miss: str, on_empty: str, key: str
) -> None:
    en = dict.fromkeys("abcdef", "E")
    before, absences = seen(
        "de-AT", "de-AT de en", {"en": en, "de": de, "de-AT": at}, on_miss, on_empty
    )
    assert before.messages == 6 and len(absences) == 6 - before.complete
    after, _ = seen(
        "de-AT", "de-AT de en", {"en": en, "de": de, "de-AT": at | {key: "new"}}, on_miss, on_empty
    )
    assert after.complete >= before.complete


@given(_texts)
def test_without_its_catalog_nothing_is_own(de: Any) -> None:
    answer, _ = seen("de", "en", {"en": EN, "fr": de})
    assert answer.own == 0 and answer.foreign == 3
