"""The message family: does every locale have every text, with all that the program puts into it?"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.basics.phrasing import clipped, counted, listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Catalog, Spot
from lemmar.resolve.effective import lacking_too, unasked
from lemmar.resolve.landings import Cause
from lemmar.resolve.renaming import Rename, renames_of
from lemmar.resolve.spots import file_wanted, gap_spot, holder_of, key_spot, pattern_of, space_of, text_of, union_of
from lemmar.resolve.world import Absence, Client, Effect, SourcePart, Space, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._effects import seen
from lemmar.rules._texts import is_most, problem_of_all
from lemmar.rules._translations import is_computed
from lemmar.tags import Tag

_TEXT = ("client", "locale", "part", "key")


@rule("message.missing", "error", "A shipping locale lacks a text.")
def missing(world: World) -> Iterator[Problem]:
    """Users of the locale read another language, a raw key, or nothing at all.

    Reported for each message whose effective text is neither the locale's own nor inherited from its own language, with what users
    see; once for the whole catalog if the locale has none of its texts. Not reported: locales on trial; a text that is
    also missing in the locale's parent, if that ships (it is reported there). A key that its catalog `requires-own` must be in each
    locale's own catalog, even if it could be inherited. To fix: translate the text.
    """
    for client in world.clients:
        for locale, effect in client.effects.items():
            if not _ships(client, locale):
                continue
            leaned_on = lacking_too(client, effect, [each for each in client.effects if _ships(client, each)])
            lists: dict[tuple[Space, Cause | Literal[""]], list[Absence]] = {}
            passed_by = unasked(world, client, effect)
            branches = _branches(client, effect)
            for absence in effect.absences:
                if (absence.space, absence.key) in branches:
                    continue
                if not absence.empty and (absence.space, absence.key) not in leaned_on:
                    causes: Iterator[Cause] = (
                        cause for cause, catalogs in passed_by.items() if text_of(catalogs.get(absence.space, ()), absence.key)
                    )
                    lists.setdefault((absence.space, next(causes, "")), []).append(absence)
            renamed_to = renames_of(world, client)
            for (space, cause), absences in lists.items():
                for problem in _missing(client, effect, space, absences):
                    rename = renamed_to.get((space, problem.subject.key or ""))
                    origin = _renaming(rename) if rename is not None and effect.tag in rename.tags else None
                    yield replace(problem, cause=cause, origin=origin)
            yield from _not_own(client, effect)


def _branches(client: Client, effect: Effect) -> set[tuple[Space, str]]:
    """The keys whose texts the source computes and that are branches in the locale."""
    found = set()
    for space, source in client.sources.items():
        for key in _computed(source):
            own = client.by_space[space].get(effect.tag)
            if own and any(other.startswith(f"{key}.") for other in union_of(own)):
                found.add((space, key))
    return found


def _not_own(client: Client, effect: Effect) -> Iterator[Problem]:
    """Keys that every locale must hold itself, such as patterns of numbers, and that this one leaves to another."""
    absent = {(absence.space, absence.key) for absence in effect.absences}
    for pattern in client.patterns:
        for space, locales in client.by_space.items() if pattern.requires_own else ():
            every = [catalog for catalogs in locales.values() for catalog in catalogs if catalog.order == pattern.number]
            wanted = {key: catalog for catalog in reversed(every) for key in catalog.column.keys if pattern.requires(key)}
            own = [catalog for catalog in locales.get(effect.tag, ()) if catalog.order == pattern.number]
            for key in sorted(wanted):
                if (space, key) in absent or text_of(own, key):
                    continue
                where = key_spot(own[-1], key) if own and key in own[-1].column.key_set else gap_spot(own[-1], None) if own else None
                wanted_file = file_wanted(pattern, effect.tag, space.part, key)
                yield Problem(
                    Subject((client.name,), effect.locale, space.part, key),
                    f"{key!r} is missing in {effect.locale!r}; its catalog requires each locale's own",
                    where or (Spot(wanted_file, line=1, column=1) if wanted_file else key_spot(wanted[key], key)),
                    "users see the text of another locale",
                    "add it for this locale",
                    (key_spot(wanted[key], key),),
                    catalog=pattern.number,
                )


def _ships(client: Client, locale: Tag) -> bool:
    """Whether each text that the client lacks in *locale* is a finding."""
    return client.ships(locale) and locale != client.written_in


def _missing(client: Client, effect: Effect, space: Space, absences: list[Absence]) -> Iterator[Problem]:
    source = client.sources[space]
    catalogs: dict[int, list[tuple[Absence, Catalog]]] = {}
    for absence in absences:
        holder = holder_of(source, absence.key)
        catalogs.setdefault(holder.order, []).append((absence, holder))
    for order, those in catalogs.items():
        several = client.has_several(space.part) or len({catalog.order for catalog in source.catalogs}) > 1
        yield from (replace(problem, catalog=order) for problem in _missing_of(client, effect, space, those, several))


def _missing_of(client: Client, effect: Effect, space: Space, absences: list[tuple[Absence, Catalog]], several: bool) -> Iterator[Problem]:
    """What is missing in one catalog of the charter; with *several* of them in the part its pattern tells it apart."""
    (first, source), part, whole = absences[0], space.part, client.sources[space]
    pattern = pattern_of(client, source)
    own = client.by_space[space].get(effect.tag, ())
    catalogs = [catalog for catalog in own if catalog.order == source.order] or [
        each for each in client.rest(space) if each.tag == effect.tag
    ]
    held = union_of([catalog for catalog in whole.catalogs if catalog.order == source.order]) & whole.key_set
    broken = {fault.defect.key for fault in client.faults if fault.part == part and fault.defect.key}
    wanted = file_wanted(pattern, effect.tag, part)
    wanted_spot = Spot(wanted, line=1, column=1) if wanted else key_spot(source, None)
    if len(absences) > 1 and held - broken <= {absence.key for absence, _ in absences}:
        name = f"the part {part!r}" if part else "the catalog"
        yield Problem(
            Subject((client.name,), effect.locale, part),
            f"{name} has no text in {effect.locale!r} ({counted(len(absences), 'message')})",
            _start(client, catalogs) if catalogs else wanted_spot,
            seen(first, None),
            f"translate it into {effect.locale!r}",
            detail=pattern.files if several else "",
        )
        return
    gaps: dict[int, dict[str, Spot]] = {}  # by the source's catalogs, of which two may be of one pattern
    for absence, holder in absences:
        words = text_of(whole.catalogs, absence.key)
        if catalogs and id(holder) not in gaps and not holder.form.habits.is_whole:
            gaps[id(holder)] = _gaps(catalogs, holder)
        own_file = file_wanted(pattern, effect.tag, part, absence.key) if holder.form.habits.is_whole else None
        yield Problem(
            Subject((client.name,), effect.locale, part, absence.key),
            f"{absence.key!r} is missing in {effect.locale!r}",
            Spot(own_file, line=1, column=1) if own_file else gaps[id(holder)][absence.key] if id(holder) in gaps else wanted_spot,
            seen(absence, words),
            f"translate {clipped(words or absence.key)!r}",
            (key_spot(holder, absence.key),),
        )


def _start(client: Client, catalogs: Sequence[Catalog]) -> Spot:
    """Where the locale's column begins: its header in a sheet, else the file's start."""
    last = catalogs[-1]
    headers = (entry.value for file, entry in client.names if file == last.file and entry.value.text == last.column.label)
    header = next(headers, None)
    return Spot(last.file, last.digest, line=header.line, column=header.column) if header else key_spot(last, None)


def _gaps(catalogs: Sequence[Catalog], holder: Catalog) -> dict[str, Spot]:
    """For each key of the source's *holder* where its text is wanted: at its entry if that is there without a text, else after the
    nearest key before it, in the file that stands beside the holder.
    """
    beside = next((catalog for catalog in catalogs if catalog.order == holder.order), catalogs[-1])
    found: dict[str, Spot] = {}
    gap = gap_spot(beside, None)
    for key in holder.column.keys:
        own = next((catalog for catalog in catalogs if key in catalog.column.key_set), None)
        if own is beside:
            gap = gap_spot(beside, key)
        found[key] = key_spot(own, key) if own is not None else gap
    return found


@rule(
    "message.renamed",
    "error",
    "A key was renamed only in the source.",
    hides=(Hides(("message.missing", "message.surplus"), ("client", "part", "origin")),),
)
def renamed(world: World) -> Iterator[Problem]:
    """The program asks for the new key, and the translations are there under the old one: all of their users read the source's text.

    Reported once for each key that most locales have and the source has not, beside one that these lack: keys that are alike, have the
    same source text, or stand between the same neighbours. Not reported: a key that the source has dropped (`message.surplus`). To fix:
    rename the key in the translations. `lemmar mend` puts the texts under the new key, in all locales.
    """
    for client in world.clients:
        for (space, new), rename in renames_of(world, client).items():
            holder = holder_of(client.sources[space], new)
            old = [catalog for tag in rename.tags for catalog in client.by_space[space][tag] if rename.old in catalog.column.key_set]
            locales = listed([client.roster(tag) for tag in rename.tags])
            yield Problem(
                Subject((client.name,), None, space.part, new),
                f"{new!r} is still {rename.old!r} in {locales}",
                key_spot(holder, new),
                "users read the source's text, though it is translated",
                f"rename {rename.old!r} to {new!r} there",
                tuple(key_spot(catalog, rename.old) for catalog in old[:3]),
                origin=_renaming(rename),
                catalog=holder.order,
            )


def _renaming(rename: Rename) -> str:
    return f"{rename.old} → {rename.new}"


@rule("message.surplus", "warning", "A locale has a key that the source lacks.")
def surplus(world: World) -> Iterator[Problem]:
    """Nobody reads the text: its key was renamed or removed in the source.

    Reported once for each key, for all locales that have it, at the first of them, and once for a file most of whose keys the source
    lacks. Not reported: keys of a part that the source lacks as a whole (`catalog.layout-differs`), or whose source file is broken;
    keys that a catalog `requires-own`; `true`, `false` and whole numbers, which are settings; and keys that are the source's texts
    (`source-text`), of which the source needs none. To fix: remove the key, or rename it as in the source. `lemmar mend` removes the key from all
    locales, but not from code.
    """
    for client in world.clients:
        faulty = {
            space_of(client, fault) for fault in client.faults if fault.defect.blinds in ("file", "rest") and _is_source(client, fault.tag)
        }
        for space, source in client.sources.items():
            if space in faulty:
                continue
            known = union_of(source.catalogs)
            extra: dict[str, list[Catalog]] = {}
            computed = _computed(source)
            own = [pattern for pattern in client.patterns if pattern.requires_own]  # the source may leave such keys to its runtime
            texts = {pattern.number for pattern in client.patterns if pattern.keys_are_texts}
            for catalogs in client.by_space[space].values():
                for catalog in catalogs:
                    if not catalog.column.key_set <= known and catalog.order not in texts:
                        keys = [key for key in catalog.column.keys if key not in known and not any(each.requires(key) for each in own)]
                        keys = [key for key in keys if not any(key.startswith(f"{head}.") for head in computed)]
                        if is_most(len(keys), catalog, len(catalog.column.keys)):
                            yield _surplus_as_a_whole(client, space.part, catalog, keys)
                            continue
                        for key in keys:
                            extra.setdefault(key, []).append(catalog)
            for key, holders in extra.items():
                if all(_SETTING.fullmatch(text_of([holder], key) or "") for holder in holders):
                    continue
                locales = list(dict.fromkeys(client.roster(catalog.tag) for catalog in holders))
                rename = next((each for (where, _), each in renames_of(world, client).items() if where == space and each.old == key), None)
                yield Problem(
                    Subject((client.name,), locales[0], space.part, key),
                    f"{key!r} is in {listed(locales)} but not in the source",
                    key_spot(holders[0], key),
                    "the text is never shown",
                    "remove the key, or rename it as in the source",
                    tuple(key_spot(catalog, key) for catalog in holders[1:4]),
                    catalog=holders[0].order,
                    origin=_renaming(rename) if rename is not None else None,
                )


#: What is no text but tells a program something of the locale: ``rtl: true``.
_SETTING = expression(r"true|false|-?[0-9]+")


def _computed(source: SourcePart) -> list[str]:
    """The keys whose texts the source computes: what stands for them elsewhere may be a branch."""
    computing = [catalog for catalog in source.catalogs if "computed" in catalog.column.rare.state.values()]
    return [key for catalog in computing for key in catalog.column.keys if is_computed(catalog, key)]


def _surplus_as_a_whole(client: Client, part: str | None, catalog: Catalog, keys: Sequence[str]) -> Problem:
    locale = client.roster(catalog.tag)
    words = (
        f"{len(keys):,} of {counted(len(catalog.column.keys), 'key')} in {locale!r} are not in the source: {listed(keys, most=3)}",
        "these texts are never shown",
        "remove them, or give the file the keys of the source",
    )
    return replace(problem_of_all(client, locale, part, catalog, words), catalog=catalog.order)


def _is_source(client: Client, tag: Tag | None) -> bool:
    return tag is None or client.roster(tag) == client.written_in


@rule("message.empty", "error", "A text is empty.", hides=(Hides(("message.*",), _TEXT),))
def empty(world: World) -> Iterator[Problem]:
    """Many programs show the empty text, and users see a button without words.

    Reported for each empty text of a supported locale whose source is not empty, unless the client falls back to a catalog in the
    same language. Not reported: an empty cell of a sheet, which counts as missing (`message.missing`); a separator, whose source has no letter
    or digit either; a text that the source computes.
    To fix: translate the text, or remove the entry.
    """
    for client in world.clients:
        for locale, effect in client.effects.items():
            if locale not in client.needs:
                continue
            for absence in effect.absences:
                source = client.sources[absence.space]
                source_text = (text_of(source.catalogs, absence.key) or absence.key) if absence.empty else ""
                if any(map(str.isalnum, source_text)) and not is_computed(holder_of(source, absence.key), absence.key):
                    catalogs = client.by_space[absence.space].get(effect.tag, ())
                    holder = next(catalog for catalog in catalogs if absence.key in catalog.column.key_set)
                    yield Problem(
                        Subject((client.name,), locale, absence.space.part, absence.key),
                        f"{absence.key!r} is empty in {locale!r}",
                        key_spot(holder, absence.key),
                        seen(absence, text_of(source.catalogs, absence.key)),
                        f"translate {clipped(source_text)!r}",
                        (key_spot(holder_of(source, absence.key), absence.key),),
                        catalog=holder.order,
                    )
