"""Lookups: which of its supported locales a runtime tries for one wish, and in which order.

A lookup is literal: it compares tags as the client has them. Sources: RFC 4647 section 3.4 (`truncate`), UTS 35 likely subtags, parent
locales and language matching (`scripted`, `inherit`, `kin`, `nearest`), the candidates of Java's resource bundles (`java`), POSIX locale
names (`posix`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from lemmar.tags import LanguageTag, Tag, TagError, distance, truncations

#: Every lookup that a runtime may have.
LOOKUPS = ("exact", "primary", "truncate", "scripted", "inherit", "kin", "nearest", "java", "posix")
#: Those that begin with their own steps even where the request itself is supported.
_NOT_EXACT_FIRST = ("primary", "java")
_NO_MATCH = 50


class Tried(NamedTuple):
    """A supported locale that a lookup tries, and the step at which it does, in words."""

    tag: Tag
    step: str


def tries(lookup: str, request: str, among: Sequence[Tag]) -> list[Tried]:
    """Those of the tags *among* that *lookup* tries for *request*, in the order tried, each once; case does not count.

    Raises:
        KeyError: there is no such lookup.
    """
    steps = _STEPS[lookup]
    known: dict[str, Tag] = {}
    for tag in among:
        known.setdefault(tag.lower(), tag)
    found: dict[Tag, str] = {}
    if lookup not in _NOT_EXACT_FIRST and request.lower() in known:
        found[known[request.lower()]] = "the request itself"
    for tag, step in steps(request, known, among):
        found.setdefault(tag, step)
    return [Tried(tag, step) for tag, step in found.items()]


def tried(lookup: str, request: str, among: Sequence[Tag]) -> list[Tag]:
    """Those of the tags *among* that *lookup* tries for *request*, in the order tried."""
    return [each.tag for each in tries(lookup, request, among)]


_Known = dict[str, Tag]
_Steps = Iterator[tuple[Tag, str]]


def _equal(wanted: Iterator[str] | Sequence[str], known: _Known, step: str) -> _Steps:
    for text in wanted:
        tag = known.get(text.lower())
        if tag is not None:
            yield tag, step


def forms(lookup: str, request: str) -> list[str]:
    """The tags that *lookup* makes of *request*, in the order in which it looks for them; of `nearest` only the request itself."""
    return _FORMS[lookup](request)


def _language(request: str) -> list[str]:
    tag = _parsed(request)
    return [tag.language if tag is not None and tag.language else request]


def _cut(request: str) -> list[str]:
    return list(truncations(request))


def _cut_with_script(request: str) -> list[str]:
    tag = _parsed(request)
    return list(truncations(request if tag is None else str(_with_script(tag))))


def _with_parents(request: str) -> list[str]:
    tag = _parsed(request)
    if tag is None or _alone(tag):
        return [request]
    start = _with_script(tag.canonical())
    return [str(each) for each in (start, *start.parents())]


def _by_forms(lookup: str, step: str) -> Callable[[str, _Known, Sequence[Tag]], _Steps]:
    """The steps of a lookup that looks for equal tags only."""
    return lambda request, known, _among: _equal(forms(lookup, request), known, step)


def _inherit(request: str, known: _Known, among: Sequence[Tag]) -> _Steps:
    tag = _parsed(request)
    if tag is None or _alone(tag):
        yield from _equal([request], known, "the request itself")
        return
    start = _with_script(tag.canonical())
    full = {each: parsed.maximized() for each in among if (parsed := _parsed(each)) is not None and not _alone(parsed)}
    for step in (start, *start.parents()):
        same = known.get(str(step).lower())
        if same is None:
            wanted = step.maximized()
            same = next((each for each, maximized in full.items() if maximized == wanted), None)
        if same is not None:
            yield same, "the request's parents"


def _kin(request: str, known: _Known, among: Sequence[Tag]) -> _Steps:
    yield from _inherit(request, known, among)
    tag = _parsed(request)
    if tag is None or _alone(tag):
        return
    whole = tag.canonical().maximized()
    near = []
    for place, each in enumerate(among):
        other = _parsed(each)
        if other is None or _alone(other):
            continue
        full = other.maximized()
        if (full.language, full.script) == (whole.language, whole.script):
            near.append((distance(tag.canonical(), other.canonical()), place, each))
    if near:
        yield min(near)[2], "the nearest of the same language and script"


def _nearest(request: str, _known: _Known, among: Sequence[Tag]) -> _Steps:
    from lemmar.tags import nearest

    found = nearest([request], among)
    if found is not None:
        yield Tag(found), "the least distance"


_OLD = {"he": "iw", "yi": "ji", "id": "in"}
_NEW = {old: new for new, old in _OLD.items()}
_CHINESE = {"TW": "Hant", "HK": "Hant", "MO": "Hant", "CN": "Hans", "SG": "Hans"}


def java_candidates(request: str) -> list[str]:
    """The locales that Java's resource bundles try for *request*, as tags, without the root; old codes after the new."""
    tag = _parsed(request)
    if tag is None or not tag.language:
        return [request]
    language, script, region = _NEW.get(tag.language, tag.language), tag.script or "", tag.region or ""
    variants = list(tag.variants)
    listed: list[tuple[str, str, str, list[str]]]
    if language in ("no", "nb"):
        other = "nb" if language == "no" else "no"
        listed = [(code, *rest) for rest in _java_list("nb", script, region, variants) for code in (language, other)]
    elif language == "nn":
        norwegian = [("no", "", "NO", ["NY"]), ("no", "", "NO", []), ("no", "", "", [])]
        listed = [("nn", *rest) for rest in _java_list("nn", script, region, variants)] + norwegian
    else:
        if language == "zh" and not script:
            script = _CHINESE.get(region, "")
        listed = [(language, *rest) for rest in _java_list(language, script, region, variants)]
    found = []
    for code, its_script, its_region, its_variants in listed:
        rest = [piece for piece in (its_script, its_region, *its_variants) if piece]
        found.append("-".join([code, *rest]))
        if code in _OLD:
            found.append("-".join([_OLD[code], *rest]))
    return list(dict.fromkeys(found))


def _java_list(language: str, script: str, region: str, variants: list[str]) -> list[tuple[str, str, list[str]]]:
    cut = [variants[:end] for end in range(len(variants), 0, -1)]
    found: list[tuple[str, str, list[str]]] = []
    if script:
        found += [(script, region, each) for each in cut]
        if region:
            found.append((script, region, []))
        found.append((script, "", []))
        if language == "zh" and not region:
            region = {"Hans": "CN", "Hant": "TW"}.get(script, "")
    found += [("", region, each) for each in cut]
    if region:
        found.append(("", region, []))
    return [*found, ("", "", [])]


def _posix_names(request: str) -> list[str]:
    tag = _parsed(request)
    if tag is None or not tag.language:
        return [request]
    modifier = LanguageTag(tag.language, script=tag.script, variants=tag.variants)
    tried_tags = [
        modifier._replace(region=tag.region),
        modifier,
        LanguageTag(tag.language, region=tag.region),
        LanguageTag(tag.language),
    ]
    return list(dict.fromkeys(map(str, tried_tags)))


_FORMS: dict[str, Callable[[str], list[str]]] = {
    "exact": lambda request: [request],
    "primary": _language,
    "truncate": _cut,
    "scripted": _cut_with_script,
    "inherit": _with_parents,
    "kin": _with_parents,
    "nearest": lambda request: [request],
    "java": java_candidates,
    "posix": _posix_names,
}
_STEPS: dict[str, Callable[[str, _Known, Sequence[Tag]], _Steps]] = {
    "exact": _by_forms("exact", "the request itself"),
    "primary": _by_forms("primary", "the request's language"),
    "truncate": _by_forms("truncate", "the request cut at its end"),
    "scripted": _by_forms("scripted", "the request with its likely script, cut at its end"),
    "inherit": _inherit,
    "kin": _kin,
    "nearest": _nearest,
    "java": _by_forms("java", "a candidate of the resource bundles"),
    "posix": _by_forms("posix", "the request without its territory or modifier"),
}


def _parsed(text: str) -> LanguageTag | None:
    try:
        return LanguageTag.parse(text)
    except TagError:
        return None


def _alone(tag: LanguageTag) -> bool:
    """Private tags, and tags of no known language, match only themselves."""
    return not tag.language or tag.language == "und"


def _with_script(tag: LanguageTag) -> LanguageTag:
    """*tag* with its likely script, where that is not the likely one of the tag without its region (``zh-TW``, ``sr-ME``)."""
    if tag.script or not tag.region or _alone(tag):
        return tag
    script = tag.maximized().script
    return tag._replace(script=script) if script != tag._replace(region=None).maximized().script else tag
