"""Assets of a locale that is taken out, or called otherwise: their files, and the tables that list them."""

from __future__ import annotations

from lemmar.charter.presets import traits
from lemmar.inventory.gathering import base_of, speller_of
from lemmar.resolve.world import Client
from lemmar.tags import LanguageTag, Tag
from lemmar.trees import File
from lemmar.trees.patterns import rewritten_path
from lemmar.work.changes import Changes
from lemmar.work.likeness import restated
from lemmar.work.places import Monorepo


def drop(changes: Changes, client: Client, locale: Tag) -> None:
    """Takes the files of the roster's *locale* out; what tables list of it is left to a person."""
    for assets in client.assets:
        listed = next((each for each in assets.listed if client.roster(each.tag) == locale), None)
        if listed is not None and assets.table is not None:
            changes.step(
                f"take {locale!r} out of the assets that {client.name} lists here, and the files that only it has",
                assets.table,
                listed.line,
            )
            continue
        for asset in assets.found:
            if client.roster(asset.tag) == locale and assets.table is None and changes.is_file(asset.file):
                changes.put(asset.file, None)
                changes.places += 1


def rename(monorepo: Monorepo, client: Client, old: Tag, new: Tag) -> None:
    """Calls the files of the roster's locale *old* by its *new* tag; what tables list of it is left to a person."""
    changes, charter = monorepo.changes, monorepo.read.charter
    entry = next(each for each in charter.client if each.name == client.name)
    was, now = LanguageTag.parse(old), LanguageTag.parse(new)
    for assets in client.assets:
        listed = next((each for each in assets.listed if client.roster(each.tag) == old), None)
        if listed is not None and assets.table is not None:
            changes.step(f"call {old!r} {new!r} among the assets that {client.name} lists here", assets.table, listed.line)
        if assets.table is not None:
            continue
        pattern, base = (assets.entry.files or "").replace("{name", "{part"), base_of(entry)
        spelling = speller_of(charter, assets.entry, entry, traits(entry)["spelling"].value).spelling
        mine = {asset.file for asset in assets.found if client.roster(asset.tag) == old}
        for match in monorepo.tree.files(pattern, base):
            if match.file in mine and match.locale is not None and changes.is_file(match.file):
                to = rewritten_path(pattern, base, match.file, restated(match.locale, was, now, spelling, names=False), match.part)
                if to is None:
                    changes.step(f"call this asset of {old!r} by {new!r}", match.file)
                elif to != match.file:
                    changes.move(match.file, File(to))
