"""What a lookup is, and what several of them share."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from functools import lru_cache
from types import MappingProxyType
from typing import NamedTuple

from lemmar.tags import LanguageTag, Tag, TagError

#: The step that every lookup may begin with, in words.
THE_REQUEST = "the request itself"
#: The supported tags by their small letters.
Known = Mapping[str, Tag]
#: Supported tags, each with the step that leads there, in words.
Steps = Iterator[tuple[Tag, str]]


@lru_cache(maxsize=64)
def by_small_letters(tags: tuple[Tag, ...]) -> Known:
    """The first of *tags* by each text in small letters: made once for all that is looked up in them."""
    found: dict[str, Tag] = {}
    for tag in tags:
        found.setdefault(tag.lower(), tag)
    return MappingProxyType(found)


class Tried(NamedTuple):
    """A supported locale that a lookup tries, and the step at which it does, in words."""

    tag: Tag
    step: str


class Lookup(NamedTuple):
    """A lookup.

    *forms* are the tags that it makes of a request, in the order in which it looks for them; *steps* the supported tags that it tries. With
    *exact_first* a supported request wins before all steps. *of_all*, where it is given, matches all wishes together and gives the one
    supported tag. *asks* names the lookup by whose steps catalogs are asked, if another. With *candidates* every form of which there is a
    catalog is asked, supported or not, and the default only where there is none.
    """

    name: str
    about: str
    forms: Callable[[str], list[str]]
    steps: Callable[[str, Known, Sequence[Tag]], Steps]
    exact_first: bool = True
    of_all: Callable[[Sequence[str], Sequence[Tag]], str | None] | None = None
    asks: str | None = None
    candidates: bool = False


def equal(wanted: Iterable[str], known: Known, step: str) -> Steps:
    """Those of the *wanted* tags that are supported, in their order."""
    for text in wanted:
        tag = known.get(text.lower())
        if tag is not None:
            yield tag, step


def by_forms(forms: Callable[[str], list[str]], step: str) -> Callable[[str, Known, Sequence[Tag]], Steps]:
    """The steps of a lookup that looks for equal tags only."""
    return lambda request, known, _among: equal(forms(request), known, step)


def parsed(text: str) -> LanguageTag | None:
    """The tag; None where *text* is none."""
    try:
        return LanguageTag.parse(text)
    except TagError:
        return None


def is_alone(tag: LanguageTag) -> bool:
    """Private tags, and tags of no known language, match only themselves."""
    return not tag.language or tag.language == "und"


def with_script(tag: LanguageTag) -> LanguageTag:
    """*tag* with its likely script, where that is not the likely one of the tag without its region (``zh-TW``, ``sr-ME``)."""
    if tag.script or not tag.region or is_alone(tag):
        return tag
    script = tag.maximized().script
    return tag._replace(script=script) if script != tag._replace(region=None).maximized().script else tag
