"""Language matching: UTS 35 part 1, Language Matching, with CLDR's distances."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import NamedTuple

from lemmar.tags.grammar import TagError
from lemmar.tags.language_tag import LanguageTag
from lemmar.tags.tables import table

#: A distance of this or more is no match.
THRESHOLD = 50
#: What each later wish costs more.
DEMOTION = 5
_NO_LANGUAGE = 80
_NO_SCRIPT = 50
_OTHER_REGION = 4


class _Key(NamedTuple):
    language: str
    script: str
    region: str


def _key(tag: LanguageTag) -> _Key:
    whole = tag.maximized()
    return _Key(whole.language, whole.script or "", whole.region or "")


@lru_cache(maxsize=1)
def _languages() -> dict[tuple[str, str], int]:
    return _pairs(0)


@lru_cache(maxsize=1)
def _scripts() -> dict[tuple[str, str], int]:
    return _pairs(1)


def _pairs(hyphens: int) -> dict[tuple[str, str], int]:
    """The distances of pairs of subtags with so many hyphens; both ways, unless they hold one way only."""
    found: dict[tuple[str, str], int] = {}
    for rule in table("matching")["matches"]:
        desired, supported, distance, *oneway = rule.split()
        if desired.count("-") == hyphens and "*" not in desired:
            found.setdefault((desired, supported), int(distance))
            if not oneway:
                found.setdefault((supported, desired), int(distance))
    return found


class _RegionRule(NamedTuple):
    desired: tuple[str, str, str]
    supported: tuple[str, str, str]
    distance: int


@lru_cache(maxsize=1)
def _region_rules() -> tuple[_RegionRule, ...]:
    found = []
    for rule in table("matching")["matches"]:
        desired, supported, distance, *_ = rule.split()
        if desired.count("-") == 2:
            first, second = tuple(desired.split("-")), tuple(supported.split("-"))
            found.append(_RegionRule((first[0], first[1], first[2]), (second[0], second[1], second[2]), int(distance)))
    return tuple(found)


@lru_cache(maxsize=1)
def _sets() -> dict[str, frozenset[str]]:
    return {name: frozenset(regions.split()) for name, regions in table("matching")["sets"].items()}


def _fits(pattern: str, value: str) -> bool:
    if pattern.startswith("$!"):
        return value not in _sets()[pattern[2:]]
    if pattern.startswith("$"):
        return value in _sets()[pattern[1:]]
    return pattern in ("*", value)


def _rule_fits(pattern: tuple[str, str, str], key: _Key, region: str) -> bool:
    return _fits(pattern[0], key.language) and _fits(pattern[1], key.script) and _fits(pattern[2], region)


def _countries(region: str) -> list[str]:
    """The countries in a region; itself where it holds none."""
    inside: str | None = table("matching")["macro"].get(region)
    return inside.split() if inside else [region]


@lru_cache(maxsize=1 << 12)
def _region_distance(desired: _Key, supported: _Key) -> int:
    """The greatest distance of any two countries in the two regions."""
    if desired.region == supported.region:
        return 0
    rules = [rule for rule in _region_rules() if _fits(rule.desired[0], desired.language) and _fits(rule.supported[0], supported.language)]
    kinds: set[tuple[str, ...]] = set()
    worst = 0
    for first in _countries(desired.region):
        for second in _countries(supported.region):
            kind = _kind(first) + _kind(second)
            if kind in kinds:
                continue
            kinds.add(kind)
            fitting = (
                rule.distance
                for rule in rules
                if _rule_fits(rule.desired, desired, first) and _rule_fits(rule.supported, supported, second)
            )
            worst = max(worst, next(fitting, _OTHER_REGION))
    return worst


def _kind(region: str) -> tuple[str, ...]:
    """What decides which rules fit a region: the sets that it is in, and whether it is named itself."""
    return (*(name for name, regions in _sets().items() if region in regions), region if region == "GB" else "", "|")


@lru_cache(maxsize=1 << 14)
def distance(desired: LanguageTag, supported: LanguageTag) -> int:
    """How far *supported* is from what a reader of *desired* wants: 0 is the same, `THRESHOLD` and more is no match."""
    if desired == supported:
        return 0
    if _alone(desired) or _alone(supported):
        return THRESHOLD + _NO_LANGUAGE
    first, second = _key(desired), _key(supported)
    total = 0
    if first.language != second.language:
        total += _languages().get((first.language, second.language), _NO_LANGUAGE)
    if first.script != second.script:
        pair = (f"{first.language}-{first.script}", f"{second.language}-{second.script}")
        total += _scripts().get(pair, _NO_SCRIPT)
    return total + _region_distance(first, second)


def _alone(tag: LanguageTag) -> bool:
    """Private tags, and tags of no known language, match only themselves."""
    return not tag.language or tag.language == "und"


def _parse(text: str) -> LanguageTag | None:
    try:
        return LanguageTag.parse(text)
    except TagError:
        return None


def nearest(desired: Iterable[str], supported: Sequence[str], default: str | None = None) -> str | None:
    """The supported tag that is nearest to the wishes, as it is written in *supported*; *default* where none is near enough.

    Each later wish costs `DEMOTION` more. Among equals what is equal as it is written comes first, then the earlier wish, then CLDR's paradigm
    locales, then the order of *supported*. What is no language tag is passed over.
    """
    paradigm = {_key(LanguageTag.parse(tag)) for tag in table("matching")["paradigm"]}
    known = [(tag, text) for text in supported if (tag := _parse(text)) is not None]
    known.sort(key=lambda pair: _key(pair[0]) not in paradigm)
    best, found = (THRESHOLD, False, 0), default
    for place, wish in enumerate(desired):
        wanted = _parse(wish)
        for tag, text in known if wanted is not None else ():
            assert wanted is not None
            cost = (distance(wanted, tag) + place * DEMOTION, text.lower() != wish.lower(), place)
            if cost < best:
                best, found = cost, text
    return found
