"""Enrolling a locale: all that must change so that every client carries it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from lemmar.basics.errors import LemmarError, UsageError
from lemmar.basics.phrasing import counted, listed
from lemmar.findings import Finding
from lemmar.resolve.landings import AGREE, landed
from lemmar.resolve.world import Client, World
from lemmar.tags import LanguageTag, Tag, TagError, direction, same_locale
from lemmar.tags.naming import english_name, own_name, subtag_name
from lemmar.trees import File
from lemmar.work import catalogs, claims
from lemmar.work.changes import Step
from lemmar.work.charters import listed as as_list
from lemmar.work.places import Monorepo, Outcome, outcome, steps_of

#: What a client says of the locales that it carries.
CARRYING = ("supported", "offered", "routed")


class Moved(NamedTuple):
    """A request that lands elsewhere than before in a client; *before* is None where the client is new."""

    client: str
    request: str
    before: Tag
    after: Tag


class Work(NamedTuple):
    """What there is to translate in a client: messages of the source, and the words in them."""

    client: str
    messages: int
    words: int


class Enrolment(NamedTuple):
    """What enrolling a locale, or retiring one, means: how many places change, what there is to translate, whose users land elsewhere, what is new to the
    product, what is left for a person, and what the audit says afterwards (None where it could not be made).
    """

    locale: Tag
    work: tuple[Work, ...]
    moved: tuple[Moved, ...]
    news: tuple[str, ...]
    steps: tuple[Step, ...]
    outcome: Outcome | None


def known_tag(text: str) -> Tag:
    """*text* as a tag that may be enrolled. Raises `UsageError` for what is none, or is not in its canonical form."""
    try:
        tag = LanguageTag.parse(text)
    except TagError as error:
        raise UsageError(f"{text!r} is no language tag: {error}; 'lemmar tag {text}' says more") from error
    if not tag.valid:
        problem = next((each for each in tag.problems() if each.invalid), None)
        raise UsageError(f"{text!r} is not registered{f': {problem.advice}' if problem else ''}; 'lemmar tag {text}' says more")
    if str(tag.canonical()) != text:
        raise UsageError(f"{text!r} is written {str(tag.canonical())!r}")
    return Tag(text)


def enroll(monorepo: Monorepo, locale: Tag, trial: float | None = None, like: Tag | None = None) -> Enrolment:
    """All changes that carry *locale*: as a shipping one, or on *trial* with a share of messages that it must reach; made after the example of *like*, if
    that is given.

    Raises:
        UsageError: the roster has it already by another name, or has no *like*.
    """
    charter = monorepo.read.charter
    if like is not None and like not in charter.locales:
        raise UsageError(f"the roster has no {like!r} after which another could be made; it has {listed(charter.locales)}")
    other = next(
        (tag for tag in charter.locales if tag != locale and LanguageTag.parse(tag).canonical() == LanguageTag.parse(locale).canonical()),
        None,
    )
    if other is not None or locale in charter.roster.pseudo:
        raise UsageError(f"the roster has {locale!r} already, {f'as {other!r}' if other else 'as a test locale'}")
    before = monorepo.world
    _enter(monorepo, locale, trial)
    done: set[str] = set()
    for client in before.clients:
        carry(monorepo, client, locale, like, done)
    after = settle(monorepo, locale)
    result, steps = judged(monorepo, locale)
    lands = tuple(moved(before, after, locale)) if after is not None else ()
    return Enrolment(locale, tuple(_work(before, locale)), lands, tuple(_news(before, locale)), (*monorepo.changes.steps, *steps), result)


def _enter(monorepo: Monorepo, locale: Tag, trial: float | None) -> None:
    """Puts the locale on the roster; from trial to shipping where it was on trial and no share is given."""
    text, roster = monorepo.charter(), monorepo.read.charter.roster
    if trial is None:
        text.take_member(locale, "roster", "trial")
        if locale not in roster.shipping:
            text.add_to_list(locale, "roster", "shipping")
    elif locale in roster.shipping:
        raise UsageError(f"{locale!r} ships already; to put it on trial again, retire it first or edit the roster")
    elif locale in roster.trial:
        text.replace_value(_share(trial), "roster", "trial", locale)
    else:
        text.add_member(locale, _share(trial), "roster", "trial", after="shipping")
    chain = _chain(monorepo.world, locale)
    if chain is not None and locale not in monorepo.read.charter.chains:
        text.add_member(locale, as_list(chain), "chains")
    monorepo.keep(text)


def _share(trial: float) -> str:
    return f"{trial:.2f}"


def _chain(world: World, locale: Tag) -> list[Tag] | None:
    """The chain that the locale needs of its own: where the roster has locales of its language and script that it should fall back to; else None."""
    charter, tag = world.charter, LanguageTag.parse(locale)
    default = list(charter.default_chain)
    links = [Tag(str(parent)) for parent in tag.parents()]
    own = [
        link
        for link in charter.locales
        if link != locale and any(same_locale(LanguageTag.parse(link), LanguageTag.parse(parent)) for parent in links)
    ]
    own = [link for link in own if link not in default]
    return [*own, *default] if own else None


def carry(monorepo: Monorepo, client: Client, locale: Tag, like: Tag | None = None, done: set[str] | None = None) -> None:
    """What a client must state and hold of the locale; *done* are catalogs that are ready already, as several clients may share one."""
    changes, done = monorepo.changes, set() if done is None else done
    if locale in _exempt(monorepo, client):
        return
    state(monorepo, client, locale, like)
    for catalog in monorepo.catalogs(client):
        name = f"{catalog.base}/{catalog.entry.files}"
        if name in done or catalog.entry.built or locale in catalog.entry.without:
            continue
        done.add(name)
        catalogs.add(changes, catalog, locale, like)


def state(monorepo: Monorepo, client: Client, locale: Tag, like: Tag | None = None) -> None:
    """What a client must state of the locale."""
    changes = monorepo.changes
    for place in monorepo.claims(client, *CARRYING):
        with changes.or_step(f"add {locale!r} to what {client.name} states as {place.entry.states} here", place.file):
            claims.add(changes, place, locale, like)
    chain = monorepo.read_now().charter.chains.get(locale)
    for place in monorepo.claims(client, "chain") if chain is not None else ():
        with changes.or_step(f"let {locale!r} fall back to {listed(chain or ())} here", place.file):
            claims.add_link(changes, place, locale, chain or ())


def _exempt(monorepo: Monorepo, client: Client) -> frozenset[Tag]:
    entry = next(entry for entry in monorepo.read.charter.client if entry.name == client.name)
    return frozenset(entry.without)


def settle(monorepo: Monorepo, locale: Tag) -> World | None:
    """Lets the audience want what its requests now get, where that is the new locale; gives the world as it would be."""
    try:
        after = monorepo.now().world
    except LemmarError as error:
        monorepo.changes.step(f"the charter would have a mistake: {error}", monorepo.charter_file)
        return None
    text = monorepo.charter()
    before = text.text
    for request, wanted in after.charter.audience.items():
        if wanted != locale and (request == locale or (wanted != AGREE and _suits_better(request, locale, wanted))):
            text.replace_value(f'"{locale}"', "audience", request)
    monorepo.keep(text)
    return after if text.text == before else monorepo.now().world


def _suits_better(request: str, locale: Tag, wanted: str) -> bool:
    """Whether *locale* is in the language and script of a *request* that so far is to get another language, or the same in another script."""
    try:
        asked, own, other = (LanguageTag.parse(text).maximized() for text in (request, locale, wanted))
    except TagError:
        return False
    return (asked.language, asked.script) == (own.language, own.script) != (other.language, other.script)


def judged(monorepo: Monorepo, locale: Tag, was: Tag | None = None) -> tuple[Outcome | None, list[Step]]:
    """What the audit says afterwards; what is new in it, but for texts that are to be written and what a step explains, is for a person."""
    try:
        result = outcome(monorepo, locale, was)
    except LemmarError as error:
        return None, [Step(f"the audit could not be made: {error}")]
    by_hand = [step.file for step in monorepo.changes.steps if step.file is not None]
    explained = [
        finding.rule in _OF_STEPS and finding.subject.locale == locale and any(_lies_in(monorepo, finding, file) for file in by_hand)
        for finding in result.new
    ]
    new = tuple(finding for finding, known in zip(result.new, explained, strict=True) if not known)
    return result._replace(new=new), steps_of(new)


#: What is wrong in a client so long as a place of it is not edited.
_OF_STEPS = frozenset({"roster.absent", "roster.hollow", "roster.split", "catalog.absent", "chain.dead-end"})


def _lies_in(monorepo: Monorepo, finding: Finding, file: File) -> bool:
    roots = [client.root for client in monorepo.world.clients if client.name in finding.subject.clients]
    return any(root == "." or file.startswith(f"{root}/") for root in roots)


_WORD = re.compile(r"[^\W_]+(?:['’-][^\W_]+)*")


def _work(world: World, locale: Tag) -> Iterator[Work]:
    """What there is to translate, by client: a text that several catalogs have counts in each."""
    for client in world.clients:
        held = client.effects.get(locale)
        own = {(absence.space, absence.key) for absence in held.absences} if held is not None else None
        messages = words = 0
        for space, source in client.sources.items():
            for catalog in source.catalogs:
                for key, text in zip(catalog.column.keys, catalog.column.texts, strict=True):
                    if key in source.key_set and key not in source.fixed and (own is None or (space, key) in own):
                        messages += 1
                        words += len(_WORD.findall(text or ""))
        yield Work(client.name, messages, words)


def requests_about(world: World, locale: Tag) -> list[str]:
    """The requests that a locale may answer: it itself, those of the charter's audience, and its language in the regions where the product is asked for."""
    tag = LanguageTag.parse(locale)
    near = [str(tag), tag.language, *_REGIONS.get(tag.language, ())]
    whole = tag.maximized()
    near.append(f"{tag.language}-{whole.region}" if whole.region else tag.language)
    return list(dict.fromkeys([*near, *world.charter.audience]))


#: Regions in which languages of several are asked for, those first whose users are often forgotten.
_REGIONS = {
    "zh": ("zh-TW", "zh-HK", "zh-CN", "zh-SG"),
    "de": ("de-AT", "de-CH", "de-LI"),
    "es": ("es-MX", "es-AR", "es-ES", "es-US"),
    "pt": ("pt-PT", "pt-BR", "pt-AO"),
    "fr": ("fr-CA", "fr-CH", "fr-BE"),
    "en": ("en-GB", "en-AU", "en-IN"),
    "sr": ("sr-RS", "sr-ME", "sr-BA"),
    "nb": ("no", "nb-NO"),
    "no": ("no", "nb", "nb-NO", "nn-NO"),
    "ar": ("ar-EG", "ar-SA", "ar-MA"),
    "nl": ("nl-BE",),
    "it": ("it-CH",),
}


def moved(before: World, after: World, locale: Tag) -> Iterator[Moved]:
    """The requests that land elsewhere than before."""
    old = {client.name: client for client in before.clients}
    for request in requests_about(after, locale):
        for client in after.clients:
            was, now = landed(before, old[client.name], request).locale, landed(after, client, request).locale
            if was != now:
                yield Moved(client.name, request, was, now)


def _news(world: World, locale: Tag) -> Iterator[str]:
    """What the locale brings that no other of the roster has: a script, a direction, plural categories."""
    tag = LanguageTag.parse(locale).maximized()
    others = [LanguageTag.parse(other).maximized() for other in world.charter.locales if other != locale]
    if tag.script and tag.script not in {other.script for other in others}:
        yield f"{english_name(LanguageTag.parse(locale))} is written in {subtag_name('script', tag.script)}, which is new here: fonts must have it"
    if direction(tag) == "rtl" and all(direction(other) == "ltr" for other in others):
        yield "it is the first locale that is written from right to left: layouts must be mirrored"


def summary(enrolment: Enrolment) -> str:
    """``56 messages with 212 words in 3 clients``."""
    asked = [work for work in enrolment.work if work.messages]
    messages, words = sum(work.messages for work in asked), sum(work.words for work in asked)
    return f"{counted(messages, 'message')} with {counted(words, 'word')} in {counted(len(asked), 'client')}"


def named(locale: Tag) -> str:
    """``Croatian, hrvatski``."""
    tag = LanguageTag.parse(locale)
    own = own_name(tag)
    return english_name(tag) + (f", {own}" if own and own != english_name(tag) else "")
