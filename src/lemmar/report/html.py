"""A page that works from disk, with no network: the verdict, the grid, all findings to be searched, and what clients claim and do.

Nothing that comes from a catalog, a key or a file's name is markup or script in it: the template escapes all, the findings are data, and the page's
own policy lets only its one script and style take effect.
"""

from __future__ import annotations

import base64
import hashlib
from collections import Counter
from collections.abc import Iterable, Iterator
from importlib import resources
from typing import Any

from lemmar import __version__
from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import counted
from lemmar.basics.text import visible
from lemmar.findings import SEVERITIES, Answer, Finding, Outcome, Verdict
from lemmar.report._basis import SIGNS
from lemmar.report._cells import json_of
from lemmar.report._counting import counts, standing
from lemmar.report._drawing import Page
from lemmar.report._output import Filter, Output
from lemmar.report._shares import heat, share

_MARKS = {"error": "■", "warning": "▲", "note": "●", "waived": "○", "known": "○"}
_WORDS = {
    "own": "own",
    "inherited": "inherited",
    "foreign": "in another language",
    "key": "as the raw key",
    "blank": "blank",
    "error": "as an error",
}
_BETWEEN = "\0"
#: Stands in a sentence for a quotation: no text has it, as it would be made visible.
_GAP = "\1"
_SIGNS = expression(r"[^\0\1]+")
_QUOTED = expression(r"(?<!\w)'([^'\\\0\1]+)'(?!\w)")


def findings(verdict: Verdict, _shown: Filter, _page: Page) -> Iterator[str]:
    """The whole verdict as one page."""
    from jinja2 import Environment, PackageLoader, StrictUndefined
    from markupsafe import Markup

    folder = resources.files("lemmar.report") / "page"
    script, style = ((folder / name).read_text("utf-8") for name in ("report.js", "report.css"))
    environment = Environment(loader=PackageLoader("lemmar.report", "page"), autoescape=True, undefined=StrictUndefined, auto_reload=False)
    environment.filters["shown"] = lambda text: visible(str(text))
    template = environment.get_template("report.html.jinja")
    found = counts(verdict.findings)
    yield from template.generate(
        verdict=verdict,
        summary=_summary(verdict),
        counts=_counted(found),
        marks=_MARKS,
        script=Markup(script),
        style=Markup(style),
        script_hash=Markup(_hash(script)),
        style_hash=Markup(_hash(style)),
        heat=heat,
        spelled=_spelled,
        share=share,
        claimed=lambda client: _claimed(client, verdict),
        facts=list(dict.fromkeys(each.fact for client in verdict.clients for each in client.basis)),
        signs=SIGNS,
        requests=[each.request for each in verdict.clients[0].landings] if verdict.clients else [],
        waivers=_waivers(verdict),
        version=__version__,
        data=map(Markup, _data(verdict)),
    )


def _counted(found: dict[str, int]) -> list[tuple[str, str, str]]:
    """The counts that are shown: of what counts as what, the number, and the word for so many."""
    severities = [(name, f"{found[name]:,}", name if found[name] == 1 else f"{name}s") for name in reversed(SEVERITIES)]
    return severities + [(name, f"{found[name]:,}", name) for name in ("waived", "known") if found[name]]


def _summary(verdict: Verdict) -> str:
    words = f"{counted(len(verdict.clients), 'client')}{' alone' if verdict.alone else ''}, {counted(len(verdict.locales), 'locale')}"
    if verdict.since is not None:
        words += f"; compared with {visible(verdict.since)}, {counted(verdict.gone, 'finding')} of which {'is' if verdict.gone == 1 else 'are'} gone"
    if verdict.assuming:
        words += f"; assuming {verdict.assuming}"
    return words


def _spelled(answer: Answer) -> str:
    """The counts in words: ``98 of 100 messages own, 2 in another language``."""
    said = [f"{number:,} {_WORDS[name]}" for name, number in zip(Answer._fields, answer, strict=True) if number]
    return f"of {counted(answer.messages, 'message')} {', '.join(said) or 'none'}"


def _claimed(client: Outcome, verdict: Verdict) -> list[str]:
    more = sorted({tag for claim in client.claims for tag in claim.written} - set(verdict.locales))
    return [*verdict.locales, *more]


def _waivers(verdict: Verdict) -> list[tuple[str, str, int]]:
    numbers = Counter((finding.waiver, finding.rule) for finding in verdict.findings if finding.waiver is not None)
    accepted: dict[str, list[str]] = {}
    for (reason, rule), number in numbers.items():
        accepted.setdefault(str(reason), []).append(f"{number:,} of {rule}")
    return [
        (reason, ", ".join(accepted.get(reason, ["nothing"])), days)
        for reason, days in sorted(verdict.days.items(), key=lambda each: each[1])
    ]


def _hash(code: str) -> str:
    return f"sha256-{base64.b64encode(hashlib.sha256(code.encode('utf-8')).digest()).decode('ascii')}"


# ---------------------------------------------------------------------------------------------------------------- the data


class _Texts:
    """Every text once; a row has its number. A sentence is what stands around its quotations, and these: keys, locales, texts come again and again."""

    def __init__(self) -> None:
        self.numbers: dict[str, int] = {}

    def of(self, text: str | None) -> str:
        """The number of *text*, as people are shown it; -1 of none."""
        return "-1" if not text else str(self.numbers.setdefault(text, len(self.numbers)))

    def sentence(self, text: str) -> str:
        """A list of numbers: of the sentence with a gap for each quotation, and of what stands in the gaps; -1 of none."""
        if not text:
            return "-1"
        if _GAP in text or _BETWEEN in text:
            return f"[{self.of(visible(text))}]"
        quoted: list[str] = []
        gaps = _QUOTED.sub(lambda match: quoted.append(match[1]) or _GAP, text)  # type: ignore[func-returns-value]
        return f"[{','.join(map(self.of, (gaps, *quoted)))}]"


def _data(verdict: Verdict) -> Iterator[str]:
    """The findings as JSON, in pieces, without any sign that ends a script."""
    from lemmar.rules import all_rules

    texts = _Texts()
    yield '{"rows":['
    comma = ""
    for finding in verdict.findings:
        yield f"{comma}[{','.join(_row(finding, texts))}]"
        comma = ",\n"
    yield '],"texts":['
    comma = ""
    for text in texts.numbers:
        yield comma + _inert(_shown(text))
        comma = ","
    names = {finding.rule for finding in verdict.findings}
    rules = {name: (rule.summary, rule.manual) for name, rule in all_rules().items() if name in names}
    seen = {
        visible(client.name): {locale: (_spelled(answer), list(_unread(client, locale))) for locale, answer in client.answers.items()}
        for client in verdict.clients
    }
    rest = {
        "since": verdict.since is not None,
        "rules": rules,
        "clients": [visible(client.name) for client in verdict.clients],
        "locales": list(verdict.locales),
        "seen": seen,
    }
    yield "],"
    yield ",".join(f'"{name}":{_inert(value)}' for name, value in rest.items())
    yield "}"


def _unread(client: Outcome, locale: Any) -> Iterable[tuple[str, str]]:
    for each in client.unread.get(locale, ()):
        where = f"read in {each.source}" if each.origin == "foreign" and each.source else f"seen {_WORDS[each.origin]}"
        more = f" and {each.number - len(each.keys):,} more" if each.number > len(each.keys) else ""
        yield f"{each.number:,} {where}", ", ".join(map(visible, each.keys)) + more


def _row(finding: Finding, texts: _Texts) -> Iterator[str]:
    subject, place = finding.subject, finding.place
    of = texts.of
    yield str(len(SEVERITIES) - 1 - SEVERITIES.index(finding.severity))
    yield {"known": "1", "waived": "2"}.get(standing(finding), "0")
    yield from (of(finding.rule), of(_BETWEEN.join(subject.clients)))
    yield from map(of, (subject.locale, subject.part, subject.key, subject.request, place.file if place is not None else None))
    yield from (str(place.line), str(place.column)) if place is not None else ("0", "0")
    yield from map(texts.sentence, (finding.message, finding.effect, finding.remedy))
    yield from (f'"{finding.fingerprint}"', of(finding.waiver), of(_BETWEEN.join(finding.owners)))
    related = (f"{of(other.file)},{other.line},{other.column}" for other in finding.related)
    yield f"[{','.join(related)}]"


def _shown(text: str) -> str:
    """A text as people are shown it, but for the signs that part and stand for others."""
    if text.isprintable():
        return text
    return _SIGNS.sub(lambda match: visible(match[0]), text)


def _inert(value: Any) -> str:
    """JSON that cannot end the element that it stands in."""
    return json_of(value).replace("<", "\\u003c").replace(">", "\\u003e").replace("&", "\\u0026")


OUTPUT = Output("html", findings=findings, streams=True)
