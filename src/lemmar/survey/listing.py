"""What a list of locales is: all that is in it is a locale, and most of it the client has catalogs of. Countries, currencies, voices are none."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from typing import Any, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.charter.presets import spelling_of
from lemmar.documents.nodes import Node
from lemmar.survey.draft import DraftClaim
from lemmar.survey.paths import locale_of
from lemmar.tags import LanguageTag, Tag, meant, read_spelling, write_spelling

#: What separates locales within one text.
SEPARATORS = (";", ",", "|", " ")
DEFAULT = expression(r"default|fallback|fall_back|home|initial|development", re.I)
#: Words for a default that may as well be said of a source.
_EITHER = expression(r"base|primary|main", re.I)
SOURCE = expression(r"source|written|original", re.I)
CHAIN = expression(r"fallback|fall_back|chain|parents?", re.IGNORECASE)
_ROUTE = expression(r"rout|path|url|sitemap|hreflang|alternate|redirect", re.I)
_PICKER = expression(r"pick|menu|option|choice|select|switch|offer|shown|entries|dropdown|chooser", re.I)
NO_LIST = expression(
    r"countr|(?<!known)(?<!development)region|nation(?!al)|currenc|price|tax(?:es|$)|voice|speech|speak|dictat|audio|dub(?:s|bed|$)|subtitle|caption|font|glyph|timezone|holiday"
    r"|calendar|weekday|rtl|right.?to.?left|plural|keyboard|layouts?$|ocr|spell|hyphen|stem(?:s|m|$)|stop.?word|tokeni|highlight|grammar|tile|map.?style"
    r"|licen[cs]e|legal|terms|phone|dial|carrier|flag|pseudo|incomplete|deprecated|ignored?|exclude|disabl|partial|untranslated|skip|missing"
    r"|unsupported|translator|credit|author|contributor|sample|fixture|mock|test|demo|wiki|corpus|model|detect|codes$|iso.?639|bcp.?47",
    re.IGNORECASE,
)


#: Lists of locales that are not offered to everybody yet.
BETA = expression(r"beta|experiment|preview|upcoming|trial|labs|early|in.?progress", re.IGNORECASE)


class FoundList(NamedTuple):
    """A list of locales in a value: what of it to take, the texts, their labels' settings, the offset of the first, how they are spelled, and
    what separates them within one text.
    """

    take: str | None
    texts: tuple[str, ...]
    labels: str | None
    offset: int
    spelling: str | None
    split: str | None = None


class Lists:
    """Tells the lists of a client that has catalogs of *locales*, under *root*, on *platform*."""

    def __init__(self, root: str, locales: Sequence[Tag], platform: str | None = None) -> None:
        self.root = root
        self.beta: set[Tag] = set()
        self.spelling = spelling_of(platform)
        self.known = {LanguageTag.parse(tag).canonical() for tag in locales}
        self.names = {write_spelling(tag._replace(script=None, region=None), "name").split(" ")[0].encode() for tag in self.known}
        self.languages = {tag.language.encode() for tag in self.known}
        self.full = {LanguageTag.parse(tag).maximized() for tag in locales}

    def tags(self, texts: Sequence[str], spelling: str | None = None) -> list[LanguageTag] | None:
        """The locales of a list that is a claim; None where any of it is none, or too little of it is the client's."""
        if not texts or len(texts) > 400 or len(set(texts)) < max(2, len(texts) * 0.6):
            return None
        if all(re.fullmatch(r"[A-Z]{2}", text) for text in texts):
            return None  # countries
        tags, weak = [], 0
        for text in texts:
            tag = read_spelling(text, spelling) if spelling else locale_of(text)
            if tag is None and not spelling:
                tag = read_spelling(text, "auto") or _country_for_language(text)
                weak += 1
            if tag is None or not tag.valid or weak > 0.2 * len(texts):
                return None
            tags.append(tag)
        mine = sum(self.is_known(tag) or tag.maximized() in self.full for tag in tags)
        covered = len({tag.maximized() for tag in tags} & self.full) / max(len(self.full), 1)
        return tags if mine >= 2 and mine >= 0.6 * len(tags) and covered >= 0.5 else None

    def is_known(self, tag: LanguageTag) -> bool:
        """Whether the client has a catalog of the locale."""
        return tag.canonical() in self.known

    def single(self, text: str) -> tuple[LanguageTag, str | None] | None:
        """The one locale of the client's that *text* is, with the spelling where that is a name."""
        tag = locale_of(text)
        if tag is not None:
            return (tag, None) if self.is_known(tag) or tag.maximized() in self.full else None
        named = read_spelling(text, "name") if len(text) > 3 else None
        return (named, "name") if named is not None and self.is_known(named) else None

    def is_beta(self, name: str, node: Node) -> bool:
        """Whether a value lists locales that are on trial, by its *name*; they are kept in *beta*."""
        if not BETA.search(name):
            return False
        texts = [item.text for item in node.items if item.kind == "text"] or [member.key for member in node.members]
        texts = texts or (re.split(r"[;,| ]+", node.text) if node.kind == "text" else [])
        found = [self.single(text) for text in texts]
        if not found or any(one is None for one in found):
            return False
        self.beta |= {Tag(str(one[0].canonical())) for one in found if one is not None}
        return True

    # ------------------------------------------------------------------------------------------------------------ in values

    def lists(self, node: Node) -> Iterator[FoundList]:
        """The list of locales that a value is, by whatever of it."""
        if node.kind == "text":
            yield from self.in_text(node)
        elif node.kind == "list":
            if all(item.kind == "text" for item in node.items) and node.items:
                yield from self._seen(None, node.items, None)
            rows = [item for item in node.items if item.kind == "map"]
            if rows and len(rows) == len(node.items):
                yield from self._fields(rows)
            pairs = [item for item in node.items if item.kind == "list" and len(item.items) >= 2]
            if pairs and len(pairs) == len(node.items):
                for index in range(2):
                    labels = f"item:{1 - index}" if names_languages([row.items[1 - index] for row in pairs]) else None
                    yield from self._seen(f"item:{index}", [row.items[index] for row in pairs], labels)
        elif node.kind == "map" and node.members:
            yield from self._of_map(node)

    def _of_map(self, node: Node) -> Iterator[FoundList]:
        keys = [Node("text", member.start, member.end, member.key) for member in node.members]
        values = [member.node for member in node.members]
        labels = "value" if names_languages(values) else None
        found = list(self._seen("keys", keys, labels))
        if found:
            yield found[0]
        elif all(value.kind == "text" for value in values):
            yield from self._seen("values", values, None)
        elif all(value.kind == "map" for value in values):
            yield from self._fields(values)
        if not found and all(value.kind in ("number", "text") for value in values):
            yield from self._seen("members", keys, None, "name")

    def in_text(self, node: Node) -> Iterator[FoundList]:
        """A text that holds locales with a sign between them."""
        for separator in SEPARATORS:
            pieces = [piece.strip() for piece in node.text.split(separator) if piece.strip()] if separator in node.text else []
            if len(pieces) > 1 and self.tags(pieces) is not None:
                yield FoundList(None, tuple(pieces), None, node.start, None, separator)
                return

    def _fields(self, rows: list[Node]) -> Iterator[FoundList]:
        names = [member.key for member in rows[0].members]
        columns = {name: [member.node for row in rows for member in row.members if member.key == name] for name in names}
        labelled = next((name for name, nodes in columns.items() if len(nodes) == len(rows) and names_languages(nodes)), None)
        for name, nodes in columns.items():
            if len(nodes) == len(rows) and all(node.kind == "text" for node in nodes):
                found = list(self._seen(f"field:{name}", nodes, f"field:{labelled}" if labelled and labelled != name else None))
                if found:
                    yield found[0]
                    return

    def _seen(self, take: str | None, nodes: Sequence[Node], labels: str | None, spelling: str | None = None) -> Iterator[FoundList]:
        texts = tuple(node.text for node in nodes)
        if all(node.kind == "text" for node in nodes) and self.tags(texts, spelling) is not None:
            yield FoundList(take, texts, labels, nodes[0].start, spelling)

    def is_chain(self, node: Node, name: str) -> bool:
        """Whether a value says what is asked after what: by its name, or a map of which all keys and links are locales of the client's."""
        links = [link for each in node.members for link in (each.node.items or [each.node])] if node.kind == "map" else node.items
        keys = [member.key for member in node.members if member.key not in ("default", "*")]
        if (
            not links
            or any(link.kind != "text" or locale_of(link.text) is None for link in links)
            or any(locale_of(key) is None for key in keys)
        ):
            return False
        if CHAIN.search(name):
            return True
        if node.kind != "map" or len(keys) < len(node.members) or any(each.node.items for each in node.members):
            return False
        tags = [tag for text in (*keys, *(link.text for link in links)) if (tag := locale_of(text)) is not None]
        apart = sum(member.key != member.node.text for member in node.members)
        return all(map(self.is_known, tags)) and 2 * apart > len(node.members)

    # --------------------------------------------------------------------------------------------------------------- claims

    def below(self, file: str) -> str:
        """*file* from the client's root."""
        return file[len(self.root) + 1 :] if self.root else file

    def claim(self, file: str, selector: dict[str, Any], one: FoundList, line: int, name: str, states: str | None = None) -> DraftClaim:
        """The claim that the list *one* is, by *selector*; what it states is told by the names of the place."""
        words = f"{name} {file.rpartition('/')[2]}"
        if states is None:
            offered = bool(one.labels) or bool(_PICKER.search(words)) or file.endswith((".tsx", ".jsx"))
            states = "routed" if _ROUTE.search(words) else "offered" if offered else "supported"
        settings: dict[str, Any] = {"states": states, "file": self.below(file), **selector}
        if one.take not in (None, "keys") or (one.take == "keys" and one.labels != "value"):
            settings["take"] = one.take
        if one.split is not None:
            settings["split"] = one.split
        if one.labels and states == "offered":
            settings["labels"] = one.labels
        tags = self.tags(one.texts, one.spelling) or []
        settings |= self.spelled(one.texts, one.spelling)
        return DraftClaim(settings, tuple_of(tags), f"{file}:{line}", self.confidence(tags))

    def spelled(self, texts: Sequence[str], spelling: str | None) -> dict[str, str]:
        """The spelling that a place needs in the charter."""
        if spelling:
            return {"spelling": spelling}
        if any(re.search(r"-r[A-Z]{2}$", text) for text in texts):
            return {"spelling": "android"} if self.spelling != "android" else {}
        if any(read_spelling(text, "auto") is None for text in texts) or _underlined(texts, self.spelling):
            return {"spelling": "posix"}
        if self.spelling in ("posix", "java", "android") and any("-" in text for text in texts):
            return {"spelling": "bcp47"}
        return {}

    def one(self, file: str, states: str, selector: dict[str, Any], text: str, line: int, doubt: str | None = None) -> DraftClaim | None:
        """The claim that the single locale *text* is."""
        found = self.single(text)
        if found is None:
            return None
        settings = {"states": states, "file": self.below(file), **selector, **self.spelled([text], found[1])}
        sure = 0.8 if doubt is None else 0.5
        return DraftClaim(settings, tuple_of([found[0]]), f"{file}:{line}", sure, (doubt,) if doubt else ())

    def confidence(self, tags: Sequence[LanguageTag]) -> float:
        """How much of the client's locales and of the list are the same, from 0 to 1."""
        mine = {tag.maximized() for tag in tags}
        return round(len(mine & self.full) / max(len(mine | self.full), 1), 2)


def state_of(name: str) -> str | None:
    """What a place of that name states of a single locale: ``default`` or ``source``; None where the name says neither."""
    if DEFAULT.search(name) and not SOURCE.search(name):
        return "default"
    if SOURCE.search(name):
        return "source"
    return "default" if _EITHER.search(name) else None


def names_languages(nodes: Sequence[Node]) -> bool:
    """Whether most of the texts are names of languages."""
    texts = [node.text for node in nodes if node.kind == "text"]
    return len(texts) == len(nodes) > 0 and sum(read_spelling(text, "name") is not None for text in texts) >= 0.5 * len(texts)


def tuple_of(tags: Iterable[LanguageTag]) -> tuple[Tag, ...]:
    """The tags in canonical form, each once."""
    return tuple(dict.fromkeys(Tag(str(tag.canonical())) for tag in tags))


def _country_for_language(text: str) -> LanguageTag | None:
    """The language that a country's code was written for (``cn``): a mistake that the audit tells, not another kind of list."""
    found = meant(text) if len(text) == 2 and text.islower() else ()
    return found[0].tag if found and found[0].how == "region" else None


def _underlined(texts: Sequence[str], spelling: str) -> bool:
    """Whether a place writes all its tags with underscores where its platform writes hyphens: a habit of its own, not a fault of each."""
    long = [text for text in texts if re.search("[-_]", text)]
    return (
        spelling in ("bcp47", "dotnet", "lproj") and bool(long) and all("-" not in text and read_spelling(text, "posix") for text in long)
    )
