"""The resolved world: all that rules and commands may see. Plain values; nothing here computes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any, NamedTuple

from msgspec import Struct, field

from lemmar.charter.lines import KeyLines
from lemmar.charter.presets import Trait
from lemmar.charter.types import Charter
from lemmar.findings import Answer, Origin
from lemmar.formats import NOTHING
from lemmar.inventory.assets import Assets
from lemmar.inventory.composing import Composition, Unmade
from lemmar.inventory.contents import Catalog, Claim, FileFault, Named, Pattern
from lemmar.inventory.fonts import Box, Fonts
from lemmar.inventory.key_lists import KeyList
from lemmar.inventory.using import Usage
from lemmar.syntax import Shape
from lemmar.tags import Tag
from lemmar.trees import File


class Space(NamedTuple):
    """Where a key is looked up: in one *part* of the catalogs that lie over each other, of which the charter's first has the number *layer*."""

    part: str | None
    layer: int


class Absence(NamedTuple):
    """A message that a locale does not have: what stands in for it, from which tag, and whether an own empty text is why."""

    space: Space
    key: str
    origin: Origin
    source: Tag | None
    empty: bool


class Effect(Struct, frozen=True):
    """What users of one locale see in one client: the counts, the messages not in their language, the catalogs asked."""

    locale: Tag
    tag: Tag
    consulted: tuple[Tag, ...]
    answer: Answer
    absences: tuple[Absence, ...]
    by_space: Mapping[Space, Answer]


class SourcePart(Struct, frozen=True):
    """The messages of one space: the source's keys that are to be translated, in file order, and the catalogs they come from."""

    keys: tuple[str, ...]
    key_set: frozenset[str]
    fixed: frozenset[str]
    catalogs: tuple[Catalog, ...]


class Runtime(NamedTuple):
    """How a client answers: its lookup and grain, its locales in its own order, its default.

    *chain* maps a tag in lower case to the links that a chain claim names for it, *rest* are those for all others (None: no such
    entry). With *first* an entry goes before the lookup's steps, with *transitive* links are followed from link to link. Unless it *falls back*,
    it has no default: nothing answers what is not supported.
    """

    lookup: str
    grain: str
    supported: tuple[Tag, ...]
    default: Tag
    chain: Mapping[str, tuple[Tag, ...]]
    rest: tuple[Tag, ...] | None = None
    transitive: bool = False
    first: bool = False
    falls_back: bool = True


class Landing(NamedTuple):
    """Where a request lands: the locale, the step that gave it, the wish that it answers (None: the default)."""

    tag: Tag
    step: str
    wish: str | None


class Client(Struct, frozen=True):
    """A client, resolved: its traits, what it claims, what its catalogs hold and what its users therefore see.

    *names* are the locales of files and columns as written. Catalogs whose keys are looked up together are a space: *layers* has for each
    catalog's number and part the number of the first that it lies over. *supported* are the client's own tags, *declared_by* says how they
    are known: ``claims``, ``files`` or ``nothing``. *known_as* maps the client's own tags to the roster's, where they
    mean the same locale. *needs* are the roster's locales less those that the client may do without. *effects* is by the
    roster's tags, for those that the client supports; *beyond* is the same for what it supports off the roster. *runtime* is literal: its
    tags are as the client writes them, and *meant* maps those to the client's own tags where they differ. *source* is the client's own tag
    of the source locale. *answering* are the tags that have a catalog, those supported first; *stands_for* maps a supported tag to the tag
    of the catalogs that answer it, *unmarked* is the locale of
    the files that every locale falls back to, if there are such. *trial* has for each of the roster's locales that is on trial here the share
    of messages that it must reach. *carries_source* says that the files of other locales hold the source's texts, which has none of its own.
    *own_locales* maps requests that are a locale of the client's, by its own tag or the roster's, to the roster's; *held_locales* are the roster's
    that have a catalog. *composed* are the catalogs that are made of fragments, *unmade* is what gives none, *key_lists* the lists that mirror its keys,
    *usage* what its code asks for, where the charter says how, *assets* what it has by locale beside texts; *sizes* are those of its files, in bytes, where
    it has a *budget*. *fonts* are those that its texts are shown in, *boxes* the room that they have, *expand* is how much wider than their source they may be.
    """

    name: str
    kind: str
    root: str
    traits: Mapping[str, Trait]
    claims: tuple[Claim, ...]
    catalogs: tuple[Catalog, ...]
    faults: tuple[FileFault, ...]
    patterns: tuple[Pattern, ...]
    names: tuple[tuple[File, Named], ...]
    supported: tuple[Tag, ...]
    declared_by: str
    known_as: Mapping[Tag, Tag]
    needs: tuple[Tag, ...]
    default: Tag
    sources: Mapping[Space, SourcePart]
    by_space: Mapping[Space, Mapping[Tag, tuple[Catalog, ...]]]
    layers: Mapping[tuple[int, str | None], int]
    effects: Mapping[Tag, Effect]
    beyond: Mapping[Tag, Effect]
    runtime: Runtime
    meant: Mapping[Tag, Tag]
    source: Tag
    answering: tuple[Tag, ...]
    stands_for: Mapping[Tag, Tag]
    unmarked: Tag | None
    trial: Mapping[Tag, float]
    carries_source: bool
    own_locales: Mapping[str, Tag]
    held_locales: frozenset[Tag]
    composed: tuple[Composition, ...] = ()
    unmade: tuple[Unmade, ...] = ()
    key_lists: tuple[KeyList, ...] = ()
    usage: Usage | None = None
    assets: tuple[Assets, ...] = ()
    fonts: tuple[Fonts, ...] = ()
    boxes: tuple[Box, ...] = ()
    expand: float = 0.0
    budget: str = ""
    sizes: Mapping[File, int] = NOTHING

    @property
    def written_in(self) -> Tag:
        """The locale that its messages are written in, as the roster calls it."""
        return self.roster(self.source)

    def ships(self, locale: Tag) -> bool:
        """Whether the client must be complete in the roster's *locale*: it needs it, and it is not on trial here."""
        return locale in self.needs and locale not in self.trial

    def messages_in(self, pattern: Pattern) -> int:
        """How many messages of the source a catalog of the charter holds: several forms of one are one."""
        held = [
            (source.key_set, catalog.column.key_set)
            for source in self.sources.values()
            for catalog in source.catalogs
            if catalog.order == pattern.number
        ]
        return sum(len(keys & own) for keys, own in held)

    def space(self, catalog: Catalog) -> Space:
        """Where the keys of one of its catalogs are looked up."""
        return Space(catalog.part, self.layers[catalog.order, catalog.part])

    def rest(self, space: Space) -> tuple[Catalog, ...]:
        """The catalogs of a space whose pattern has other locales only: the source of their messages lies elsewhere."""
        orders = {catalog.order for catalog in self.sources[space].catalogs}
        return tuple(catalog for catalogs in self.by_space[space].values() for catalog in catalogs if catalog.order not in orders)

    def has_several(self, part: str | None) -> bool:
        """Whether keys of a part are looked up in catalogs apart, so that these are to be named."""
        return len({layer for (_, each), layer in self.layers.items() if each == part}) > 1

    def names_of(self, space: Space) -> str:
        """The pattern of the catalogs that a space is of, as the charter has it; all of those that lie over each other."""
        numbers = [number for (number, part), layer in self.layers.items() if (part, layer) == space]
        return " + ".join(pattern.files for pattern in self.patterns if pattern.number in numbers)

    @property
    def held(self) -> frozenset[File]:
        """The files that patterns match, damaged and excepted ones among them, and those of claims."""
        claimed = (claim.file for claim in self.claims if claim.file is not None)
        made = [part.spot.file for each in self.composed for part in each.wanted]
        assets = [each.file for one in self.assets for each in one.found]
        return frozenset((*claimed, *made, *assets, *(each.file for each in self.composed))).union(
            *(pattern.known.union(pattern.moved.values()) for pattern in self.patterns)
        )

    def below(self, file: str) -> str:
        """*file* as seen from the client's root; as it is where it lies elsewhere."""
        return file.removeprefix(f"{self.root}/")

    def landed(self, tag: Tag) -> Tag:
        """The roster's tag for a landing, which is as the client writes it."""
        return self.roster(self.meant.get(tag, tag))

    def written(self, tag: Tag) -> tuple[Tag, ...]:
        """How the client writes its own *tag*: as it is where it does so at all, and in the other ways that it uses."""
        others = tuple(literal for literal, meant in self.meant.items() if meant == tag)
        return (tag, *others) if not others or tag in self.runtime.supported else others

    def roster(self, tag: Tag) -> Tag:
        """The roster's tag for the client's own *tag*; the same where the roster has none."""
        return self.known_as.get(tag, tag)


class World(Struct, frozen=True):
    """All that a rule may see.

    *lines* gives the line of each key path of the charter, *unfinished* are sentences on what a bound of time has cut short. *memo* keeps what
    several rules ask for, as long as this world lives.
    """

    charter: Charter
    charter_file: File
    lines: KeyLines
    clients: tuple[Client, ...]
    shapes: Sequence[Shape]
    unfinished: tuple[str, ...] = ()
    memo: dict[str, Any] = field(default_factory=dict)
