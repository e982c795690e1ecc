"""Where in a path a locale may stand: as a tag, in words, or both in a folder's and a file's name."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import lru_cache
from typing import Literal, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.structured import suffix_of
from lemmar.tags import LanguageTag, android_variant, read_spelling

#: Folders in which catalogs live; elsewhere code is not taken for one, and one file alone is none.
_HOMES = expression(
    r"(?:.*[-_.])?(?:locales?|localization|i18n|l10n|lang|langs|languages?|translations?|messages|intl|texts?|words|strings|resources?|res|nls"
    r"|tongues?|dictionar(?:y|ies)|po|LC_MESSAGES)",
    re.IGNORECASE,
)
_TOKEN = expression(r"[A-Za-z]{2,3}(?:[-_](?:r?[A-Za-z]{2,4}|[0-9]{3}))*(?:@[a-z]+)?|b\+[A-Za-z0-9+]+")
_ANY = expression(r"[a-z]{2,3}(?:[-_@][A-Za-z0-9]{2,8})*")
_JOINED = expression(r"([a-z]{2,3})([A-Z][a-z]{3})?([A-Z][A-Za-z])?")
_NAME_AND_REGION = expression(r"([A-Za-z]{4,})[-_ ]([A-Za-z]{2})")
#: Names of the file that has the source's texts, where no locale is in it.
SOURCE_NAMES = expression(r"(?:default|source|base|template|original|main|master|root|dev|strings|messages|texts)", re.IGNORECASE)
_SIGN = expression("[-_.]")
#: Three-letter languages that software is really translated into; other such words are names of something else.
_THREE = frozenset(
    {
        *("ast", "bal", "bho", "brx", "ceb", "chr", "ckb", "csb", "dsb", "fil", "fur", "gsw", "haw", "hsb", "kab", "kok", "lij", "mai"),
        *(
            "mni",
            "nqo",
            "nso",
            "pap",
            "sah",
            "sat",
            "scn",
            "szl",
            "tlh",
            "tzm",
            "vec",
            "yue",
            "zgh",
            "ace",
            "arn",
            "awa",
            "bcc",
            "bqi",
            "cgg",
        ),
        *("crh", "frp", "gom", "hne", "hrx", "jbo", "kmr", "lzh", "mag", "nan", "nds", "pcm", "rue", "sco", "shn", "tok", "wuu", "zza"),
    }
)
#: Usual names of folders and files that are tags of small languages as well.
_WORDS = frozenset(
    {
        *(
            "src",
            "lib",
            "app",
            "bin",
            "doc",
            "css",
            "img",
            "web",
            "api",
            "pkg",
            "cmd",
            "etc",
            "var",
            "tmp",
            "opt",
            "usr",
            "out",
            "log",
            "sys",
        ),
        *(
            "net",
            "com",
            "org",
            "gui",
            "cli",
            "sdk",
            "www",
            "dev",
            "new",
            "old",
            "all",
            "tab",
            "map",
            "gen",
            "ext",
            "inc",
            "obj",
            "mac",
            "win",
        ),
        *("min", "max", "key", "nav", "end", "set", "get", "run", "env", "dat", "ini", "mod", "msg", "ui", "db", "js", "ts", "kit", "hut"),
    }
)
Kind = Literal["tag", "word", "joined", "rare"]


class Slot(NamedTuple):
    """A path with the locale cut out: *folder* is the fixed part above it, *template* the pattern from there, *token* what was cut and what
    it names, *kind* how: ``rare`` are tags that are valid and yet more likely something else, by themselves.
    """

    folder: str
    template: str
    token: str
    tag: LanguageTag
    kind: Kind


def is_home(file: str) -> bool:
    """Whether a file lies where catalogs live."""
    return _in_home(file.rpartition("/")[0])


@lru_cache(maxsize=1 << 14)
def _in_home(folder: str) -> bool:
    parts = folder.split("/")
    return any(_HOMES.fullmatch(part) or part.endswith(".lproj") or part == "values" or part.startswith("values-") for part in parts)


@lru_cache(maxsize=1 << 14)
def names_home(folder: str) -> bool:
    """Whether the last name of *folder* is one of those where catalogs live."""
    return bool(_HOMES.fullmatch(folder.rpartition("/")[2]))


@lru_cache(maxsize=1 << 14)
def locale_of(token: str) -> LanguageTag | None:
    """The locale that a piece of a path names, in whatever spelling; None where it is more likely something else."""
    if not _TOKEN.fullmatch(token):
        return None
    for spelling in ("auto", "posix", "android", "java"):
        tag = read_spelling(token, spelling)
        if tag is not None:
            break
    else:
        return None
    if tag.region and tag.region.lower() == tag.language and not tag.valid:  # a language's code twice
        tag = tag._replace(region=None)
    if not tag.valid or (len(tag.language) == 3 and tag.language not in _THREE) or len(tag.language) > 3 or tag.variants:
        return None
    return tag


@lru_cache(maxsize=1 << 12)
def locale_in_words(token: str) -> LanguageTag | None:
    """The locale that a piece of a path names by a language's name."""
    if len(token) < 4 or not token[0].isalpha():
        return None
    tag = read_spelling(token, "name")
    parts = _NAME_AND_REGION.fullmatch(token) if tag is None else None
    if parts is not None:  # portuguese-br
        named = read_spelling(parts[1], "name")
        tag = read_spelling(f"{named.language}-{parts[2].upper()}", "bcp47") if named is not None and not named.region else None
        tag = tag if tag is not None and tag.valid else None
    return tag if tag is not None and (len(tag.language) == 2 or tag.language in _THREE) else None


@lru_cache(maxsize=1 << 12)
def locale_joined(token: str) -> LanguageTag | None:
    """The locale that a piece of a path names with nothing between its subtags: ``deDE``, ``zhHansCN``."""
    match = _JOINED.fullmatch(token)
    if not match or not (match[2] or match[3]):
        return None
    tag = read_spelling("-".join(filter(None, match.groups())), "bcp47")
    return tag if tag is not None and tag.valid and (len(tag.language) == 2 or tag.language in _THREE) else None


@lru_cache(maxsize=1 << 12)
def rare_locale(token: str) -> LanguageTag | None:
    """The locale that a piece of a path names where those beside it are locales too: of any language, with variants (``ca@valencia``)."""
    if token in _WORDS or not _ANY.fullmatch(token):
        return None
    tag = read_spelling(token, "auto") or read_spelling(token, "posix") or read_spelling(token, "java")
    return tag if tag is not None and tag.valid else None


@lru_cache(maxsize=1 << 14)
def _named(token: str) -> tuple[LanguageTag, Kind] | None:
    tag = locale_of(token)
    if tag is not None:
        return tag, "tag"
    tag = locale_joined(token)
    if tag is not None:
        return tag, "joined"
    tag = locale_in_words(token)
    if tag is not None:
        return tag, "word"
    tag = rare_locale(token)
    return (tag, "rare") if tag is not None else None


def slots(file: str) -> Iterator[Slot]:
    """Each way to see a locale in a path, the most telling first."""
    folder, _, name = file.rpartition("/")
    naming = _naming(folder)
    if naming:
        parts, suffix = file.split("/"), suffix_of(file)
        for index in naming:
            yield from _in_folder("/".join(parts[:index]), parts[index], "/".join(parts[index + 1 :]), suffix)
    for slot in _in_name(name):
        yield slot._replace(folder=folder) if folder else slot


@lru_cache(maxsize=1 << 16)
def _in_name(name: str) -> tuple[Slot, ...]:
    return tuple(_slots_in(name))


def _slots_in(name: str) -> Iterator[Slot]:
    """Each way to see a locale in the name of a file; the folder is empty."""
    folder, suffix = "", suffix_of(name)
    stem = name[: len(name) - len(suffix)] if suffix else name
    whole = _named(stem)
    if whole is not None:
        yield Slot(folder, f"{{locale}}{suffix}", stem, *whole)
        if whole[1] != "rare":
            return
    signs = list(_SIGN.finditer(stem))
    for match in signs:
        found = _named(stem[match.end() :])
        if match.start() and found is not None and (found[1] != "rare" or not _SIGN.search(stem, match.end())):
            yield Slot(folder, f"{stem[: match.end()]}{{locale}}{suffix}", stem[match.end() :], *found)
            return
    for match in reversed(signs):
        found = _named(stem[: match.start()])
        if stem[match.end() :] and found is not None and found[1] != "rare":
            yield Slot(folder, f"{{locale}}{stem[match.start() :]}{suffix}", stem[: match.start()], *found)
            return


@lru_cache(maxsize=1 << 12)
def _naming(folder: str) -> tuple[int, ...]:
    """Which of the names in the path of *folder* may name a locale, the last first."""
    parts = folder.split("/")
    return tuple(index for index in range(len(parts) - 1, -1, -1) if parts[index] and _may_name(parts[index]))


@lru_cache(maxsize=1 << 14)
def _may_name(name: str) -> bool:
    """Whether a folder's name may name a locale."""
    return name.endswith(".lproj") or name.startswith("values-") or _named(name) is not None


def _in_folder(above: str, name: str, below: str, suffix: str) -> Iterator[Slot]:
    if name.endswith(".lproj"):
        token = name.removesuffix(".lproj")
        tag = read_spelling(token, "lproj")
        if token != "Base" and tag is not None and tag.valid:
            yield Slot(above, f"{{locale}}.lproj/{_again(below, token, suffix)}", token, tag, "tag")
    elif name.startswith("values-"):
        token = name.removeprefix("values-")
        tag = read_spelling(token, "android")
        if tag is not None and tag.valid and not android_variant(token):
            yield Slot(above, f"values[-{{locale}}]/{_again(below, token, suffix, optional=True)}", token, tag, "tag")
    else:
        found = _named(name)
        if found is not None and (found[1] != "word" or "/" not in below):
            yield Slot(above, f"{{locale}}/{_again(below, name, suffix)}", name, *found)


def _again(below: str, token: str, suffix: str, optional: bool = False) -> str:
    """*below* with the locale cut out of the file's name as well, where it stands there in the same way."""
    stem = below[: len(below) - len(suffix)] if suffix else below
    head, sign = stem[: -len(token) - 1], stem[-len(token) - 1 : -len(token)]
    if stem.endswith(token) and head and not head.endswith("/") and sign in ("-", "_", "."):
        return f"{head}[{sign}{{locale}}]{suffix}" if optional else f"{head}{sign}{{locale}}{suffix}"
    name = stem.rpartition("/")[2]
    return f"{stem[: len(stem) - len(name)]}{{locale}}{suffix}" if name == token else below


# A request that a file's name is a copy which somebody keeps beside the real one.
