"""Everything that the tables know of one tag, and of two side by side."""

from __future__ import annotations

from typing import Any, NamedTuple

from lemmar.tags.grammar import TagError
from lemmar.tags.language_tag import LanguageTag, direction
from lemmar.tags.lookup import truncations
from lemmar.tags.matching import THRESHOLD, distance
from lemmar.tags.meaning import Meant, meant
from lemmar.tags.naming import english_name, own_name
from lemmar.tags.plurals import Kind, plural_categories, plural_category
from lemmar.tags.spellings import SPELLINGS, spelling_candidates, write_spelling

_SAMPLES = (*map(str, range(31)), "100", "101", "1000", "1000000", "1.0", "1.5", "0.0", "0.1", "1c6")
_MOST_SAMPLES = 4


class Description(NamedTuple):
    """What is known of a text as a language tag. Where it is none, *fault* says why, and only *meant* and *read_as* may hold something.

    *plurals* maps each kind to categories, each with numbers that take it; *spellings* each platform's way to write the tag; *read_as*
    the platforms that can read the text, with what they read.
    """

    text: str
    fault: str | None
    tag: LanguageTag | None
    valid: bool
    problems: tuple[str, ...]
    meant: tuple[Meant, ...]
    read_as: dict[str, str]
    facts: dict[str, Any]


def describe(text: str) -> Description:
    """All that is known of *text*."""
    read_as = {spelling: str(tag) for spelling, tag in spelling_candidates(text).items()}
    try:
        tag = LanguageTag.parse(text)
    except TagError as error:
        return Description(text, str(error), None, False, (), meant(text), read_as, {})
    problems = tuple(f"{problem.subtag}: {problem.advice}" for problem in tag.problems())
    return Description(text, None, tag, tag.valid, problems, meant(text), read_as, _facts(tag) if tag.valid else {})


def _facts(tag: LanguageTag) -> dict[str, Any]:
    whole = tag.maximized()
    return {
        "canonical": str(tag.canonical()),
        "english": english_name(tag.canonical()),
        "own": own_name(tag.canonical()),
        "script": whole.script,
        "direction": direction(tag),
        "likely": str(whole),
        "shortest": str(tag.minimized()),
        "parents": [str(parent) for parent in tag.canonical().parents()],
        "plurals": {kind: _samples(tag, kind) for kind in ("cardinal", "ordinal")},
        "spellings": {spelling: write_spelling(tag.canonical(), spelling) for spelling in SPELLINGS},
    }


def _samples(tag: LanguageTag, kind: Kind) -> dict[str, list[str]]:
    found: dict[str, list[str]] = {category: [] for category in plural_categories(tag, kind)}
    for number in _SAMPLES if kind == "cardinal" else _SAMPLES[:35]:
        category = plural_category(tag, number, kind)
        if len(found[category]) < _MOST_SAMPLES:
            found[category].append(number)
    return found


class Comparison(NamedTuple):
    """Two tags: whether they mean the same locale and why, and for each direction the distance and how one falls back to the other."""

    same: bool
    why: str
    distances: tuple[int, int]
    falls: tuple[str, str]


def compare(a: LanguageTag, b: LanguageTag) -> Comparison:
    """How *a* and *b* stand to each other."""
    if a.canonical() == b.canonical():
        same, why = True, f"both are {str(a.canonical())!r} in canonical form"
    elif a.maximized() == b.maximized():
        same, why = True, f"both are {str(a.maximized())!r} with their likely script and region; a list may still hold both"
    else:
        same, why = False, f"with their likely script and region they are {str(a.maximized())!r} and {str(b.maximized())!r}"
    return Comparison(same, why, (distance(a, b), distance(b, a)), (_falls(a, b), _falls(b, a)))


def _falls(a: LanguageTag, b: LanguageTag) -> str:
    """How a request for *a* reaches *b*."""
    if a == b:
        return "it is the same tag"
    ways = []
    if str(b).lower() in [step.lower() for step in truncations(str(a))]:
        ways.append("by cutting the tag at its end")
    if b.canonical() in a.canonical().parents():
        ways.append("as a parent locale")
    apart = distance(a, b)
    if apart < THRESHOLD:
        ways.append(f"as near enough (distance {apart}, under {THRESHOLD})")
    return f"falls back {', and '.join(ways)}" if ways else f"does not fall back (distance {apart}, {THRESHOLD} and more is too far)"
