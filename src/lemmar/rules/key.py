"""Keys that code uses: are they there, and are those that are there used?"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from lemmar.basics.phrasing import counted, joined, listed
from lemmar.findings import Subject
from lemmar.inventory.contents import Spot
from lemmar.resolve.key_uses import KeyUse, Lacking, asking_of, nearest_of, plain
from lemmar.resolve.outlines import Outline, Overview, Unasked
from lemmar.resolve.spots import charter_spot, holder_of
from lemmar.resolve.world import Client, World
from lemmar.rules import Problem, rule

#: Of catalogs whose keys are the texts themselves, more that are nowhere have one cause: nobody has gathered them from the code.
_SEVERAL = 5
#: So many other places of one key are named.
_RELATED = 5


@rule("key.undefined", "error", "Code asks for a message that is not in the source.")
def undefined(world: World) -> Iterator[Problem]:
    """Users of every language read a raw key, or nothing: the key was renamed in the catalog, mistyped in the code, or never written.

    Reported once for each key, at its first use, with the nearest key that exists; for a key that the program puts together, where no key begins
    and ends so; once for all where the keys are the texts themselves and more than five do not exist; once for a `[[client.usage]]` of the
    charter more than half of whose keys do not exist, since that table is then what is wrong, and for one that finds nothing. Branches, keys
    with a form's or a sort's ending, and messages in any part count as existing. Accessors and references are reported where nine of ten are
    keys. Not read: tests, packed code, copied libraries. To fix: write the message, or correct the key.
    """
    for client in world.clients:
        asked = asking_of(world, client)
        if asked is None:
            continue
        keys = [plain(key) for source in client.sources.values() for key in source.keys]
        for way in asked.idle:
            looked = counted(client.usage.looked if client.usage is not None else 0, "file")
            yield Problem(
                Subject((client.name,)),
                f"nothing in the code asks for a message as this usage says; {looked} of the client were looked through",
                _usage_spot(world, client, way),
                "keys that do not exist are not reported",
                "correct its name or its 'files', or remove the table",
                detail=f"idle {way}",
            )
        for way, first in asked.unfit:
            total, lacks = asked.found[way]
            yield Problem(
                Subject((client.name,)),
                f"of {counted(total, 'key')} that this usage finds in the code {lacks} are not in the source, such as {first.use.key!r}",
                _usage_spot(world, client, way),
                "the keys in this code were not checked",
                "correct the table: the function, the argument, or what stands before each key ('under', 'part')",
                (_spot(first),),
                detail=str(way),
            )
        nowhere = [lacking for lacking in asked.lacking if not lacking.elsewhere]
        if len(nowhere) > _SEVERAL and 2 * sum(" " in key for key in keys) > len(keys):
            yield _out_of_date(client, nowhere)
        else:
            yield from (_undefined(client, lacking) for lacking in nowhere)
        for each in asked.unmatched:  # put together at run time
            shape = f"{each.use.key}…{each.use.end}"
            yield Problem(
                Subject((client.name,), part=each.use.part, key=shape),
                f"the code asks for a key {shape!r}, and no key of the source {_begins(each)}",
                _spot(each),
                _seen(client),
                "correct the key in the code, or write the messages",
                detail=each.file.file,
            )


def _or_meant(name: str | None) -> str:
    return f"; did you mean {name!r}?" if name is not None else ""


def _begins(each: KeyUse) -> str:
    said = [f"begins with {each.use.key!r}" if each.use.key else "", f"ends with {each.use.end!r}" if each.use.end else ""]
    return " and ".join(filter(None, said))


def _out_of_date(client: Client, lacking: list[Lacking]) -> Problem:
    """Texts that are their own keys, and that nobody has gathered from the code of late: one cause."""
    return Problem(
        Subject((client.name,)),
        f"the source lacks {counted(len(lacking), 'text')} that the code asks for, such as {listed([each.key for each in lacking], most=3)}",
        _spot(lacking[0].uses[0]),
        "users of every language read the texts of the code",
        "extract the texts of the code into the catalogs again",
        tuple(_spot(each.uses[0]) for each in lacking[1 : _RELATED + 1]),
    )


def _undefined(client: Client, lacking: Lacking) -> Problem:
    first, *others = lacking.uses
    key = lacking.key
    translated = sorted(
        {
            client.roster(catalog.tag)
            for catalogs in client.by_space.values()
            for those in catalogs.values()
            for catalog in those
            if key in catalog.column.key_set
        }
    )
    only = f"; only the translation into {joined(translated)} has it" if translated else ""
    more = f", and in {counted(len(others), 'more place')}" if others else ""
    return Problem(
        Subject((client.name,), part=lacking.part, key=key),
        f"the code asks for {key!r}, which is not in the source{only}{more}",
        _spot(first),
        _seen(client),
        f"write the message, or correct the key{_or_meant(lacking.meant)}",
        tuple(_spot(each) for each in others[:_RELATED]),
    )


@rule("key.wrong-part", "error", "Code asks for a message in a part that does not have it, and another part does.")
def wrong_part(world: World) -> Iterator[Problem]:
    """The message exists, but users read its raw key.

    Reported once for each part and key, where the charter says how code names a part (`part`). To fix: name the other part in the code, or move
    the message.
    """
    for client in world.clients:
        asked = asking_of(world, client)
        for lacking in asked.lacking if asked is not None else ():
            if lacking.elsewhere:
                first, *others = lacking.uses
                there = joined([repr(part) if part else "the catalog without a part" for part in lacking.elsewhere], most=3)
                yield Problem(
                    Subject((client.name,), part=lacking.part, key=lacking.key),
                    f"the code asks for {lacking.key!r} in the part {lacking.part!r}; it is in {there}",
                    _spot(first),
                    _seen(client),
                    "name that part in the code, or move the message",
                    tuple(_spot(each) for each in others[:_RELATED]),
                )


@rule("key.computed", "note", "The program puts keys together when it runs.")
def computed(world: World) -> Iterator[Problem]:
    """The code does not show which messages it asks for, so a key that does not exist may go unnoticed.

    Reported once for each client, with the first places, and once for code that cannot be parsed. All messages that begin and end as such a key
    does count as used. To fix: nothing, or write the keys out.
    """
    for client in world.clients:
        asked = asking_of(world, client)
        faults = client.usage.faults if client.usage is not None else ()
        if faults:
            file, why = faults[0]
            more = f", nor can {counted(len(faults) - 1, 'more file')}" if len(faults) > 1 else ""
            yield Problem(
                Subject((client.name,)),
                f"{file} cannot be looked through{more}: {why}",
                Spot(file, line=1, column=1),
                "the keys in this file were not checked; all that it quotes counts as used",
                "fix it, or exclude it with 'except'",
                detail="unread",
            )
        if asked is None or not asked.computed:
            continue
        open_ended = sum(1 for each in asked.computed if not each.use.key and not each.use.end)
        shapes = dict.fromkeys(f"{each.use.key}…{each.use.end}" for each in asked.computed if each.use.key or each.use.end)
        such = f", such as {listed(list(shapes), most=3)}" if shapes else ""
        whole = f"; of {open_ended} not even a part of it is known" if open_ended else ""
        yield Problem(
            Subject((client.name,)),
            f"{counted(len(asked.computed), 'place')} in the code {'puts' if len(asked.computed) == 1 else 'put'} a key together at run time{such}{whole}",
            _spot(asked.computed[0]),
            "nobody knows whether all of these messages exist",
            "write the keys out where you can",
            tuple(_spot(each) for each in asked.computed[1 : _RELATED + 1]),
        )


@rule("key.arguments", "error", "Code does not give a message the values that its text takes.")
def arguments(world: World) -> Iterator[Problem]:
    """Users read a raw placeholder, or nothing in its place.

    Reported once for each key, at the first call that lacks a value. Only where the charter says which argument holds the values
    (`values`), or what is given fits in part or nearly. Values too many are not reported, nor calls whose values are computed. To fix: give the value,
    or correct its name.
    """
    for client in world.clients:
        asked = asking_of(world, client)
        for (space, key), uses in asked.uses.items() if asked is not None else ():
            source = client.sources[space]
            catalog = holder_of(source, key)
            wanted = [each.name for each in world.shapes[catalog.shapes[catalog.column.keys.places[key]]].arguments if each.name]
            for each in uses if wanted else ():
                lacks = _lacks(client, each, wanted)
                if lacks:
                    given = each.use.given or ()
                    yield Problem(
                        Subject((client.name,), part=space.part, key=key),
                        f"the code gives {key!r} no {listed(lacks)}" + (f"; it gives {listed(list(given), most=5)}" if given else ""),
                        _spot(each),
                        "users read a raw placeholder, or nothing in its place",
                        _correction(lacks, given),
                        (Spot(catalog.file, catalog.digest, catalog.column.label, key),),
                    )
                    break


def _correction(lacks: list[str], given: Sequence[str]) -> str:
    near = nearest_of(lacks[0], [name for name in given if name not in lacks]) if len(lacks) == 1 else None
    return f"rename {near!r} to {lacks[0]!r}" if near is not None else "give it" if len(lacks) == 1 else "give them"


def _lacks(client: Client, asked: KeyUse, wanted: list[str]) -> list[str]:
    """The values that a call does not give, where that is sure."""
    use = asked.use
    assert client.usage is not None
    way = client.usage.ways[use.way]
    if use.computed:
        return []
    if use.count >= 0:
        return wanted[use.count :] if all(name.isdigit() for name in wanted) else []
    if use.given is None:
        return []
    lacks = [name for name in wanted if name not in use.given and not name.isdigit()]
    given = set(use.given)
    is_sure = way.values is not None or bool(given & set(wanted)) or any(nearest_of(name, sorted(given)) is not None for name in lacks)
    return lacks if is_sure else []


@rule("key.unused", "warning", "No code asks for these messages.", of="all")
def unused(overview: Overview) -> Iterator[Problem]:
    """Translators are paid for texts that nobody reads.

    Reported once for each client and part, with the keys. Used is what code asks for in a way that the charter names, what stands between quotation
    marks anywhere in it, and all that a key put together at run time may be. What several clients share is unused where none of them asks
    for it and the charter says of all how they ask. To fix: remove the messages, or say in the charter how the code asks for them
    (`[[client.usage]]`).
    """
    asked_elsewhere = {outline.name: _asked_by_others(overview, outline) for outline in overview.clients if outline.unasked}
    for outline in overview.clients:
        for each in outline.unasked or ():
            if each.number >= len(overview.charter.catalog):
                keys = [key for key in each.keys if plain(key) not in asked_elsewhere[outline.name]]
                if keys:
                    yield _unused((outline.name,), each, keys)
    for number, entry in enumerate(overview.charter.catalog):
        users = [
            outline
            for outline, client in zip(overview.clients, overview.charter.client, strict=True)
            if entry.name is not None and entry.name in client.uses
        ]
        if not users or any(outline.unasked is None for outline in users):
            continue
        for part in dict.fromkeys(each.part for outline in users for each in outline.unasked or () if each.number == number):
            found = [[each for each in outline.unasked or () if (each.number, each.part) == (number, part)] for outline in users]
            if all(found):
                common = set.intersection(*({key for each in those for key in each.keys} for those in found))
                first = found[0][0]
                keys = [key for key in first.keys if key in common]
                if keys:
                    yield _unused(tuple(outline.name for outline in users), first, keys)


def _unused(clients: tuple[str, ...], each: Unasked, keys: list[str]) -> Problem:
    is_one = len(keys) == 1
    return Problem(
        Subject(clients, part=each.part),
        f"no code asks for {counted(len(keys), 'message')} of {each.total}: {listed([plain(key) for key in keys], most=6)}",
        Spot(each.file, each.digest, each.label, keys[0]),
        f"{'it is' if is_one else 'they are'} translated, and nobody reads {'it' if is_one else 'them'}",
        f"remove {'it' if is_one else 'them'}, or say in the charter how the code asks for {'it' if is_one else 'them'}",
        tuple(Spot(each.file, each.digest, each.label, key) for key in keys[1 : _RELATED + 1]),
    )


def _asked_by_others(overview: Overview, outline: Outline) -> frozenset[str]:
    return frozenset().union(*(other.lacking for other in overview.clients if other.name != outline.name))


@rule("key.only-there", "warning", "Only the code of another client asks for a message.", of="all")
def only_there(overview: Overview) -> Iterator[Problem]:
    """The message was written into the wrong client's catalog: here nobody reads it, and there users see its key.

    Reported once for each two clients, with the keys. To fix: move the messages to the client that asks for them.
    """
    for outline in overview.clients:
        for other in overview.clients:
            for each in (outline.unasked or ()) if other is not outline else ():
                keys = [key for key in each.keys if plain(key) in other.lacking]
                if keys and each.number >= len(overview.charter.catalog):
                    yield Problem(
                        Subject((outline.name,), part=each.part),
                        f"only the code of {other.name} asks for {listed([plain(key) for key in keys], most=6)}, which is in {outline.name}'s catalog",
                        Spot(each.file, each.digest, each.label, keys[0]),
                        f"users of {other.name} do not read it",
                        f"move it to the catalog of {other.name}",
                        detail=other.name,
                    )


def _seen(client: Client) -> str:
    """What users see where no catalog has a message."""
    return _SEEN[client.traits["on-miss"].value]


_SEEN = {
    "key": "users see the raw key",
    "blank": "users see nothing",
    "source": "users see the raw key",
    "error": "the program fails there",
}


def _spot(asked: KeyUse) -> Spot:
    return Spot(asked.file.file, asked.file.digest, line=asked.use.line, column=asked.use.column)


def _usage_spot(world: World, client: Client, way: int) -> Spot:
    index = next(index for index, entry in enumerate(world.charter.client) if entry.name == client.name)
    return charter_spot(world, "client", index, "usage", way)
