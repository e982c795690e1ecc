"""Validity against the IANA registry (RFC 5646 section 2.2.9), and what is wrong or not at its best with a tag."""

from __future__ import annotations

from collections import namedtuple
from functools import lru_cache

from lemmar.tags.grammar import GRANDFATHERED, Subtags
from lemmar.tags.tables import is_private, registered, table

#: Kinds of problems that make a tag invalid; the others are advice.
INVALID = frozenset({"unregistered", "extlang", "duplicate-variant", "duplicate-singleton"})


TYPE_CHECKING = False
if TYPE_CHECKING:
    from collections.abc import Iterator
    from typing import NamedTuple

    class _Fields(NamedTuple):
        kind: str
        subtag: str
        advice: str
else:
    _Fields = namedtuple("_Fields", "kind subtag advice")


class Problem(_Fields):
    """One problem of a tag.

    *kind* is one of `INVALID`, or ``deprecated`` (the registry says so), ``preferred`` (another tag has taken its place),
    ``overspecified`` (a script that the registry says is understood), ``prefix`` (a variant of another language).
    """

    __slots__ = ()

    @property
    def invalid(self) -> bool:
        """Whether it makes the tag invalid."""
        return self.kind in INVALID


def is_valid(tag: Subtags) -> bool:
    """Whether *tag* is valid by RFC 5646 section 2.2.9."""
    return not any(problem.invalid for problem in _each(tag, advise=False))


@lru_cache(maxsize=4096)
def problems(tag: Subtags) -> tuple[Problem, ...]:
    """Each problem of *tag*, in the order of its subtags."""
    return tuple(_each(tag, advise=True))


def _each(tag: Subtags, advise: bool) -> Iterator[Problem]:
    """The problems; what a slip of the keyboard was meant for is looked for only to *advise*, since that takes long."""
    return _whole(tag) if tag.language.lower() in GRANDFATHERED else _problems(tag, advise)


def _whole(tag: Subtags) -> Iterator[Problem]:
    preferred = table("registry")["whole"].get(tag.language, "")
    advice = f"write {preferred!r}" if preferred else "there is no tag that takes its place"
    yield Problem("preferred" if preferred else "deprecated", tag.language, advice)


def _problems(tag: Subtags, advise: bool) -> Iterator[Problem]:
    registry = table("registry")
    if tag.language:
        yield from _subtag("language", tag.language, advise)
    for index, extlang in enumerate(tag.extlangs):
        prefix = registry["extlang"].get(extlang)
        if index or prefix is None:
            yield Problem("unregistered", extlang, "the registry does not know it as an extended language")
        elif prefix != tag.language:
            yield Problem("extlang", extlang, f"it belongs after {prefix!r}; write {extlang!r} alone")
        else:
            yield Problem("preferred", extlang, f"write {extlang!r} alone")
    if tag.script:
        yield from _subtag("script", tag.script, advise)
        if registry["suppress"].get(tag.language) == tag.script:
            yield Problem("overspecified", tag.script, f"{tag.language!r} is written in it anyway; leave it out")
    if tag.region:
        yield from _subtag("region", tag.region, advise)
    yield from _variants(tag)
    singletons = [singleton for singleton, _ in tag.extensions]
    for singleton in sorted({each for each in singletons if singletons.count(each) > 1}):
        yield Problem("duplicate-singleton", singleton, f"one extension {singleton!r} is allowed; join the two")


def _subtag(kind: str, subtag: str, advise: bool) -> Iterator[Problem]:
    if subtag not in registered(kind) and not is_private(kind, subtag):
        yield Problem("unregistered", subtag, f"the registry knows no {kind} {subtag!r}{_near(kind, subtag) if advise else ''}")
        return
    deprecated = table("registry")["deprecated"].get(f"{kind} {subtag}")
    if deprecated is not None:
        yield Problem("deprecated", subtag, f"write {deprecated!r}" if deprecated else "nothing takes its place")


def _near(kind: str, subtag: str) -> str:
    """The registered subtag that a slip of the keyboard would have made it from."""
    from difflib import get_close_matches

    if len(subtag) < 4:
        return ""
    close = get_close_matches(subtag, registered(kind), n=1, cutoff=0.74)
    return f"; {close[0]!r} is one" if close else ""


def _variants(tag: Subtags) -> Iterator[Problem]:
    registry = table("registry")
    for index, variant in enumerate(tag.variants):
        if variant in tag.variants[:index]:
            yield Problem("duplicate-variant", variant, "a variant stands once; remove one")
        elif variant not in registry["variant"]:
            yield Problem("unregistered", variant, f"the registry knows no variant {variant!r}")
        else:
            prefixes = registry["variant"][variant]
            deprecated = registry["deprecated"].get(f"variant {variant}")
            if deprecated is not None:
                yield Problem("deprecated", variant, f"write {deprecated!r}" if deprecated else "nothing takes its place")
            if prefixes and not any(prefix.split("-")[0] == tag.language for prefix in prefixes):
                yield Problem("prefix", variant, f"it is meant for {', '.join(prefixes)}")
