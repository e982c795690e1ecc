"""What `lemmar mend` would do about each finding by itself, as replacements of lines: for outputs that carry fixes."""

from __future__ import annotations

from difflib import SequenceMatcher

from lemmar.basics.errors import LemmarError
from lemmar.basics.text import decode
from lemmar.charter.file import CharterFile
from lemmar.findings import Finding, Replacement
from lemmar.trees import File
from lemmar.trees.overlay import Walkable
from lemmar.work.bench import Bench
from lemmar.work.changes import Change
from lemmar.work.mending import REPAIRS, attempt
from lemmar.work.places import Monorepo

#: Of so many findings fixes are looked for.
_MOST = 500


def fixes_of(findings: tuple[Finding, ...], file: CharterFile, tree: Walkable) -> dict[str, tuple[Replacement, ...]]:
    """The fix of each of the first findings that have one, by fingerprint: none where files would be made, moved or deleted."""
    wanted = [finding for finding in findings if finding.rule in REPAIRS and finding.waiver is None][:_MOST]
    if not wanted:
        return {}
    try:
        monorepo = Monorepo(file, tree, None)
        bench = Bench(monorepo)
    except LemmarError:  # the audit has said what is wrong
        return {}
    found = {}
    for finding in wanted:
        bench.start_again()
        attempt(bench, finding)
        changes = list(monorepo.changes)
        if changes and all(change.before is not None and change.after is not None and change.moved is None for change in changes):
            found[finding.fingerprint] = tuple(each for change in changes for each in _replacements(change))
    return found


def _replacements(change: Change) -> list[Replacement]:
    before, after = (_lines(data or b"") for data in (change.before, change.after))
    matcher = SequenceMatcher(None, before, after, autojunk=False)
    return [
        Replacement(File(change.file), first + 1, 1, last + 1, 1, "".join(after[start:end]))
        for kind, first, last, start, end in matcher.get_opcodes()
        if kind != "equal"
    ]


def _lines(data: bytes) -> list[str]:
    """The lines of a file, each with its end."""
    text = decode(data).text
    found = text.replace("\r\n", "\n").replace("\r", "\n").split("\n")
    ends = [line + "\n" for line in found[:-1]] + ([found[-1]] if found[-1] else [])
    if "\r\n" in text:
        ends = [line[:-1] + "\r\n" if line.endswith("\n") else line for line in ends]
    return ends
