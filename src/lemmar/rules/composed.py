"""Catalogs and key lists that are made of others: do they still have what those have?"""

from __future__ import annotations

from collections.abc import Iterator

from lemmar.basics.phrasing import counted, listed
from lemmar.findings import Subject
from lemmar.inventory.composing import Composition, Unmade
from lemmar.inventory.contents import Spot
from lemmar.inventory.key_lists import difference
from lemmar.resolve.spots import charter_spot, keys_of
from lemmar.resolve.world import Client, World
from lemmar.rules import Hides, Problem, rule


@rule(
    "catalog.composed-stale",
    "error",
    "A composed catalog differs from its fragments.",
    hides=(Hides(("catalog.absent", "roster.hollow"), ("client", "locale")), Hides(("message.missing",), ("client", "locale", "origin"))),
)
def composed_stale(world: World) -> Iterator[Problem]:
    """Somebody changed a fragment and did not run the script: users read the old texts, or raw keys.

    Reported once for each catalog that a `[[client.composed]]` of the charter makes: keys that it lacks, keys that no fragment has, other
    texts, or that it or a fragment cannot be read; and for what of such a table gives nothing to compare: a pattern without a match,
    fragments of no locale. Not reported: another order of keys. To fix: run the script that makes it, or `lemmar compose --write`.
    """
    for client in world.clients:
        yield from _unmade(world, client)
        for made in client.composed:
            locale = client.roster(made.tag)
            if made.fault:
                words = (
                    f"{made.file} cannot be compared with its fragments: {made.fault}",
                    "nobody knows whether it is up to date",
                    "mend that file",
                )
            elif made.is_stale and (made.there or locale in client.needs):
                older = f"users of {locale!r} read what an older script run made of {counted(len(made.wanted), 'text')}"
                words = (f"{made.file} {_what(made)}", older, "run the script that makes it, or 'lemmar compose --write'")
            else:
                continue
            spot = Spot(made.file, line=1, column=1) if made.there else charter_spot(world, *made.where)
            yield Problem(Subject((client.name,), locale), words[0], spot, words[1], words[2], detail=made.file)


#: So many files with one fault are named.
_NAMED = 3


def _unmade(world: World, client: Client) -> Iterator[Problem]:
    """What gives nothing to compare, the files of one fault together."""
    groups: dict[tuple[tuple[str | int, ...], str], list[Unmade]] = {}
    for each in client.unmade:
        groups.setdefault((each.where, each.words), []).append(each)
    for (where, words), those in groups.items():
        files = [each.file for each in those if each.file is not None]
        yield Problem(
            Subject((client.name,)),
            f"{listed(files, most=_NAMED)}: {words}" if files else words,
            charter_spot(world, *where),
            "none of these texts was compared",
            "correct the table in the charter, or the file's name",
            detail=f"{where} {words}",
        )


def _what(made: Composition) -> str:
    if not made.there:
        return "is not there; its fragments are"
    said = [
        f"lacks {listed(made.lacking, most=3)}" if made.lacking else "",
        f"has another text for {listed(made.other, most=3)}" if made.other else "",
        f"has {listed(made.surplus, most=3)}, which no fragment has" if made.surplus else "",
    ]
    return " and ".join(filter(None, said))


@rule("catalog.composed-clash", "error", "Two fragments of a composed catalog have one key with two texts.")
def composed_clash(world: World) -> Iterator[Problem]:
    """Which text users read depends on the order in which a script reads the files.

    Reported once for each key and locale, at the second fragment, where the charter does not say which text counts (`clash`). To fix: give one of the
    two another key, or say `clash = "first"` or `"last"`.
    """
    for client in world.clients:
        for made in client.composed:
            for first, second in made.clashes:
                yield Problem(
                    Subject((client.name,), client.roster(made.tag), None, second.key),
                    f"{second.key!r} stands in {first.spot.file} and in {second.spot.file}, with two texts",
                    second.spot,
                    "users read either of them",
                    "give one of them another key, or say in the charter which counts",
                    (first.spot,),
                    detail=made.file,
                )


@rule("key.list-stale", "error", "A list of keys differs from its catalog.")
def list_stale(world: World) -> Iterator[Problem]:
    """Code asks for a key by a name that is gone, or cannot ask for one that is there.

    Reported once for each `[[client.key-list]]` of the charter: keys of the source that it lacks, and names that are no key. Cases and signs of a name do
    not count: `hut.near` is `HUT_NEAR` and `hutNear`. Not reported: names that the charter lists as `beside`; lists of a
    client whose composed source is not up to date itself. To fix: bring the list up to date; `lemmar
    compose --write` puts keys in and takes them out, after the example of the others.
    """
    for client in world.clients:
        if any(made.is_stale and made.tag == client.source for made in client.composed):
            continue
        for found in client.key_lists:
            if found.unfinished:
                continue  # the audit is not complete
            if found.fault:
                yield Problem(
                    Subject((client.name,)),
                    f"the key list in {found.file} cannot be read: {found.fault}",
                    charter_spot(world, *found.where),
                    "nobody knows whether it is up to date",
                    "correct the file or the selector in the charter",
                    detail=found.file,
                )
                continue
            apart = difference(found, keys_of(found, client.sources))
            said = [
                f"lacks {listed(apart.lacking, most=3)}" if apart.lacking else "",
                f"has {listed([value.text for value in apart.surplus], most=3)}, which the source has not" if apart.surplus else "",
            ]
            if any(said):
                first = apart.surplus[0] if apart.surplus else found.values[0] if found.values else None
                yield Problem(
                    Subject((client.name,)),
                    f"the key list in {found.file} {' and '.join(filter(None, said))}",
                    Spot(found.file, found.digest, line=first.line if first else 1, column=first.column if first else 1),
                    "code asks for texts that do not exist, or cannot ask for texts that do",
                    "update the list, or run 'lemmar compose --write'",
                    detail=f"{found.file} {found.where[-1]}",
                )
