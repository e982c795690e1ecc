"""``symbol``: a named declaration in source code; ``Class.MEMBER`` reaches inside, ``*`` is what the file exports.

The code is read by a real parser of its language and never run. What is computed is reported, with its place.
"""

from __future__ import annotations

from lemmar import languages
from lemmar.documents.nodes import Fault, PointerError, point
from lemmar.languages import code_nest, in_characters
from lemmar.selectors._laying import held_of, parsed, pointed
from lemmar.selectors._selection import Laid, Pick, Selection, Selector
from lemmar.selectors._taking import broken_in, check_take, nothing, opened, select_from


def check(pick: Pick) -> tuple[str, str] | None:
    """Why the declaration cannot be read, if so."""
    if languages.load(pick.suffix) is None:
        return "symbol", f"source code in {pick.suffix or 'files without a suffix'} files is not supported"
    return check_take(pick)


def select(data: bytes, pick: Pick) -> Selection:
    """The locales in the declaration."""
    text, source, file = opened(data, pick)
    if file is None:
        return nothing(languages.unread(pick.suffix))
    path = pick.text.split(".")
    found = file.tested(path) if pick.take == "cases" else file.declared(path)
    if not found:
        broken = broken_in(file)
        why = f"there is no {pick.text!r} in the file{broken}"
        if found is not None and pick.take == "cases":
            why = f"{pick.text!r} compares with no literal text"
        return nothing(why)
    faults: list[Fault] = []
    if pick.take == "cases":  # the same text may be compared with in many places
        found = list({node.text: node for node in reversed(found)}.values())[::-1]
    nodes = in_characters(found, source)
    if pick.pointer is not None:
        try:
            nodes = [node for whole in nodes for node in point(whole, pick.pointer)]
        except PointerError as error:
            faults.append(Fault(nodes[0].start, str(error)))
            nodes = []
    return select_from(text, nodes, pick._replace(take=None) if pick.take == "cases" else pick, faults)


def lay(data: bytes, pick: Pick) -> Laid:
    """The code, and the locales in the declaration."""
    decoded, source, file = parsed(data, pick.suffix)
    path = pick.text.split(".")
    found = file.tested(path) if pick.take == "cases" else file.declared(path)
    if pick.take == "cases":
        found = list({node.text: node for node in reversed(found or [])}.values())[::-1]
    nodes = in_characters(found or [], source)
    if pick.pointer is not None:
        nodes = [node for whole in nodes for node in pointed(whole, pick.pointer)]
    return Laid(decoded, code_nest(file, source), held_of(nodes, pick._replace(take=None) if pick.take == "cases" else pick))


SELECTOR = Selector(
    "symbol", "a declaration in source code; Class.MEMBER reaches inside.", select, check=check, whole=True, goes_on=True, lay=lay
)
