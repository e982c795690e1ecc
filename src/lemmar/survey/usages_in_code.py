"""How a client's code may ask for its messages: what in it is a key, and what stands around that. Nothing is decided here."""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping
from typing import NamedTuple

from lemmar.basics.expressions import expression
from lemmar.inventory.key_lists import folded
from lemmar.resolve.key_uses import plain
from lemmar.resolve.world import Client
from lemmar.trees import File
from lemmar.usages import LONGEST, PLAIN, TEMPLATES, block_key, blocks, closing, tag_around

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


class Keys(NamedTuple):
    """A client's keys as code writes them, by part; what stands before a dot in them; folded as accessors are; by their
    words, however they are parted.
    """

    every: frozenset[str]
    parts: Mapping[str, frozenset[str]]
    heads: frozenset[str]
    folded: frozenset[str]
    squeezed: frozenset[str]


class Tally:
    """What was seen of one way: the texts that are keys, and those that are none, and in which files."""

    def __init__(self) -> None:
        self.keys: set[str] = set()
        self.others: set[str] = set()
        self.files: set[str] = set()

    def add(self, text: str, file: str, is_key: bool) -> None:
        """Notes a *text* of a *file* that stands so."""
        (self.keys if is_key else self.others).add(text)
        if is_key:
            self.files.add(file)

    @property
    def share(self) -> float:
        """How many of the texts are keys, of one."""
        return len(self.keys) / max(len(self.keys) + len(self.others), 1)


class Around(NamedTuple):
    """What was seen: of calls by their name and the argument's place; by their name, the call around that gives a part or what stands before a key,
    and which of the two; by their name and the sign between part and key; of the other ways by kind and name; of properties of objects by their
    name, and in which calls these stand, with their pointer there.
    """

    calls: Mapping[tuple[str, int], Tally]
    scoped: Mapping[tuple[str, str, str], Tally]
    separated: Mapping[tuple[str, str], Tally]
    rest: Mapping[tuple[str, str], Tally]
    properties: Mapping[str, Tally]
    pointed: Mapping[str, Counter[tuple[str, str]]]


def keys_of(client: Client) -> Keys:
    """The keys of a client as its code may write them."""
    parts: dict[str, frozenset[str]] = {}
    for space, source in client.sources.items():
        own = frozenset(plain(key).rpartition("\x04")[2] for key in (*source.keys, *source.fixed))
        parts[space.part or ""] = parts.get(space.part or "", frozenset()) | own
    every = frozenset().union(*parts.values())
    heads = frozenset(key[:index] for key in every if len(key) <= LONGEST for index, sign in enumerate(key) if sign == "." and index)
    return Keys(every, parts, heads, frozenset(folded(key) for key in every), frozenset(" ".join(key.split()) for key in every))


def seen_in(texts: Iterable[tuple[File, str]], keys: Keys) -> Around:
    """What stands around the texts in code and markup that are keys."""
    calls: dict[tuple[str, int], Tally] = defaultdict(Tally)
    scoped: dict[tuple[str, str, str], Tally] = defaultdict(Tally)
    separated: dict[tuple[str, str], Tally] = defaultdict(Tally)
    rest: dict[tuple[str, str], Tally] = defaultdict(Tally)
    properties: dict[str, Tally] = defaultdict(Tally)
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
        for name in dict.fromkeys(match[1] for match in _END.finditer(text)) if "{%" in text else ():
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
    return Around(calls, scoped, separated, rest, properties, pointed)


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


def _of_calls(
    file: str,
    text: str,
    keys: Keys,
    calls: dict[tuple[str, int], Tally],
    scoped: dict[tuple[str, str, str], Tally],
    separated: dict[tuple[str, str], Tally],
) -> None:
    found = []
    scopes: dict[tuple[str, str, str], None] = {}
    for name, place, literal in _given(text, file.endswith((*TEMPLATES, ".rb"))):
        if name.removesuffix(OF_TAGS) in _NO_ASKING or not literal:
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
OF_TAGS = " %"


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
            yield f"{match[1]}{OF_TAGS}", 0, _unquoted(literal)


def _unquoted(literal: re.Match[str]) -> str:
    text = next((group for group in literal.groups() if group is not None), "")
    return text.replace("\\'", "'").replace('\\"', '"') if "\\" in text else text
