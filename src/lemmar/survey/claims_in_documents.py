"""Claims in documents: JSON, YAML, TOML and property lists by pointer, XML by element path and attribute, settings and build scripts by line."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator
from typing import Any

from lemmar import selectors
from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents import structured
from lemmar.documents.nodes import Node
from lemmar.documents.structured import suffix_of
from lemmar.documents.xmltext import parse as parse_xml
from lemmar.survey.draft import DraftClaim
from lemmar.survey.listing import NO_LIST, FoundList, Lists, state_of, tuple_of
from lemmar.survey.paths import locale_of

DOCUMENTS = (".json", ".jsonc", ".json5", ".yaml", ".yml", ".toml", ".plist", ".pbxproj", ".xcstrings", ".webmanifest")
_LIST_OF_REGIONS = "knownRegions"


def claims_in_document(lists: Lists, file: str, data: bytes, suffix: str) -> list[DraftClaim]:
    """The claims in a document that pointers reach into."""
    root, _, text = structured.scan(data, suffix)
    if root is None or NO_LIST.search(file.rpartition("/")[2].rpartition(".")[0]):
        return []
    lines = Lines(text)
    claims: list[DraftClaim] = []
    stack: list[tuple[str, str, Node]] = [("", "", root)]
    texts: list[tuple[str, str, Node]] = []
    while stack and len(stack) < 20_000:
        pointer, name, node = stack.pop()
        if NO_LIST.search(name):
            continue
        if lists.is_beta(name, node):
            continue
        if node.kind == "text":
            texts.append((pointer, name, node))
        if node.kind in ("map", "list") and lists.is_chain(node, name or file.rpartition("/")[2]):
            settings = {"states": "chain", "file": lists.below(file), "pointer": pointer}
            links = node.items if node.kind == "list" else [link for each in node.members for link in (each.node.items or [each.node])]
            tags = [tag for link in links if (tag := locale_of(link.text)) is not None]
            claims.append(DraftClaim(settings, tuple_of(tags), f"{file}:{lines.place(node.start)[0]}", 0.8))
            continue
        if name == _LIST_OF_REGIONS and node.kind == "list":  # holds layouts as well
            node = Node("list", node.start, node.end, items=[item for item in node.items if item.text not in ("Base", "mul")])
        one = next(lists.lists(node), None)
        if one is not None and one.spelling is None:
            settings = {"pointer": pointer}
            if one.take and one.take.startswith("field:") and node.kind == "list" and one.labels is None:
                settings, one = {"pointer": f"{pointer}/*/{one.take.partition(':')[2]}"}, one._replace(take=None)
            claims.append(lists.claim(file, settings, one, lines.place(one.offset)[0], name or file))
            continue
        stack += [(f"{pointer}/{_step(member.key)}", member.key, member.node) for member in reversed(node.members)]
        if node.kind == "list" and len(node.items) <= 50:
            stack += [(f"{pointer}/{index}", name, child) for index, child in enumerate(node.items)]
    if claims:
        claims += _singles(lists, file, texts, lines)
    return claims


def _singles(lists: Lists, file: str, texts: list[tuple[str, str, Node]], lines: Lines) -> Iterator[DraftClaim]:
    """The locales beside a list that a document calls its default or its source."""
    stated: set[str] = set()
    for pointer, name, node in texts:
        state = state_of(name)
        if state is None or state in stated:
            continue
        claim = lists.one(file, state, {"pointer": pointer}, node.text, lines.place(node.start)[0])
        if claim is not None:
            stated.add(state)
            yield claim


def _step(key: str) -> str:
    return key.replace("~", "~0").replace("/", "~1")


# ------------------------------------------------------------------------------------------------------------------------- XML


def claims_in_known_forms(lists: Lists, file: str, data: bytes, suffix: str) -> Iterator[DraftClaim]:
    """The lists that selectors know of in files of such a form."""
    for selector in selectors.every():
        for listed in selector.lists(data, suffix) if selector.lists is not None and suffix in selector.lists_in else ():
            split = listed.settings.get("split")
            texts = [piece for value in listed.values for piece in (value.text.split(split) if split else [value.text]) if piece]
            tags = lists.tags(texts)
            if tags is not None:
                settings = {"states": listed.states, "file": lists.below(file), **listed.settings}
                yield DraftClaim(settings, tuple_of(tags), f"{file}:{listed.values[0].line}", 0.9)


def claims_in_xml(lists: Lists, file: str, data: bytes) -> Iterator[DraftClaim]:
    """The claims in any XML: elements of one path, or their attributes, that are locales; texts of several; single ones by their names."""
    root, _ = parse_xml(data)
    if root is None or NO_LIST.search(file.rpartition("/")[2].rpartition(".")[0]):
        return
    values: dict[str, list[tuple[str, str, int, str]]] = defaultdict(list)
    for element in root.iter():
        if not isinstance(element.tag, str):
            continue
        path = _path(element)
        line = int(getattr(element, "sourceline", None) or 1)
        text: str = (element.text or "").strip()
        name = element.tag.rpartition("}")[2]
        if text and not len(element):
            values[path].append((text, name, line, text))
        for attribute, value in element.attrib.items():
            place = f"{path}/@{_attribute(element, str(attribute))}"
            local = str(attribute).rpartition("}")[2]
            values[place].append((str(value), local, line, text))
    claimed = False
    singles: list[tuple[str, str, str, int]] = []
    for path, found in values.items():
        name = f"{path.rpartition('/')[0].rpartition('/')[2]} {found[0][1]}"
        if NO_LIST.search(path):
            continue
        texts = tuple(text for text, _, _, _ in found)
        if len(found) > 1:
            one: FoundList | None = FoundList(None, texts, None, 0, None) if lists.tags(texts) is not None else None
        else:
            one = next(lists.in_text(Node("text", 0, len(texts[0]), texts[0])), None)
            singles.append((path, name, texts[0], found[0][2]))
        if one is not None:
            claimed = True
            yield lists.claim(file, {"xpath": path}, one, found[0][2], name)
    stated: set[str] = set()
    for path, name, text, line in singles if claimed else ():
        state = state_of(name)
        claim = lists.one(file, state, {"xpath": path}, text, line) if state is not None and state not in stated else None
        if claim is not None:
            stated.add(claim.states)
            yield claim


def _path(element: Any) -> str:
    steps = []
    while element is not None:
        name = element.tag.rpartition("}")[2]
        steps.append(f"{element.prefix}:{name}" if element.prefix else f"*[local-name()='{name}']" if element.tag.startswith("{") else name)
        element = element.getparent()
    return "/" + "/".join(reversed(steps))


def _attribute(element: Any, name: str) -> str:
    space, _, local = name.rpartition("}")
    prefix = next((prefix for prefix, uri in element.nsmap.items() if prefix and uri == space[1:]), None)
    return f"{prefix}:{local}" if prefix else local


# ----------------------------------------------------------------------------------------------------------- settings by line

_LINE_NAMES = frozenset({"cmakelists.txt", "makefile", "gnumakefile", "linguas", "meson.build", "configure.ac", "configure.in", ".env"})
_LINE_SUFFIXES = frozenset(
    {
        *(".ini", ".cfg", ".conf", ".config", ".env", ".properties", ".props", ".godot", ".pro", ".pri", ".cmake", ".mk", ".gradle"),
        *(".desktop", ".settings", ".import", ".csv", ".cst", ".tres", ".sh", ".bat", ".ps1", ".nsi", ".iss", ".rc"),
    }
)
#: Suffixes of most of the files beside them, which are none: a look at these alone is cheap.
_USUAL = frozenset({".css", ".md", ".png", ".svg", ".jpg", ".html", ".js", ".ts", ".json", ".scss", ".tsx", ".c", ".cpp", ".h", ".java"})
#: A locale among other signs, as it stands in settings.
_LOCALE = r"[A-Za-z]{2,3}(?:[-_](?:[A-Za-z]{4}|r?[A-Za-z]{2}|[0-9]{3}))*(?:@[a-z]+)?"
_NAME = r"[A-Za-z_][\w./:-]*"
# NAME = values, NAME += values, with lines that go on; NAME(values), set(NAME values), NAME "a", "b"
_STATEMENT = expression(
    rf"^[ \t]*(?:(?:export|let|local|set)[ \t]+)?(?P<set>{_NAME})[ \t]*(?:[+:?]?=|:)[ \t]*(?P<values>(?:[^\n\\]|\\\n|\\.)+)"
    rf"|\b(?P<command>[a-z_]\w*)[ \t]*\([ \t\n]*(?P<named>[A-Za-z_]\w*)[ \t\n]+(?P<inside>[^()]*)\)"
    rf"|^[ \t]*(?P<call>[A-Za-z_][\w.]*)[ \t(]+(?P<given>[\"'][^\n)]*)",
    re.MULTILINE,
)
_FILED = expression(rf"[A-Za-z0-9]+[._-](?P<locale>{_LOCALE})\.[A-Za-z]+(?=[\s\"',;)\\]|$)")
_TOKEN = expression(rf"(?<![\w./-])(?P<locale>{_LOCALE})(?![\w.@/-])")
_WORD = expression(r"[\w.@/+-]{2,}")


def is_settings(file: str) -> bool:
    """Whether a file has its settings in lines: of a build, of an engine, of a program."""
    suffix = suffix_of(file)
    if suffix in _LINE_SUFFIXES:
        return True
    if suffix in _USUAL:
        return False
    name = file.rpartition("/")[2].lower()
    return name in _LINE_NAMES or name.startswith("makefile.") or name.endswith(".gradle.kts")


def claims_in_lines(lists: Lists, file: str, data: bytes) -> Iterator[DraftClaim]:
    """The claims in settings and build scripts, by regular expressions that find each locale of one statement."""
    text = decode(data).text
    lines = Lines(text)
    name = file.rpartition("/")[2]
    if name == "LINGUAS":
        yield from _of_lingua(lists, file, text)
        return
    claimed = False
    singles: list[tuple[str, str, int]] = []
    for match in _STATEMENT.finditer(text):
        named = match["set"] or match["named"] or match["call"]
        values = match["values"] or match["inside"] or match["given"] or ""
        if NO_LIST.search(named):
            continue
        claim = _statement(lists, file, named, match, values, lines)
        if claim is not None:
            claimed = True
            yield claim
        elif match["set"]:
            singles.append((named, values.strip().strip("\"'"), lines.place(match.start("values"))[0]))
    stated: set[str] = set()
    for named, value, line in singles if claimed else ():
        state = state_of(named)
        expression = rf"^[ \t]*{re.escape(named)}[ \t]*[:=][ \t]*[\"']?(?P<locale>{_LOCALE})[\"']?[ \t]*$"
        claim = lists.one(file, state, {"match": expression}, value, line) if state is not None and state not in stated else None
        if claim is not None:
            stated.add(claim.states)
            yield claim


def _statement(lists: Lists, file: str, named: str, match: re.Match[str], values: str, lines: Lines) -> DraftClaim | None:
    """The claim that a statement's values are: locales among signs, or files that are named by locale."""
    plain = re.sub(r"#.*", "", values)
    found = list(_TOKEN.finditer(plain))
    words = _WORD.findall(plain)
    tokens = tuple(token["locale"] for token in found)
    place = lines.place(match.start())[0]
    if len(tokens) > 1 and len(tokens) >= 0.8 * len([word for word in words if not word.isdigit()]) and lists.tags(tokens) is not None:
        expression = rf"(?<={_before(named, match)})(?<![\w./-])(?P<locale>{_LOCALE})(?![\w.@/-])"
        if match["set"] and all(sign.isalnum() or sign in "-_,; \t\"'@" for sign in plain.strip()) and not re.search(r"[\"']", plain):
            split = next((sign for sign in (",", ";", " ") if sign in plain.strip()), None)
            if split is not None and "\n" not in plain.strip():
                expression = rf"^[ \t]*{re.escape(named)}[ \t]*[+:?]?[=:][ \t]*(?P<locale>[^\n#]+)"
                return lists.claim(file, {"match": expression}, FoundList(None, tokens, None, 0, None, split), place, named)
        return lists.claim(file, {"match": expression}, FoundList(None, tokens, None, 0, None), place, named)
    filed = tuple(token["locale"] for token in _FILED.finditer(plain))
    if len(filed) > 1 and lists.tags(filed) is not None:
        suffix = re.escape(next(iter(re.findall(r"\.[A-Za-z]+(?=[\s\"',;)\\]|$)", plain)), ""))
        expression = rf"(?<={_before(named, match)}[._-])(?P<locale>{_LOCALE})(?={suffix}\b)"
        return lists.claim(file, {"match": expression}, FoundList(None, filed, None, 0, None), place, named)
    return None


def _before(named: str, match: re.Match[str]) -> str:
    """What stands before a locale of the statement: its name, and whatever is between but the statement's end."""
    name = re.escape(named)
    if match["set"]:
        return rf"^[ \t]*(?:(?:export|let|local|set)[ \t]+)?{name}[ \t]*[+:?]?[=:](?:[^\n\\]|\\\n|\\.)*"
    if match["named"]:
        return rf"\b{re.escape(match['command'])}[ \t]*\([ \t\n]*{name}[ \t\n][^()]*"
    return rf"^[ \t]*{name}[ \t(]+[^\n)]*"


def _of_lingua(lists: Lists, file: str, text: str) -> Iterator[DraftClaim]:
    """The list of a folder of PO files: locales between blanks."""
    tokens = tuple(word for line in text.split("\n") for word in line.partition("#")[0].split())
    if lists.tags(tokens) is not None:
        yield lists.claim(file, {"match": r"(?<!#.*)(?<!\S)(?P<locale>[^\s#]+)"}, FoundList(None, tokens, None, 0, None), 1, "LINGUAS")
