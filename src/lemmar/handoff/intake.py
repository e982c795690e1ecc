"""Answers taken back: held against today's source, put into every catalog that needs them, audited; what is not sound is named and put in no file.

The audit is the judge: a translation because of which a rule reports an error or a warning that it did not report before is not taken, with the rule's own
words.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Mapping, Sequence
from typing import NamedTuple

from lemmar.findings import Finding, Verdict
from lemmar.handoff.answers import File as Came
from lemmar.handoff.answers import Offer, Row, sort
from lemmar.handoff.checking import doubtful, language_of_another, put_right, wrong_with
from lemmar.handoff.forms import Expected
from lemmar.handoff.hints import in_words, numbers_of
from lemmar.handoff.needs import needs, own_tag, translation
from lemmar.handoff.placing import Placed, in_syntax, place
from lemmar.handoff.texts import Name, Text, Use
from lemmar.syntax import NotWrittenError
from lemmar.tags import LanguageTag, Tag
from lemmar.tags.naming import english_name
from lemmar.trees import File
from lemmar.work.changes import Changes
from lemmar.work.places import Monorepo


class Taken(NamedTuple):
    """What taking answers back comes to: every row with its fate; into how many places the taken ones go; the verdict then, and the findings that are new and
    of no single text.
    """

    rows: tuple[Row, ...]
    places: int
    verdict: Verdict
    new: tuple[Finding, ...]
    gone: int


#: So often what the audit has something against is taken out and the rest tried again; after that, all that goes into the same catalogs is.
_TRIES = 4


def take(
    monorepo: Monorepo,
    texts: Sequence[Text],
    expected: Expected,
    files: Sequence[Came],
    changed: Mapping[Tag, frozenset[Name]],
    replace: bool,
) -> Taken:
    """Takes the answers of *files* into the monorepo's changes; *changed* are the messages whose source was changed after their translation. With *replace*
    texts give way that nobody has asked for.

    Raises:
        LemmarError: the audit could not be made.
    """
    locales = list(dict.fromkeys(file.locale for file in files))
    wanted: dict[tuple[Tag, str], tuple[Use, ...]] = {}
    so_far: dict[tuple[Tag, str], Mapping[str, str]] = {}
    for locale in locales:
        for need in needs(monorepo.world, texts, locale, changed.get(locale, frozenset())):
            wanted[locale, need.text.id] = need.uses
            if need.so_far:
                so_far[locale, need.text.id] = in_words(need.uses[0], need.text, need.so_far)
    found = sort(files, texts, expected, so_far)
    rows = list(found.rows)
    sound = [offer for offer in _of_the_language(found.offers, rows) if _is_sound(offer, monorepo, rows)]
    rows, offers = _needed(rows, [_put_right(offer) for offer in sound], wanted, replace)
    return _judged(monorepo, rows, offers)


def _of_the_language(offers: Sequence[Offer], rows: list[Row]) -> list[Offer]:
    """The offers of the files that are in the language that they should be in."""
    by_file: dict[str, list[Offer]] = {}
    for offer in offers:
        by_file.setdefault(offer.rows[0].file.name, []).append(offer)
    left = []
    for those in by_file.values():
        locale = those[0].locale
        other = language_of_another([words for offer in those for words in offer.forms.values()], locale)
        if other is None:
            left += those
            continue
        words = f"the texts of this file are in {english_name(LanguageTag.parse(other))}, not in {english_name(LanguageTag.parse(locale))}"
        rows += [row._replace(fate="held", reason=words) for offer in those for row in offer.rows]
    return left


def _put_right(offer: Offer) -> Offer:
    text = offer.text
    forms = {form: put_right(words, text.forms.get(form, text.shown), not text.syntax) for form, words in offer.forms.items()}
    return offer._replace(forms=forms)


def _is_sound(offer: Offer, monorepo: Monorepo, rows: list[Row]) -> bool:
    """Whether an offer is complete and has the source's placeholders; else its rows are not taken."""
    own = monorepo.read.charter.locale.get(offer.locale)
    forms = numbers_of(offer.locale, tuple(own.plural) if own is not None else ()) if offer.text.is_counted else {"": ""}
    reason = wrong_with(offer.text, _put_right(offer).forms, forms)
    if not reason and not offer.final:
        reason = doubtful(offer.text, offer.forms, offer.locale)
    if reason:
        rows += [row._replace(fate="held", reason=reason) for row in offer.rows]
    return not reason


class _Going(NamedTuple):
    """An offer, and the uses that it goes to."""

    offer: Offer
    uses: tuple[Use, ...]


def _needed(
    rows: list[Row], offers: Iterable[Offer], wanted: Mapping[tuple[Tag, str], tuple[Use, ...]], replace: bool
) -> tuple[list[Row], list[_Going]]:
    """The offers that are needed somewhere, with where; those that say what is there already are done."""
    going = []
    for offer in offers:
        uses = wanted.get((offer.locale, offer.text.id), ())
        differing = [] if uses else [use for use in offer.text.uses if _says_other(use, offer)]
        if uses:
            going.append(_Going(offer, uses))
        elif not differing:
            carried = any(own_tag(use.client, offer.locale) is not None for use in offer.text.uses)
            reason = "" if carried else f"no client has {offer.locale!r} yet; enrol it first"
            rows += [row._replace(fate="there" if carried else "held", reason=reason) for row in offer.rows]
        elif replace:
            going.append(_Going(offer, tuple(differing)))
        else:
            held = translation(differing[0], offer.locale)
            there = next(iter(in_words(differing[0], offer.text, held).values()), "")
            words = f"{differing[0].clients[0]} has another text by now: {there!r}; --replace writes over it"
            rows += [row._replace(fate="held", reason=words) for row in offer.rows]
    return rows, going


def _says_other(use: Use, offer: Offer) -> bool:
    """Whether a client that carries the locale has another text than the one offered."""
    held = translation(use, offer.locale)
    return bool(held) and {
        form: " ".join(words.split()) for form, words in in_words(use, offer.text, held).items() if form in offer.forms
    } != {form: " ".join(words.split()) for form, words in offer.forms.items() if form in in_words(use, offer.text, held)}


def _judged(monorepo: Monorepo, rows: list[Row], going: list[_Going]) -> Taken:
    """Places what is offered, and has the audit look at it, until it has nothing against what is left."""
    before = {finding.fingerprint for finding in monorepo.before.verdict.findings}
    left = list(going)
    waiting: dict[Name, tuple[Use, str]] = {}
    new: list[Finding] = []
    placed: list[Placed] = []
    for attempt in itertools.count():  # each time less is left
        monorepo.changes = Changes(monorepo.tree)
        placed, refused = _placed(left)
        blocked = place(monorepo, placed) if not refused else []
        if blocked:
            waiting |= {each.use.name: (each.use, each.reason) for each in blocked}
            left = _without(left, waiting, rows)
            continue
        if not refused:
            found = monorepo.now().verdict if left else monorepo.before.verdict
            new = [finding for finding in found.findings if finding.fingerprint not in before and finding.waiver is None]
            refused = _against(left, new)
        if not refused:
            break
        why = dict(refused) if attempt < _TRIES else _beside(left, dict(refused))
        rows += [row._replace(fate="held", reason=why[number]) for number in why for row in left[number].offer.rows]
        left = [each for number, each in enumerate(left) if number not in why]
    for use, reason in waiting.values():
        monorepo.changes.step(f"mend it: {use.clients[0]} cannot take {use.key!r}: {reason}", File(use.holder.file))
    verdict = monorepo.now().verdict if left else monorepo.before.verdict
    known = {finding.fingerprint for finding in verdict.findings}
    rows += [row._replace(fate="taken") for each in left for row in each.offer.rows]
    return Taken(tuple(_in_order(rows)), len(placed), verdict, tuple(new), len(before - known))


def _beside(left: Sequence[_Going], refused: Mapping[int, str]) -> dict[int, str]:
    """What is refused, and all that goes into the same catalogs, with the reasons."""

    def catalogs(number: int) -> set[tuple[str, Tag, str | None]]:
        return {(use.client.name, left[number].offer.locale, use.part) for use in left[number].uses}

    touched = {each for number in refused for each in catalogs(number)}
    words = "it goes into a catalog in which too much else is wrong; take it in again once that is mended"
    return {number: refused.get(number, words) for number in range(len(left)) if number in refused or catalogs(number) & touched}


def _without(left: Sequence[_Going], waiting: Mapping[Name, tuple[Use, str]], rows: list[Row]) -> list[_Going]:
    """What is left without the uses that wait for their file; an offer of which no use is left waits with them."""
    found = []
    for each in left:
        uses = tuple(use for use in each.uses if use.name not in waiting)
        if uses:
            found.append(each._replace(uses=uses))
        else:
            reason = waiting[each.uses[0].name][1]
            words = f"its file must be mended first, and it taken in again: {reason}"
            rows += [row._replace(fate="waiting", reason=words) for row in each.offer.rows]
    return found


def _in_client(use: Use, reason: str) -> str:
    return f"{use.clients[0]} cannot take it: {reason}"


def _placed(left: Sequence[_Going]) -> tuple[list[Placed], list[tuple[int, str]]]:
    """Each offer for each of its uses, in that one's syntax; and those that have no such form."""
    found, refused = [], []
    for number, each in enumerate(left):
        for use in each.uses:
            try:
                forms = in_syntax(each.offer.text, use, each.offer.forms)
            except NotWrittenError as error:
                refused.append((number, _in_client(use, str(error))))
                break
            found.append(Placed(number, each.offer.text, use, each.offer.locale, forms))
    return found, refused


#: A text that is final may be the source's.
_FINAL = frozenset({"message.same-as-source"})


def _against(left: Sequence[_Going], new: Sequence[Finding]) -> list[tuple[int, str]]:
    """The offers that the audit has something against, and what."""
    by_name: dict[tuple[str, Tag, str | None, str], list[int]] = {}
    for number, each in enumerate(left):
        for use in each.uses:
            for client in use.clients:
                by_name.setdefault((client, each.offer.locale, use.part, use.key), []).append(number)
    found: dict[int, str] = {}
    for finding in new:
        subject = finding.subject
        if finding.severity == "note" or subject.key is None or subject.locale is None:
            continue
        for client in subject.clients:
            for at in by_name.get((client, Tag(subject.locale), subject.part, subject.key), ()):
                if not (finding.rule in _FINAL and left[at].offer.final):
                    found.setdefault(at, f"{finding.message} [{finding.rule}]")
    return list(found.items())


def _in_order(rows: Iterable[Row]) -> list[Row]:
    return sorted(rows, key=lambda row: (row.file.name, row.answer.line, row.form))
