"""Finds where a client states its locales: lists of tags in code, manifests and pages, held against its catalogs.

A list counts only where all that is in it is a locale and most of it the client has catalogs of: countries, currencies, voices and test
data are none. Nothing is run.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from functools import cache
from typing import Any, NamedTuple

from lemmar import languages, selectors
from lemmar.charter.presets import spelling_of
from lemmar.documents import structured
from lemmar.documents.nodes import Node
from lemmar.documents.structured import suffix_of
from lemmar.errors import IncompleteError
from lemmar.languages import Declaration, SourceFile
from lemmar.survey.draft import DraftClaim
from lemmar.survey.paths import locale_of
from lemmar.tags import LanguageTag, Tag, meant, read_spelling, write_spelling
from lemmar.text import Characters, Lines
from lemmar.trees import File, Tree

_DOCUMENTS = (".json", ".jsonc", ".yaml", ".yml", ".toml", ".plist", ".pbxproj")
_MOST_BYTES = 512 * 1024
_NOT_HERE = re.compile(
    r"(?:^|/)(?:tests?|__tests__|spec|fixtures|testdata|mocks?|docs|examples?|\.github|build|dist|coverage)(?:/|$)"
    r"|[._-](?:test|spec|min)\.\w+$",
    re.IGNORECASE,
)
_LOCKED = re.compile(r"(?:^|/)(?:package-lock|composer|yarn|pnpm-lock|poetry|Podfile|Package)\.(?:json|lock|yaml|resolved)$")
_DEFAULT = re.compile(r"default|fallback|home|base|primary|development", re.I)
_ROUTE = re.compile(r"rout|path|url|sitemap|hreflang|alternate|redirect", re.I)
_PICKER = re.compile(r"pick|menu|option|choice|select|switch|offer|shown|entries|dropdown|chooser", re.I)
_NO_LIST = re.compile(
    r"countr|region|currenc|voice|font|timezone|holiday|rtl|right.?to.?left|plural|keyboard|phone|pseudo|incomplete|deprecated|ignored?"
    r"|exclude|disabl|partial|untranslated|skip|missing|unsupported|translator|credit|author|contributor",
    re.IGNORECASE,
)
_CHAIN = re.compile(r"fallback|fall_back|chain", re.IGNORECASE)
# A request or what the browser prefers, cut at its hyphen or underscore, or after two letters.
_CUT = re.compile(
    rb"(?:navigator\.language|[Ll]ocale|[Ll]ang(?:uage)?|[Cc]ulture|[Tt]ongue|accept[_-]?language)[\w.()]{0,24}"
    rb"(?:\.split\([\"'][-_][\"']\)\[0\]|\.(?:substring|substr|slice|Substring)\(0, ?2\)|\[:2\]|\.TwoLetterISOLanguageName)"
)
_FUNCTION = re.compile(r"function|method|body|arrow|lambda|class|getter")
_QUOTED = re.compile(rb"[\"'`>:;, {(\[\n\t]([a-z]{2,3})(?:[-_][A-Za-z]{2,4}){0,2}(?=[\"'`<;, :)\]}])")
_BARE = re.compile(rb"[\"'`>:\s\[,-]([a-z]{2,3})(?:[-_][A-Za-z]{2,4}){0,2}(?=[\"'`<,:\]\s])")


def _is_packed(data: bytes) -> bool:
    """Whether a build has packed the code, so that nobody wrote it so: lines of a thousand bytes on average, and no short file."""
    return len(data) > 20_000 and len(data) > 1_000 * (data.count(b"\n") + 1)


@cache
def _listing() -> frozenset[str]:
    """The suffixes of files in which selectors know of lists."""
    return frozenset(suffix for selector in selectors.every() for suffix in selector.lists_in)


class _Seen(NamedTuple):
    """A list of locales in a value: what of it to take, the texts, their labels' settings, and the offset of the first."""

    take: str | None
    texts: tuple[str, ...]
    labels: str | None
    offset: int
    spelling: str | None


class ClaimFinder:
    """Finds the claims in *files* of a client under *root*, which has catalogs of *locales*; what could not be looked at is in *unfinished*."""

    def __init__(
        self, tree: Tree, root: str, files: Iterable[File], locales: Sequence[Tag], catalogs: frozenset[str], platform: str | None = None
    ) -> None:
        self.tree = tree
        self.unfinished: list[str] = []
        self.spelling = spelling_of(platform)
        self.root = root
        self.files = [
            file for file in files if file not in catalogs and not _NOT_HERE.search(file[len(root) :]) and not _LOCKED.search(file)
        ]
        self.known = {_plain(LanguageTag.parse(tag)) for tag in locales}
        self.names = {write_spelling(tag._replace(script=None, region=None), "name").split(" ")[0].encode() for tag in self.known}
        self.languages = {tag.language.encode() for tag in self.known}
        self.full = {LanguageTag.parse(tag).maximized() for tag in locales}

    def found(self) -> list[DraftClaim]:
        """The claims, the surest of each kind first."""
        claims: list[DraftClaim] = []
        for file in self.files:
            suffix = suffix_of(file)
            try:
                data = self.tree.read(file)[1]
            except OSError:
                continue
            if len(data) > _MOST_BYTES or not self._worth_parsing(file, data, suffix):
                continue
            if suffix in _DOCUMENTS:
                claims += self._document(file, data, suffix)
            claims += self._listed(file, data, suffix)
            if languages.load(suffix) is not None:
                claims += self._code(file, data, suffix)
        return _chosen(claims)

    def _worth_parsing(self, file: File, data: bytes, suffix: str) -> bool:
        """A cheap look: many of the client's languages, or of their names, must be written there; few, in a file of fallbacks."""
        if suffix not in _DOCUMENTS and suffix not in _listing() and languages.load(suffix) is None:
            return False
        found = set((_BARE if suffix in _DOCUMENTS else _QUOTED).findall(data))
        enough = 1 if suffix in _DOCUMENTS and _CHAIN.search(_name_of(file)) else max(2, len(self.languages) * 0.4)
        return len(found & self.languages) >= enough or sum(name in data for name in self.names) >= enough

    # --------------------------------------------------------------------------------------------------------- what a list is

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
        mine = sum(_plain(tag) in self.known or tag.maximized() in self.full for tag in tags)
        covered = len({tag.maximized() for tag in tags} & self.full) / max(len(self.full), 1)
        return tags if mine >= 2 and mine >= 0.6 * len(tags) and covered >= 0.5 else None

    def lists(self, node: Node, name: str) -> Iterator[_Seen]:
        """The list of locales that a value is, by whatever of it."""
        if node.kind == "list":
            if all(item.kind == "text" for item in node.items) and node.items:
                yield from self._seen(None, node.items, None)
            rows = [item for item in node.items if item.kind == "map"]
            if rows and len(rows) == len(node.items):
                yield from self._fields(rows)
            pairs = [item for item in node.items if item.kind == "list" and len(item.items) >= 2]
            if pairs and len(pairs) == len(node.items):
                for index in range(2):
                    labels = f"item:{1 - index}" if _names([row.items[1 - index] for row in pairs]) else None
                    yield from self._seen(f"item:{index}", [row.items[index] for row in pairs], labels)
        elif node.kind == "map" and node.members:
            keys = [Node("text", member.start, member.end, member.key) for member in node.members]
            values = [member.node for member in node.members]
            labels = "value" if _names(values) else None
            found = list(self._seen("keys", keys, labels))
            if found:
                yield found[0]
            elif all(value.kind == "text" for value in values):
                yield from self._seen("values", values, None)
            elif all(value.kind == "map" for value in values):
                yield from self._fields(values)
            if not found and all(value.kind in ("number", "text") for value in values):
                yield from self._seen("members", keys, None, "name")

    def _fields(self, rows: list[Node]) -> Iterator[_Seen]:
        names = [member.key for member in rows[0].members]
        columns = {name: [member.node for row in rows for member in row.members if member.key == name] for name in names}
        labelled = next((name for name, nodes in columns.items() if len(nodes) == len(rows) and _names(nodes)), None)
        for name, nodes in columns.items():
            if len(nodes) == len(rows) and all(node.kind == "text" for node in nodes):
                found = list(self._seen(f"field:{name}", nodes, f"field:{labelled}" if labelled and labelled != name else None))
                if found:
                    yield found[0]
                    return

    def _seen(self, take: str | None, nodes: Sequence[Node], labels: str | None, spelling: str | None = None) -> Iterator[_Seen]:
        texts = tuple(node.text for node in nodes)
        if all(node.kind == "text" for node in nodes) and self.tags(texts, spelling) is not None:
            yield _Seen(take, texts, labels, nodes[0].start, spelling)

    # ------------------------------------------------------------------------------------------------------------------ code

    def _code(self, file: File, data: bytes, suffix: str) -> list[DraftClaim]:
        if _is_packed(data):
            return []
        try:
            parsed = languages.parse(data, suffix)
        except IncompleteError as error:
            self.unfinished.append(f"{file}: {error}")
            return []
        if parsed is None:
            return []
        lines, at = Lines(data.decode("utf-8", "replace")), Characters(data)

        def line(offset: int) -> int:
            return lines.place(at.offset(offset))[0]

        declared = list(parsed.declarations())
        claims = list(self._declared(file, parsed, declared, line))
        claims += self._called(file, parsed, line)
        if not any(claim.settings["states"] == "supported" for claim in claims):
            claims += self._tested(file, parsed, declared, line)
        if claims:
            claims += self._defaults(file, parsed, declared, line)
        return claims

    def _declared(self, file: File, parsed: SourceFile, declared: list[Declaration], line: Any) -> Iterator[DraftClaim]:
        seen: set[tuple[int, int]] = set()
        for syntax in parsed.exported():
            one = next(self.lists(parsed.value(syntax), file), None)
            if one is not None:
                seen.add((syntax.start_byte, syntax.end_byte))
                yield self._claim(file, {"symbol": "*"}, one, line(one.offset), "")
        for found in declared:
            span = (found.value.start_byte, found.value.end_byte)
            if span in seen or _NO_LIST.search(found.name) or any(start <= span[0] and span[1] <= end for start, end in seen):
                continue
            if found.value.end_byte - found.value.start_byte < 8:
                continue
            node = parsed.value(found.value)
            one = next(self.lists(node, found.name), None)
            if one is not None:
                seen.add(span)
                symbol = f"{_holder(declared, found)}{found.name}"
                yield self._claim(file, {"symbol": symbol}, one, line(one.offset), found.name)

    def _called(self, file: File, parsed: SourceFile, line: Any) -> Iterator[DraftClaim]:
        """The options of a call that starts the program: lists of locales inside of a map, and lists as arguments."""
        for call in parsed.calls():
            for index, (label, argument) in enumerate(call.arguments):
                node = parsed.value(argument)
                step = label or str(index)
                nested = [(f"/{step}", node)] + [(f"/{step}/{member.key}", member.node) for member in node.members if member.key != "…"]
                for pointer, inner in nested:
                    if inner.kind == "text" or (pointer.count("/") == 1 and inner.kind == "map") or _NO_LIST.search(pointer):
                        continue
                    if _CHAIN.search(pointer):
                        yield from self._chain(file, {"call": call.name, "pointer": pointer}, inner, line(inner.start))
                        continue
                    one = next(self.lists(inner, pointer), None)
                    if one is not None and call.name and one.take in (None, "keys") and "(" not in call.name:
                        yield self._claim(file, {"call": call.name, "pointer": pointer}, one, line(one.offset), pointer)
                        yield from self._call_default(file, call.name, step, node, line)
                        break

    def _chain(self, file: File, selector: dict[str, Any], node: Node, line: int) -> Iterator[DraftClaim]:
        """What the program falls back to, as a call or a file states it: a list, or a map from locale to list or text."""
        links = node.items if node.kind == "list" else [link for each in node.members for link in (each.node.items or [each.node])]
        keys = [member.key for member in node.members if member.key not in ("default", "*")]
        tags = [locale_of(link.text) for link in links if link.kind == "text"]
        if not links or len(tags) < len(links) or None in tags or any(locale_of(key) is None for key in keys):
            return
        found = [tag for tag in tags if tag is not None]
        settings = {"states": "chain", "file": self._below(file), **selector}
        yield DraftClaim(settings, _tuple(found), f"{file}:{line}", 0.8)

    def cuts_requests(self) -> list[tuple[str, str]]:
        """Where the code cuts a user's request to its language: the place, and the code."""
        found = []
        for file in self.files:
            if languages.load(suffix_of(file)) is None:
                continue
            try:
                data = self.tree.read(file)[1]
            except OSError:
                continue
            match = _CUT.search(data) if len(data) <= _MOST_BYTES else None
            if match:
                found.append((f"{file}:{data.count(bytes([10]), 0, match.start()) + 1}", match.group().decode("utf-8", "replace")))
        return found

    def _call_default(self, file: File, name: str, step: str, node: Node, line: Any) -> Iterator[DraftClaim]:
        for member in node.members:
            tag = locale_of(member.node.text) if member.node.kind == "text" else None
            if tag is not None and _DEFAULT.search(member.key) and _plain(tag) in self.known:
                settings = {"states": "default", "file": self._below(file), "call": name, "pointer": f"/{step}/{member.key}"}
                yield DraftClaim(settings, (Tag(str(tag.canonical())),), f"{file}:{line(member.start)}", 0.8)
                return

    def _tested(self, file: File, parsed: SourceFile, declared: list[Declaration], line: Any) -> Iterator[DraftClaim]:
        """A function that compares with a locale for each that it knows: the innermost that tests them all."""
        best: tuple[int, DraftClaim] | None = None
        for found in declared:
            node = found.value
            if node.type in parsed.texts or node.child_count == 0 or not _FUNCTION.search(node.type):
                continue
            texts = parsed.tested([found.name]) or []
            plain = tuple(dict.fromkeys(text.text for text in texts))
            if len(plain) < 3 or self.tags(plain) is None:
                continue
            one = _Seen("cases", plain, None, texts[0].start, None)
            symbol = f"{_holder(declared, found)}{found.name}"
            claim = self._claim(file, {"symbol": symbol}, one, line(one.offset), found.name)
            if best is None or node.end_byte - node.start_byte < best[0]:
                best = (node.end_byte - node.start_byte, claim)
        if best is not None:
            yield best[1]

    def _defaults(self, file: File, parsed: SourceFile, declared: list[Declaration], line: Any) -> Iterator[DraftClaim]:
        for found in declared:
            node = parsed.value(found.value)
            name = found.name
            if node.kind != "text" or not _DEFAULT.search(name) or _NO_LIST.search(name):
                continue
            tag, spelling = locale_of(node.text), None
            if tag is None:
                tag, spelling = read_spelling(node.text, "name"), "name"
            if tag is not None and _plain(tag) in self.known:
                settings = {"states": "default", "file": self._below(file), "symbol": f"{_holder(declared, found)}{name}"}
                settings |= {"spelling": spelling} if spelling else {}
                yield DraftClaim(settings, (Tag(str(tag.canonical())),), f"{file}:{line(found.at.start_byte)}", 0.8)
                return

    # ------------------------------------------------------------------------------------------------------------- documents

    def _document(self, file: File, data: bytes, suffix: str) -> list[DraftClaim]:
        root, _, text = structured.scan(data, suffix)
        if root is None:
            return []
        lines = Lines(text)
        claims: list[DraftClaim] = []
        stack: list[tuple[str, str, Node]] = [("", "", root)]
        texts: list[tuple[str, str, Node]] = []
        while stack and len(stack) < 20_000:
            pointer, name, node = stack.pop()
            if node.kind == "text":
                texts.append((pointer, name, node))
                continue
            if _NO_LIST.search(name):
                continue
            if _CHAIN.search(name or _name_of(file)):
                chain = list(self._chain(file, {"pointer": pointer}, node, lines.place(node.start)[0]))
                claims += chain
                if chain:
                    continue
            one = next(self.lists(node, name), None)
            if one is not None and one.spelling is None:
                settings = {"pointer": pointer}
                if one.take and one.take.startswith("field:") and node.kind == "list" and one.labels is None:
                    settings, one = {"pointer": f"{pointer}/*/{one.take.partition(':')[2]}"}, one._replace(take=None)
                claims.append(self._claim(file, settings, one, lines.place(one.offset)[0], name or file))
                continue
            members = [(member.key, member.node) for member in node.members]
            stack += [(f"{pointer}/{_step(key)}", key, child) for key, child in reversed(members)]
            if node.kind == "list" and len(node.items) <= 50:
                stack += [(f"{pointer}/{index}", name, child) for index, child in enumerate(node.items)]
        if claims:
            claims += self._single(file, texts, lines)
        return claims

    def _single(self, file: File, texts: list[tuple[str, str, Node]], lines: Lines) -> Iterator[DraftClaim]:
        """The one locale beside a list that a document calls its default or its source."""
        for pointer, name, node in texts:
            tag = locale_of(node.text)
            if tag is None or _plain(tag) not in self.known:
                continue
            states = (
                "source" if name.lower() in ("source", "sourcelocale", "sourcelanguage") else "default" if _DEFAULT.search(name) else None
            )
            if states is not None:
                settings = {"states": states, "file": self._below(file), "pointer": pointer}
                yield DraftClaim(settings, (Tag(str(tag.canonical())),), f"{file}:{lines.place(node.start)[0]}", 0.8)
                return

    def _listed(self, file: File, data: bytes, suffix: str) -> Iterator[DraftClaim]:
        """The lists that selectors know of in files of such a form."""
        for selector in selectors.every():
            for listed in selector.lists(data, suffix) if selector.lists is not None and suffix in selector.lists_in else ():
                split = listed.settings.get("split")
                texts = [piece for value in listed.values for piece in (value.text.split(split) if split else [value.text]) if piece]
                tags = self.tags(texts)
                if tags is not None:
                    settings = {"states": listed.states, "file": self._below(file), **listed.settings}
                    yield DraftClaim(settings, _tuple(tags), f"{file}:{listed.values[0].line}", 0.9)

    # -------------------------------------------------------------------------------------------------------------- settings

    def _below(self, file: str) -> str:
        return file[len(self.root) + 1 :] if self.root else file

    def _claim(self, file: File, selector: dict[str, Any], one: _Seen, line: int, name: str) -> DraftClaim:
        base = file.rpartition("/")[2]
        words = f"{name} {base}"
        states = (
            "routed"
            if _ROUTE.search(words)
            else "offered"
            if one.labels or _PICKER.search(words) or suffix_of(file) in (".tsx", ".jsx")
            else "supported"
        )
        settings: dict[str, Any] = {"states": states, "file": self._below(file), **selector}
        if one.take not in (None, "keys") or (one.take == "keys" and one.labels != "value"):
            settings["take"] = one.take
        if one.labels and states == "offered":
            settings["labels"] = one.labels
        tags = self.tags(one.texts, one.spelling) or []
        if one.spelling:
            settings["spelling"] = one.spelling
        elif any(read_spelling(text, "auto") is None for text in one.texts) or _underlined(one.texts, self.spelling):
            settings["spelling"] = "posix"
        elif self.spelling in ("posix", "java", "android") and any("-" in text for text in one.texts):
            settings["spelling"] = "bcp47"
        return DraftClaim(settings, _tuple(tags), f"{file}:{line}", self._confidence(tags))

    def _confidence(self, tags: Sequence[LanguageTag]) -> float:
        mine = {tag.maximized() for tag in tags}
        return round(len(mine & self.full) / max(len(mine | self.full), 1), 2)


def _underlined(texts: Sequence[str], spelling: str) -> bool:
    """Whether a place writes all its tags with underscores where its platform writes hyphens: a habit of its own, not a fault of each."""
    long = [text for text in texts if re.search("[-_]", text)]
    return (
        spelling in ("bcp47", "dotnet", "lproj") and bool(long) and all("-" not in text and read_spelling(text, "posix") for text in long)
    )


def _country_for_language(text: str) -> LanguageTag | None:
    """The language that a country's code was written for (``cn``): a mistake that the audit tells, not another kind of list."""
    found = meant(text) if len(text) == 2 and text.islower() else ()
    return found[0].tag if found and found[0].how == "region" else None


def _plain(tag: LanguageTag) -> LanguageTag:
    return tag.canonical()


def _tuple(tags: Iterable[LanguageTag]) -> tuple[Tag, ...]:
    return tuple(dict.fromkeys(Tag(str(tag.canonical())) for tag in tags))


def _step(key: str) -> str:
    return key.replace("~", "~0").replace("/", "~1")


def _names(nodes: Sequence[Node]) -> bool:
    """Whether most of the texts are names of languages."""
    texts = [node.text for node in nodes if node.kind == "text"]
    return len(texts) == len(nodes) > 0 and sum(read_spelling(text, "name") is not None for text in texts) >= 0.5 * len(texts)


def _name_of(file: File) -> str:
    return file.rpartition("/")[2]


def _holder(declared: list[Declaration], found: Declaration) -> str:
    """``Class.`` for a member of a type, so that the name reaches inside."""
    best, size, offset = "", 1 << 60, found.at.start_byte
    for each in declared:
        kind = each.value.type
        if not any(word in kind for word in ("class", "struct", "object_declaration", "interface", "module", "enum")):
            continue
        inside = each.value.start_byte < offset < each.value.end_byte
        if inside and each.name != found.name and each.value.end_byte - each.value.start_byte < size:
            best, size = f"{each.name}.", each.value.end_byte - each.value.start_byte
    return best


def _chosen(claims: list[DraftClaim]) -> list[DraftClaim]:
    """Without what is said twice in one file: of several lists of a kind in one file only the surest."""
    best: dict[tuple[Any, ...], DraftClaim] = {}
    for claim in claims:
        key = (claim.settings["states"], claim.settings["file"])
        known = best.get(key)
        if known is None or claim.confidence > known.confidence:
            best[key] = claim
    surest = max((claim.confidence for claim in best.values() if claim.settings["states"] in ("supported", "offered")), default=0)
    if surest >= 0.85:  # beside a whole list one with half of it says something else
        best = {
            key: claim for key, claim in best.items() if claim.confidence > 0.6 or claim.settings["states"] not in ("supported", "offered")
        }
    order = {"supported": 0, "source": 1, "default": 2, "chain": 3, "offered": 4, "routed": 5}
    kept = sorted(best.values(), key=lambda claim: (order[claim.settings["states"]], -claim.confidence, claim.place))
    seen: set[str] = set()
    result = []
    for claim in kept:
        if claim.settings["states"] in ("default", "source", "chain"):
            if claim.settings["states"] in seen:
                continue
            seen.add(claim.settings["states"])
        result.append(claim)
    return result
