"""``xpath``: an XPath 1.0 expression into XML, with the prefixes that the document's root declares."""

from __future__ import annotations

import re
from typing import Any

from lemmar.documents.xmltext import Element, elements, local_name, parse
from lemmar.model import Defect, Pick, Selection, Selector, Value
from lemmar.text import Lines, decode


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the expression cannot be evaluated, if so."""
    from lxml import etree

    try:
        etree.XPath(pick.text)
    except etree.XPathSyntaxError:
        return "xpath", f"{pick.text!r} is not an XPath expression"
    return None


def select(data: bytes, pick: Pick) -> Selection:
    """The texts of the elements, or the attributes, that the expression finds."""
    from lxml import etree

    root, faults = parse(data)
    defects = [Defect("unreadable", fault.line, fault.column, fault.text) for fault in faults]
    if root is None:
        return Selection((), tuple(defects))
    prefixes = {prefix: name for prefix, name in root.nsmap.items() if prefix}
    try:
        found = root.xpath(pick.text, namespaces=prefixes)
    except etree.XPathError as error:
        return Selection((), (*defects, Defect("unreadable", 1, 1, f"the expression fails here: {error}")))
    text = decode(data, _declared(data)).text
    lines, spans = Lines(text), elements(text)
    order = {element: index for index, element in enumerate(item for item in root.iter() if isinstance(item.tag, str))}
    values = []
    for item in found if isinstance(found, list) else [found]:
        words, element, attribute = _facts(item)
        span = spans[order[element]] if element is not None and order.get(element, len(spans)) < len(spans) else None
        values.append(Value(words, *_place(lines, text, span, attribute, element)))
    return Selection(tuple(values), tuple(defects))


def _declared(data: bytes) -> str | None:
    match = re.match(rb"\s*<\?xml[^>]*?encoding\s*=\s*[\"']([A-Za-z][A-Za-z0-9._-]*)", data)
    import codecs

    try:
        return codecs.lookup(match.group(1).decode("ascii")).name if match else None
    except LookupError:
        return None


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


SELECTOR = Selector("xpath", 1, select, check)
