"""``lemmar audit``: the gate."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, NamedTuple

import click

from lemmar.basics.errors import UsageError
from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.basics.profiling import Times
    from lemmar.charter.file import CharterFile
    from lemmar.charter.origins import Origin
    from lemmar.charter.reading import ReadCharter
    from lemmar.findings import Verdict
    from lemmar.incremental.cluster import Cluster
    from lemmar.report import Filter


class Shown(NamedTuple):
    """Which findings are asked for."""

    only: tuple[str, ...]
    clients: tuple[str, ...]
    locales: tuple[str, ...]
    owners: tuple[str, ...]
    changed: str | None
    everything: bool


class Decision(NamedTuple):
    """What the verdict is decided by."""

    shipped: tuple[str, ...]
    gate: str | None
    since: str | None


class Work(NamedTuple):
    """Who does the work, and whether it is timed."""

    workers: int
    scheduler: str | None
    shared: str | None
    timing: bool


def _name(option: str, field: str, complete: _completing.Complete | None, text: str, metavar: str = "NAME") -> _options.Decorator:
    return click.option(option, field, shell_complete=complete, metavar=metavar, multiple=True, help=text)


_SHOWN = _options.group(
    "shown",
    Shown,
    _name("--rule", "only", _completing.rules, "Show only findings of this rule or family (* matches); the verdict stays the same."),
    _name("--client", "clients", _completing.clients, "Show only findings of this client (* matches); the verdict stays the same."),
    _name("--locale", "locales", _completing.locales, "Show only findings of this locale (* matches); the verdict stays the same.", "TAG"),
    _name("--owner", "owners", None, "Show only findings of this owner (* matches); the verdict stays the same."),
    click.option(
        "--changed",
        metavar="REVISION",
        help="Show only findings in files that have changed since this git revision; the verdict stays the same.",
    ),
    click.option("--all", "everything", is_flag=True, help="Show every finding, not only the first of each rule."),
)
_DECISION = _options.group(
    "decision",
    Decision,
    _name("--ship", "shipped", _completing.clients, "Decide on this client alone (* matches), for a release of its own."),
    click.option(
        "--gate",
        shell_complete=_completing.gates,
        metavar="NAME",
        help="Decide by this gate of the charter, [gate.NAME], instead of [gate].",
    ),
    click.option(
        "--since",
        metavar="WHAT",
        help="Only findings that are new since WHAT count against the release: a git revision, a folder, or the JSON of an earlier audit.",
    ),
)
_WORK = _options.group(
    "work",
    Work,
    click.option(
        "--workers",
        type=click.IntRange(0, 256),
        default=0,
        metavar="N",
        help="Audit clients in N processes. Default: as many as save time.",
    ),
    click.option("--scheduler", metavar="ADDRESS", help="Audit clients on the workers of a cluster (docs/scale.md)."),
    click.option("--shared", metavar="DIR", help="Where a cluster's workers find the monorepo. Default: the same path as here."),
    click.option("--timing", is_flag=True, help="Show on standard error where the time went: by phase, format and family of rules."),
)


@click.command(short_help="Say whether the release may ship, and what holds it up.")
@_options.charter
@_SHOWN
@_DECISION
@_WORK
@click.option("--schema", is_flag=True, help="Print the JSON Schema of --format json and exit.")
@_options.cache
@_options.today
@_options.output_of_findings
@_options.also
@_options.loudness
def command(
    charter_path: Path | None,
    shown: Shown,
    decision: Decision,
    work: Work,
    schema: bool,
    today: str | None,
    form: str,
    target: Path | None,
    also: tuple[tuple[str, Path], ...],
) -> int:
    """Check every client against the charter: may we ship?

    Exits 0 if the release is clear, 1 if findings hold it up, 3 if something could not be checked.
    """
    from lemmar.basics.days import day_of
    from lemmar.basics.profiling import Times

    if schema:
        from lemmar.cli._writing import write
        from lemmar.report.json import shipped_schema

        write([shipped_schema()], target)
        return Exit.CLEAR
    cluster = _cluster(work)
    where, day, times = _options.origin(charter_path), day_of(today), Times()
    where = where._replace(file=where.file._replace(gate=decision.gate))
    _check_targets([*([target] if target is not None else []), *(path for _, path in also)])
    verdict, filtered = _audited(where, day, shown, decision, work, times, cluster)
    _show(verdict, filtered, where, [*also, (form, target)], times)
    if work.timing:
        from lemmar.cli._showing import as_text
        from lemmar.cli._writing import remark
        from lemmar.views import profiling

        remark(as_text(profiling.view(times.spent)).rstrip())
    return verdict.exit_code


def _cluster(work: Work) -> Cluster | None:
    """The cluster that is asked for. Raises `UsageError` where the options do not go together."""
    if work.scheduler is None:
        if work.shared is not None:
            raise UsageError("--shared says where the workers of a cluster find the monorepo; name the cluster's --scheduler as well")
        return None
    if _options.asked_for("at") is not None:
        raise UsageError("the workers of a cluster read files, not revisions; leave out --scheduler or --at")
    from lemmar.incremental.cluster import Cluster

    return Cluster(work.scheduler, work.shared)


def _audited(
    where: Origin, day: str, shown: Shown, decision: Decision, work: Work, times: Times, cluster: Cluster | None
) -> tuple[Verdict, Filter]:
    """The verdict as it is asked for, and which of its findings are to be shown."""
    from lemmar.cli._caching import opened
    from lemmar.cli._writing import is_watched, progress, remark
    from lemmar.incremental.reusing import How, incremental_verdict
    from lemmar.report import Filter

    file, names = where.file, (*shown.clients, *decision.shipped)

    def parsed() -> ReadCharter:
        read = charter_in(file)
        _check_names(shown.only, names, [client.name for client in read.charter.client])
        return read

    with progress(after=1.0) as tell, times.of("begin"), opened(file.root) as cache:
        told = (lambda read, of: tell(f"reading: {read:,} of {of:,} files")) if is_watched() else None
        tree = where.tree(cache)
        verdict = incremental_verdict(file, tree, day, parsed, How(cache, times, work.workers, told, cluster))
        if decision.since is not None:
            from lemmar.auditing.baselines import baseline_of, held_against

            def then(origin: Origin) -> Verdict:
                how = How(cache, type(times)(), work.workers)
                return incremental_verdict(origin.file, origin.tree(cache), day, lambda: charter_in(origin.file), how)

            verdict = held_against(verdict, baseline_of(decision.since, where, then, remark))
        files = None
        if shown.changed is not None:
            from lemmar.auditing.baselines import at_commit, changed_files

            files = changed_files(verdict, tree, where._replace(at=at_commit(shown.changed, where)).tree(cache))
    _check_names(shown.only, names, [client.name for client in verdict.clients])
    if decision.shipped:
        verdict = verdict.of_clients(decision.shipped)
    verbose = bool(_options.asked_for("verbose"))
    return verdict, Filter(shown.only, shown.clients, shown.everything, shown.locales, shown.owners, files, verbose)


def _show(verdict: Verdict, shown: Filter, where: Origin, outputs: Sequence[tuple[str, Path | None]], times: Times) -> None:
    """Writes the *outputs*, the last of which is the one that the command itself gives."""
    from lemmar import report
    from lemmar.cli._showing import show_findings
    from lemmar.cli._writing import remark

    if any(report.load(name).mends for name, _ in outputs):
        from lemmar.work.fixing import fixes_of

        with times.of("show", "fixes"):
            shown = shown._replace(fixes=fixes_of(verdict.findings, where.file, where.walked()))
    for name, target in outputs:
        with times.of("show", name):
            show_findings(verdict, shown, name, target)
    if outputs[-1][1] is not None:
        remark(f"{verdict.word}; the findings are in {outputs[-1][1]}")


def charter_in(file: CharterFile) -> ReadCharter:
    """The charter in *file*; what reads it is imported only where one must be read. Raises `CharterError`."""
    from lemmar.cli import _running

    return _running.charter_in(file)


def _check_targets(targets: list[Path]) -> None:
    """Refuses two outputs in one file. Raises `UsageError`."""
    for number, target in enumerate(targets):
        if target.resolve() in [other.resolve() for other in targets[:number]]:
            raise UsageError(f"two outputs would be written to {target}; give each a file of its own")


def _check_names(only: tuple[str, ...], clients: tuple[str, ...], known: list[str]) -> None:
    if only:
        from lemmar.rules import all_rules

        _check("rule", only, [*all_rules(), *sorted({rule.partition(".")[0] for rule in all_rules()})])
    _check("client", clients, known)


def _check(what: str, named: tuple[str, ...], known: list[str]) -> None:
    """Refuses the first of the *named* that is not *known* and, with its stars, matches nothing that is."""
    from lemmar.basics.phrasing import is_named
    from lemmar.cli._showing import check_known

    check_known(what, [name for name in named if not any(is_named(each, (name,)) for each in known)], known)
