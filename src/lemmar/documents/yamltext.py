"""YAML with places, read as YAML 1.1 readers do, of which there are most: from a parser's events, without recursion.

Nothing is constructed: a tag other than YAML's own is reported and its value read as text. An alias counts as all that it stands for, and
what is too much is refused. Where the parser gives up, the line it stumbles over is left out and the rest read again.
Sources: YAML 1.1 and 1.2, the type repository for ``yes``/``no``, numbers and dates, and merge keys.
"""

from __future__ import annotations

from typing import Any, NamedTuple

from lemmar.basics.expressions import expression
from lemmar.documents.nodes import MAX_DEPTH, Fault, Member, Node

#: How many nodes aliases may add to a document.
MAX_ALIASED = 100_000
_MOST_REPAIRS = 20
_BOOL = expression(r"(?:yes|Yes|YES|no|No|NO|true|True|TRUE|false|False|FALSE|on|On|ON|off|Off|OFF)\Z")
_NULL = expression(r"(?:~|null|Null|NULL|)\Z")
_NUMBER = expression(
    r"(?:[-+]?0b[01_]+|[-+]?0[0-7_]+|[-+]?(?:0|[1-9][0-9_]*)|[-+]?0x[0-9a-fA-F_]+|[-+]?[1-9][0-9_]*(?::[0-5]?[0-9])+"
    r"|[-+]?(?:[0-9][0-9_]*)\.[0-9_]*(?:[eE][-+][0-9]+)?|\.[0-9_]+(?:[eE][-+][0-9]+)?|[-+]?\.(?:inf|Inf|INF)|\.(?:nan|NaN|NAN))\Z"
)
_DATE = expression(r"[0-9]{4}-[0-9]{1,2}-[0-9]{1,2}(?:(?:[Tt]|[ \t]+)[0-9]{1,2}:[0-9]{2}:[0-9]{2}.*)?\Z")
_OWN_TAGS = "tag:yaml.org,2002:"


class Document(NamedTuple):
    """The first document's value, its faults, and the keys that YAML 1.1 does not read as texts: offset, key, what it is read as."""

    root: Node | None
    faults: list[Fault]
    typed: list[tuple[int, str, str]]


def _plain(problem: str, at: str) -> str:
    """The parser's problem with the character *at* its place, plainer where the cause is known."""
    if problem.startswith("found character") and "cannot start any token" in problem:
        return "a tab, where YAML takes only spaces" if at == "\t" else f"an unquoted text cannot begin with {at!r}"
    if problem == "mapping values are not allowed in this context":
        return "a ':' where no key can stand: a text that needs quotes, or a wrong indentation"
    return problem.strip() or "this is not YAML"


def scan(text: str) -> Document:
    """The document; never fails, never recurses."""
    import yaml

    faults: list[Fault] = []
    if text.startswith("\ufeff"):  # which the parser leaves out without counting it
        return Document(None, [Fault(0, "a second byte-order mark stands here")], [])
    for _ in range(_MOST_REPAIRS):
        builder = _Builder(text)
        try:
            builder.run(yaml.parse(text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader)))
        except yaml.MarkedYAMLError as error:
            mark = error.problem_mark or error.context_mark
            if error.context_mark is not None and "end of stream" in (error.problem or ""):
                mark = error.context_mark  # where a quote opens that nothing closes
            offset = min(mark.index, len(text)) if mark else 0
            faults.append(Fault(offset, _plain(error.problem or "", text[offset : offset + 1])))
            mended = _without_line(text, offset)
            if mended == text:
                break
            text = mended
            continue
        except yaml.YAMLError as error:
            faults.append(
                Fault(getattr(error, "position", 0) or 0, f"a character that YAML does not allow: {str(error).split(chr(10))[0]}")
            )
            break
        except _TooMuchError as error:
            return Document(None, [Fault(error.offset, str(error))], [])
        return Document(builder.root, [*faults, *builder.faults], builder.typed)
    for node, _ in builder.stack:  # what was open when the parser gave up
        node.end = max(node.start, min(faults[-1].offset, len(text)))
    return Document(builder.root, faults, builder.typed)


def _without_line(text: str, offset: int) -> str:
    """*text* with the line at *offset* made blank, its length kept."""
    start = text.rfind("\n", 0, offset) + 1
    end = text.find("\n", offset)
    end = len(text) if end < 0 else end
    if not text[start:end].strip():  # the fault is reported at the line after the one that has it
        end = max(start - 1, 0)
        start = text.rfind("\n", 0, end) + 1
    return text[:start] + " " * (end - start) + text[end:]


class _TooMuchError(Exception):
    def __init__(self, offset: int, words: str) -> None:
        super().__init__(words)
        self.offset = offset


class _Builder:
    """Makes nodes of a parser's events."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.root: Node | None = None
        self.faults: list[Fault] = []
        self.typed: list[tuple[int, str, str]] = []
        self.anchors: dict[str, Node] = {}
        self.sizes: dict[int, int] = {}
        self.aliased = 0
        self.end = 0  # of what stands last
        self.stack: list[tuple[Node, str | None]] = []
        self.keys: list[Member | None] = []

    def run(self, events: Any) -> None:
        documents = 0
        for event in events:
            kind = type(event).__name__
            if kind == "DocumentStartEvent":
                documents += 1
                if documents > 1:
                    return
            elif kind == "ScalarEvent":
                self.put(self.scalar(event), event)
            elif kind == "AliasEvent":
                self.alias(event)
            elif kind in ("MappingStartEvent", "SequenceStartEvent"):
                self.open(event, "map" if kind.startswith("Map") else "list")
            elif kind in ("MappingEndEvent", "SequenceEndEvent"):
                self.close(event)

    def open(self, event: Any, kind: str) -> None:
        if len(self.stack) >= MAX_DEPTH:
            raise _TooMuchError(event.start_mark.index, f"nested deeper than {MAX_DEPTH} levels")
        self.check_tag(event)
        node = Node(kind, event.start_mark.index)
        self.put(node, event)
        self.stack.append((node, event.anchor))
        self.keys.append(None)

    def close(self, event: Any) -> None:
        node, _ = self.stack.pop()
        self.keys.pop()
        if event.start_mark.index < event.end_mark.index:  # a bracket
            self.end = event.end_mark.index
        node.end = max(node.start, self.end)  # else the mark is where the next thing begins, beyond comments
        self.sizes[id(node)] = 1 + sum(self.sizes.get(id(child), 1) for child in (*node.items, *(member.node for member in node.members)))
        if node.kind == "map" and any(member.key == "<<" for member in node.members):
            self.merge(node)

    def put(self, node: Node, event: Any) -> None:
        """Stores *node* in the innermost open container: as a key where one is wanted, else as the value of the last."""
        if event.anchor and type(event).__name__ != "AliasEvent":
            self.anchors[event.anchor] = node
        if not self.stack:
            self.root = self.root if self.root is not None else node
            return
        parent = self.stack[-1][0]
        if parent.kind == "list":
            parent.items.append(node)
            return
        key = self.keys[-1]
        if key is None:
            self.keys[-1] = self.key(node, event)
        else:
            parent.members.append(key._replace(node=node))
            self.keys[-1] = None

    def key(self, node: Node, event: Any) -> Member:
        end = event.end_mark.index
        if node.kind in ("map", "list"):
            self.faults.append(Fault(node.start, f"a {node.kind} stands as a key"))
        elif getattr(event, "implicit", (False,))[0] and node.kind != "text" and node.text != "<<":
            self.typed.append((node.start, self.text[node.start : end], _WORDS[node.kind]))
        return Member(node.text if node.kind != "null" else self.text[node.start : end], node.start, end, node)

    def scalar(self, event: Any) -> Node:
        self.check_tag(event)
        kind = "text"
        if event.implicit[0] and event.style in (None, "") and event.tag is None:
            kind = implicit_kind(event.value)
        end = event.end_mark.index
        if event.style in ("|", ">"):  # the mark is where the next line begins
            end = event.start_mark.index + len(self.text[event.start_mark.index : end].rstrip())
        self.end = end
        return Node(kind, event.start_mark.index, end, event.value)

    def check_tag(self, event: Any) -> None:
        if event.tag and event.tag != "!" and not str(event.tag).startswith(_OWN_TAGS):
            self.faults.append(Fault(event.start_mark.index, f"the tag {event.tag!r} is not read; its value is taken as it is written"))
        elif event.tag and str(event.tag).startswith(f"{_OWN_TAGS}python"):
            self.faults.append(Fault(event.start_mark.index, f"the tag {event.tag!r} would make an object, and is not read"))

    def alias(self, event: Any) -> None:
        offset = event.start_mark.index
        self.end = event.end_mark.index
        known = self.anchors.get(event.anchor)
        if known is None or any(known is node for node, _ in self.stack):
            self.faults.append(Fault(offset, f"the alias {event.anchor!r} leads {'to itself' if known is not None else 'nowhere'}"))
            known = Node("null", offset, event.end_mark.index)
        self.aliased += self.sizes.get(id(known), 1)
        if self.aliased > MAX_ALIASED:
            raise _TooMuchError(offset, f"its aliases stand for more than {MAX_ALIASED:,} values")
        self.put(known, event)

    def merge(self, node: Node) -> None:
        """``<<``: the members of other maps, where the map has none of the name itself."""
        own = {member.key for member in node.members if member.key != "<<"}
        merged: list[Member] = []
        for member in node.members:
            if member.key != "<<":
                merged.append(member)
                continue
            for source in member.node.items if member.node.kind == "list" else [member.node]:
                merged += [each for each in source.members if each.key not in own]
                own |= {each.key for each in source.members}
        node.members = merged


_WORDS = {"bool": "true or false", "number": "a number", "null": "nothing", "date": "a date"}


def implicit_kind(value: str) -> str:
    """What YAML 1.1 reads an unquoted scalar as: ``text``, ``bool``, ``number``, ``date`` or ``null``."""
    if _NULL.match(value):
        return "null"
    if _BOOL.match(value):
        return "bool"
    if value[0] in "-+.0123456789" and _NUMBER.match(value):
        return "number"
    return "date" if value[0].isdigit() and _DATE.match(value) else "text"
