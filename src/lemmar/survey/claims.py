"""Finds where a client states its locales: lists of tags in code, settings, manifests and pages, held against its catalogs.

A claim is kept only where the audit, reading it by its selector, would see what was seen here. Nothing is run.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from collections.abc import Set as AbstractSet
from functools import cache
from typing import Any

import msgspec

from lemmar import languages, selectors
from lemmar.basics.errors import IncompleteError
from lemmar.basics.expressions import expression
from lemmar.charter.types import ClaimEntry
from lemmar.documents.structured import suffix_of
from lemmar.inventory.claims import Known, read_claim
from lemmar.inventory.locales import Speller
from lemmar.survey.claims_in_code import claims_in_code
from lemmar.survey.claims_in_documents import (
    DOCUMENTS,
    claims_in_document,
    claims_in_known_forms,
    claims_in_lines,
    claims_in_xml,
    is_settings,
)
from lemmar.survey.contents import Contents
from lemmar.survey.draft import DraftClaim
from lemmar.survey.listing import CHAIN, Lists
from lemmar.tags import Tag
from lemmar.trees import File

_MOST_BYTES = 512 * 1024
_NOT_IN = expression(
    r"(?:^|/)(?:(?:build|dist|coverage|changelogs?|\.github|\.gitlab)(?:/|$)|CHANGE|README|AUTHORS|CREDITS)", re.IGNORECASE
)
_NOT_NAMED = expression(r"(?:CHANGE|README|AUTHORS|CREDITS)|.*[._-](?:test|spec|min)\.\w+$", re.IGNORECASE)
_LOCKED = expression(r"(?:package-lock|composer|yarn|pnpm-lock|poetry|Podfile|Package)\.(?:json|lock|yaml|resolved)$")
# A request or what the browser prefers, cut at its hyphen or underscore, or after two letters.
_CUT = expression(
    rb"(?:navigator\.language|[Ll]ocale|[Ll]ang(?:uage)?|[Cc]ulture|[Tt]ongue|accept[_-]?language)[\w.()]{0,24}"
    rb"(?:\.split\([\"'][-_][\"']\)\[0\]|\.(?:substring|substr|slice|Substring)\(0, ?2\)|\[:2\]|\.TwoLetterISOLanguageName)"
)
_QUOTED = expression(rb"[\"'`>:;, {(\[\n\t|]([a-z]{2,3})(?:[-_][A-Za-z]{2,4}){0,2}(?=[\"'`<;, :)\]}|])")

#: So many maps with locales for keys in one file are texts, each in all languages.
_TEXTS = 6
# All that is no letter or digit as a blank, so that what is left are words.
_TO_BLANKS = bytes(code if chr(code).isalnum() and code < 128 else 32 for code in range(256))


@cache
def _listing() -> frozenset[str]:
    """The suffixes of files in which selectors know of lists."""
    return frozenset(suffix for selector in selectors.every() for suffix in selector.lists_in)


@cache
def _may_claim(suffix: str) -> bool:
    """Whether a file of that suffix may claim something, whatever its name."""
    return suffix in DOCUMENTS or suffix in _listing() or languages.load(suffix) is not None or suffix in _XML


def _likely(files: Iterable[File], root: str) -> Iterator[File]:
    """Those of *files* under *root* whose names say that they may claim something."""
    folders: dict[str, bool] = {}
    for file in files:
        folder, _, name = file.rpartition("/")
        here = folders.get(folder)
        if here is None:
            here = folders[folder] = not _NOT_IN.search(folder[len(root) :])
        if here and (_may_claim(suffix_of(file)) or is_settings(file)) and not _NOT_NAMED.match(name) and not _LOCKED.match(name):
            yield file


class ClaimFinder:
    """Finds the claims in *files* of a client under *root*, which has catalogs of *locales*; what could not be looked at is in *unfinished*,
    where code cuts requests in *cuts*.
    """

    def __init__(
        self,
        contents: Contents,
        root: str,
        files: Iterable[File],
        locales: Sequence[Tag],
        catalogs: frozenset[str],
        platform: str | None = None,
    ) -> None:
        self.contents = contents
        self.unfinished: list[str] = []
        self.root = root
        self.files = [file for file in _likely(files, root) if file not in catalogs]
        self.lists = Lists(root, locales, platform)
        self._words = self.lists.names | self.lists.languages | _WORDS_OF_CUTS
        self.cuts: list[tuple[str, str]] = []

    def found(self) -> list[DraftClaim]:
        """The claims, the surest of each kind first."""
        claims: list[DraftClaim] = []
        for file in self.files:
            suffix = suffix_of(file)
            data = self.contents.data(file)
            if data is None or len(data) > _MOST_BYTES:
                continue
            words = self._words.intersection(data.translate(_TO_BLANKS).split())
            if suffix == ".py" or not _WORDS_OF_CUTS.isdisjoint(words):
                self._look_for_cuts(file, data, suffix)
            if not self._worth_parsing(file, data, suffix, words):
                continue
            try:
                claims += self._surest(self._claims(file, data, suffix))
            except IncompleteError as error:
                self.unfinished.append(f"{file}: {error}")
        return _chosen(claims)

    def _worth_parsing(self, file: File, data: bytes, suffix: str, words: AbstractSet[bytes]) -> bool:
        """A cheap look: many of the client's languages, or of their names, must be among its *words*; few, in a file of fallbacks."""
        if not words:
            return False
        lists = self.lists
        enough = 1 if suffix in DOCUMENTS and CHAIN.search(file.rpartition("/")[2]) else max(2, len(lists.languages) * 0.4)
        if len(words) < enough:
            return False
        if len(words & lists.names) >= enough:
            return True
        found = words & lists.languages
        if len(found) >= enough and languages.load(suffix) is not None:  # prose has such words, too: as literals they stand between signs
            found = lists.languages.intersection(_QUOTED.findall(data))
        return len(found) >= enough

    def _claims(self, file: File, data: bytes, suffix: str) -> list[DraftClaim]:
        if suffix in DOCUMENTS:
            return claims_in_document(self.lists, file, data, suffix)
        known = list(claims_in_known_forms(self.lists, file, data, suffix))
        if known:
            return known
        if languages.load(suffix) is not None and not (suffix == ".inc" and not data.lstrip().startswith(b"<")):
            claims = claims_in_code(self.lists, file, data, suffix)
            return claims or (list(claims_in_lines(self.lists, file, data)) if is_settings(file) else [])
        if data.lstrip(b"\xef\xbb\xbf \t\r\n")[:1] == b"<":
            return list(claims_in_xml(self.lists, file, data)) if suffix not in (".html", ".htm") else []
        return list(claims_in_lines(self.lists, file, data)) if is_settings(file) else []

    def _surest(self, claims: Sequence[DraftClaim]) -> Iterator[DraftClaim]:
        """Of one file's *claims* the surest of each kind that the audit reads so as well."""
        found: set[str] = set()
        if sum(claim.settings.get("take") == "keys" for claim in claims) >= _TEXTS:
            claims = [claim for claim in claims if claim.settings.get("take") != "keys"]
        for claim in sorted(claims, key=lambda claim: -claim.confidence):
            if claim.states not in found and self._reads_back(claim):
                found.add(claim.states)
                yield claim

    def _reads_back(self, claim: DraftClaim) -> bool:
        """Whether the audit sees in the place what was seen here, and nothing else: a call that is repeated for other things, say, is none."""
        settings: dict[str, Any] = dict(claim.settings)
        entry = msgspec.convert(settings, ClaimEntry)
        read = read_claim(self.contents.tree, entry, self.root, Speller(entry.spelling or self.lists.spelling, entry.spelled), Known())
        tags = [named.tag for named in read.entries]
        if read.defects or read.unfinished or not tags or None in tags:
            return False
        return claim.states == "chain" or {str(tag) for tag in tags} == set(claim.locales)

    def _look_for_cuts(self, file: File, data: bytes, suffix: str) -> None:
        """Keeps in *cuts* where code cuts a user's request to its language: the place, and the code."""
        if languages.load(suffix) is None or not any(sign in data for sign in _SIGNS_OF_CUTS):
            return
        match = _CUT.search(data)
        if match:
            self.cuts.append((f"{file}:{data.count(bytes([10]), 0, match.start()) + 1}", match.group().decode("utf-8", "replace")))


_WORDS_OF_CUTS = frozenset({b"split", b"substring", b"substr", b"slice", b"Substring", b"TwoLetterISOLanguageName"})
_SIGNS_OF_CUTS = (b")[0]", b"(0, 2)", b"(0,2)", b"[:2]", b"TwoLetterISOLanguageName")
_XML = (
    ".xml",
    ".config",
    ".props",
    ".targets",
    ".csproj",
    ".vbproj",
    ".manifest",
    ".storyboard",
    ".xaml",
    ".axaml",
    ".vcxproj",
    ".wxs",
    ".svg",
)


def _chosen(claims: list[DraftClaim]) -> list[DraftClaim]:
    """*claims*, of which there is one of a kind a file, in their order; without the unsure ones beside sure ones."""
    best = {(claim.states, claim.settings["file"]): claim for claim in claims}
    surest = max((claim.confidence for claim in best.values() if claim.states in ("supported", "offered")), default=0)
    if surest >= 0.85:  # beside a whole list one with half of it says something else
        best = {key: claim for key, claim in best.items() if claim.confidence > 0.6 or claim.states not in ("supported", "offered")}
    order = {"supported": 0, "source": 1, "default": 2, "chain": 3, "offered": 4, "routed": 5}
    kept = sorted(best.values(), key=lambda claim: (order[claim.states], bool(claim.doubts), -claim.confidence, claim.place))
    seen: set[str] = set()
    result = []
    for claim in kept:
        if claim.states in ("default", "source", "chain"):
            if claim.states in seen:
                continue
            seen.add(claim.states)
        result.append(claim)
    return result
