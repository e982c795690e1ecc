"""Assets by locale: sounds, pictures, data; and how much users load."""

from __future__ import annotations

from collections.abc import Iterator
from fnmatch import fnmatchcase

from lemmar.basics.phrasing import counted, listed
from lemmar.charter.sizes import bytes_in, in_bytes
from lemmar.findings import Subject
from lemmar.inventory.assets import Asset, Assets
from lemmar.inventory.contents import Spot
from lemmar.resolve.assets import got, load, names_of
from lemmar.resolve.pairing import same_language
from lemmar.resolve.spots import charter_spot, client_spot
from lemmar.resolve.world import Client, World
from lemmar.rules import Problem, rule
from lemmar.tags import Tag
from lemmar.trees import File

#: So many files of one finding are named as places.
_RELATED = 5


@rule("asset.absent", "error", "A shipping locale has no asset, and nothing stands in for it.")
def absent(world: World) -> Iterator[Problem]:
    """The game asks for a sound that is not there: silence, an empty frame, or the end of the program.

    Reported once for each locale and `[[client.asset]]` of the charter, with the names that the source has (or any locale, where the source has none).
    What another locale of the client's fallback chain has stands in for it, unless the charter says that each is to have its `own`: then only a
    parent in the same language does. To fix: add the files, or remove the locale.
    """
    for client in world.clients:
        for assets in client.assets:
            for locale, effect in client.effects.items():
                if not client.ships(locale):
                    continue
                lacking = [
                    each.name or "the file"
                    for each in got(client, assets, effect)
                    if each.origin == "absent" or (assets.entry.own and each.origin == "foreign")
                ]
                if lacking:
                    total = len(names_of(client, assets))
                    yield Problem(
                        Subject((client.name,), locale),
                        f"{locale!r} lacks {counted(len(lacking), 'asset')} of {total} in {_what(assets)}: {listed(lacking, most=4)}",
                        _table_spot(world, assets),
                        "users get none" if not assets.entry.own else "users get none, or that of another language",
                        f"add {'it' if len(lacking) == 1 else 'them'}" + ("" if assets.entry.own else ", or let another locale stand in"),
                        detail=_what(assets),
                    )


@rule("asset.orphan", "warning", "An asset belongs to no locale of the client, or to nothing that the source has.")
def orphan(world: World) -> Iterator[Problem]:
    """It is shipped and nobody ever gets it: a leftover, or its locale's name is mistyped.

    Reported once for each locale that is neither on the roster nor supported, once for files whose name has no locale, and once for names that the
    source lacks. To fix: rename the files, or remove them.
    """
    for client in world.clients:
        for assets in client.assets:
            if assets.files:
                yield _orphan(client, assets, list(assets.files), None, f"{listed(assets.files, most=3)}: the name has no locale")
            by_tag: dict[Tag, list[Asset]] = {}
            for asset in assets.found:
                by_tag.setdefault(client.roster(asset.tag), []).append(asset)
            for tag, those in by_tag.items():
                if tag not in world.charter.locales and tag not in client.supported and tag not in world.charter.roster.pseudo:
                    words = f"{counted(len(those), 'asset')} in {_what(assets)} {'is' if len(those) == 1 else 'are'} of {tag!r}, which nobody can get"
                    yield _orphan(client, assets, [each.file for each in those], tag, words)
            names = set(names_of(client, assets))
            strange = [each for each in assets.found if each.name not in names]
            if strange:
                words = f"the source has no asset {listed(dict.fromkeys(each.name for each in strange), most=4)} in {_what(assets)}"
                yield _orphan(client, assets, [each.file for each in strange], None, words)


def _orphan(client: Client, assets: Assets, files: list[File], tag: Tag | None, words: str) -> Problem:
    return Problem(
        Subject((client.name,), tag),
        words,
        Spot(files[0], line=1, column=1),
        "it is shipped, and nobody ever gets it",
        "correct the name, or remove it",
        tuple(Spot(file, line=1, column=1) for file in files[1 : _RELATED + 1]),
        detail=f"{_what(assets)} {words.partition(' ')[0]}",
    )


@rule("asset.copied", "warning", "An asset is the source's, byte for byte.")
def copied(world: World) -> Iterator[Problem]:
    """The file is a copy of the source's, so users still hear or see the source's language.

    Reported once for each locale in another language than the source's. Not reported: names that the charter lists as the `same`. To fix: record, draw or
    export it, or list it.
    """
    for client in world.clients:
        for assets in client.assets:
            own = {each.name: each for each in assets.found if client.roster(each.tag) == client.written_in}
            by_tag: dict[Tag, list[Asset]] = {}
            for asset in assets.found:
                first = own.get(asset.name)
                tag = client.roster(asset.tag)
                may = any(fnmatchcase(asset.name, pattern) for pattern in assets.entry.same)
                is_copy = first is not None and first.file != asset.file and first.digest == asset.digest
                if is_copy and not may and not same_language(tag, client.written_in):
                    by_tag.setdefault(tag, []).append(asset)
            for tag, those in by_tag.items():
                names = [each.name or each.file for each in those]
                yield Problem(
                    Subject((client.name,), tag),
                    f"{counted(len(those), 'asset')} of {tag!r} in {_what(assets)} {'is' if len(those) == 1 else 'are'} the source's, byte for byte: "
                    f"{listed(names, most=4)}",
                    Spot(those[0].file, line=1, column=1),
                    f"users of {tag!r} get it in {client.written_in!r}",
                    "make their own, or list it as the 'same' in the charter",
                    tuple(Spot(own[each.name].file, line=1, column=1) for each in those[:_RELATED]),
                    detail=_what(assets),
                )


@rule("asset.unlisted", "error", "A table of assets names a file that is not there, or cannot be read.")
def unlisted(world: World) -> Iterator[Problem]:
    """The program looks for the file when somebody needs it, and fails there.

    Reported for each entry of the table that a `[[client.asset]]` names, and for a table that cannot be read. To fix: correct the path, or add the file.
    """
    for client in world.clients:
        for assets in client.assets:
            if assets.fault and assets.table is not None:
                yield Problem(
                    Subject((client.name,)),
                    f"the table of assets in {assets.table} cannot be read: {assets.fault}",
                    _table_spot(world, assets),
                    "the assets in this table were not checked",
                    "correct the file, or the table in the charter",
                    detail=assets.table,
                )
            for each in assets.listed:
                if not each.there and assets.table is not None:
                    yield Problem(
                        Subject((client.name,), client.roster(each.tag)),
                        f"{each.text!r} is not there" + (f" ({each.name})" if each.name else ""),
                        Spot(assets.table, assets.digest, line=each.line, column=each.column),
                        "the program fails when it loads it",
                        f"add {each.file}, or correct the path",
                        detail=f"{each.name} {each.text}",
                    )


@rule("catalog.too-big", "warning", "Users load more than the client's budget.")
def too_big(world: World) -> Iterator[Problem]:
    """On a slow connection, users leave before the texts have loaded.

    Reported once for each client, with the locales: all catalogs that are consulted for one count, and its assets, by their bytes as they lie
    there. To fix: part the catalogs, compress the assets, or raise the `budget`.
    """
    for client in world.clients:
        if not client.budget:
            continue
        most = in_bytes(client.budget)
        loads = {locale: load(client, effect, client.sizes) for locale, effect in client.effects.items()}
        over = sorted(((sum(each), locale, each) for locale, each in loads.items() if sum(each) > most), reverse=True)
        if over:
            size, locale, parts = over[0]
            more = f"; {counted(len(over) - 1, 'more locale')} too" if len(over) > 1 else ""
            yield Problem(
                Subject((client.name,)),
                f"users of {locale!r} load {bytes_in(size)} ({bytes_in(parts.texts)} of texts, {bytes_in(parts.assets)} of assets), and the budget is "
                f"{client.budget}{more}",
                client_spot(world, client),
                "they wait for it",
                "part the catalogs, compress the assets, or raise 'budget'",
            )


def _what(assets: Assets) -> str:
    return assets.entry.files or assets.table or ""


def _table_spot(world: World, assets: Assets) -> Spot:
    return charter_spot(world, *assets.where)
