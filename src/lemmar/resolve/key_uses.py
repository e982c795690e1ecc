"""Which messages a client's code asks for: what each use in it means, and what of the source nobody asks for.

Whatever may be meant counts as asked for: a branch asks for all below it, a fixed beginning or end for all that begin or end so, a key between
quotation marks for itself, wherever it stands.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from functools import cached_property
from typing import NamedTuple

from msgspec.structs import replace

from lemmar.basics.expressions import expression
from lemmar.inventory.key_lists import folded
from lemmar.inventory.using import Usage, UsedIn
from lemmar.resolve.outlines import Unasked
from lemmar.resolve.world import Client, Space, World
from lemmar.tags import CATEGORIES
from lemmar.usages import LONGEST, Use, Way

#: A key of a client: its part, and the key in it.
Name = tuple[Space, str]
#: What behind a key says that it is one of several: a form by number, a sort of people.
_FORM = expression(rf"[_.](?:{'|'.join(CATEGORIES)}|\d+)\Z")
#: What stands in a text before what a program puts in, if it is not too short to say anything.
_BEGUN = expression(r"[\w.:/-]{4,200}?(?=\$\{|\#\{|%s|\{)")
_SHORTEST = 4
#: Of accessors and references of which so many are keys, the others are not asked for by mistake but something else.
_MOSTLY = 0.9
#: From so many keys on, where more than half are nowhere, the table of the charter is what is wrong.
_SEVERAL = 6


class KeyUse(NamedTuple):
    """A use of a message: in which file, and how."""

    file: UsedIn
    use: Use


class Lacking(NamedTuple):
    """A key that code asks for and the source has not: its first use and the others, the part it says, the parts that have the key after all, the key
    that may be meant.
    """

    key: str
    part: str | None
    uses: tuple[KeyUse, ...]
    elsewhere: tuple[str | None, ...]
    meant: str | None


class Asking(NamedTuple):
    """What the code of a client asks for: the uses of each message, what the source lacks, the uses that are put together at run time, those that
    match nothing among them, the tables of the charter that fit none of the code, each with its first key that is nowhere; the messages that
    nobody asks for; and for each table how many keys it finds, and how many of them are nowhere; those that find nothing.
    """

    uses: Mapping[Name, tuple[KeyUse, ...]]
    lacking: tuple[Lacking, ...]
    computed: tuple[KeyUse, ...]
    unmatched: tuple[KeyUse, ...]
    unfit: tuple[tuple[int, KeyUse], ...]
    unasked: tuple[Unasked, ...]
    found: Mapping[int, tuple[int, int]]
    idle: tuple[int, ...]


class _Keys:
    """A client's messages by what code may call them."""

    def __init__(self, client: Client) -> None:
        self.names: list[Name] = [
            (space, key)  # also one without a text
            for space, source in client.sources.items()
            for key in dict.fromkeys((*source.keys, *(key for catalog in source.catalogs for key in catalog.column.keys)))
        ]
        self.parts = frozenset(space.part for space in client.sources)
        self.plain: dict[str, list[Name]] = {}
        self.by_id: dict[str, list[Name]] = {}
        for name in self.names:
            key = plain(name[1])
            self.plain.setdefault(key, []).append(name)
            if "\x04" in key:
                self.by_id.setdefault(key.rpartition("\x04")[2], []).append(name)

    @cached_property
    def folded(self) -> dict[str, list[Name]]:
        found: dict[str, list[Name]] = {}
        for key, names in self.plain.items():
            found.setdefault(folded(key), []).extend(names)
        return found

    @cached_property
    def below(self) -> dict[str, list[Name]]:
        """All messages below a branch, or of several sorts that begin alike, by what they begin with."""
        found: dict[str, list[Name]] = {}
        for key, names in self.plain.items():
            for index, sign in enumerate(key if len(key) <= LONGEST else ""):
                if sign in "._" and index:
                    found.setdefault(key[:index], []).extend(names)
        return found

    @cached_property
    def squeezed(self) -> dict[str, list[Name]]:
        """Messages whose keys have several words, by these: a template may break its lines otherwise, and writes a percent sign once."""
        found: dict[str, list[Name]] = {}
        for key, names in (*self.plain.items(), *self.by_id.items()):
            if " " in key or "\n" in key or "%" in key:
                found.setdefault(_squeezed(key), []).extend(names)
        return found

    def part(self, said: str | None) -> str | None:
        """The client's own name for a part that code names: as it says it where there is none such; None where the client has no parts."""
        known = sorted(filter(None, self.parts))
        if said is None or said in self.parts or not known:
            return said if known else None
        return next((part for part in known if part.endswith(f"/{said}")), said)

    def asked(self, key: str) -> list[Name]:
        """The messages that a text may ask for."""
        found = self.plain.get(key) or self.by_id.get(key) or self.below.get(key.rstrip("."))
        if found:
            return found
        if " " in key or "\n" in key or "%" in key:
            return self.squeezed.get(_squeezed(key), [])
        form = _FORM.search(key)
        return self.plain.get(key[: form.start()], []) if form is not None else []

    def accessed(self, name: str) -> list[Name]:
        """The messages that an accessor may stand for, with whatever is asked of them behind it."""
        pieces = name.split(".")
        for size in range(len(pieces), 0, -1):
            found = self.folded.get(folded("".join(pieces[:size])))
            if found:
                return found
        return []


def _squeezed(key: str) -> str:
    return " ".join(key.replace("%%", "%").split())


def plain(key: str) -> str:
    """A key as code writes it, in which a dot is a dot."""
    return key.replace("\\.", ".") if "\\" in key else key


def asking_of(world: World, client: Client) -> Asking | None:
    """`asking`, once for each client of a *world*."""
    known = world.memo.setdefault("asking", {})
    if client.name not in known:
        known[client.name] = asking(client)
    found: Asking | None = known[client.name]
    return found


class _Uses:
    """The uses of a client's code, each matched with the messages that it may ask for."""

    def __init__(self, client: Client, usage: Usage) -> None:
        self.ways, self.keys = usage.ways, _Keys(client)
        self.uses: dict[Name, list[KeyUse]] = {}
        self.lacking: dict[tuple[str | None, str], list[KeyUse]] = {}
        self.elsewhere: dict[tuple[str | None, str], tuple[str | None, ...]] = {}
        self.computed: list[KeyUse] = []
        self.unmatched: list[KeyUse] = []
        self.named: dict[int, set[str]] = {}
        self.wrong: dict[int, set[str]] = {}
        self._matched: dict[tuple[str, str, str | None], list[Name]] = {}
        for file in usage.files:
            for use in file.uses:
                if use.computed:
                    self._add_computed(KeyUse(file, use))
                elif use.key:
                    self._add_named(KeyUse(file, use))

    def _add_computed(self, asked: KeyUse) -> None:
        use, part = asked.use, self.keys.part(asked.use.part)
        self.computed.append(asked)
        shape = use.key, use.end, part
        if shape not in self._matched:
            self._matched[shape] = list(_matching(self.keys, use, part))
        matching = self._matched[shape]
        for name in matching:
            self.uses.setdefault(name, []).append(asked)
        if len(use.key) > 1 and not matching:
            self.unmatched.append(asked)

    def _add_named(self, asked: KeyUse) -> None:
        use, part = asked.use, self.keys.part(asked.use.part)
        found = self.keys.asked(use.key) or (self.keys.accessed(use.key) if self.ways[use.way].members else [])
        own = [name for name in found if part is None or name[0].part == part]
        self.named.setdefault(use.way, set()).add(use.key)
        for name in own:
            self.uses.setdefault(name, []).append(asked)
        if not own:
            self.wrong.setdefault(use.way, set()).add(use.key)
            self.lacking.setdefault((part, use.key), []).append(asked)
            self.elsewhere[part, use.key] = tuple(dict.fromkeys(name[0].part for name in found))

    def idle(self) -> tuple[int, ...]:
        """The tables of the charter that find nothing."""
        return tuple(
            number
            for number, way in enumerate(self.ways)
            if number not in self.named and replace(way, shows=()) != Way() and all(each.use.way != number for each in self.computed)
        )

    def absent(self, silent: frozenset[int]) -> tuple[Lacking, ...]:
        """The keys that are nowhere, but for those of the tables that are *silent*."""
        known = list(self.keys.plain)
        return tuple(
            Lacking(
                key,
                part,
                tuple(each),
                self.elsewhere[part, key],
                nearest_of(key, known) if not self.elsewhere[part, key] and number < _COMPARED else None,
            )
            for number, ((part, key), those) in enumerate(self.lacking.items())
            if (each := [asked for asked in those if asked.use.way not in silent])
        )


def asking(client: Client) -> Asking | None:
    """What the code of *client* asks for; None where the charter does not say how it asks, or nothing of its source is there."""
    usage = client.usage
    if usage is None or not client.sources:
        return None
    found = _Uses(client, usage)
    idle = found.idle()
    unfit, silent = _unfit(usage.ways, found.named, found.wrong, found.lacking)
    absent = found.absent(silent)
    quoted = _quoted(usage.quoted, usage.ways) | {each.meant for each in absent if each.meant is not None}
    return Asking(
        {name: tuple(each) for name, each in found.uses.items()},
        absent,
        tuple(found.computed),
        tuple(each for each in found.unmatched if each.use.way not in silent),
        unfit,
        tuple(_unasked(client, found.uses, quoted)) if len(idle) < len(usage.ways) else (),
        {way: (len(each), len(found.wrong.get(way, ()))) for way, each in found.named.items()},
        idle,
    )


#: For so many keys that are nowhere the nearest one is looked for.
_COMPARED = 200
#: From so many of a hundred on two names may be one, mistyped.
_NEAR = 75


def nearest_of(name: str, known: Sequence[str]) -> str | None:
    """The one of the *known* names that *name* may be, mistyped."""
    from rapidfuzz import fuzz, process

    found = process.extractOne(name, known, scorer=fuzz.ratio, score_cutoff=_NEAR)
    return found[0] if found is not None else None


def _matching(keys: _Keys, use: Use, part: str | None) -> Iterator[Name]:
    if len(use.key) + len(use.end) < 2:
        return
    for key, names in keys.plain.items():
        if key.startswith(use.key) and key.endswith(use.end):
            yield from (name for name in names if part is None or name[0].part == part)


def _unfit(
    ways: tuple[Way, ...],
    named: Mapping[int, set[str]],
    wrong: Mapping[int, set[str]],
    lacking: Mapping[tuple[str | None, str], list[KeyUse]],
) -> tuple[tuple[tuple[int, KeyUse], ...], frozenset[int]]:
    """The ways that fit none of the code, and all whose lacking keys are not to be named one by one."""
    unfit, silent = [], set()
    for way, keys in named.items():
        lacks = len(wrong.get(way, ()))
        if ways[way].members or ways[way].resources:
            if lacks > (1 - _MOSTLY) * len(keys):
                silent.add(way)
        elif len(keys) >= _SEVERAL and 2 * lacks > len(keys):
            first = next(asked for those in lacking.values() for asked in those if asked.use.way == way)
            unfit.append((way, first))
            silent.add(way)
    return tuple(unfit), frozenset(silent)


def _quoted(quoted: frozenset[str], ways: Iterable[Way]) -> frozenset[str]:
    """All that stands between quotation marks, also without a part before it."""
    signs = {way.separator for way in ways if way.separator}
    begun = {match[0] for text in quoted if (match := _BEGUN.match(text)) is not None}
    return quoted | {text.partition(sign)[2] for sign in signs for text in quoted if sign in text} | {f"{text}\0" for text in begun}


def _unasked(client: Client, uses: Mapping[Name, object], quoted: frozenset[str]) -> Iterator[Unasked]:
    for space, source in client.sources.items():
        groups: dict[int, list[str]] = {}
        for key in source.keys:
            if (space, key) not in uses and not _is_quoted(plain(key), quoted):
                catalog = next(catalog for catalog in reversed(source.catalogs) if key in catalog.column.key_set)
                groups.setdefault(source.catalogs.index(catalog), []).append(key)
        for index, found in groups.items():
            catalog = source.catalogs[index]
            total = len(catalog.column.key_set & source.key_set)
            yield Unasked(catalog.order, space.part, tuple(found), total, catalog.file, catalog.digest, catalog.column.label)


def _is_quoted(key: str, quoted: frozenset[str]) -> bool:
    """Whether a key stands between quotation marks somewhere: whole, without its context, or what it begins with, up to a dot."""
    text = key.rpartition("\x04")[2]
    if text in quoted or key in quoted or len(text) > LONGEST:
        return True
    if "\n" in text or "\t" in text:
        return text.replace("\n", "\\n").replace("\t", "\\t") in quoted or "\n" in text.strip()
    if any(f"{text[:size]}\0" in quoted for size in range(_SHORTEST, len(text))):
        return True
    ends = [index for index, sign in enumerate(text) if sign in "._-" and index] + [len(text.rstrip("0123456789"))]
    return any(text[: end + 1] in quoted or ("." in text[:end] and text[:end] in quoted) for end in ends if end < len(text))
