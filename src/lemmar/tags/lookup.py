"""Lookup: RFC 4647 section 3.4."""

from __future__ import annotations

TYPE_CHECKING = False
if TYPE_CHECKING:
    from collections.abc import Iterable, Iterator


def truncations(tag: str) -> Iterator[str]:
    """*tag*, then each shorter range that lookup tries after it (RFC 4647 section 3.4).

    A single-letter or single-digit subtag goes together with the one after it.
    """
    subtags = tag.split("-")
    while subtags:
        yield "-".join(subtags)
        subtags.pop()
        while subtags and len(subtags[-1]) == 1:
            subtags.pop()


def lookup(ranges: Iterable[str], available: Iterable[str], default: str | None = None) -> str | None:
    """The available tag that answers *ranges*, as it is written in *available*; else *default*.

    Ranges are tried in order, each shortened to its end before the next; case does not count. A range that begins with ``*``
    is passed over (it is no preference for any language); in an extended range a later ``*`` counts for nothing.
    """
    known: dict[str, str] = {}
    for tag in available:
        known.setdefault(tag.lower(), tag)
    for wanted in ranges:
        if wanted.startswith("*"):
            continue
        for shorter in truncations(wanted.lower().replace("-*", "")):
            if shorter in known:
                return known[shorter]
    return default
