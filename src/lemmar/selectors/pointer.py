"""``pointer``: an RFC 6901 pointer into JSON, YAML, TOML or a property list (its XML, binary and old-style forms)."""

from __future__ import annotations

from lemmar.documents.nodes import Fault, PointerError, point
from lemmar.documents.structured import scan
from lemmar.selectors._selection import Pick, Selection, Selector
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


SELECTOR = Selector("pointer", "an RFC 6901 pointer; * matches every member.", select, check=check, may_be_empty=True, whole=True)
