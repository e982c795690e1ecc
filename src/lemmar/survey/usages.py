"""How a client's code asks for its messages: seen by what texts in it are keys, and what stands around them."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from typing import Any

import msgspec
from msgspec.structs import replace

from lemmar.basics.errors import IncompleteError
from lemmar.basics.phrasing import clipped, counted
from lemmar.basics.text import decode
from lemmar.charter.types import UsageEntry
from lemmar.inventory.aside import is_packed
from lemmar.inventory.readings import Readings
from lemmar.inventory.using import looked_through, usage_of
from lemmar.resolve.key_uses import Asking, asking
from lemmar.resolve.world import Client, Space
from lemmar.survey.draft import DraftUsage
from lemmar.survey.usages_in_code import OF_TAGS, Keys, Tally, keys_of, seen_in
from lemmar.trees import File, Tree
from lemmar.usages import TEMPLATES

#: So many files of a client are looked at for the ways it asks.
_FILES = 2_000
#: As many keys in one way, of which so many are keys, are a way; the rest is asked.
_FEWEST = 3
#: A way beside others that finds fewer than one of so many messages is a chance.
_SHARE = 100
_SURE = 0.6
_VERY_SURE = 0.95
_LIKELY = 0.3
#: Where more of the messages than this are asked for by nobody, the charter does not go by it.
_UNUSED = 1 / 3
#: The class by which Android's code names resources: what stands there is one, however few there are.
_RESOURCES = ("R.string.", "R.plurals.", "R.array.")
#: A table of the charter, and its evidence.
_Table = tuple[dict[str, Any], str]


def usages(client: Client, tree: Tree, others: Collection[str], readings: Readings) -> DraftUsage:
    """How the code of *client* asks for messages; *others* are all clients' folders."""
    if not client.sources:
        return DraftUsage()
    base = "" if client.root == "." else client.root
    known = frozenset().union(*(pattern.known for pattern in client.patterns))
    files = looked_through(tree, ("**",), base, others, known)
    keys = keys_of(client)
    texts = _texts(tree, files[:_FILES])
    found, doubts = _ways(texts, keys)
    if not found:
        return DraftUsage(doubts=tuple(doubts))
    try:
        asked = _asked(client, tree, [table for table, _ in found], others, known, readings)
        kept = _fitting(client, found, asked)
        if len(kept) < len(found):
            found = kept
            asked = _asked(client, tree, [table for table, _ in found], others, known, readings)
    except IncompleteError:
        return DraftUsage(tuple(_joined(found)), is_loose=True, doubts=tuple(doubts))
    if not found or asked is None:
        return DraftUsage(doubts=tuple(doubts))
    found = _joined(found)
    unused = sum(len(each.keys) for each in asked.unasked)
    return DraftUsage(tuple(found), unused > _UNUSED * sum(len(source.keys) for source in client.sources.values()), unused, tuple(doubts))


def _asked(
    client: Client, tree: Tree, tables: Sequence[Mapping[str, Any]], others: Collection[str], known: Collection[File], readings: Readings
) -> Asking | None:
    """What code asks for in the ways of *tables*, by the reader that the audit has."""
    entries = [msgspec.convert(table, UsageEntry) for table in tables]
    base = "" if client.root == "." else client.root
    return asking(replace(client, usage=usage_of(tree, entries, base, others, known, readings)))


def _fitting(client: Client, found: Sequence[_Table], asked: Asking | None) -> list[_Table]:
    """The tables that find keys and little else, each of which finds some that those before it do not; the surest first."""
    if asked is None:
        return list(found)
    total = sum(len(source.keys) for source in client.sources.values())
    hits: dict[int, set[tuple[Space, str]]] = defaultdict(set)
    for name, those in asked.uses.items():
        for each in those:
            if not each.use.computed:
                hits[each.use.way].add(name)
    shares = {way: 1 - lacks / named for way, (named, lacks) in asked.found.items()}
    seen: set[tuple[Space, str]] = set()
    kept: list[int] = []
    for way in sorted(shares, key=lambda way: (-round(shares[way], 1), -len(hits[way]), way)):
        fewest = (
            1
            if "member" in found[way][0] or "block" in found[way][0]
            else _FEWEST
            if shares[way] >= _VERY_SURE
            else max(_FEWEST, total // _SHARE)
        )
        if shares[way] >= _SURE and len(hits[way] - seen) >= min(fewest, len(hits[way]) if not seen else fewest) > 0:
            seen |= hits[way]
            kept.append(way)
    return [found[way] for way in sorted(kept)]


def _texts(tree: Tree, files: Iterable[File]) -> Iterator[tuple[File, str]]:
    for file in files:
        try:
            data = tree.data(file)
        except OSError:
            continue
        if not is_packed(data):
            yield file, decode(data).text


def _ways(texts: Iterable[tuple[File, str]], keys: Keys) -> tuple[list[_Table], list[str]]:
    """The tables for a charter, each with its evidence; and what is to be decided."""
    calls, scoped, separated, rest, properties, pointed = seen_in(texts, keys)
    found, doubts = _call_tables(calls, scoped, separated, keys)
    for (kind, name), seen in sorted(rest.items(), key=lambda pair: -len(pair[1].keys)):
        fewest, sure = (max(_FEWEST + 2, len(keys.every) // 10), 0.9) if kind == "member" else (_FEWEST, _SURE)
        fewest = 1 if (kind == "member" and name.startswith(_RESOURCES)) or kind == "block" else fewest
        if len(seen.keys) >= fewest and seen.share >= sure and not (kind == "member" and _is_of_call(name, found)):
            attribute, _, element = name.partition(" of ")
            found.append(({kind: attribute, "element": element} if element else {kind: name}, _evidence(seen)))
    for name, seen in properties.items():
        for (call, pointer), count in pointed[name].most_common(4) if len(seen.keys) >= _FEWEST else ():
            if count >= _FEWEST:
                found.append(({"call": call, "pointer": pointer}, _evidence(seen)))
    return found, doubts


def _is_of_call(name: str, found: Sequence[tuple[Mapping[str, Any], str]]) -> bool:
    return any(name.partition("(")[0] == each.get("call") for each, _ in found)


def _call_tables(
    calls: Mapping[tuple[str, int], Tally],
    scoped: Mapping[tuple[str, str, str], Tally],
    separated: Mapping[tuple[str, str], Tally],
    keys: Keys,
) -> tuple[list[_Table], list[str]]:
    found: list[_Table] = []
    doubts: list[str] = []
    names = dict.fromkeys([*calls, *((name, 0) for name, _, _ in scoped), *((name, 0) for name, _ in separated)])
    for name, place in names:
        seen = calls.get((name, place), Tally())
        around = Counter({(scope, how): len(each.keys) for (own, scope, how), each in scoped.items() if own == name and place == 0})
        apart = Counter({sign: len(each.keys) for (own, sign), each in separated.items() if own == name and place == 0})
        total = len(seen.keys) + sum(count for (_, how), count in around.items() if how == "under") + sum(apart.values())
        texts = total + len(seen.others)
        if total < _FEWEST or total < _LIKELY * texts:
            continue
        are_words = all(key.islower() and key.isalpha() for key in seen.keys)
        if total < _SURE * texts or (are_words and not around and not apart):
            doubts.append(
                f"does the code ask for messages by {name.removesuffix(OF_TAGS)}()? Of {texts} texts that it is given {total} are keys"
            )
            continue
        table: dict[str, Any] = {"call": name}
        if name.endswith(OF_TAGS):  # a tag of templates: a function of that name is another
            table = {"call": name.removesuffix(OF_TAGS), "files": sorted({f"**/*{_suffix(file)}" for file in seen.files})}
        if place:
            table["argument"] = place
        for (scope, how), count in around.most_common():
            if how == "under" and count >= _FEWEST:
                table.setdefault("under", scope)
            elif how == "part" and len(keys.parts) > 1 and count >= _FEWEST and 2 * count > len(seen.keys):
                table.setdefault("part", {}).setdefault("scope", scope)
        if apart and place == 0:
            table.setdefault("part", {})["separator"] = apart.most_common(1)[0][0]
        found.append((table, _evidence(seen, total)))
    return found, doubts


def _suffix(file: str) -> str:
    return next((each for each in sorted(TEMPLATES, key=len, reverse=True) if file.endswith(each)), f".{file.rpartition('.')[2]}")


def _evidence(seen: Tally, total: int = 0) -> str:
    number = total or len(seen.keys)
    first = (
        f"{clipped(min(seen.keys).strip(), 40)!r} and {counted(number - 1, 'more key')}"
        if seen.keys and number > 1
        else counted(number, "key")
    )
    others = f"; {len(seen.others)} of {number + len(seen.others)} texts there are none" if seen.others else ""
    return f"{first} in {counted(len(seen.files), 'file')}{others}" if seen.files else f"{first}{others}"


def _joined(found: Sequence[_Table]) -> list[_Table]:
    """The tables, those of one kind that say nothing but a name as one."""
    names: dict[str, list[str]] = {}
    for table, _ in found:
        if len(table) == 1:
            ((kind, name),) = table.items()
            names.setdefault(kind, []).append(name)
    kept: list[_Table] = []
    for table, evidence in found:
        kind = next(iter(table)) if len(table) == 1 else ""
        several = names.pop(kind, None) if kind else [""]
        if several is not None:
            kept.append(({kind: several} if len(several) > 1 else table, evidence))
    return kept
