"""What waivers accept, and how they are written."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.basics.phrasing import counted
from lemmar.findings import Finding
from lemmar.report import Drawn, Page, Table, View, indented, joined, plain

_COLUMNS = ("fingerprint", "severity", "rule", "client", "locale", "part", "key", "message", "named")


def view(added: str, accepted: Sequence[Finding], named: frozenset[str]) -> View:
    """The text that is *added* to the charter, and the findings that it has *accepted*, of which these were *named* by fingerprint."""
    rows = [
        (
            *(each.fingerprint, each.severity, each.rule, ", ".join(each.subject.clients), each.subject.locale, each.subject.part),
            *(each.subject.key, each.message, each.fingerprint in named),
        )
        for each in accepted
    ]

    def drawn(_page: Page) -> Iterator[Drawn]:
        for line in added.replace("\r\n", "\n").strip("\n").split("\n"):
            yield plain(f"+ {line}".rstrip())
        yield ""
        yield plain(f"accepts {counted(len(accepted), 'finding')}:", "strong")
        for each in accepted:
            yield joined((f"{each.severity:<8}", each.severity), (each.rule, "strong"))
            yield indented(each.message, 8)
        others = [each.fingerprint for each in accepted if each.fingerprint not in named]
        if others:
            yield ""
            yield plain(
                f"{counted(len(others), 'finding')} of them {'was' if len(others) == 1 else 'were'} not named, but no waiver tells them apart:"
            )
            yield indented(" ".join(others), 8)

    return View(Table("waive", _COLUMNS, rows), drawn)
