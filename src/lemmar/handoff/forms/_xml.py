"""XLIFF files that came back, of either version and from whatever program: units, their segments put together, inline elements as placeholders."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from lemmar.basics.expressions import expression
from lemmar.documents.xmltext import parse
from lemmar.handoff.forms._form import Answer, Expected, Returned, split_id

if TYPE_CHECKING:
    from lxml import etree

_UNITS = ("unit", "trans-unit")
_ALONE = frozenset(("ph", "x", "sc", "ec", "bx", "ex", "it", "bpt", "ept"))
#: Which of XLIFF 2.1's states those of 1.2 (section 2.5, ``state``) are.
_STATES = {
    "new": "initial", "needs-translation": "initial", "needs-adaptation": "initial", "needs-l10n": "initial",
    "needs-review-translation": "initial", "needs-review-adaptation": "initial", "needs-review-l10n": "initial",
    "translated": "translated", "signed-off": "reviewed", "final": "final",
    "initial": "initial", "reviewed": "reviewed",
}  # fmt: skip
_NAMED = expression(r"\{([^{}]*)\}")
# XML 1.0 section 2.2: what no document may hold.
_FORBIDDEN = expression("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def version(data: bytes) -> str | None:
    """Of which version an XLIFF file is, ``1`` or ``2``; None for any other file."""
    head = data[:4096].replace(b"\0", b"")
    root = _ROOT.search(head)
    return None if root is None else "2" if _TWO.search(root.group()) or b":document:2." in root.group() else "1"


_ROOT = expression(rb"<(?:[\w.-]+:)?xliff\b[^>]*")
_TWO = expression(rb"\bversion\s*=\s*[\"']2")


def forbidden(text: str) -> bool:
    """Whether a text has a character that XML has no way to write."""
    return _FORBIDDEN.search(text) is not None


def without_forbidden(text: str) -> str:
    """*text* with a replacement character for each that XML has no way to write."""
    return _FORBIDDEN.sub("\ufffd", text)


def pieces(text: str) -> list[str]:
    """The words of a neutral text and, at every second place, the names of its placeholders."""
    return _NAMED.split(text)


def read(data: bytes, _expected: Expected) -> Returned:
    """The units in their order."""
    root, faults = parse(data)
    said = tuple(f"line {fault.line}: {fault.text}" for fault in faults[:3])
    if root is None:
        return Returned(None, (), said or ("it is no XML",))
    locale = root.get("trgLang") or next((each.get("target-language") for each in root.iter() if each.get("target-language")), None)
    return Returned(locale, tuple(_answers(root)), said)


def _name(element: etree._Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def _answers(root: etree._Element) -> Iterator[Answer]:
    for unit in root.iter():
        if _name(unit) not in _UNITS:
            continue
        segments = [child for child in unit.iter() if _name(child) in ("segment", "ignorable")] or [unit]
        data = {each.get("id"): _all(each) for each in unit.iter() if _name(each) == "data"}
        sources = [_text(segment, "source", data, {}) for segment in segments]
        known = {name: text for segment in segments for name, text in _codes(segment, data)}
        targets = [_text(segment, "target", data, known) for segment in segments]
        states = [state for segment in segments for state in [_state(segment)] if state]
        name, form = split_id(unit.get("id") or "")
        remark = " ".join(
            _all(each) for each in unit.iter() if _name(each) == "note" and (each.get("category") or each.get("from")) == "remark"
        )
        yield Answer(
            name,
            form,
            "".join(text or "" for text in sources),
            "".join(text or "" for text in targets),
            min(states, key=_RANK.index) if states else "",
            unit.get("name") or unit.get("resname") or "",
            remark,
            unit.sourceline or 1,  # type: ignore[arg-type]
        )


_RANK = ("initial", "translated", "reviewed", "final")


def _state(segment: etree._Element) -> str:
    target = next((child for child in segment if _name(child) == "target"), None)
    state = (target.get("state") if target is not None else None) or segment.get("state") or ""
    return _STATES.get(state, "")


def _text(segment: etree._Element, name: str, data: dict[str | None, str], known: dict[str, str]) -> str | None:
    element = next((child for child in segment if _name(child) == name), None)
    return None if element is None else _flat(element, data, known)


def _flat(element: etree._Element, data: dict[str | None, str], known: dict[str, str]) -> str:
    """The element's text, each inline element as the placeholder that it stands for; by an explicit list, as documents may be deep."""
    out: list[str] = []
    work: list[tuple[etree._Element | None, str]] = [(element, "")]
    while work:
        each, tail = work.pop()
        if each is None:
            out.append(tail)
            continue
        name = _name(each)
        if name in _ALONE and each is not element:
            out.append(_code(each, data, known))
            continue
        if name == "cp":
            out.append(_character(each.get("hex") or ""))
            continue
        if not name:
            continue  # a comment
        out.append(each.text or "")
        inside: list[tuple[etree._Element | None, str]] = []
        for child in each:
            inside += [(child, ""), (None, child.tail or "")]
        work += reversed(inside)
    return "".join(out)


def _character(code: str) -> str:
    """The character of a hexadecimal number; U+FFFD where it is none."""
    try:
        number = int(code, 16)
    except ValueError:
        return "\ufffd"
    return chr(number) if 0 <= number < 0xD800 or 0xDFFF < number < 0x110000 else "\ufffd"


def _code(element: etree._Element, data: dict[str | None, str], known: dict[str, str]) -> str:
    """What an inline element stands for: as it says, else as the source's of the same number says."""
    own = element.get("equiv") or element.get("equiv-text") or data.get(element.get("dataRef")) or element.get("disp") or _all(element)
    name = element.get("id") or ""
    if own.startswith("{") and own.endswith("}"):
        return own
    return known.get(name) or own or f"{{{name}}}"


def _codes(segment: etree._Element, data: dict[str | None, str]) -> Iterator[tuple[str, str]]:
    source = next((child for child in segment if _name(child) == "source"), None)
    for each in source.iter() if source is not None else ():
        if _name(each) in _ALONE:
            yield each.get("id") or "", _code(each, data, {})


def _all(element: etree._Element) -> str:
    return "".join(str(piece) for piece in element.itertext()).strip()
