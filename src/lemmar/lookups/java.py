"""``java``: the candidates that Java's resource bundles try, in Java's order even before the exact request.

Source: the documentation of ``ResourceBundle.Control.getCandidateLocales``: Chinese scripts and regions both ways, ``no``, ``nb``, ``nn``, old
codes after the new.
"""

from __future__ import annotations

from lemmar.lookups._lookup import Lookup, by_forms, parsed

_OLD = {"he": "iw", "yi": "ji", "id": "in"}
_NEW = {old: new for new, old in _OLD.items()}
_CHINESE = {"TW": "Hant", "HK": "Hant", "MO": "Hant", "CN": "Hans", "SG": "Hans"}


def forms(request: str) -> list[str]:
    """The locales that Java's resource bundles try for *request*, as tags, without the root; old codes after the new."""
    tag = parsed(request)
    if tag is None or not tag.language:
        return [request]
    own = tag.extlangs[0] if tag.extlangs else tag.language  # zh-yue is yue
    language, script, region = _NEW.get(own, own), tag.script or "", tag.region or ""
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


LOOKUP = Lookup(
    "java",
    "the candidates of Java's resource bundles",
    forms,
    by_forms(forms, "a candidate of the resource bundles"),
    False,
    candidates=True,
)
