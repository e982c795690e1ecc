"""One file: what it asks for, what it quotes, what it shows."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from pathlib import PurePosixPath
from typing import TYPE_CHECKING

from lemmar import languages
from lemmar.basics.expressions import expression
from lemmar.basics.text import decode
from lemmar.documents.grammars import Patience
from lemmar.languages import SourceFile
from lemmar.usages import code, markup, shown
from lemmar.usages._text import Lines, quoted
from lemmar.usages._types import Found, Use, Way, Ways

if TYPE_CHECKING:
    from tree_sitter import Node as Syntax

#: Code in these is markup as well.
_WITH_MARKUP = frozenset({".js", ".mjs", ".jsx", ".tsx"})
_ELEMENT = expression(r"</[A-Za-z.]*\s{0,9}>|/>")
_NO_PAGE = expression(
    r"(?i)(?:licen[cs]e|copying|[al]?gpl)[^/]*$|\.(?:conf|cfg|ini|sh|ya?ml|json|toml|sql|service|py|js|ts|css|env|txt)\.\w+$"
)
#: Templates of which a reader of pages makes sense.
_PAGES = tuple(suffix for suffix in markup.TEMPLATES if suffix not in (".pug", ".haml", ".slim", ".mdx", ".tmpl", ".txt", ".eml"))


def is_read(name: str) -> bool:
    """Whether files of that *name* are code or markup that can be looked through."""
    return name.endswith((*markup.TEMPLATES, *markup.PLAIN)) or languages.load(PurePosixPath(name).suffix) is not None


def quoted_in(data: bytes) -> Found:
    """What a file quotes, which is all that is seen of code that a build has packed; nothing of a very large one."""
    return Found(quoted=quoted(decode(data).text)) if len(data) <= languages.MAX_SOURCE else Found()


def read(data: bytes, name: str, ways: Ways) -> Found:
    """What the file *name* holds. Raises `lemmar.basics.errors.IncompleteError` where it takes too long."""
    text = decode(data).text
    if name.endswith((*markup.TEMPLATES, *markup.PLAIN)):
        bare, is_template = markup.without_comments(text), name.endswith(markup.TEMPLATES)
        of_pages = shown.in_pages(bare, ways) if name.endswith(_PAGES) and not _NO_PAGE.search(name) else shown.in_layouts(bare, name)
        return Found(_sorted(markup.uses(bare, name, ways, is_template)), quoted(text), tuple(of_pages))
    suffix = PurePosixPath(name).suffix
    source = text.encode("utf-8", "replace")
    with_markup = suffix in _WITH_MARKUP and _ELEMENT.search(text) is not None
    if not with_markup and not _is_named(source, ways):
        return Found(quoted=quoted(text))
    file = languages.parse(source, suffix, is_sparse=True)
    if file is None:
        return Found(quoted=quoted(text), fault=languages.unread(suffix))
    found, seen = list(code.uses(file, source, ways)), list(shown.in_calls(file, ways))
    if with_markup:
        found += _of_elements(file, text, ways)
        seen += shown.in_elements(file, text, ways)
    return Found(_sorted(found), quoted(text), tuple(sorted(seen, key=lambda each: (each.line, each.column))))


def _sorted(found: Iterable[tuple[int, Use]]) -> tuple[Use, ...]:
    """The uses in their order in the file, each once."""
    return tuple(dict.fromkeys(use for _, use in sorted(found, key=lambda pair: (pair[0], pair[1].way, pair[1].key))))


def _is_named(source: bytes, ways: Ways) -> bool:
    """Whether the file says any name that a way goes by: else it need not be parsed."""
    return any(name in source for way in ways for name in _names(way))


def _names(way: Way) -> list[bytes]:
    calls = [name.removesuffix("[]").rpartition(".")[2] for name in (*way.calls, way.scope, way.under) if name]
    shows = [name.rpartition(".")[2] for name in way.shows]
    return [name.encode() for name in (*calls, *shows, *map(code.fixed_name, way.members), *way.attributes)]


def _of_elements(file: SourceFile, text: str, ways: Ways) -> Iterator[tuple[int, Use]]:
    """What attributes of elements in code ask for."""
    lines, patience = Lines(text), Patience(len(text))
    for number, way in enumerate(ways):
        for attribute in way.attributes:
            for offset, use in markup.attributes(lines, number, way, attribute, patience):
                byte = offset if text.isascii() else len(text[:offset].encode("utf-8", "replace"))
                if _is_attribute(file.root.descendant_for_byte_range(byte, byte)):
                    yield byte, use


def _is_attribute(node: Syntax | None) -> bool:
    for _ in range(4):
        if node is None or node.type == "jsx_attribute":
            break
        node = node.parent
    return node is not None and node.type == "jsx_attribute"
