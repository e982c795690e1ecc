"""How platforms write locales: one reader and one writer for each spelling.

Sources: BCP 47 for ``bcp47``; IEEE Std 1003.1 section 8.2 and the modifiers in use for ``posix``; the documentation of
``java.util.Locale.toString`` for ``java``; of resource qualifiers for ``android``; of localized resource folders for
``lproj``; of culture names for ``dotnet``.
``name`` is a name in words (`lemmar.tags.naming`). ``auto`` is every one of them but ``name``, where the text can be read
in one way only.
"""

from __future__ import annotations

import re
from functools import lru_cache

from lemmar.tags.grammar import TagError
from lemmar.tags.language_tag import LanguageTag

TYPE_CHECKING = False
if TYPE_CHECKING:
    from collections.abc import Callable

SPELLINGS = ("bcp47", "posix", "java", "android", "lproj", "dotnet", "name")


class _Late:
    """An expression that is compiled when it is first used: most runs meet one or two of the spellings."""

    def __init__(self, expression: str, flags: int = 0) -> None:
        self._arguments = (expression, flags)
        self._compiled: re.Pattern[str] | None = None

    def match(self, text: str) -> re.Match[str] | None:
        if self._compiled is None:
            self._compiled = re.compile(*self._arguments)
        return self._compiled.match(text)


_POSIX = _Late(r"([A-Za-z]{2,3})(?:_([A-Za-z]{4}))?(?:_([A-Za-z]{2}|[0-9]{3}))?(?:\.[A-Za-z0-9_-]+)?(?:@([A-Za-z0-9]+))?\Z")
_POSIX_SCRIPTS = {
    "latin": "Latn", "cyrillic": "Cyrl", "arabic": "Arab", "devanagari": "Deva", "hans": "Hans", "hant": "Hant",
    "mongolian": "Mong", "hebrew": "Hebr", "tifinagh": "Tfng", "iqtelif": "Latn",
    "shaw": "Shaw",
}  # fmt: skip
_JAVA_OLD = {"iw": "he", "in": "id", "ji": "yi"}
_JAVA_NEW = {"he": "iw", "id": "in", "yi": "ji"}
_ANDROID_OLD = {**_JAVA_OLD, "tl": "fil"}
_LPROJ_NAMES = {
    "english": "en", "french": "fr", "german": "de", "italian": "it", "spanish": "es", "japanese": "ja", "dutch": "nl",
    "portuguese": "pt", "swedish": "sv", "danish": "da", "norwegian": "nb", "finnish": "fi", "russian": "ru",
    "polish": "pl", "czech": "cs", "hungarian": "hu", "turkish": "tr", "korean": "ko", "arabic": "ar", "greek": "el",
}  # fmt: skip
_DOTNET_OLD = {"zh-chs": "zh-Hans", "zh-cht": "zh-Hant"}
# Resource qualifiers that look like a language but are none.
_NO_LANGUAGE = {"car", "any"}
_NO_HEADERS = {"key", "id", "max", "min", "nr", "no", "use", "tag", "url", "row", "len"}
_ANDROID_REGION = _Late(r"r([A-Za-z]{2}|[0-9]{3})\Z")
_ANDROID_BEFORE = _Late(r"(?:mcc[0-9]{3}|mnc[0-9]{1,3})\Z", re.IGNORECASE)
_ANDROID_AFTER = _Late(
    r"(?:ld(?:rtl|ltr)|sw[0-9]+dp|[wh][0-9]+dp|small|normal|large|xlarge|(?:not)?long|(?:not)?round|(?:no)?widecg|(?:high|low)dr|"
    r"port|land|square|car|desk|television|appliance|watch|vrheadset|(?:not)?night|[a-z]*dpi|(?:no)?touch|notouch|finger|stylus|"
    r"keys(?:exposed|hidden|soft)|nokeys|qwerty|12key|nav(?:exposed|hidden)|nonav|dpad|trackball|wheel|[0-9]+x[0-9]+|v[0-9]+|"
    r"(?:feminine|masculine|neuter))\Z",
    re.IGNORECASE,
)


_LONGEST = 60


@lru_cache(maxsize=1 << 14)
def read_spelling(text: str, spelling: str) -> LanguageTag | None:
    """The locale that *text* writes in *spelling*, or None where it writes none.

    In ``android`` *text* is what follows the first hyphen of the folder's name (``zh-rTW`` of ``values-zh-rTW``), other
    qualifiers around it. ``auto`` reads what every spelling that can read it reads alike.

    Raises:
        KeyError: there is no such spelling.
    """
    found = _read(text, spelling)
    return found if found is None or len(found.language) < 4 or not found.language.isalpha() else None  # no language has so long a subtag


def _read(text: str, spelling: str) -> LanguageTag | None:
    if spelling == "auto":
        readings = set(spelling_candidates(text).values())
        return readings.pop() if len(readings) == 1 else None
    return _READERS[spelling](text)


def spelling_candidates(text: str) -> dict[str, LanguageTag]:
    """Each spelling but ``name`` that can read *text*, with what it reads."""
    found = {spelling: _READERS[spelling](text) for spelling in SPELLINGS if spelling != "name"}
    return {spelling: tag for spelling, tag in found.items() if tag is not None and (len(tag.language) < 4 or "-" in tag.language)}


def looks_like_locale(text: str) -> bool:
    """Whether a word that may be anything, such as a header, looks like a locale: its language has two or three letters."""
    if " " in text or len(text) > _LONGEST:
        return False
    return any(2 <= len(tag.language) <= 3 for tag in spelling_candidates(text).values()) and text.lower() not in _NO_HEADERS


def write_spelling(tag: LanguageTag, spelling: str) -> str:
    """*tag* as *spelling* writes it; what a spelling has no way to write is left out.

    Raises:
        KeyError: there is no such spelling.
    """
    return _WRITERS["bcp47" if spelling == "auto" else spelling](tag)


def _parse(text: str) -> LanguageTag | None:
    try:
        return LanguageTag.parse(text)
    except TagError:
        return None


def _read_lproj(text: str) -> LanguageTag | None:
    name = _LPROJ_NAMES.get(text.lower())
    tag = _parse(name or text.replace("_", "-"))
    if tag is not None and len(tag.language) < 4:
        return tag
    return _read_name(text) if text[:1].isupper() and not re.search(r"[-_]", text) else None  # `Base`, `Preview` are no languages


def _read_dotnet(text: str) -> LanguageTag | None:
    """Culture names; in those of old versions the script may stand last (``az-AZ-Latn``), and Serbia is ``CS`` or ``SP``."""
    old = re.fullmatch(r"([a-z]{2,3})-([A-Z]{2})-(Latn|Cyrl|Arab)", text)
    tag = _parse(f"{old.group(1)}-{old.group(3)}-{old.group(2)}" if old else _DOTNET_OLD.get(text.lower(), text))
    return tag._replace(region="RS") if tag and tag.language == "sr" and tag.region in ("CS", "SP") else tag


def _read_posix(text: str) -> LanguageTag | None:
    match = _POSIX.match(text)
    if not match or text in ("C", "POSIX"):
        return None
    language, script, territory, modifier = match.groups()
    language = _JAVA_OLD.get(language.lower(), language)
    variant = None
    if modifier:
        script = _POSIX_SCRIPTS.get(modifier.lower(), modifier if modifier.lower() in ("latn", "cyrl") else script)
        if modifier.lower() not in _POSIX_SCRIPTS and modifier.lower() in _variants():
            variant = modifier
    return _parse("-".join(part for part in (language, script, territory, variant) if part))


def _read_name(text: str) -> LanguageTag | None:
    from lemmar.tags.naming import read_name

    return read_name(text)


def _write_name(tag: LanguageTag) -> str:
    from lemmar.tags.naming import write_name

    return write_name(tag)


def _variants() -> dict[str, list[str]]:
    """The registered variants; other modifiers (``euro``, ``abegede``, ``quot``) say nothing of the language."""
    from lemmar.tags.tables import table

    found: dict[str, list[str]] = table("registry")["variant"]
    return found


def _read_java(text: str) -> LanguageTag | None:
    base, _, tail = text.partition("_#")
    parts = base.split("_")
    script, _, extension = tail.partition("_") if len(tail.partition("_")[0]) == 4 else ("", "", tail)
    if not base or "-" in base:
        return None
    if extension and parts[2:] in (["TH"], ["JP"]):  # `th_TH_TH_#u-nu-thai`: the variant stands for the extension
        parts.pop()
    if parts == ["no", "NO", "NY"]:
        return LanguageTag("nn", region="NO")
    parts[0] = _JAVA_OLD.get(parts[0].lower(), parts[0])
    if script:
        parts.insert(1, script)
    return _parse("-".join(part for part in (*parts, extension) if part))


def _read_android(text: str) -> LanguageTag | None:
    parts = text.split("-")
    while parts and _ANDROID_BEFORE.match(parts[0]):
        parts.pop(0)
    if not parts or not parts[0]:
        return None
    first, *rest = parts
    if first.lower().startswith("b+"):
        tag = _parse(first[2:].replace("+", "-"))
        tag = tag._replace(language=_JAVA_OLD.get(tag.language, tag.language)) if tag is not None else None
    elif re.match(r"[A-Za-z]{2,3}\Z", first) and first.lower() not in _NO_LANGUAGE:
        language = _ANDROID_OLD.get(first.lower(), first)
        region = _ANDROID_REGION.match(rest[0]) if rest else None
        rest = rest[1:] if region else rest
        tag = _parse(f"{language}-{region.group(1)}" if region else language)
    else:
        return None
    return tag if all(_ANDROID_AFTER.match(part) for part in rest) else None


def android_variant(text: str) -> bool:
    """Whether *text*, which follows the first hyphen of a resource folder's name, has qualifiers besides a locale's."""
    parts = text.split("-")
    return any(_ANDROID_BEFORE.match(part) or _ANDROID_AFTER.match(part) or part.lower() == "car" for part in parts)


def _write_posix(tag: LanguageTag) -> str:
    """Chinese is written by a territory that implies the script, as nothing else is in use; other scripts by a modifier."""
    if tag.script in ("Hans", "Hant"):
        whole = tag.maximized()
        if LanguageTag(tag.language, region=whole.region).maximized().script == tag.script:
            return f"{tag.language}_{whole.region}"
    modifier = next((word for word, script in _POSIX_SCRIPTS.items() if script == tag.script), None)
    if tag.variants and not modifier:
        modifier = tag.variants[0]
    base = "_".join(part for part in (tag.language, tag.region) if part)
    return f"{base}@{modifier}" if modifier else base


def _write_java(tag: LanguageTag) -> str:
    language = tag.language  # current runtimes write he, id, yi and still read the old codes
    parts = [language, tag.region or "", "_".join(tag.variants)]
    if tag.script and not tag.variants:
        return f"{language}_{tag.script}" + (f"_{tag.region}" if tag.region else "")
    return "_".join(parts).rstrip("_") + (f"_#{tag.script}" if tag.script else "")


def _write_android(tag: LanguageTag) -> str:
    if tag.script or tag.variants or (tag.region and tag.region.isdigit()):
        return "b+" + "+".join(part for part in (tag.language, tag.script, tag.region, *tag.variants) if part)
    language = _JAVA_NEW.get(tag.language, tag.language)
    return f"{language}-r{tag.region}" if tag.region else language


_READERS: dict[str, Callable[[str], LanguageTag | None]] = {
    "bcp47": _parse,
    "posix": _read_posix,
    "java": _read_java,
    "android": _read_android,
    "lproj": _read_lproj,
    "dotnet": _read_dotnet,
    "name": _read_name,
}
_WRITERS: dict[str, Callable[[LanguageTag], str]] = {
    "bcp47": str,
    "posix": _write_posix,
    "java": _write_java,
    "android": _write_android,
    "lproj": str,
    "dotnet": str,
    "name": _write_name,
}
