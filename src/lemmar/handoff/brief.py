"""A brief: the texts of one locale that are work, each with all that a translator should know of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from fnmatch import fnmatchcase
from typing import NamedTuple

from msgspec import Struct

from lemmar.auditing.places import ReadAs, places_of
from lemmar.basics.phrasing import counted, listed
from lemmar.charter.types import Charter
from lemmar.findings import Place
from lemmar.formats import NOTHING
from lemmar.handoff.hints import Alike, Memory, Said, in_words, kind_in_words, near_locales, nearest, numbers_of, sample
from lemmar.handoff.needs import REASONS, Lacks, Need, needs, own_catalog
from lemmar.handoff.texts import Name, Text, Use, words_in
from lemmar.inventory.contents import Spot
from lemmar.resolve.spots import key_spot
from lemmar.resolve.terms import in_text, terms
from lemmar.resolve.world import World
from lemmar.syntax import leading
from lemmar.tags import Tag
from lemmar.trees import File, Tree


class Filled(NamedTuple):
    """A placeholder as a translator meets it: its name, what kind of value is put there, and one such value."""

    name: str
    kind: str
    sample: str


class Where(NamedTuple):
    """Where a text is used: the clients, the key (with its part), the place of the source's."""

    clients: tuple[str, ...]
    part: str | None
    key: str
    place: Place

    @property
    def words(self) -> str:
        """``booking-site, trail-pocket: pay.deposit (clients/…/en.json:12)``."""
        part = f"{self.part}: " if self.part else ""
        return f"{', '.join(self.clients)}: {part}{_plain_key(self.key)} ({self.place.file}:{self.place.line})"


def _plain_key(key: str) -> str:
    return key.replace("\x04", " | ")


class Ask(Struct, frozen=True):
    """A text that is asked for.

    *forms* are the source's, *wanted* the forms that the locale needs (one empty name where there is one text), each with numbers as examples. *so_far* is
    what stands there, *reason* the rule by which it is work. *terms* are those that occur, each with what is agreed on it. *syntax* is empty where the forms
    are neutral.
    """

    id: str
    reason: str
    forms: Mapping[str, str]
    wanted: Mapping[str, str]
    so_far: Mapping[str, str]
    syntax: str
    descriptions: tuple[str, ...]
    context: str
    limit: int | None
    filled: tuple[Filled, ...]
    where: tuple[Where, ...]
    pictures: tuple[str, ...]
    near: Said | None
    alike: tuple[Alike, ...]
    terms: tuple[str, ...] = ()

    def source(self, form: str) -> str:
        """The source's text for a form of the locale."""
        return self.forms.get(form, leading(self.forms))

    @property
    def shown(self) -> str:
        """The source's text, or its form for *other*."""
        return self.source("")


class Brief(NamedTuple):
    """The work of one locale, in the order of the clients; *source* is the locale that it is to be translated from."""

    locale: Tag
    source: Tag
    asks: tuple[Ask, ...]


class Only(NamedTuple):
    """What a brief is held to: clients, keys, rules, each by patterns; nothing of a kind means all of it."""

    clients: tuple[str, ...] = ()
    keys: tuple[str, ...] = ()
    rules: tuple[str, ...] = ()

    def takes(self, need: Need) -> bool:
        """Whether a text is asked for."""
        names = [name for use in need.uses for name in use.clients]
        return (
            _fits(self.clients, names)
            and _fits(self.keys, [use.key for use in need.uses])
            and _fits(self.rules, (need.reason, REASONS[need.reason]))
        )


def _fits(patterns: Sequence[str], names: Iterable[str]) -> bool:
    return not patterns or any(fnmatchcase(name, pattern) for name in names for pattern in patterns)


def briefs(
    world: World,
    texts: Sequence[Text],
    tree: Tree,
    locales: Sequence[Tag],
    only: Only,
    known: Mapping[Tag, frozenset[str]] = NOTHING,
    changed: Mapping[Tag, frozenset[Name]] = NOTHING,
) -> Iterator[Brief]:
    """The brief of each of *locales*, of the product's *texts*; *known* are the ids of texts that are with translators already, *changed* the messages whose
    source was changed after their translation.
    """
    asked = {
        locale: [need for need in needs(world, texts, locale, changed.get(locale, frozenset())) if only.takes(need)] for locale in locales
    }
    left = {locale: [need for need in those if need.text.id not in known.get(locale, frozenset())] for locale, those in asked.items()}
    lacking = {locale: frozenset(use.name for need in those for use in need.uses) for locale, those in asked.items()}
    return briefs_of(world, texts, tree, left, lacking)


def briefs_of(
    world: World,
    texts: Sequence[Text],
    tree: Tree,
    asked: Mapping[Tag, Sequence[Need]],
    lacking: Mapping[Tag, frozenset[Name]] = NOTHING,
) -> Iterator[Brief]:
    """The brief of each locale that texts are *asked* for; what stands for the *lacking* messages is nobody's example."""
    spots = {locale: {use.name: _spot(use, locale) for need in those for use in need.text.uses} for locale, those in asked.items()}
    places = _places(world, tree, (spot for those in spots.values() for spot in those.values()))
    for locale, those in asked.items():
        found = {name: places[spot] for name, spot in spots[locale].items()}
        memory = Memory(texts, locale, lacking.get(locale, frozenset()))
        near = near_locales(world, locale)
        forms = numbers_of(locale, tuple(world.charter.locale[locale].plural) if locale in world.charter.locale else ())
        terms_in = _terms(world.charter, locale)
        asks = [_ask(need, forms, near, memory, found, tree, terms_in) for need in those]
        yield Brief(locale, world.charter.source, tuple(asks))


def _terms(charter: Charter, locale: Tag) -> Callable[[str], tuple[str, ...]]:
    """What finds the terms of the charter in a source text, with what is agreed on each."""
    every = [term for term in terms(charter) if term.concerns(locale)]
    return lambda text: tuple(term.said(locale) for term in in_text(every, text))


def _spot(use: Use, locale: Tag) -> Spot:
    """Where a text stands: in the source's file; in the locale's own where every file carries the source's texts."""
    own = own_catalog(use, locale) if use.holder.form.habits.carries_source else None
    return key_spot(own if own is not None else use.holder, use.key)


def _places(world: World, tree: Tree, spots: Iterable[Spot]) -> Mapping[Spot, Place]:
    read_as = {
        catalog.file: ReadAs(catalog.form.name, catalog.options, (catalog.file,)) for client in world.clients for catalog in client.catalogs
    }
    return places_of(spots, read_as.values(), tree)


def _ask(
    need: Need,
    forms: Mapping[str, str],
    near: Sequence[Tag],
    memory: Memory,
    place: Mapping[Name, Place],
    tree: Tree,
    terms_in: Callable[[str], tuple[str, ...]],
) -> Ask:
    text = need.text
    lacking = {use.name for use in need.uses}
    in_turn = sorted(text.uses, key=lambda use: use.name not in lacking)
    pictures = [path for said in text.descriptions for word in said.split() if (path := word.strip(_AROUND)).lower().endswith(_PICTURES)]
    files = {use.holder.file for use in text.uses}
    so_far = in_words(need.uses[0], text, need.so_far) if need.so_far else {}
    return Ask(
        text.id,
        need.reason,
        text.forms,
        forms if text.is_counted else {"": ""},
        so_far,
        text.syntax,
        text.descriptions,
        text.context,
        text.limit,
        tuple(Filled(each.name, kind_in_words(each), sample(each)) for each in text.placeholders),
        tuple(Where(use.clients, use.part, use.key, place[use.name]) for use in in_turn),
        tuple(dict.fromkeys(_found(path, files, tree) for path in pictures)),
        nearest(text, near),
        tuple(memory.alike(text)),
        terms_in(text.shown),
    )


_PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".gif", ".svg")
#: What may stand around a path in a sentence.
_AROUND = "()[]<>\"'`,;:.!?"


def _found(path: str, files: Collection[File], tree: Tree) -> str:
    """A picture that a description names, by its path in the monorepo: from the root, or from a folder around the catalog."""
    for file in sorted(files):
        folder = file.rpartition("/")[0]
        while True:
            whole = f"{folder}/{path}" if folder else path
            if tree.is_file(File(whole.removeprefix("./"))):
                return whole.removeprefix("./")
            if not folder:
                break
            folder = folder.rpartition("/")[0]
    return path


class Count(NamedTuple):
    """How much work there is of one reason in one client and locale: texts, and the words and characters of their source."""

    locale: Tag
    client: str
    reason: str
    texts: int
    words: int
    characters: int


def counts(made: Sequence[Brief]) -> list[Count]:
    """The work of each locale, client and reason: a text that several clients need counts in the first of them, so that the sums are what is paid for."""
    found: dict[tuple[Tag, str, str], Counter[str]] = {}
    for brief in made:
        for ask in brief.asks:
            here = found.setdefault((brief.locale, ask.where[0].clients[0], ask.reason), Counter())
            sources = [ask.source(form) for form in ask.wanted]
            here.update(texts=1, words=sum(map(words_in, sources)), characters=sum(map(len, sources)))
    return [
        Count(locale, client, reason, count["texts"], count["words"], count["characters"])
        for (locale, client, reason), count in found.items()
    ]


def not_asked(world: World, locales: Sequence[Tag]) -> list[str]:
    """Sentences on what users lack and no translator need write: texts of clients that do not support a locale yet, that stand under an old key, or in a
    catalog that a client should ask and does not.
    """
    found = []
    old: dict[str, dict[Tag, int]] = {}
    passed: dict[str, dict[Tag, int]] = {}
    for locale in locales:
        names = [client.name for client in world.clients if locale in client.needs and locale not in client.effects]
        if names:
            found.append(f"{locale} is not supported yet by {listed(names)}, whose texts are left out; 'lemmar enroll {locale}' adds it")
        for client in world.clients:
            lacks = Lacks(world, client, locale)
            for number, by_client in ((lacks.under_old_keys, old), (lacks.not_consulted, passed)):
                if number:
                    by_client.setdefault(client.name, {})[locale] = number
    for name, by_locale in old.items():
        texts = counted(sum(by_locale.values()), "text of it is", "texts of it are")
        found.append(f"{name}: {texts} there under an old key, in {listed(by_locale)}; 'lemmar mend message.renamed' renames that")
    for name, by_locale in passed.items():
        texts = counted(sum(by_locale.values()), "text of it is", "texts of it are")
        found.append(f"{name}: {texts} there and never asked for, in {listed(by_locale)}; see 'lemmar chain {next(iter(by_locale))}'")
    return found
