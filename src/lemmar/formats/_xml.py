"""What the readers of XML formats share: a document's root and faults, entries from its tree, and where they stand in the text."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.documents.rows import Row
from lemmar.documents.splicing import EditError, Splice, spliced
from lemmar.documents.xmltext import Element, TagToken, elements, local_name, parse
from lemmar.formats._editing import Entries, Model, line_end_of, marked, with_comments
from lemmar.formats._entries import Entry, Gathering, Walk
from lemmar.formats._reading import Reading

if TYPE_CHECKING:
    from lxml import etree

#: Finds the entries of a document's tree, without places.
FromTree = Callable[["etree._Element"], Iterable[Entry]]
#: An entry's key, its element in the text, and the element that holds its text if another.
Named = tuple[str, Element, Element | None]
#: Whether an element's name is that of the format's root.
IsRoot = Callable[[str], bool]


def quick_reading(data: bytes, is_root: IsRoot, entries: FromTree, mark: Callable[[etree._Element], str | None]) -> Reading | None:
    """The way through a sound document without places; None where anything is wrong or a key is there twice."""
    root, faults = parse(data)
    if faults or root is None or not isinstance(root.tag, str) or not is_root(root.tag):
        return None
    column = Gathering()
    for entry in entries(root):
        if entry.key in column.index:
            return None
        column.add(entry.key, entry.text, entry.rare)
    return Reading((column.column(mark=mark(root)),))


def document(walk: Walk, name: str, is_root: IsRoot) -> etree._Element | None:
    """The document's root; None, and reported, where it is not the one that the format has (*name* for a reader)."""
    root, faults = parse(walk.data)
    for fault in faults:
        walk.fault_at(fault.line, fault.column, fault.text)
    if faults:
        _ = walk.decoded  # bytes that its encoding does not have are a defect of their own
    if root is None or not isinstance(root.tag, str) or not is_root(root.tag):
        walk.nothing(f"expected <{name}>, found <{root.tag!s}>" if root is not None else "the document is empty")
        return None
    return root


def placed(walk: Walk, entries: Iterable[Entry], named: Iterable[Named], attribute: str = "name", itself: bool = True) -> Iterator[Entry]:
    """*entries*, each with the place of its element in the text: the first of a key is the first of that key there, and so on.

    The place is that of the element's *attribute*, of the whole element where it has none. The text stands in the element that holds it, else in
    the entry's *itself*.
    """
    waiting: dict[str, list[Named]] = defaultdict(list)
    for found in named:
        waiting[found[0]].append(found)
    for each in waiting.values():
        each.reverse()
    for entry in entries:
        there = waiting.get(entry.key)
        if not there:
            yield entry
            continue
        _, element, holder = there.pop() if len(there) > 1 else there[0]
        _, start, end = element.open.attributes.get(attribute, ("", element.open.start, element.open.end))
        text = holder or (element if itself else None)
        inside = (text.open.end, text.close.start) if text is not None and text.close else None
        yield entry._replace(place=start, key_at=(start, end), inside=inside, whole=(element.open.start, element.end))


def emptied(model: Model, name: str, keep: Callable[[Element], bool] = lambda _element: False, marks: Sequence[str] = ()) -> str:
    """The document without what stands directly in its first element *name*, comments included, but for the elements to *keep*.

    Raises:
        EditError: there is no such element.
    """
    text = model.text
    every = elements(text)
    root = next((element for element in every if local_name(element.open.name) == name), None)
    if root is None or root.close is None:
        raise EditError(f"there is no <{name}> with anything in it")
    inner = [element for element in every if element.depth == root.depth + 1 and root.open.end <= element.open.start < root.close.start]
    kept = [text[_line_start(text, element.open.start) : element.end] for element in inner if keep(element)]
    end = line_end_of(text)
    body = "".join(f"{end}{piece.lstrip(chr(13) + chr(10))}" for piece in kept)
    result = text[: root.open.end] + body + end + text[_line_start(text, root.close.start) : root.close.start] + text[root.close.start :]
    return spliced(result, marked(result, marks, model.restate))


def element_rows(text: str, named: Iterable[Named], parent: str) -> list[Entries]:
    """The row of the elements that are entries, with their comments, directly in the first element *parent*."""
    found = list(named)
    root = next((element for element in elements(text) if local_name(element.open.name) == parent), None)
    if root is None:
        raise EditError(f"there is no <{parent}>")
    spans = with_comments(text, [(element.open.start, element.end) for _, element, _ in found], XML_COMMENT)
    inside = (root.open.end, root.close.start) if root.close is not None else (root.open.end, root.open.end)
    return [Entries(Row(inside, spans, ""), tuple(key for key, *_ in found))]


def framed(text: str, pieces: Sequence[str], parent: str) -> list[Splice]:
    """The first entries inside of the first element *parent*."""
    root = next((element for element in elements(text) if local_name(element.open.name) == parent), None)
    if root is None or root.close is None:
        raise EditError(f"there is no <{parent}> with anything in it")
    end = line_end_of(text)
    outer = text[_line_start(text, root.open.start) : root.open.start]
    indent = outer + ("    " if parent == "resources" else "  ")
    body = "".join(f"{end}{indent}{piece.replace(chr(10), end + indent)}" for piece in pieces)
    closing = _line_start(text, root.close.start)
    last = closing if not text[root.open.end : closing].strip() else root.open.end
    return [Splice(root.open.end, last, body + end)]


def attribute_set(text: str, tag: TagToken, name: str, value: str | None) -> list[Splice]:
    """The attribute of a tag with another *value*, added where it has none; without a value it goes."""
    if name in tag.attributes:
        _, start, end = tag.attributes[name]
        if value is not None:
            return [Splice(start, end, value)]
        before = re.compile(rf"\s+{re.escape(name)}\s*=\s*[\"']\Z").search(text, tag.start, start)
        return [Splice(before.start(), end + 1, "")] if before else []
    if value is None:
        return []
    at = tag.end - (2 if text[tag.start : tag.end].endswith("/>") else 1)
    return [Splice(at, at, f' {name}="{value}"')]


XML_COMMENT = expression(r"(?:^[ \t]*<!--(?:[^-]|-(?!->))*+-->[ \t]*(?:\r\n|\n|\r))+\Z", re.MULTILINE)


def whole_lines(text: str, start: int, end: int) -> tuple[int, int]:
    """The span of what stands from *start* to *end*, with the whole of its lines where nothing else is on them."""
    first = _line_start(text, start)
    after = re.compile(r"[ \t]*(\r\n|\n|\r)").match(text, end)
    return (first, after.end()) if after and (not first or text[first - 1] in "\r\n") else (start, end)


def _line_start(text: str, at: int) -> int:
    """Where the blanks before *at* begin, on its line."""
    while at and text[at - 1] in " \t":
        at -= 1
    return at


def inner_xml(element: etree._Element, leave_out: frozenset[str] = frozenset()) -> str:
    """The markup inside *element*: texts as they are, elements by their local names with their attributes; the tags of the elements
    named in *leave_out* are left out and their contents kept.
    """
    parts = [element.text or ""]
    for child in element:
        if isinstance(child.tag, str):
            name = child.tag.rpartition("}")[2]
            inside = inner_xml(child, leave_out)
            attributes = "".join(f' {str(key).rpartition("}")[2]}="{value!s}"' for key, value in child.attrib.items())
            if name in leave_out:
                parts.append(inside)
            else:
                parts.append(f"<{name}{attributes}>{inside}</{name}>" if inside else f"<{name}{attributes}/>")
        parts.append(child.tail or "")
    return "".join(parts)
