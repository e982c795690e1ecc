"""What is reported: findings at their places, what clients' users see, and the verdict. Plain values, of which nothing else is known here."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal, NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from lemmar.basics.phrasing import counted, is_named, joined
from lemmar.tags import Tag
from lemmar.trees import File

#: From the least to the most severe.
SEVERITIES = ("note", "warning", "error")
Severity = Literal["note", "warning", "error"]
Origin = Literal["own", "inherited", "foreign", "key", "blank", "error"]
ORIGINS: tuple[Origin, ...] = ("own", "inherited", "foreign", "key", "blank", "error")


class Subject(Struct, frozen=True):
    """What a finding is about; what does not apply is None."""

    clients: tuple[str, ...] = ()
    locale: str | None = None
    part: str | None = None
    key: str | None = None
    request: str | None = None


class Place(NamedTuple):
    """Where a reader of a finding is sent. *line* and *column* are 1-based; a column counts code points."""

    file: File
    line: int
    column: int


class Replacement(NamedTuple):
    """What stands from one place of a file to another (1-based lines and columns, the end excluded) is replaced by *text*."""

    file: File
    line: int
    column: int
    end_line: int
    end_column: int
    text: str


class Finding(Struct, frozen=True):
    """What is reported. *waiver* is the reason of the waiver that accepts it, or None; *owners* are whose it is to mend; *known* says whether it was
    there at an earlier audit that this one is held against, and is None where it is held against none. *drafted* are the places of the charter's tables
    that nobody has confirmed, and of which one must be right for this to be true: it would be an error then.
    """

    rule: str
    severity: Severity
    subject: Subject
    message: str
    effect: str
    remedy: str
    place: Place | None
    related: tuple[Place, ...]
    fingerprint: str
    waiver: str | None
    owners: tuple[str, ...] = ()
    known: bool | None = None
    drafted: tuple[str, ...] = ()


class Answer(NamedTuple):
    """How many messages of one (client, locale) are answered in which way, by `ORIGINS`."""

    own: int = 0
    inherited: int = 0
    foreign: int = 0
    key: int = 0
    blank: int = 0
    error: int = 0

    @property
    def messages(self) -> int:
        """All messages of the source locale."""
        return sum(self)

    @property
    def complete(self) -> int:
        """Those that a user reads in their own language."""
        return self.own + self.inherited

    @property
    def is_complete(self) -> bool:
        """Whether users read every message in their own language."""
        return self.complete == self.messages

    def reaches(self, share: float) -> bool:
        """Whether at least that share of the messages (0 to 1) is complete."""
        return self.complete >= share * self.messages - 1e-9


class Claimed(NamedTuple):
    """What one place of a client states: how it writes each locale there, and which of those, or of those that it lacks, are *wrong*."""

    states: str
    place: str
    written: Mapping[Tag, str]
    wrong: tuple[Tag, ...]


class Consulted(NamedTuple):
    """Which catalogs a client asks for a locale, in order (None: it does not support it), and which the charter wants."""

    locale: Tag
    consulted: tuple[Tag, ...] | None
    wanted: tuple[Tag, ...]
    diverges: bool


class Answered(NamedTuple):
    """Where a request lands, and where the team wants it to; *by_default* because nothing that was asked for is supported."""

    request: str
    landing: Tag
    wanted: str | None
    by_default: bool
    is_wrong: bool


class Unread(NamedTuple):
    """Messages that users of a locale do not read in their language: what they see, in which locale if any, how many, and the first of their keys."""

    origin: Origin
    source: Tag | None
    number: int
    keys: tuple[str, ...]


#: How a fact of a client is known.
Known = Literal["stated", "charter", "preset", "drafted", "assumed"]


class Basis(NamedTuple):
    """How one fact of a client is known: *stated* by a claim, whose place (``file:line``) stands as its origin; *drafted*, by a claim that the survey wrote
    and nobody has confirmed; written in the *charter*; from the *preset* of its platform, which is named; or *assumed*, since nothing says it, or nothing
    but a claim that cannot be read, whose place is then the origin. *why* is the reason that the charter gives for what nothing in the client states.
    """

    fact: str
    known: Known
    value: str
    origin: str = ""
    why: str = ""


class Outcome(Struct, frozen=True):
    """What users of a client see: *shipping* are the locales in which it must be complete, *answers* are by the roster's locales that it has, and
    *unread* is what they do not read in their language; then what its places claim, its chains, and where the audience's requests land.
    """

    name: str
    kind: str
    shipping: tuple[Tag, ...]
    answers: Mapping[Tag, Answer]
    unread: Mapping[Tag, tuple[Unread, ...]] = {}
    claims: tuple[Claimed, ...] = ()
    chains: tuple[Consulted, ...] = ()
    landings: tuple[Answered, ...] = ()
    basis: tuple[Basis, ...] = ()

    def assumes(self, fact: str) -> bool:
        """Whether a *fact* is assumed, and the charter does not say why."""
        return any(each.fact == fact and each.known == "assumed" for each in self.basis)

    def is_silent(self, fact: str) -> bool:
        """Whether a *fact* is assumed since nothing is there to say it, not since a claim cannot be read."""
        return any(each.fact == fact and each.known == "assumed" and not each.origin for each in self.basis)


#: The facts that change a verdict if they are not as is assumed, in words.
ASSUMED = {"default": "the default", "chain": "the chain", "on-miss": "what a missing text shows", "mirrored": "the mirroring"}


class Verdict(Struct, frozen=True):
    """The answer to "may we ship?": the findings in their final order, and what users of each client see.

    *hold* says whether the gate holds the release, which it does from the severity *fail_on* on. *locales* are the roster's, *days* says for
    each waiver's reason how many days it runs yet. *unfinished* are sentences on what could not be looked at: with any, the release is not clear;
    *unsure* says that another machine might see more. *since* names the earlier audit that this one is held against, if any; so many of its
    findings are *gone*. Where it is on some clients *alone*, all else is left out of it.
    """

    hold: bool
    findings: tuple[Finding, ...]
    clients: tuple[Outcome, ...]
    locales: tuple[Tag, ...]
    fail_on: str
    days: Mapping[str, int]
    unfinished: tuple[str, ...] = ()
    unsure: bool = False
    since: str | None = None
    gone: int = 0
    alone: bool = False

    @property
    def word(self) -> str:
        """``clear``, ``hold``, or ``incomplete`` where nothing holds the release and not everything could be looked at, or what would hold it rests on drafted
        tables that nobody has confirmed.
        """
        return "hold" if self.hold else "incomplete" if self.not_checked else "clear"

    @property
    def undecided(self) -> tuple[Finding, ...]:
        """The findings that would hold the release if the drafted tables that they rest on are right."""
        held = self.fail_on != "never"
        return tuple(finding for finding in self.findings if held and finding.drafted and finding.waiver is None and not finding.known)

    @property
    def not_checked(self) -> tuple[str, ...]:
        """Sentences on what could not be looked at; the last on what is to be confirmed first, where nothing else holds the release."""
        undecided = self.undecided if not self.hold else ()
        return (
            (*self.unfinished, f"undecided: {self.if_right}; confirm or correct them, with 'lemmar charter --confirm'")
            if undecided
            else self.unfinished
        )

    @property
    def if_right(self) -> str:
        """What would hold the release, if which drafted tables are right, in words."""
        tables, number = self.to_confirm, len(self.undecided)
        return f"{counted(number, 'error')} if {counted(len(tables), 'drafted table')} {'is' if len(tables) == 1 else 'are'} right: {joined(list(tables), 4)}"

    @property
    def to_confirm(self) -> tuple[str, ...]:
        """The places of the drafted tables that are to be confirmed or corrected."""
        places = (place.rpartition(":") for finding in self.undecided for place in finding.drafted)
        return tuple(f"{file}:{line}" for file, line in sorted({(file, int(line)) for file, _, line in places}))

    @property
    def assumed(self) -> dict[str, tuple[str, ...]]:
        """The facts that nothing states, each with the clients of which it is assumed."""
        found = {fact: tuple(client.name for client in self.clients if client.assumes(fact)) for fact in ASSUMED}
        return {fact: names for fact, names in found.items() if names}

    @property
    def assuming(self) -> str:
        """What the verdict assumes, in words: ``the default of 2 clients and the mirroring of 1 client``; empty where it assumes nothing."""
        return joined([f"{ASSUMED[fact]} of {counted(len(names), 'client')}" for fact, names in self.assumed.items()])

    @property
    def verdict(self) -> Literal["clear", "hold"]:
        """``clear`` (ship) or ``hold``; the latter also where not everything could be looked at."""
        return "clear" if self.word == "clear" else "hold"

    @property
    def exit_code(self) -> int:
        """What the program ends with: 0 clear, 1 hold, 3 where not everything could be looked at, or what holds may depend on the machine."""
        return 3 if self.unsure else {"hold": 1, "incomplete": 3}.get(self.word, 0)

    def of_clients(self, names: Sequence[str]) -> Verdict:
        """The verdict on these clients alone, where ``*`` in a name matches: what concerns none of them is left out; what is of no client counts."""
        clients = tuple(client for client in self.clients if is_named(client.name, names))
        own = {client.name for client in clients}
        findings = tuple(each for each in self.findings if not each.subject.clients or own & set(each.subject.clients))
        hold = any(holds(each, self.fail_on) for each in findings)
        return replace(self, hold=hold, findings=findings, clients=clients, alone=True)


def holds(finding: Finding, fail_on: str) -> bool:
    """Whether *finding* holds a release up by itself, where the gate does from the severity *fail_on* on; ``never`` lets all pass."""
    return (
        fail_on != "never"
        and finding.waiver is None
        and not finding.known
        and SEVERITIES.index(finding.severity) >= SEVERITIES.index(fail_on)
    )
