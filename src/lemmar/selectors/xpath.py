"""``xpath``: an XPath 1.0 expression into XML, with the prefixes that the document's root declares, or into HTML."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from lemmar.basics.expressions import expression
from lemmar.basics.text import Lines, decode
from lemmar.documents.splicing import EditError
from lemmar.documents.xmltext import Element, XmlFault, declared_encoding, elements, local_name, parse
from lemmar.formats import Defect
from lemmar.selectors._selection import Held, Laid, Listed, Pick, Selection, Selector, Value


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the expression cannot be evaluated, if so."""
    from lxml import etree

    try:
        etree.XPath(pick.text)
    except etree.XPathSyntaxError:
        return "xpath", f"{pick.text!r} is not an XPath expression"
    if pick.labels not in (None, "text"):
        return "labels", "beside an xpath, labels can only be 'text', the element's own"
    return None


def select(data: bytes, pick: Pick) -> Selection:
    """The texts of the elements, or the attributes, that the expression finds."""
    found, root, defects = _found(data, pick)
    if root is None:
        return Selection((), tuple(defects))
    text = decode(data, declared_encoding(data)).text
    lines = Lines(text)
    spans = _spans(root, text)
    values = []
    for item in found:
        words, element, attribute = _facts(item)
        place = _place(lines, text, spans.get(element) if element is not None else None, attribute, element)
        label = " ".join("".join(element.itertext()).split()) if pick.labels == "text" and element is not None else None
        values.append(Value(words, *place, label))
    return Selection(tuple(values), tuple(defects))


def _found(data: bytes, pick: Pick) -> tuple[list[Any], Any, list[Defect]]:
    """What the expression finds, the document's root (None: nothing can be found), and what is wrong."""
    from lxml import etree

    html = pick.suffix in _HTML
    root, faults = _parse_html(data) if html else parse(data)
    defects = [Defect("unreadable", fault.line, fault.column, fault.text) for fault in faults]
    if root is None:
        return [], None, defects
    prefixes = {prefix: name for prefix, name in root.nsmap.items() if prefix}
    size = sum(1 for _ in root.iter())
    if size ** (min(_again(pick.text), _MANY) + 1) > _MOST_STEPS:
        words = f"the expression would take too many steps in a document of {size:,} elements; state the path from the root, with one '//' at the most"
        return [], None, [*defects, Defect("unreadable", 1, 1, words)]
    try:
        found = etree.XPath(pick.text, namespaces=prefixes, regexp=False)(root)
    except etree.XPathError as error:
        return [], None, [*defects, Defect("unreadable", 1, 1, f"the expression fails here: {error}")]
    return (found if isinstance(found, list) else [found]), root, defects


def lay(data: bytes, pick: Pick) -> Laid:
    """The document, and the texts or attributes that the expression finds."""
    from lemmar.documents.nesting import xml_nest

    found, root, defects = _found(data, pick)
    if defects:
        raise EditError(defects[0].detail, defects[0].line, defects[0].column)
    decoded = decode(data, declared_encoding(data))
    spans, held = _spans(root, decoded.text), []
    for item in found:
        words, element, attribute = _facts(item)
        span = spans.get(element)
        if span is None:
            raise EditError(f"it is not known where {words!r} stands in the file")
        if attribute is not None:
            local = attribute.rpartition("}")[2]
            where = next((where for name, where in span.open.attributes.items() if local_name(name) == local), None)
            if where is None:
                raise EditError(f"it is not known where {words!r} stands in the file")
            held.append(Held(words, (where[1], where[2])))
        else:
            start, end = span.open.end, span.close.start if span.close is not None else span.open.end
            inner = decoded.text[start:end]
            held.append(Held(words, (start + len(inner) - len(inner.lstrip()), end - len(inner) + len(inner.rstrip()))))
    return Laid(decoded, xml_nest(decoded.text), tuple(held))


_TOKEN = expression(r"""\s*+(?:("[^"]*"|'[^']*')|(//|::|\.\.|[/\[\](),|])|([\w.-]++)|(.))""", re.DOTALL)
_NARROW = ("child", "attribute", "self", "namespace")
#: How many elements an expression may look at, those that it goes over again for each of them multiplied.
_MOST_STEPS = 400_000_000
_MANY = 8  # beyond, a document of ten elements is too large


def _again(expression: str) -> int:
    """How often an expression may go over the document again for each element that it has found: for each ``//`` but the first, for each axis
    that leads elsewhere than down by one, for each union, and for each path from the root inside of a predicate.

    An evaluator cannot be stopped, so that what it would take is reckoned before (XPath 1.0 sections 2 and 3.7).
    """
    again = depth = 0
    any_yet = False
    before = name = ""
    for literal, sign, word, other in _TOKEN.findall(expression):
        starts = before in ("", "(", "[", ",", "=", "<", ">", "+", "-", "*", "|", "and", "or", "div", "mod", "!=")
        if sign == "[":
            depth += 1
        elif sign == "]":
            depth -= 1
        elif sign == "//":
            again += any_yet or depth > 0
            any_yet = True
        elif sign in ("..", "|"):
            again += 1
        elif sign == "/":
            again += starts and depth > 0
        elif sign == "::":
            again += name not in _NARROW
        before, name = sign or word or other or literal, word
    return again


_HTML = (".html", ".htm")


def _parse_html(data: bytes) -> tuple[Any, tuple[XmlFault, ...]]:
    """The page's root; a browser takes everything, and so does this parser."""
    from lxml import etree

    text = decode(data, declared_encoding(data)).text
    try:
        root = etree.fromstring(text.encode("utf-8"), etree.HTMLParser(encoding="utf-8", no_network=True, remove_pis=True))
    except (etree.XMLSyntaxError, ValueError):
        root = None
    return root, () if root is not None else (XmlFault(1, 1, "there is no page in the file"),)


def _spans(root: Any, text: str) -> dict[Any, Element]:
    """Where each element stands: the first of a name in the tree is the first in the text, and so on.

    A parser of HTML adds elements that a page leaves out; of such a name only those are placed of which there are as many.
    """
    written: dict[str, list[Element]] = {}
    for element in elements(text):
        written.setdefault(local_name(element.open.name).lower(), []).append(element)
    made: dict[str, list[Any]] = {}
    for item in root.iter():
        if isinstance(item.tag, str):
            made.setdefault(item.tag.rpartition("}")[2].lower(), []).append(item)
    spans: dict[Any, Element] = {}
    for name, items in made.items():
        there = written.get(name, [])
        if len(there) == len(items) or len(items) <= len(there):
            spans.update(zip(items, there, strict=False))
    return spans


def _facts(item: Any) -> tuple[str, Any, str | None]:
    """A result's text, the element that it belongs to, and the name of the attribute that it is."""
    if hasattr(item, "itertext"):
        return "".join(item.itertext()).strip(), item, None
    parent = item.getparent() if hasattr(item, "getparent") else None
    return str(item).strip(), parent, getattr(item, "attrname", None)


def _place(lines: Lines, text: str, span: Element | None, attribute: str | None, element: Any) -> tuple[int, int]:
    if span is None:
        return (element.sourceline or 1 if element is not None else 1), 1
    if attribute is None:
        start = span.open.end
        return lines.place(start + len(text[start:]) - len(text[start:].lstrip()) if text[start : start + 1].isspace() else start)
    local = attribute.rpartition("}")[2]
    found = next((where for name, where in span.open.attributes.items() if local_name(name) == local), None)
    return lines.place(found[1] if found else span.open.start)


# What documents state in forms of their own: a sign of it, the path, what it states, what separates locales, what is a label.
_KNOWN = (
    (b"<locale-config", "/locale-config/locale/@android:name", "supported", None, None),
    (b"SatelliteResourceLanguages", "//SatelliteResourceLanguages", "supported", ";", None),
)
_ON_PAGES = (
    (b"<option", "//option/@value", "offered", None, "text"),
    (b"hreflang", "//link[@hreflang]/@hreflang", "routed", None, None),
)
_NO_LOCALE = "x-default"


def lists(data: bytes, suffix: str) -> Iterator[Listed]:
    """The lists that such documents are known to have."""
    for sign, path, states, split, labels in _ON_PAGES if suffix in _HTML else _KNOWN:
        if sign in data:
            found = select(data, Pick(path, suffix=suffix, labels=labels)).values
            more = {"split": split} if split else {}
            more |= {"labels": labels} if labels else {}
            more |= {"spelling": "bcp47"} if path.endswith("@android:name") else {}
            values = tuple(value for value in found if value.text and value.text != _NO_LOCALE)
            yield Listed({"xpath": path, **more}, values, states)


SELECTOR = Selector(
    "xpath",
    "an XPath into XML or HTML.",
    select,
    check=check,
    lists=lists,
    lists_in=(".xml", ".csproj", ".html", ".htm", ".xaml", ".axaml"),
    lay=lay,
)
