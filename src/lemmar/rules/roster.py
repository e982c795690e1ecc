"""The roster family: does every client support, offer and carry the locales that the team has agreed on?"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from unicodedata import category

from lemmar.inventory.contents import Spot
from lemmar.resolve import claims
from lemmar.resolve.claims import Split, claims_of, supported_at, tags_of, where_declared
from lemmar.resolve.landings import landed
from lemmar.resolve.spots import client_spot
from lemmar.resolve.world import Client, World
from lemmar.rules import Hides, Problem, Subject, rule
from lemmar.tags import LanguageTag, Tag, read_spelling, write_spelling
from lemmar.words import listed

_LOCALE = ("client", "locale")
_IN_FILES = "the catalogs' files"


def _spelt(client: Client, tag: Tag) -> str:
    return write_spelling(LanguageTag.parse(tag), client.traits["spelling"].value)


def _lands(world: World, client: Client, tag: Tag) -> str:
    return f"users who ask for {tag!r} get {landed(world, client, tag).found.tag!r}"


@rule("roster.absent", "error", "A locale on the roster is not supported by a client.", hides=(Hides(("*",), _LOCALE),))
def absent(world: World) -> Iterator[Problem]:
    """The team has agreed on a locale, and one client does not know it: its users get another language.

    Reported once for each client and locale, at the place where the client says what it supports. Not reported: a locale
    that the charter says the client may do `without`. It hides all else about that locale in that client.
    To fix: add the locale where the client lists what it supports, or give the client a `without` entry with the reason.
    """
    for client in world.clients:
        for tag in claims.absent(client):
            spot = where_declared(world, client)
            where = "a catalog for it" if client.declared_by == "files" else f"{_spelt(client, tag)!r} to {spot.file}"
            yield Problem(
                Subject((client.name,), tag),
                f"{tag!r} is on the roster, {client.name} does not support it",
                spot,
                _lands(world, client, tag),
                f"add {where}, or name it in the client's 'without'",
            )


@rule("roster.surplus", "warning", "A client supports a locale that is not on the roster.", hides=(Hides(("chain.unreachable",), _LOCALE),))
def surplus(world: World) -> Iterator[Problem]:
    """Users can choose a language that nobody has promised to keep whole, so that it decays unseen.

    Reported once for each client and locale, where the client says that it supports it; also for a locale that the charter
    exempts for this client. Not reported: test locales, which have a rule of their own.
    To fix: put the locale on the roster, or take it out of the client.
    """
    for client in world.clients:
        for tag in claims.surplus(world, client):
            known = client.roster(tag)
            exempt = known in world.charter.locales
            why = (
                f"the charter says that {client.name} goes without {known!r}, yet it supports it"
                if exempt
                else f"{client.name} supports {tag!r}, which is not on the roster"
            )
            remedy = "take it off the client's 'without'" if exempt else "put it on the roster"
            yield Problem(
                Subject((client.name,), known),
                why,
                supported_at(client, tag) or client_spot(world, client),
                "users may land in a language that nobody keeps whole",
                f"{remedy}, or remove it from the client",
            )


@rule(
    "roster.pseudo",
    "error",
    "A test locale is supported or offered.",
    hides=(Hides(("roster.surplus", "roster.unoffered", "roster.split"), _LOCALE),),
)
def pseudo(world: World) -> Iterator[Problem]:
    """A pseudo-locale is made to find cut-off and untranslated texts in tests; users must never meet it.

    Reported once for each client and test locale that a claim supports, offers or routes to. A catalog of it is fine.
    To fix: remove it from the claim in release builds.
    """
    for client in world.clients:
        for tag, (claim, spot) in claims.pseudo_locales(world, client).items():
            yield Problem(
                Subject((client.name,), tag),
                f"the test locale {tag!r} is {claim.states} by {client.name}",
                spot,
                "users can end up in a language made for tests",
                "remove it from what is released",
            )


@rule("roster.split", "error", "Two claims of one client disagree.")
def split(world: World) -> Iterator[Problem]:
    """A language listed in four of five places works in some screens and not in others.

    Reported once for a pair of claims, with the locales in which they differ: two claims of what is supported, a picker that
    offers what is not supported, an address or build target that names what is not supported or leaves out what is (other
    than the default). Not reported: a picker that leaves a locale out (`roster.unoffered`), and locales that the whole
    client lacks (`roster.absent`).
    To fix: make both places name the same locales.
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
            text = f"number {at + 1} of this list is {tags[at]!r}, of {base.file} {wanted[at]!r}"
            yield Problem(
                Subject((client.name,)),
                text,
                tags_of(client, claim)[tags[at]],
                "a program that finds a language by its number shows another one",
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
        "the language works in one place of the program and not in another",
        "make both name the same locales",
        (base.spot(),) if base is not None and base.file is not None and claim is not None else (),
        detail=f"{shown.states} {client.below(shown.file or '')} {shown.selector}",
    )


def _split_words(each: Split) -> str:
    """What the two places differ in."""
    claim, fewer, more = each.claim, listed(each.fewer), listed(each.more)
    base = str(each.base.file) if each.base is not None else _IN_FILES
    if claim is None or claim.states == "supported":
        words = [f"lacks {fewer}"] if fewer else []
        words += [f"adds {more}"] if more else []
        return f"{'this list' if claim else 'the set of catalogs'} {' and '.join(words)}, compared with {base}"
    verb = "the picker offers" if claim.states == "offered" else "the addresses name"
    words = [f"{verb} {more}, which {base} {'does' if each.base else 'do'} not support"] if more else []
    words += (
        [f"{'they' if more else 'the addresses'} leave out {fewer}, which {base} {'supports' if each.base else 'support'}"] if fewer else []
    )
    return "; ".join(words)


@rule("roster.unoffered", "warning", "A supported locale is not in the client's picker.")
def unoffered(world: World) -> Iterator[Problem]:
    """The translation is there and paid for, and users have no way to choose it.

    Reported once for each locale that a client supports and its picker does not show. Not reported: clients without a picker.
    To fix: add the locale to the picker.
    """
    for client in world.clients:
        for tag in claims.unoffered(client):
            picker = next(claim for claim in claims_of(client, "offered") if claim.entries)
            yield Problem(
                Subject((client.name,), tag),
                f"{client.name} supports {tag!r}, its picker does not offer it",
                picker.spot(),
                "users cannot choose the language",
                f"add {_spelt(client, tag)!r} to {picker.file}",
            )


@rule("roster.mislabelled", "warning", "A picker shows another language's name beside a locale.")
def mislabelled(world: World) -> Iterator[Problem]:
    """The words in the picker are another language's name: users choose one language and get another.

    Reported for an offered locale whose words are known to name a different language, script or region, by CLDR's names in English, in
    that language and in the locale itself. Not reported: words that are no language's name, and a language named without its region.
    To fix: correct the words, or the locale beside them.
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
                    f"the picker shows {entry.value.label!r} beside {entry.value.text!r}, which is the name of {str(meant)!r}",
                    Spot(claim.file or world.charter_file, claim.digest, line=entry.value.line, column=entry.value.column),
                    "users choose one language and get another",
                    "correct the words, or the locale beside them",
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
    "A client supports a locale of which it has no catalog.",
    hides=(Hides(("catalog.absent", "catalog.below-threshold", "message.missing"), _LOCALE),),
)
def hollow(world: World) -> Iterator[Problem]:
    """The language can be chosen, and then nothing is in it.

    Reported once for each client and locale of the roster that is supported, has no catalog, and does not inherit every text
    from its own language. To fix: add the catalogs, or take the locale out of what the client supports.
    """
    for client in world.clients:
        for locale in claims.hollow(client):
            effect = client.effects[locale]
            shown = effect.consulted[0] if effect.consulted else None
            yield Problem(
                Subject((client.name,), locale),
                f"{client.name} supports {locale!r} and has no catalog of it",
                supported_at(client, effect.tag) or client_spot(world, client),
                f"users who choose it see {shown!r} texts" if shown else "users who choose it see no text at all",
                "add its catalogs, or do not support it yet",
            )


@rule(
    "roster.orphan",
    "warning",
    "A client has a catalog of a locale that no claim supports.",
    hides=(Hides(("chain.unreachable",), _LOCALE),),
)
def orphan(world: World) -> Iterator[Problem]:
    """Somebody has translated the client, and no user can get there: the language was forgotten where it must be listed.

    Reported once for each client and locale, at the first of its files. Not reported: test locales, and clients whose files are
    themselves the declaration. To fix: add the locale to what the client supports, or remove its catalogs.
    """
    for client in world.clients:
        for tag, file in claims.orphans(world, client).items():
            yield Problem(
                Subject((client.name,), tag),
                f"{client.name} has a catalog of {tag!r}, which no claim supports",
                Spot(file, line=1, column=1),
                "no user can reach these texts",
                f"add {_spelt(client, tag)!r} to what the client supports, or remove its catalogs",
            )


@rule("roster.unclaimed", "error", "Nothing says what a client supports.", hides=(Hides(("roster.*", "chain.*"), ("client",)),))
def unclaimed(world: World) -> Iterator[Problem]:
    """Without a claim, that a client supports what it has catalogs of is only a guess.

    Reported for a client whose platform does not take its files as the declaration and that has no readable claim of what it
    supports, offers or routes to. It stands for all that could be said of the client's roster and chains.
    To fix: add a [[client.claim]] with `states = "supported"`.
    """
    for client in world.clients:
        if client.declared_by == "nothing" and not claims_of(client, "supported", "offered", "routed"):
            yield Problem(
                Subject((client.name,)),
                f"nothing in the charter says where {client.name} declares its locales",
                client_spot(world, client),
                "whether its users can reach a language is not known",
                "add a [[client.claim]] that states what is supported",
            )


@rule("roster.unreadable-claim", "error", "A claim cannot be read, or only in part.")
def unreadable_claim(world: World) -> Iterator[Problem]:
    """What cannot be read cannot be held against anything: a claim that moved would pass unseen.

    Reported once for each claim whose file, declaration or selector leads nowhere, that is empty, or of which some values are
    computed, at the first such place. To fix: correct the claim in the charter, or write the locales out in the code.
    """
    for client in world.clients:
        for claim in client.claims:
            if not claim.defects:
                continue
            first = claim.defects[0]
            more = f" ({len(claim.defects) - 1} more)" if len(claim.defects) > 1 else ""
            how = "cannot be read" if not claim.entries else f"can be read only in part ({len(claim.entries)} locales)"
            yield Problem(
                Subject((client.name,)),
                f"the claim of what is {claim.states}, {claim.selector} in {claim.file}, {how}: {first.detail}{more}",
                Spot(claim.file or world.charter_file, claim.digest, line=first.line, column=first.column),
                "the audit does not know all that the client states",
                "correct the claim in the charter, or write the locales out where it points",
                detail=f"{claim.states} {client.below(claim.file or '')} {claim.selector}",
            )


@rule("roster.uncharted", "warning", "A folder holds catalogs that no client of the charter has.")
def uncharted(world: World) -> Iterator[Problem]:
    """A client that nobody has chartered is never audited: its users find its faults.

    Reported once for each folder outside of every client's that holds catalogs in several locales. Not reported: folders that the
    charter's `ignore` names, and what git ignores. To fix: add the client with `lemmar survey`'s help, or name the folder in `ignore`.
    """
    for found in world.uncharted:
        yield Problem(
            Subject(),
            f"{found.folder or 'the root'} holds catalogs in {found.locales} locales, and no client of the charter has them",
            Spot(found.file, line=1, column=1),
            "nothing is known of what their users see",
            "charter the client, or name the folder in [charter] ignore",
        )
