"""``pointer``: an RFC 6901 pointer into JSON or a property list (its XML and old-style forms)."""

from __future__ import annotations

from lemmar.documents import jsontext, propertylist
from lemmar.documents.nodes import Fault, PointerError, point
from lemmar.model import Defect, Pick, Selection, Selector
from lemmar.selectors.taking import check_take, select_from
from lemmar.text import decode

_LISTS = (".plist", ".strings", ".pbxproj", ".xcprivacy", ".entitlements")
_LATER = {".yaml": "YAML", ".yml": "YAML", ".toml": "TOML"}


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the pointer cannot be followed, if so."""
    if pick.suffix in _LATER:
        return "pointer", f"pointers into {_LATER[pick.suffix]} are not supported yet"
    if pick.text and not pick.text.startswith("/"):
        return "pointer", "a pointer is empty or begins with '/'"
    return check_take(pick)


def select(data: bytes, pick: Pick) -> Selection:
    """The locales at the pointer."""
    if data.startswith(b"bplist"):
        return Selection((), (Defect("unreadable", 1, 1, "binary property lists are not supported yet"),))
    text = decode(data).text
    if pick.suffix in _LISTS:
        root, faults = propertylist.scan(text)
    else:
        root, faults = jsontext.scan(text, relaxed=pick.suffix in (".jsonc", ".json5"))
    nodes = []
    if root is not None:
        try:
            nodes = list(point(root, pick.text))
        except PointerError as error:
            faults = [*faults, Fault(root.start, str(error))]
    return select_from(text, nodes, pick.take, faults)


SELECTOR = Selector("pointer", 1, select, check)
