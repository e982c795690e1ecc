"""A client judged by itself: gathered, resolved, held against every rule that concerns it alone. What is left of it needs no text."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from lemmar import rules
from lemmar.auditing.places import ReadAs
from lemmar.charter.reading import ReadCharter
from lemmar.charter.types import Charter, ClientEntry
from lemmar.findings import Answered, Claimed, Consulted, Origin, Outcome, Unread
from lemmar.formats import ReadOptions
from lemmar.inventory import Gatherer
from lemmar.inventory.readings import Readings
from lemmar.resolve import resolve_client
from lemmar.resolve.basis import bases
from lemmar.resolve.chains import chains
from lemmar.resolve.claims import Stated, place_of, stated
from lemmar.resolve.key_uses import asking_of
from lemmar.resolve.landings import AGREE, landed
from lemmar.resolve.outlines import Matched, Outline, Told
from lemmar.resolve.runtimes import BY_DEFAULT, BY_NOTHING
from lemmar.resolve.world import Client, Effect, World
from lemmar.rules import Problem
from lemmar.rules.wording import told_by
from lemmar.syntax import Shape
from lemmar.tags import Tag
from lemmar.trees import File, Tree
from lemmar.trees.sights import Watched
from lemmar.trees.watching import WatchedTree


class Judged(Struct, frozen=True, array_like=True):
    """What comes of judging a client: its outline, what each rule found, in the rules' order and nothing hidden, how its files were read, and
    sentences on what was cut short.
    """

    outline: Outline
    problems: tuple[tuple[str, tuple[Problem, ...]], ...]
    read_as: tuple[ReadAs, ...]
    unfinished: tuple[str, ...] = ()


class Judging(NamedTuple):
    """A client that was judged, how it says what several clients may say, and what was asked of the tree for it."""

    judged: Judged
    told: Told
    watched: Watched


class Judge:
    """Judges the clients of a charter, one after the other."""

    def __init__(self, read: ReadCharter, tree: Tree, readings: Readings | None = None) -> None:
        self._read = read
        self._tree = tree
        readings = readings or Readings(keeps=False)
        self._times = readings.times
        self._kept = readings.memo
        self._gatherer = Gatherer(read.charter, tree, readings)
        self._others = slices(read.charter)
        self._rules = [rule for rule in rules.all_rules().values() if rule.of == "client" and level_of(read.charter, rule) != "off"]

    @property
    def shapes(self) -> Sequence[Shape]:
        """The table that shape numbers of the clients point into."""
        return self._gatherer.shapes.table

    def judge(self, index: int) -> Judging:
        """The client with that *index* in the charter, judged."""
        return self.seen(index)[0]

    def seen(self, index: int) -> tuple[Judging, Client]:
        """The client with that *index* in the charter, judged and as it is, for those who look at it as well."""
        charter = with_client(self._others, index, self._read.charter.client[index])
        tree = WatchedTree(self._tree)
        with self._times.of("find"):
            files = self._gatherer.client(index, tree)
        with self._times.of("resolve"):
            client = resolve_client(charter, files)
        world = World(
            charter, File(self._read.file), self._read.lines, (client,), self._gatherer.shapes.table, files.unfinished, dict(self._kept)
        )
        problems = [(rule.name, found) for rule in self._rules if (found := self._checked(rule, world))]
        with self._times.of("rules", "message"):
            told = told_by(world) if len(charter.client) > 1 else Told()
        judged = Judged(_outline(world, client), tuple(problems), _read_as(client), files.unfinished)
        return Judging(judged, told, tree.watched), client

    def _checked(self, rule: rules.Rule, world: World) -> tuple[Problem, ...]:
        with self._times.of("rules", rule.name.partition(".")[0]):
            return tuple(rule.check(world))


def level_of(charter: Charter, rule: rules.Rule) -> str:
    """The severity that the charter gives to a rule's findings, or ``off``."""
    return charter.gate.severity.get(rule.name, rule.severity)


def slices(charter: Charter) -> Charter:
    """Of the charter what concerns every client: of the others each sees only which shared catalogs they use, and none a waiver."""
    clients = (ClientEntry(name=entry.name, kind=entry.kind, root=entry.root, uses=entry.uses) for entry in charter.client)
    return replace(charter, client=tuple(clients), waiver=(), gate=replace(charter.gate, fail_on="error"))


def with_client(others: Charter, index: int, entry: ClientEntry) -> Charter:
    """What one client may see of the charter: its own *entry* among the *others*."""
    return replace(others, client=(*others.client[:index], entry, *others.client[index + 1 :]))


def _outline(world: World, client: Client) -> Outline:
    asked = asking_of(world, client)
    agreed = [request for request, wanted in world.charter.audience.items() if wanted == AGREE]
    return Outline(
        client.root,
        Outcome(
            client.name,
            client.kind,
            tuple(tag for tag in client.needs if client.ships(tag)),
            {locale: effect.answer for locale, effect in client.effects.items()},
            {locale: _unread(effect) for locale, effect in client.effects.items() if effect.absences},
            tuple(Claimed(each.states, place_of(client, each), each.written, _wrong(each)) for each in stated(world, client)),
            tuple(Consulted(each.locale, each.consulted, each.wanted, each.diverges) for each in chains(world, client)),
            tuple(
                Answered(request, found.locale, found.wanted, found.found.step in (BY_DEFAULT, BY_NOTHING), found.is_wrong)
                for request in world.charter.audience
                for found in [landed(world, client, request)]
            ),
            bases(world, client),
        ),
        tuple(Matched(pattern.files, pattern.clients, pattern.matches, pattern.built, pattern.now) for pattern in client.patterns),
        client.held,
        {request: landed(world, client, request).locale for request in agreed},
        asked.unasked if asked is not None else None,
        frozenset(each.key for each in asked.lacking) if asked is not None else frozenset(),
    )


#: So many keys stand for all that users of a locale do not read in their language.
_KEYS_SHOWN = 20


def _unread(effect: Effect) -> tuple[Unread, ...]:
    groups: dict[tuple[Origin, Tag | None], list[str]] = {}
    for absence in effect.absences:
        groups.setdefault((absence.origin, absence.source), []).append(absence.key)
    return tuple(Unread(origin, source, len(keys), tuple(keys[:_KEYS_SHOWN])) for (origin, source), keys in groups.items())


def _wrong(each: Stated) -> tuple[Tag, ...]:
    return tuple(sorted(each.lacks | each.adds))


def _read_as(client: Client) -> tuple[ReadAs, ...]:
    """How the client's files were read, should something be looked up in them."""
    alike: dict[tuple[object, ...], tuple[ReadOptions, list[File]]] = {}
    fragments = {each.file: (each.form, each.options) for made in client.composed for each in made.fragments}
    held = {catalog.file: (catalog.form, catalog.options) for catalog in client.catalogs}
    for file, (form, options) in {**fragments, **held}.items():
        name = (
            form.name,
            options.layout,
            options.encoding,
            options.suffix,
            options.key,
            repr(options.columns),
            repr(options.fields),
            id(options.names),
        )
        alike.setdefault(name, (options, []))[1].append(file)
    return tuple(ReadAs(str(form), options, tuple(files)) for (form, *_), (options, files) in alike.items())
