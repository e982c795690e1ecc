"""Where a monorepo speaks of locales, as its charter says it: every claim and catalog of every client, each as it can be edited."""

from __future__ import annotations

import posixpath
from collections.abc import Iterator, Sequence
from functools import cached_property
from typing import NamedTuple

from msgspec.structs import replace

from lemmar.auditing.pipeline import WorldAndVerdict, world_and_verdict
from lemmar.basics.phrasing import counted, joined
from lemmar.charter.file import CharterFile, Included
from lemmar.charter.reading import ReadCharter, parsed
from lemmar.charter.types import CatalogEntry, ClientEntry
from lemmar.findings import Finding, Verdict
from lemmar.inventory.gathering import base_of, speller_of
from lemmar.inventory.readings import Readings
from lemmar.resolve.world import Client, World
from lemmar.rules import all_rules
from lemmar.tags import Tag
from lemmar.trees import File
from lemmar.trees.overlay import Walkable
from lemmar.work.catalogs import CatalogPlace
from lemmar.work.changes import Changes, Step
from lemmar.work.charters import CharterText
from lemmar.work.claims import ClaimPlace


class Monorepo:
    """A monorepo that is to be edited: its charter and its world as they are, and the changes so far."""

    def __init__(self, file: CharterFile, tree: Walkable, day: str | None) -> None:
        self.file = file
        self.tree = tree
        self.day = day
        self.read = parsed(file, tuple(all_rules()))
        self.changes = Changes(tree)
        self._readings = Readings()
        self._now: tuple[dict[File, bytes | None], WorldAndVerdict] | None = None

    @cached_property
    def before(self) -> WorldAndVerdict:
        """The world and the verdict as they are: findings are at the beginning of their files. Raises `UsageError`, `IncompleteError`."""
        return world_and_verdict(self.read, self.tree, self.day, self._readings, is_placed=False)

    @property
    def world(self) -> World:
        """The world as it is."""
        return self.before.world

    @property
    def charter_file(self) -> File:
        """The charter, as a file of the tree."""
        return File(self.file.name)

    def charter(self) -> CharterText:
        """The charter's text, as it would be. Raises `EditError`."""
        return CharterText(self.changes.read(self.charter_file).decode("utf-8-sig"))

    def keep(self, charter: CharterText, name: File | None = None) -> None:
        """Lets the charter, or an included file, be so."""
        file = name or self.charter_file
        before = self.changes.read(file)
        mark = b"\xef\xbb\xbf" if before.startswith(b"\xef\xbb\xbf") else b""
        data = mark + charter.text.encode("utf-8")
        if data != before:
            self.changes.put(file, data)

    def claims(self, client: Client, *states: str) -> Iterator[ClaimPlace]:
        """The client's claims of these states that stand in a file."""
        entry = self._entry(client)
        for claim in entry.claim:
            if claim.states in states and claim.file is not None and claim.selector.of_files is None and claim.selector.lay is not None:
                file = File(posixpath.normpath(posixpath.join(base_of(entry), claim.file)))
                speller = speller_of(self.read.charter, claim, entry, client.traits["spelling"].value)
                yield ClaimPlace(file, claim, speller, client.roster)

    def catalogs(self, client: Client) -> Iterator[CatalogPlace]:
        """The client's own catalogs, then those that it shares."""
        entry = self._entry(client)
        charter = self.read.charter
        first = len(charter.catalog)
        for number, catalog in enumerate(entry.catalog):
            yield self._catalog(client, catalog, base_of(entry), first + number, entry)
        for number, catalog in enumerate(charter.catalog):
            if catalog.name in entry.uses:
                yield self._catalog(client, catalog, "", number, None)

    def _catalog(self, client: Client, entry: CatalogEntry, base: str, number: int, owner: ClientEntry | None) -> CatalogPlace:
        spelling = client.traits["spelling"].value if owner is not None else "auto"
        speller = speller_of(self.read.charter, entry, owner, spelling)
        held = tuple(catalog for catalog in client.catalogs if catalog.order == number)
        return CatalogPlace(self.tree, entry, base, speller, held, client.source, client.roster)

    def _entry(self, client: Client) -> ClientEntry:
        return next(entry for entry in self.read.charter.client if entry.name == client.name)

    # ------------------------------------------------------------------------------------------------------------ how it would be

    def read_now(self) -> ReadCharter:
        """The charter as it would be. Raises `CharterError`."""
        included = tuple(Included(each.name, self.changes.read(File(each.name))) for each in self.file.included)
        return parsed(self.file._replace(data=self.changes.read(self.charter_file), included=included), tuple(all_rules()))

    def now(self) -> WorldAndVerdict:
        """The world and the verdict as they would be. Raises `CharterError`, `UsageError`, `IncompleteError`."""
        written = dict(self.changes.written)
        if self._now is None or self._now[0] != written:
            self._now = written, world_and_verdict(self.read_now(), self.changes.tree, self.day, self._readings)
        return self._now[1]


class Outcome(NamedTuple):
    """What the audit says of changes: the findings that are new, those of the edit's own purpose (texts that are still to be written) apart, and how many
    are gone.
    """

    verdict: Verdict
    new: tuple[Finding, ...]
    purpose: tuple[Finding, ...]
    gone: int


#: What a locale without texts is bound to lack.
_PURPOSE = frozenset({"message.missing", "catalog.below-threshold"})
#: What comes with it: where no text was missing before, it did not matter what a missing one shows.
_WITH_IT = frozenset({"chain.unstated"})


def outcome(monorepo: Monorepo, locale: Tag, was: Tag | None = None) -> Outcome:
    """What the audit says of the changes; missing texts of *locale*, which was called otherwise before where *was* is given, are what they are for.

    Raises:
        LemmarError: it could not be made.
    """
    before, after = monorepo.before.verdict, monorepo.now().verdict

    def name(finding: Finding) -> object:
        if was is None:
            return finding.fingerprint
        subject = finding.subject
        return finding.rule, replace(subject, locale=locale if subject.locale == was else subject.locale)

    known = {name(finding) for finding in before.findings}
    now = {name(finding) for finding in after.findings}
    new = [finding for finding in after.findings if name(finding) not in known and finding.waiver is None]
    purpose = [finding for finding in new if finding.rule in _PURPOSE and finding.subject.locale == locale]
    purpose += [finding for finding in new if purpose and finding.rule in _WITH_IT]
    return Outcome(after, tuple(finding for finding in new if finding not in purpose), tuple(purpose), len(known - now))


def compared(monorepo: Monorepo) -> Outcome:
    """What the audit says of changes that are for no locale of their own. Raises `LemmarError`."""
    before, after = monorepo.before.verdict, monorepo.now().verdict
    known = {finding.fingerprint for finding in before.findings}
    now = {finding.fingerprint for finding in after.findings}
    new = tuple(finding for finding in after.findings if finding.fingerprint not in known and finding.waiver is None)
    return Outcome(after, new, (), len(known - now))


#: So many findings of one rule are steps of their own.
_TOLD = 3


def steps_of(findings: Sequence[Finding]) -> list[Step]:
    """What a person must see to: a step for each of the first findings of a rule, and one that counts the others."""
    by_rule: dict[str, list[Finding]] = {}
    for finding in findings:
        by_rule.setdefault(finding.rule, []).append(finding)
    steps = []
    for rule, those in by_rule.items():
        for finding in those[:_TOLD]:
            place = finding.place
            words = finding.message + (f"; {finding.remedy}" if finding.remedy else "")
            steps.append(Step(f"{words} [{rule}]", File(place.file) if place else None, place.line if place else None))
    more = [f"{counted(len(those) - _TOLD, 'more finding')} of {rule}" for rule, those in by_rule.items() if len(those) > _TOLD]
    if more:
        steps.append(Step(f"see to {joined(more)}; 'lemmar audit' lists them once this is written"))
    return steps
