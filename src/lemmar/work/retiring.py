"""Retiring a locale: all that must change so that no client carries it any more."""

from __future__ import annotations

from lemmar.basics.errors import LemmarError, UsageError
from lemmar.basics.phrasing import joined, listed
from lemmar.resolve.runtimes import land
from lemmar.resolve.world import Client
from lemmar.tags import Tag
from lemmar.work import assets, catalogs, claims
from lemmar.work.changes import Step
from lemmar.work.charters import listed as as_list
from lemmar.work.enrolling import CARRYING, Enrolment, judged, moved
from lemmar.work.places import Monorepo, steps_of


def retire(monorepo: Monorepo, locale: Tag, drop_files: bool = False) -> Enrolment:
    """All changes that take *locale* off the roster and out of every claim; its catalogs stay, unless *drop_files*.

    Raises:
        UsageError: it is not on the roster, or it is the source or the last link of the default chain.
    """
    charter = monorepo.read.charter
    if locale not in charter.locales:
        raise UsageError(f"the roster has no {locale!r}; it has {listed(charter.locales, 40)}")
    if locale in (charter.source, charter.default):
        raise UsageError(
            f"{locale!r} is the {'source' if locale == charter.source else 'default'}; without it users would have nothing to fall back to"
        )
    _leave(monorepo, locale)
    done: set[str] = set()
    for client in monorepo.world.clients:
        _let_go(monorepo, client, locale, drop_files, done)
    after = None
    try:
        after = monorepo.now().world
    except LemmarError as error:
        monorepo.changes.step(f"the charter would have a mistake: {error}", monorepo.charter_file)
    result, steps = judged(monorepo, locale) if after is not None else (None, [])
    if not drop_files and result is not None:
        result = result._replace(
            new=tuple(finding for finding in result.new if finding.rule not in _OF_FILES or repr(str(locale)) not in finding.message)
        )
        steps = steps_of(result.new)
        by_files = [client.name for client in after.clients if locale in map(client.roster, client.supported)] if after is not None else []
        if by_files:
            several = len(by_files) > 1
            how = "take what they support from their files: they carry" if several else "takes what it supports from its files: it carries"
            steps.append(Step(f"{joined(by_files)} {how} {locale!r} so long as its catalogs stay; --drop-files deletes them"))
    lands = tuple(moved(monorepo.world, after, locale)) if after is not None else ()
    return Enrolment(locale, (), lands, (), (*monorepo.changes.steps, *steps), result)


#: What the audit says of catalogs that stay.
_OF_FILES = frozenset({"roster.orphan", "roster.split", "roster.surplus", "chain.unreachable"})


def _leave(monorepo: Monorepo, locale: Tag) -> None:
    """Takes the locale out of the charter: off the roster, out of chains and the audience, out of what clients are exempt from."""
    charter, text = monorepo.read.charter, monorepo.charter()
    text.take_from_list(locale, "roster", "shipping")
    text.take_member(locale, "roster", "trial")
    text.take_member(locale, "chains")
    for name, chain in charter.chains.items():
        if name != locale and locale in chain:
            text.replace_value(as_list([link for link in chain if link != locale]), "chains", name)
    for request, wanted in charter.audience.items():
        if wanted == locale:
            best = next((link for link in charter.chain(locale) if link != locale), charter.default)
            text.replace_value(f'"{best}"', "audience", request)
    monorepo.keep(text)
    for index, waiver in enumerate(charter.waiver):
        if waiver.locale == locale:
            line = monorepo.read.lines.nearest(("waiver", index))
            monorepo.changes.step(f"take the waiver for {locale!r} out: it would match nothing", monorepo.charter_file, line)
    for index, entry in enumerate(charter.client):
        if locale in entry.without or locale in entry.trial:
            line = monorepo.read.lines.nearest(("client", index))
            monorepo.changes.step(f"take {locale!r} out of what {entry.name} is exempt from, or has on trial", monorepo.charter_file, line)


def _sends_users(client: Client, locale: Tag) -> bool:
    """Whether the chain's entry for *locale* is what sends its users to a locale of theirs once it is not supported any more."""
    own = [tag for tag in client.runtime.supported if client.landed(tag) != locale]
    names = {tag.lower() for tag in client.runtime.supported if tag not in own}
    left = client.runtime._replace(supported=tuple(own))
    bare = left._replace(chain={key: links for key, links in left.chain.items() if key not in names})
    return any(land(left, name).tag != land(bare, name).tag for name in names)


def _let_go(monorepo: Monorepo, client: Client, locale: Tag, drop_files: bool, done: set[str]) -> None:
    changes = monorepo.changes
    for place in monorepo.claims(client, *CARRYING):
        with changes.or_step(f"take {locale!r} out of what {client.name} states as {place.entry.states} here", place.file):
            claims.take_out(changes, place, locale)
    for place in monorepo.claims(client, "chain"):
        with changes.or_step(f"take {locale!r} out of the chains of {client.name} here", place.file):
            claims.take_links_out(changes, place, locale, keep=_sends_users(client, locale))
    for catalog in monorepo.catalogs(client) if drop_files else ():
        name = f"{catalog.base}/{catalog.entry.files}"
        if name not in done and not catalog.entry.built:
            done.add(name)
            catalogs.drop(changes, catalog, locale)
    if drop_files:
        assets.drop(changes, client, locale)
    for made in client.composed if drop_files else ():
        for fragment in made.fragments if client.roster(made.tag) == locale else ():
            if "{locale}" in fragment.pattern and changes.is_file(fragment.file):
                changes.put(fragment.file, None)
                changes.places += 1
