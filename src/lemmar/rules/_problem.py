"""What a rule is, and what it answers."""

from __future__ import annotations

import inspect
from collections.abc import Callable, Iterator
from typing import Any, Literal, NamedTuple

from msgspec import Struct

from lemmar.findings import Severity, Subject
from lemmar.inventory.contents import Spot
from lemmar.resolve.landings import Cause


class Problem(Struct, frozen=True):
    """A rule's answer: what is wrong, what a user would see, what to do. *detail* tells apart problems of one subject.

    *cause* names what a problem comes of, where another rule's problem may be the same thing seen earlier: a `Cause`; *origin* the same more
    closely, the link of a chain, say. *catalog* is the number of the charter's catalog that it is about. Problems of one client and locale that
    *gather* the same are one where there are many: they are of whole files, with one cause.
    """

    subject: Subject
    text: str
    spot: Spot | None
    effect: str = ""
    remedy: str = ""
    related: tuple[Spot, ...] = ()
    detail: str = ""
    severity: Severity | None = None
    cause: Cause | Literal[""] = ""
    origin: str | None = None
    catalog: int | None = None
    gather: str = ""


class Hides(NamedTuple):
    """A rule's findings hide those of *rules* (a name, or ``family.*``, or ``*``) whose subject is the same in *by*.

    In *by*: ``client``, ``locale``, ``part``, ``key``, ``branch`` (the key or one below it), ``file``, ``entry`` (the same
    place), ``cause``, ``origin``, ``catalog``. A field that the hiding finding leaves open (None) covers all.
    """

    rules: tuple[str, ...]
    by: tuple[str, ...]


class Rule(Struct, frozen=True):
    """A rule: its name never changes meaning; its *manual* is shown to users wherever the rule is explained.

    It is *of* each ``client`` by itself, whose world it sees; of ``all`` of them, or, when these have run, of what they found (``end``), where it
    sees an overview and is not waived.
    """

    name: str
    severity: Severity
    summary: str
    hides: tuple[Hides, ...]
    check: Callable[[Any], Iterator[Problem]]
    of: Literal["client", "all", "end"] = "client"

    @property
    def manual(self) -> str:
        """Why the rule matters, what it reports and what not, how to fix it: the check's own text."""
        return inspect.getdoc(self.check) or ""

    @property
    def is_mended(self) -> bool:
        """Whether `lemmar mend` mends what the rule reports, as its manual then says."""
        return "`lemmar mend`" in " ".join(self.manual.split())
