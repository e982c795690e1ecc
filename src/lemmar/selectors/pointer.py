"""``pointer``: an RFC 6901 pointer into JSON, YAML, TOML or a property list (its XML, binary and old-style forms)."""

from __future__ import annotations

from lemmar.basics.text import Lines, decode
from lemmar.documents.nodes import Fault, PointerError, point
from lemmar.documents.splicing import EditError
from lemmar.documents.structured import scan
from lemmar.selectors._laying import held_of
from lemmar.selectors._selection import Laid, Pick, Selection, Selector
from lemmar.selectors._taking import check_take, select_from


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the pointer cannot be followed, if so."""
    if pick.text and not pick.text.startswith("/"):
        return "pointer", "a pointer is empty or begins with '/'"
    return check_take(pick)


def select(data: bytes, pick: Pick) -> Selection:
    """The locales at the pointer."""
    root, faults, text = scan(data, pick.suffix)
    nodes = []
    if root is not None:
        try:
            nodes = list(point(root, pick.text))
        except PointerError as error:
            faults = [*faults, Fault(root.start, str(error))]
    return select_from(text, nodes, pick, faults)


def lay(data: bytes, pick: Pick) -> Laid:
    """The document, and the locales at the pointer."""
    from lemmar.documents.nesting import nest_of

    if data.startswith(b"bplist"):
        raise EditError("a binary property list cannot be edited; write it as XML")
    root, faults, text = scan(data, pick.suffix)
    if root is None or faults:
        raise EditError(faults[0].text if faults else "the document is empty", *(Lines(text).place(faults[0].offset) if faults else (1, 1)))
    try:
        nodes = list(point(root, pick.text))
    except PointerError as error:
        raise EditError(str(error)) from error
    return Laid(decode(data), nest_of(text, root, pick.suffix), held_of(nodes, pick))


SELECTOR = Selector("pointer", "an RFC 6901 pointer; * matches every member.", select, check=check, may_be_empty=True, whole=True, lay=lay)
