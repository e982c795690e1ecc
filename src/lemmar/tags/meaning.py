"""What was likely meant by a text that is no locale: a country for its language, a name, a slip of the keyboard. Ranked, with reasons."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache
from typing import NamedTuple

from lemmar.tags.grammar import TagError
from lemmar.tags.language_tag import LanguageTag
from lemmar.tags.naming import candidates, regions_named, subtag_name
from lemmar.tags.spellings import spelling_candidates
from lemmar.tags.tables import is_private, registered, table


class Meant(NamedTuple):
    """A tag that may be meant, why, and how the mistake came about: ``region``, ``name``, ``spelling`` or ``slip``."""

    tag: LanguageTag
    reason: str
    how: str


@lru_cache(maxsize=4096)
def meant(text: str) -> tuple[Meant, ...]:
    """What *text* may mean, the likeliest first; nothing where it is a valid tag or nothing comes to mind."""
    found: dict[LanguageTag, Meant] = {}
    for each in _all(text.strip()):
        found.setdefault(each.tag, each)
    return tuple(found.values())[:5]


def _all(text: str) -> Iterator[Meant]:
    tag = _parse(text)
    if tag is not None and tag.valid and "_" not in text and not _obscure(tag):
        return
    yield from _doubled(text)
    yield from _region_first(text)
    yield from _other_spelling(text)
    yield from _named(text)
    yield from _slips(text, tag)


def _obscure(tag: LanguageTag) -> bool:
    """Whether the tag is a three-letter code that CLDR has no name for, such as ``usa``: a country is the likelier meaning."""
    return len(tag.language) == 3 and tag == LanguageTag(tag.language) and tag.language not in table("names")["english"]["language"]


def _parse(text: str) -> LanguageTag | None:
    try:
        return LanguageTag.parse(text.replace("_", "-"))
    except TagError:
        return None


def _doubled(text: str) -> Iterator[Meant]:
    """A language's code in the place of a region's too: ``en_EN``, ``ja-ja``."""
    first, _, rest = text.replace("_", "-").lower().partition("-")
    if first == rest and first in registered("language"):
        tag = LanguageTag(first)
        yield Meant(tag, f"{rest.upper()!r} is no region; the language alone is {str(tag)!r}", "spelling")


def _region_first(text: str) -> Iterator[Meant]:
    """A country's code where a language's is wanted: ``cn``, ``JP``, ``usa``, ``cn-Hant``."""
    first, _, rest = text.replace("_", "-").partition("-")
    region = _region(first)
    if region is None or region == "ZZ" or (len(first) == 2 and first.lower() in registered("language")):
        return
    tag = language_of(region)
    if tag is None:
        return
    qualified = _parse(f"{tag.language}-{rest}") if rest else None
    name = subtag_name("region", region)
    if qualified is not None and qualified.region not in (None, region) and tag.language != _spoken_in(qualified.region):
        return  # `mm-MN`: one of the two is wrong, and nobody knows which
    if rest and qualified is not None and qualified.valid:
        yield Meant(qualified, f"{first!r} is the region {name}, whose language is {tag.language!r}", "region")
    elif not rest or rest.upper() == region:
        yield Meant(tag, f"{first!r} is the region {name}, not a language; its main language is {str(tag)!r}", "region")


def _spoken_in(region: str | None) -> str:
    return LanguageTag("und", region=region).maximized().language


def _region(code: str) -> str | None:
    """The region of a two- or three-letter code, also of one that is out of use."""
    upper = code.upper()
    if not upper.isascii() or not upper.isalpha() or len(upper) not in (2, 3):
        return None
    alias = table("aliases")["region"].get(upper, "").split()
    if len(upper) == 2 and (upper in registered("region") and not is_private("region", upper)):
        return alias[0] if alias else upper
    return alias[0] if alias and len(alias[0]) == 2 else None


def language_of(region: str) -> LanguageTag | None:
    """The language that is likely in a region; where that is Russian, the one that has its home there. With its script where the language is
    written in several, with the region where it is not the language's own.
    """
    whole = LanguageTag("und", region=region).maximized()
    if whole.language in ("und", "") or whole.script is None:
        return None
    if whole.language == "ru" and region != "RU":  # likely, but the code is written for the language that has its home there
        own = [language for language in table("likely") if len(language) == 2 and LanguageTag(language).maximized().region == region]
        whole = LanguageTag(own[0]).maximized() if len(own) == 1 else whole
    home = LanguageTag(whole.language).maximized()
    script = whole.script if whole.script != home.script or in_several_scripts(whole.language) else None
    at_home = LanguageTag(whole.language, script=whole.script).maximized().region == region
    return LanguageTag(whole.language, script=script, region=None if at_home else region)


@lru_cache(maxsize=1)
def _by_region() -> frozenset[str]:
    """The languages whose likely script depends on the region."""
    known = table("likely")
    found = set()
    for key, value in known.items():
        language, _, region = key.partition("-")
        if region and len(region) < 4 and language in known and known[language].split("-")[1] != value.split("-")[1]:
            found.add(language)
    return frozenset(found)


def in_several_scripts(language: str) -> bool:
    """Whether the language is written in another script in some region (``zh``, ``sr``, ``az``, ``uz``)."""
    return language in _by_region()


def _with(tag: LanguageTag, kind: str, subtag: str) -> LanguageTag:
    """*tag* with another language, script or region."""
    if kind == "language":
        return tag._replace(language=subtag)
    return tag._replace(script=subtag) if kind == "script" else tag._replace(region=subtag)


def _other_spelling(text: str) -> Iterator[Meant]:
    """A tag with other separators or in another platform's spelling."""
    found = {tag for tag in spelling_candidates(text).values() if tag.valid and str(tag).lower() != text.lower()}
    plain = _parse(text)
    if plain is not None and plain.canonical() != plain and plain.canonical().valid:
        found.add(plain.canonical())  # a code that is longer than it need be: `deu`, `ger`
    if plain is not None and plain.valid and "_" in text:
        found.add(plain)
    for tag in sorted(found, key=str):
        yield Meant(tag, f"{text!r} is {str(tag)!r} in another spelling", "spelling")


def _named(text: str) -> Iterator[Meant]:
    for tag in candidates(text):
        yield Meant(tag, f"{text!r} is a name of {str(tag)!r}", "name")
    for region in regions_named(text):
        tag_of = language_of(region)
        if tag_of is not None:
            yield Meant(tag_of, f"{text!r} is the region {subtag_name('region', region)}; its main language is {str(tag_of)!r}", "region")


def _is_common(kind: str, tag: LanguageTag) -> bool:
    """Whether people write such a tag: of a language with two letters, in the region where it is mostly spoken. What is rare is no slip's aim."""
    if kind == "region":
        return tag.region == tag._replace(region=None).maximized().region
    return kind != "language" or len(tag.language) == 2


def _slips(text: str, tag: LanguageTag | None) -> Iterator[Meant]:
    """One subtag with letters swapped, lost or added."""
    from difflib import get_close_matches

    if tag is None or not tag.language:
        return
    for kind, subtag in (("language", tag.language), ("script", tag.script), ("region", tag.region)):
        if subtag is None or subtag in registered(kind) or is_private(kind, subtag):
            continue
        swapped = sorted({subtag[:at] + subtag[at + 1] + subtag[at] + subtag[at + 2 :] for at in range(len(subtag) - 1)})
        close = [each for each in (form.title() if kind == "script" else form for form in swapped) if each in registered(kind)]
        close += get_close_matches(subtag, registered(kind), n=2, cutoff=0.74) if len(subtag) > 3 else []
        for other in close:
            mended = _with(tag, kind, other)
            if mended.valid and not mended.extlangs and _is_common(kind, mended):
                yield Meant(mended, f"the {kind} {subtag!r} is not registered; {other!r} is {subtag_name(kind, other)}", "slip")
