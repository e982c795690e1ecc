"""Answers that came back, each matched with the text that it is to: by its id, else by the source beside it, else by the key that is named.

Nothing is lost: every row of every file ends as one `Row`, with what became of it and why.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import Literal, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.handoff.forms import Answer, Expected
from lemmar.handoff.plainly import plainly
from lemmar.handoff.texts import Text
from lemmar.tags import Tag

#: What became of a row: it is *taken*; it is *there* already, or another row says the *same*; it is *open*, as nothing was written; it is *held* back,
#: since something is wrong with it; several rows *disagree*; the text that it is to is not *known* any more; it is sound and *waiting* for a file that must
#: be mended first.
Fate = Literal["taken", "there", "same", "open", "held", "disagree", "unknown", "waiting"]
FATES: tuple[Fate, ...] = ("taken", "there", "same", "open", "held", "disagree", "unknown", "waiting")


class File(NamedTuple):
    """A file that came back: its name, its form, the roster's locale that it is in, its answers, and what of it could not be read."""

    name: str
    form: str
    locale: Tag
    answers: tuple[Answer, ...]
    faults: tuple[str, ...]


class Row(NamedTuple):
    """A row of a file: the answer, the text that it is to (None: none is known), the form of it, what became of it and why."""

    file: File
    answer: Answer
    text: Text | None
    form: str
    fate: Fate
    reason: str = ""

    @property
    def place(self) -> str:
        """``answers.csv:12``."""
        return f"{self.file.name}:{self.answer.line}"


class Offer(NamedTuple):
    """What a locale is offered for a text: its forms, with the rows that they came in; whether the translator says that it is *final*."""

    locale: Tag
    text: Text
    forms: Mapping[str, str]
    rows: tuple[Row, ...]
    final: bool


class Sorted(NamedTuple):
    """The rows whose fate is known, and what the others offer."""

    rows: list[Row]
    offers: list[Offer]


def sort(files: Iterable[File], texts: Sequence[Text], expected: Expected, so_far: Mapping[tuple[Tag, str], Mapping[str, str]]) -> Sorted:
    """The *files*' rows, matched with the product's *texts*; *so_far* is what a locale has for a text, by its id and form, as people are given it."""
    by_id = {text.id: text for text in texts}
    by_key = _by_key(texts)
    rows: list[Row] = []
    offered: dict[tuple[Tag, str], dict[str, list[Row]]] = {}
    for file in files:
        for answer in file.answers:
            text, why = _match(answer, by_id, by_key, expected)
            form = _form(answer, text)
            row = Row(file, answer, text, form, "taken")
            held = so_far.get((file.locale, text.id), {}) if text is not None else {}
            if not answer.text.strip():
                rows.append(row._replace(fate="open", reason="nothing is written there"))
            elif answer.state == "initial" and plainly(answer.text) == plainly(held.get(form, held.get("", ""))):
                rows.append(row._replace(fate="open", reason="it is as it was sent out, and not marked as done"))
            elif text is None:
                rows.append(row._replace(fate="unknown", reason=why))
            else:
                offered.setdefault((file.locale, text.id), {}).setdefault(form, []).append(row)
    offers = []
    for (locale, name), forms in offered.items():
        chosen, settled = _chosen(forms)
        rows += settled
        if chosen:
            offers.append(
                Offer(
                    locale,
                    by_id[name],
                    {form: row.answer.text for form, row in chosen.items()},
                    tuple(chosen.values()),
                    all(row.answer.state == "final" for row in chosen.values()),
                )
            )
    return Sorted(rows, offers)


_KeyName = tuple[str, str]
#: What says where a text is used is shorter.
_MOST_USED = 2_000


def _by_key(texts: Sequence[Text]) -> dict[_KeyName, Text]:
    return {(client, use.key.replace("\x04", " | ")): text for text in texts for use in text.uses for client in use.clients}


#: ``booking-site, trail-pocket: hut: hut.near (clients/…/hut.json:4)``, as a brief says where a text is used.
_USED = expression(r"(?P<clients>[^:]+): (?:(?P<part>[^:()]+): )?(?P<key>.+?) \([^()]*:[0-9]+\)\Z")


def _match(answer: Answer, by_id: Mapping[str, Text], by_key: Mapping[_KeyName, Text], expected: Expected) -> tuple[Text | None, str]:
    """The text that an answer is to; else None and why."""
    if answer.id in by_id:
        return by_id[answer.id], ""
    ids = expected.by_source.get(plainly(answer.source), ()) if answer.source.strip() else ()
    used = _USED.match(answer.key[:_MOST_USED])
    keyed = (
        next((by_key[client, used["key"]] for client in used["clients"].split(", ") if (client, used["key"]) in by_key), None)
        if used
        else None
    )
    if len(ids) == 1:
        return by_id[ids[0]], ""
    if len(ids) > 1:
        if keyed is not None and keyed.id in ids:
            return keyed, ""
        return None, f"{len(ids)} texts say {answer.source.strip()!r}; which one is meant is not plain without the text id"
    if keyed is not None:
        return None, f"the source has been changed since: it says {keyed.shown!r} now"
    if answer.id.startswith("t-") and answer.source.strip():
        return None, "the source has been changed since, or the text is gone"
    return None, "no text of the product has this id or this source"


def _form(answer: Answer, text: Text | None) -> str:
    """Which form of its text an answer is: the one that it names, if that has forms; where it names none, the one whose source stands beside it."""
    if text is None or not text.is_counted:
        return ""
    return answer.form or next((form for form, words in text.forms.items() if plainly(words) == plainly(answer.source)), "other")


def _chosen(forms: Mapping[str, list[Row]]) -> tuple[dict[str, Row], list[Row]]:
    """One row for each form, where all rows of it say the same; and the others, with their fate. Where rows of a form disagree, all of the text wait."""
    chosen: dict[str, Row] = {}
    settled: list[Row] = []
    for form, rows in forms.items():
        said = {_same(row.answer.text): row for row in reversed(rows)}
        if len(said) == 1:
            chosen[form] = rows[0]
            settled += [row._replace(fate="same", reason=f"it says what {rows[0].place} says") for row in rows[1:]]
            continue
        for row in rows:
            others = " or ".join(
                f"{other.answer.text!r} ({other.place})" for other in said.values() if _same(other.answer.text) != _same(row.answer.text)
            )
            settled.append(row._replace(fate="disagree", reason=f"another row says {others}; which one is right?"))
    if any(row.fate == "disagree" for row in settled):
        settled += [row._replace(fate="held", reason="another form of this text is in question") for row in chosen.values()]
        chosen = {}
    return chosen, settled


def _same(text: str) -> str:
    return " ".join(text.split())


def counts(rows: Iterable[Row]) -> dict[Fate, int]:
    """How many rows had each fate."""
    found = dict.fromkeys(FATES, 0)
    for row in rows:
        found[row.fate] += 1
    return found
