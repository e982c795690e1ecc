"""The core that says what users see: lookups, chains, effective texts, by tables and by properties. No files, no command."""

from __future__ import annotations

from array import array
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lemmar import formats, lookups
from lemmar.findings import Answer
from lemmar.formats import Column, Keys, ReadOptions
from lemmar.inventory.contents import Catalog
from lemmar.lookups import java, tries
from lemmar.resolve.effective import Held, WhenMissing, effect, held, origin_of
from lemmar.resolve.explaining import reasons
from lemmar.resolve.pairing import pair, same_language
from lemmar.resolve.runtimes import consulted, land, wishes
from lemmar.resolve.world import Runtime, SourcePart, Space
from lemmar.tags import Tag
from lemmar.trees import Digest, File

from .conftest import Repo, charter


def tried(lookup: str, request: str, among: list[Tag]) -> list[Tag]:
    return [each.tag for each in tries(lookup, request, among)]


def tags(text: str) -> list[Tag]:
    return [Tag(tag) for tag in text.split()]


def landing(lookup: str, request: str, supported: list[Tag], default: Tag) -> Tag:
    return land(Runtime(lookup, "message", tuple(supported), default, {}), request).tag


_TABLES = Path(__file__).parent / "landings"


def _rows() -> Iterator[Any]:
    """Every row of the tables: the lookup, the request, what is supported, the default, the landing."""
    for file in sorted(_TABLES.glob("*.txt")):
        supported, default = "", "en"
        for line in file.read_text("utf-8").splitlines():
            first, _, rest = line.partition(" ")
            if first == "supported:":
                supported = rest
            elif first == "default:":
                default = rest
            elif first != "#":
                yield pytest.param(
                    file.stem,
                    first,
                    supported,
                    default,
                    rest,
                    id=f"{file.stem}: {first} in {supported}",
                )


def test_every_lookup_has_its_table() -> None:
    counts = Counter(row.values[0] for row in _rows())
    assert set(counts) == set(lookups.names()) and min(counts.values()) >= 60


CHAINS = [
    # lookup, supported, chain claim, more, request, landing, catalogs asked; the default is en
    ("exact", "en de fr", {"rm": ["de"]}, {}, "rm", "de", "de en"),
    ("exact", "en de fr", {"rm": ["it", "fr"]}, {}, "rm-CH", "fr", "fr en"),
    ("truncate", "en de fr es", {"de": ["fr"]}, {}, "de-AT", "de", "de fr en"),
    ("truncate", "en de fr es", {"de-at": ["fr"]}, {"first": True}, "de-AT", "fr", "fr de en"),
    ("truncate", "en de fr", {"xh": ["zu"], "zu": ["fr"]}, {}, "xh", "en", "en"),
    (
        "truncate",
        "en de fr",
        {"xh": ["zu"], "zu": ["fr"]},
        {"transitive": True},
        "xh",
        "fr",
        "fr en",
    ),
    ("truncate", "en de fr", {}, {"rest": ("fr",)}, "ja", "fr", "fr en"),
    ("truncate", "en de fr", {"ja": ["ko"]}, {"rest": ("fr",)}, "ja", "en", "en"),
    ("truncate", "en de fr", {"a": ["b"], "b": ["a"]}, {"transitive": True}, "a", "en", "en"),
]


@pytest.mark.parametrize(
    ("lookup", "supported", "chain", "more", "request_", "expected", "asked"), CHAINS
)
def test_claims_of_a_chain(
    lookup: str,
    supported: str,
    chain: dict[str, list[str]],
    more: dict[str, Any],
    request_: str,
    expected: str,
    asked: str,
) -> None:
    links = {key: tuple(map(Tag, tags_)) for key, tags_ in chain.items()}
    runtime = Runtime(lookup, "message", tuple(tags(supported)), Tag("en"), links, **more)
    found = land(runtime, request_)
    assert found.tag == expected
    assert consulted(runtime, found, runtime.supported) == tags(asked)


REASONS: list[tuple[str, dict[str, Any], str, list[str]]] = [
    (
        "truncate",
        {},
        "de-CH",
        ["truncate looks for de-CH (not supported), then de, which is supported"],
    ),
    ("exact", {}, "nl", ["exact looks for nl: it is not supported", "so the default answers, en"]),
    (
        "kin",
        {},
        "zh-HK",
        [
            "kin looks for zh-HK, zh-Hant-HK, zh-Hant, and takes zh-TW: the same language, script and region, written otherwise"
        ],
    ),
    (
        "kin",
        {},
        "fr-CH",
        ["kin looks for fr-CH, fr, and takes fr-CA: the nearest of the same language and script"],
    ),
    (
        "nearest",
        {},
        "ja,gsw",
        ["nearest to ja: nothing within 50", "nearest to gsw: de at 8, 5 more for a later wish"],
    ),
    (
        "exact",
        {"chain": {"nl": (Tag("de"),)}},
        "nl-BE",
        ["exact looks for nl-BE: it is not supported", "its chain has de for nl"],
    ),
    (
        "exact",
        {"rest": (Tag("de"),)},
        "nl",
        ["exact looks for nl: it is not supported", "its chain has de for the rest"],
    ),
    (
        "truncate",
        {"chain": {"de": (Tag("fr-CA"),)}, "first": True},
        "de",
        [
            "its chain, which goes first, has fr-CA for de",
            "truncate looks for de, which is supported",
        ],
    ),
    ("exact", {}, "*", ["'*' wishes for no language", "so the default answers, en"]),
]


@pytest.mark.parametrize(("lookup", "more", "request_", "expected"), REASONS)
def test_why_a_request_lands_there(
    lookup: str, more: dict[str, Any], request_: str, expected: list[str]
) -> None:
    supported = tuple(tags("en de fr-CA zh-TW"))
    runtime = Runtime(lookup, "message", supported, Tag("en"), **({"chain": {}} | more))
    assert reasons(runtime, request_) == expected


@given(st.sampled_from(lookups.names()), st.text("abcdeATzh-,", max_size=12), st.booleans())
def test_every_landing_has_a_reason(lookup: str, request_: str, first: bool) -> None:
    chain = {"de": (Tag("fr-CA"),), "ab": (Tag("de"),)}
    runtime = Runtime(
        lookup, "message", tuple(tags("en de fr-CA zh-TW")), Tag("en"), chain, first=first
    )
    assert reasons(runtime, request_)


def test_an_unsupported_default_is_the_landing_as_it_is_written() -> None:
    assert land(Runtime("exact", "message", tuple(tags("de")), Tag("nl"), {}), "fr").tag == "nl"


def test_java_asks_only_a_found_candidate_s_parents_and_never_the_default() -> None:
    runtime = Runtime("java", "message", tuple(tags("en de de-AT fr")), Tag("fr"), {})
    assert consulted(runtime, land(runtime, "de-AT"), runtime.supported, Tag("en")) == tags(
        "de-AT de en"
    )
    assert consulted(runtime, land(runtime, "ja"), runtime.supported, Tag("en")) == tags("fr en")
    assert java.forms("zh-Hant")[:3] == ["zh-Hant", "zh-TW", "zh"]


def test_wishes_are_read_by_their_weights() -> None:
    assert wishes("de;q=0.2, fr ;q=0.9,*;q=0.5,uk_UA, it;q=0,;,nl;q=x") == ["uk-UA", "fr", "de"]


@given(
    st.sampled_from(lookups.names()),
    st.sampled_from(["message", "catalog"]),
    st.text("abdeAT-1", max_size=10),
)
def test_what_is_consulted_has_a_catalog(lookup: str, grain: str, request_: str) -> None:
    held = tags("de fr")
    runtime = Runtime(lookup, grain, tuple(tags("en de de-AT fr")), Tag("en"), {"de": (Tag("fr"),)})
    assert set(consulted(runtime, land(runtime, request_), held)) <= set(held)


@pytest.mark.parametrize(("lookup", "request_", "supported", "default", "expected"), list(_rows()))
def test_landings(lookup: str, request_: str, supported: str, default: str, expected: str) -> None:
    assert landing(lookup, request_, tags(supported), Tag(default)) == expected


@given(
    st.sampled_from(lookups.names()),
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
    column = Column(None, Keys(texts), tuple(texts.values()))
    return Catalog(
        File(f"{tag}.json"),
        Digest(""),
        Tag(tag),
        None,
        order,
        column,
        array("I", [0] * len(texts)),
        formats.load("json"),
        ReadOptions(),
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
    held_by: dict[tuple[Tag, Space], Held] = {
        (Tag(tag), Space(None, 0)): held(each) for tag, each in catalogs.items()
    }
    found = effect(
        Tag(locale),
        Tag(locale),
        tags(chain),
        {Space(None, 0): source},
        held_by,
        WhenMissing(on_miss, on_empty, Tag("en")),
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


def test_a_lookup_sees_each_spelling_of_a_locale_that_is_listed_twice(repo: Repo) -> None:
    repo.write(
        {
            "lemmar.toml": charter(
                "w/{locale}.json",
                "en he",
                more='\n  [client.runtime]\n  lookup = "exact"\n',
            ),
            "app/locales.json": '["en", "he", "iw"]',
            "app/w/en.json": '{"a": "Hut"}',
            "app/w/he.json": '{"a": "בקתה"}',
        }
    )
    rows = repo.run("landing", "he", "iw", "--format", "json").data["rows"]
    assert [(row["request"], row["landing"], row["consulted"]) for row in rows] == [
        ("he", "he", ["he", "en"]),
        ("iw", "iw", ["he", "en"]),
    ]


def test_an_entry_of_a_chain_goes_before_the_least_distance_where_it_is_first() -> None:
    runtime = Runtime(
        "nearest", "message", (Tag("en"), Tag("pt"), Tag("es")), Tag("en"), {"pt-br": (Tag("es"),)}
    )
    assert land(runtime, "pt-BR").tag == "pt"
    assert land(runtime._replace(first=True), "pt-BR").tag == "es"
    assert land(runtime._replace(first=True, chain={"pt": (Tag("es"),)}), "pt").tag == "pt"
