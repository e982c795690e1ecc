"""Canonical form: UTS 35 part 1, Annex C (LocaleId Canonicalization), with the data of CLDR's aliases.

Where RFC 5646 section 4.5 and UTS 35 differ, UTS 35 is followed: overlong codes become short ones (``deu``, ``840``), ``sh`` becomes
``sr-Latn``, variants and attributes are sorted. A tag of private use alone stays as it is.
"""

from __future__ import annotations

from functools import cache, lru_cache

from lemmar.tags.grammar import GRANDFATHERED, Subtags, TagError, parse
from lemmar.tags.tables import likely_region, table

#: An alias of one or several subtags: what must be there, and what takes its place.
_Rule = tuple[Subtags, Subtags]


def canonical(tag: Subtags) -> Subtags:
    """The canonical form of *tag*, a fixed point."""
    while True:
        found = _once(tag)
        if found == tag:
            return found
        tag = found


def _once(tag: Subtags) -> Subtags:
    if not tag.language:
        return tag
    if "-" in tag.language and tag.language.lower() in GRANDFATHERED:
        known = table("aliases")["language"].get(tag.language)
        return parse(known) if known else tag
    tag = tag._replace(variants=tuple(dict.fromkeys(tag.variants)))
    tag = _language_id(_without_extlang(tag))
    if not tag.extensions:
        return tag
    first = dict(reversed(tag.extensions))  # a repeated one is dropped
    extensions = [(singleton, _extension(singleton, subtags)) for singleton, subtags in first.items()]
    return tag._replace(extensions=tuple(sorted(((s, t) for s, t in extensions if t), key=lambda pair: pair[0])))


def _without_extlang(tag: Subtags) -> Subtags:
    """RFC 5646 section 4.5: an extlang with its prefix becomes the language."""
    if tag.extlangs and table("registry")["extlang"].get(tag.extlangs[0]) == tag.language:
        return tag._replace(language=tag.extlangs[0], extlangs=())
    return tag


def _language_id(tag: Subtags) -> Subtags:
    """Applies the first rule that changes something, again and again; then the single subtags' aliases."""
    for _ in range(20):
        rules = _rules_for(tag)
        changed = next((after for rule in rules if (after := _applied(rule, tag)) != tag), None) if rules else None
        if changed is None:
            break
        tag = changed
    aliases = table("aliases")
    if not tag.variants and tag.script not in aliases["script"] and tag.region not in aliases["region"]:
        return tag
    variants = sorted(aliases["variant"].get(variant, variant) for variant in tag.variants)
    script = aliases["script"].get(tag.script, tag.script)
    return tag._replace(script=script, region=_region(tag), variants=tuple(variants))


def _region(tag: Subtags) -> str | None:
    """The region's heir; of several the one that is likely for the language and script, else the first."""
    heirs = table("aliases")["region"].get(tag.region, "").split()
    if len(heirs) > 1:
        likely = likely_region(tag.language, tag.script)
        return likely if likely in heirs else heirs[0]
    return heirs[0] if heirs else tag.region


@lru_cache(maxsize=1)
def _aliases_by_language() -> dict[str, list[str]]:
    found: dict[str, list[str]] = {}
    for before in table("aliases")["language"]:
        found.setdefault(before.partition("-")[0], []).append(before)
    return found


@cache
def _rules_of(language: str) -> tuple[_Rule, ...]:
    """The rules that begin with *language*, those of more subtags first."""
    known = table("aliases")["language"]
    those = [before for before in _aliases_by_language().get(language, ()) if not _is_whole(before)]
    rules = [(_parts(before), _parts(known[before])) for before in those]
    return tuple(sorted(rules, key=lambda rule: (-_size(rule[0]), str(rule[0]))))


def _is_whole(alias: str) -> bool:
    """Whether an alias is a grandfathered tag that only matches as a whole: ``sgn-BE-FR`` has two regions, and ``sgn-BE`` is another."""
    return sum(len(subtag) == 2 for subtag in alias.split("-")[1:]) > 1


def _rules_for(tag: Subtags) -> tuple[_Rule, ...]:
    """The rules that may fit: those of any language all ask for variants."""
    return _rules_of(tag.language) + (_rules_of("und") if tag.variants and tag.language != "und" else ())


def _parts(text: str) -> Subtags:
    """The subtags of an alias, also where the whole is a grandfathered tag (``art-lojban``, ``zh-min``)."""
    if text.lower() not in GRANDFATHERED:
        return parse(text)
    first, *rest = text.split("-")
    extlangs = tuple(subtag for subtag in rest if len(subtag) == 3)
    variants = tuple(subtag.lower() for subtag in rest if len(subtag) > 4)
    region = next((subtag for subtag in rest if len(subtag) == 2), None)
    return Subtags(first.lower(), extlangs, None, region, variants)


def _size(tag: Subtags) -> int:
    return len(tag.extlangs) + bool(tag.script) + bool(tag.region) + len(tag.variants)


def _applied(rule: _Rule, tag: Subtags) -> Subtags:
    """*tag* with the rule applied, or *tag* itself where it does not match."""
    before, after = rule
    fits = (
        before.language in (tag.language, "und")
        and (not before.extlangs or before.extlangs == tag.extlangs)
        and before.script in (None, tag.script)
        and before.region in (None, tag.region)
        and set(before.variants) <= set(tag.variants)
    )
    if not fits:
        return tag
    kept = [variant for variant in tag.variants if variant not in before.variants]
    return tag._replace(
        language=tag.language if after.language == "und" and before.language == "und" else after.language,
        extlangs=() if before.extlangs else tag.extlangs,
        script=after.script if before.script or not tag.script else tag.script,
        region=after.region if before.region or not tag.region else tag.region,
        variants=tuple(sorted({*kept, *after.variants})),
        private_use=tag.private_use or after.private_use,
    )


# --------------------------------------------------------------------------------------------------------------- extensions


def _extension(singleton: str, subtags: tuple[str, ...]) -> tuple[str, ...]:
    if singleton == "u":
        return _unicode(subtags)
    return _transformed(subtags) if singleton == "t" else subtags


def _split(subtags: tuple[str, ...], is_key: object) -> tuple[list[str], list[tuple[str, list[str]]]]:
    """What stands before the first key, and each key with its values."""
    head: list[str] = []
    keyed: list[tuple[str, list[str]]] = []
    for subtag in subtags:
        if callable(is_key) and is_key(subtag):
            keyed.append((subtag, []))
        elif keyed:
            keyed[-1][1].append(subtag)
        else:
            head.append(subtag)
    return head, keyed


def _unicode(subtags: tuple[str, ...]) -> tuple[str, ...]:
    """UTS 35 section 3.6: attributes and keys in alphabetical order, each once, ``true`` left out."""
    attributes, keyed = _split(subtags, lambda subtag: len(subtag) == 2)
    found: dict[str, list[str]] = {}
    for key, values in keyed:
        found.setdefault(key, _value("u", key, values))
    tail = [subtag for key in sorted(found) for subtag in (key, *found[key])]
    return (*sorted(set(attributes)), *tail)


def _value(singleton: str, key: str, values: list[str]) -> list[str]:
    joined = "-".join(values)
    joined = table("extensions")["types"].get(f"{singleton} {key} {joined}", joined)
    if singleton == "u" and key in ("rg", "sd"):
        joined = _subdivision(joined)
    if singleton == "u" and joined == "true":
        return []
    return joined.split("-") if joined else []


def _subdivision(code: str) -> str:
    """A subdivision's heir, the first of several; a region that takes its place is written as a whole (``zzzz``)."""
    heir = (table("aliases")["subdivision"].get(code) or code).split()[0]
    return f"{heir.lower()}zzzz" if len(heir) == 2 and heir != code else heir


def _transformed(subtags: tuple[str, ...]) -> tuple[str, ...]:
    """UTS 35 section 3.7: the source's tag in canonical form and lower case, then the fields in alphabetical order."""
    head, keyed = _split(subtags, lambda subtag: len(subtag) == 2 and subtag[0].isalpha() and subtag[1].isdigit())
    source: list[str] = []
    if head:
        try:
            source = str(canonical(parse("-".join(head)))).lower().split("-")
        except TagError:
            source = head
    fields = sorted((key, _value("t", key, values)) for key, values in keyed)
    return (*source, *(subtag for key, values in fields for subtag in (key, *values)))
