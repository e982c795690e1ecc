"""The catalog family, presence: is every file there, and has the source what the others have?"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.phrasing import counted, listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Catalog, Pattern, Spot
from lemmar.resolve import claims
from lemmar.resolve.spots import charter_spot, file_wanted, key_spot, order_of, pattern_of, space_of, union_of
from lemmar.resolve.world import Client, Effect, Space, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._branches import heads, nests
from lemmar.tags import Tag


@rule(
    "catalog.no-match",
    "error",
    "A pattern of the charter matches no file.",
    hides=(Hides(("roster.hollow", "roster.absent"), ("client", "origin")),),
)
def no_match(world: World) -> Iterator[Problem]:
    """If nothing matches, nothing is checked: a moved folder must not make the release look clear.

    Reported once for each pattern, with where files of its shape are now. To fix: correct the pattern in the charter, or move the files back.
    """
    for pattern in _unmatched(world, built=False):
        yield Problem(
            Subject(pattern.clients),
            f"the pattern {pattern.files!r} matches no file{_where(pattern)}{pattern.now}",
            charter_spot(world, *pattern.where),
            "none of its texts was checked",
            "correct the pattern in the charter" + (", or move the files back" if pattern.moved else ""),
            detail=pattern.files,
            origin=claims.NO_CATALOG,
        )


def _unmatched(world: World, built: bool) -> Iterator[Pattern]:
    """The patterns that match no file, of catalogs that the build makes or of the others."""
    for client in world.clients:
        yield from (pattern for pattern in client.patterns if not pattern.matches and pattern.built == built)


def _where(pattern: Pattern) -> str:
    return f" in {pattern.base}" if pattern.base else ""


@rule(
    "catalog.not-built",
    "note",
    "A catalog made by the build is not there.",
    hides=(Hides(("roster.hollow", "chain.dead-end"), ("client", "origin")),),
)
def not_built(world: World) -> Iterator[Problem]:
    """The audit ran before the build, so it does not know these texts and is not complete.

    Reported once for each pattern of a catalog that the charter marks `built = true` and that matches no file. To fix: build the client,
    then audit again.
    """
    for pattern in _unmatched(world, built=True):
        yield Problem(
            Subject(pattern.clients),
            f"the catalog {pattern.files!r} is not built{_where(pattern)}",
            charter_spot(world, *pattern.where),
            "none of its texts was checked, so the audit is not complete",
            "build the client, then audit again",
            detail=pattern.files,
            origin=claims.NO_CATALOG,
        )


@rule(
    "catalog.absent",
    "error",
    "A supported locale lacks a part's file.",
    hides=(Hides(("message.missing",), ("client", "locale", "part", "catalog")), Hides(("catalog.below-threshold",), ("client", "locale"))),
)
def absent(world: World) -> Iterator[Problem]:
    """A screen of the program, or all of it, is in another language.

    Reported once for each client, locale and part whose file is missing, unless all its texts are inherited from the
    locale's own language. Not reported: a locale that the catalog is exempt from by `without`, and locales on trial, whose missing texts
    count in their share (`catalog.below-threshold`). To fix: add the file, or correct the pattern in the charter if the file has another name.
    """
    for client in world.clients:
        every = {(catalog.tag, catalog.part, catalog.order) for catalog in client.catalogs}
        faulty = {(fault.tag, fault.part, order_of(client, fault.file)) for fault in client.faults}
        for locale, effect in client.effects.items():
            lacking: dict[Space, set[str]] = {}
            for absence in effect.absences if client.ships(locale) else ():
                lacking.setdefault(absence.space, set()).add(absence.key)
            for space, keys in lacking.items():
                part, whole = space.part, client.sources[space].catalogs
                for source in {catalog.order: catalog for catalog in reversed(whole)}.values():
                    number = len(keys & union_of([catalog for catalog in whole if catalog.order == source.order]))
                    broken = {(effect.tag, part, source.order), (None, part, source.order)} & faulty
                    filed = (effect.tag, part, source.order) in every or any(each.tag == effect.tag for each in client.rest(space))
                    if number and not broken and not filed and locale not in pattern_of(client, source).without:
                        yield _absent(client, effect, part, source, number)


def _absent(client: Client, effect: Effect, part: str | None, source: Catalog, number: int) -> Problem:
    pattern = pattern_of(client, source)
    wanted = file_wanted(pattern, effect.tag, part)
    name = f"the part {part!r}" if part else "the catalog"
    return Problem(
        Subject((client.name,), effect.locale, part),
        f"{name} is missing in {effect.locale!r}: {wanted or pattern.files}{claims.gone_to(client, effect.tag)}",
        Spot(wanted, line=1, column=1) if wanted else key_spot(source, None),
        _instead(effect.consulted, effect.tag, number),
        f"add {wanted or 'the file'}, or check whether it has another name",
        (key_spot(source, None),),
        catalog=source.order,
    )


def _instead(consulted: tuple[Tag, ...], tag: Tag, number: int) -> str:
    others = [link for link in consulted if link != tag]
    return f"users see {counted(number, 'text')} in {others[0]!r}" if others else f"users see {counted(number, 'raw key')} or nothing"


@rule(
    "catalog.below-threshold",
    "error",
    "A locale on trial has fewer texts than agreed.",
    hides=(Hides(("message.missing",), ("client", "locale")),),
)
def below_threshold(world: World) -> Iterator[Problem]:
    """A trial is pointless if its users mostly read another language.

    Reported once for each client and trial locale whose share of own and inherited texts is below the charter's. Its missing
    texts are counted here, not listed one by one. To fix: translate more, or lower the share.
    """
    for client in world.clients:
        for locale, threshold in client.trial.items():
            effect = client.effects.get(Tag(locale))
            if effect is None or not effect.answer.messages or locale not in client.needs:
                continue
            answer = effect.answer
            if not answer.reaches(threshold):
                first = [catalog for catalog in client.catalogs if catalog.tag == effect.tag]
                yield Problem(
                    Subject((client.name,), locale),
                    f"{client.name} has {answer.complete:,} of {answer.messages:,} texts in {locale!r}; the charter wants {threshold:.0%}",
                    Spot(first[0].file, first[0].digest, line=1, column=1) if first else _share_spot(world, client, locale),
                    f"users see {counted(answer.messages - answer.complete, 'text')} in another language",
                    f"translate {counted(_lacking(threshold, answer.complete, answer.messages), 'more text')}, or lower the share",
                )


def _share_spot(world: World, client: Client, locale: Tag) -> Spot:
    """Where the charter states the share: in the client's table, else on the roster."""
    index = next(index for index, entry in enumerate(world.charter.client) if entry.name == client.name)
    own = locale in world.charter.client[index].trial
    return charter_spot(world, "client", index, "trial", locale) if own else charter_spot(world, "roster", "trial", locale)


def _lacking(threshold: float, complete: int, messages: int) -> int:
    """How many texts more reach the share."""
    return next((number for number in range(messages - complete + 1) if complete + number >= threshold * messages - 1e-9), 0)


@rule(
    "catalog.no-source",
    "error",
    "The source lacks a part that most locales have.",
    hides=(Hides(("message.surplus",), ("client", "part")), Hides(("chain.dead-end",), ("client", "locale"))),
)
def no_source(world: World) -> Iterator[Problem]:
    """Without the source nothing of the part can be compared, and the audit would call it complete.

    Reported once for each part that at least half of the client's locales have and the source lacks; once for a client without any source
    catalog. Not reported: a part whose source file could not be read (`catalog.unreadable`), and a client that is exempt from the source
    locale by `without`. To fix: add the source's file, or correct the pattern or the source locale in the charter.
    """
    for client in world.clients:
        source = client.written_in
        if not client.sources and client.catalogs and source in client.needs and not _broken_sources(client):
            held = dict.fromkeys(client.roster(catalog.tag) for catalog in client.catalogs)
            yield Problem(
                Subject((client.name,), source),
                f"{client.name} has catalogs for {listed(held)} but none for the source {source!r}",
                key_spot(client.catalogs[0], None),
                "none of its texts can be compared",
                f"add its catalogs for {source!r}, or correct the patterns or the source in the charter",
            )
        for part, tags, first in _parts_without_source(client):
            if 2 * len(tags) >= len({catalog.tag for catalog in client.catalogs}):
                name = f"the part {part!r}" if part else "a catalog"
                yield Problem(
                    Subject((client.name,), None, part),
                    f"{name} is in {listed(tags)} but not in the source {source!r}",
                    key_spot(first, None),
                    "none of its texts can be compared, and users of the source language see raw keys",
                    "add the source's file, or correct the pattern in the charter if it has another name",
                )


def _broken_sources(client: Client) -> set[Space]:
    """The spaces of which a file that may be the source's is faulty."""
    return {space_of(client, fault) for fault in client.faults if fault.tag is None or client.roster(fault.tag) == client.written_in}


def _parts_without_source(client: Client) -> Iterator[tuple[str | None, list[Tag], Catalog]]:
    """The spaces that the source lacks, with the locales that have them and the first of their catalogs."""
    faulty = _broken_sources(client)
    for space, locales in client.by_space.items():
        tags = [client.roster(tag) for tag in locales]
        if space not in client.sources and space not in faulty and client.written_in not in tags and client.sources:
            yield space.part, tags, next(iter(locales.values()))[0]


@rule(
    "catalog.thin-source",
    "error",
    "The source lacks most keys that the other locales have.",
    hides=(Hides(("message.surplus",), ("client", "part")),),
)
def thin_source(world: World) -> Iterator[Problem]:
    """The texts of the source are in another file than the charter says: what is compared is a remnant, and looks complete.

    Reported once for each part of whose keys the source lacks more than half in most of the other locales. Not reported: formats that carry
    the source's texts beside the translations, or whose keys are those texts, and sources whose file could not be read; keys that a catalog
    `requires-own` do not count. To fix: correct the
    pattern, `unmarked` or the source in the charter, or update the source.
    """
    for client in world.clients:
        faulty = _broken_sources(client)
        own = [pattern for pattern in client.patterns if pattern.requires_own]
        for space, source in client.sources.items():
            if space in faulty or any(
                catalog.form.habits.carries_source or catalog.form.habits.keys_are_texts for catalog in source.catalogs
            ):
                continue
            known = union_of(source.catalogs)
            others = [union_of(catalogs) for tag, catalogs in client.by_space[space].items() if client.roster(tag) != client.written_in]
            if own:  # the source may leave such keys to its runtime
                others = [frozenset(key for key in keys if not any(each.requires(key) for each in own)) for keys in others]
            lost = [_without_clashes(keys - known, known) if nests(source.catalogs) else keys - known for keys in others]
            lacking = [less for keys, less in zip(others, lost, strict=True) if 2 * len(less) > len(keys)]
            if lacking and 2 * len(lacking) > len(others) and not any(map(_are_texts, lacking)):
                first = source.catalogs[0]
                yield Problem(
                    Subject((client.name,), client.written_in, space.part),
                    f"{first.file} has {counted(len(known), 'key')}, and lacks {counted(max(map(len, lacking)), 'key')} that other locales have",
                    key_spot(first, None),
                    "these texts cannot be compared, and users of the source language see raw keys",
                    "correct the pattern or the source in the charter, or update the source",
                )


def _without_clashes(keys: frozenset[str], known: frozenset[str]) -> frozenset[str]:
    """Those of *keys* that are no text where one of the *known* is a branch, or the reverse (`catalog.key-clash`)."""
    branches = {head for key in known for head in heads(key)} if keys else frozenset()
    return frozenset(key for key in keys if key not in branches and known.isdisjoint(heads(key)))


def _are_texts(keys: frozenset[str]) -> bool:
    """Whether the keys are texts of the source, so that the source needs none of them: many have words with blanks between."""
    return 4 * sum(" " in key.strip() for key in keys) > len(keys)


@rule(
    "catalog.layout-differs",
    "warning",
    "A few locales have a part that the source lacks.",
    hides=(Hides(("message.surplus",), ("client", "part")),),
)
def layout_differs(world: World) -> Iterator[Problem]:
    """The part was renamed or dropped in the source.

    Reported once for each part, with the locales that have it. Not reported: a part that half of the locales have (`catalog.no-source`), or
    whose source file could not be read. To fix: give the file the source's name, or remove it.
    """
    for client in world.clients:
        for part, tags, first in _parts_without_source(client):
            if 2 * len(tags) < len({catalog.tag for catalog in client.catalogs}):
                yield Problem(
                    Subject((client.name,), tags[0], part),
                    f"the part {part!r} is in {listed(tags)} but not in the source {client.source!r}"
                    if part
                    else f"a catalog is in {listed(tags)} but not in the source",
                    key_spot(first, None),
                    "its texts are never shown, or shown as raw keys in the source language",
                    "give the file the name that the source has, or remove it",
                )
