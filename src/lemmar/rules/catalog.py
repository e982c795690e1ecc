"""The catalog family: are all files there, whole, and what they say they are?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec.structs import replace

from lemmar.inventory.contents import Catalog, FileFault, Pattern, Spot
from lemmar.inventory.locales import Speller
from lemmar.resolve import claims
from lemmar.resolve.spots import charter_spot, file_wanted, key_spot, pattern_of, union_of
from lemmar.resolve.world import Client, Effect, SourcePart, World
from lemmar.rules import Hides, Problem, Subject, rule
from lemmar.rules._texts import MANY
from lemmar.rules._translations import is_computed
from lemmar.tags import LanguageTag, Tag, same_locale
from lemmar.words import counted, listed

_FILE = ("client", "locale", "part", "catalog")
_LOST_TEXTS = ("message.missing", "message.empty")
_LOST = (*_LOST_TEXTS, "message.surplus", "catalog.absent")
# What is said of several files at once comes of any of them.
_OF_SEVERAL = Hides(("message.inconsistent", "catalog.below-threshold"), ("client", "locale"))
_KEY = ("client", "locale", "key")


def _faults(world: World, kind: str) -> Iterator[tuple[Client, FileFault, Subject, Spot]]:
    """Each defect of *kind*, its subject and its place."""
    for client in world.clients:
        for fault in client.faults:
            if fault.defect.kind == kind:
                locale = client.roster(fault.tag) if fault.tag else None
                subject = Subject((client.name,), locale, fault.part, fault.defect.key)
                yield client, fault, subject, Spot(fault.file, fault.digest, line=fault.defect.line, column=fault.defect.column)


def _reported(world: World, kind: str, effect: str, remedy: str) -> Iterator[Problem]:
    for client, fault, subject, spot in _faults(world, kind):
        text = f"{fault.file}: {fault.defect.detail}" if kind == "unreadable" else fault.defect.detail
        yield Problem(subject, text, spot, effect, remedy, catalog=_catalog_of(client, fault.file))


def _catalog_of(client: Client, file: str) -> int | None:
    """The number of the catalog that *file* is of."""
    return next((pattern.number for pattern in client.patterns if file in pattern.known), None)


@rule("catalog.unreadable", "error", "No message of a file can be read.", hides=(Hides(_LOST, _FILE), _OF_SEVERAL))
def unreadable(world: World) -> Iterator[Problem]:
    """A program that cannot read the file shows none of its texts.

    Reported once for each file without a single readable entry, at the place where reading stops. It hides the messages that
    are missing as a result. To fix: mend the file at that place, or name its format in the charter.
    """
    yield from _reported(world, "unreadable", "users see none of this file's texts", "mend the file at this place")


@rule(
    "catalog.damaged",
    "error",
    "A file is broken, though some of it can be read.",
    hides=(Hides(_LOST_TEXTS, _FILE), _OF_SEVERAL),
)
def damaged(world: World) -> Iterator[Problem]:
    """Most programs reject the whole file at its first fault, and users see none of its texts.

    Reported once for each file, at its first fault; the audit reads on after it. It hides the messages missing
    from the same file. To fix: mend the file at that place.
    """
    yield from _reported(
        world, "damaged", "a program that stops at the fault shows none of this file's texts", "mend the file at this place"
    )


@rule(
    "catalog.conflict",
    "error",
    "A merge is not finished.",
    hides=(Hides(("catalog.unreadable", "catalog.damaged", *_LOST), _FILE), _OF_SEVERAL),
)
def conflict(world: World) -> Iterator[Problem]:
    """Version control could not bring two changes together and has left its marks in the file, which no program reads.

    Reported once for each file of a catalog or a claim in which a line of `<<<<<<<`, one of `=======` and one of `>>>>>>>` follow each
    other, at the first. Both sides are read. To fix: decide between the sides, and remove the marks.
    """
    yield from _reported(world, "conflict", _UNMERGED, "decide between the two sides, and remove the marks")
    for client in world.clients:
        seen = {fault.file for fault in client.faults if fault.defect.kind == "conflict"}
        for claim in client.claims:
            found = next((defect for defect in claim.defects if defect.kind == "conflict"), None)
            if found is not None and claim.file is not None and claim.file not in seen:
                seen.add(claim.file)
                yield Problem(
                    Subject((client.name,)),
                    f"{claim.file}: {found.detail}",
                    Spot(claim.file, claim.digest, line=found.line, column=found.column),
                    _UNMERGED,
                    "decide between the two sides, and remove the marks",
                    detail=client.below(claim.file),
                )


_UNMERGED = "a program that reads the file stops there, or takes the marks for texts"


@rule(
    "catalog.encoding",
    "error",
    "A file is not in the expected encoding.",
    hides=(Hides(("catalog.unreadable", "catalog.damaged", *_LOST), _FILE), _OF_SEVERAL),
)
def encoding(world: World) -> Iterator[Problem]:
    """Letters outside ASCII become other letters, or the program does not read the file at all.

    Reported for bytes that are invalid in the declared or expected encoding, at the first of them; for a file that is not in the
    encoding that the charter declares; and for a byte-order mark that programs reading the format do not accept. To fix: save the
    file in the expected encoding.
    """
    yield from _reported(
        world,
        "encoding",
        "letters turn into others, or the file is not read at all",
        "save the file as UTF-8 without a byte-order mark, or in the encoding that its program expects",
    )


@rule(
    "catalog.duplicate-key",
    "error",
    "A key occurs twice in one file.",
    hides=(Hides(("message.missing", "message.surplus", "message.inconsistent"), _KEY),),
)
def duplicate_key(world: World) -> Iterator[Problem]:
    """A program keeps one of the two texts, and not every program the same one; whoever edits the other wonders why nothing changes.

    Reported at each occurrence after the first, even with the same text. To fix: remove one of them.
    """
    yield from _reported(
        world, "duplicate-key", "users see one of the two texts; which one depends on the program", "remove one of the two entries"
    )


@rule("catalog.ragged-row", "error", "A row of a sheet has too few or too many cells.", hides=(Hides(("message.*",), _KEY),))
def ragged_row(world: World) -> Iterator[Problem]:
    """A missing or extra separator shifts all cells after it: users read the language of the next column.

    Reported once for each such row. It hides other findings on the same key. To fix: quote the cell that holds a separator,
    or add the missing one.
    """
    yield from _reported(
        world,
        "ragged-row",
        "users may see the text of another language",
        "quote the cell that holds a separator, or add the missing one",
    )


@rule(
    "catalog.typed-key",
    "error",
    "A key is not read as text.",
    hides=(Hides(("message.missing", "message.surplus"), _KEY),),
)
def typed_key(world: World) -> Iterator[Problem]:
    """The writer of `no:` means Norwegian; YAML 1.1 reads *false*, and the program does not find the key.

    Reported at each key of a YAML file, and each locale in one, that YAML 1.1 reads as true or false, a number or a date; at the first with
    a count where a file has many. Not reported: keys in quotes. To fix: put the key in quotes.
    """
    files: dict[tuple[str, ...], list[Problem]] = {}
    for problem in _reported(world, "typed-key", "a program that reads YAML 1.1 does not find it", "put the key in quotes"):
        file = problem.spot.file if problem.spot is not None else ""
        files.setdefault((*problem.subject.clients, file), []).append(problem)
    for those in files.values():
        if len(those) < MANY:
            yield from those
        else:
            text = f"{those[0].text}; so it is with {counted(len(those) - 1, 'more key')} of the file"
            yield replace(those[0], text=text, remedy="put the keys in quotes")


@rule(
    "catalog.key-clash",
    "error",
    "A key is a text in one place and a branch in another.",
    hides=(Hides(("message.missing", "message.surplus"), ("client", "part", "branch")),),
)
def key_clash(world: World) -> Iterator[Problem]:
    """In a nested format `menu` cannot be a text if `menu.title` is one: a program finds only one of them.

    Reported within one file, and for a locale's file against the source's. Not reported: flat files whose keys contain dots.
    To fix: rename one of the two.
    """
    yield from _reported(world, "key-clash", "users see a raw key instead of one of the texts", "rename one of the two")
    for client in world.clients:
        for part, source in client.sources.items():
            others = union_of(source.catalogs)
            for tag, catalogs in client.by_part[part].items():
                for catalog in catalogs if catalog_nests(catalogs) else ():
                    if catalog not in source.catalogs and not catalog.column.key_set <= others:
                        yield from _clashes(client, part, tag, catalog, source, others)


def catalog_nests(catalogs: tuple[Catalog, ...]) -> bool:
    """Whether the catalogs' format writes keys as branches."""
    return all(catalog.form.nests for catalog in catalogs)


def _clashes(client: Client, part: str | None, tag: Tag, catalog: Catalog, source: SourcePart, others: frozenset[str]) -> Iterator[Problem]:
    branches = {head for other in others for head in _heads(other)}
    seen: set[str] = set()
    for key in catalog.column.keys:
        if key in others:
            continue
        above = next((head for head in _heads(key) if head in others), None)
        below = next((other for other in others if other.startswith(f"{key}.") and key in _heads(other)), None) if key in branches else None
        clash = above or (key if below else None)
        if clash and clash not in seen and not _is_code(catalog, above or key, source, above or key):
            seen.add(clash)
            where = "a text in the source and a branch here" if above else "a branch in the source and a text here"
            yield Problem(
                Subject((client.name,), client.roster(tag), part, clash),
                f"{clash!r} is {where}",
                key_spot(catalog, key),
                "users see a raw key instead of the texts under it",
                "make it what it is in the source",
                (key_spot(source.catalogs[0], above or below),),
            )


def _is_code(catalog: Catalog, key: str, source: SourcePart, there: str) -> bool:
    """Whether what stands for the key here or in the source is computed, so that nobody knows whether it is a text."""
    return is_computed(catalog, key) or any(is_computed(each, there) for each in source.catalogs)


def _heads(key: str) -> list[str]:
    """The branches that *key* lies in; a dot after a backslash is part of a name, and so is one that ends a sentence."""
    return [
        key[:index]
        for index, sign in enumerate(key)
        if sign == "." and key[index - 1] != "\\" and key[index + 1 : index + 2] not in ("", " ")
    ]


@rule(
    "catalog.no-match",
    "error",
    "A pattern of the charter matches no file.",
    hides=(Hides(("roster.hollow", "roster.absent"), ("client", "origin")),),
)
def no_match(world: World) -> Iterator[Problem]:
    """If nothing matches, nothing is checked: a moved folder must not make the release look clear.

    Reported once for each pattern. To fix: correct the pattern in the charter.
    """
    for pattern in _unmatched(world, built=False):
        yield Problem(
            Subject(pattern.clients),
            f"the pattern {pattern.files!r} matches no file{_where(pattern)}",
            charter_spot(world, *pattern.where),
            "none of its texts was checked",
            "correct the pattern in the charter",
            detail=pattern.files,
            origin=claims.NO_CATALOG,
        )


def _unmatched(world: World, built: bool) -> Iterator[Pattern]:
    """The patterns that match no file, of catalogs that the build makes or of the others, each once."""
    seen: set[int] = set()
    for client in world.clients:
        for pattern in client.patterns:
            if not pattern.matches and pattern.number not in seen and pattern.built == built:
                seen.add(pattern.number)
                yield pattern


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
    hides=(Hides(("message.missing",), _FILE), Hides(("catalog.below-threshold",), ("client", "locale"))),
)
def absent(world: World) -> Iterator[Problem]:
    """A screen of the program, or all of it, is in another language.

    Reported once for each client, locale and part whose file is missing, unless all its texts are inherited from the
    locale's own language. Not reported: a locale that the catalog is exempt from by `without`, and locales on trial, whose missing texts
    count in their share (`catalog.below-threshold`). To fix: add the file, or check whether it has another name.
    """
    for client in world.clients:
        for locale, effect in client.effects.items():
            filed = {(catalog.part, catalog.order) for catalog in client.catalogs if catalog.tag == effect.tag}
            faulty = {(fault.tag, fault.part, _catalog_of(client, fault.file)) for fault in client.faults}
            lacking: dict[str | None, set[str]] = {}
            for absence in effect.absences if client.ships(locale) else ():
                lacking.setdefault(absence.part, set()).add(absence.key)
            for part, keys in lacking.items():
                whole = client.sources[part].catalogs
                for source in {catalog.order: catalog for catalog in reversed(whole)}.values():
                    number = len(keys & union_of([catalog for catalog in whole if catalog.order == source.order]))
                    broken = {(effect.tag, part, source.order), (None, part, source.order)} & faulty
                    if number and not broken and (part, source.order) not in filed and locale not in pattern_of(client, source).without:
                        yield _absent(client, effect, part, source, number)


def _absent(client: Client, effect: Effect, part: str | None, source: Catalog, number: int) -> Problem:
    pattern = pattern_of(client, source)
    wanted = file_wanted(pattern, effect.tag, part)
    name = f"the part {part!r}" if part else "the catalog"
    return Problem(
        Subject((client.name,), effect.locale, part),
        f"{name} is missing in {effect.locale!r}: {wanted or pattern.files}",
        Spot(wanted, line=1, column=1) if wanted else key_spot(source, None),
        _instead(effect.consulted, effect.tag, number),
        f"add {wanted or 'the file'}, or check whether it has another name",
        (key_spot(source, None),),
        catalog=source.order,
    )


def _instead(consulted: tuple[Tag, ...], tag: Tag, number: int) -> str:
    others = [link for link in consulted if link != tag]
    return f"users see {counted(number, 'text')} in {others[0]!r}" if others else f"users see {counted(number, 'raw key')} or nothing"


@rule("catalog.mark-differs", "error", "A file's language mark does not match its name.")
def mark_differs(world: World) -> Iterator[Problem]:
    """The file was copied from another language, and either its mark or its texts are wrong.

    Reported once for each file that states another locale inside than in its name; the language alone will do, unless the roster has a locale
    of that name. To fix: correct the mark, or move the file
    where it belongs.
    """
    for client in world.clients:
        for catalog in client.catalogs:
            mark = catalog.column.mark
            marked = Speller("auto", {}).tag(mark) if mark else None
            if marked and _differs(world, client, marked, catalog.tag):
                yield Problem(
                    Subject((client.name,), client.roster(catalog.tag), catalog.part),
                    f"the file is marked {mark!r}, but its name says {catalog.tag!r}",
                    Spot(catalog.file, catalog.digest, mark=mark),
                    "users may get another language than they chose",
                    "correct the mark, or move the file where it belongs",
                )


def _differs(world: World, client: Client, marked: Tag, named: Tag) -> bool:
    """Whether a mark means another locale than the name: another language, or exactly another where the roster has both."""
    mark = LanguageTag.parse(marked).canonical()
    own = client.roster(named)
    others = (LanguageTag.parse(tag).canonical() for tag in world.charter.locales if tag != own)
    mine = LanguageTag.parse(own).canonical(), LanguageTag.parse(named).canonical()
    if mark not in mine and mark in others and mark.script in (None, mine[0].script) and (mark.script or not mine[0].script):
        return True
    return not _one_language(LanguageTag.parse(marked), LanguageTag.parse(named))


def _one_language(mark: LanguageTag, named: LanguageTag) -> bool:
    """Whether a file may be marked so: the same locale, or its language alone; ``no`` and ``nb`` are written for each other."""
    first, second = (tag._replace(language="nb") if tag.language == "no" else tag for tag in (mark, named))
    scripts = first.maximized().script, second.maximized().script
    return same_locale(first, second) or (first.region is None and first.language == second.language and scripts[0] == scripts[1])


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
                    "add the source's file, or check whether it has another name",
                )


def _broken_sources(client: Client) -> set[str | None]:
    """The parts of which a file that may be the source's is faulty."""
    return {fault.part for fault in client.faults if fault.tag is None or client.roster(fault.tag) == client.written_in}


def _parts_without_source(client: Client) -> Iterator[tuple[str | None, list[Tag], Catalog]]:
    """The parts that the source lacks, with the locales that have them and the first of their catalogs."""
    faulty = _broken_sources(client)
    for part, locales in client.by_part.items():
        tags = [client.roster(tag) for tag in locales]
        if part not in client.sources and part not in faulty and client.written_in not in tags and client.sources:
            yield part, tags, next(iter(locales.values()))[0]


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
    pattern, `unmarked` or the source in the charter, or bring the source up to date.
    """
    for client in world.clients:
        faulty = _broken_sources(client)
        own = [pattern for pattern in client.patterns if pattern.requires_own]
        for part, source in client.sources.items():
            if part in faulty or any(catalog.form.carries_source or catalog.form.keys_are_texts for catalog in source.catalogs):
                continue
            known = union_of(source.catalogs)
            others = [union_of(catalogs) for tag, catalogs in client.by_part[part].items() if client.roster(tag) != client.written_in]
            if own:  # the source may leave such keys to its runtime
                others = [frozenset(key for key in keys if not any(each.requires(key) for each in own)) for keys in others]
            lost = [_without_clashes(keys - known, known) if catalog_nests(source.catalogs) else keys - known for keys in others]
            lacking = [less for keys, less in zip(others, lost, strict=True) if 2 * len(less) > len(keys)]
            if lacking and 2 * len(lacking) > len(others) and not any(map(_are_texts, lacking)):
                first = source.catalogs[0]
                yield Problem(
                    Subject((client.name,), client.written_in, part),
                    f"{first.file} has {counted(len(known), 'key')}, and lacks {counted(max(map(len, lacking)), 'key')} that other locales have",
                    key_spot(first, None),
                    "these texts cannot be compared, and users of the source language see raw keys",
                    "correct the pattern or the source in the charter, or bring the source up to date",
                )


def _without_clashes(keys: frozenset[str], known: frozenset[str]) -> frozenset[str]:
    """Those of *keys* that are no text where one of the *known* is a branch, or the reverse (`catalog.key-clash`)."""
    branches = {head for key in known for head in _heads(key)} if keys else frozenset()
    return frozenset(key for key in keys if key not in branches and known.isdisjoint(_heads(key)))


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
