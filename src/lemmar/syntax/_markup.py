"""Markup in texts, whatever their syntax: the elements that a text opens and closes, as in HTML or by number (``<0>…</0>``).

Source: the HTML standard's void elements. A name in angle brackets that is neither closed nor an element of HTML is prose (``<Enter>``).
"""

from __future__ import annotations

from functools import lru_cache

from lemmar.basics.expressions import expression

_TAG = expression(r"<(/?)([A-Za-z][A-Za-z0-9:_-]{0,40}|[0-9]{1,3})(?:[\s=][^<>]*?)?(/?)>")
_VOID = frozenset(("area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track", "wbr"))
_HTML = frozenset(
    (
        *(
            "a",
            "abbr",
            "b",
            "big",
            "blockquote",
            "cite",
            "code",
            "dd",
            "del",
            "div",
            "dl",
            "dt",
            "em",
            "font",
            "h1",
            "h2",
            "h3",
            "h4",
            "h5",
        ),
        *("i", "ins", "kbd", "label", "li", "mark", "ol", "p", "pre", "q", "s", "small", "span", "strike", "strong", "sub", "sup", "table"),
        *("tbody", "td", "th", "thead", "tr", "tt", "u", "ul", "var"),
    )
)


# XLIFF's inline codes (1.2 section 2.4, 2.1 section 4.2.3), which stand for what a program puts in or for markup of its own.
_CODE = expression(r"<(?:x|g|ph|bx|ex|it|bpt|ept|sc|ec|pc)\s(?:[^<>]*?\s)?id=[\"']([^\"'<>]{1,200})[\"'][^<>]*>")


def codes(text: str) -> tuple[str, ...]:
    """The identifiers of the XLIFF inline codes in *text*."""
    return tuple(_CODE.findall(text)) if "id=" in text else ()


def tags(text: str) -> tuple[tuple[str, str, str], ...]:
    """What decides the markup of *text*: each tag's slash, name and closing slash."""
    return tuple(_TAG.findall(_CODE.sub("", text) if "id=" in text else text))


@lru_cache(maxsize=1 << 14)
def elements(found: tuple[tuple[str, str, str], ...]) -> tuple[str, ...]:
    """The elements of *found* tags, each once and sorted; ``+name`` one that is never closed, ``-name`` an end without a beginning."""
    whole: set[str] = set()
    waiting: list[str] = []
    for slash, name, alone in found:
        lower = name.lower()
        if slash:
            if lower in waiting:
                while waiting and waiting[-1] != lower:
                    whole.add(f"+{waiting.pop()}")
                waiting.pop()
                whole.add(lower)
            elif lower not in _VOID:
                whole.add(f"-{lower}")
        elif alone or lower in _VOID:
            whole.add(lower)
        else:
            waiting.append(lower)
    whole |= {f"+{name}" for name in waiting}
    return tuple(sorted(each for each in whole if not _is_prose(each)))


def _is_prose(element: str) -> bool:
    name = element[1:]
    return element[0] == "+" and name not in _HTML and not name.isdigit()
