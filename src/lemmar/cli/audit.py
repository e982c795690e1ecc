"""``lemmar audit``: the gate."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from lemmar.cli import _completing, _options
from lemmar.cli._exits import Exit

if TYPE_CHECKING:
    from lemmar.charter.file import CharterFile
    from lemmar.charter.reading import ReadCharter
    from lemmar.findings import Verdict


@click.command(short_help="Say whether the release may ship, and what holds it up.")
@_options.charter
@click.option(
    "--rule",
    "only",
    shell_complete=_completing.rules,
    metavar="NAME",
    multiple=True,
    help="Show only findings of this rule or family (* matches); the verdict stays the same.",
)
@click.option(
    "--client",
    "clients",
    shell_complete=_completing.clients,
    metavar="NAME",
    multiple=True,
    help="Show only findings of this client (* matches); the verdict stays the same.",
)
@click.option(
    "--locale",
    "locales",
    shell_complete=_completing.locales,
    metavar="TAG",
    multiple=True,
    help="Show only findings of this locale (* matches); the verdict stays the same.",
)
@click.option(
    "--owner", "owners", metavar="NAME", multiple=True, help="Show only findings of this owner (* matches); the verdict stays the same."
)
@click.option(
    "--ship",
    "shipped",
    shell_complete=_completing.clients,
    metavar="NAME",
    multiple=True,
    help="Decide for this client alone (* matches), as it is released by itself.",
)
@click.option(
    "--gate", shell_complete=_completing.gates, metavar="NAME", help="Decide by this gate of the charter, [gate.NAME], instead of [gate]."
)
@click.option(
    "--since",
    metavar="WHAT",
    help="Only findings that are new since WHAT hold the release: a git revision, a folder, or the JSON of an earlier audit.",
)
@click.option(
    "--changed",
    metavar="REVISION",
    help="Show only findings in files that are not as in this git revision; the verdict stays the same.",
)
@click.option("--all", "everything", is_flag=True, help="Show every finding, not only the first of each rule.")
@click.option("--schema", is_flag=True, help="Print the JSON Schema of --format json and exit.")
@click.option(
    "--workers", type=click.IntRange(0, 256), default=0, metavar="N", help="Judge clients in N processes. Default: in as many as pay."
)
@click.option("--scheduler", metavar="ADDRESS", help="Let the workers of a cluster judge clients (docs/scale.md).")
@click.option("--shared", metavar="DIR", help="Where a cluster's workers find the monorepo. Default: where it is here.")
@click.option("--timing", is_flag=True, help="Show on standard error where the time went: by phase, format and family of rules.")
@_options.cache
@_options.today
@_options.output_of_findings
@_options.also
@_options.loudness
@click.pass_context
def command(
    ctx: click.Context,
    charter_path: Path | None,
    only: tuple[str, ...],
    clients: tuple[str, ...],
    locales: tuple[str, ...],
    owners: tuple[str, ...],
    shipped: tuple[str, ...],
    gate: str | None,
    since: str | None,
    changed: str | None,
    everything: bool,
    schema: bool,
    workers: int,
    scheduler: str | None,
    shared: str | None,
    timing: bool,
    today: str | None,
    form: str,
    target: Path | None,
    also: tuple[tuple[str, Path], ...],
) -> int:
    """Check every client against the charter: may we ship?

    Exits 0 if the release is clear, 1 if findings hold it up, 3 if something could not be checked.
    """
    from lemmar import report
    from lemmar.basics.days import day_of
    from lemmar.basics.errors import UsageError
    from lemmar.basics.profiling import Times
    from lemmar.charter.origins import Origin
    from lemmar.cli._caching import opened
    from lemmar.cli._showing import show_findings
    from lemmar.cli._writing import is_watched, progress, remark, write
    from lemmar.incremental.reusing import How, incremental_verdict
    from lemmar.report import Filter

    if schema:
        from lemmar.report.json import shipped_schema

        write([shipped_schema()], target)
        return Exit.CLEAR
    if shared is not None and scheduler is None:
        raise UsageError("--shared says where the workers of a cluster find the monorepo; name the cluster's --scheduler as well")
    if scheduler is not None and _options.asked_for("at") is not None:
        raise UsageError("the workers of a cluster look at files, not at revisions; leave --scheduler or --at out")
    cluster = None
    if scheduler is not None:
        from lemmar.incremental.cluster import Cluster

        cluster = Cluster(scheduler, shared)
    where, day = _options.origin(charter_path), day_of(today)
    file = where.file._replace(gate=gate)
    where = where._replace(file=file)

    def parsed() -> ReadCharter:
        read = charter_in(file)
        _check_names(only, (*clients, *shipped), [client.name for client in read.charter.client])
        return read

    _check_targets([*([target] if target is not None else []), *(path for _, path in also)])

    times = Times()
    with progress(after=1.0) as tell, times.of("begin"), opened(file.root) as cache:
        told = (lambda read, of: tell(f"reading: {read:,} of {of:,} files")) if is_watched() else None
        how = How(cache, times, workers, told, cluster)
        tree = where.tree(cache)
        verdict = incremental_verdict(file, tree, day, parsed, how)
        if since is not None:
            from lemmar.auditing.baselines import baseline_of, held_against

            def audited_then(then: Origin) -> Verdict:
                return incremental_verdict(then.file, then.tree(cache), day, lambda: charter_in(then.file), How(cache, Times(), workers))

            verdict = held_against(verdict, baseline_of(since, where, audited_then, remark))
        files = None
        if changed is not None:
            from lemmar.auditing.baselines import at_commit, changed_files

            files = changed_files(verdict, tree, Origin(file, at_commit(changed, where)).tree(cache))
    _check_names(only, (*clients, *shipped), [client.name for client in verdict.clients])
    if shipped:
        verdict = verdict.of_clients(shipped)
    shown = Filter(only, clients, everything, locales, owners, files, bool(_options.asked_for("verbose")))
    if any(report.load(name).mends for name in (form, *(other for other, _ in also))):
        from lemmar.work.fixing import fixes_of

        with times.of("show", "fixes"):
            shown = shown._replace(fixes=fixes_of(verdict.findings, file, where.walked()))
    for other, file_of_other in also:
        with times.of("show", other):
            show_findings(verdict, shown, other, file_of_other)
    with times.of("show", form):
        show_findings(verdict, shown, form, target)
    if target is not None:
        remark(f"{verdict.word}; the findings are in {target}")
    if timing:
        from lemmar.cli._showing import as_text
        from lemmar.views import profiling

        remark(as_text(profiling.view(times.spent)).rstrip())
    return verdict.exit_code


def charter_in(file: CharterFile) -> ReadCharter:
    """The charter in *file*; what reads it is imported only where one must be read. Raises `CharterError`."""
    from lemmar.cli import _running

    return _running.charter_in(file)


def _check_targets(targets: list[Path]) -> None:
    """Refuses two outputs in one file. Raises `UsageError`."""
    from lemmar.basics.errors import UsageError

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
