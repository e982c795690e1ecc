"""What a selector points at, laid out for an edit: the text of the file, the pieces in it, and where each locale stands."""

from __future__ import annotations

from collections.abc import Iterator

from lemmar import languages
from lemmar.basics.text import Decoded, decode
from lemmar.documents.nodes import Fault, Node, PointerError, point
from lemmar.documents.rows import Nest, lines_as_nest
from lemmar.documents.splicing import EditError
from lemmar.selectors._selection import Held, Pick
from lemmar.selectors._taking import taken


def held_of(nodes: list[Node], pick: Pick) -> tuple[Held, ...]:
    """The locales that *pick* takes of *nodes*, in their order."""
    faults: list[Fault] = []
    keyed = pick.take == "chain"
    return tuple(
        Held(found.text, (found.start, found.end), label if keyed else None) for node in nodes for found, label in taken(node, pick, faults)
    )


def parsed(data: bytes, suffix: str) -> tuple[Decoded, bytes, languages.SourceFile]:
    """A file of code: decoded, as UTF-8, parsed. Raises `EditError` where it is broken."""
    decoded = decode(data)
    source = decoded.text.encode("utf-8", "replace")
    file = languages.parse(source, suffix)
    if file is None:
        raise EditError(languages.unread(suffix))
    if file.root.has_error:
        raise EditError("the code has syntax errors; correct them first")
    return decoded, source, file


def pointed(whole: Node, pointer: str) -> Iterator[Node]:
    """What stands at *pointer*. Raises `EditError` where nothing does."""
    try:
        yield from point(whole, pointer)
    except PointerError as error:
        raise EditError(str(error)) from error


_MARKUP = (".xml", ".html", ".htm", ".csproj", ".xaml", ".axaml", ".svg", ".props", ".targets")


def nest_by_suffix(text: str, suffix: str) -> Nest:
    """The pieces of a file as its kind has them, where it is of a kind that is known and sound; else its lines."""
    from lemmar.documents.nesting import nest_of, xml_nest
    from lemmar.documents.structured import PROPERTY_LISTS, TOML, YAML, scan

    if suffix in _MARKUP:
        return xml_nest(text)
    data = text.encode("utf-8", "replace")
    if suffix in (*PROPERTY_LISTS, *TOML, *YAML, ".json", ".jsonc", ".json5"):
        root, faults, _ = scan(data, suffix)
        if root is not None and not faults:
            return nest_of(text, root, suffix)
    if languages.load(suffix) is not None:
        file = languages.parse(data, suffix)
        if file is not None and not file.root.has_error:
            return languages.code_nest(file, data)
    return lines_as_nest(text)
