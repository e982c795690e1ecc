"""Which asset users of a locale get, by the same chain as their texts; and how much they load."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Literal, NamedTuple

from lemmar.inventory.assets import Asset, Assets
from lemmar.resolve.pairing import same_language
from lemmar.resolve.world import Client, Effect
from lemmar.tags import Tag
from lemmar.trees import File

#: What an asset is to its users: their locale's own, a parent's, of another language, or not there.
From = Literal["own", "inherited", "foreign", "absent"]
FROM: tuple[From, ...] = ("own", "inherited", "foreign", "absent")


class Got(NamedTuple):
    """What users of a locale get for the asset *name*: the file, and of which locale it is; None where they get none."""

    name: str
    origin: From
    asset: Asset | None


def names_of(client: Client, assets: Assets) -> list[str]:
    """The names that each locale is to have: those of the source; of all locales where the source has none."""
    own = [asset.name for asset in assets.found if client.roster(asset.tag) == client.written_in]
    return list(dict.fromkeys(own or [asset.name for asset in assets.found]))


def got(client: Client, assets: Assets, effect: Effect) -> list[Got]:
    """What users of a locale get of all that there is."""
    held: dict[str, dict[Tag, Asset]] = {}
    for asset in assets.found:
        held.setdefault(asset.name, {}).setdefault(client.roster(asset.tag), asset)
    links = list(dict.fromkeys(client.roster(link) for link in (effect.tag, *effect.consulted)))
    if "[" in (assets.entry.files or ""):  # the file without a locale is there for all
        links.append(client.roster(assets.entry.unmarked or client.source))
    found = []
    for name in names_of(client, assets):
        link = next((link for link in links if link in held.get(name, {})), None)
        if link is None:
            found.append(Got(name, "absent", None))
        else:
            origin: From = "own" if link == client.roster(effect.tag) else "inherited" if same_language(effect.tag, link) else "foreign"
            found.append(Got(name, origin, held[name][link]))
    return found


class Load(NamedTuple):
    """How many bytes users of a locale load: of catalogs, of assets."""

    texts: int
    assets: int


def files_loaded(client: Client, effect: Effect) -> tuple[set[File], set[File]]:
    """The files of the catalogs that are consulted for a locale, and of its assets."""
    texts = {catalog.file for locales in client.by_space.values() for tag in effect.consulted for catalog in locales.get(tag, ())}
    return texts, {each.asset.file for assets in client.assets for each in got(client, assets, effect) if each.asset is not None}


def load(client: Client, effect: Effect, sizes: Mapping[File, int]) -> Load:
    """How much users of a locale load, by the *sizes* of files in bytes."""
    texts, assets = files_loaded(client, effect)
    return Load(_sum(texts, sizes), _sum(assets, sizes))


def _sum(files: Iterable[File], sizes: Mapping[File, int]) -> int:
    return sum(sizes.get(file, 0) for file in files)
