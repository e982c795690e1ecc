"""How a client's code asks for its messages: seen by what texts in it are keys, and what stands around them."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

import msgspec
from msgspec.structs import replace

from lemmar.charter.types import UsageEntry
from lemmar.errors import IncompleteError
from lemmar.expressions import expression
from lemmar.inventory.aside import is_packed
from lemmar.inventory.key_lists import folded
from lemmar.inventory.readings import Readings
from lemmar.inventory.using import looked_through, usage_of
from lemmar.resolve.asking import Asking, asking, plain
from lemmar.resolve.world import Client
from lemmar.survey.draft import DraftUsage
from lemmar.text import decode
from lemmar.trees import File, Tree
from lemmar.usages import PLAIN, TEMPLATES, block_key, blocks, closing, tag_around
from lemmar.words import clipped, counted

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
_NAME = r"[A-Za-z_$][\w$]{0,60}"
_CALLED = expression(r"(?<![\w$.])([A-Za-z_$][\w$]*+(?:(?:\.|::|->|\?\.)[A-Za-z_$][\w$]*+)*+)[!?]?\(")
_BARE = expression(r"(?:\{%-?|\{\{-?|<%=?-?|^)[ \t]*+([A-Za-z_$][\w$]{0,60})[ \t]+(?=[\"'])", re.MULTILINE)
_LITERAL = expression(r"\s*+(?:\w{1,30}:\s*+)?(?:\"((?:[^\"\n\\]|\\.)*+)\"|'((?:[^'\n\\]|\\.)*+)'|`((?:[^`\\]|\\.){0,300}+)`)")
_OTHER_ARGUMENT = expression(r"[^()\"'`{};\n,]{0,60}+,")
#: So many arguments before a text are passed over.
_MOST_BEFORE = 4
_BRACKET = expression(rf"(?<![\w$])({_NAME})\[\s{{0,3}}([\"'])([^\"'\n]{{1,200}})\2\s{{0,3}}\]")
_FILTER = expression(rf"([\"'])([^\"'\n]{{1,300}})\1\s{{0,3}}\|\s{{0,3}}({_NAME})")
_ATTRIBUTE = expression(r"(?<=[\s\"'}])([A-Za-z_:@][\w:.-]{0,40})=\{?([\"'`])([^\"'`\n<>]{1,200})\2")
_MEMBER = expression(rf"(?<![\w$.\"'])({_NAME}(?:\([\w.]{{0,40}}\)[!?]?)?(?:\.{_NAME}(?:\([\w.]{{0,40}}\)[!?]?)?){{0,2}})[!?]?\.({_NAME})")
_END = expression(r"\{%-?\s{0,9}end(\w{2,30})\b")
_REFERENCE = expression(r"(@[a-z]+/)([A-Za-z_][\w.]{0,100})")
_PROPERTY = expression(r"(?<![\w$.\"'])([A-Za-z_]\w{0,30}):\s{0,9}([\"'])([^\"'\n]{1,300})\2")
_OPENED = expression(rf"(?<![\w$])({_NAME}(?:[.:>-]{{1,2}}{_NAME}){{0,3}})\(\s{{0,30}}\{{")
#: Of so many properties of a file that are keys it is looked for in which call they stand.
_LOOKED = 200
#: Of so many calls before it, the nearest ones.
_NEAREST = 8
#: So far before a property the call is looked for that it stands in.
_BACK = 3_000
#: Functions that take any text, and words of languages that stand before one.
_NO_ASKING = frozenset(
    {
        *(
            "if",
            "for",
            "while",
            "switch",
            "return",
            "case",
            "require",
            "import",
            "console",
            "log",
            "print",
            "println",
            "printf",
            "echo",
            "from",
            "in",
        ),
        *(
            "and",
            "or",
            "not",
            "else",
            "elif",
            "when",
            "push",
            "append",
            "includes",
            "has",
            "indexOf",
            "startsWith",
            "endsWith",
            "equals",
            "concat",
        ),
        *(
            "querySelector",
            "getElementById",
            "addEventListener",
            "getItem",
            "setItem",
            "split",
            "join",
            "replace",
            "replaceAll",
            "test",
            "match",
            "useState",
        ),
        *(
            "Error",
            "new",
            "typeof",
            "throw",
            "assert",
            "expect",
            "describe",
            "it",
            "emit",
            "on",
            "add",
            "set",
            "const",
            "export",
            "default",
            "as",
            "type",
        ),
    }
)
_PLAIN_ATTRIBUTES = frozenset(
    {"class", "className", "id", "name", "type", "href", "src", "style", "value", "key", "rel", "role", "for", "lang"}
)


#: The class by which Android's code names resources: what stands there is one, however few there are.
_RESOURCES = ("R.string.", "R.plurals.", "R.array.")
#: A table of the charter, and its evidence.
_Table = tuple[dict[str, Any], str]


class _Keys(NamedTuple):
    """A client's keys as code writes them, by part; what stands before a dot in them; folded as accessors are; by their
    words, however they are parted.
    """

    every: frozenset[str]
    parts: Mapping[str, frozenset[str]]
    heads: frozenset[str]
    folded: frozenset[str]
    squeezed: frozenset[str]


class _Seen:
    """What was seen of one way: the texts that are keys, and those that are none, and in which files."""

    def __init__(self) -> None:
        self.keys: set[str] = set()
        self.others: set[str] = set()
        self.files: set[str] = set()
        self.placed: set[str] = set()

    def add(self, text: str, file: str, is_key: bool) -> None:
        (self.keys if is_key else self.others).add(text)
        if is_key:
            self.files.add(file)

    @property
    def share(self) -> float:
        """How many of the texts are keys, of one."""
        return len(self.keys) / max(len(self.keys) + len(self.others), 1)


def usages(client: Client, tree: Tree, others: Collection[str], readings: Readings) -> DraftUsage:
    """How the code of *client* asks for messages; *others* are all clients' folders."""
    if not client.sources:
        return DraftUsage()
    base = "" if client.root == "." else client.root
    known = frozenset().union(*(pattern.known for pattern in client.patterns))
    files = looked_through(tree, ("**",), base, others, known)
    keys = _keys(client)
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
    hits: dict[int, set[tuple[str | None, str]]] = defaultdict(set)
    for name, those in asked.uses.items():
        for each in those:
            if not each.use.computed:
                hits[each.use.way].add(name)
    shares = {way: 1 - lacks / named for way, (named, lacks) in asked.found.items()}
    seen: set[tuple[str | None, str]] = set()
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


def _keys(client: Client) -> _Keys:
    parts = {
        part or "": frozenset(plain(key).rpartition("\x04")[2] for key in (*source.keys, *source.fixed))
        for part, source in client.sources.items()
    }
    every = frozenset().union(*parts.values())
    heads = frozenset(key[:index] for key in every for index, sign in enumerate(key) if sign == "." and index)
    return _Keys(every, parts, heads, frozenset(folded(key) for key in every), frozenset(" ".join(key.split()) for key in every))


def _texts(tree: Tree, files: Iterable[File]) -> Iterator[tuple[File, str]]:
    for file in files:
        try:
            data = tree.data(file)
        except OSError:
            continue
        if not is_packed(data):
            yield file, decode(data).text


def _ways(texts: Iterable[tuple[File, str]], keys: _Keys) -> tuple[list[_Table], list[str]]:
    """The tables for a charter, each with its evidence; and what is to be decided."""
    calls: dict[tuple[str, int], _Seen] = defaultdict(_Seen)
    scoped: dict[tuple[str, str, str], _Seen] = defaultdict(_Seen)
    separated: dict[tuple[str, str], _Seen] = defaultdict(_Seen)
    rest: dict[tuple[str, str], _Seen] = defaultdict(_Seen)
    properties: dict[str, _Seen] = defaultdict(_Seen)
    pointed: dict[str, Counter[tuple[str, str]]] = defaultdict(Counter)
    for file, text in texts:
        _of_calls(file, text, keys, calls, scoped, separated)
        for match in _BRACKET.finditer(text):
            rest["call", f"{match[1]}[]"].add(match[3], file, match[3] in keys.every)
        for match in _FILTER.finditer(text) if "|" in text else ():
            rest["filter", match[3]].add(match[2], file, match[2] in keys.every)
        for match in _ATTRIBUTE.finditer(text) if "=" in text and "<" in text else ():
            tag = tag_around(text, match.start())
            if match[1] not in _PLAIN_ATTRIBUTES:
                rest["attribute", match[1]].add(match[3], file, match[3] in keys.every)
            elif tag[:1].isupper():
                rest["attribute", f"{match[1]} of {tag}"].add(match[3], file, match[3] in keys.every)
        for name in {match[1] for match in _END.finditer(text)} if "{%" in text else ():
            for block in blocks(text, name):
                key = block_key(block.text, "trimmed" in block.head)
                rest["block", name].add(key, file, key in keys.every or " ".join(key.split()) in keys.squeezed)
        for match in _MEMBER.finditer(text):
            rest["member", f"{match[1]}.{{key}}"].add(match[2], file, folded(match[2]) in keys.folded)
        looked = 0
        for match in _PROPERTY.finditer(text) if ":" in text else ():
            looked += match[3] in keys.every
            found_in = _call_of(text, match) if match[3] in keys.every and looked <= _LOOKED else None
            properties[match[1]].add(match[3], file, match[3] in keys.every)
            if found_in is not None:
                pointed[match[1]][found_in] += 1
        for match in _REFERENCE.finditer(text) if file.endswith(PLAIN) else ():
            rest["resource", f"{match[1]}{{key}}"].add(match[2], file, match[2] in keys.every)
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


def _call_of(text: str, match: re.Match[str]) -> tuple[str, str] | None:
    """The call that a property stands in an argument of, and its pointer there: of the first argument itself, or of an object in it."""
    start = max(0, match.start() - _BACK)
    opened = list(_OPENED.finditer(text, start, match.start()))[-_NEAREST:]
    last = next((each for each in reversed(opened) if closing(text, each.end() - 1) > match.start()), None)
    if last is None:
        return None
    inner = text.count("{", last.end(), match.start()) - text.count("}", last.end(), match.start())
    name = re.split(r"[.:>-]{1,2}", last[1])[-1]
    return (name, f"/*/{match[1]}" if inner else f"/{match[1]}") if inner in (0, 1) and name not in _NO_ASKING else None


def _is_of_call(name: str, found: Sequence[tuple[Mapping[str, Any], str]]) -> bool:
    return any(name.partition("(")[0] == each.get("call") for each, _ in found)


def _of_calls(
    file: str,
    text: str,
    keys: _Keys,
    calls: dict[tuple[str, int], _Seen],
    scoped: dict[tuple[str, str, str], _Seen],
    separated: dict[tuple[str, str], _Seen],
) -> None:
    found = []
    scopes: dict[tuple[str, str, str], None] = {}
    for name, place, literal in _given(text, file.endswith((*TEMPLATES, ".rb"))):
        if name.removesuffix(_OF_TAGS) in _NO_ASKING or not literal:
            continue
        found.append((name, place, literal))
        if not place and literal not in keys.every:
            if literal in keys.heads:
                scopes[name, literal, "under"] = None
            if literal in keys.parts:
                scopes[name, literal, "part"] = None
    for name, place, literal in found:
        if (
            literal in keys.every
            or literal.rstrip(".") in keys.heads
            or literal.endswith((".", "_", "-"))
            or "${" in literal
            or "#{" in literal
        ):
            if literal in keys.every:
                calls[name, place].add(literal, file, True)
            for scope, head, how in scopes:
                if how == "part" and scope != name and literal in keys.parts[head]:
                    scoped[name, scope, how].add(literal, file, True)
            continue
        sign = next((sign for sign in (":", "/", "::") if literal.partition(sign)[0] in keys.parts and literal.partition(sign)[2]), "")
        if sign and literal.partition(sign)[2] in keys.parts[literal.partition(sign)[0]]:
            separated[name, sign].add(literal, file, True)
            continue
        hit = next((each for each in scopes if each[2] == "under" and each[0] != name and f"{each[1]}.{literal}" in keys.every), None)
        if hit is not None:
            scoped[name, hit[0], "under"].add(literal, file, True)
            continue
        calls[name, place].add(literal, file, False)


#: Marks the name of a tag of templates, which stands there without brackets.
_OF_TAGS = " %"


def _suffix(file: str) -> str:
    return next((each for each in sorted(TEMPLATES, key=len, reverse=True) if file.endswith(each)), f".{file.rpartition('.')[2]}")


_LAST = expression(r"[\w$]+\Z")


def _given(text: str, is_bare: bool) -> Iterator[tuple[str, int, str]]:
    """The first literal that each call in *text* is given: the function, the argument's place, the literal; *is_bare* where brackets may be left out."""
    for match in _CALLED.finditer(text):
        at, place = match.end(), 0
        while place <= _MOST_BEFORE:
            literal = _LITERAL.match(text, at)
            if literal is not None:
                yield _LAST.search(match[1])[0], place, _unquoted(literal)  # type: ignore[index]
                break
            other = _OTHER_ARGUMENT.match(text, at)
            if other is None:
                break
            at, place = other.end(), place + 1
    for match in _BARE.finditer(text) if is_bare else ():
        literal = _LITERAL.match(text, match.end())
        if literal is not None:
            yield f"{match[1]}{_OF_TAGS}", 0, _unquoted(literal)


def _unquoted(literal: re.Match[str]) -> str:
    text = next((group for group in literal.groups() if group is not None), "")
    return text.replace("\\'", "'").replace('\\"', '"') if "\\" in text else text


def _call_tables(
    calls: Mapping[tuple[str, int], _Seen],
    scoped: Mapping[tuple[str, str, str], _Seen],
    separated: Mapping[tuple[str, str], _Seen],
    keys: _Keys,
) -> tuple[list[_Table], list[str]]:
    found: list[_Table] = []
    doubts: list[str] = []
    names = dict.fromkeys([*calls, *((name, 0) for name, _, _ in scoped), *((name, 0) for name, _ in separated)])
    for name, place in names:
        seen = calls.get((name, place), _Seen())
        around = Counter({(scope, how): len(each.keys) for (own, scope, how), each in scoped.items() if own == name and place == 0})
        apart = Counter({sign: len(each.keys) for (own, sign), each in separated.items() if own == name and place == 0})
        total = len(seen.keys) + sum(count for (_, how), count in around.items() if how == "under") + sum(apart.values())
        texts = total + len(seen.others)
        if total < _FEWEST or total < _LIKELY * texts:
            continue
        are_words = all(key.islower() and key.isalpha() for key in seen.keys)
        if total < _SURE * texts or (are_words and not around and not apart):
            doubts.append(
                f"does the code ask for messages by {name.removesuffix(_OF_TAGS)}()? Of {texts} texts that it is given {total} are keys"
            )
            continue
        table: dict[str, Any] = {"call": name}
        if name.endswith(_OF_TAGS):  # a tag of templates: a function of that name is another
            table = {"call": name.removesuffix(_OF_TAGS), "files": sorted({f"**/*{_suffix(file)}" for file in seen.files})}
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


def _evidence(seen: _Seen, total: int = 0) -> str:
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
