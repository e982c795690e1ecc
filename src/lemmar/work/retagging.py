"""Calling a locale by another tag: in the charter, in claims, in the names of files and folders, in columns, in marks inside of files."""

from __future__ import annotations

from lemmar.basics.errors import UsageError
from lemmar.basics.phrasing import listed
from lemmar.resolve.runtimes import land
from lemmar.resolve.world import Client
from lemmar.tags import LanguageTag, Tag, same_locale
from lemmar.tags.naming import english_name
from lemmar.trees import File
from lemmar.work import assets, catalogs, claims
from lemmar.work.charters import CharterText
from lemmar.work.enrolling import Enrolment, Moved, judged, settle
from lemmar.work.places import Monorepo


def retag(monorepo: Monorepo, old: Tag, new: Tag) -> Enrolment:
    """All changes that call *old*, which is on the roster, *new*.

    Raises:
        UsageError: the roster has no *old*, or has *new* already.
    """
    charter = monorepo.read.charter
    known = (*charter.locales, *charter.roster.pseudo)
    if old not in known:
        raise UsageError(f"the roster has no {old!r}; it has {listed(known, 40)}")
    if new in known:
        raise UsageError(f"the roster has {new!r} already; retire one of the two")
    changes = monorepo.changes
    if not same_locale(LanguageTag.parse(old), LanguageTag.parse(new)):
        changes.step(f"{new!r} is another locale than {old!r} ({english_name(LanguageTag.parse(new))}): see whether that is meant")
    for name in (monorepo.charter_file, *(File(each.name) for each in monorepo.file.included)):
        text = CharterText(changes.read(name).decode("utf-8-sig"))
        text.retag(old, new)
        monorepo.keep(text, name)
    done: set[str] = set()
    for client in monorepo.world.clients:
        for place in monorepo.claims(client, "supported", "offered", "routed", "default", "source", "chain", "mirrored"):
            with changes.or_step(f"call {old!r} {new!r} in what {client.name} states as {place.entry.states} here", place.file):
                claims.rename(changes, place, old, new)
        for catalog in monorepo.catalogs(client):
            pattern = f"{catalog.base}/{catalog.entry.files}"
            if pattern not in done and not catalog.entry.built:
                done.add(pattern)
                catalogs.rename(changes, catalog, old, new)
        assets.rename(monorepo, client, old, new)
    after = settle(monorepo, new)
    stored = tuple(_stored(client, old, new) for client in after.clients if new in client.effects) if after is not None else ()
    lost = [each for each in stored if not _keeps(each.after, new)]
    if lost:
        names = listed([each.client for each in lost])
        changes.step(
            f"users who have chosen {old!r} before would get {lost[0].after!r} in {names}: let a chain of theirs send {old!r} to {new!r}"
        )
    result, steps = judged(monorepo, new, old) if after is not None else (None, [])
    return Enrolment(new, (), stored, (), (*changes.steps, *steps), result)


def _stored(client: Client, old: Tag, new: Tag) -> Moved:
    """Where a user lands whose settings keep the *old* tag."""
    return Moved(client.name, old, old, client.landed(land(client.runtime, old).tag))


def _keeps(landing: Tag, new: Tag) -> bool:
    return landing == new or LanguageTag.parse(landing).canonical() == LanguageTag.parse(new).canonical()
