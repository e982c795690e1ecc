"""Names of locales: CLDR's English ones with all their variants, a language's own, and reading both.

A name is compared without regard to case, spaces, punctuation and word order: ``ChineseSimplified``, ``Chinese (Simplified)``,
``simplified_chinese`` and ``Simplified Chinese`` are the same.
"""

from __future__ import annotations

import unicodedata
from functools import lru_cache
from itertools import permutations

from lemmar.basics.expressions import expression
from lemmar.tags.language_tag import LanguageTag
from lemmar.tags.tables import table

_WORDS = expression(r"[^\W\d_]+|\d+")
_CAMEL = expression(r"(?<=[a-z])(?=[A-Z])")
_MOST_WORDS = 4
_FILLING = frozenset({"and", "of", "the", "script", "language"})


def _words(text: str) -> list[str]:
    plain = unicodedata.normalize("NFC", text)
    return [word.casefold() for word in _WORDS.findall(_CAMEL.sub(" ", plain)) if word.casefold() not in _FILLING]


def _orders(name: str) -> set[str]:
    """The name's words in every order, written together."""
    words = _words(name)
    if len(words) > _MOST_WORDS:
        return {"".join(words)}
    return {"".join(order) for order in permutations(words)}


@lru_cache(maxsize=1)
def _known() -> dict[str, dict[str, set[str]]]:
    """Folded names to subtags or tags: of whole locales, of scripts, of regions."""
    names = table("names")
    found: dict[str, dict[str, set[str]]] = {"locale": {}, "script": {}, "region": {}}
    for kind, source in (("locale", "language"), ("script", "script"), ("region", "region")):
        for code, variants in names["english"][source].items():
            if code in ("root", "und", "mul", "zxx", "Zzzz", "Zyyy", "Zinh", "ZZ"):
                continue
            for name in variants:
                for folded in _orders(name):
                    found[kind].setdefault(folded, set()).add(code)
    for code, name in names["own"].items():
        for folded in _orders(name):
            found["locale"].setdefault(folded, set()).add(code)
    return found


def read_name(text: str) -> LanguageTag | None:
    """The locale that *text* names in English or in its own language; None where it names none, or several."""
    found = candidates(text)
    return found[0] if len(found) == 1 else None


@lru_cache(maxsize=4096)
def candidates(text: str) -> tuple[LanguageTag, ...]:
    """Every locale that *text* may name: a whole name, or a language's with a script's or a region's."""
    words = _words(text)
    if not words or len(text) > 80:
        return ()
    folded = "".join(words)
    known = _known()
    whole = known["locale"].get(folded)
    if whole:
        return tuple(sorted({LanguageTag.parse(code) for code in whole}, key=str))
    found: set[LanguageTag] = set()
    for cut in range(1, len(folded)):
        for language, qualifier in ((folded[:cut], folded[cut:]), (folded[cut:], folded[:cut])):
            for code in known["locale"].get(language, ()):
                base = LanguageTag.parse(code)
                found |= {base._replace(script=script) for script in known["script"].get(qualifier, ()) if not base.script}
                found |= {base._replace(region=region) for region in known["region"].get(qualifier, ()) if not base.region}
    return tuple(sorted(found, key=str))


def regions_named(text: str) -> tuple[str, ...]:
    """The regions that *text* names in English."""
    return tuple(sorted(_known()["region"].get("".join(_words(text)), ())))


def english_name(tag: LanguageTag) -> str:
    """The tag in English words: CLDR's name for the longest part that has one, the rest in brackets."""
    names = table("names")["english"]
    for script, region in ((tag.script, tag.region), (tag.script, None), (None, tag.region), (None, None)):
        key = "-".join(part for part in (tag.language, script, region) if part)
        if key in names["language"] and names["language"][key]:
            rest = [subtag_name("script", tag.script)] if tag.script and not script else []
            rest += [subtag_name("region", tag.region)] if tag.region and not region else []
            break
    else:
        key, rest = "", [subtag_name("script", tag.script)] if tag.script else []
        rest += [subtag_name("region", tag.region)] if tag.region else []
    name = names["language"][key][0] if key else subtag_name("language", tag.language) if tag.language else "private use"
    rest += [table("descriptions")["variant"].get(variant, variant) for variant in tag.variants]
    return f"{name} ({', '.join(rest)})" if rest else name


@lru_cache(maxsize=1024)
def english_names(tag: LanguageTag) -> tuple[str, str, str, str]:
    """English names of *tag*: CLDR's first, its second, the language's with the script and region in brackets, and with these behind it; each the
    first where there is no other.
    """
    own = table("names")["english"]["language"].get("-".join(part for part in (tag.language, tag.script, tag.region) if part), ())
    first = english_name(tag)
    second = next((name for name in own if name and name != first), first)
    if not tag.script and not tag.region:
        return first, second, first, first
    rest = [subtag_name(kind, subtag) for kind, subtag in (("script", tag.script), ("region", tag.region)) if subtag]
    base = english_name(LanguageTag(tag.language))
    return first, second, f"{base} ({', '.join(rest)})", " ".join((base, *rest))


def subtag_name(kind: str, subtag: str | None) -> str:
    """The English name of a subtag: CLDR's, else the registry's description, else the subtag itself."""
    known = table("names")["english"][kind].get(subtag)
    return str(known[0] if known else table("descriptions")[kind].get(subtag, subtag))


def own_name(tag: LanguageTag) -> str | None:
    """The language's name in itself, as far as CLDR has it."""
    own: dict[str, str] = table("names")["own"]
    for script, region in ((tag.script, tag.region), (tag.script, None), (None, tag.region), (None, None)):
        name = own.get("-".join(part for part in (tag.language, script, region) if part))
        if name:
            return name
    return None


def write_name(tag: LanguageTag) -> str:
    """The English name, in the words that `read_name` reads back."""
    return english_name(tag)
