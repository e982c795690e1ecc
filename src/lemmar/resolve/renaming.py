"""Keys that the source has renamed and its translations have not."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import NamedTuple

from lemmar.inventory.contents import Catalog
from lemmar.resolve.spots import text_of, union_of
from lemmar.resolve.world import Client, SourcePart, Space, World
from lemmar.tags import Tag

#: How alike two keys must be, of 100: by themselves, beside one neighbour that both have, between two.
_ALIKE = (80, 50, 40)
#: How alike two source texts must be, of 100.
_SAME_TEXT = 85
#: More keys than this that came and went are no renaming, but another catalog.
_MOST = 400


class Rename(NamedTuple):
    """A key's *old* and *new* name, and the client's own tags of the locales that still have the old one."""

    old: str
    new: str
    tags: tuple[Tag, ...]


def renames(client: Client, space: Space) -> list[Rename]:
    """What was renamed in the source of a space: a key that most translations, two at least, have and the source has not, and one that these lack.

    The two must be alike, or have the same text, or stand between the same neighbours.
    """
    source = client.sources[space]
    others = {tag: catalogs for tag, catalogs in client.by_space[space].items() if catalogs is not source.catalogs}
    known = union_of(source.catalogs)
    held = {tag: union_of(catalogs) for tag, catalogs in others.items()}
    old: dict[str, list[Tag]] = {}
    for tag, keys in held.items():
        if not keys <= known:
            for key in keys - known:
                old.setdefault(key, []).append(tag)
    gone = {key: tags for key, tags in old.items() if len(tags) > 1 and 3 * len(tags) >= 2 * len(others)}
    come = [key for key in source.keys if any(key not in keys for keys in held.values())] if gone else []
    if not gone or not come or len(gone) > _MOST or len(come) > _MOST:
        return []
    return _matched(source, others, gone, come, held)


def _matched(
    source: SourcePart,
    others: Mapping[Tag, Sequence[Catalog]],
    gone: Mapping[str, list[Tag]],
    come: Sequence[str],
    held: Mapping[Tag, frozenset[str]],
) -> list[Rename]:
    """The pairs of keys, the most alike first, each key in one."""
    around = _neighbours(source.catalogs)
    beside = {tag: _neighbours(others[tag]) for tag in dict.fromkeys(tags[0] for tags in gone.values())}
    scored = []
    for key, tags in gone.items():
        for new in come:
            if any(new in held[tag] for tag in tags) or f"{new}.".startswith(f"{key}.") or f"{key}.".startswith(f"{new}."):
                continue  # a text that has become a branch is another thing
            score = _score(source, others[tags[0]], key, new, beside[tags[0]][key], around[new])
            if score:
                scored.append((-score, new, key))
    found: dict[str, Rename] = {}
    taken: set[str] = set()
    for _, new, key in sorted(scored):
        if new not in found and key not in taken:
            taken.add(key)
            found[new] = Rename(key, new, tuple(gone[key]))
    return [found[key] for key in come if key in found]


def _score(
    source: SourcePart,
    translations: Sequence[Catalog],
    old: str,
    new: str,
    first: tuple[str | None, str | None],
    second: tuple[str | None, str | None],
) -> float:
    """How sure it is that *new* is what *old* was; 0 where it is not."""
    from rapidfuzz import fuzz

    near = sum(one == other for one, other in zip(first, second, strict=True))
    alike = fuzz.ratio(old, new)
    copy = next((each.column.rare.source.get(each.column.keys.places[old]) for each in translations if old in each.column.key_set), None)
    if copy is not None and fuzz.ratio(copy, text_of(source.catalogs, new) or "") >= _SAME_TEXT:
        return 200 + alike
    return alike + 50 * near if alike >= _ALIKE[near] else 0


def _neighbours(catalogs: Sequence[Catalog]) -> dict[str, tuple[str | None, str | None]]:
    """The keys before and behind each key in its file."""
    found: dict[str, tuple[str | None, str | None]] = {}
    for catalog in catalogs:
        keys: tuple[str | None, ...] = (None, *catalog.column.keys, None)
        found |= {key: (before, behind) for before, key, behind in zip(keys, catalog.column.keys, keys[2:], strict=False)}
    return found


def renames_of(world: World, client: Client) -> dict[tuple[Space, str], Rename]:
    """What was renamed in a client, by space and new key; looked for once in a world."""
    known: dict[str, dict[tuple[Space, str], Rename]] = world.memo.setdefault("renames", {})
    if client.name not in known:
        known[client.name] = {(space, each.new): each for space in client.sources for each in renames(client, space)}
    return known[client.name]
