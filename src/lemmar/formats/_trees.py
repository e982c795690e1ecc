"""What the readers of nested documents share: from a tree with places to entries, in every layout."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from typing import Any, NamedTuple

from msgspec.structs import replace

from lemmar.basics.text import Lines
from lemmar.documents.nodes import Fault, Member, Node, Plain, PointerError, point
from lemmar.formats._entries import Entry, Walk, entry_of_forms
from lemmar.formats._reading import NONE_RARE, NOTHING, Column, Keys, Rare, Reading, ReadOptions

LAYOUTS = ("by-file", "locale-rooted", "locale-leaved", "records")
_Path = tuple[str, ...]
#: What few entries have, by their keys.
About = Callable[[str], Mapping[str, Any]]


def tree_entries(walk: Walk, root: Node | None, faults: Sequence[Fault], about: About = lambda _key: NOTHING) -> Iterator[Entry]:
    """The entries of a document's tree in its order, in the layout that is asked for; every fault and repeated key is reported."""
    for fault in faults:
        walk.fault(fault.offset, fault.text)
    if walk.options.layout == "records":
        yield from _of_records(walk, root)
        return
    if root is not None and root.kind != "map":
        walk.nothing(f"a catalog is a map, this file holds a {root.kind}", root.start)
        return
    walk.tells_repeats = True
    layout = walk.options.layout
    if layout == "by-file":
        walk.column()
    elif layout == "locale-rooted" and root is not None:  # a locale that has no texts yet is there all the same
        for member in root.members:
            if not member.node.members and not member.node.items and member.node.kind in ("map", "list", "null"):
                walk.column(member.key, at=walk.lines.place(member.start))
    clashing = _clashing(root, layout) if root is not None else set()
    for path, member, node, shared, top in _leaves(root, walk):
        label, key = _split_path(path, layout)
        if key is None:
            continue
        if key in clashing and path[layout == "locale-rooted"] == key:
            key = step(key)
        if label is not None:
            walk.column(label, at=walk.lines.place((top if layout == "locale-rooted" else member).start))
        inside = (node.start, node.end) if not shared else None
        key_at = (member.start, member.end)
        found = _entry(key, node, about(key))
        yield found._replace(
            place=member.start, key_at=key_at, inside=inside, whole=(member.start, inside[1] if inside else member.end), label=label
        )


def plain_reading(root: Node, options: ReadOptions, lines: Lines | None = None) -> Reading | None:
    """The reading of a sound document that is one locale, or, with its *lines*, one a root, by what `tree_entries` gives; None where a key is
    there twice or computed.
    """
    if root.kind != "map":
        return None
    if options.layout == "by-file":
        column = _plain_column(root)
        return Reading((column,)) if column is not None else None
    if options.layout != "locale-rooted" or lines is None or len({member.key for member in root.members}) != len(root.members):
        return None
    columns = []
    for member in root.members:
        column = _plain_column(member.node) if member.node.kind == "map" and member.node.members else None
        if column is None or not column.keys:
            return None
        columns.append(replace(column, label=member.key, at=lines.place(member.start)))
    return Reading(tuple(columns))


def _plain_column(root: Node) -> Column | None:
    """The entries of a map; None where a key is there twice or computed."""
    keys: list[str] = []
    texts: list[str | None] = []
    forms: dict[int, Mapping[str, str]] = {}
    stack: list[tuple[str, Iterator[tuple[str, Node]]]] = [("", iter(_named(root)))]
    branches = [root]
    while stack:
        prefix, members = stack[-1]
        for name, node in members:
            if node.kind == "map" or (node.items and _has_branches(node)):
                stack.append((f"{prefix}{step(name)}.", iter(_named(node))))
                branches.append(node)
                break
            if node.kind == "computed" or any(item.kind == "computed" for item in node.items):
                return None
            key = f"{prefix}{step(name)}" if len(stack) > 1 else name
            if node.kind == "list":
                found = entry_of_forms(key, _forms_of(node))
                if found.rare["forms"]:
                    forms[len(keys)] = found.rare["forms"]
                texts.append(found.text)
            else:
                texts.append(None if node.kind == "null" else node.text)
            keys.append(key)
        else:
            stack.pop()
    if len(set(keys)) != len(keys) or any(len({member.key for member in node.members}) != len(node.members) for node in branches):
        return None
    return Column(None, Keys(keys), tuple(texts), Rare(forms=forms) if forms else NONE_RARE)


def column_of(members: Iterable[Plain]) -> Column | None:
    """The entries of a document that was read the short way; None where a key is there twice."""
    held: dict[str, str | None] = {}
    branches: list[tuple[int, str]] = []
    seen: set[tuple[str, str]] = set()
    prefix, top = "", None
    for level, key, text, is_branch in members:
        top = level if top is None else top
        if branches and level <= branches[-1][0]:
            while branches and branches[-1][0] >= level:
                branches.pop()
            prefix = branches[-1][1] if branches else ""
        if (prefix, key) in seen:
            return None
        seen.add((prefix, key))
        whole = f"{prefix}{step(key)}" if is_branch or level != top else key
        if is_branch:
            prefix = f"{whole}."
            branches.append((level, prefix))
        elif whole in held:
            return None
        else:
            held[whole] = text
    return Column(None, Keys(held), tuple(held.values()))


def _named(node: Node) -> list[tuple[str, Node]]:
    if node.kind == "map":
        return [(member.key, member.node) for member in node.members]
    return [(str(number), item) for number, item in enumerate(node.items)]


def _has_branches(node: Node) -> bool:
    return any(item.kind in ("map", "list") for item in node.items)


def _entry(key: str, node: Node, rare: Mapping[str, Any]) -> Entry:
    if node.kind == "list":
        return entry_of_forms(key, {str(number): node_text(item) for number, item in enumerate(node.items)}, **rare)
    if node.kind == "computed":
        rare = {**rare, "state": "computed"}
    return Entry(key, node_text(node), rare=rare)


def node_text(node: Node) -> str | None:
    """A scalar's text; None for null."""
    return None if node.kind == "null" else node.text


# ---------------------------------------------------------------------------------------------------------------- records


def _of_records(walk: Walk, root: Node | None) -> Iterator[Entry]:
    """The entries of a document that holds lists of records: of one locale, or each of the locale that it names."""
    if not walk.options.fields.get("locale"):
        walk.column()
    found = False
    for record in _records(root, walk.options, walk):
        found = True
        text = record.text
        if text is not None and text.kind in ("list", "map"):
            entry = entry_of_forms(record.key, _forms_of(text))
        else:
            entry = Entry(record.key, node_text(text) if text is not None else None)
        yield entry._replace(
            place=record.start,
            key_at=(record.start, record.end),
            inside=(text.start, text.end) if text is not None else None,
            whole=(record.whole.start, record.whole.end),
            label=record.label,
        )
    if not found and not _has_empty_list(root, walk.options):
        walk.nothing("there is no record in the file", root.start if root is not None else 0)


def _has_empty_list(root: Node | None, options: ReadOptions) -> bool:
    """Whether the list of records is there, and none is in it yet."""
    try:
        return root is not None and any(node.kind == "list" for node in point(root, options.fields.get("list", "")))
    except PointerError:
        return False


class _Record(NamedTuple):
    """One record: its locale, key (by name, where messages are numbered), where its key stands, its text, and all of it."""

    label: str | None
    key: str
    start: int
    end: int
    text: Node | None
    whole: Node


def _records(root: Node | None, options: ReadOptions, walk: Walk) -> Iterator[_Record]:
    """The records of a document, in its order; what is none of them is reported."""
    if root is None:
        return
    try:
        lists = list(point(root, options.fields.get("list", "")))
    except PointerError as error:
        walk.defect("unreadable", root.start, f"the list of records is not there: {error}", "file")
        return
    for node in [item for found in lists for item in (found.items if found.kind == "list" else [found])]:
        held = {member.key: member.node for member in node.members}
        key = held.get(options.fields.get("key", "key"))
        label = held.get(options.fields["locale"]) if options.fields.get("locale") else None
        if key is None or key.kind not in ("text", "number") or not key.text:
            missing = options.fields.get("key", "key")
            walk.defect("damaged", node.start, f"a record without a {missing!r}, by which its message is known", "key")
            continue
        if options.fields.get("locale") and (label is None or label.kind != "text"):
            walk.defect("damaged", node.start, f"the record {key.text!r} names no locale", "key", key.text)
            continue
        name = options.names.get(key.text, key.text)
        yield _Record(label.text if label else None, name, key.start, key.end, held.get(options.fields.get("text", "text")), node)


def _forms_of(node: Node) -> dict[str, str | None]:
    if node.kind == "map":
        return {member.key: node_text(member.node) for member in node.members}
    return {str(number): node_text(item) for number, item in enumerate(node.items)}


# ----------------------------------------------------------------------------------------------------------------- leaves


def _leaves(root: Node | None, walk: Walk | None = None) -> Iterator[tuple[_Path, Member, Node, bool, Member]]:
    """Path, member and node of every leaf in file order, whether it stands elsewhere, and the member at the top that it lies in.

    A list of scalars is a leaf. What an alias stands for belongs to its anchor. Repeated keys are reported to *walk*.
    """
    if root is None:
        return
    first = Member("", root.start, root.end, root)
    stack: list[tuple[_Path, Iterator[Member], Node, bool, Member]] = [((), iter(_once(root, (), walk)), root, False, first)]
    while stack:
        path, members, parent, elsewhere, top = stack[-1]
        member = next(members, None)
        if member is None:
            stack.pop()
            continue
        node, here = member.node, (*path, member.key)
        top = top if path else member
        shared = elsewhere or node.start < member.start or member.start < parent.start  # an anchor stands before its aliases
        if node.kind == "map":
            stack.append((here, iter(_once(node, here, walk)), node, shared, top))
        elif node.kind == "list" and _has_branches(node):
            numbered = (Member(str(number), item.start, item.end, item) for number, item in enumerate(node.items))
            stack.append((here, numbered, node, shared, top))
        else:
            yield here, member, node, shared, top


def _once(node: Node, path: _Path, walk: Walk | None) -> list[Member]:
    """The members of a map, each key once: in the place of its first occurrence the last one, which is what readers keep."""
    kept: dict[str, Member] = {}
    for member in node.members:
        if member.key in kept and walk is not None:
            _again(walk, path, kept[member.key], member)
        kept[member.key] = member
    return list(kept.values())


def _again(walk: Walk, path: _Path, first: Member, later: Member) -> None:
    """Tells a key that stands twice in one map."""
    key = _split_path((*path, later.key), "by-file")[1] or ""
    before = walk.lines.place(first.start)[0]
    if (first.node.kind == "map") != (later.node.kind == "map"):
        walk.defect("key-clash", later.start, f"the key {key!r} is a text in one place and a branch in another (line {before})", key=key)
        return
    same = first.node.kind == later.node.kind != "map" and first.node.text == later.node.text
    walk.again(key, before, walk.lines.place(later.start), same)


def _clashing(root: Node, layout: str) -> set[str]:
    """The keys of one step that are spelt as keys of several are: ``a.b`` beside a branch ``a`` with ``b`` in it."""
    if layout == "by-file" and not any("." in member.key for member in root.members):
        return set()
    names: dict[bool, set[str]] = {True: set(), False: set()}
    for path, *_ in _leaves(root):
        key = _split_path(path, layout)[1]
        if key is not None and "." in key:
            names[len(path) == 1 + (layout != "by-file")].add(key)
    return names[True] & names[False]


def _split_path(path: _Path, layout: str) -> tuple[str | None, str | None]:
    r"""The locale's label (None by file) and the key of a leaf; the key is None where the leaf stands outside the layout.

    A dot inside a step of several is written ``\.``; a key of one step is as it is written, so that flat files and nested ones agree.
    """
    label = None
    if layout == "locale-rooted":
        label, path = path[0], path[1:]
    elif layout == "locale-leaved":
        label, path = path[-1], path[:-1]
    return label, ".".join(map(step, path)) if len(path) > 1 else path[0] if path else None


def step(name: str) -> str:
    """A step of a key of several."""
    return name.replace(".", "\\.") if "." in name else name
