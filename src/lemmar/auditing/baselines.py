"""Earlier audits that a verdict is held against, so that only what has become worse holds a release."""

from __future__ import annotations

import os
from collections import Counter
from collections.abc import Callable
from pathlib import Path
from typing import NamedTuple

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from lemmar.basics.errors import CharterError, GateError, TreeError, UsageError
from lemmar.charter.file import load
from lemmar.charter.origins import AtCommit, Origin, charter_at, with_included
from lemmar.findings import Verdict, holds
from lemmar.trees import Digest, File
from lemmar.trees.known import KnownTree
from lemmar.trees.opening import regular_bytes


class Baseline(NamedTuple):
    """An earlier audit: its *name*, and how often each fingerprint was there and not waived."""

    name: str
    fingerprints: Counter[str]


class _Kept(Struct):
    fingerprint: str
    waiver: str | None = None


class _KeptAudit(Struct):
    schema: str
    findings: list[_Kept]


def held_against(verdict: Verdict, baseline: Baseline) -> Verdict:
    """The verdict where only findings that were not there before hold the release. What was waived then was not there."""
    left = baseline.fingerprints.copy()
    findings = []
    for finding in verdict.findings:
        known = left[finding.fingerprint] > 0
        left[finding.fingerprint] -= known
        findings.append(replace(finding, known=known))
    return replace(
        verdict,
        findings=tuple(findings),
        hold=any(holds(finding, verdict.fail_on) for finding in findings),
        since=baseline.name,
        gone=left.total(),
    )


def of_verdict(name: str, verdict: Verdict) -> Baseline:
    """The verdict of an earlier state as a baseline."""
    return Baseline(name, Counter(finding.fingerprint for finding in verdict.findings if finding.waiver is None))


def of_file(path: Path) -> Baseline:
    """The audit in the file at *path*, which ``lemmar audit --format json`` wrote.

    Raises:
        TreeError: it cannot be read.
        UsageError: it is no such file.
    """
    try:
        data = regular_bytes(str(path))
        found = msgspec.json.decode(data, type=_KeptAudit)
    except OSError as error:
        raise TreeError(f"{path} cannot be read: {error.strerror or error}") from error
    except (msgspec.MsgspecError, RecursionError, UnicodeError) as error:
        raise UsageError(f"{path} is no audit that 'lemmar audit --format json' wrote: {error}") from error
    if found.schema != "lemmar.audit/1":
        raise UsageError(f"{path} is no audit that 'lemmar audit --format json' wrote: its schema is {found.schema!r}")
    return Baseline(str(path), Counter(finding.fingerprint for finding in found.findings if finding.waiver is None))


def earlier(what: str, today: Origin) -> Origin | Path:
    """What *what* names: the file of an earlier audit, or a folder or revision with the monorepo, with its own charter or, where it has none, that of
    *today*.

    Raises:
        TreeError: there is no such thing.
        UsageError: it may be both, a file and a revision.
    """
    path, name = Path(what), today.file.name
    if what and os.path.lexists(path):
        if not os.path.isabs(what) and not what.startswith(".") and _is_revision(what, today):
            raise UsageError(f"{what!r} is a file or folder here, and a revision; write ./{what}, or the revision in another way")
        if not os.path.isdir(path):
            return path
        own = path / name
        root = Path(os.path.realpath(path))
        if not os.path.lexists(own):
            return Origin(today.file._replace(root=root))
        from lemmar.trees.folder import FolderTree

        return Origin(with_included(load(own)._replace(gate=today.file.gate), lambda: FolderTree(root)))
    at = at_commit(what, today)
    then = charter_at(at, name)
    return Origin(today.file if then is None else then._replace(root=today.file.root, gate=today.file.gate), at)


def at_commit(revision: str, today: Origin) -> AtCommit:
    """The monorepo at a *revision*. Raises `TreeError`."""
    from lemmar.trees.repository import Repository

    repository = today.at.repository if today.at is not None else Repository(today.file.root)
    folder = today.at.folder if today.at is not None else repository.prefix
    return AtCommit(repository, repository.commit(revision), folder)


def _is_revision(what: str, today: Origin) -> bool:
    try:
        at_commit(what, today)
    except TreeError:
        return False
    return True


def baseline_of(what: str, today: Origin, audited: Callable[[Origin], Verdict], tell: Callable[[str], None]) -> Baseline:
    """The baseline that *what* names: a file of an audit, a folder, or a revision, of which both are *audited* now. *tell* is told what should be known
    of it.

    Raises:
        TreeError, UsageError: as `earlier` and `of_file`.
        IncompleteError: nothing of it could be looked at.
    """
    where = earlier(what, today)
    if isinstance(where, Path):
        return of_file(where)
    try:
        try:
            verdict = audited(where)
        except GateError:  # which findings there are, no gate decides
            verdict = audited(where._replace(file=where.file._replace(gate=None)))
        except CharterError:
            tell(f"the charter at {what} has mistakes; the one of today is used for it")
            verdict = audited(where._replace(file=today.file._replace(root=where.file.root)))
    except UsageError as error:  # nothing was there yet
        tell(f"at {what} there was nothing to audit, so that all findings are new: {error}")
        return Baseline(what, Counter())
    if verdict.unfinished:
        tell(f"{what} could not be looked at whole; what was not seen there counts as new: {verdict.unfinished[0]}")
    return of_verdict(what, verdict)


def changed_files(verdict: Verdict, tree: KnownTree, other: KnownTree) -> frozenset[File]:
    """The files of findings that hold something else in the *other* tree."""
    files = {place.file for finding in verdict.findings for place in (finding.place, *finding.related) if place is not None}

    def differs(file: File) -> bool:
        now: Digest = tree.digest(file)
        return now != other.digest(file)

    return frozenset(filter(differs, files))
