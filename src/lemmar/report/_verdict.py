"""Draws a verdict: first whether the release may ship, with the clients, then what to mend, cause by cause, then the verdict once more."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from itertools import groupby
from typing import NamedTuple

from lemmar.basics.phrasing import counted, listed
from lemmar.basics.phrasing import joined as joined_words
from lemmar.findings import SEVERITIES, Finding, Place, Verdict, holds
from lemmar.report._counting import counts, standing
from lemmar.report._drawing import Drawn, indented, joined, plain, table
from lemmar.report._filtering import wanted
from lemmar.report._output import Filter

#: So many entries of each rule are shown, and so many in all, unless every one is asked for.
_OF_EACH = 3
_SHOWN = 30
#: Of what is not shown so many rules stand in lines of their own, and so many clients are named.
_RULES = 8
_CLIENTS = 3
#: Of one finding's clients so many are named.
_NAMED = 6


class Entry(NamedTuple):
    """What is shown as one: the findings of one rule about one key in several locales, or about one locale's many keys."""

    findings: tuple[Finding, ...]

    @property
    def first(self) -> Finding:
        """The finding that stands for all."""
        return self.findings[0]


def entries(findings: Iterable[Finding]) -> Iterator[Entry]:
    """Findings, in a verdict's order, gathered to entries: of one rule and client, first those of one key, then those of one locale and part. Only those
    of one rule and client are there at once.
    """
    for _, those in groupby(findings, lambda finding: (finding.rule, finding.severity, finding.subject.clients)):
        yield from _gathered(those)


def _gathered(findings: Iterable[Finding]) -> Iterator[Entry]:
    by_key: dict[object, list[Finding]] = {}
    where: object
    for finding in findings:
        subject = finding.subject
        where = (subject.part, subject.key) if subject.key is not None and subject.locale is not None else finding.fingerprint
        by_key.setdefault((finding.waiver, finding.owners, where), []).append(finding)
    gathered: dict[object, list[Finding]] = {}
    for those in by_key.values():
        subject = those[0].subject
        single = len(those) == 1 and subject.key is not None and subject.locale is not None and those[0].rule.startswith("message.")
        where = (subject.locale, subject.part, those[0].effect.partition(":")[0]) if single else those[0].fingerprint
        gathered.setdefault((those[0].waiver, those[0].owners, where), []).extend(those)
    return (Entry(tuple(those)) for those in gathered.values())


def parts(verdict: Verdict, shown: Filter) -> Iterable[Drawn]:
    """The verdict as parts to draw: of many findings the first of each rule, unless every one is asked for."""
    stands = Counter(standing(finding) for finding in wanted(verdict, shown))
    yield _headline(verdict)
    if stands.total() < len(verdict.findings):
        yield plain(f"shown: {stands.total():,} of {counted(len(verdict.findings), 'finding')}, as asked for", "faint")
    yield ""
    yield _by_client(verdict)
    yield ""
    left = _LeftOut()
    for entry in entries(finding for finding in wanted(verdict, shown) if standing(finding) == finding.severity):
        if shown.everything or left.takes(entry):
            yield from _entry(entry, shown.fingerprints)
    yield from left.words()
    known = stands["known"]
    if known:
        were, they = ("was", "it does") if known == 1 else ("were", "they do")
        yield joined(
            (f"{'known':<8}", "strong"),
            f"{counted(known, 'finding')} {were} there at {verdict.since} already; {they} not hold up the release",
        )
        yield ""
    waived = [finding for finding in wanted(verdict, shown) if finding.waiver is not None] if stands["waived"] else []
    if waived:
        yield from _waived(waived, verdict.days)
    for words in verdict.unfinished:
        yield joined(("not checked  ", "incomplete"), words)
    if verdict.unfinished:
        yield ""
    yield _verdict_line(verdict)


def _headline(verdict: Verdict) -> Drawn:
    number = len(verdict.clients)
    locales = len(verdict.locales)
    of = f"{joined_words([client.name for client in verdict.clients], 4)} alone" if verdict.alone else counted(number, "client")
    return joined(
        (f"{verdict.word.upper()} ", verdict.word),
        f"{_counted(verdict)}, in {of} and {counted(locales, 'locale')}",
    )


def _counted(verdict: Verdict) -> str:
    found = counts(verdict.findings)
    words = [counted(number, name) for name in reversed(SEVERITIES) if (number := found[name])]
    words += [f"{found[name]:,} {name}" for name in ("waived", "known") if found[name]]
    words += [f"{verdict.gone:,} gone since {verdict.since}"] if verdict.gone else []
    return ", ".join(words) or "nothing to report"


def _verdict_line(verdict: Verdict) -> Drawn:
    if verdict.hold:
        holding = sum(holds(finding, verdict.fail_on) for finding in verdict.findings)
        more = f"; more, {verdict.if_right}" if verdict.undecided else ""
        return joined(("verdict: hold", "hold"), f": {counted(holding, 'finding')} must be fixed before the release{more}")
    if verdict.undecided and not verdict.unfinished:
        return joined(("verdict: undecided", "incomplete"), f": {verdict.if_right}; confirm or correct them")
    if verdict.not_checked:
        return joined(("verdict: incomplete", "incomplete"), f"; {counted(len(verdict.not_checked), 'thing')} could not be checked")
    rest = sum(standing(finding) == finding.severity for finding in verdict.findings)
    assuming = f", assuming {verdict.assuming}" if verdict.assuming else ""
    return joined(("verdict: clear", "clear"), f"{assuming}; ship it" + (f" ({counted(rest, 'finding')} below the gate)" if rest else ""))


def _entry(entry: Entry, fingerprints: bool) -> Iterable[Drawn]:
    first = entry.first
    clients = first.subject.clients
    who = ", ".join(clients[:_NAMED]) + (f" and {len(clients) - _NAMED} more" if len(clients) > _NAMED else "")
    whose = f"  of {', '.join(first.owners)}" if first.owners else ""
    yield joined((f"{first.severity:<8}", first.severity), (first.rule, "strong"), (f"  {who}" if who else "", ""), (whose, "faint"))
    yield indented(plain(_place(first.place), "underline") if first.place else plain("(no place)"), 8)
    yield indented(f"{first.message}{others(entry)}", 8)
    if first.effect:
        yield indented(first.effect, 8)
    yield indented(f"→ {first.remedy}", 8)
    if fingerprints:
        yield indented(plain(f"fingerprint {' '.join(dict.fromkeys(finding.fingerprint for finding in entry.findings))}", "faint"), 8)
    yield ""


def others(entry: Entry) -> str:
    """What else the entry stands for, in words that follow its first finding's message."""
    rest = entry.findings[1:]
    if not rest:
        return ""
    if len({finding.subject.key for finding in entry.findings}) == 1:
        others = dict.fromkeys(finding.subject.locale or "" for finding in rest if finding.subject.locale != entry.first.subject.locale)
        return f", and in {listed(others, most=6)}" if others else f" ({counted(len(rest), 'time')} more)"
    return f", and so {'is' if len(rest) == 1 else 'are'} {listed(dict.fromkeys(finding.subject.key or '' for finding in rest), most=6)}"


def _place(place: Place) -> str:
    return f"{place.file}:{place.line}:{place.column}"


class _LeftOut:
    """Counts entries: of each rule the first are shown, and no more than a screen or two in all; the others are left out."""

    def __init__(self) -> None:
        self._seen: Counter[str] = Counter()
        self._shown = 0
        self._by_rule: Counter[str] = Counter()
        self._clients: dict[str, dict[str, None]] = {}

    def takes(self, entry: Entry) -> bool:
        """Whether the *entry* is to be shown."""
        rule = entry.first.rule
        self._seen[rule] += 1
        if self._seen[rule] <= _OF_EACH and self._shown < _SHOWN:
            self._shown += 1
            return True
        self._by_rule[rule] += 1
        self._clients.setdefault(rule, {}).update(dict.fromkeys(entry.first.subject.clients or ("the charter",)))
        return False

    def words(self) -> Iterable[Drawn]:
        """What was left out: the rules with the most of it, and how to see it."""
        total = self._by_rule.total()
        if not total:
            return
        rules = self._by_rule.most_common()
        if any(number > 1 for _, number in rules):
            rows = [(rule, f"{number:,}", joined_words(list(self._clients[rule]), _CLIENTS)) for rule, number in rules[:_RULES]]
            rest = rules[_RULES:]
            if rest:
                rows.append((counted(len(rest), "other rule"), f"{sum(number for _, number in rest):,}", ""))
            yield table([("not shown", "left"), ("more", "right"), ("in", "left")], rows)
        yield joined(f"and {total:,} more: ", ("lemmar audit --all", "strong"), ", or those of one rule: ", ("--rule NAME", "strong"))
        yield ""


def _waived(waived: list[Finding], days: Mapping[str, int]) -> Iterable[Drawn]:
    """A line for each waiver that accepts some: how many of which rule, and how long yet."""
    yield joined((f"{'waived':<8}", "strong"), f"{counted(len(waived), 'finding')} accepted by the charter")
    numbers = Counter((finding.rule, finding.waiver) for finding in waived)
    for (rule, reason), number in numbers.items():
        yield indented(f"{number:,} of {rule}, for {counted(days[reason or ''], 'day')} yet: {reason}", 8)
    yield ""


def _by_client(verdict: Verdict) -> Drawn:
    rows = []
    for client in verdict.clients:
        own = [finding for finding in verdict.findings if client.name in finding.subject.clients and standing(finding) == finding.severity]
        number = [sum(finding.severity == name for finding in own) for name in reversed(SEVERITIES)]
        whole = [tag for tag in client.shipping if tag in client.answers and client.answers[tag].is_complete]
        rows.append((client.name, client.kind, *number, f"{len(whole)} of {len(client.shipping)}"))
    columns = [
        ("client", "left"),
        ("kind", "left"),
        ("errors", "right"),
        ("warnings", "right"),
        ("notes", "right"),
        ("shipping locales complete", "right"),
    ]
    return table(columns, rows)
