"""``lemmar waive``: accepts findings for a while, in the charter."""

from __future__ import annotations

from datetime import date
from pathlib import Path

import click

from lemmar.basics.errors import TreeError, UsageError
from lemmar.cli import _options
from lemmar.cli._exits import Exit


@click.command(short_help="Accept findings for a while: write waivers into the charter.")
@click.argument("fingerprints", nargs=-1, required=True, metavar="FINGERPRINT...")
@click.option("--until", required=True, metavar="DATE", help="The last day on which they are accepted.")
@click.option("--reason", required=True, metavar="TEXT", help="Why they are accepted.")
@click.option("--write", "write_it", is_flag=True, help="Write the waivers into the charter.")
@_options.charter
@_options.cache
@_options.today
@_options.output_of_tables
@_options.loudness
def command(
    fingerprints: tuple[str, ...],
    until: str,
    reason: str,
    write_it: bool,
    charter_path: Path | None,
    today: str | None,
    form: str,
    target: Path | None,
) -> int:
    """Accept the findings with these FINGERPRINTs until DATE: show the narrowest waivers for them, and what they accept.

    The beginning of a fingerprint is enough if no other finding begins so; 'lemmar audit -v' shows them.
    """
    from lemmar.basics.days import day_of
    from lemmar.basics.profiling import Times
    from lemmar.cli._caching import opened
    from lemmar.cli._running import charter_in
    from lemmar.cli._showing import show
    from lemmar.cli._writing import remark, replaced
    from lemmar.incremental.reusing import How, incremental_verdict
    from lemmar.views import waive as views
    from lemmar.work.waiving import named, narrowest, with_waivers

    day, last = day_of(today), _date(until)
    if last.isoformat() < day:
        raise UsageError(f"{until} is over; a waiver runs until a day that is still to come")
    if not reason.strip():
        raise UsageError("the reason is empty; say why the findings are accepted")
    where = _options.origin(charter_path)
    if write_it and not where.file.on_disk:
        raise UsageError("a charter of a revision cannot be written; leave out --at and REVISION:")
    with opened(where.file.root) as cache:
        tree = where.tree(cache)
        verdict = incremental_verdict(where.file, tree, day, lambda: charter_in(where.file), How(cache, Times()))
        chosen = named(verdict, fingerprints)
        waivers = list({repr(waiver): waiver for waiver in (narrowest(finding, last, reason) for finding in chosen)}.values())
        data, added = with_waivers(where.file.data, waivers)
        file = where.file._replace(data=data)
        after = incremental_verdict(file, where.tree(cache), day, lambda: charter_in(file), How(cache, Times()))
    before = {finding.fingerprint for finding in verdict.findings if finding.waiver is not None}
    accepted = [finding for finding in after.findings if finding.waiver is not None and finding.fingerprint not in before]
    missing = {finding.fingerprint for finding in chosen} - {finding.fingerprint for finding in accepted}
    if missing:
        raise UsageError(f"no waiver can accept {', '.join(sorted(missing))}: findings about waivers are mended in the charter")
    show(views.view(added, accepted, frozenset(finding.fingerprint for finding in chosen)), form, target)
    if write_it:
        path = where.file.root / where.file.name
        if not replaced(path, where.file.data, data):
            raise TreeError(f"{path} was changed meanwhile; nothing was written: run the command again")
        remark(f"wrote {path}; the verdict is now {after.word}")
    else:
        remark("Nothing was written. Use --write to apply the changes.")
    return Exit.CLEAR


def _date(text: str) -> date:
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise UsageError(f"{text!r} is no date; write it as 2027-01-31") from error
