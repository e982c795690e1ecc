"""The grammar of language tags: RFC 5646 section 2.1, to the letter.

Well-formedness only: whether a subtag is registered is not asked here. `lemmar.tags.language_tag` adds what CLDR and the registry know.
"""

from __future__ import annotations

import re
from collections import namedtuple

from lemmar.basics.expressions import expression

# The module `typing` would take half of the package's time to load.
TYPE_CHECKING = False
if TYPE_CHECKING:
    from typing import NamedTuple

    class _Fields(NamedTuple):
        language: str
        extlangs: tuple[str, ...] = ()
        script: str | None = None
        region: str | None = None
        variants: tuple[str, ...] = ()
        extensions: tuple[tuple[str, tuple[str, ...]], ...] = ()
        private_use: tuple[str, ...] = ()
else:
    _Fields = namedtuple(
        "_Fields", "language extlangs script region variants extensions private_use", defaults=((), None, None, (), (), ())
    )

# RFC 5646 section 2.1, "irregular" and "regular", in the case of section 2.1.1.
GRANDFATHERED = {
    tag.lower(): tag
    for tag in [
        "en-GB-oed",
        "i-ami",
        "i-bnn",
        "i-default",
        "i-enochian",
        "i-hak",
        "i-klingon",
        "i-lux",
        "i-mingo",
        "i-navajo",
        "i-pwn",
        "i-tao",
        "i-tay",
        "i-tsu",
        "sgn-BE-FR",
        "sgn-BE-NL",
        "sgn-CH-DE",
        "art-lojban",
        "cel-gaulish",
        "no-bok",
        "no-nyn",
        "zh-guoyu",
        "zh-hakka",
        "zh-min",
        "zh-min-nan",
        "zh-xiang",
    ]
}

# Most tags: a language, maybe a script, maybe a region.
_SHORT = expression(r"([A-Za-z]{2,3})(?:-([A-Za-z]{4}))?(?:-([A-Za-z]{2}|[0-9]{3}))?\Z")
_ALPHANUM = expression(r"[A-Za-z0-9]{1,8}\Z")
_LETTERS = expression(r"[A-Za-z]+\Z")
_EXTLANG = expression(r"[A-Za-z]{3}\Z")
_SCRIPT = expression(r"[A-Za-z]{4}\Z")
_REGION = expression(r"(?:[A-Za-z]{2}|[0-9]{3})\Z")
_VARIANT = expression(r"(?:[A-Za-z0-9]{5,8}|[0-9][A-Za-z0-9]{3})\Z")


class TagError(ValueError):
    """A text that is no language tag.

    *position* is the 0-based index of the offending character, *expected* what the grammar allows there.
    """

    def __init__(self, text: str, position: int, expected: str) -> None:
        super().__init__(text, position, expected)
        self.text = text
        self.position = position
        self.expected = expected

    def __str__(self) -> str:
        return f"{self.text!r} is not a language tag: expected {self.expected} at character {self.position + 1}"


class Subtags(_Fields):
    """The subtags of a well-formed language tag, in the case of RFC 5646 section 2.1.1.

    *extensions* pairs each singleton with its subtags, in the order written; *private_use* holds the subtags after
    ``x``. A tag of private use alone has the language ``""``; a grandfathered tag stands whole in *language*.
    """

    __slots__ = ()

    def __str__(self) -> str:
        parts = [self.language] if self.language else []
        parts += self.extlangs
        parts += [subtag for subtag in (self.script, self.region) if subtag]
        parts += self.variants
        for singleton, subtags in self.extensions:
            parts += (singleton, *subtags)
        if self.private_use:
            parts += ("x", *self.private_use)
        return "-".join(parts)


def parse(text: str) -> Subtags:
    """The tag that *text* writes, in any case; hyphens only, ASCII only.

    Raises:
        TagError: *text* does not match the grammar.
    """
    short = _SHORT.match(text)
    if short:
        language, script, region = short.groups()
        return Subtags(language.lower(), (), script and script.title(), region and region.upper())
    known = GRANDFATHERED.get(text.lower()) if text.isascii() else None
    return Subtags(known) if known else _Reader(text).tag()


class _Reader:
    """Takes one subtag after the other; knows where in the text it stands."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.subtags = text.split("-")
        self.index = 0
        self.position = 0
        for subtag in self.subtags:
            if not _ALPHANUM.match(subtag):
                self.fail(_fault_in(subtag), "a subtag of 1 to 8 ASCII letters and digits")
            self.position += len(subtag) + 1
        self.position = 0

    def fail(self, ahead: int, expected: str) -> None:
        raise TagError(self.text, min(self.position + ahead, len(self.text)), expected)

    def take(self, grammar: re.Pattern[str]) -> str | None:
        """The next subtag if it matches, else None."""
        if self.index < len(self.subtags) and grammar.match(self.subtags[self.index]):
            return self.next()
        return None

    def next(self) -> str:
        subtag = self.subtags[self.index]
        self.index += 1
        self.position += len(subtag) + 1
        return subtag

    def tag(self) -> Subtags:
        if self.subtags[0].lower() == "x":
            return Subtags("", private_use=self.private_use())
        language = self.take(_LETTERS)
        if language is None or len(language) < 2:
            self.position = 0
            self.fail(0, "a language of 2 to 8 letters")
        assert language is not None
        extlangs: list[str] = []
        while len(language) < 4 and len(extlangs) < 3 and (extlang := self.take(_EXTLANG)):
            extlangs.append(extlang.lower())
        script = self.take(_SCRIPT)
        region = self.take(_REGION)
        variants: list[str] = []
        while variant := self.take(_VARIANT):
            variants.append(variant.lower())
        extensions = self.extensions()
        private_use = self.private_use() if self.at("x") else ()
        if self.index < len(self.subtags):
            self.fail(0, _expected(script, region, variants, extensions))
        return Subtags(
            language.lower(),
            tuple(extlangs),
            script.title() if script else None,
            region.upper() if region else None,
            tuple(variants),
            extensions,
            private_use,
        )

    def at(self, singleton: str) -> bool:
        return self.index < len(self.subtags) and self.subtags[self.index].lower() == singleton

    def extensions(self) -> tuple[tuple[str, tuple[str, ...]], ...]:
        found = []
        while self.index < len(self.subtags) and len(self.subtags[self.index]) == 1 and not self.at("x"):
            singleton = self.next().lower()
            subtags = []
            while self.index < len(self.subtags) and len(self.subtags[self.index]) > 1:
                subtags.append(self.next().lower())
            if not subtags:
                self.fail(0, f"a subtag of 2 to 8 letters and digits after the singleton {singleton!r}")
            found.append((singleton, tuple(subtags)))
        return tuple(found)

    def private_use(self) -> tuple[str, ...]:
        self.next()
        subtags = tuple(subtag.lower() for subtag in self.subtags[self.index :])
        if not subtags:
            self.fail(0, "a subtag of private use after 'x'")
        self.index = len(self.subtags)
        return subtags


def _fault_in(subtag: str) -> int:
    """Index of the first character that no subtag may have there."""
    for index, character in enumerate(subtag):
        if not (character.isascii() and character.isalnum()):
            return index
    return min(len(subtag), 8)


def _expected(script: str | None, region: str | None, variants: list[str], extensions: tuple[object, ...]) -> str:
    if extensions:
        return "an extension or private use"
    if variants:
        return "a variant, an extension or private use"
    if region:
        return "a variant of 5 to 8 letters and digits, an extension or private use"
    return "a region, a variant, an extension or private use" if script else "a script, a region, a variant, an extension or private use"
