"""Lookups: which tags a runtime tries for a request, in its order."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from lemmar.model import Tag
from lemmar.tags import LanguageTag, TagError, truncations


def _exact(request: str) -> Iterator[str]:
    yield request


def _primary(request: str) -> Iterator[str]:
    try:
        yield LanguageTag.parse(request).language or request
    except TagError:
        yield request


_STEPS: dict[str, Callable[[str], Iterator[str]]] = {"exact": _exact, "primary": _primary, "truncate": truncations}


def steps(lookup: str, request: str) -> Iterator[str]:
    """The tags that *lookup* tries for *request*, in order. Raises `KeyError` for a lookup that is not there."""
    return _STEPS[lookup](request)


def tried(lookup: str, request: str, among: Sequence[Tag]) -> list[Tag]:
    """Those of the tags *among* that *lookup* tries for *request*, in the order tried; case does not count."""
    known: dict[str, Tag] = {}
    for tag in among:
        known.setdefault(tag.lower(), tag)
    found = [known[step.lower()] for step in steps(lookup, request) if step.lower() in known]
    return list(dict.fromkeys(found))


def landing(lookup: str, request: str, supported: Sequence[Tag], default: Tag) -> Tag:
    """The locale in which a client answers *request*; an unsupported *default* is the landing as it is written."""
    found = tried(lookup, request, supported)
    return found[0] if found else default
