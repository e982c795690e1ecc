"""The roster family: does every client support, offer and carry the locales that the team has agreed on?"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from unicodedata import category

from lemmar.basics.phrasing import counted, listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Claim, Spot
from lemmar.resolve import claims
from lemmar.resolve.claims import Split, claims_of, supported_at, tags_of, where_declared
from lemmar.resolve.landings import landed
from lemmar.resolve.outlines import Overview
from lemmar.resolve.spots import claim_spot, client_spot
from lemmar.resolve.world import Client, World
from lemmar.rules import Hides, Problem, rule
from lemmar.rules._assumptions import assumption
from lemmar.tags import LanguageTag, Tag, read_spelling, write_spelling

_LOCALE = ("client", "locale")


def _spelt(client: Client, tag: Tag) -> str:
    return write_spelling(LanguageTag.parse(tag), client.traits["spelling"].value)


def _lands(world: World, client: Client, tag: Tag) -> str:
    found = landed(world, client, tag).found.tag
    return f"users who ask for {tag!r} get {found!r}" if found != tag else "its users may not get it"


@rule("roster.absent", "error", "A client does not support a locale on the roster.", hides=(Hides(("*",), _LOCALE),))
def absent(world: World) -> Iterator[Problem]:
    """The team has agreed on a locale, and one client lacks it: its users get another language.

    Reported once for each client and locale, at the place where the client lists what it supports. Not reported: a locale that the
    client is exempt from by `without`. No other findings on that locale in that client are reported. To fix: add the locale where the
    client lists what it supports, or exempt the client with `without` and the reason. `lemmar mend` adds the locale to every claim of a
    client that has texts of it; where there are none yet, `lemmar enroll` makes its catalogs ready as well.
    """
    for client in world.clients:
        for tag in claims.absent(client):
            spot = where_declared(world, client)
            where = "a catalog for it" if client.declared_by == "files" else f"{_spelt(client, tag)!r} to {spot.file}"
            yield Problem(
                Subject((client.name,), tag),
                f"{client.name} does not support {tag!r}, which is on the roster{claims.gone_to(client, tag)}",
                spot,
                _lands(world, client, tag),
                f"add {where}, or exempt the client with 'without'",
                origin=claims.origin_of_gaps(client) if client.declared_by == "files" else None,
            )


@rule("roster.surplus", "warning", "A client supports a locale that is not on the roster.", hides=(Hides(("chain.unreachable",), _LOCALE),))
def surplus(world: World) -> Iterator[Problem]:
    """Users can choose a language that nobody keeps complete.

    Reported once for each client and locale, where the client lists it; also for a locale that the charter
    exempts the client from. Not reported: test locales (`roster.pseudo`).
    To fix: put the locale on the roster, or remove it from the client.
    """
    for client in world.clients:
        for tag in claims.surplus(world, client):
            known = client.roster(tag)
            exempt = known in world.charter.locales
            why = (
                f"{client.name} supports {known!r}, from which the charter exempts it"
                if exempt
                else f"{client.name} supports {tag!r}, which is not on the roster"
            )
            remedy = "remove it from the client's 'without'" if exempt else "put it on the roster"
            yield Problem(
                Subject((client.name,), known),
                why,
                supported_at(client, tag) or client_spot(world, client),
                "users may choose a language that nobody keeps complete",
                f"{remedy}, or remove it from the client",
            )


@rule(
    "roster.pseudo",
    "error",
    "A test locale is supported or offered.",
    hides=(Hides(("roster.surplus", "roster.unoffered", "roster.split"), _LOCALE),),
)
def pseudo(world: World) -> Iterator[Problem]:
    """A pseudo-locale is for finding cut-off and untranslated texts in tests; users must never see it.

    Reported once for each client and test locale that a claim supports, offers or routes to. A catalog for it is fine.
    To fix: remove it from the claim in release builds.
    """
    for client in world.clients:
        for tag, (claim, spot) in claims.pseudo_locales(world, client).items():
            yield Problem(
                Subject((client.name,), tag),
                f"the test locale {tag!r} is {claim.states} by {client.name}",
                spot,
                "users can get a language made for tests",
                "remove it from release builds",
            )


@rule("roster.split", "error", "Two claims of one client disagree.")
def split(world: World) -> Iterator[Problem]:
    """A language listed in four of five places works on some screens and not on others.

    Reported once for a pair of claims, with the locales in which they differ: two lists of supported locales, a picker that offers an
    unsupported one, a list of routes or build targets that adds an unsupported one or lacks a supported one (other than the default).
    Not reported: a picker that lacks a locale (`roster.unoffered`), and locales that the whole client lacks (`roster.absent`). To fix:
    list the same locales in both places. `lemmar mend` adds what is on the roster to the list that lacks it; it leaves locales that are only in
    one list.
    """
    for client in world.clients:
        yield from _order_differs(client)
        for each in claims.splits(world, client):
            yield _split(client, each)


def _order_differs(client: Client) -> Iterator[Problem]:
    """Claims by whose order a program finds a language, and that do not agree in it, though they name the same locales."""
    ordered = [(claim, list(tags_of(client, claim))) for claim in client.claims if claim.ordered and claim.entries]
    for claim, tags in ordered[1:]:
        base, wanted = ordered[0]
        if set(tags) == set(wanted) and tags != wanted:
            at = next(index for index, (tag, other) in enumerate(zip(tags, wanted, strict=True)) if tag != other)
            text = f"number {at + 1} in this list is {tags[at]!r}, but in {base.file} it is {wanted[at]!r}"
            yield Problem(
                Subject((client.name,)),
                text,
                tags_of(client, claim)[tags[at]],
                "a program that finds a language by its number shows the wrong one",
                "give both the same order",
                (base.spot(),),
                detail=f"order {client.below(claim.file or '')} {claim.selector}",
            )


def _split(client: Client, each: Split) -> Problem:
    claim, base = each.claim, each.base
    shown = claim or base
    assert shown is not None
    tags = (*each.fewer, *each.more)
    return Problem(
        Subject((client.name,), tags[0] if len(tags) == 1 else None),
        _split_words(each),
        each.spot,
        "the language works in one part of the program and not in the other",
        "list the same locales in both",
        (base.spot(),) if base is not None and base.file is not None and claim is not None else (),
        detail=f"{shown.states} {client.below(shown.file or '')} {shown.selector}",
        origin=_origin(next((found for found in (claim, base) if found is not None and found.defects), shown)),
    )


def _origin(claim: Claim) -> str:
    """The name of what comes of a claim."""
    return f"claim {claim.states} {claim.file} {claim.selector}"


def _split_words(each: Split) -> str:
    """What is in the one place and not in the other, each with its line and what is read there."""
    here, there = _named(each.claim), _named(each.base)
    words = [f"{listed(each.more)} {_is(each.more)} in {here} and not in {there}"] if each.more else []
    words += [f"{listed(each.fewer)} {_is(each.fewer)} in {there} and not in {here}"] if each.fewer else []
    return "; ".join(words)


def _named(claim: Claim | None) -> str:
    """A claim as a sentence names it; the catalogs' files without one."""
    if claim is None or claim.file is None:
        return "the catalogs' files"
    kind = {"offered": "the picker ", "routed": "the routes "}.get(claim.states, "")
    return f"{kind}{claim.file}:{claim.spot().line} ({claim.selector})"


def _is(tags: Sequence[Tag]) -> str:
    return "is" if len(tags) == 1 else "are"


@rule("roster.unoffered", "warning", "A supported locale is not in the client's picker.")
def unoffered(world: World) -> Iterator[Problem]:
    """The translation exists, and users have no way to choose it.

    Reported once for each locale that a client supports but its picker does not show. Not reported: clients without a picker. To fix:
    add the locale to the picker. `lemmar mend` adds the locale to the picker, with the language's own name.
    """
    for client in world.clients:
        for tag in claims.unoffered(client):
            picker = next(claim for claim in claims_of(client, "offered") if claim.entries)
            yield Problem(
                Subject((client.name,), tag),
                f"{client.name} supports {tag!r}, but its picker does not offer it",
                picker.spot(),
                "users cannot choose the language",
                f"add {_spelt(client, tag)!r} to {picker.file}",
            )


@rule("roster.mislabelled", "warning", "A picker shows another language's name beside a locale.")
def mislabelled(world: World) -> Iterator[Problem]:
    """Users choose one language and get another.

    Reported for an offered locale whose label names a different language, script or region: by the charter's `[locale.TAG]` names, or by
    CLDR's names in English and in the language itself. Not reported: labels that are no language's name, and a language named without its
    region. To fix: correct the label, or the locale beside it.
    """
    own = {locale.name.casefold(): LanguageTag.parse(tag) for tag, locale in world.charter.locale.items() if locale.name}
    for client in world.clients:
        for claim in claims_of(client, "offered"):
            for entry in claim.entries:
                meant = _named_by(entry.value.label, own) if entry.tag and entry.value.label and claim.file else None
                if meant is None or _same_name(LanguageTag.parse(entry.tag or ""), meant):
                    continue
                yield Problem(
                    Subject((client.name,), client.roster(Tag(entry.tag or ""))),
                    f"the picker labels {entry.value.text!r} as {entry.value.label!r}, which is the name of {str(meant)!r}",
                    Spot(claim.file or world.charter_file, claim.digest, line=entry.value.line, column=entry.value.column),
                    "users choose one language and get another",
                    "correct the label, or the locale beside it",
                )


def _named_by(label: str, own: Mapping[str, LanguageTag]) -> LanguageTag | None:
    """The locale that *label* names, by the charter's *own* names first; flags and other signs beside the words do not count."""
    words = "".join(
        character if character.isalnum() or character in " ()-’'" or category(character).startswith("M") else " " for character in label
    )
    return own.get(words.strip().casefold()) or read_spelling(words.strip(), "name")


def _same_name(tag: LanguageTag, meant: LanguageTag) -> bool:
    """Whether words that name *meant* may stand beside *tag*: the same language, and script and region where the words say them."""
    full, other = tag.maximized(), meant.maximized()
    if full.language != other.language and {full.language, other.language} != {"no", "nb"}:
        return False
    return (meant.script is None or full.script == other.script) and (meant.region is None or full.region == other.region)


@rule(
    "roster.hollow",
    "error",
    "A client supports a locale for which it has no catalog.",
    hides=(
        Hides(("catalog.absent", "catalog.no-source", "catalog.below-threshold", "message.missing"), _LOCALE),
        Hides(("roster.surplus", "roster.split"), _LOCALE),
    ),
)
def hollow(world: World) -> Iterator[Problem]:
    """Users can choose the language and then see another one.

    Reported once for each client and supported locale that has no catalog and does not inherit every text from its own language;
    off the roster only for what users can choose. To fix: add the catalogs, or remove the locale from what the client supports.
    """
    for client in world.clients:
        for locale in claims.hollow(client):
            effect = client.effects.get(locale) or client.beyond[locale]
            shown = effect.consulted[0] if effect.consulted else None
            yield Problem(
                Subject((client.name,), locale),
                f"{client.name} supports {locale!r} but has no catalog for it{claims.gone_to(client, effect.tag)}",
                supported_at(client, effect.tag) or client_spot(world, client),
                f"users who choose it see {shown!r} texts" if shown else "users who choose it see no text at all",
                "add its catalogs, or remove it from what is supported",
                origin=claims.origin_of_gaps(client),
            )


@rule(
    "roster.orphan",
    "warning",
    "A client has a catalog for a locale that it does not support.",
    hides=(Hides(("chain.unreachable",), _LOCALE),),
)
def orphan(world: World) -> Iterator[Problem]:
    """Somebody has translated the client, and no user can get the translation: the language is not listed where it must be.

    Reported once for each client and locale, at the first of its files. Not reported: test locales, and clients whose files
    themselves declare what is supported. To fix: add the locale to what the client supports, or remove its catalogs.
    """
    for client in world.clients:
        for tag, file in claims.orphans(world, client).items():
            yield Problem(
                Subject((client.name,), tag),
                f"{client.name} has a catalog for {tag!r}, which it does not support",
                Spot(file, line=1, column=1),
                "no user can reach these texts",
                f"add {_spelt(client, tag)!r} to what the client supports, or remove its catalogs",
                origin=next((_origin(claim) for claim in claims_of(client, "supported") if claim.defects), None),
            )


@rule(
    "roster.unclaimed",
    "error",
    "The charter does not say where a client lists its locales.",
    hides=(Hides(("roster.unoffered", "chain.landing", "chain.unreachable"), ("client",)),),
)
def unclaimed(world: World) -> Iterator[Problem]:
    """Without a claim, it is only a guess that a client supports what it has catalogs for.

    Reported for a client whose platform does not go by its files and that has no readable claim of what it
    supports, offers or routes to. Where requests land in the client is then not reported, as it would be a guess.
    To fix: add a [[client.claim]] with `states = "supported"`.
    """
    for client in world.clients:
        if client.declared_by == "nothing" and not claims_of(client, "supported", "offered", "routed"):
            yield Problem(
                Subject((client.name,)),
                f"the charter does not say where {client.name} lists its locales",
                client_spot(world, client),
                "nobody checks which languages its users can get",
                "add a [[client.claim]] that states what is supported",
            )


@rule("roster.unmirrored", "error", "A right-to-left locale ships in a client that says it does not mirror its layout.")
def unmirrored(world: World) -> Iterator[Problem]:
    """Arabic or Hebrew in a layout that runs from left to right has its icons, its arrows and its margins on the wrong side.

    Reported once for each client that supports a shipping right-to-left locale and whose claim of `mirrored` says no. Not reported: services;
    clients on `lproj`, where the platform mirrors layouts; clients that say nothing, of which `roster.unstated` reports all at once.
    To fix: let the client mirror its layout, and correct the place that says no.
    """
    for client in world.clients:
        locales = claims.unmirrored(client)
        if not locales:
            continue
        stated = next(claim for claim in claims_of(client, "mirrored") if claim.entries)
        yield Problem(
            Subject((client.name,), locales[0] if len(locales) == 1 else None),
            f"{client.name} ships {listed(locales)}, from right to left, and says that it does not mirror its layout"
            f" ({stated.entries[0].value.text!r})",
            stated.spot(),
            "icons, arrows and margins may be on the wrong side",
            "mirror the layout, and correct the place that says no",
        )


@rule("roster.unstated", "warning", "Nothing says whether a client mirrors its layout for right-to-left locales.", of="all")
def unstated(seen: Overview) -> Iterator[Problem]:
    """Arabic or Hebrew in a layout that runs from left to right has its icons, its arrows and its margins on the wrong side.

    Reported once for all clients that support a shipping right-to-left locale and have no claim of `mirrored` that can be read: the verdict assumes that
    they mirror their layout. Not reported: services, clients on `lproj`, and clients whose `assumes` in the charter gives a reason.
    To fix: point a [[client.claim]] with `states = "mirrored"` at the place that says so, or give the reason:
    `assumes = { mirrored = "the library mirrors by itself" }`.
    """
    yield from assumption(
        seen,
        "mirrored",
        "{} whether layouts are mirrored for right-to-left locales; assumed: yes",
        "icons, arrows and margins may be on the wrong side",
        'point a [[client.claim]] with states = "mirrored" at the place that says so, or give a reason: assumes = { mirrored = "…" }',
    )


@rule(
    "roster.unreadable-claim",
    "error",
    "A claim cannot be read, or only partly.",
    hides=(Hides(("roster.split", "roster.orphan"), ("client", "origin")),),
)
def unreadable_claim(world: World) -> Iterator[Problem]:
    """A claim that cannot be read cannot be compared: if it moved, nobody would notice.

    Reported once for each claim whose file, declaration or selector leads nowhere, that is empty, or some of whose values are
    computed, at the first such place; where the file is gone, at the charter's line, with the file of the client that holds what the claim
    names. To fix: correct the claim in the charter, or write the locales out in the code.
    """
    for client in world.clients:
        for claim in client.claims:
            if not claim.defects or claim.defects[0].kind == "conflict":  # `catalog.conflict` tells that
                continue
            first = claim.defects[0]
            more = f" ({len(claim.defects) - 1} more)" if len(claim.defects) > 1 else ""
            how = "cannot be read" if not claim.entries else f"can be read only partly ({counted(len(claim.entries), 'locale')})"
            spot = Spot(claim.file or world.charter_file, claim.digest, line=first.line, column=first.column)
            found = f"; {claim.moved} has it" if claim.moved else ""
            remedy = "correct the claim in the charter, or write the locales out where it points"
            if claim.gone:
                remedy = f"write {client.below(claim.moved)!r} as its file" if claim.moved else "correct the claim's file in the charter"
            yield Problem(
                Subject((client.name,)),
                f"the {claim.states!r} claim ({claim.selector} in {claim.file}) {how}: {first.detail}{more}{found}",
                claim_spot(world, client, claim) if claim.gone else spot,
                "part of this claim was not checked",
                remedy,
                detail=f"{claim.states} {client.below(claim.file or '')} {claim.selector}",
                origin=_origin(claim),
            )


@rule("roster.uncharted", "warning", "A folder has catalogs that belong to no client of the charter.", of="all")
def uncharted(seen: Overview) -> Iterator[Problem]:
    """A client that is not in the charter is never audited: its users find its faults.

    Reported once for each folder outside the clients' roots that has catalogs in several locales. Not reported: folders that the
    charter's `ignore` names, and what git ignores. To fix: add the client (`lemmar survey` drafts it), or name the folder in `ignore`.
    """
    for found in seen.uncharted:
        yield Problem(
            Subject(),
            f"{found.folder or 'the root'} has catalogs in {found.locales} locales that belong to no client of the charter",
            Spot(found.file, line=1, column=1),
            "nobody checks what their users see",
            "add the client to the charter, or name the folder in [charter] ignore",
        )
